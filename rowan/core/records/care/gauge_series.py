"""A loop's gauge over months: what each reading would be at the fill's warmth, how many litres are missing, how fast they go, and when the
vessel will be empty on the coldest night.

A reading is held against what the same loop would show with nothing lost at the same warmth; the vessel turns the difference into
litres. What was refilled counts as lost as well, so that a topping-up hides no leak. Source: methods 10, 19; site, tests.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from datetime import date, timedelta
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.house_look import gauge_with
from rowan.core.steps.charge.gauge import Vessel
from rowan.core.steps.charge.gauge_findings import vessel_of
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.commission.deviations import STEADY_SHARE
from rowan.core.terms.dates import day_said
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE
from rowan.core.weather.made_year import USUAL_RANGE_K

Numbers = NDArray[np.float64]
LEAST_POINTS, LEAST_SPAN_DAYS = 4, 14  # for a course to be told
ENOUGH_POINTS, SPANS_DAYS = 6, (28, 90, 365)
SURE = 0.9  # of the band of a course
MONTH_DAYS = 30
READ_TO_PA = 10e3  # to which a gauge is read
SOON_DAYS = 120  # within which a limit that is reached is told
LEVEL_TO_M, LOW_M = 2e-3, 10e-3  # m to which a level is read, and under its mark from which it is told
SHOWN_LITRES = 0.05 * LITRE  # m³, under which nothing is missing
Course = Literal["steady", "leak", "slows", "unsure"]


@record
class GaugeRead:
    """A gauge as somebody or a log has read it [Pa]: at a warmth of the loop [°C], or before sunrise with its outdoor part as cold as
    `outdoors` [°C]; neither: before sunrise, as cold as its month."""

    day: date
    gauge: float
    at_c: float | None = None
    outdoors: float | None = None
    who: str = ""


@record
class GaugePoint:
    """A reading beside what the loop would show with nothing lost at the same warmth [Pa]; the same at the fill's warmth [Pa]; missing,
    and lost since the fill with what was refilled [m³]."""

    read: GaugeRead
    expected: float
    cold: float
    missing: float
    lost: float


@record
class GaugeSeries:
    """A loop's readings in order; the fill and the least at the fill's warmth [Pa]; how much is lost a day, with its band [m³/day]; the
    liquid kept for the coldest night and what of it is gone [m³]; refilled water [m³]; days on which the limit is met and may be met first."""

    points: tuple[GaugePoint, ...]
    fill: float
    least: float
    kept: float
    refilled: float
    course: Course
    a_day: float = 0.0
    a_day_low: float = 0.0
    a_day_high: float = 0.0
    reaches: date | None = None
    reaches_first: date | None = None

    @property
    def month(self) -> float:
        """What is lost in thirty days [m³]."""
        return self.a_day * MONTH_DAYS

    @property
    def month_low(self) -> float:
        """The same at least [m³]."""
        return self.a_day_low * MONTH_DAYS

    @property
    def month_high(self) -> float:
        """The same at most [m³]."""
        return self.a_day_high * MONTH_DAYS

    @property
    def missing(self) -> float:
        """What is missing by the last readings [m³]: their median, as a needle trembles."""
        return float(np.median([point.missing for point in self.points[-3:]]))

    @property
    def level(self) -> Level | None:
        """How grave it is; None where it is in order."""
        if self.missing >= self.kept:
            return "fix"
        if self.course == "leak" and self.reaches is not None:
            return "fix" if (self.reaches - self.points[-1].read.day).days <= SOON_DAYS else "mind"
        return "mind" if self.course == "leak" else None


def _warmths(design: Design, result: Reckoning, read: GaugeRead) -> tuple[float, float]:
    """How warm the loop was outdoors and indoors at a reading [°C]."""
    if read.at_c is not None:
        return read.at_c, read.at_c
    night = result.site.monthly_air[read.day.month - 1] - USUAL_RANGE_K / 2
    return (night if read.outdoors is None else read.outdoors), design.survey.room_c.value


def water_added(design: Design) -> list[tuple[date, float]]:
    """Water refilled by the fluid's log [m³], of the entries that have a date."""
    return sorted(
        (date.fromisoformat(one.date), one.water_l * LITRE) for one in design.charge.log if one.date and one.water_l
    )


def gauge_series(design: Design, result: Reckoning, reads: Iterable[GaugeRead]) -> GaugeSeries | None:
    """What readings of the gauge say together; None for a loop without a vessel of its own, or without a reading that can be held."""
    charge = result.charge
    if not isinstance(charge, SealedCharge) or charge.setting is None:
        return None
    vessel, refills = vessel_of(design, result.run, charge), water_added(design)
    points = []
    for read in sorted(reads, key=lambda one: one.day):
        expected = gauge_with(design, result.run, charge, *_warmths(design, result, read))
        if expected is None:
            continue
        missing = vessel.litres(read.gauge, expected)
        refilled = sum(much for day, much in refills if day <= read.day)
        points.append(
            GaugePoint(read, expected, _at_fill(vessel, charge.setting.fill, missing), missing, missing + refilled)
        )
    if not points:
        return None
    kept = max(charge.states["cold"].liquid, 0.0)
    least = _at_fill(vessel, charge.setting.fill, kept)
    made = GaugeSeries(tuple(points), charge.setting.fill, least, kept, sum(much for _, much in refills), "unsure")
    return _with_course(made, vessel)


def _at_fill(vessel: Vessel, fill: float, missing: float) -> float:
    """The gauge at the fill's warmth with something missing, or too much in it [Pa]."""
    if missing <= 0.0:
        held = min(vessel.held_at(fill) - missing, 0.95 * vessel.nominal)
        air = vessel.loop.atmosphere_pa
        return (vessel.precharge + air) * vessel.nominal / (vessel.nominal - held) - air
    found = vessel.gauge_after(fill, missing)
    return -vessel.loop.atmosphere_pa if found is None else found


def _with_course(made: GaugeSeries, vessel: Vessel) -> GaugeSeries:
    """The series with how fast it loses; a course that is within what a needle trembles is steady."""
    days = np.array([point.read.day.toordinal() for point in made.points], dtype=float)
    lost = np.array([point.lost for point in made.points])
    if len(days) < LEAST_POINTS or days[-1] - days[0] < LEAST_SPAN_DAYS:
        return made
    part = newest(days)
    days, lost = days[part], lost[part]
    slope, low, high = course_of(days, lost, vessel.litres(made.fill - READ_TO_PA, made.fill))
    course: Course = "steady"
    if low > 0.0:
        course = "slows" if _slows(days, lost, vessel, made.fill) else "leak"
    last, left = made.points[-1].read.day, made.kept - made.missing
    reaches = reaches_first = None
    if course == "leak" and left > 0.0:
        reaches, reaches_first = _on(last, left / slope), _on(last, left / high)
    return GaugeSeries(
        made.points, made.fill, made.least, made.kept, made.refilled, course, slope, low, high, reaches, reaches_first
    )  # fmt: skip


def newest(days: Numbers) -> NDArray[np.bool_]:
    """Which readings a course is told by: the newest weeks that hold enough of them, for a leak begins on some day."""
    for span in SPANS_DAYS:
        last = days >= days[-1] - span
        if last.sum() >= ENOUGH_POINTS and days[-1] - days[last][0] >= LEAST_SPAN_DAYS:
            return np.asarray(last)
    return np.ones(len(days), dtype=bool)


def _median_slope(days: Numbers, values: Numbers) -> tuple[float, float, float]:
    """The median of all slopes between two values, a day, with its band."""
    # to import all of the statistics takes two fifths of what the core takes, and few processes ever look at a gauge's months
    from scipy.stats import theilslopes

    slope, _, low, high = (float(one) for one in theilslopes(values, days, SURE))
    return slope, low, high


def course_of(days: Numbers, values: Numbers, read_to: float) -> tuple[float, float, float]:
    """How much values change a day, with its band; none is known better than they are read [to `read_to`] over their whole time."""
    slope, low, high = _median_slope(days, values)
    close = read_to / (days[-1] - days[0]) * math.sqrt(4.0 / len(days))
    return slope, min(low, slope - close), max(high, slope + close)


def _on(last: date, days: float) -> date | None:
    """The day so many days later; None where nobody lives to see it."""
    return last + timedelta(days=int(days)) if days < 20 * 365 else None


def _slows(days: Numbers, lost: Numbers, vessel: Vessel, fill: float) -> bool:
    """Whether most was lost at first: air comes out fast, then slower; a leak goes on. Source: site, tests."""
    half = days < (days[0] + days[-1]) / 2
    if half.sum() < 3 or (~half).sum() < 3:
        return False
    early, late = (_median_slope(days[part], lost[part])[0] for part in (half, ~half))
    gone = float(np.median(lost[~half]) - np.median(lost[half]))
    return late < STEADY_SHARE * early and gone > vessel.litres(fill - READ_TO_PA, fill) / 2


def series_words(made: GaugeSeries) -> Statement:
    """What a series says, in one line."""
    if made.missing >= made.kept:
        words = "{m} are missing, and {k} are kept for the coldest night: the vessel will be empty then, and air is drawn in on top"
        return say(words, m=_litres(made.missing), k=_litres(made.kept))
    if made.course == "leak":
        a_month = _litres(made.month)
        if made.reaches is None:
            return say("It loses {a} a month and goes on: a leak, slow enough for the next service", a=a_month)
        when = day_said(made.reaches, year=True)
        return say("It loses {a} a month and goes on, as a leak does: at its limit about {when}", when=when, a=a_month)
    if made.course == "slows":
        return say(
            "{m} went at first and less since: air that came out. Bleed it, refill, read on", m=_litres(made.missing)
        )
    if made.course == "steady":
        return (
            say("It stands: {m} are missing", m=_litres(made.missing))
            if made.missing > SHOWN_LITRES
            else say("It stands, nothing is missing")
        )
    return say(
        "{n} readings: too few, or too close together, for a course", n=Quantity(float(len(made.points)), "count")
    )


def _litres(much: float) -> Quantity:
    return Quantity(max(much, 0.0), "volume", 1)


@record
class LevelRead:
    """Water at rest, cold, over its mark [m]; negative: under it."""

    day: date
    level: float
    who: str = ""


@record
class LevelSeries:
    """Levels over their mark in order [m]; how much they fall a day with its band [m/day]; True where that is more than chance."""

    reads: tuple[LevelRead, ...]
    a_day: float = 0.0
    a_day_low: float = 0.0
    a_day_high: float = 0.0

    @property
    def month(self) -> float:
        """What it falls in thirty days [m]."""
        return -self.a_day * MONTH_DAYS

    @property
    def falls(self) -> bool:
        """Whether it goes down for sure."""
        return self.a_day_high < 0.0

    @property
    def level(self) -> Level | None:
        """How grave it is; None where it stands."""
        return "fix" if self.falls or self.reads[-1].level < -LOW_M else None


def level_series(reads: Iterable[LevelRead]) -> LevelSeries | None:
    """What levels of a loop that drains say together; None without one."""
    found = tuple(sorted(reads, key=lambda one: one.day))
    if not found:
        return None
    days = np.array([one.day.toordinal() for one in found], dtype=float)
    if len(found) < LEAST_POINTS or days[-1] - days[0] < LEAST_SPAN_DAYS:
        return LevelSeries(found)
    part, levels = newest(days), np.array([one.level for one in found])
    return LevelSeries(found, *course_of(days[part], levels[part], LEVEL_TO_M))


def level_words(made: LevelSeries) -> Statement:
    """What a series of levels says, in one line."""
    last = made.reads[-1].level
    if made.falls:
        a_month = Quantity(made.month, "level")
        return say(
            "The level falls {a} a month: evaporation, or a joint that weeps",
            a=a_month,
        )
    if last < -LOW_M:
        return say(
            "The level is {d} under its mark: fill up cold and at rest, to the mark and no higher",
            d=Quantity(-last, "level"),
        )
    return say("The level stands at its mark")
