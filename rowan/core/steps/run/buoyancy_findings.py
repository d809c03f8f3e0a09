"""What is said of a loop without a pump: what drives it, what it warms by, what holds it at night. Source: practice 5, methods 6."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.goods.catalogue import PIPES
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE
from rowan.core.steps.run.buoyancy import density
from rowan.core.steps.run.result import Buoyancy, RunResult
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

PRACTICE = "practice: system and store"
USUAL_ABOVE_M = 0.3  # m the store's foot is put over the field's top, rule of thumb
MOST_RISE_K = 25.0  # K over the field at noon from which flow is called low; site work, low flow
DENSITY = "kg/m³"


def buoyancy_figures(design: Design, run: RunResult) -> tuple[Figure, ...]:
    """Flow, drive and what holds it at night; none of a loop with a pump."""
    found = run.buoyancy
    if found is None:
        return ()
    night = _night(design, found)
    return (*_flow(run), _drive(run, found), night) if found.flows else (night,)


def _flow(run: RunResult) -> tuple[Figure, ...]:
    return (
        by_method(
            key="flow",
            name="Flow by itself",
            basis=say(
                "sun of {g}, loop at {t}",
                g=Quantity(REFERENCE_IRRADIANCE, "irradiance"),
                t=Quantity(run.temperatures.mean, "temperature"),
            ),
            value=run.flow,
            dimension_name="flow",
            part="cold_line",
            sentence=say(
                "Where what the cold side weighs more equals what pipes and plates take; more sun, more flow."
            ),
            method=say("Buoyancy of the warm side against the loop's friction, solved for the flow."),
            source=methods(6),
        ),
    )


def _drive(run: RunResult, found: Buoyancy) -> Figure:
    at = run.temperatures
    symbols = {
        "g": Symbol(GRAVITY, "g", "", "m/s²"),
        "cold": Symbol(density(at.cold), "ρ", "cold", DENSITY),
        "mean": Symbol(density(at.mean), "ρ", "field", DENSITY),
        "hot": Symbol(density(at.hot), "ρ", "hot", DENSITY),
        "h_field": Symbol(found.rises.field, "h", "field", "m"),
        "h_hot": Symbol(found.rises.hot, "h", "hot line", "m"),
    }
    return closed_form(
        key="drive",
        name="What drives it",
        basis=say("{c} down, {h} up", c=Quantity(at.cold, "temperature"), h=Quantity(at.hot, "temperature")),
        dimension_name="draught",
        part="hot_line",
        sentence=say(
            "Warm water weighs less. The higher the store stands, the more of it pulls; a pump has a hundred times as much."
        ),
        expression=Expression("g * ((cold - mean) * h_field + (cold - hot) * h_hot)", symbols),
        letter="p",
        letter_index="drive",
        result_unit="Pa",
        source=methods(6),
    )


def _night(design: Design, found: Buoyancy) -> Figure:
    at = design.collector.working_c.value
    symbols = {
        "g": Symbol(GRAVITY, "g", "", "m/s²"),
        "out": Symbol(found.out_density, "ρ", "night", DENSITY),
        "store": Symbol(density(at), "ρ", "store", DENSITY),
        "above": Symbol(design.store.above_field_m.value, "h", "above", "m"),
        "field": Symbol(found.rises.field, "h", "field", "m"),
    }
    return closed_form(
        key="night_hold",
        name="Holds it still at night",
        basis=say("store at {t}", t=Quantity(at, "temperature")),
        dimension_name="draught",
        part="store",
        sentence=say(
            "Water that cooled in the field would have to be lifted into the store: above zero it stays where it is."
        ),
        expression=Expression("g * (out - store) * (above + field / 2)", symbols),
        letter="p",
        letter_index="night",
        result_unit="Pa",
        window=Window(0.0, None, "methods 6: below it the store warms the sky"),
        source=methods(6),
    )


def buoyancy_findings(design: Design, run: RunResult) -> tuple[Finding, ...]:
    """A store that stands too low, and a flow too small for its field."""
    found = run.buoyancy
    return () if found is None else (*_low(design, run, found), *_weak(design, run, found))


def _raise_store(design: Design) -> tuple[Cure, ...]:
    """The store put where it drives the loop."""
    return (
        Cure(
            say("Stand it {h} over the field", h=Quantity(USUAL_ABOVE_M, "length")),
            (Change("store.above_field_m", USUAL_ABOVE_M),),
            "drive",
            note=say("what carries it is for an engineer to say"),
        ),
        Cure(say("A pump: a direct loop"), (Change("charge.kind", "direct"),)),
    )


def _low(design: Design, run: RunResult, found: Buoyancy) -> list[Finding]:
    above = design.store.above_field_m.value
    if above >= 0 and found.flows:
        return []
    words = (
        "Its foot is {b} below the field's top. By day the flow is weak; by night what cools in the field sinks into the line and the "
        "store's heat goes up to the sky."
        if found.flows
        else "Its foot is {b} below the field's top: nothing drives the water, the field stands hot and the store cold."
    )
    return [
        Finding(
            key="store_below_field",
            level="stop",
            stage="run",
            part="store",
            title=say("the store stands below the field"),
            reason=say(words, b=Quantity(-above, "length")),
            quantity=Quantity(above, "length"),
            limit=Quantity(0.0, "length"),
            cures=_raise_store(design),
            source=PRACTICE,
        )
    ]


def _wider(design: Design) -> tuple[Cure, ...]:
    """The next sizes of the same pipe, the narrowest first."""
    pipe = design.run.pipe.value
    sizes = sorted(
        (
            p
            for p in PIPES.values()
            if p.material == pipe.material and p.standard == pipe.standard and p.bore_m > pipe.bore_m
        ),
        key=lambda p: p.bore_m,
    )
    return tuple(
        Cure(say("Lay it in {pipe}", pipe=p.name[:1].lower() + p.name[1:]), (Change("run.pipe", p),), "rise")
        for p in sizes[:2]
    )


def _weak(design: Design, run: RunResult, found: Buoyancy) -> list[Finding]:
    rise = run.temperatures.rise
    if not found.flows or rise <= MOST_RISE_K:
        return []
    return [
        Finding(
            key="siphon_weak",
            level="fix",
            stage="run",
            part="hot_line",
            title=say("too little flows by itself"),
            reason=say(
                "{q} in full sun: each pass warms it by {r}, more than {m}. The plates run hot and give less; at a joint with air it stops.",
                q=Quantity(run.flow, "flow"),
                r=Quantity(rise, "difference", 0),
                m=Quantity(MOST_RISE_K, "difference", 0),
            ),
            quantity=Quantity(rise, "difference"),
            limit=Quantity(MOST_RISE_K, "difference"),
            cures=_wider(design),
            source=PRACTICE,
        )
    ]
