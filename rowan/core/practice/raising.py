"""Raise a purged loop, hold it, open the vessel, set the pressure and leave it: what a run was worth, and what came after it.

What follows in the first hot standstill and the coldest night is reckoned from the loop as it was left. Source: site, valves 9 to 12 and
mistakes; practice 10 and 14.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from rowan.core.fluid import FILL_C
from rowan.core.practice import rig as rigs
from rowan.core.practice.filling import Debrief, Hand, Moment, Run, marked_by_part
from rowan.core.practice.rig import Course, Ready, Track, Turn
from rowan.core.practice.rig_kernel import Rig, column_of
from rowan.core.practice.sheets.ground import Ground
from rowan.core.records.care.gauge_series import MONTH_DAYS
from rowan.core.steps.charge.gauge_findings import FoundLine, GaugeRead, found_lines, found_of
from rowan.core.steps.commission.constants import mix_expansion
from rowan.core.steps.commission.pressure_test import water_per_kelvin
from rowan.core.steps.commission.sealed import HOLD_S
from rowan.core.terms.calendar import DAY_S
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.stretches import stretches

MARKS = {"hold": 25.0, "order": 20.0, "pressure": 25.0, "left": 15.0, "after": 15.0}
PARTS = {
    "hold": "Held before the vessel",
    "order": "Order of the valves",
    "pressure": "Set to the fill",
    "left": "Left as it works",
    "after": "The first hot day, the first cold night",
}
OVER_STATIC_PA = 0.3e5  # that a loop is raised over its column at least for it; site, valves 9
UNDER_PA, OVER_PA, NONE_PA = 4e3, 5e3, 60e3  # about the fill that is as good, and off which nothing is worth
LEFT = {
    "fill": "shut",
    "drain": "shut",
    "vent": "shut",
    "check": "working",
    "drill": "off",
    "vessel": "open",
    "between": "open",
    "cover": "on",
}
EACH_LEFT, EACH_AFTER = 4.0, 8.0  # marks
GAUGES_PA = (-10e3, -5e3, 0.0, 5e3, 10e3)  # what a gauge may show too much; site: one gauge, its error noted
WEEPS, OFTEN = 8e-12, 0.5  # m³/(s·√Pa), some drops in a minute; how often a rig has such a joint
FELL_PA = 0.1e5  # over a minute of holding, from which a master looks for the place
MONTH_S = MONTH_DAYS * DAY_S
REACHES_PA = 0.1e5  # that a drill has to reach over the fill for this way; else it is charged in two stages


# the order of it in words, for whoever asks. Source: site, valves 9 to 12
HINTS = (
    "Read the gauge before anything is turned, beside what the column should weigh: what it shows too much it goes on showing.",
    "Raise with the vessel shut; the fill is shut before the drill stops.",
    "Hold and watch the needle. If it falls, soap and dry paper find the joint: a quarter turn, and the hold begins anew.",
    "Then the vessel is opened, and raised a little over the fill; down at the drain, only cracked.",
    "Left with vessel and the valve between open, the rest shut, the field covered while nothing takes its heat.",
)


def checked(ground: Ground) -> None:
    """Raises ImpossibleInputError where this plan's drill does not reach its fill: such a loop is charged in two stages."""
    charge = ground.sealed
    if charge.setting is not None and ground.design.charge.filling_gauge_pa.value < charge.setting.fill + REACHES_PA:
        raise ImpossibleInputError(
            "the filling pump of this plan does not reach its fill: that loop is charged in two stages"
        )


def with_chance(rig: Rig, seed: int) -> Rig:
    """The rig with a joint that weeps or without, and with a gauge that shows a little too much or too little: nobody is told."""
    dice = np.random.default_rng([seed, *b"joint"])
    weeps = bool(dice.random() < OFTEN)
    return rig._replace(leak=WEEPS if weeps else 0.0, error=float(dice.choice(GAUGES_PA)))


def fill_of(ground: Ground) -> float:
    """What the gauge is to read at the end [Pa]."""
    charge = ground.sealed
    return 0.0 if charge.setting is None else charge.setting.fill


def judge(rig: Rig, track: Track, ground: Ground) -> Debrief:
    """What a run that has ended was worth."""
    run = Run(track)
    moments = [
        *_hold(rig, run),
        *_order(run),
        *_pressure(run, fill_of(ground), rig.error),
        *_left(run),
        *_after(run, after(track, ground, leak=rig.leak)),
    ]
    return marked_by_part(MARKS, moments)


def _hold(rig: Rig, run: Run) -> Iterator[Moment]:
    """Ten minutes over the column with everything shut, before the vessel is opened."""
    first = run.first(run.is_at("vessel", "open"))
    ends = run.count if first is None else first
    # the loop is full: its column is what it is at the end
    high = run.column(rigs.GAUGE) >= column_of(rig, run.track.ends.liquid) + OVER_STATIC_PA
    held = run.is_at("fill", "shut") & run.is_at("drain", "shut") & run.is_at("vessel", "shut") & high
    tight = run.is_at("joint", "tightened")
    if rig.leak > 0.0:
        held &= tight  # what was held before it was found tells nothing of it
        if not tight[-1]:
            words = say(
                "The gauge fell while it was held: a joint weeps. Soap or dry paper finds it, a quarter turn ends it"
            )
            yield Moment(ends - 1, "hold", "fix", words, MARKS["hold"])
            return
    elif tight.any():
        words = say("A tight joint was turned further: force cuts its ring. The gauge had not fallen")
        yield Moment(int(np.flatnonzero(tight)[0]), "hold", "mind", words, 6.0)
    longest = max((b - a + 1 for a, b in stretches(held[:ends])), default=0)
    if longest < HOLD_S:
        words = say(
            "Held {t} with everything shut before the vessel was opened; ten minutes tell a joint that weeps, and the vessel hides it",
            t=Quantity(float(longest), "time"),
        )
        yield Moment(ends - 1, "hold", "fix", words, round(MARKS["hold"] * (1.0 - longest / HOLD_S), 1))


def _order(run: Run) -> Iterator[Moment]:
    stopped = run.stopped_open()
    if stopped:
        words = say("The drill was stopped with the fill open: what was raised ran back into the tub")
        yield Moment(stopped[0], "order", "fix", words, min(8.0 * len(stopped), 12.0))
    opened = run.first(run.is_at("drain", "open"))
    if opened is not None:
        words = say(
            "The drain was opened wide: a litre comes a second, and the gauge falls past where it should stop. Crack it"
        )
        yield Moment(opened, "order", "mind", words, 6.0)
    canned = run.first(run.column(rigs.CAN) > 0.0)
    if canned is not None:
        words = say("The relief opened: {v} are in the can", v=Quantity(float(run.column(rigs.CAN)[-1]), "volume", 2))
        yield Moment(canned, "order", "fix", words, 10.0)
    vented = run.first(run.column(rigs.VENTED) > 0.0)
    if vented is not None:
        words = say(
            "The roof vent was opened under pressure: {v} went over the roof",
            v=Quantity(float(run.column(rigs.VENTED)[-1]), "volume", 2),
        )
        yield Moment(vented, "order", "fix", words, 10.0)


def _pressure(run: Run, fill: float, error: float) -> Iterator[Moment]:
    last = float(run.column(rigs.GAUGE)[-1])
    off = max(last - fill - OVER_PA, fill - UNDER_PA - last, 0.0)
    if off > 0.0:
        words = say("{p} at the end, {f} is the fill", p=Quantity(last, "pressure"), f=Quantity(fill, "pressure"))
        if error and abs(last + error - fill) <= OVER_PA:
            words = say(
                "{p} at the end, {f} is the fill: set by a gauge that shows {e} wrong, as it did on the standing column",
                p=Quantity(last, "pressure"),
                f=Quantity(fill, "pressure"),
                e=Quantity(abs(error), "pressure"),
            )
        marks = round(MARKS["pressure"] * min(0.3 + 0.7 * off / NONE_PA, 1.0), 1)
        yield Moment(run.count - 1, "pressure", "fix", words, marks)


def _left(run: Run) -> Iterator[Moment]:
    wrong = [name for name, position in LEFT.items() if not run.is_at(name, position)[-1]]
    said = {
        "between": "the valve between the ports shut: the pump hums, and the field boils on the first day",
        "vessel": "the vessel shut",
        "check": "the non-return half open: heat goes out over the roof at night",
        "cover": "the field uncovered and full, with nothing that takes its heat: it stands and boils",
        "vent": "the roof vent open: the first steam empties the top",
    }
    if wrong:
        words = say("Left with {states}", states="; ".join(said.get(name, f"the {name} not at rest") for name in wrong))
        yield Moment(run.count - 1, "left", "fix", words, min(EACH_LEFT * len(wrong), MARKS["left"]))


def _after(run: Run, lines: tuple[FoundLine, ...]) -> Iterator[Moment]:
    for line in lines:
        if line.level in ("stop", "fix"):
            yield Moment(
                run.count - 1,
                "after",
                "fix",
                say("Afterwards: {what}", what=line.what),
                EACH_AFTER,
            )


def after(track: Track, ground: Ground, *, leak: float = 0.0) -> tuple[FoundLine, ...]:
    """What comes of the loop as it was left: its charge and litres, the coldest night, the next hot standstill; a joint that weeps."""
    found = _as_left(track, ground)
    if leak <= 0.0 or track.handles[-1][rigs.NAMES.index("joint")] > 0.0:
        return found
    month = leak * math.sqrt(max(fill_of(ground), 0.0)) * MONTH_S
    return (
        *found,
        FoundLine(
            "fix",
            say("A joint weeps: {v} in a month, and air comes in where it went out.", v=Quantity(month, "volume", 1)),
        ),
    )


def _as_left(track: Track, ground: Ground) -> tuple[FoundLine, ...]:
    charge, design = ground.sealed, ground.design
    last, vessel_open = float(track.column(rigs.GAUGE)[-1]), bool(track.handles[-1][rigs.NAMES.index("vessel")])
    if not vessel_open:
        kelvin = water_per_kelvin(stiffness=charge.stiffness, expansion=mix_expansion(volume_share=design.glycol_share))
        relief = design.charge.relief_gauge_pa.value
        return (
            FoundLine(
                "stop",
                say(
                    "With the vessel shut each degree lifts the gauge by {p}: {k} warmer and the relief opens; what it lets out is missing in the first cold night, and the top draws air.",
                    p=Quantity(kelvin, "pressure", 1),
                    k=Quantity(max(relief - last, 0.0) / kelvin, "difference"),
                ),
            ),
        )
    planned = charge.setting
    found, told = found_of(design, ground.result.run, charge, GaugeRead(cold=last, cold_at=FILL_C))
    return found_lines(found, planned_charge=0.0 if planned is None else planned.precharge, told_by_pair=told)


def showed(track: Track) -> dict[str, float]:
    """What a learner says before: the gauge once it is raised with the vessel shut [Pa], litres that the vessel took at the end [m³]."""
    handles, gauge = track.handles, track.column(rigs.GAUGE)
    shut = handles[:, rigs.NAMES.index("vessel")] == rigs.POSITIONS["shut"]
    found = {"vessel_end": float(track.column(rigs.VESSEL_HAS)[-1])}
    return found | ({"raised": float(gauge[shut].max())} if shut.any() else {})


def master(rig: Rig, ready: Ready, fill: float) -> list[Turn]:
    """A master's run, by the gauge alone, less what it showed wrong on the standing column at the start."""
    hand = Hand(Course(rig, ready))
    hand.does(drill="on", fill="open")
    hand.course.go_on(20)
    hand.does(fill="shut")
    hand.does(drill="off")
    hand.course.go_on(5)
    before = hand.gauge
    hand.course.go_on(60)
    if before - hand.gauge > FELL_PA:
        hand.does(joint="tightened", drill="on", fill="open")
        hand.course.go_on(20)
        hand.does(fill="shut")
        hand.does(drill="off")
    hand.course.go_on(int(HOLD_S) + 5)
    hand.does(vessel="open")
    hand.course.go_on(10)
    hand.does(drill="on", fill="open")
    # over the fill by a tenth, then the fill is shut under the drill
    while hand.gauge < fill + REACHES_PA / 2 and hand.course.second < 2 * HOLD_S:
        hand.course.go_on(1)
    hand.does(fill="shut")
    hand.does(drill="off")
    hand.course.go_on(5)
    while hand.gauge > fill + OVER_PA / 2 and hand.course.second < 3 * HOLD_S:
        hand.does(drain="half")
        hand.course.go_on(1)
        hand.does(drain="shut")
        hand.course.go_on(1)
    hand.does(between="open")
    hand.course.go_on(5)
    return hand.turns
