"""Tasks about pressure: a vessel set on the bench, a loop tested and emptied, a leak or air told by weeks of a gauge.

Source: practice 10 and 14, site (valves, tests).
"""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np

from rowan.core.design.design import Design
from rowan.core.design.inputs.charge import School
from rowan.core.practice.sheet import Column, Line, Option, Pair, Plot, Question, Range, Sheet, Slip, around
from rowan.core.practice.sheets.ground import Ground
from rowan.core.records.care.gauge_series import GaugeRead, GaugeSeries, gauge_series, series_words
from rowan.core.records.house_look import gauge_with
from rowan.core.steps.charge.gauge import TENTH_PA, Vessel
from rowan.core.steps.charge.gauge_findings import vessel_of
from rowan.core.steps.charge.pressures import Setting
from rowan.core.steps.charge.ratings import highest_test, weakest_tested
from rowan.core.steps.charge.result import SchoolView, SealedCharge
from rowan.core.steps.commission.pressure_test import (
    SOAP_AIR_PA,
    air_energy,
    air_expected,
    air_verdict,
    water_per_kelvin,
    water_verdict,
)
from rowan.core.terms.constants import ATMOSPHERE_PA
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.units import LITRE

READ_PA = 10e3  # to which a gauge on the bench is read
WORKS_PA = (0.8e5, 2.8e5)  # settings from the works; practice 10
FALL_PA, WATER_FALL_PA = 8e3, 0.8e5  # that a gauge falls over the hold where a joint weeps, with air and with water
TONIGHT = {
    True: "Tonight it freezes, and the fluid comes in three days.",
    False: "No frost is near, the fluid is on the van.",
}
HOLD_START_C = 12.0  # °C of the loop when an air test begins
WEEKS, EVERY_DAYS, ONE_DAY = 4, 2, timedelta(days=1)
LOST = 0.75  # of what is kept for the coldest night, that a leak takes in the weeks, or that was air
AIR_DAYS = 8.0  # days in which most of it comes out
FIRST_DAY = date(2026, 5, 4)  # of the weeks that are read; a day like another
# schools by the words of somebody who keeps them
NAMED: dict[str, str] = {
    "reserve": "charge under the fill, liquid kept in reserve",
    "equal": "charge and fill equal",
    "above": "charge a little above the fill",
    "atmosphere": "one atmosphere and the column",
}


def vessel(ground: Ground) -> Sheet:
    """Set a vessel on the bench and fill to pressure, every school by its own rule."""
    charge, design = ground.sealed, ground.design
    schools = [one for one in charge.schools if one.setting is not None and one.school not in ("typed", "raised")]
    settings = {one.school: one.setting for one in schools if one.setting is not None}
    held = {key: vessel_of(design, ground.result.run, charge, one.precharge) for key, one in settings.items()}
    dice = ground.dice("vessel")
    works = WORKS_PA[int(dice.integers(len(WORKS_PA)))] + 5e3 * int(dice.integers(-3, 4))
    # where the works happened to set it as this house wants it, the slip is a gauge misread
    first = schools[0].school
    kept = works if abs(works - settings[first].precharge) > 2 * READ_PA else works + 4 * READ_PA
    return Sheet(
        lead=say(
            "A vessel of {v} comes from the works with {w} of gas. It is for this loop. Set it, say how the loop is filled, and what the gauge will do.",
            v=Quantity(charge.vessel, "tank"),
            w=Quantity(works, "pressure"),
        ),
        given=(
            ("gauge to the top of the field", Quantity(design.survey.gauge_to_top_m.value, "length")),
            ("glycol in the mix", Quantity(design.glycol_share, "share")),
            ("the loop holds", Quantity(charge.contents.total, "volume")),
            ("the vessel holds", Quantity(charge.vessel, "tank")),
            ("the column weighs at the gauge", Quantity(charge.static, "pressure")),
        ),
        shown=loop_column(ground),
        questions=(*_vessel_asks(works, schools, settings, held),),
        master=say(
            "Reads the works charge, lets gas down on the bench to the rule of this house, writes charge, fill and the gauge's error on the card."
        ),
        slips=(
            Slip("charge read on a full loop", {"when": "full", "school": first}, "when"),
            Slip("works setting kept", {"when": "empty", "school": first, "charge": kept}, "charge"),
            Slip("fill forgotten the column", {"when": "empty", "school": first, "fill": 0.3e5}, "fill"),
        ),
    )


def loop_column(ground: Ground) -> Column:
    """The loop of a plan as far as its pressure goes. Raises ImpossibleInputError as `Ground.sealed`."""
    design = ground.design
    return Column(design.survey.gauge_to_top_m.value, ground.sealed.vessel, design.charge.relief_gauge_pa.value)


def _vessel_asks(
    works: float, schools: list[SchoolView], settings: dict[School, Setting], held: dict[School, Vessel]
) -> tuple[Question, ...]:
    return (
        Question(
            key="when",
            asks=say("When is the gas charge set?"),
            marks=20,
            options=(
                Option("empty", say("before filling, with nothing on the liquid side")),
                Option(
                    "full",
                    say("after filling, at the vessel's valve"),
                    say("On a full loop the gauge at the valve reads the loop, not the gas"),
                ),
                Option(
                    "works",
                    say("not at all: it comes set from the works"),
                    say(
                        "It came with {w}; works settings differ by kind and know nothing of this house",
                        w=Quantity(works, "pressure"),
                    ),
                ),
            ),
            answer=("empty",),
            hint=say("What would the gauge at the valve read if liquid stood behind the membrane?"),
            why=say("Gas and liquid push on one membrane: with liquid behind it both have one pressure."),
        ),
        Question(
            key="school",
            asks=say("By which rule do you charge it? Each is kept by somebody; you are judged by yours."),
            marks=0,
            options=tuple(Option(one.school, say(NAMED[one.school])) for one in schools),
            hint=say("The house rule keeps the charge under the fill: the gap holds the reserve."),
            why=say(
                "Below the fill keeps liquid in reserve; that is the house rule, the others have their reasons."
            ),
        ),
        *_vessel_numbers(settings, held),
    )  # fmt: skip


def _vessel_numbers(settings: dict[School, Setting], held: dict[School, Vessel]) -> tuple[Question, ...]:
    return (
        Question(
            key="charge",
            asks=say("Gas charge with the liquid side empty"),
            marks=30,
            dimension="pressure",
            decimals=2,
            follows="school",
            by={
                key: Range(one.precharge - READ_PA, one.precharge + READ_PA, one.precharge)
                for key, one in settings.items()
            },
            hint=say("Begin with the column: about 0.1 bar for each metre, then what the rule adds."),
            why=say("The column of this mix over this height, and what the rule puts on top of it."),
        ),
        Question(
            key="fill",
            asks=say("Cold fill pressure"),
            marks=25,
            dimension="pressure",
            decimals=2,
            follows="school",
            by={key: Range(one.fill - READ_PA, one.fill + READ_PA, one.fill) for key, one in settings.items()},
            hint=say("Is the fill over, at or under the charge by your rule, and by how much?"),
            why=say("It follows from the charge by the same rule."),
        ),
        Question(
            key="tenth",
            asks=say("Litres that move the gauge by a tenth of a bar over the fill"),
            marks=25,
            dimension="volume",
            decimals=2,
            follows="school",
            by={
                key: around(held[key].litres(one.fill, one.fill + TENTH_PA), 0.25, 0.02 * LITRE)
                for key, one in settings.items()
            },
            hint=say("Gas obeys pressure times volume, both absolute: what is its volume at the fill?"),
            why=say(
                "The gas gives way by its volume over its absolute pressure; water and pipe give next to nothing."
            ),
        ),
    )  # fmt: skip


def loop_test(ground: Ground) -> Sheet:
    """Flush, test with water or with air in frost, judge it, release."""
    charge, design = ground.sealed, ground.design
    dice = ground.dice("test")
    frost, weeps = bool(dice.random() < 0.6), bool(dice.random() < 0.5)
    # in warm weather with water, whatever the plan is tested with: the task decides
    air = frost
    most = _most(design, air=air)
    due, read, warmed, verdict = _held(charge, dice, most, air=air, weeps=weeps)
    energy = air_energy(pressure_abs=most + ATMOSPHERE_PA, volume=charge.contents.total, atmosphere_pa=ATMOSPHERE_PA)
    return Sheet(
        lead=say(
            "The loop is soldered. {n} The loop is cool and covered. Flush it, test it, empty it.",
            n="Tonight it freezes, and the fluid comes in three days."
            if frost
            else "No frost is near, the fluid is on the van.",
        ),
        given=(
            ("the loop holds", Quantity(charge.contents.total, "volume")),
            ("relief valve", Quantity(design.charge.relief_gauge_pa.value, "pressure")),
            ("weakest part in the test", Quantity(weakest_tested(design), "pressure")),
            (
                "read at the start",
                say("{p} at {t}", p=Quantity(most, "pressure", 2), t=Quantity(HOLD_START_C, "temperature_fine")),
            ),
            (
                "read after 20 min",
                say("{p} at {t}", p=Quantity(read, "pressure", 2), t=Quantity(warmed, "temperature_fine")),
            ),
        ),
        shown=loop_column(ground),
        questions=(
            _medium(frost=frost),
            _highest(most),
            _handles(),
            _verdict(verdict, due),
            _energy(energy),
            _release(),
        ),
        master=say(
            "Drain open before the supply, vessel shut off, soap first at low pressure, nobody near while it stands high, released from the supply's side."
        ),
        slips=(
            Slip(
                "water left before frost" if frost else "compressed gas without need",
                {"medium": "water" if frost else "air_high"},
                "medium",
            ),
            Slip("vessel left in the test", {"handles": ("supply", "outlet", "vessel", "hold")}, "handles"),
            Slip(
                "fall by cold taken for a leak, or a leak for cold",
                {"verdict": "pass" if verdict == "leak" else "leak"},
                "verdict",
            ),
        ),
    )


def _held(
    charge: SealedCharge, dice: np.random.Generator, most: float, *, air: bool, weeps: bool
) -> tuple[float, float, float, str]:
    """What was due and what was read after the hold [Pa], how warm it was then [°C], and what that says."""
    cooled = float(dice.integers(2, 5)) if air else 0.1 * float(dice.integers(1, 4))
    warmth = HOLD_START_C - cooled
    if air:
        due = air_expected(p1=most, t1=HOLD_START_C, t2=warmth, atmosphere_pa=ATMOSPHERE_PA)
        read = round((due - (FALL_PA if weeps else 1e3)) / 1e3) * 1e3
        told = air_verdict(p1=most, p2=read, t1=HOLD_START_C, t2=warmth, atmosphere_pa=ATMOSPHERE_PA)
        return due, read, warmth, told.verdict
    kelvin = water_per_kelvin(stiffness=charge.stiffness)
    due = most - kelvin * cooled
    read = round((due - (WATER_FALL_PA if weeps else 2e3)) / 1e3) * 1e3
    told = water_verdict(p1=most, p2=read, t1=HOLD_START_C, t2=warmth, per_kelvin=kelvin)
    return due, read, warmth, told.verdict


def _most(design: Design, *, air: bool) -> float:
    """The highest pressure of a test with water or air [Pa gauge]."""
    return highest_test(
        weakest_part=weakest_tested(design),
        relief=design.charge.relief_gauge_pa.value,
        relief_connected=design.commission.relief_stays.value,
        air=air,
    )


def _medium(*, frost: bool) -> Question:
    frozen = say("What cannot be drained stays in the plates: a header splits, and what is left thins the mix")
    risky = say("Gas stores a bang; where water can be used it is safer, and a leak is a spoonful")
    return Question(
        key="medium",
        asks=say("What is the loop tested with?"),
        marks=20,
        options=(
            Option("water", say("water from the main"), frozen if frost else None),
            Option("air", say("air: soap at little pressure first, then in steps"), None if frost else risky),
            Option(
                "air_high",
                say("air, at once to the highest pressure"),
                say("A joint that fails then throws its pieces"),
            ),
        ),
        answer=("air",) if frost else ("water",),
        grave=frozenset({"air_high"}),
        hint=say("What happens tonight to what cannot be drained?"),
        why=say("Water in warm weather; air in frost, with its danger said: no water stays where it freezes."),
    )


def _highest(most: float) -> Question:
    return Question(
        key="highest",
        asks=say("Highest pressure of this test"),
        marks=15,
        dimension="pressure",
        decimals=2,
        right=Range(most - 15e3, most + 5e3, most),
        hint=say("Whichever is least: the weakest part, nine tenths of a relief that stays on, five bar with air."),
        why=say("The least of what the parts stand, nine tenths of a connected relief, and with air five bar."),
    )


def _handles() -> Question:
    return Question(
        key="handles",
        asks=say("In what order are flushing and test begun?"),
        marks=20,
        options=(
            Option("supply", say("open the supply")),
            Option("outlet", say("open the drain")),
            Option("vessel", say("shut off the vessel")),
            Option("hold", say("shut the drain, then at once the supply, and watch the gauge")),
        ),
        answer=("vessel", "outlet", "supply", "hold"),
        pairs=(
            Pair("outlet", "supply", say("The supply came before the drain: the main stood up against a shut loop")),
            Pair(
                "vessel",
                "hold",
                say("The vessel was in the test: a leak was hidden behind its gas, and it stood the test pressure"),
            ),
            Pair("supply", "hold", say("Nothing had been flushed: flux and chips stayed in")),
        ),
        hint=say("Where does the pressure go while the supply is opened?"),
        why=say("The way out is open before anything is let in; the vessel's gas would hide a leak."),
    )


def _verdict(verdict: str, due: float) -> Question:
    words = {
        "pass": "tight: it fell with the cold",
        "leak": "it leaks: more than the cold explains",
        "repeat": "nothing: it became too warm or too cold",
    }
    return Question(
        key="verdict",
        asks=say("What does the reading after 20 minutes say?"),
        marks=20,
        options=tuple(
            Option(key, say(text), say("At that warmth {d} were due", d=Quantity(due, "pressure", 2)))
            for key, text in words.items()
        ),
        answer=(verdict,),
        hint=say("Gas falls by one part in 285 for a degree; shut-in water by more than a bar."),
        why=say("At the warmth read {d} were due; a gauge tells {s} and less apart.", d=Quantity(due, "pressure", 2), s=Quantity(5e3, "pressure", 2)),
    )  # fmt: skip


def _energy(energy: float) -> Question:
    return Question(
        key="energy",
        asks=say("Were it air at that pressure: who stands where?"),
        marks=10,
        options=(
            Option("away", say("nobody near: it holds {e}", e=Quantity(energy, "work"))),
            Option(
                "listen",
                say("one at each joint, an ear close to it"),
                say("It holds {e}: a joint that lets go is a shot", e=Quantity(energy, "work")),
            ),
        ),
        answer=("away",),
        grave=frozenset({"listen"}),
        hint=say("What does compressed gas do that water does not when something gives way?"),
        why=say("Soap is looked at at {p}; at strength nobody is near.", p=Quantity(SOAP_AIR_PA, "pressure", 1)),
    )


def _release() -> Question:
    return Question(
        key="release",
        asks=say("The test is over. In what order is it let out?"),
        marks=15,
        options=(
            Option("off", say("supply shut and off, its hose bled")),
            Option("up", say("upper port open")),
            Option("down", say("lower port open, litres caught and measured")),
            Option("top", say("highest point opened")),
        ),
        answer=("off", "up", "down", "top"),
        pairs=(
            Pair("off", "up", say("The port was opened with the supply still on: it came through the loop")),
            Pair(
                "up", "down", say("The lower port first pulls a vacuum on the upper side, and the column stays hanging")
            ),
            Pair("down", "top", say("The top was opened under pressure: it sprays on the roof")),
        ),
        hint=say("What could still push, and what has to follow what runs out?"),
        why=say("Nothing pushes any more; then ports from above; the top last, so that air follows."),
    )


def weeks(ground: Ground) -> Sheet:
    """Find the leak or the air from weeks of gauge readings."""
    charge = ground.sealed
    dice = ground.dice("weeks")
    leak = bool(dice.random() < 0.5)
    reads = _reads(ground, charge, dice, leak=leak)
    told = gauge_series(ground.design, ground.result, reads)
    if told is None or told.course not in ("leak", "slows"):
        raise ImpossibleInputError("this loop is too stiff or too soft for a course to be told by its gauge")
    month = told.month if told.course == "leak" else told.missing
    low, high = (told.month_low, told.month_high) if told.course == "leak" else (0.75 * month, 1.25 * month)
    right = Range(min(low, 0.75 * month), max(high, 1.25 * month), month)
    return Sheet(
        lead=say("Every few mornings before sunrise somebody has read the gauge of this loop. What goes on in it?"),
        given=(
            ("filled to", Quantity(told.fill, "pressure", 2)),
            ("kept for the coldest night", Quantity(told.kept, "volume", 1)),
            ("the vessel holds", Quantity(charge.vessel, "tank")),
            ("gas charge", Quantity(0.0 if charge.setting is None else charge.setting.precharge, "pressure", 2)),
        ),
        shown=Plot(
            across=("count", "days since the fill"),
            up=("pressure", "at the gauge, brought to the fill's warmth"),
            lines=(
                Line("as read", _points(told), "dots"),
                Line("as filled", ((0.0, told.fill), (_days(told), told.fill)), "dashed"),
                Line("least", ((0.0, told.least), (_days(told), told.least)), "solid"),
            ),
            level=False,
        ),
        questions=(_course(told), _lost(told, right), _next(told)),
        master=say(
            "Puts every reading to one warmth, draws the line, looks at its shape and not at one morning. {w}",
            w=series_words(told).text(),
        ),
        slips=(
            Slip("one morning taken for the course", {"course": "steady"}, "course"),
            Slip("refilled and forgotten", {"course": told.course, "next": "refill"}, "next"),
        ),
    )


def _reads(ground: Ground, charge: SealedCharge, dice: np.random.Generator, *, leak: bool) -> list[GaugeRead]:
    """Readings of a loop that leaks, or gives up the air it was filled with."""
    held = vessel_of(ground.design, ground.result.run, charge)
    found, kept = [], max(charge.states["cold"].liquid, 0.0)
    for n in range(0, WEEKS * 7, EVERY_DAYS):
        day = FIRST_DAY + n * ONE_DAY
        warm = 8.0 + float(dice.normal(0.0, 3.0))
        full = gauge_with(ground.design, ground.result.run, charge, warm, warm)
        lost = LOST * kept * (n / (WEEKS * 7) if leak else 1.0 - float(np.exp(-n / AIR_DAYS)))
        after = None if full is None else held.gauge_after(full, lost)
        if after is None:
            break
        found.append(GaugeRead(day, round(after / 2e3) * 2e3, at_c=warm))
    return found


def _points(told: GaugeSeries) -> tuple[tuple[float, float], ...]:
    first = told.points[0].read.day
    return tuple((float((point.read.day - first).days), point.cold) for point in told.points)


def _days(told: GaugeSeries) -> float:
    return float((told.points[-1].read.day - told.points[0].read.day).days)


def _course(told: GaugeSeries) -> Question:
    return Question(
        key="course",
        asks=say("What does the course say?"),
        marks=40,
        options=(
            Option(
                "leak",
                say("a leak: it goes on as it began"),
                say("It falls fast first and then hardly: that is air coming out"),
            ),
            Option(
                "slows",
                say("air: fast at first, then slower"),
                say("It falls alike all the time: air would have slowed down"),
            ),
            Option("steady", say("nothing: the needle trembles"), say("It falls by more than a needle trembles")),
        ),
        answer=(told.course,),
        hint=say("Lay a ruler on the first half, then on the second."),
        why=say("Air comes out over days and stops; a leak repeats itself."),
    )


def _lost(told: GaugeSeries, right: Range) -> Question:
    asks = "Litres lost in thirty days" if told.course == "leak" else "Litres that are missing now"
    return Question(
        key="lost",
        asks=say(asks),
        marks=30,
        dimension="volume",
        decimals=1,
        right=right,
        hint=say("Bars fallen, times the litres that this vessel gives for each tenth."),
        why=say("From bars to litres by the vessel's own gas, not by eye."),
    )


def _next(told: GaugeSeries) -> Question:
    leak = told.course == "leak"
    wasted = "The course tells already that it will stop: a search finds nothing" if not leak else ""
    return Question(
        key="next",
        asks=say("What is done?"),
        marks=30,
        options=(
            Option(
                "search", say("look for the place: joints, relief, coil, then refill"), say(wasted) if wasted else None
            ),
            Option(
                "bleed",
                say("bleed it, refill, read on"),
                say("The leak goes on: it is dry on top by the date the line meets its limit") if leak else None,
            ),
            Option(
                "refill",
                say("refill with water each time it is low"),
                say("Each litre of water thins the mix, and nobody finds out why it falls"),
            ),
        ),
        answer=("search",) if leak else ("bleed",),
        hint=say("Will it stop by itself?"),
        why=say("A leak is found before it is fed; air is let out, and what it stood for is filled up."),
    )
