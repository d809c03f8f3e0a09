"""Fill and purge with a drill pump: what a run was worth, with the moment at which each mark was lost, and how a master does it.

Source: site, valves B and mistakes; practice 14.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from rowan.core.fluid import MOST_SHARE, frost_point
from rowan.core.practice import rig as rigs
from rowan.core.practice.rig import NAMES, Course, Ready, Track, Turn
from rowan.core.practice.rig_kernel import FLOWS_M3_S, Rig
from rowan.core.steps.charge.gauge_findings import FoundLine
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.record import record
from rowan.core.terms.stretches import stretches
from rowan.core.terms.units import LITRE

Array = NDArray[np.float64]
# marks of each part of it; together a hundred
MARKS = {"order": 30.0, "air": 30.0, "tub": 15.0, "mix": 15.0, "drill": 10.0}
PARTS = {
    "order": "Order of the valves",
    "air": "Air out",
    "tub": "Tub never dry",
    "mix": "Mix kept",
    "drill": "Drill spared",
}
FULL_AIR_M3 = 2.0 * LITRE  # left in the loop, from which a learner would call it full
CLEAR_S = 300.0  # without a bubble; site, valves 8
BUBBLE_M3_S = 2e-9  # under which nobody sees one
LITTLE_AIR, MUCH_AIR = 0.03 * LITRE, 0.5 * LITRE  # left at the end: full marks, none
LOSES_FLOW_M3 = (
    0.15 * LITRE
)  # of air on top, from which a pump loses its flow; about what a header holds, rule of thumb
SPILLED_M3 = 0.3 * LITRE  # at the vent, until somebody must have heard it
DRILL_S, REST_S = (
    330.0,
    120.0,
)  # that a drill runs at most, and rests then; its maker's duty of five minutes on, two off
SHORT_S = 45.0  # for which the valve between may stand cracked
THIN, BY_SHARE = 0.015, 0.03  # of the share wanted that is forgiven, and what each further mark of three stands for
LEFT = {
    "fill": "shut",
    "drain": "shut",
    "vent": "shut",
    "check": "working",
    "drill": "off",
    "vessel": "shut",
    "between": "shut",
    "cover": "on",
}
MASTER_S = 50 * 60  # after which even a master would look for another reason
BURPS = 4  # of burp and rest; site, valves 8: four or five, till the foam is a thin skin
FULL_COLOUR = 0.97  # of the mix's strength, at which the hose goes over to tub 1
RESTS_AFTER_S = 240  # of drilling, which leaves time for burp and corners within its five minutes


# the order of it in words, for whoever asks: no number stands in it. Source: site, valves B 6 to 9
HINTS = (
    "The field is covered, the vessel shut, the vent on top open, the return hose in tub 2.",
    "The way out is open before anything is pushed in: drain, then drill, then fill.",
    "The vent is shut when liquid comes; the hose goes over to tub 1 when the colour is full.",
    "Burps: the drain shut until the gauge has leapt, then open at once. Corners: check half for some seconds, the valve between cracked for half a minute.",
    "The fill is shut before the drill stops; a drill rests.",
    "Minutes without a bubble, then drain, fill, drill, in that order, and everything at rest.",
)


@record
class Moment:
    """Something that cost marks: when [s], in which part, how grave, what happened and why it costs, how much."""

    at: int
    part: str
    level: Level
    words: Statement
    marks: float


@record
class Debrief:
    """What a run was worth: marks by part, and the moments that cost them, in the order of what they cost."""

    marks: dict[str, float]
    moments: tuple[Moment, ...]

    @property
    def total(self) -> float:
        """All marks, of a hundred."""
        return sum(self.marks.values())


class Run:
    """A track as it is asked about."""

    def __init__(self, track: Track) -> None:
        self.track, self.count = track, len(track.rows)

    def is_at(self, handle: str, *positions: str) -> NDArray[np.bool_]:
        """Seconds in which a handle stood so."""
        found = self.track.handles[:, NAMES.index(handle)]
        return np.isin(found, [rigs.POSITIONS[position] for position in positions])

    def column(self, number: int) -> Array:
        """A column of the track."""
        return self.track.column(number)

    def stopped_open(self) -> list[int]:
        """Seconds at which the drill was stopped with the fill open."""
        on, open_ = self.is_at("drill", "on"), self.is_at("fill", "open")
        return [int(n) + 1 for n in np.flatnonzero(on[:-1] & ~on[1:] & open_[1:])]

    def first(self, of: NDArray[np.bool_]) -> int | None:
        """The first second that holds."""
        found = np.flatnonzero(of)
        return int(found[0]) if len(found) else None


def judge(rig: Rig, track: Track, *, wanted: float) -> Debrief:
    """What a run that has ended was worth; `wanted` is the share of glycol that the plan asks for [-]."""
    run = Run(track)
    moments = [*_order(run), *_air(run), *_tub(run), *_mix(run, wanted), *_drill(run)]
    return marked_by_part(MARKS, moments)


def marked_by_part(most: dict[str, float], moments: list[Moment]) -> Debrief:
    """Marks by part, less what its moments cost; the moments by what they cost."""
    marks = {
        part: max(whole - sum(one.marks for one in moments if one.part == part), 0.0) for part, whole in most.items()
    }
    return Debrief(marks, tuple(sorted(moments, key=lambda one: -one.marks)))


def _order(run: Run) -> Iterator[Moment]:
    fed = run.is_at("drill", "on") & run.is_at("fill", "open")
    shut = ~run.is_at("drain", "open", "half") & fed
    raised = run.first(shut & run.is_at("vessel", "open") & (run.column(rigs.VESSEL_HAS) > 0.05 * LITRE))
    if raised is not None:
        words = say("The vessel was still open: the pulse went into it, and no bubble was shaken loose")
        yield Moment(raised, "order", "fix", words, 16.0)
    first = run.first(fed)
    if first is not None and shut[first] and not run.is_at("vent", "open")[first]:
        words = say("The fill was opened before the drain: the pump came up against a shut loop")
        yield Moment(first, "order", "fix", words, 8.0)
    stopped = run.stopped_open()
    if stopped:
        words = say("The drill was stopped with the fill open: the column ran back into the tub, air came after it")
        yield Moment(stopped[0], "order", "fix", words, min(6.0 * len(stopped), 12.0))
    spilled = run.first(run.column(rigs.SPILLED) > SPILLED_M3)
    if spilled is not None:
        words = say(
            "Liquid stood at the vent and it was left open: {v} went over the roof",
            v=Quantity(float(run.column(rigs.SPILLED)[-1]), "volume", 1),
        )
        yield Moment(spilled, "order", "mind", words, 6.0)
    for begins, ends in stretches(fed & run.is_at("between", "open", "half") & ~shut):
        if ends - begins > SHORT_S:
            words = say("The valve between the ports stood open: what was pushed in took the short way to the drain")
            yield Moment(begins, "order", "fix", words, 8.0)
            break
    yield from _scalded(run)
    wrong = [name for name, position in LEFT.items() if not run.is_at(name, position)[-1]]
    if wrong:
        words = say("Left otherwise than for the rest: {parts}", parts=f"{', '.join(wrong)}")
        yield Moment(run.count - 1, "order", "mind", words, min(3.0 * len(wrong), 9.0))


def _scalded(run: Run) -> Iterator[Moment]:
    """Liquid let into a field that stands hot."""
    steams = run.first(run.column(rigs.STEAMS) > 0.0)
    if steams is not None:
        words = say(
            "Mix came into a field at {t}: {m} of steam at hose and vent. It scalds, and the tub boils over: cover it, or wait for the evening",
            t=Quantity(float(run.column(rigs.FIELD_C)[max(steams - 1, 0)]), "temperature"),
            m=Quantity(float(run.column(rigs.STEAM_KG)[-1]), "mass", 2),
        )
        yield Moment(steams, "order", "stop", words, 18.0)


def after(track: Track, *, coldest: float) -> tuple[FoundLine, ...]:
    """What comes of a loop as it was filled: the coldest night [°C] on its mix, the first warm day on its air."""
    rows = track.rows
    share, air = float(rows[-1, rigs.STRENGTH]), float(rows[-1, rigs.AIR])
    night = Quantity(coldest, "temperature")
    if air > FULL_AIR_M3:
        return (
            FoundLine(
                "stop",
                say(
                    "{v} of air are in it: that loop is not filled, it neither carries heat nor stands frost.",
                    v=Quantity(air, "volume", 1),
                ),
            ),
        )
    frost = frost_point(volume_share=min(share, MOST_SHARE))
    splits = frost > coldest
    words = (
        "The mix came out at {s} and freezes at {f}: on the coldest night, {t}, a header splits."
        if splits
        else "The mix came out at {s} and stands {f}; the coldest night is {t}."
    )
    found = [
        FoundLine(
            "stop" if splits else None,
            say(words, s=Quantity(share, "share"), f=Quantity(frost, "temperature"), t=night),
        )
    ]
    if air > LITTLE_AIR:
        lost = say(
            "On the first warm day {v} of air gather on top: the flow twitches, then fails.",
            v=Quantity(air, "volume", 2),
        )
        found.append(FoundLine("fix" if air > LOSES_FLOW_M3 else "mind", lost))
    return tuple(found)


def showed(track: Track) -> dict[str, float]:
    """What a learner says before: litres into tub 2 [m³], litres in tub 1 when the loop was full [m³], the mix's strength at the end [-]."""
    rows = track.rows
    found = {"old_water": float(rows[-1, rigs.TUB2]), "mix_end": float(rows[-1, rigs.STRENGTH])}
    full = np.flatnonzero((rows[:, rigs.AIR] < FULL_AIR_M3) & (rows[:, rigs.SECOND] > 0))
    return found | ({"tub_full": float(rows[full[0], rigs.TUB1])} if len(full) else {})


def clear_seconds(flow: Array, bubbles: Array) -> int:
    """The longest time without a bubble while it flowed [s]; a rest between is neither for nor against it."""
    flows = flow > FLOWS_M3_S
    seen = bubbles[flows] >= BUBBLE_M3_S
    ends = np.concatenate(([-1], np.flatnonzero(seen), [len(seen)]))
    return int(np.diff(ends).max()) - 1 if len(seen) else 0


def _air(run: Run) -> Iterator[Moment]:
    clear = clear_seconds(run.column(rigs.FLOW), run.column(rigs.BUBBLES))
    left = float(run.column(rigs.AIR)[-1])
    over = min(max((left - LITTLE_AIR) / (MUCH_AIR - LITTLE_AIR), 0.0), 1.0)
    if over > 0.0:
        words = say(
            "{v} of air stayed in the loop: it gathers on top on the first warm day", v=Quantity(left, "volume", 2)
        )
        yield Moment(run.count - 1, "air", "fix" if over > 0.2 else "mind", words, round(20.0 * over, 1))
    if clear < CLEAR_S:
        words = say("No five minutes without a bubble were seen: {t} at most", t=Quantity(float(clear), "time"))
        yield Moment(run.count - 1, "air", "fix", words, round(10.0 * (1.0 - clear / CLEAR_S), 1))


def _tub(run: Run) -> Iterator[Moment]:
    drawn = run.column(rigs.DRAWN_AIR)
    at = run.first(drawn > 0.0)
    if at is not None:
        words = say(
            "Tub 1 stood at the suction's mouth: the drill drew air, {v} in all",
            v=Quantity(float(drawn[-1]), "volume", 1),
        )
        yield Moment(at, "tub", "fix", words, min(7.0 + float(drawn[-1]) / LITRE * 4.0, MARKS["tub"]))


def _mix(run: Run, wanted: float) -> Iterator[Moment]:
    strength = float(run.column(rigs.STRENGTH)[-1])
    short = wanted - THIN * wanted - strength
    if short > 0.0:
        returned = run.first(run.is_at("hose", "tub 1") & (run.column(rigs.FLOW) > FLOWS_M3_S))
        words = say(
            "{s} of {w} at the end: old water was taken into the mix",
            s=Quantity(strength, "share_fine"),
            w=Quantity(wanted, "share_fine"),
        )
        yield Moment(
            returned or run.count - 1,
            "mix",
            "mind" if short < BY_SHARE * wanted else "fix",
            words,
            min(round(3.0 * short / (BY_SHARE * wanted) + 1.0, 1), MARKS["mix"]),
        )


def _drill(run: Run) -> Iterator[Moment]:
    on = run.is_at("drill", "on")
    # a rest shorter than two minutes is none
    for begins, ends in stretches(~on):
        if ends - begins + 1 < REST_S and begins > 0 and ends < run.count - 1:
            on[begins : ends + 1] = True
    long = [(a, b) for a, b in stretches(on) if b - a + 1 > DRILL_S]
    if long:
        words = say(
            "The drill ran {t} without a rest: five minutes on, two off, or it burns",
            t=Quantity(float(long[0][1] - long[0][0] + 1), "time"),
        )
        yield Moment(int(long[0][0] + DRILL_S), "drill", "mind", words, min(5.0 * len(long), MARKS["drill"]))


def master(rig: Rig, ready: Ready) -> list[Turn]:
    """A master's run: by what gauge, hose and tub show, never by what nobody sees."""
    hand = Hand(Course(rig, ready))
    hand.does(drain="open", vent="open", hose="tub 2", drill="on")
    hand.does(fill="open")
    rests = 0
    while hand.course.second < MASTER_S and not (rests > BURPS and hand.clear_for > CLEAR_S):
        hand.course.go_on(1)
        row = hand.course.rows[-1]
        if hand.is_at("vent", "open") and row[rigs.SPILLED] > 0.0:
            hand.does(vent="shut")
        if hand.is_at("hose", "tub 2") and row[rigs.DRAINED_STRENGTH] > FULL_COLOUR * ready.share:
            hand.does(hose="tub 1")
        if hand.on_for >= RESTS_AFTER_S and hand.is_at("hose", "tub 1"):
            hand.rests(burp=rests < BURPS, corners=rests == 0)
            rests += 1
    hand.does(drain="shut")
    hand.course.go_on(5)
    hand.does(fill="shut")
    hand.does(drill="off")
    hand.course.go_on(5)
    return hand.turns


class Hand:
    """A hand on the rig that notes what it turns."""

    def __init__(self, course: Course) -> None:
        self.course, self.turns = course, list[Turn]()
        self.began = 0

    def does(self, **positions: str) -> None:
        """Turns handles now, one after the other."""
        for handle, position in positions.items():
            self.course.turn(handle, position)
            self.turns.append(Turn(float(self.course.second), handle, position))
            if handle == "drill" and position == "on":
                self.began = self.course.second

    def is_at(self, handle: str, position: str) -> bool:
        """How a handle stands."""
        return bool(self.course.handles[NAMES.index(handle)] == rigs.POSITIONS[position])

    @property
    def gauge(self) -> float:
        """What the gauge shows [Pa]."""
        return float(self.course.rows[-1][rigs.GAUGE])

    @property
    def on_for(self) -> int:
        """How long the drill has run [s]."""
        return self.course.second - self.began if self.is_at("drill", "on") else 0

    @property
    def clear_for(self) -> int:
        """How long no bubble has come while it flowed [s]."""
        count = 0
        for row in reversed(self.course.rows):
            if row[rigs.FLOW] > FLOWS_M3_S:
                if row[rigs.BUBBLES] >= BUBBLE_M3_S:
                    break
                count += 1
        return count

    def rests(self, *, burp: bool, corners: bool) -> None:
        """The handles that free the air in corners, a burp with the drain, then the drill rests with the fill shut."""
        if corners:
            self.does(check="half")
            self.course.go_on(12)
            self.does(check="working", between="half")
            self.course.go_on(32)
            self.does(between="shut")
        if burp:
            self.does(drain="shut")
            self.course.go_on(6)
            self.does(drain="open")
            self.course.go_on(4)
        self.does(fill="shut", drill="off")
        self.course.go_on(int(REST_S))
        self.does(drill="on", fill="open")
