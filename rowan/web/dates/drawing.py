"""The week drawn: the days as spans of a tape, a row for each person, a bar by the kind of visit with its words under it.

A double line ties people who go together and their scaffold; a clash wears berry. Touch or key on a bar opens the visit.
"""

from __future__ import annotations

from datetime import datetime, time, timedelta

from rowan.core.records.visits import DAY_FROM, DAY_TO
from rowan.core.terms.dates import day_said, weekday_short
from rowan.core.terms.language import tr
from rowan.web.accounts.models import User
from rowan.web.dates.models import Visit
from rowan.web.dates.week import Week
from rowan.web.ui.svg import Drawing, Node

WIDTH, LEFT, RIGHT = 896.0, 124.0, 50.0
TAPE, ROW, SCAFFOLD_ROW = 36.0, 74.0, 50.0
DAYS = 5
SATURDAY = 34.0
BAR = 11.0
# hours of the day that the tape shows
OPENS, CLOSES = DAY_FROM.hour, DAY_TO.hour
WORD_PX = 6.3  # of a letter of 12.5 px, on average
# bars by kind: the classes of the drawing's style
LOOKS = {
    "survey": "bar-dotted", "roof": "solid", "commissioning": "bar-liquid", "revisit": "bar-empty", "service": "bar-steep",
    "repair": "bar-steep", "scaffold": "bar-cross", "away": "bar-wide",
}  # fmt: skip


def _day_width() -> float:
    return (WIDTH - LEFT - RIGHT - SATURDAY) / DAYS


def _x(week: Week, moment: datetime) -> float:
    """Where a moment stands on the tape: nights are not drawn."""
    start = datetime.combine(week.monday, time())
    days = (moment.replace(tzinfo=None) - start) / timedelta(days=1)
    day = min(max(int(days), 0), DAYS)
    hours = (days - day) * 24
    share = min(max((hours - OPENS) / (CLOSES - OPENS), 0.0), 1.0)
    width = _day_width()
    return min(max(LEFT + day * width + (share * width if day < DAYS else share * SATURDAY), LEFT), WIDTH - RIGHT)


def week_drawing(week: Week, today: datetime, chosen: int | None, address: str) -> Drawing:
    """The week; `address` is where a visit opens, its number comes after it."""
    lanes = {person.pk: _lanes(week.of(person)) for person in week.people}
    heights = {key: ROW * max((*found.values(), 0), default=0) + ROW for key, found in lanes.items()}
    foot = TAPE + sum(heights.values())
    height = foot + (SCAFFOLD_ROW if week.scaffolds else 0) + 4
    drawing = Drawing(
        WIDTH, height, tr("The week of {monday}", monday=day_said(week.monday, year=True).text()), "week", "week"
    )
    _tape(drawing, week, today, height)
    # a clash is one person's; who goes up alone stands alone in every row
    wrong = {(key, one.person) for one in week.troubles if one.level != "mind" for key in one.visits}
    tops, top = dict[int, float](), TAPE
    for person in week.people:
        tops[person.pk] = top
        top += heights[person.pk]
    _ties(drawing, week, tops, foot)
    for person in week.people:
        top = tops[person.pk]
        _person(drawing, week, person, top, heights[person.pk])
        for visit in week.of(person):
            is_wrong = bool({(visit.pk, person.pk), (visit.pk, None)} & wrong)
            lane = top + ROW * lanes[person.pk][visit.pk]
            _visit(drawing, week, visit, lane, is_wrong, visit.pk == chosen, address)
    if week.scaffolds:
        drawing.words((0, foot + 22), "Scaffold", "name")
        for visit in week.scaffolds:
            _visit(drawing, week, visit, foot, False, visit.pk == chosen, address)
    drawing.line(
        (0, foot + (SCAFFOLD_ROW if week.scaffolds else 0)),
        (WIDTH, foot + (SCAFFOLD_ROW if week.scaffolds else 0)),
        "stroke",
    )
    return drawing


def _tape(drawing: Drawing, week: Week, today: datetime, height: float) -> None:
    width = _day_width()
    for number in range(DAYS):
        x, day = LEFT + number * width, week.monday + timedelta(days=number)
        is_today = day == today.date()
        if is_today:
            drawing.rect(x, 0, width, TAPE, "solid")
        drawing.words(
            (x + 9, 27),
            f"{weekday_short(day)} {day.day}",
            "day-name inverse" if is_today else "day-name",
        )
        drawing.words((x + width / 2 + 4, 17), "noon", "label inverse" if is_today else "label")
        for hour in range(CLOSES - OPENS):
            tick = 10 if hour == 0 else 6 if hour == (CLOSES - OPENS) // 2 else 3.5
            at = x + hour * width / (CLOSES - OPENS)
            drawing.line((at, 0), (at, tick), "tick-light" if is_today else "stroke")
        drawing.line((x, TAPE), (x, height), "hair")
        drawing.line((x + width / 2, TAPE), (x + width / 2, height), "grid-line")
    end = LEFT + DAYS * width
    drawing.rect(end, 10, SATURDAY, height - 10, "bar-wide")
    drawing.words((end + SATURDAY / 2, 27), "Sat", "label halo", "middle")
    drawing.words((WIDTH - 1, 27), "free", "label", "end")
    drawing.line((LEFT, 0), (end + SATURDAY, 0), "stroke")
    drawing.line((0, TAPE), (WIDTH, TAPE), "stroke")
    if week.monday <= today.date() < week.monday + timedelta(days=DAYS):
        x = _x(week, today)
        drawing.path(((x - 5, TAPE), (x + 5, TAPE), (x, TAPE + 7)), "solid", close=True)
        drawing.line((x, TAPE + 7), (x, height), "fine-dots")


def _lanes(visits: list[Visit]) -> dict[int, int]:
    """In which lane of a row each visit stands: one that overlaps another goes under it."""
    found, ends = dict[int, int](), list[datetime]()
    for visit in sorted(visits, key=lambda one: (one.start, one.pk)):
        lane = next((number for number, end in enumerate(ends) if end <= visit.start), len(ends))
        ends[lane : lane + 1] = [visit.end]
        found[visit.pk] = lane
    return found


def _person(drawing: Drawing, week: Week, person: User, top: float, height: float) -> None:
    drawing.words((0, top + 30), person.name, "name")
    drawing.words((0, top + 46), f"{person.get_role_display()}, {person.week_hours} h", "label")
    drawing.line((0, top + height), (WIDTH, top + height), "hair")
    free = week.free(person)
    drawing.words((WIDTH - 1, top + 34), str(free), "key", "end")
    drawing.words((WIDTH - 1, top + 49), "half day" if free == 1 else "half days", "label", "end")


def _moment(at: datetime) -> str:
    return f"{weekday_short(at)} {at:%H:%M}"


def _visit(drawing: Drawing, week: Week, visit: Visit, top: float, wrong: bool, chosen: bool, address: str) -> None:
    """A bar with its flag line and its words, as a link."""
    x, end = _x(week, visit.start), max(_x(week, visit.end), _x(week, visit.start) + 24)
    link = drawing.add("a", href=f"{address}{visit.pk}", data_visit=visit.kind)
    is_scaffold = visit.kind == "scaffold"
    height = SCAFFOLD_ROW if is_scaffold else ROW
    if chosen:
        link.rect(x - 2, top + 1, max(end - x, 66) + 4, height - 2, "chosen-visit")
    link.rect(x, top + 8, end - x, BAR, "clash-bar" if wrong else LOOKS[visit.kind])
    link.line((x, top + 8), (x, top + height - 8), "berry-line" if wrong else "stroke")
    room = max(int((max(end - x, 64)) / WORD_PX), 8)
    if is_scaffold:
        link.words(
            (x + 6, top + 35),
            tr("stands from {start} to {end}", start=_moment(visit.start), end=_moment(visit.end))[: room + 8],
            "label halo",
        )
        return
    link.words((x + 6, top + 34), _cut(visit.title, room), "visit-name halo" + (" berry" if wrong else ""))
    link.words((x + 6, top + 48), _cut(visit.get_kind_display(), room + 2), "label halo" + (" berry" if wrong else ""))
    link.words((x + 6, top + 62), _cut(f"{visit.start:%-H:%M}", room), "label halo" + (" berry" if wrong else ""))


def _cut(text: str, room: int) -> str:
    """As much of a name as there is room for, to the last whole word."""
    if len(text) <= room:
        return text
    short = text[:room].rsplit(" ", 1)[0].rstrip(",")
    return short if len(short) >= 4 else text[: room - 1] + "…"


def _ties(drawing: Node, week: Week, tops: dict[int, float], foot: float) -> None:
    """A double line where people go together; down to the scaffold that they stand on."""
    for visit, planned in zip(week.visits, week.planned, strict=True):
        rows = sorted(tops[one] for one in planned.people if one in tops)
        stands = visit.kind == "roof" and any(
            one.job_id == visit.job_id and one.start <= visit.start and visit.end <= one.end for one in week.scaffolds
        )
        if len(rows) < 2 and not (rows and stands):
            continue
        x = _x(week, visit.start)
        last = foot + 8 if stands else rows[-1] + 8
        for shift in (1.0, 4.0):
            drawing.line((x + shift, rows[0] + 8 + BAR), (x + shift, last), "tie")
