"""What can be wrong with a run."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.goods.catalogue import PIPES
from rowan.core.steps.run.figures import VELOCITY_WINDOW
from rowan.core.steps.run.loop import crossings, maker_window
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

LEAST_VELOCITY, MOST_VELOCITY = VELOCITY_WINDOW
BUBBLE_VELOCITY = 0.4  # m/s at which air goes down a pipe, methods 8


def run_findings(design: Design, run: RunResult) -> tuple[Finding, ...]:
    """All findings of the run, as found."""
    found = [*(() if design.drains else _humps(design, run)), *_top(design, run), *_steep(run), *_valves(design, run)]
    if design.pumped:
        found += [*_flow(design, run), *_cold_start(design, run), *_velocity(design, run)]
    return tuple(found)


def _humps(design: Design, run: RunResult) -> list[Finding]:
    found = []
    for point in run.route.high_points:
        cures = [
            Cure(
                say("Vent here"),
                (Change(f"run.{point.line}.{point.peak_leg}.vented", True),),
                note=say("1 part more, shut after purging"),
            )
        ]
        if point.even_rises:
            even = tuple(Change(f"run.{point.line}.{leg}.rise_m", rise) for leg, rise in point.even_rises)
            cures.insert(0, Cure(say("Lay it straight through"), even, note=say("the pipe then falls without a hump")))
        where = next((leg.name for leg in run.route.legs() if leg.id == point.peak_leg and leg.line == point.line), "")
        found.append(
            Finding(
                key=f"high_point_{point.line}_{point.peak_leg}",
                level="fix",
                stage="run",
                part=f"{point.line}_line",
                title=say("air will sit in the {line} line{case}", line=point.line, case=f", {where}" if where else ""),
                reason=say(
                    "The {line} line stands up {h} and holds {v} there without a vent. A bubble goes down a pipe only above {b}; this loop runs at {w}.",
                    line=point.line,
                    h=Quantity(point.stands_up, "length"),
                    v=Quantity(point.held, "volume", 2),
                    b=Quantity(BUBBLE_VELOCITY, "velocity"),
                    w=Quantity(run.velocity, "velocity"),
                ),
                quantity=Quantity(point.stands_up, "length"),
                limit=Quantity(0.0, "length"),
                cures=tuple(cures),
                source="practice: every high point is vented",
                place=f"{point.line}.{point.peak_leg}",
            )
        )
    return found


def _top(design: Design, run: RunResult) -> list[Finding]:
    found = []
    if design.sealed and not run.route.top_vented:
        first = design.run.hot[0].id
        found.append(
            Finding(
                key="top_unvented",
                level="fix",
                stage="run",
                part="vent",
                title=say("the top of the loop has no vent"),
                reason=say(
                    "Air gathers at {h} over the gauge and stops the flow. A hand vent on the first hot leg lets it out.",
                    h=Quantity(run.route.top, "length"),
                ),
                cures=(Cure(say("Put a vent on top"), (Change(f"run.hot.{first}.vented", True),)),),
                source=methods(8),
            )
        )
    return found


def _steep(run: RunResult) -> list[Finding]:
    found = []
    for leg in run.route.legs():
        if not leg.possible:
            found.append(
                Finding(
                    key=f"leg_too_short_{leg.line}_{leg.id}",
                    level="fix",
                    stage="run",
                    part=f"{leg.line}_line",
                    title=say("a leg rises more than it is long"),
                    reason=say(
                        "Leg {leg} is {l} long and should rise {r}.",
                        leg=leg.name or leg.id,
                        l=Quantity(leg.length, "length"),
                        r=Quantity(abs(leg.rise), "length"),
                    ),
                    quantity=Quantity(abs(leg.rise), "length"),
                    limit=Quantity(leg.length, "length"),
                    cures=(
                        Cure(say("Make it upright"), (Change(f"run.{leg.line}.{leg.id}.length_m", abs(leg.rise)),)),
                    ),
                    source=methods(8),
                )
            )
    return found


def _non_return(design: Design) -> list[Finding]:
    """Sealed and direct loops want one, a drainback must not have it."""
    found = []
    if design.drains and design.run.non_return.value:
        found.append(
            Finding(
                key="non_return_drainback",
                level="stop",
                stage="run",
                part="non_return",
                title=say("a non-return valve keeps this loop from emptying"),
                reason=say(
                    "A drainback field must run empty through the pump line; what stays behind freezes and bursts."
                ),
                cures=(Cure(say("Take it out"), (Change("run.non_return", False),)),),
                source="practice: system and store",
            )
        )
    if not design.run.non_return.value and design.charge.kind.value in ("sealed", "direct"):
        found.append(
            Finding(
                key="no_non_return",
                level="fix",
                stage="run",
                part="non_return",
                title=say("nothing stops the loop from running backwards at night"),
                reason=say("Without a non-return valve the warm store sends its heat up to the cold roof by itself."),
                cures=(Cure(say("Fit a non-return valve"), (Change("run.non_return", True),), "flow"),),
                source="practice: the run",
            )
        )
    return found


def _valves(design: Design, run: RunResult) -> list[Finding]:
    found = []
    if design.run.shut_off_to_relief.value and not design.run.field_relief.value:
        found.append(
            Finding(
                key="shut_off_to_relief",
                level="stop",
                stage="run",
                part="relief",
                title=say("a valve can cut the field off from its relief"),
                reason=say(
                    "Shut by mistake in sun, the field boils with nowhere to go. Between field and relief nothing may close; each "
                    "heated section that can be shut off has a relief of its own."
                ),
                cures=(
                    Cure(say("Take the valve out"), (Change("run.shut_off_to_relief", False),)),
                    Cure(
                        say("A relief on the field's side too"),
                        (Change("run.field_relief", True),),
                        note=say("1 part more"),
                    ),
                ),
                source="practice: pressure and vessel",
            )
        )
    found += _non_return(design)
    pipe = design.run.pipe.value
    copper = pipe.model_copy(
        update={"material": "copper", "rating_c": 400.0, "name": pipe.name.replace(pipe.material, "copper")}
    )
    swap = (Cure(say("Lay it in copper of that size"), (Change("run.pipe", copper),), "flow"),)
    if pipe.material == "galvanised" and design.sealed:
        found.append(
            Finding(
                key="galvanised",
                level="fix",
                stage="run",
                part="cold_line",
                title=say("zinc and glycol do not go together"),
                reason=say("Glycol strips the zinc from galvanised pipe; the sludge ends in the pump and the coil."),
                cures=swap,
                source="practice: the run",
            )
        )
    return found


def _flow(design: Design, run: RunResult) -> list[Finding]:
    low, high = maker_window(design)
    if run.point is None:
        return [
            Finding(
                key="no_crossing",
                level="stop",
                stage="run",
                part="pump",
                title=say("this pump moves nothing on this loop"),
                reason=say("Its curve and the loop's do not meet."),
                cures=_other_speeds(run, low, high),
                source=methods(8),
            )
        ]
    if low <= run.flow <= high:
        return []
    few = run.flow < low
    limit = low if few else high
    why = (
        "Too little leaves heat on the roof and rows starve."
        if few
        else "More only spends electricity and can wear the pipe."
    )
    cures = [*_other_speeds(run, low, high)]
    return [
        Finding(
            key="flow_outside",
            level="mind",
            stage="run",
            part="pump",
            title=say("the flow is {case} what the maker asks", case="below" if few else "above"),
            reason=say(
                "Speed {s} gives {q}; the data sheet wants {case} {l}. {why}",
                case="at least" if few else "at most",
                why=why,
                s=str(run.pump.speed),
                q=Quantity(run.flow, "flow"),
                l=Quantity(limit, "flow"),
            ),
            quantity=Quantity(run.flow, "flow"),
            limit=Quantity(limit, "flow"),
            cures=tuple(cures),
            source="data sheet of the collector",
        )
    ]


def _cold_start(design: Design, run: RunResult) -> list[Finding]:
    """Thick cold fluid that the pump moves too slowly, where warm it is well."""
    low, high = maker_window(design)
    point = run.pump.cold_points[run.pump.speed - 1]
    if point is None or point.flow >= low or run.flow < low:
        return []
    good = [i for i, p in enumerate(run.pump.cold_points, 1) if p and low <= p.flow <= high and i > run.pump.speed]
    return [
        Finding(
            key="cold_start_slow",
            level="mind",
            stage="run",
            part="pump",
            title=say("on a cold morning the flow starts below what the maker asks"),
            reason=say(
                "Cold fluid is thick: {q} until the loop is warm; the data sheet wants at least {l}.",
                q=Quantity(point.flow, "flow"),
                l=Quantity(low, "flow"),
            ),
            quantity=Quantity(point.flow, "flow"),
            limit=Quantity(low, "flow"),
            cures=tuple(
                Cure(say("Set speed {speed}", speed=f"{i}"), (Change("run.speed", i),), "flow_cold") for i in good[:1]
            ),
            source="data sheet of the collector",
        )
    ]


def _other_speeds(run: RunResult, low: float, high: float) -> tuple[Cure, ...]:
    good = [i for i, p in enumerate(run.pump.points, 1) if p and low <= p.flow <= high and i != run.pump.speed]
    return tuple(Cure(say("Set speed {speed}", speed=f"{i}"), (Change("run.speed", i),), "flow") for i in good[:1])


def _suits(run: RunResult, bore: float) -> bool:
    """Whether a bore [m] gives a velocity in its window at the pump speed that is set."""
    loop = run.warm.in_bore(run.warm.bore, bore)
    point = crossings((run.pump.curves[run.pump.speed - 1],), loop)[0]
    return point is not None and LEAST_VELOCITY <= loop.velocity(point.flow) <= MOST_VELOCITY


def _other_pipe(design: Design, run: RunResult, fast: bool) -> tuple[Cure, ...]:
    """The next size of the same make that brings the velocity into its window; none where legs have pipes of their own."""
    pipe = design.run.pipe.value
    mixed = run.warm.widest > run.warm.bore  # then it is a leg's own pipe: which one is for the installer to say
    sizes = sorted(
        (p for p in PIPES.values() if p.material == pipe.material and p.standard == pipe.standard),
        key=lambda p: p.bore_m,
        reverse=not fast,
    )
    other = next(
        (p for p in sizes if (p.bore_m > pipe.bore_m) == fast and p.bore_m != pipe.bore_m and _suits(run, p.bore_m)),
        None,
    )
    return (
        ()
        if other is None or mixed
        else (
            Cure(
                say("Lay it in {pipe}", pipe=other.name[:1].lower() + other.name[1:]),
                (Change("run.pipe", other),),
                "velocity",
            ),
        )
    )


def _velocity(design: Design, run: RunResult) -> list[Finding]:
    slowest = run.warm.slowest(run.flow)
    if slowest >= LEAST_VELOCITY and run.velocity <= MOST_VELOCITY:
        return []
    fast = run.velocity > MOST_VELOCITY
    limit = MOST_VELOCITY if fast else LEAST_VELOCITY
    velocity, bore = (run.velocity, run.warm.bore) if fast else (slowest, run.warm.widest)
    cures = _other_pipe(design, run, fast)
    if fast:
        return [
            Finding(
                key="too_fast",
                level="fix",
                stage="run",
                part="cold_line",
                title=say("the fluid runs too fast in this pipe"),
                reason=say(
                    "{v} in a bore of {d}: it hisses, wears the copper and costs head. Up to {l} is usual.",
                    v=Quantity(velocity, "velocity"),
                    d=Quantity(bore, "pipe_size"),
                    l=Quantity(limit, "velocity"),
                ),
                quantity=Quantity(run.velocity, "velocity"),
                limit=Quantity(limit, "velocity"),
                cures=cures,
                source=methods(8),
            )
        ]
    return [
        Finding(
            key="too_slow",
            level="mind",
            stage="run",
            part="cold_line",
            title=say("the fluid runs slowly in this pipe"),
            reason=say(
                "{v} carries no bubbles along and takes long to bring heat. Below {l} purge with care.",
                v=Quantity(velocity, "velocity"),
                l=Quantity(limit, "velocity"),
            ),
            quantity=Quantity(velocity, "velocity"),
            limit=Quantity(limit, "velocity"),
            cures=cures,
            source=methods(8),
        )
    ]
