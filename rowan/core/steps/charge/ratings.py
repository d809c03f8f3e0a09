"""Every pressure of a loop against the weakest part of it: main, fill, standstill and relief, whatever kind it is.

A relief above what a part stands protects nothing; a main above it bursts the part on the day it is opened. The maker's
rating wins over the usual one. Source: defaults, pressure ratings.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.design.own_store import exchanger_of
from rowan.core.goods.ratings import BAR, RELIEFS_PA, STATION_PA, pipe_stands
from rowan.core.steps.charge.figures import LEAST_TOP_COLD_PA
from rowan.core.steps.charge.pressures import end_pressure
from rowan.core.steps.charge.result import ChargeResult, DrainbackCharge, SealedCharge, setting_of, states_of
from rowan.core.steps.charge.vessel import VesselNeed, VesselTooSmallError, vessel_size
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE

SEEPS_SHARE = 0.9  # of its setting, over which a relief begins to weep and its seat to scale
TEST_RELIEF_SHARE = 0.9  # of the relief's setting a test may come to, while it stays on the loop; methods 13
MOST_AIR_PA = 5e5  # Pa: compressed air is a spring; methods 13
REDUCED_STEP_PA = 0.1 * BAR  # a reducing valve is set to a tenth of a bar


@record
class Rated:
    """A part of the loop, where it is in it, and what it stands [Pa gauge]."""

    name: str
    part: str
    stands: float


def rated_parts(design: Design) -> tuple[Rated, ...]:
    """Every part that feels the loop's pressure, weakest first."""
    hot = design.charge.working_hot_c.value
    run, store = design.run, design.store.item.value
    pipes = {leg.pipe.name: leg.pipe for line in (run.cold, run.hot) for leg in line if leg.pipe is not None}
    pipes[run.pipe.value.name] = run.pipe.value
    found = [Rated("collectors", "collector", design.collector.item.value.rated_gauge_pa)]
    found += [Rated(f"pipe {name}", "hot_line", pipe_stands(pipe, hot)) for name, pipe in pipes.items()]
    if design.through_store:
        if not store.unpressurised and not design.is_pool:
            found.append(Rated("store, drinking-water side", "store", store.tap_rated_gauge_pa))
    else:
        through = exchanger_of(design)
        found.append(Rated(through.name, "coil", through.rated_gauge_pa))
    if design.sealed:
        # who has read the station's own data sheet has typed it where the test asks for the weakest part
        typed = design.commission.weakest_gauge_pa
        station = STATION_PA if typed.origin == "assumed" else typed.value
        found += [
            Rated("solar station", "gauge", station),
            Rated("vessel", "vessel", design.charge.vessel_rated_gauge_pa.value),
        ]
    return tuple(sorted(found, key=lambda part: part.stands))


def weakest_part(design: Design) -> Rated:
    """The part that stands least."""
    return rated_parts(design)[0]


def rating_findings(design: Design, run: RunResult, charge: ChargeResult) -> tuple[Finding, ...]:
    """What presses harder than the weakest part stands. A loop open to the air has neither main nor relief on it."""
    if isinstance(charge, DrainbackCharge):
        return tuple(_own(design, run, charge))
    return (*_relief(design, charge), *(() if design.sealed else _main(design, charge)), *_own(design, run, charge))


def fitting_relief(design: Design, charge: ChargeResult) -> float | None:
    """The highest relief sold that the weakest part stands and the loop can live under [Pa gauge]; None without one."""
    weakest = weakest_part(design).stands
    setting = setting_of(charge)
    # a loop with a vessel has to have room between its fill and what the relief leaves
    least = charge.static + LEAST_TOP_COLD_PA if setting is None else setting.fill
    return next(
        (
            size
            for size in reversed(RELIEFS_PA)
            if size <= weakest and least < min(SEEPS_SHARE * size, end_pressure(relief=size))
        ),
        None,
    )


def reduced_main(design: Design, charge: ChargeResult, relief: float) -> float | None:
    """What a reducing valve is set to under a relief [Pa gauge]: below its weeping and the weakest part, enough on top.

    None where no setting does both.
    """
    most = min(SEEPS_SHARE * relief, SEEPS_SHARE * weakest_part(design).stands)
    wanted = math.floor(most / REDUCED_STEP_PA + 1e-9) * REDUCED_STEP_PA
    return wanted if wanted >= charge.static + LEAST_TOP_COLD_PA else None


def _relief(design: Design, charge: ChargeResult) -> Iterator[Finding]:
    relief, weakest = design.charge.relief_gauge_pa.value, weakest_part(design)
    if relief <= weakest.stands * (1 + 1e-9):
        return
    lower = fitting_relief(design, charge)
    cures = [] if lower is None else list(_lower_relief(design, charge, lower))
    yield _finding(
        "relief_over_rating",
        "relief",
        say("the relief opens above what a part stands"),
        say(
            "{w}: {s}. The relief opens at {r}, after that part has burst.",
            w=_capital(weakest.name),
            s=Quantity(weakest.stands, "pressure"),
            r=Quantity(relief, "pressure"),
        ),
        (relief, weakest.stands),
        cures,
    )


def _lower_relief(design: Design, charge: ChargeResult, lower: float) -> Iterator[Cure]:
    """A lower relief [Pa gauge], with what has to go with it: a main reduced under it, a vessel that suits it."""
    changes = [Change("charge.relief_gauge_pa", lower)]
    words = say("Fit a relief of {r}", r=Quantity(lower, "pressure"))
    reduced = reduced_main(design, charge, lower)
    if not design.sealed and design.main_gauge_pa > SEEPS_SHARE * lower and reduced is not None:
        changes.append(Change("charge.reducer_gauge_pa", reduced))
        words = say(
            "Fit a relief of {r} and reduce the main to {m}",
            r=Quantity(lower, "pressure"),
            m=Quantity(reduced, "pressure"),
        )
    if isinstance(charge, SealedCharge):
        need = _vessel_under(design, charge, lower)
        if need is None:
            return
        if need.standard_l * need.vessels * LITRE > charge.vessel:
            changes += [Change("charge.vessel_l", float(need.standard_l)), Change("charge.vessels", need.vessels)]
            words = say(
                "Fit a relief of {r} and a vessel of {v}",
                r=Quantity(lower, "pressure"),
                v=Quantity(need.standard_l * need.vessels * LITRE, "tank"),
            )
    yield Cure(words, tuple(changes))


def _vessel_under(design: Design, charge: SealedCharge, relief: float) -> VesselNeed | None:
    """The vessel a loop needs under another relief [Pa gauge]; None where none does."""
    if charge.setting is None:
        return None
    try:
        return vessel_size(
            expansion=charge.expansion,
            steam=charge.steam.volume,
            reserve_volume=charge.reserve,
            precharge=charge.setting.precharge,
            fill=charge.setting.fill,
            end=end_pressure(relief=relief),
            atmosphere_pa=charge.atmosphere,
            keeps_gas=design.charge.vessel_gas_share.value,
        )
    except (VesselTooSmallError, ImpossibleInputError):
        return None


def _main(design: Design, charge: ChargeResult) -> Iterator[Finding]:
    main, relief, weakest = design.main_gauge_pa, design.charge.relief_gauge_pa.value, weakest_part(design)
    reduced = reduced_main(design, charge, min(relief, weakest.stands))
    cures = []
    if reduced is not None:
        words = say("A reducing valve, set to {m}", m=Quantity(reduced, "pressure"))
        cures.append(Cure(words, (Change("charge.reducer_gauge_pa", reduced),)))
    if main > weakest.stands * (1 + 1e-9):
        yield _finding(
            "main_over_rating",
            "gauge",
            say("the main presses harder than a part stands"),
            say(
                "{w}: {s}. The main brings {m}, at night more. A reducing valve, a break tank or an open loop.",
                w=_capital(weakest.name),
                s=Quantity(weakest.stands, "pressure"),
                m=Quantity(main, "pressure"),
            ),
            (main, weakest.stands),
            cures,
        )
    elif main > SEEPS_SHARE * relief * (1 + 1e-9):
        yield _finding(
            "main_over_relief",
            "relief",
            say("the main keeps the relief open"),
            say(
                "The main brings {m}; a relief of {r} weeps from {w} on, day and night.",
                m=Quantity(main, "pressure"),
                r=Quantity(relief, "pressure"),
                w=Quantity(SEEPS_SHARE * relief, "pressure"),
            ),
            (main, SEEPS_SHARE * relief),
            cures,
        )


def _own(design: Design, run: RunResult, charge: ChargeResult) -> Iterator[Finding]:
    """What the loop itself comes to: filled and at a standstill with a vessel, else its column and its pump against a shut valve."""
    setting, weakest = setting_of(charge), weakest_part(design)
    reached = 0.0
    if isinstance(charge, DrainbackCharge):
        reached = charge.draining.lift.start_head + max((curve.head(0.0) for curve in run.pump.curves), default=0.0)
    elif setting is not None:
        standing = states_of(charge).get("stagnation")
        reached = max(setting.fill, standing.station or 0.0 if standing else 0.0)
    if reached <= weakest.stands * (1 + 1e-9):
        return
    yield _finding(
        "loop_over_rating",
        weakest.part,
        say("the loop presses harder than a part stands"),
        say(
            "{w}: {s}. By itself the loop comes to {p}.",
            w=_capital(weakest.name),
            s=Quantity(weakest.stands, "pressure"),
            p=Quantity(reached, "pressure"),
        ),
        (reached, weakest.stands),
        [],
    )


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _finding(
    key: str, part: str, title: Statement, reason: Statement, amounts: tuple[float, float], cures: list[Cure]
) -> Finding:
    return Finding(
        key=key,
        level="stop",
        stage="charge",
        part=part,
        title=title,
        reason=reason,
        quantity=Quantity(amounts[0], "pressure"),
        limit=Quantity(amounts[1], "pressure"),
        cures=tuple(cures),
        source=methods(10),
    )


def weakest_tested(design: Design) -> float:
    """What the weakest part in a pressure test stands [Pa gauge]; the vessel is shut off in it."""
    parts = [part.stands for part in rated_parts(design) if part.part != "vessel"]
    return min(design.commission.weakest_gauge_pa.value, *parts)


def test_pressure(design: Design) -> float:
    """What a design's loop is tested at [Pa gauge]. Source: methods 13."""
    commission = design.commission
    return highest_test(
        weakest_part=weakest_tested(design),
        relief=design.charge.relief_gauge_pa.value,
        relief_connected=commission.relief_stays.value,
        air=commission.test.value == "air",
        reached=test_reach(design),
    )


def test_reach(design: Design) -> float | None:
    """The most that what is on the van brings to a test with liquid [Pa gauge]; None where a hand test pump brings what is needed."""
    commission = design.commission
    if commission.test_pump.value or commission.test.value == "air":
        return None
    return design.charge.filling_gauge_pa.value if design.sealed else design.main_gauge_pa


def highest_test(
    *, weakest_part: float, relief: float, relief_connected: bool, air: bool = False, reached: float | None = None
) -> float:
    """Highest test pressure [Pa gauge]: the weakest part, 0.9 of a relief that stays on, 5 bar with air, what a pump reaches."""
    limits = [weakest_part]
    if relief_connected:
        limits.append(TEST_RELIEF_SHARE * relief)
    if air:
        limits.append(MOST_AIR_PA)
    if reached is not None:
        limits.append(reached)
    return min(limits)
