"""What a run found, as values of the plan: contents, kit, charge, fill, settings, fluid, each beside what was planned.

Offered as one change; what differs stays to be seen in the history of the plan. Source: practice 14, as built.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date

from rowan.core.design.design import Design
from rowan.core.design.inputs.base import Origin
from rowan.core.design.inputs.charge import FluidEntry
from rowan.core.fluid import MOST_SHARE, frost_point
from rowan.core.records.run import RunState
from rowan.core.terms.figure import Quantity
from rowan.core.terms.finding import Change
from rowan.core.terms.limits import Span, takes
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE, LITRE_H

AS_BUILT: Origin = "as built"
CLOSE = 1e-6  # of a share, to which the frost point is followed back


@record
class Built:
    """A value as planned and as it is, and the changes that make it the plan's."""

    key: str
    name: str
    planned: Quantity
    built: Quantity
    changes: tuple[Change, ...] = ()

    @property
    def differs(self) -> bool:
        """Whether it prints differently from what was planned."""
        return self.planned.shown("metric") != self.built.shown("metric")


def as_built(design: Design, state: RunState, day: date) -> tuple[Built, ...]:
    """What a run on this plan found; `day` dates the line of the fluid's log."""
    return (
        *_kit(state),
        *_contents(design, state),
        *_pressures(state),
        *_flow(state),
        *_settings(state),
        *_fluid(design, state, day),
    )


def _change(path: str, value: object) -> Change:
    return Change(path, value, AS_BUILT)


def _kit(state: RunState) -> Iterator[Built]:
    if "bucket_s" not in state.symbols:
        return
    flow = state.symbols["fill_flow"]
    change = _change("commission.station_flow_l_h", round(flow / LITRE_H, 1))
    planned = Quantity(state.symbols["plan_kit_flow"], "flow")
    yield Built("kit", "Kit gives", planned, Quantity(flow, "flow"), (change,))


def _contents(design: Design, state: RunState) -> Iterator[Built]:
    """What went in, with what had stayed: by the tub, or by the sprayer's loads."""
    read = state.symbols
    # what stayed of the water was pushed into the second tub: the first fell by all that the loop holds
    if "tub_fell" in read:
        built = read["tub_fell"] * read["plan_tub"]
    elif "filled_in" in read:
        stayed = max(read["plan_contents"] - read["release_out"], 0.0) if "release_out" in read else 0.0
        built = read["filled_in"] + stayed
    else:
        return
    more = design.charge.found_l.value + (built - read["plan_contents"]) / LITRE
    yield Built(
        "contents",
        "Contents",
        Quantity(read["plan_contents"], "volume"),
        Quantity(built, "volume"),
        (_change("charge.found_l", round(more, 2)),),
    )


def _pressures(state: RunState) -> Iterator[Built]:
    read = state.symbols
    fill = read.get("left_p", read.get("open_fill"))
    if fill is None or "plan_fill" not in read:
        return
    # gas that was pumped in afterwards is charge too: what was set before it is no longer what describes the vessel
    charge = read.get("charge_by_gas", read.get("vessel_set", read["plan_precharge"]))
    changes = (
        _change("charge.school", "typed"),
        _change("charge.typed_fill_gauge_pa", fill),
        _change("charge.typed_charge_gauge_pa", charge),
    )
    yield Built("charge", "Vessel charge", Quantity(read["plan_precharge"], "pressure"), Quantity(charge, "pressure"))
    yield Built("fill", "Cold fill", Quantity(read["plan_fill"], "pressure"), Quantity(fill, "pressure"), changes)


def _flow(state: RunState) -> Iterator[Built]:
    """Flow and pump speed: the flow follows from the speed, which is the plan's own value."""
    read = state.symbols
    if "run_flow" in read:
        yield Built("flow", "Flow", Quantity(read["plan_flow"], "flow"), Quantity(read["run_flow"], "flow"))
    if "run_speed" in read:
        speed = round(read["run_speed"])
        change = _change("run.speed", speed)
        yield Built("speed", "Pump speed", Quantity(read["plan_speed"], "count"), Quantity(speed, "count"), (change,))


SETTINGS = (
    ("set_start", "Start", "difference", "control.start_k"),
    ("set_stop", "Stop", "difference", "control.stop_k"),
    ("set_limit", "Store limit", "temperature", "store.maximum_c"),
)


def _settings(state: RunState) -> Iterator[Built]:
    read = state.symbols
    for key, name, dimension, path in SETTINGS:
        if key in read:
            planned = Quantity(read[f"plan_{key}"], dimension)
            yield Built(key, name, planned, Quantity(read[key], dimension), (_change(path, read[key]),))


def _fluid(design: Design, state: RunState, day: date) -> Iterator[Built]:
    read = state.symbols
    if "frost_c" not in read or not design.sealed:
        return
    numbers = {entry.id for entry in design.charge.log}
    name = next(f"r{n}" for n in range(1, 100) if f"r{n}" not in numbers)
    entry = FluidEntry(
        id=name, date=day.isoformat(), share=round(share_of(frost=read["frost_c"]), 3), ph=read.get("fluid_ph"), origin=AS_BUILT,
        note="as commissioned",
    )  # fmt: skip
    yield Built(
        "frost",
        "Frost point",
        Quantity(read["plan_frost"], "temperature_fine"),
        Quantity(read["frost_c"], "temperature_fine"),
        (Change("charge.log", [*design.charge.log, entry]),),
    )


@takes(frost=Span(-60.0, 10.0))
def share_of(*, frost: float) -> float:
    """Volume share of glycol that freezes at a temperature [°C]: the refractometer's scale read backwards, 0 to 0.6."""
    low, high = 0.0, MOST_SHARE
    while high - low > CLOSE:
        middle = (low + high) / 2
        low, high = (middle, high) if frost_point(volume_share=middle) > frost else (low, middle)
    return (low + high) / 2


def changes_of(built: tuple[Built, ...]) -> list[Change]:
    """All that differs, as one change of the plan."""
    return [change for one in built if one.differs for change in one.changes]
