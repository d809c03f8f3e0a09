"""What can be wrong with fluid, vessel and pressures."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.fluid import strength
from rowan.core.steps.charge.figures import FROST_MARGIN_K, LEAST_TOP_COLD_PA
from rowan.core.steps.charge.result import LoopCharge, SealedCharge
from rowan.core.steps.charge.vessel import (
    STANDARD_L,
    VesselNeed,
    membrane_too_hot,
)
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE
from rowan.core.weather.air import PLATES_FREEZE_FROM_C, TUBES_FREEZE_FROM_C, WATER_OUTSIDE_FROM_C

RESERVE_GAP_PA = 30e3  # Pa under the fill, as the reserve school charges
MOST_GAP_PA, GAP_STEP_PA = 70e3, 1e3  # Pa, how far the cure may go, in steps a gauge shows
POOR_EMPTYING_W_M2 = 120.0  # W/m² of steam from a field that does not empty well, methods 10
LARGE_TIMES = 2.0  # a vessel so many times what is needed is far too large, rule of thumb

TOO_STRONG = 0.10  # of glycol beyond what is wanted, from which it is said; rule of thumb


def charge_findings(
    design: Design, run: RunResult, charge: SealedCharge, refusal: Statement | None
) -> tuple[Finding, ...]:
    """All findings of a sealed loop's charge. `refusal` says why the chosen school cannot be."""
    found = [*_fluid(design, charge), *_vessel(design, charge, refusal), *_cold_night(design, charge)]
    found += [
        *_kept(design, charge),
        *_steam(design, run, charge),
    ]
    return tuple(found)


def _strength(design: Design) -> float | None:
    try:
        return strength(design_minimum=design.survey.design_minimum_c.value, margin=FROST_MARGIN_K)
    except ImpossibleInputError:
        return None


def _fluid(design: Design, charge: SealedCharge) -> list[Finding]:
    found = []
    if design.charge.fluid.value == "ethylene":
        found.append(
            Finding(
                key="ethylene",
                level="stop",
                stage="charge",
                part="cold_line",
                title=say("this glycol is poison"),
                reason=say(
                    "Ethylene glycol in a house with a coil in the drinking water: one pinhole and it is at the tap. Only propylene glycol made for solar loops."
                ),
                cures=(Cure(say("Use propylene glycol"), (Change("charge.fluid", "propylene"),)),),
                source="practice: fluid",
            )
        )
    found += [*_uninhibited(design), *_strong(design)]
    coldest = design.survey.design_minimum_c.value
    if charge.frost_point > coldest - FROST_MARGIN_K:
        wanted = _strength(design)
        freezes = charge.frost_point > coldest
        cures = (
            ()
            if wanted is None
            else (Cure(say("Mix {s}", s=Quantity(wanted, "share")), (Change("charge.share", wanted),), "frost_point"),)
        )
        found.append(
            Finding(
                key="freezes" if freezes else "frost_margin",
                level="stop" if freezes else "fix",
                stage="charge",
                part="cold_line",
                title=say(
                    "the loop freezes on the coldest night" if freezes else "the mix is thin for the coldest night"
                ),
                reason=say(
                    "{s} glycol begins to freeze at {f}; the coldest night is {c} and {m} below it are wanted.",
                    s=Quantity(design.glycol_share, "share"),
                    f=Quantity(charge.frost_point, "temperature", 1),
                    c=Quantity(coldest, "temperature"),
                    m=Quantity(FROST_MARGIN_K, "difference", 0),
                ),
                quantity=Quantity(charge.frost_point, "temperature", 1),
                limit=Quantity(coldest - FROST_MARGIN_K, "temperature"),
                cures=cures,
                source=methods(9),
            )
        )
    return found


def _uninhibited(design: Design) -> list[Finding]:
    """A propylene glycol that was not made for a loop that stands hot."""
    words = {
        "food": say(
            "Food grade has nothing in it against foam: it settles more slowly, and round after round is pumped until it is clear."
        ),
        "plumbing": say(
            "Made for pipes that stand cold: its inhibitors are spent by the first hot summers. Frost point and pH each year."
        ),
    }
    kind = design.charge.fluid.value
    if kind not in words:
        return []
    return [
        Finding(
            key=f"fluid_{kind}",
            level="mind" if kind == "food" else "fix",
            stage="charge",
            part="cold_line",
            title=say("this glycol foams longer" if kind == "food" else "this glycol is not made for heat"),
            reason=words[kind],
            cures=(Cure(say("Take one made for solar"), (Change("charge.fluid", "propylene"),)),),
            source="practice: fluid",
        )
    ]


def _strong(design: Design) -> list[Finding]:
    """Far more glycol than the coldest night asks for."""
    wanted = _strength(design)
    if wanted is None or design.glycol_share <= wanted + TOO_STRONG + 1e-9:
        return []
    return [
        Finding(
            key="too_strong",
            level="mind",
            stage="charge",
            part="cold_line",
            title=say("far more glycol than the coldest night asks for"),
            reason=say(
                "{s} where {w} would do: it carries less heat, and the pump works against thicker fluid. Over 60 % is worse in every way.",
                s=Quantity(design.glycol_share, "share"),
                w=Quantity(wanted, "share"),
            ),
            quantity=Quantity(design.glycol_share, "share"),
            limit=Quantity(wanted + TOO_STRONG, "share"),
            cures=(Cure(say("Mix {w}", w=Quantity(wanted, "share")), (Change("charge.share", wanted),), "flow_cold"),),
            source=methods(9),
        )
    ]


def _impossible(design: Design, refusal: Statement | None) -> list[Finding]:
    cures = []
    if design.charge.school.value != "reserve":
        cures.append(Cure(say("Charge by the reserve school"), (Change("charge.school", "reserve"),), "fill"))
    if design.charge.relief_gauge_pa.value < 600e3:
        cures.append(
            Cure(
                say("Fit a relief of {p}", p=Quantity(600e3, "pressure", 1)),
                (Change("charge.relief_gauge_pa", 600e3),),
                "stagnation_pressure",
            )
        )
    if design.charge.steaming_w_m2.value > 60:
        cures.append(
            Cure(
                say("Let the field empty well: {s}", s=Quantity(60, "irradiance")),
                (Change("charge.steaming_w_m2", 60.0),),
            )
        )
    return [
        Finding(
            key="setting_impossible",
            level="stop",
            stage="charge",
            part="vessel",
            title=say("these pressures cannot be set"),
            reason=refusal or say("No pressure suits this vessel."),
            cures=tuple(cures),
            source=methods(10),
        )
    ]


def _vessel(design: Design, charge: SealedCharge, refusal: Statement | None) -> list[Finding]:
    if charge.setting is None or charge.need is None:
        return _impossible(design, refusal)
    full = any(state.full for state in charge.states.values())
    if charge.need.needed <= charge.vessel + 1e-9 and not full:
        return _large(charge, charge.need)
    size, count = charge.need.standard_l, charge.need.vessels
    changes = (Change("charge.vessel_l", float(size)), Change("charge.vessels", count))
    number = f"{count} × " if count > 1 else ""
    return [
        Finding(
            key="vessel_small",
            level="stop",
            stage="charge",
            part="vessel",
            title=say("the vessel is too small"),
            reason=say(
                "{v} is chosen and {n} is the least. {case} and the relief blows the glycol out.",
                case="In stagnation it is full of liquid" if full else "In stagnation the gauge passes {e}",
                v=Quantity(charge.vessel, "tank"),
                n=Quantity(charge.need.needed, "volume"),
                e=Quantity(charge.end, "pressure"),
            ),
            quantity=Quantity(charge.vessel, "volume"),
            limit=Quantity(charge.need.needed, "volume"),
            cures=(
                Cure(
                    say("Fit {number}{v}", number=number, v=Quantity(size * LITRE, "tank")),
                    changes,
                    "stagnation_pressure",
                    say("the next standard size"),
                ),
            ),
            source=methods(10),
        )
    ]


def _large(charge: SealedCharge, need: VesselNeed) -> list[Finding]:
    """A vessel that holds more than the loop, and far more than is needed: a leak is long in telling."""
    fits = need.standard_l * need.vessels * LITRE
    if charge.vessel <= charge.contents.total or charge.vessel <= LARGE_TIMES * fits:
        return []
    return [
        Finding(
            key="vessel_large",
            level="mind",
            stage="charge",
            part="vessel",
            title=say("the vessel holds more than the whole loop"),
            reason=say(
                "{v} on {l} of loop, where {f} would do. It takes {k} of mixed fluid to fill, and the gauge hardly falls while the loop leaks.",
                v=Quantity(charge.vessel, "tank"),
                l=Quantity(charge.contents.total, "volume"),
                f=Quantity(fits, "tank"),
                k=Quantity(charge.kept, "volume"),
            ),
            quantity=Quantity(charge.vessel, "volume"),
            limit=Quantity(charge.contents.total, "volume"),
            cures=(
                Cure(
                    say("Fit {v}", v=Quantity(fits, "tank")),
                    (Change("charge.vessel_l", float(need.standard_l)), Change("charge.vessels", need.vessels)),
                    "kept",
                ),
            ),
            source=methods(10),
        )
    ]


def _cold_night_cures(design: Design) -> tuple[Cure, ...]:
    cures = []
    if design.charge.school.value != "reserve":
        cures.append(Cure(say("Charge by the reserve school"), (Change("charge.school", "reserve"),), "top_cold"))
    bigger = next((s for s in STANDARD_L if s > design.charge.vessel_l.value), None)
    if design.charge.gap_pa.value < MOST_GAP_PA and design.charge.school.value == "reserve":
        gap = max(RESERVE_GAP_PA, min(MOST_GAP_PA, design.charge.gap_pa.value + 20e3))
        cures.append(
            Cure(say("Widen the gap to {g}", g=Quantity(gap, "pressure")), (Change("charge.gap_pa", gap),), "top_cold")
        )
    if bigger and design.charge.school.value == "reserve":
        cures.append(
            Cure(
                say("Fit {v}", v=Quantity(bigger * LITRE, "tank")),
                (Change("charge.vessel_l", float(bigger)),),
                "top_cold",
            )
        )
    return tuple(cures)


def _cold_night(design: Design, charge: SealedCharge) -> list[Finding]:
    cold = charge.states.get("cold")
    if cold is None or (not cold.empty and cold.top is not None and cold.top >= LEAST_TOP_COLD_PA):
        return []
    cures = _cold_night_cures(design)
    if cold.empty:
        return [
            Finding(
                key="vessel_empty",
                level="stop",
                stage="charge",
                part="vent",
                title=say("on a cold night the vessel is empty and air is drawn in on top"),
                reason=say(
                    "At {t} the loop shrinks and lacks {v}. There is no pressure left to hold air out.",
                    t=Quantity(cold.temperature, "temperature"),
                    v=Quantity(cold.shortage, "volume", 2),
                ),
                quantity=Quantity(cold.shortage, "volume", 2),
                limit=Quantity(0.0, "volume"),
                cures=cures,
                source=methods(10),
            )
        ]
    top = cold.top or 0.0
    grave = top <= 0
    return [
        Finding(
            key="top_negative" if grave else "top_low",
            level="stop" if grave else "fix",
            stage="charge",
            part="vent",
            title=say(
                "the top of the loop stands under suction on a cold night"
                if grave
                else "little pressure is left on top on a cold night"
            ),
            reason=say(
                "{p} on top at {t}; {l} is wanted so that air stays out.",
                p=Quantity(top, "pressure"),
                t=Quantity(cold.temperature, "temperature"),
                l=Quantity(LEAST_TOP_COLD_PA, "pressure"),
            ),
            quantity=Quantity(top, "pressure"),
            limit=Quantity(LEAST_TOP_COLD_PA, "pressure"),
            cures=cures,
            source=methods(10),
        )
    ]


def _kept(design: Design, charge: SealedCharge) -> list[Finding]:
    if charge.setting is None or charge.kept >= charge.reserve - 1e-9:
        return []
    cures = []
    if design.charge.school.value == "reserve":
        pre = charge.setting.precharge + charge.atmosphere
        share = charge.reserve / charge.vessel  # of the vessel that must be liquid when filled
        gap = math.ceil((pre / (1 - share) - pre) / GAP_STEP_PA) * GAP_STEP_PA if share < 1 else math.inf
        if design.charge.gap_pa.value < gap <= MOST_GAP_PA:
            cures.append(
                Cure(say("Widen the gap to {g}", g=Quantity(gap, "pressure")), (Change("charge.gap_pa", gap),), "kept")
            )
        bigger = next((s for s in STANDARD_L if s * LITRE * charge.kept / charge.vessel >= charge.reserve), None)
        if bigger:
            cures.append(
                Cure(
                    say("Fit {v}", v=Quantity(bigger * LITRE, "tank")),
                    (Change("charge.vessel_l", float(bigger)), Change("charge.vessels", 1)),
                    "kept",
                )
            )
    else:
        cures.append(Cure(say("Charge by the reserve school"), (Change("charge.school", "reserve"),), "kept"))
    return [
        Finding(
            key="kept_little",
            level="mind",
            stage="charge",
            part="vessel",
            title=say("the vessel keeps little liquid"),
            reason=say(
                "{k} waits in it when filled cold; {r} is wanted to replace the air that comes out in the first weeks.",
                k=Quantity(charge.kept, "volume", 2),
                r=Quantity(charge.reserve, "volume", 2),
            ),
            quantity=Quantity(charge.kept, "volume", 2),
            limit=Quantity(charge.reserve, "volume", 2),
            cures=tuple(cures),
            source=methods(10),
        )
    ]


def _steam(design: Design, run: RunResult, charge: SealedCharge) -> list[Finding]:
    found = []
    stagnation = charge.states.get("stagnation")
    boils = stagnation.boiling_on_top if stagnation else None
    rating = design.run.vent_rating_c.value
    if boils is not None and run.route.top_vented and not design.run.vent_shut_off.value and boils > rating:
        found.append(
            Finding(
                key="vent_steam",
                level="fix",
                stage="charge",
                part="vent",
                title=say("the vent on top will meet steam at {t}", t=Quantity(boils, "temperature")),
                reason=say(
                    "It stands {r}. Left open it lets steam out every hot summer day, and the loop loses its charge.",
                    r=Quantity(rating, "temperature"),
                ),
                quantity=Quantity(boils, "temperature"),
                limit=Quantity(rating, "temperature"),
                cures=(
                    Cure(
                        say("Put a valve under it"),
                        (Change("run.vent_shut_off", True),),
                        note=say("shut after purging, 1 part more"),
                    ),
                ),
                source="practice: the run",
            )
        )
    if charge.steam is not None:
        between = run.route.contents_of("cold")
        taken = charge.expansion + charge.steam.volume
        if not design.charge.cooling_vessel.value and membrane_too_hot(line_contents=between, taken_up=taken):
            found.append(
                Finding(
                    key="membrane_hot",
                    level="mind",
                    stage="charge",
                    part="vessel",
                    title=say("hot liquid will reach the vessel's membrane"),
                    reason=say(
                        "Only {l} of pipe lie between field and vessel, and {t} are pushed through it in stagnation. Above {m} a membrane ages fast; a small cooling vessel or bare pipe before it helps.",
                        l=Quantity(between, "volume"),
                        t=Quantity(taken, "volume"),
                        m=Quantity(design.charge.membrane_c.value, "temperature"),
                    ),
                    quantity=Quantity(between, "volume"),
                    limit=Quantity(taken / 2, "volume"),
                    cures=(
                        Cure(
                            say("Put a cooling vessel before it"),
                            (Change("charge.cooling_vessel", True),),
                            note=say("1 part more"),
                        ),
                    ),
                    source=methods(10),
                )
            )
    return found


def direct_findings(design: Design, charge: LoopCharge) -> tuple[Finding, ...]:
    """Findings of a loop that the main fills: frost, and a main too weak for the height."""
    found: list[Finding] = []
    coldest = design.survey.design_minimum_c.value
    if design.drains:
        return ()
    if design.is_pool:
        return _winter_pool(coldest)
    if coldest < WATER_OUTSIDE_FROM_C:
        found.append(
            Finding(
                key="direct_frost",
                level="stop",
                stage="charge",
                part="collector",
                title=say("tap water in the collectors will freeze"),
                reason=say(
                    "The coldest night is {c}. A direct loop is for places that stay above {l}.",
                    c=Quantity(coldest, "temperature"),
                    l=Quantity(WATER_OUTSIDE_FROM_C, "temperature"),
                ),
                quantity=Quantity(coldest, "temperature"),
                limit=Quantity(WATER_OUTSIDE_FROM_C, "temperature"),
                cures=(Cure(say("Make it a sealed glycol loop"), _as_sealed(design), "contents"),),
                source="practice: system and store",
            )
        )
    elif coldest < freezes_from(design) and not _guarded(design):
        found.append(_sky_frost(design, coldest))
    top = design.main_gauge_pa - charge.static
    if top < LEAST_TOP_COLD_PA:
        found.append(
            Finding(
                key="mains_weak",
                level="fix",
                stage="charge",
                part="vent",
                title=say("the main does not hold the top under pressure"),
                reason=say(
                    "{p} are left on top; {l} are wanted.",
                    p=Quantity(top, "pressure"),
                    l=Quantity(LEAST_TOP_COLD_PA, "pressure"),
                ),
                quantity=Quantity(top, "pressure"),
                limit=Quantity(LEAST_TOP_COLD_PA, "pressure"),
                cures=(
                    Cure(
                        say("Make it a sealed glycol loop"),
                        (Change("charge.kind", "sealed"), Change("charge.share", max(0.25, frost_share(design)))),
                    ),
                ),
                source=methods(10),
            )
        )
    return tuple(found)


def freezes_from(design: Design) -> float:
    """The air temperature from which a clear sky freezes water in this field [°C]: tubes keep a vacuum between."""
    tubes = design.collector.item.value.kind in ("tube", "heat pipe")
    return TUBES_FREEZE_FROM_C if tubes else PLATES_FREEZE_FROM_C


def _guarded(design: Design) -> bool:
    """Whether a pump warms the field before its water freezes."""
    control = design.control
    return design.pumped and control.frost.value and control.frost_c.value >= freezes_from(design)


def _sky_frost(design: Design, coldest: float) -> Finding:
    """Water in a field that faces a clear sky is colder than the air."""
    from_c = freezes_from(design)
    cures = [Cure(say("Make it a sealed glycol loop"), _as_sealed(design), "contents")]
    if design.pumped:
        words = say("Frost protection from {t}", t=Quantity(from_c, "temperature"))
        cures.insert(0, Cure(words, (Change("control.frost", True), Change("control.frost_c", from_c))))
    return Finding(
        key="sky_frost",
        level="stop",
        stage="charge",
        part="collector",
        title=say("a clear sky freezes the water in this field"),
        reason=say(
            "It faces the sky and gets some kelvins colder than the air: from {f} on it freezes. The coldest night is {c}, "
            "and nothing warms it. In a power cut even frost protection stands still: then it is drained by hand.",
            f=Quantity(from_c, "temperature"),
            c=Quantity(coldest, "temperature"),
        ),
        quantity=Quantity(coldest, "temperature"),
        limit=Quantity(from_c, "temperature"),
        cures=tuple(cures),
        source="defaults: clear sky",
    )


def _as_sealed(design: Design) -> tuple[Change, ...]:
    wanted = _strength(design)
    return (Change("charge.kind", "sealed"), *(() if wanted is None else (Change("charge.share", wanted),)))


def _winter_pool(coldest: float) -> tuple[Finding, ...]:
    if coldest >= WATER_OUTSIDE_FROM_C:
        return ()
    return (
        Finding(
            key="pool_winter",
            level="mind",
            stage="charge",
            part="collector",
            title=say("empty the field before the frost"),
            reason=say(
                "The coldest night is {c}: at the end of the season field and outdoor pipes are drained, and it goes into the diary.",
                c=Quantity(coldest, "temperature"),
            ),
            quantity=Quantity(coldest, "temperature"),
            limit=Quantity(WATER_OUTSIDE_FROM_C, "temperature"),
            source="practice: system and store",
        ),
    )


def frost_share(design: Design) -> float:
    """Strength for the place, the strongest mix where none is enough [-]."""
    wanted = _strength(design)
    return 0.6 if wanted is None else wanted
