"""What a run at the controller was worth, what a master does, and what comes of the loop as it was left.

Source: practice 11, 12 and 14; site, mistakes; methods 7.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.changes import locate
from rowan.core.practice import cabinet as cabinets
from rowan.core.practice.cabinet import (
    AGAINST,
    ALONG,
    BRIDGED,
    DRAWN,
    HANDLES,
    MAINS,
    PAST,
    PLACES,
    UPRIGHT,
    WARMED,
    Cabinet,
    Course,
    Play,
    minutes_of,
    plastic_c,
)
from rowan.core.practice.filling import Debrief, Moment, marked_by_part
from rowan.core.practice.rig import Turn
from rowan.core.practice.rig_kernel import BOILS_C, FLOWS_M3_S
from rowan.core.simulation.cache import Kept
from rowan.core.simulation.day import AWAY_DAYS
from rowan.core.simulation.plan_day import Lens, made_ready
from rowan.core.simulation.year import MINUTE_S
from rowan.core.steps.charge.gauge_findings import FoundLine
from rowan.core.terms.calendar import DAYS, MINUTES_A_DAY
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level

MARKS = {"hung": 15.0, "probes": 15.0, "card": 20.0, "mains": 20.0, "tried": 10.0, "left": 20.0}
PARTS = {
    "hung": "Station and line hung",
    "probes": "Probes on their terminals",
    "card": "Set by the card",
    "mains": "Mains and backup",
    "tried": "Tried before it is left",
    "left": "Left as it works",
}
CALLED = {"field": "field", "foot": "store foot", "top": "store top"}
EACH_PROBE, EACH_OTHER = 8.0, 5.0  # marks
WORKS_SHARE = 0.5  # of a master's heat on a clear day, under which what was left does not work
LOST_SHARE = 0.15  # of a master's heat on the next day, from which what was left is said to bring less
HOLIDAY_DAY = 205  # of the year in the north, the end of July; half a year on in the south
PROVES = 1.0  # K by which a backup may run past its set point
_mastered = Kept(16)
HINTS = (
    "Look at what it is hung of, and which way round, before it is filled. No plastic where the sun can come.",
    "The isolator is off and locked before a hand goes near mains; that wiring is a licensed electrician's, as drawn.",
    "Three cables, nobody has marked them: put them on, warm one probe by hand, look which number moves.",
    "Every number of the card, then frost and hours; then read them again.",
    "By hand with the field covered: the float has to rise. Then automatic, then the cover off.",
    "Look at it after an hour of sun, and after sunset.",
)


def judge(cabinet: Cabinet, course: Course) -> Debrief:
    """What a run that has ended was worth."""
    return marked_by_part(
        MARKS,
        [
            *_hung(course),
            *_probes(cabinet, course),
            *_card(cabinet, course),
            *_mains(cabinet, course),
            *_tried(course),
            *_left(cabinet, course),
        ],
    )


def _seconds(course: Course, of: NDArray[np.bool_] | None = None) -> int:
    """The second at which something first was so; the last one of a run without it."""
    rows = np.flatnonzero(of) if of is not None else np.array([], dtype=int)
    at = rows[0] if len(rows) else len(course.rows) - 1
    return int(course.rows[at, cabinets.MINUTE] * MINUTE_S)


def _hung(course: Course) -> Iterator[Moment]:
    filled = course.is_at("loop", "filled")
    words: dict[str, Statement] = {
        AGAINST: say(
            "The pump was hung against its non-return: it hums, the float stays down, the field stands and boils"
        ),
        UPRIGHT: say(
            "The pump's shaft stands upright: air gathers under its rotor, after half an hour it moves nothing and runs dry"
        ),
    }
    for position, said in words.items():
        wrong = course.is_at("pump", position) & filled
        if wrong.any():
            yield Moment(_seconds(course, wrong), "hung", "fix", said, 12.0)
    if course.is_at("pump", "in its box")[-1]:
        yield Moment(_seconds(course), "hung", "fix", say("The pump is still in its box"), 12.0)
    plastic = course.is_at("tail", "plastic") & filled
    burst = course.column(cabinets.BURST) > 0
    if burst.any():
        said = say(
            "The plastic in the hot line let go at {t}, it is rated to {r}: mix and steam over roof and ladder",
            t=Quantity(float(course.column(cabinets.HIGHEST_C)[np.flatnonzero(burst)[0]]), "temperature"),
            r=Quantity(plastic_c(), "temperature"),
        )
        yield Moment(_seconds(course, burst), "hung", "stop", said, 20.0)
    elif plastic.any():
        said = say(
            "Plastic in the hot line, be it for an afternoon: it is rated to {r}, a field that stands is far over it",
            r=Quantity(plastic_c(), "temperature"),
        )
        yield Moment(_seconds(course, plastic), "hung", "stop", said, 14.0)
    if not filled[-1] and not burst.any():
        yield Moment(_seconds(course), "hung", "fix", say("The loop is not filled, or its hot line open"), 8.0)
    apart = [
        n
        for n in range(1, len(filled))
        if filled[n - 1] and not filled[n] and not burst[n] and course.stands[n]["loop"] == "dry"
    ]
    if apart:
        said = say("A filled loop was taken apart: its mix is on the floor")
        yield Moment(int(course.rows[apart[0], cabinets.MINUTE] * MINUTE_S), "hung", "mind", said, 4.0)


def _probes(cabinet: Cabinet, course: Course) -> Iterator[Moment]:
    last = course.stands[-1]
    comes = {
        "field": "what it takes for the field is the store, and the pump does not follow the sun",
        "foot": "what it takes for the foot lies elsewhere: it starts and stops at the wrong time, or cools the store",
        "top": "the store's limit watches another place, and the top may scald before it acts",
    }
    for place in PLACES:
        cable = last[place]
        if cable == "bare":
            without = (
                "nothing stops the pump when the store is full, and the top scalds"
                if place == "top"
                else "dashes, and nothing runs by it"
            )
            said = say("No probe on the {place}'s terminal: {without}", place=CALLED[place], without=without)
            yield Moment(_seconds(course), "probes", "fix", said, EACH_PROBE)
        elif cabinet.cables[cable] != place:
            real = CALLED[cabinet.cables[cable]]
            said = say(
                "On the {place}'s terminal hangs the {real}'s probe: {comes}",
                place=CALLED[place],
                real=real,
                comes=comes[place],
            )
            wrong = np.array([held[place] == cable for held in course.stands])
            yield Moment(_seconds(course, wrong), "probes", "fix", said, EACH_PROBE)


def _card(cabinet: Cabinet, course: Course) -> Iterator[Moment]:
    menu, last = course.menus[-1], course.stands[-1]
    each = MARKS["card"] / (len(cabinet.menu) + 1)
    for one in cabinet.menu:
        worth = cabinet.right[one.path].worth(menu[one.path])
        if worth >= 1.0:
            continue
        dimension = locate(cabinet.ground.design, one.path).spec.dimension
        held = cabinet.right[one.path]
        said = say(
            "{one}: left at {v}; the card says {b}, as good from {l} to {h}",
            one=one.name,
            v=Quantity(menu[one.path], dimension),
            b=Quantity(held.best, dimension),
            l=Quantity(held.low, dimension),
            h=Quantity(held.high, dimension),
        )
        level: Level = "fix" if one.path in ("store.maximum_c", "control.cut_out_c") else "mind"
        yield Moment(_seconds(course), "card", level, said, round(each * (1.0 - worth), 1))
    if last["frost"] != cabinet.frost:
        mix = "The frost function is on: the mix stands the frost, the pump would warm the roof every cold night"
        water = "The frost function is off, and this loop needs it"
        yield Moment(
            _seconds(course),
            "card",
            "mind" if cabinet.frost == "off" else "stop",
            say(mix if cabinet.frost == "off" else water),
            round(each, 1),
        )
    if cabinet.heats and last["hours"] != "as planned":
        said = say("The backup may heat all day: it has warmed the store before the sun comes")
        yield Moment(_seconds(course), "card", "mind", said, round(each, 1))


def _mains(cabinet: Cabinet, course: Course) -> Iterator[Moment]:
    worked = _worked_live(course)
    if worked is not None:
        said = say(
            "The {handle}'s terminals were worked on live: the isolator was on. Off, locked, proved dead; an electrician does it",
            handle=worked.handle,
        )
        yield Moment(int(worked.at), "mains", "stop", said, MARKS["mains"])
    last = course.stands[-1]
    if cabinet.heats:
        name = (
            next((contact.name for contact in cabinet.wiring.contacts if contact.guards), "high limit")
            if cabinet.wiring
            else "high limit"
        )
        comes: dict[str, tuple[Level, Statement, float]] = {
            BRIDGED: (
                "stop",
                say(
                    "The {name} is bridged: the day another contact sticks the store boils, and nobody sees it before",
                    name=name,
                ),
                MARKS["mains"],
            ),
            PAST: (
                "fix",
                say(
                    "The backup is wired past the controller: it heats whenever its own clock likes, and the sun finds a warm store"
                ),
                10.0,
            ),
            "bare": ("mind", say("The backup's wires hang bare: a cloudy week brings no hot water"), 8.0),
        }
        if last["backup"] in comes:
            level, said, marks = comes[last["backup"]]
            wrong = course.is_at("backup", last["backup"])
            yield Moment(
                _seconds(course, wrong) if last["backup"] != "bare" else _seconds(course), "mains", level, said, marks
            )
    if last["isolator"] != "on":
        yield Moment(_seconds(course), "mains", "fix", say("The isolator is off: nothing works"), 8.0)


def _worked_live(course: Course) -> Turn | None:
    """The first turn at the mains while the isolator was on; None where each found it off."""
    isolator = HANDLES["isolator"][0]
    for turn in course.turns:
        if turn.handle == "isolator":
            isolator = turn.position
        elif turn.handle in MAINS and isolator == "on":
            return turn
    return None


def _tried(course: Course) -> Iterator[Moment]:
    filled = course.is_at("loop", "filled")
    steams = filled & np.concatenate(([False], ~filled[:-1])) & (course.column(cabinets.FIELD_C) > BOILS_C)
    if steams.any():
        said = say(
            "It was filled while the field stood at {t}: the mix steams, strikes and scalds. Cover it, wait for the evening",
            t=Quantity(float(course.column(cabinets.FIELD_C)[np.flatnonzero(steams)[0]]), "temperature"),
        )
        yield Moment(_seconds(course, steams), "tried", "stop", said, 10.0)
    hand = course.is_at("mode", "by hand")
    if not (hand & (course.column(cabinets.FLOW) > FLOWS_M3_S)).any():
        yield Moment(
            _seconds(course),
            "tried",
            "mind",
            say("Never run by hand with the float looked at: nobody knows that it moves anything"),
            5.0,
        )
    wired = np.array([all(held[place] != "bare" for place in PLACES) for held in course.stands])
    if not (course.is_at("hand", *WARMED) & wired).any():
        yield Moment(
            _seconds(course),
            "tried",
            "mind",
            say("No probe was warmed by hand: which number is which was taken on trust"),
            5.0,
        )
    dry = course.column(cabinets.DRY_RUN) > 0
    if dry.any():
        yield Moment(
            _seconds(course, dry),
            "tried",
            "fix",
            say("The pump ran dry: its bearings are wetted by what it moves"),
            6.0,
        )


def _left(cabinet: Cabinet, course: Course) -> Iterator[Moment]:
    last = course.stands[-1]
    if last["mode"] == "by hand":
        yield Moment(
            _seconds(course),
            "left",
            "fix",
            say("Left by hand: every night the pump carries the store's heat over the roof"),
            10.0,
        )
    elif last["mode"] == "off":
        yield Moment(_seconds(course), "left", "fix", say("Left off: the field stands in the sun"), 10.0)
    if last["cover"] == "on":
        yield Moment(_seconds(course), "left", "mind", say("The field is still covered: it brings nothing"), 5.0)
        return
    brings, planned = (float(one[cabinets.COIL_J]) for one in _clear_day(cabinet, course))
    if brings < WORKS_SHARE * planned:
        said = say(
            "As it was left, a clear day brings {h}; set as planned it brings {p}",
            h=Quantity(brings, "energy", 2),
            p=Quantity(planned, "energy", 2),
        )
        yield Moment(_seconds(course), "left", "fix", said, 15.0)


def _clear_day(cabinet: Cabinet, course: Course) -> tuple[cabinets.Array, cabinets.Array]:
    """The last row of a clear day with the loop as it was left, and of one as a master leaves it."""
    clear = Lens("clear", cabinet.ready.days.start)
    own, usual = (_left_so(cabinet, one, clear, 1).rows[-1] for one in (course, mastered(cabinet)))
    return own, usual


def _left_so(cabinet: Cabinet, course: Course, lens: Lens, days: int) -> Course:
    """The loop as it was left through days of another kind, from a midnight on."""
    design = cabinet.ground.design
    run = Play(cabinet, made_ready(design, cabinet.ground.result, lens), begins=0, piece=MINUTES_A_DAY)
    run.stands, run.menu = dict(course.stands[-1]), dict(course.menus[-1])
    run.upright_min = math.inf if run.stands["pump"] == UPRIGHT else 0.0
    run.go_on(days * MINUTES_A_DAY)
    return run.course


def holiday(cabinet: Cabinet) -> Lens:
    """A week in high summer in which nobody draws."""
    north = cabinet.ground.design.survey.latitude_deg.value >= 0
    return Lens("away", HOLIDAY_DAY if north else (HOLIDAY_DAY + DAYS // 2) % DAYS)


def after(cabinet: Cabinet, course: Course) -> tuple[FoundLine, ...]:
    """What comes of the loop as it was left: a clear day beside one as planned, a summer week with nobody there, the coldest night."""
    masters = mastered(cabinet)
    own, usual = _clear_day(cabinet, course)
    brings, planned = float(own[cabinets.COIL_J]), float(usual[cabinets.COIL_J])
    lines = [
        FoundLine(
            None if brings >= planned * (1.0 - LOST_SHARE) else "fix",
            say(
                "A clear day: {h} into the store, set as planned {p}.",
                h=Quantity(brings, "energy", 2),
                p=Quantity(planned, "energy", 2),
            ),
        )
    ]
    burnt = float(own[cabinets.BACKUP_J] - usual[cabinets.BACKUP_J])
    if burnt > LOST_SHARE * abs(planned):
        lines.append(
            FoundLine(
                "mind", say("On that day the backup gives {b} more than as planned.", b=Quantity(burnt, "energy", 2))
            )
        )
    lines += _week(*(_left_so(cabinet, one, holiday(cabinet), AWAY_DAYS) for one in (course, masters)))
    frost, frost_usual = (_left_so(cabinet, one, Lens("frost", 0), 1) for one in (course, masters))
    given = float(frost_usual.column(cabinets.COIL_J)[-1] - frost.column(cabinets.COIL_J)[-1])
    if given > LOST_SHARE * abs(planned):
        lines.append(
            FoundLine(
                "mind",
                say("The coldest clear day and night: {h} less than as planned.", h=Quantity(given, "energy", 2)),
            )
        )
    return tuple(lines)


def _week(away: Course, usual: Course) -> list[FoundLine]:
    """The summer week: how hot store and field came, and what the plastic did."""
    lines = []
    top, planned = (float(one.column(cabinets.STORE_HIGHEST_C)[-1]) for one in (away, usual))
    hotter = top > planned + PROVES
    lines.append(
        FoundLine(
            "fix" if hotter else None,
            say(
                "A week in high summer with nobody there: the store comes to {t}, as planned to {p}{case}",
                case="; a tap without a tempering valve scalds." if hotter else ".",
                t=Quantity(top, "temperature"),
                p=Quantity(planned, "temperature"),
            ),
        )
    )
    if away.column(cabinets.BURST)[-1] > 0:
        lines.append(FoundLine("stop", say("In that week the plastic lets go: mix and steam over the roof.")))
    return lines


def showed(course: Course) -> dict[str, float]:
    """What a learner says before: the field's exit at its warmest [°C], heat into the store by the end [J]."""
    return {
        "warmest": float(course.column(cabinets.HIGHEST_C).max()),
        "heat": float(course.column(cabinets.COIL_J)[-1]),
    }


def _master(cabinet: Cabinet) -> Play:
    """A master's morning, and the look after an hour of sun."""
    run = Play(cabinet)
    run.turn("isolator", "off, locked")
    run.turn("pump", ALONG)
    run.turn("tail", "copper")
    if cabinet.heats:
        run.turn("backup", DRAWN)
    for place, cable in zip(PLACES, HANDLES["field"][1:], strict=True):
        run.turn(place, cable)
    run.turn("loop", "filled")
    run.turn("isolator", "on")
    _told_by_hand(run)
    for one in cabinet.menu:
        run.turn(one.path, repr(cabinet.right[one.path].best))
    run.turn("frost", cabinet.frost)
    if cabinet.heats:
        run.turn("hours", "as planned")
    run.turn("mode", "by hand")
    run.go_on(5)
    run.turn("mode", "automatic")
    run.turn("cover", "off")
    run.go_on(60)
    return run


def _told_by_hand(run: Play) -> None:
    """Which cable is which, by warming each probe and looking which number moves; each is put where it belongs."""
    columns = dict(zip(PLACES, (cabinets.READS_FIELD, cabinets.READS_FOOT, cabinets.READS_TOP), strict=True))
    found: dict[str, str] = {}
    for words, place in WARMED.items():
        run.go_on(minutes_of("hand", words))
        before = run.now.copy()  # in that minute: a backup that heats moves numbers too
        run.set("hand", words)
        moved = next(name for name, column in columns.items() if run.now[column] - before[column] > cabinets.HAND_K / 2)
        found[place] = run.stands[moved]
        run.turn("hand", "in the pocket")
    for place, cable in found.items():
        if run.stands[place] != cable:
            run.turn(place, cable)


def master(cabinet: Cabinet) -> list[Turn]:
    """A master's turns, by what display and float show him."""
    return list(mastered(cabinet).turns)


def mastered(cabinet: Cabinet) -> Course:
    """A master's run, kept: it is what every other is held beside."""
    found: tuple[Cabinet, Course] | None = _mastered.get(id(cabinet))
    if found is None or found[0] is not cabinet:
        found = (cabinet, _master(cabinet).course)
        _mastered.keep(id(cabinet), found)
    return found[1]
