"""What is said of gauge and litres, of a weak filling pump, and of a loop as found."""

from __future__ import annotations

from collections.abc import Sequence

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C
from rowan.core.steps.charge.figures import LEAST_TOP_COLD_PA
from rowan.core.steps.charge.gauge import (
    CHARGE_CLOSE_PA,
    CUPFUL,
    DEEPEST_VACUUM,
    LITRES_CLOSE,
    TENTH_PA,
    AsFound,
    Vessel,
    as_found,
    charge_from_pair,
)
from rowan.core.steps.charge.loop import loop_of
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Statement, by_method, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding, Level
from rowan.core.terms.record import record
from rowan.core.terms.source import methods
from rowan.core.terms.units import KPA, LITRE

# Pa gauge; vessels leave the works with 0.8 bar or more and lose little in years: rule of thumb
LEAST_SOUND_CHARGE_PA = 30e3


def vessel_of(design: Design, run: RunResult, charge: SealedCharge, precharge: float | None = None) -> Vessel:
    """The vessel of a design on its loop; with another charge [Pa gauge] than the plan's where one was found."""
    assert charge.setting is not None  # noqa: S101  callers have checked
    loop = loop_of(design, contents=charge.contents.total, top=run.route.top, atmosphere=charge.atmosphere)
    return Vessel(charge.vessel, charge.setting.precharge if precharge is None else precharge, loop, charge.stiffness)


def gauge_figures(design: Design, run: RunResult, charge: SealedCharge) -> tuple[Figure, ...]:
    """Litres by a tenth of a bar over and under the charge, and what a lost cupful does."""
    if charge.setting is None:
        return ()
    vessel = vessel_of(design, run, charge)
    start = max(charge.setting.fill, charge.setting.precharge)
    return (_tenth_above(charge, start), _tenth_below(charge), *_cupful(vessel, start))


def _tenth_above(charge: SealedCharge, start: float) -> Figure:
    assert charge.setting is not None  # noqa: S101  callers have checked
    symbols = {
        "V": Symbol(charge.vessel / LITRE, "V", "vessel", "L"),
        "p": Symbol(charge.setting.precharge / KPA, "p", "charge", "kPa"),
        "a": Symbol(charge.atmosphere / KPA, "p", "air", "kPa"),
        "f": Symbol(start / KPA, "p", "fill", "kPa"),
    }
    return closed_form(
        key="tenth_above",
        name="A tenth of a bar holds",
        basis=say("over {f}, in the vessel", f=Quantity(start, "pressure")),
        dimension_name="volume",
        decimals=2,
        part="vessel",
        sentence=say(
            "So much goes in or out for {t} on the gauge while the vessel has liquid in it.",
            t=Quantity(TENTH_PA, "pressure"),
        ),
        expression=Expression("V * (p + a) * (1 / (f + a) - 1 / (f + a + 10))", symbols),
        letter="V",
        result_unit="L",
        scale=LITRE,
        source=methods(10),
    )


def _tenth_below(charge: SealedCharge) -> Figure:
    symbols = {
        "V": Symbol(charge.contents.total / LITRE * 1000, "V", "loop", "mL"),
        "s": Symbol(charge.stiffness * 1e9, "s", "", "1/GPa"),
    }
    return closed_form(
        key="tenth_below",
        name="Below its charge only",
        basis=say(
            "for {t}, in {v} of loop",
            t=Quantity(TENTH_PA, "pressure"),
            v=Quantity(charge.contents.total, "volume"),
        ),
        dimension_name="small_volume",
        decimals=2,
        part="gauge",
        sentence=say(
            "Below the charge the loop is stiff: only the give of water and pipe is left. Air in it softens this, so it is the least."
        ),
        expression=Expression("V * s / 100000", symbols),
        letter="V",
        result_unit="mL",
        scale=1e-6,
        source=methods(10),
    )


def _cupful(vessel: Vessel, start: float) -> tuple[Figure, ...]:
    after = vessel.gauge_after(start, CUPFUL)
    if after is None:
        return ()
    return (
        by_method(
            key="cupful",
            name="A lost cupful takes",
            basis=say(
                "{v} from {f}, the gauge then shows {p}",
                v=Quantity(CUPFUL, "small_volume"),
                f=Quantity(start, "pressure"),
                p=Quantity(after, "pressure"),
            ),
            value=start - after,
            dimension_name="pressure",
            part="gauge",
            sentence=say(
                "A drop an hour is a cupful in two months. Where the vessel holds its reserve the gauge tells it early."
            ),
            method=say("Litres between two pressures, solved for the gauge."),
            source=methods(10),
        ),
    )


def filling_findings(design: Design, charge: SealedCharge) -> tuple[Finding, ...]:
    """A filling pump that does not reach the fill pressure: the charge in two stages, or another pump."""
    if charge.setting is None:
        return ()
    pump = design.charge.filling_gauge_pa.value
    other = Cure(
        say("Bring a pump that reaches {p}", p=Quantity(400e3, "pressure")), (Change("charge.filling_gauge_pa", 400e3),)
    )
    if pump <= charge.static:
        return (
            Finding(
                key="filling_impossible",
                level="stop",
                stage="charge",
                part="gauge",
                title=say("this filling pump does not reach the roof"),
                reason=say(
                    "It makes {p} against a column of {s}: the field stays empty whatever the vessel is set to.",
                    p=Quantity(pump, "pressure"),
                    s=Quantity(charge.static, "pressure"),
                ),
                quantity=Quantity(pump, "pressure"),
                limit=Quantity(charge.static, "pressure"),
                cures=(other,),
                source=methods(10),
            ),
        )
    stage = charge.two_stage
    if stage is None or stage.first_precharge is None:
        return ()
    return (
        Finding(
            key="two_stages",
            level="mind",
            stage="charge",
            part="vessel",
            title=say("this filling pump needs a charge in two stages"),
            reason=say(
                "It reaches {p}, the fill is {f}. Set the vessel to {a} first and fill to {p}: {v} go in. Then pump gas in at the vessel's valve till the gauge reads {f}.",
                p=Quantity(pump, "pressure"),
                f=Quantity(charge.setting.fill, "pressure"),
                a=Quantity(stage.first_precharge, "pressure"),
                v=Quantity(stage.liquid, "volume"),
            ),
            quantity=Quantity(pump, "pressure"),
            limit=Quantity(charge.setting.fill, "pressure"),
            cures=(other,),
            source=methods(10),
        ),
    )


@record
class GaugeRead:
    """What somebody read: the gauge on the cold loop [Pa] and its temperature [°C]; if it was read too, the gauge on the hot
    loop and that temperature; and the vessel's charge if it was measured [Pa]."""

    cold: float
    cold_at: float = FILL_C
    hot: float | None = None
    hot_at: float | None = None
    charge: float | None = None


def found_of(design: Design, run: RunResult, charge: SealedCharge, read: GaugeRead) -> tuple[AsFound, bool]:
    """A loop as found, and whether two readings told its charge; for loops with pressures set.

    Raises ImpossibleInputError for readings that contradict each other or lie under any vacuum.
    """
    assert charge.setting is not None  # noqa: S101  callers have checked
    assert charge.steam is not None  # noqa: S101
    loop = vessel_of(design, run, charge).loop
    least = -DEEPEST_VACUUM * charge.atmosphere
    for gauge in (read.cold, read.hot, read.charge):
        if gauge is not None and gauge < least:
            raise ImpossibleInputError("no gauge shows less than {least} here", least=(least, "pressure"))
    precharge, told = read.charge, False
    if precharge is None and read.hot is not None:
        hot_at = design.charge.working_hot_c.value if read.hot_at is None else read.hot_at
        pair = charge_from_pair(
            nominal=charge.vessel, loop=loop, cold=read.cold, cold_c=read.cold_at, hot=read.hot, hot_c=hot_at
        )
        precharge, told = pair.precharge, True
    found = as_found(
        vessel=vessel_of(design, run, charge, precharge),
        planned=charge.setting,
        gauge=read.cold,
        temperature=read.cold_at,
        coldest=design.survey.design_minimum_c.value,
        hottest=design.charge.hot_c.value,
        steam=charge.steam.volume,
    )
    return found, told


@record
class FoundLine:
    """One thing that was found, how grave it is (none: in order), and what to do."""

    level: Level | None
    what: Statement


def found_verdict(lines: Sequence[FoundLine]) -> Statement:
    """What all of it comes to."""
    levels = {line.level for line in lines}
    if "stop" in levels:
        return say("Not as it should be: act today")
    if "fix" in levels:
        return say("Not as it should be: put it right")
    return say("As it should be")


def found_lines(found: AsFound, *, planned_charge: float, told_by_pair: bool) -> tuple[FoundLine, ...]:
    """What a loop as found means, in the order to act on it."""
    if found.vessel.precharge < LEAST_SOUND_CHARGE_PA:
        # with the gas gone nothing else that the vessel would do can be said
        return (_gone(found, told_by_pair),)
    return (*_charge_line(found, planned_charge, told_by_pair), *_litres_line(found), *_to_come(found))


def _gone(found: AsFound, told: bool) -> FoundLine:
    """A vessel that has no gas to speak of: flooded, or its membrane burst."""
    how = "No sound vessel gives these two readings" if told else "No sound vessel is charged so low"
    return FoundLine(
        "stop",
        say(
            "{how}: {c} of charge is less than {l}. Its gas is gone: it is flooded, or its membrane has burst, and a few hundred millilitres move the gauge by bars. Isolate it, let the pressure off and press the valve pin for a moment: liquid means burst, fit another; none means flooded, empty its liquid side and charge it anew.",
            how=how,
            c=Quantity(found.vessel.precharge, "pressure"),
            l=Quantity(LEAST_SOUND_CHARGE_PA, "pressure"),
        ),
    )


def _charge_line(found: AsFound, planned: float, told: bool) -> list[FoundLine]:
    charge, limit = Quantity(found.vessel.precharge, "pressure"), Quantity(planned, "pressure")
    how = "The two readings tell a charge of {c}" if told else "The vessel is charged to {c}"
    if abs(found.charge_off) <= CHARGE_CLOSE_PA:
        words = how + ", as planned." if told else "Taken with the charge of the plan, {c}."
        return [FoundLine(None, say(words, c=charge))]
    if found.charge_off < 0:
        return [
            FoundLine(
                "fix",
                say(
                    "{how}; the plan says {l}. Gas is gone and liquid has taken its room: let the pressure off, empty the liquid side, charge it anew, then fill.",
                    how=how,
                    c=charge,
                    l=limit,
                ),
            )
        ]
    return [
        FoundLine(
            "fix",
            say(
                "{how}; the plan says {l}. It takes no liquid until the gauge is over that: the first warming has no cushion. Let gas out with the liquid side empty.",
                how=how,
                c=charge,
                l=limit,
            ),
        )
    ]


def _litres_line(found: AsFound) -> list[FoundLine]:
    at = Quantity(found.temperature, "temperature")
    if found.planned_gauge is None:
        return [
            FoundLine(
                "mind", say("At {t} the plan itself has no pressure in this vessel: read again on a warmer loop.", t=at)
            )
        ]
    target = Quantity(found.planned_gauge, "pressure")
    if abs(found.charge_off) > CHARGE_CLOSE_PA:
        # with another charge a litre moves the gauge otherwise: first the charge, then the fill
        return [FoundLine("fix", say("With the charge right, fill to {p} at {t}.", p=target, t=at))]
    if found.top_now < 0:
        lead = FoundLine(
            "stop", say("The top of the loop is under vacuum now and draws air. Add before anything else, then vent.")
        )
    else:
        lead = None
    if abs(found.missing) <= LITRES_CLOSE and abs(found.gauge - found.planned_gauge) <= CHARGE_CLOSE_PA:
        lines = [FoundLine(None, say("The gauge stands where it should at {t}: {p}.", t=at, p=target))]
    elif found.missing > 0:
        lines = [
            FoundLine(
                "fix",
                say(
                    "About {v} are missing. Add mixed fluid until the gauge reads {p} at {t}, and write down how much.",
                    v=Quantity(found.missing, "volume", 2),
                    p=target,
                    t=at,
                ),
            )
        ]
    else:
        lines = [
            FoundLine(
                "fix",
                say(
                    "About {v} too much. Let out into a can until the gauge reads {p} at {t}.",
                    v=Quantity(-found.missing, "volume", 2),
                    p=target,
                    t=at,
                ),
            )
        ]
    return lines if lead is None else [lead, *lines]


def _to_come(found: AsFound) -> list[FoundLine]:
    """What the liquid that is in does on the coldest night and in the next hot standstill."""
    lines = []
    cold, hot = found.cold, found.stagnation
    night = Quantity(cold.temperature, "temperature")
    if cold.empty or (cold.top is not None and cold.top < 0):
        lines.append(FoundLine("stop", say("Left so, air is drawn in on top on the coldest night, {t}.", t=night)))
    elif cold.top is not None and cold.top < LEAST_TOP_COLD_PA:
        lines.append(
            FoundLine(
                "fix",
                say("Left so, {p} are on top on the coldest night, {t}.", p=Quantity(cold.top, "pressure"), t=night),
            )
        )
    elif cold.top is not None:
        lines.append(
            FoundLine(
                None, say("{p} stay on top on the coldest night, {t}.", p=Quantity(cold.top, "pressure"), t=night)
            )
        )
    if hot.full:
        lines.append(FoundLine("stop", say("In the next hot standstill the vessel is full and the relief opens.")))
    elif hot.margin_to_relief is not None and hot.station is not None:
        over = hot.margin_to_relief <= 0
        lines.append(
            FoundLine(
                "stop" if over else None,
                say(
                    "In a hot standstill the gauge goes to {p}{case}",
                    case=": the relief opens." if over else ", {m} under the relief.",
                    p=Quantity(hot.station, "pressure"),
                    m=Quantity(abs(hot.margin_to_relief), "pressure"),
                ),
            )
        )
    return lines
