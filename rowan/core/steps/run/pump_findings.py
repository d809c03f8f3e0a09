"""What is said of the pump: the speed that lands on the flow wanted, where it stands, what drives it. Source: practice 8."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.goods.catalogue import in_bronze
from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.panel import flow_at_speed
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, by_method, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE_H, LITRE_MIN

PRACTICE = "practice: flow and pump"
WINTER_SHARE = 0.85  # of the usual flow: a tenth to a fifth less, practice 8
LATE = 2.0  # the pump may start at so many times the sun from which there is heat, rule of thumb
LEAST_SPEED, HALVINGS = 0.1, 40  # of the full speed; enough for a float


def pump_figures(design: Design, run: RunResult) -> tuple[Figure, ...]:
    """The speed to set, and for a pump on a panel the sun it starts at; none without a pump."""
    return (*_speed(design, run), *_winter(design, run), *_sun(run)) if design.pumped else ()


def _speed(design: Design, run: RunResult) -> tuple[Figure, ...]:
    wanted = design.run.flow_l_h.value * LITRE_H
    if design.run.pump.value.variable:
        share = share_for(run, wanted)
        if share is None:
            return ()
        return (
            by_method(
                key="speed_share",
                name="Set the pump to",
                basis=say("of its top speed, for {q}", q=Quantity(wanted, "flow")),
                value=share,
                dimension_name="share",
                part="pump",
                sentence=say("Power goes with the third power of the speed: what is turned down is nearly all saved."),
                method=say("Affinity laws on the top curve, solved for the flow wanted."),
                source=methods(8),
            ),
        )
    best = best_speed(design, run)
    if best is None or len(run.pump.curves) == 1:
        return ()
    return (
        by_method(
            key="speed_wanted",
            name="Speed that lands nearest",
            basis=say("to {q}", q=Quantity(wanted, "flow")),
            value=float(best),
            dimension_name="count",
            part="pump",
            sentence=say("Of the speeds inside what the maker asks, the one nearest to the flow wanted."),
            method=say("Every speed's curve against the warm loop."),
            source=methods(8),
        ),
    )


def _winter(design: Design, run: RunResult) -> tuple[Figure, ...]:
    """The flow to turn down to where low sun makes the pump start and stop; none for a pool, which has no winter, where the
    sun itself sets it, or where the loop drains: its return has to stay full."""
    if run.point is None or run.pump.on_sun is not None or design.drains or design.is_pool:
        return ()
    least, _ = maker_window(design)
    return (
        closed_form(
            key="winter_flow",
            name="In winter, if it starts and stops",
            basis=say("a tenth to a fifth down from {q}", q=Quantity(run.flow, "flow")),
            dimension_name="flow",
            part="pump",
            sentence=say(
                "Low sun, or a field that looks aside, warms little: less flow lets the exit come warmer, and the pump stays on. "
                "Never under what the collector's maker asks; back up in spring."
            ),
            expression=Expression(
                f"max({WINTER_SHARE} * q, least)",
                {
                    "q": Symbol(run.flow / LITRE_MIN, "q", "", "L/min"),
                    "least": Symbol(min(least, run.flow) / LITRE_MIN, "q", "least", "L/min"),
                },
            ),
            letter="q",
            letter_index="winter",
            result_unit="L/min",
            scale=LITRE_MIN,
            source=methods(8),
        ),
    )


def best_speed(design: Design, run: RunResult) -> int | None:
    """The speed whose flow is inside the maker's window and nearest to the flow wanted; the nearest at all if none is."""
    wanted = design.run.flow_l_h.value * LITRE_H
    low, high = maker_window(design)
    flows = {number: point.flow for number, point in enumerate(run.pump.points, 1) if point is not None}
    inside = {number: flow for number, flow in flows.items() if low <= flow <= high}
    among = inside or flows
    return min(among, key=lambda number: abs(among[number] - wanted)) if among else None


def share_for(run: RunResult, wanted: float) -> float | None:
    """Share of the top speed that gives a flow [m³/s] on the warm loop; None where even the top gives less."""
    top, lift = run.pump.curves[-1], run.pump.lift_head
    if flow_at_speed(top, 1.0, run.warm.drop, lift) < wanted:
        return None
    low, high = LEAST_SPEED, 1.0
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (middle, high) if flow_at_speed(top, middle, run.warm.drop, lift) < wanted else (low, middle)
    return high


def _sun(run: RunResult) -> tuple[Figure, ...]:
    if run.pump.on_sun is None or run.pump.on_sun.starts_at is None:
        return ()
    return (
        by_method(
            key="sun_starts",
            name="Sun that turns the pump",
            basis=say("there is heat from {g}", g=Quantity(run.least_sun, "irradiance")),
            value=run.pump.on_sun.starts_at,
            dimension_name="irradiance",
            part="pump",
            sentence=say(
                "Panel and pump agree without a controller: no sun, no flow. A small shaded patch can stop it."
            ),
            method=say("Where the panel's current meets the pump's, and its curve the loop's."),
            window=Window(None, LATE * run.least_sun, "practice 8, rule of thumb"),
            source=methods(8),
        ),
    )


def pump_findings(design: Design, run: RunResult) -> tuple[Finding, ...]:
    """A pump in the wrong place, of the wrong kind, or faster than it need be."""
    if not design.pumped:
        return ()
    return (*_place(design), *_drinking(design), *_slower(design, run), *_panel(design, run))


def _place(design: Design) -> list[Finding]:
    run, found = design.run, []
    if run.pump_line.value == "hot":
        found.append(
            Finding(
                key="pump_hot_line",
                level="fix",
                stage="run",
                part="pump",
                title=say("the pump stands in the hot line"),
                reason=say(
                    "There it meets steam and the hottest liquid, and wears out early. In the cold line it lives longest."
                ),
                cures=(Cure(say("Put it in the cold line"), (Change("run.pump_line", "cold"),)),),
                source=PRACTICE,
            )
        )
    if run.shaft.value == "upright" and run.pump.value.kind != "magnet":
        found.append(
            Finding(
                key="pump_upright",
                level="fix",
                stage="run",
                part="pump",
                title=say("this pump wants its shaft level"),
                reason=say(
                    "Upright, air gathers at its upper bearing and the rotor runs dry there; a minute dry costs years."
                ),
                cures=(Cure(say("Turn the shaft level"), (Change("run.shaft", "level"),)),),
                source=PRACTICE,
            )
        )
    return found


def _drinking(design: Design) -> list[Finding]:
    pump = design.run.pump.value
    if design.charge.kind.value != "direct" or design.is_pool or pump.drinking:
        return []
    return [
        Finding(
            key="pump_iron",
            level="fix",
            stage="run",
            part="pump",
            title=say("an iron pump rusts in drinking water"),
            reason=say(
                "Fresh water brings air all the time. Bronze or stainless steel stands it, and is fit to drink from."
            ),
            cures=(Cure(say("Take it in bronze"), (Change("run.pump", in_bronze(pump)),), note=say("dearer")),),
            source=PRACTICE,
        )
    ]


def _slower(design: Design, run: RunResult) -> list[Finding]:
    best = best_speed(design, run)
    if design.run.pump.value.variable or best is None or best >= run.pump.speed or run.point is None:
        return []
    slower, cold = run.pump.points[best - 1], run.pump.cold_points[best - 1]
    assert slower is not None  # noqa: S101  best_speed names speeds with a point
    # a speed that lets cold fluid fall below what the maker asks is no advice: the other rule would take it back
    if cold is None or cold.flow < maker_window(design)[0]:
        return []
    return [
        Finding(
            key="slower_will_do",
            level="mind",
            stage="run",
            part="pump",
            title=say("speed {best} lands nearer to the flow wanted", best=f"{best}"),
            reason=say(
                "Speed {speed} gives {q} where {w} is wanted; speed {best} gives {s} and takes less current.",
                speed=f"{run.pump.speed}",
                best=f"{best}",
                q=Quantity(run.point.flow, "flow"),
                w=Quantity(design.run.flow_l_h.value * LITRE_H, "flow"),
                s=Quantity(slower.flow, "flow"),
            ),
            quantity=Quantity(run.point.flow, "flow"),
            limit=Quantity(design.run.flow_l_h.value * LITRE_H, "flow"),
            cures=(Cure(say("Set speed {best}", best=f"{best}"), (Change("run.speed", best),), "pump_power"),),
            source=PRACTICE,
        )
    ]


def _panel(design: Design, run: RunResult) -> list[Finding]:
    sun = run.pump.on_sun
    if sun is None:
        return []
    low, _ = maker_window(design)
    power = design.run.panel_w.value
    bigger = (
        Cure(
            say("A panel of {p}", p=Quantity(2 * power, "electric_power")),
            (Change("run.panel_w", 2 * power),),
            "sun_starts",
        ),
    )
    cures = bigger if 2 * power <= 400 else ()
    if sun.starts_at is None or sun.points[-1][1] < low:
        return [
            Finding(
                key="panel_small",
                level="fix",
                stage="run",
                part="pump",
                title=say("this panel does not turn the pump enough"),
                reason=say(
                    "In full sun it moves {q}; the maker of the collector wants at least {l}.",
                    q=Quantity(sun.points[-1][1], "flow"),
                    l=Quantity(low, "flow"),
                ),
                quantity=Quantity(sun.points[-1][1], "flow"),
                limit=Quantity(low, "flow"),
                cures=cures,
                source=PRACTICE,
            )
        ]
    if sun.starts_at <= LATE * run.least_sun:
        return []
    return [
        Finding(
            key="panel_late",
            level="mind",
            stage="run",
            part="pump",
            title=say("the pump starts late in the morning"),
            reason=say(
                "It turns from {g}, and the field has heat from {h}. A larger panel, or one tilted toward the morning, starts it sooner.",
                g=Quantity(sun.starts_at, "irradiance"),
                h=Quantity(run.least_sun, "irradiance"),
            ),
            quantity=Quantity(sun.starts_at, "irradiance"),
            limit=Quantity(LATE * run.least_sun, "irradiance"),
            cures=cures,
            source=PRACTICE,
        )
    ]
