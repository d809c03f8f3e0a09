"""The monthly look of whoever lives there: what the gauge should show before sunrise, month by month, and what an answer means.

The gauge is read before sunrise with the pump off, where the loop is as cold as night and cellar (site, faults). What it should show
follows from the vessel: the outdoor part of the loop at the month's night air, the rest at the room's temperature.
"""

from __future__ import annotations

from typing import Literal

from rowan.core.design.design import Design
from rowan.core.fluid import COLDEST_C, FILL_C, frost_point
from rowan.core.reckon import Reckoning
from rowan.core.steps.charge.loop import loop_of
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.charge.vessel import thermal_expansion, vessel_state
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level, rank
from rowan.core.terms.record import record
from rowan.core.weather.made_year import USUAL_RANGE_K

# Pa that a house gauge's error, a needle read from aside and a year's settling explain; rule of the house
SLACK_PA = 20e3
# Pa under which a sealed loop has lost its liquid, whatever its height: a gauge that rests on its pin
EMPTY_PA = 20e3
# share of the relief's pressure from which it is no look any more but a danger; it closes again some tenths below
NEAR_RELIEF = 0.9


@record
class Month:
    """A month's gauge [Pa]: before sunrise, at work, the window before sunrise; and how cold the outdoor part is then [°C]."""

    number: int
    dawn_c: float
    expected: float
    low: float
    high: float
    working: float


def gauge_months(design: Design, result: Reckoning) -> tuple[Month, ...]:
    """What the gauge should show in each month, January first; nothing for a loop without a vessel of its own."""
    charge = result.charge
    if not isinstance(charge, SealedCharge) or charge.setting is None:
        return ()
    highest = gauge_with(
        design, result.run, charge, design.charge.working_hot_c.value, design.charge.working_hot_c.value
    )
    warm = design.collector.working_c.value
    working = gauge_with(design, result.run, charge, warm, warm)
    found = []
    for number, mean in enumerate(result.site.monthly_air, 1):
        dawn = mean - USUAL_RANGE_K / 2
        expected = gauge_with(design, result.run, charge, dawn, design.survey.room_c.value)
        if expected is None or working is None or highest is None:
            return ()
        found.append(Month(number, dawn, expected, expected - SLACK_PA, highest + SLACK_PA, working))
    return tuple(found)


def gauge_with(design: Design, run: RunResult, charge: SealedCharge, outdoors: float, indoors: float) -> float | None:
    """The gauge [Pa] with the outdoor part of the loop and the rest at their temperatures [°C]; None out of the vessel's reach."""
    if charge.setting is None:
        return None
    loop = loop_of(design, contents=charge.contents.total, top=run.route.top, atmosphere=charge.atmosphere)
    field = design.collector.item.value.contents_l * design.collector.count.value / 1000
    outside = min(sum(leg.contents for leg in run.route.legs() if leg.outdoors) + field, loop.volume)
    least = max(frost_point(volume_share=loop.share), COLDEST_C)

    def grown(volume: float, at: float) -> float:
        """What warming from the fill adds [m³]; negative where it is colder."""
        return thermal_expansion(loop_volume=volume, volume_share=loop.share, hot=max(at, least)) if volume > 0 else 0.0

    pushed = grown(outside, outdoors) + grown(loop.volume - outside, indoors)
    state = vessel_state(
        vessel=charge.vessel,
        precharge=charge.setting.precharge,
        fill=charge.setting.fill,
        loop=loop,
        temperature=FILL_C,
        steam=pushed,
    )
    return state.station


LookKind = Literal["gauge", "level", "warm"]


@record
class Look:
    """What somebody saw: gauge [Pa] before sunrise, level at its mark, the pump in sun, a drip under the relief; None: not looked at."""

    gauge: float | None = None
    level_right: bool | None = None
    pump_ran: bool | None = None
    drips: bool | None = None
    water_warm: bool | None = None


def asked_of(design: Design) -> tuple[str, ...]:
    """Which of `Look` is asked of this kind of system."""
    first = ("gauge",) if design.sealed else ("level_right",) if design.drains else ()
    pump = ("pump_ran",) if design.pumped else ()
    warm = ("water_warm",) if design.taps and not design.pumped else ()
    return (*first, *pump, *warm, "drips")


@record
class Told:
    """What an answer means: how grave (None: as it should be), and in words; the gravest comes first."""

    level: Level | None
    words: Statement


def judge_look(design: Design, months: tuple[Month, ...], look: Look, month: int) -> tuple[Told, ...]:
    """What somebody's look means in a month [1 to 12]; one line that says so where all is as it should be."""
    found = [*_of_gauge(design, months, look, month), *_of_rest(design, look)]
    if not found:
        return (Told(None, say("As it should be. Thank you; it is in the diary.")),)
    return tuple(sorted(found, key=lambda one: rank(one.level)))


def _of_gauge(design: Design, months: tuple[Month, ...], look: Look, month: int) -> list[Told]:
    if look.gauge is None or not months:
        return []
    this = months[month - 1]
    read, expected = Quantity(look.gauge, "pressure"), Quantity(this.expected, "pressure")
    relief = design.charge.relief_gauge_pa.value
    if look.gauge >= NEAR_RELIEF * relief:
        words = say(
            "{r} is close to where the relief opens. Do not open anything, keep away from its outlet, ring us today.",
            r=read,
        )
        return [Told("stop", words)]
    if look.gauge <= EMPTY_PA:
        words = say(
            "The loop has lost its pressure. Do not fill it with water. In sun, keep away from it; ring us today."
        )
        return [Told("stop", words)]
    if look.gauge < this.low:
        by = Quantity(this.expected - look.gauge, "pressure")
        words = say("{r} is {d} under the {e} it should show: ring us.", r=read, d=by, e=expected)
        return [Told("fix", words)]
    if look.gauge > this.high:
        words = say(
            "{r} is higher than a cold loop ever stands ({h} at most). Was it read before sunrise, pump off? If so, ring us.",
            r=read,
            h=Quantity(this.high, "pressure"),
        )
        return [Told("fix", words)]
    return []


def _of_rest(design: Design, look: Look) -> list[Told]:
    found = []
    if look.level_right is False:
        found.append(Told("fix", say("The level is not at its mark: ring us. Do not top it up yourself.")))
    if look.pump_ran is False:
        found.append(
            Told(
                "fix", say("In full sun the pump should run. Ring us: the field stands hot meanwhile, leave it alone.")
            )
        )
    if look.water_warm is False:
        found.append(Told("fix", say("After a sunny day the water should be warm: ring us.")))
    if look.drips:
        words = (
            "Something ran out under the relief. Do not drink it, wash it off, ring us."
            if design.sealed
            else "Something drips: ring us."
        )
        found.append(Told("fix", say(words)))
    return found
