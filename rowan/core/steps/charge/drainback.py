"""What is said of a loop that drains: its figures and what is wrong with it."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.fluid import properties, water_vapour_pressure
from rowan.core.goods.catalogue import LIFTING_PUMP, PIPES
from rowan.core.steps.charge.marks import water_figures
from rowan.core.steps.charge.siphon import air_inlet_findings, siphon_findings
from rowan.core.steps.run.drainback import Draining
from rowan.core.steps.run.draining import (
    IN_TIME_SHARE,
    LEAST_FALL,
    LEAST_RETURN_BORE_M,
    bore_allowed,
    drains_in_time,
)
from rowan.core.steps.run.findings import MOST_VELOCITY
from rowan.core.steps.run.friction import K_BEND, Suction, pipe_drop, suction_over_rim
from rowan.core.steps.run.loop import pump_curves
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.constants import GRAVITY
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.source import methods
from rowan.core.terms.units import KPA, LITRE

BETTER_FALL = 0.025  # of length; 2 % is the least, methods 11
# wide enough for water and air to pass each other; practice, drainback
RETURN_PIPE = "Copper 22 × 1"
SUCTION_PIPE_M, SUCTION_BENDS, SUCTION_SPARE_PA = (
    1.0,
    3,
    5e3,
)  # m, bends and Pa to spare before a pump that draws over a rim


def drainback_figures(design: Design, found: Draining, contents: float) -> tuple[Figure, ...]:
    """Lift, what comes back, the marks, and time against frost."""
    return (
        *_lift_figures(found),
        *water_figures(design, found, contents),
        *_time_figures(found),
        *_suction_figure(design, found),
    )


def _lift_figures(found: Draining) -> tuple[Figure, ...]:
    lift = found.lift
    return (
        closed_form(
            key="start_head",
            name="Pump lifts at the start",
            basis=say("from the water to the top, {h}", h=Quantity(max(lift.height, 0.0), "length")),
            dimension_name="head",
            part="pump",
            sentence=say("Before anything comes back the pump carries the whole column; friction is nothing yet."),
            expression=Expression(
                "rho * g * h / 1000",
                {
                    "rho": Symbol(lift.density, "ρ", "", "kg/m³"),
                    "g": Symbol(GRAVITY, "g", "", "m/s²"),
                    "h": Symbol(max(lift.height, 0.0), "h", "lift", "m"),
                },
            ),
            letter="p",
            letter_index="start",
            result_unit="kPa",
            scale=KPA,
            source=methods(8),
        ),
        by_method(
            key="running_head",
            name="Head running",
            basis=say("the return carries the lift" if found.head.siphon else "no siphon: the lift stays"),
            value=found.head.running_head,
            dimension_name="head",
            part="pump",
            sentence=say(
                "Falling water in a full return pulls as much as the rising water weighs; then only friction is left."
                if found.head.siphon
                else "The return runs too slowly to carry its air down, so it pulls nothing."
            ),
            method=say(
                "Siphon from {v} in this bore, while the top stays over boiling under suction.",
                v=Quantity(found.siphon_velocity, "velocity", 2),
            ),
            source=methods(8),
        ),
        by_method(
            key="return_velocity",
            name="Return runs at",
            basis=say("siphon from {v}", v=Quantity(found.siphon_velocity, "velocity", 2)),
            value=found.head.return_velocity,
            dimension_name="velocity",
            part="hot_line",
            sentence=say(
                "Fast enough it carries air down and falls quietly; slower it gurgles, faster it rushes through the house."
            ),
            method=say("Flow over the free bore."),
            window=Window(found.siphon_velocity, MOST_VELOCITY, "methods 8, rules of thumb for a siphon and for noise"),
            source=methods(8),
        ),
    )


def _time_figures(found: Draining) -> tuple[Figure, ...]:
    figures = []
    if found.drain is not None:
        limit = None if found.freezes_after is None else found.freezes_after * IN_TIME_SHARE
        figures.append(
            by_method(
                key="drain_time",
                name="Empty after",
                basis=say("by its own weight, {v} in the return", v=Quantity(found.drain.velocity, "velocity", 1)),
                value=found.drain.time,
                dimension_name="time",
                part="hot_line",
                sentence=say(
                    "From the stop of the pump till field and lines stand dry; measured with a watch on the day."
                ),
                method=say("g·H = (1 + ΣK + f·L/d)·v²/2, solved for v; H half the lift."),
                window=None if limit is None else Window(None, limit, "methods 11: a third of the time to freeze"),
                source=methods(11),
            )
        )
    if found.freezes_after is not None:
        figures.append(
            by_method(
                key="freezes_after",
                name="A wet pipe freezes after",
                basis=say("outdoors, on the coldest night"),
                value=found.freezes_after,
                dimension_name="time",
                part="cold_line",
                sentence=say(
                    "What stays behind in an outdoor pipe cools to ice in this time; the ice itself is not waited for."
                ),
                method=say("(C/U)·ln((T₀ − T)/(0 − T)) of pipe and water."),
                source=methods(11),
            )
        )
    return tuple(figures)


def drainback_findings(design: Design, run: RunResult, found: Draining) -> tuple[Finding, ...]:
    """What keeps this loop from lifting, emptying or being quiet."""
    return (
        *_pump(design, found),
        *_traps(design, found),
        *_bore(found),
        *_slow(found),
        *_reservoir(design, found),
        *_vents(design, run),
        *siphon_findings(design, found),
        *air_inlet_findings(design, found),
        *_suction(design, run, found),
        *_refill(design, found),
    )


def _pump(design: Design, found: Draining) -> list[Finding]:
    speed = min(design.run.speed.value, len(design.run.pump.value.speeds))
    has = pump_curves(design.run.pump.value)[speed - 1].head(0.0)
    if has > found.lift.start_head:
        return []
    cures = []
    for number, curve in enumerate(pump_curves(LIFTING_PUMP), 1):
        if curve.head(0.0) > found.lift.start_head:
            cures.append(
                Cure(
                    say("Take the {name}", name=LIFTING_PUMP.name.lower()),
                    (Change("run.pump", LIFTING_PUMP), Change("run.speed", number)),
                    "flow",
                )
            )
            break
    return [
        Finding(
            key="lift_short",
            level="stop",
            stage="run",
            part="pump",
            title=say("the pump never brings the water over the top"),
            reason=say(
                "It must lift {l} before anything comes back; at this speed it gives {h}.",
                l=Quantity(found.lift.start_head, "head"),
                h=Quantity(has, "head"),
            ),
            quantity=Quantity(has, "head"),
            limit=Quantity(found.lift.start_head, "head"),
            cures=tuple(cures),
            source=methods(8),
        )
    ]


def _traps(design: Design, found: Draining) -> list[Finding]:
    frost = design.survey.design_minimum_c.value < 0
    made = []
    for entry in found.legs:
        if not entry.trap:
            continue
        leg = entry.leg
        outdoors = leg.outdoors
        level: Level = "stop" if frost and outdoors else "fix"
        rise = round(BETTER_FALL * leg.length, 3) * (1 if leg.line == "cold" else -1)
        cures = (
            ()
            if leg.fitted or leg.by_roof
            else (
                Cure(
                    say("Lay it to fall {f}", f=Quantity(BETTER_FALL, "share_fine")),
                    (Change(f"run.{leg.line}.{leg.id}.rise_m", rise),),
                    "drain_time",
                ),
            )
        )
        made.append(
            Finding(
                key=f"trap_{leg.line}_{leg.id}",
                level=level,
                stage="run",
                part=f"{leg.line}_line",
                title=say(
                    "water stays behind in the {line} line{case}",
                    line=leg.line,
                    case=f", {leg.name}" if leg.name else "",
                ),
                reason=say(
                    "It falls {f} toward the store{case}. Up to {v} stay there{case_2}",
                    case="; outdoors {l} is the least" if outdoors else "; it must fall at all",
                    case_2=" and freeze." if outdoors and frost else ".",
                    f=Quantity(entry.fall, "share_fine"),
                    l=Quantity(LEAST_FALL, "share"),
                    v=Quantity(leg.contents, "volume", 2),
                ),
                quantity=Quantity(entry.fall, "share_fine"),
                limit=Quantity(LEAST_FALL if outdoors else 0.0, "share_fine"),
                cures=cures,
                source=methods(11),
                place=f"{leg.line}.{leg.id}",
            )
        )
    return made


def _bore(found: Draining) -> list[Finding]:
    bore = found.lift.bore
    if bore_allowed(bore=bore):
        return []
    return [
        Finding(
            key="return_narrow",
            level="fix",
            stage="run",
            part="hot_line",
            title=say("the return is too narrow to empty"),
            reason=say(
                "In {b} water and air block each other; {l} is the least.",
                b=Quantity(bore, "pipe_size"),
                l=Quantity(LEAST_RETURN_BORE_M, "pipe_size"),
            ),
            quantity=Quantity(bore, "pipe_size"),
            limit=Quantity(LEAST_RETURN_BORE_M, "pipe_size"),
            cures=(
                Cure(
                    say("Lay {pipe}", pipe=RETURN_PIPE.lower()), (Change("run.pipe", PIPES[RETURN_PIPE]),), "drain_time"
                ),
            ),
            source=methods(11),
        )
    ]


def _slow(found: Draining) -> list[Finding]:
    if found.drain is None:
        return [
            Finding(
                key="no_fall",
                level="stop",
                stage="charge",
                part="store",
                title=say("the water stands as high as the field"),
                reason=say("Nothing drains: the reservoir must stand below the field."),
                source=methods(11),
            )
        ]
    if drains_in_time(drain_time=found.drain.time, freezes_after=found.freezes_after):
        return []
    after = found.freezes_after or 0.0
    return [
        Finding(
            key="drains_slowly",
            level="stop",
            stage="charge",
            part="hot_line",
            title=say("it may freeze before it is empty"),
            reason=say(
                "It takes {t} to empty; an outdoor pipe freezes after {f}, and a third of that is the limit.",
                t=Quantity(found.drain.time, "time"),
                f=Quantity(after, "time"),
            ),
            quantity=Quantity(found.drain.time, "time"),
            limit=Quantity(after * IN_TIME_SHARE, "time"),
            source=methods(11),
        )
    ]


def _reservoir(design: Design, found: Draining) -> list[Finding]:
    if design.through_store:
        return []
    has = design.charge.reservoir_l.value * LITRE
    if has >= found.marks.volume:
        return []
    wanted = float(math.ceil(found.marks.volume / LITRE / 5) * 5)
    return [
        Finding(
            key="reservoir_small",
            level="stop",
            stage="charge",
            part="store",
            title=say("the reservoir does not hold what drains"),
            reason=say(
                "{v} come back; with air and the least water it needs {n} and holds {h}.",
                v=Quantity(found.above, "volume"),
                n=Quantity(found.marks.volume, "volume"),
                h=Quantity(has, "volume"),
            ),
            quantity=Quantity(has, "volume"),
            limit=Quantity(found.marks.volume, "volume"),
            cures=(
                Cure(
                    say("Take one of {v}", v=Quantity(wanted * LITRE, "tank")), (Change("charge.reservoir_l", wanted),)
                ),
            ),
            source=methods(11),
        )
    ]


def _vents(design: Design, run: RunResult) -> list[Finding]:
    vented = [leg for leg in run.route.legs() if leg.vented]
    if not vented:
        return []
    changes = tuple(Change(f"run.{leg.line}.{leg.id}.vented", False) for leg in vented)
    return [
        Finding(
            key="vent_in_drainback",
            level="fix",
            stage="run",
            part="vent",
            title=say("a vent has no place in a loop that drains"),
            reason=say(
                "Air must come in by the return alone; a vent spits, sticks and freezes, and breaks the siphon."
            ),
            cures=(Cure(say("Leave it out"), changes),),
            source="practice: the run",
        )
    ]


def suction_of(design: Design, found: Draining) -> Suction | None:
    """Suction over the tank's rim with the store at its limit; None where the pump stands below the water."""
    rim = design.run.rim_m.value
    if rim is None:
        return None
    hottest = design.store.maximum_c.value
    water = properties(volume_share=0.0, temperature=hottest)
    pipe = design.run.laid("cold")
    drop = pipe_drop(
        length=2 * rim + SUCTION_PIPE_M,
        bore=pipe.bore_m,
        flow=found.flow * water.density,
        density=water.density,
        viscosity=water.viscosity,
        material=pipe.material,
        k_sum=SUCTION_BENDS * K_BEND,
    )
    return suction_over_rim(
        atmosphere=found.lift.atmosphere,
        density=water.density,
        rim_height=rim,
        suction_drop=drop.pressure_drop,
        vapour_pressure=water_vapour_pressure(temperature=hottest),
        npsh_required=design.run.pump.value.npsh_pa,
    )


def _suction_figure(design: Design, found: Draining) -> tuple[Figure, ...]:
    suction = suction_of(design, found)
    if suction is None:
        return ()
    return (
        by_method(
            key="suction",
            name="Pressure left at the inlet",
            basis=say("over the rim, store at {t}", t=Quantity(design.store.maximum_c.value, "temperature")),
            value=suction.available,
            dimension_name="head",
            part="pump",
            sentence=say("Air pushes the water over the rim; hot water boils sooner than it climbs."),
            method=say("Air pressure less the rim, the friction of the suction pipe, and what hot water boils at."),
            window=Window(
                design.run.pump.value.npsh_pa + SUCTION_SPARE_PA, None, "data sheet of the pump, and 5 kPa to spare"
            ),
            source=methods(8),
        ),
    )


def _suction(design: Design, run: RunResult, found: Draining) -> list[Finding]:
    suction = suction_of(design, found)
    if suction is None or suction.enough:
        return []
    return [
        Finding(
            key="suction_short",
            level="stop",
            stage="charge",
            part="pump",
            title=say("the pump cannot draw hot water over this rim"),
            reason=say(
                "{a} are left at its inlet with the store at {t}; it needs {n}. Put it below the water, or through the wall of the tank.",
                a=Quantity(suction.available, "head"),
                t=Quantity(design.store.maximum_c.value, "temperature"),
                n=Quantity(design.run.pump.value.npsh_pa + SUCTION_SPARE_PA, "head"),
            ),
            quantity=Quantity(suction.available, "head"),
            limit=Quantity(design.run.pump.value.npsh_pa + SUCTION_SPARE_PA, "head"),
            cures=(Cure(say("Put it below the water"), (Change("run.rim_m", None),), "running_head"),),
            source=methods(8),
        )
    ]


def _refill(design: Design, found: Draining) -> list[Finding]:
    """Water pumped into a dry field hotter than its boiling point is steam and shock."""
    boils = found.lift.boils_c
    limit = design.control.refill_c.value
    if limit < boils:
        return []
    safe = float(min(95, math.floor(boils) - 3))
    return [
        Finding(
            key="refill_boils",
            level="stop",
            stage="charge",
            part="collector",
            title=say("a dry hot field would boil what is pumped into it"),
            reason=say(
                "Filling is allowed up to {l}; here water boils at {b}. The steam throws it back and scalds whoever stands at the tank.",
                l=Quantity(limit, "temperature"),
                b=Quantity(boils, "temperature"),
            ),
            quantity=Quantity(limit, "temperature"),
            limit=Quantity(boils, "temperature"),
            cures=(
                Cure(say("No filling above {t}", t=Quantity(safe, "temperature")), (Change("control.refill_c", safe),)),
            ),
            source=methods(7),
        )
    ]
