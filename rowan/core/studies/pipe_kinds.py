"""What the pipe of a run costs by kind: straight copper, soft copper off the coil, corrugated stainless with its lagging on.

Each has something fixed (ends, tools) and something by the metre (pipe, fittings, lagging, hours), so that one becomes cheaper than
the other from some length on. All prices and hours are rules of thumb, as the list's. Source: practice 7, methods 14.
"""

from __future__ import annotations

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.routes import BEND_EVERY_M
from rowan.core.goods.catalogue import PIPES
from rowan.core.goods.items import PipeItem
from rowan.core.goods.prices import break_even_length
from rowan.core.reckon import Reckoning
from rowan.core.steps.parts.pricing import (
    COPPER_MM_M,
    ENDS_H,
    FITTING_MM,
    METRE_H,
    PIECE,
    PIPE_MM_M,
    SOLDERED_ENDS_H,
    SOLDERED_METRE_H,
)
from rowan.core.steps.run.route import profile
from rowan.core.steps.run.stage import warm_curve
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Part, Quantity, Statement, say
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record

COIL_DEARER, COIL_BENDS = 1.15, 0.25  # soft copper by the metre; of its bends that still want a fitting
END_FITTING = 18.0  # for each of a corrugated line's four ends
COIL_H = 0.11  # h of work by the metre of soft copper, fittings and lagging in it


@record
class PipeKind:
    """A way to lay the run: what it costs at all and by the metre [money], and what the pump has to overcome [Pa]."""

    key: str
    name: str
    pipe: PipeItem
    fixed: float
    per_metre: float
    drop: float
    chosen: bool

    def cost(self, length: float) -> float:
        """Of a length of both lines [m]."""
        return self.fixed + self.per_metre * length


def _alike(material: str, pipe: PipeItem) -> PipeItem:
    """The pipe of a material whose bore is nearest to another's: that one itself where it is of it."""
    if pipe.material == material:
        return pipe
    sold = [p for p in PIPES.values() if p.material == material and p.standard in ("", "EN 1057")]
    return min(sold, key=lambda p: abs(p.bore_m - pipe.bore_m))


def pipe_kinds(design: Design, result: Reckoning) -> tuple[PipeKind, ...]:
    """The three ways to lay a plan's run, each in the size nearest to the one planned."""
    planned, hour = design.run.pipe.value, design.money.hour_price.value
    copper, corrugated = _alike("copper", planned), _alike("corrugated", planned)
    outer, wide = copper.outer_diameter_m * 1e3, corrugated.outer_diameter_m * 1e3
    lagging, bend = PIECE["lagging"], FITTING_MM * outer
    ends = 4 * FITTING_MM * outer + SOLDERED_ENDS_H * hour
    bends = bend / BEND_EVERY_M
    straight = COPPER_MM_M * outer + lagging + bends + SOLDERED_METRE_H * hour
    coil = COIL_DEARER * COPPER_MM_M * outer + lagging + COIL_BENDS * bends + COIL_H * hour
    found = (
        ("straight", "copper, straight lengths", copper, ends, straight),
        ("coil", "copper, off the coil", copper, ends, coil),
        (
            "corrugated",
            "corrugated stainless, lagged",
            corrugated,
            4 * END_FITTING + ENDS_H["corrugated"] * hour,
            PIPE_MM_M["corrugated"] * wide + lagging + METRE_H["corrugated"] * hour,
        ),
    )
    own = "corrugated" if planned.material == "corrugated" else "straight"
    # straight or off the coil, copper is the same pipe to the pump
    copper_drop, corrugated_drop = (_drop(design, result, pipe) for pipe in (copper, corrugated))
    drops = (copper_drop, copper_drop, corrugated_drop)
    return tuple(
        PipeKind(key, name, pipe, fixed, per_metre, drop, key == own)
        for (key, name, pipe, fixed, per_metre), drop in zip(found, drops, strict=True)
    )


def _drop(design: Design, result: Reckoning, pipe: PipeItem) -> float:
    """What the loop takes in a pipe at the plan's flow [Pa]."""
    # the plan itself where it is laid in that pipe throughout
    run, other = design.run, design
    if pipe is not run.pipe.value or run.hot_pipe.value is not None:
        other = changed(design, [Change("run.pipe", pipe), Change("run.hot_pipe", None)])
    return warm_curve(other, profile(other)).drop(result.run.flow)


def pipe_advice(design: Design, result: Reckoning, kinds: tuple[PipeKind, ...]) -> Statement:
    """The cheapest at this length, and from which length that turns."""
    length = result.run.route.length
    best = min(kinds, key=lambda kind: kind.cost(length))
    straight, corrugated = kinds[0], kinds[-1]
    told: dict[str, Part] = {
        "name": best.name,
        "c": Quantity(best.cost(length), "money"),
        "l": Quantity(length, "length", 1),
    }
    words = "At {l} {name} costs least, {c} with its hours. "
    try:
        turns = break_even_length(
            fixed_difference=straight.fixed - corrugated.fixed,
            per_metre_difference=corrugated.per_metre - straight.per_metre,
        )
    except RowanError:
        return say("{words}Corrugated is cheaper than straight lengths by the metre too.", words=words, **told)
    if turns <= 0:
        return say(
            "{words}Corrugated is dearer than straight lengths at any length: its gain is a day, and no joint.",
            words=words,
            **told,
        )
    told["t"] = Quantity(turns, "length", 1)
    return say("{words}Corrugated is cheaper than straight lengths up to {t}; longer, it is dear.", words=words, **told)
