"""The practice bench: whose loop, the rig under one's hands, what it was worth, and the learner's book."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from datetime import date
from typing import Any

import numpy as np
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from rowan.core.design.changes import locate
from rowan.core.practice import cabinet as cabinets
from rowan.core.practice import cabinet_marks, draining, filling, raising
from rowan.core.practice.filling import MARKS, PARTS
from rowan.core.practice.rig import HANDLES, POSITIONS, Track, Turn, play
from rowan.core.practice.rig_kernel import Rig, column_of
from rowan.core.practice.sheets import PARTS as PARTS_OF_WORK
from rowan.core.practice.sheets import TASKS as SHEETS
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, dimension, shown, typed_to_si
from rowan.web.accounts.models import User
from rowan.web.accounts.roles import holds
from rowan.web.plans.models import Plan
from rowan.web.plans.selectors import actor
from rowan.web.plans.services import design_of
from rowan.web.practice import cabinet_views, hunt_views, papers, rigs, services, sheet_views, tank_views
from rowan.web.practice.drawing import clock_text, rig_drawing, track_drawing
from rowan.web.practice.models import CABINET, DRAINING, FILLING, HUNT, ON_RIG, RAISING, TASKS, PracticeRun
from rowan.web.practice.selectors import plans_for, run_for
from rowan.web.practice.services import MANNERS
from rowan.web.practice.shown import readings, said_rows
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import NoSuchStepError
from rowan.web.ui.methods import forms_only
from rowan.web.ui.problem import UNPROCESSABLE

MOST_SHOWN = 30  # runs in the book
MOST_PLANS = 40
PAPER_LINES = 16  # of a worksheet, to write in what is turned
JUST_BEFORE_S = 15  # a moment that cost marks, from which a run is begun again
# what each handle is called, in the order of the hand
CALLED = {
    "cover": "cover on the field, in the sun",
    "vent": "V roof vent",
    "vessel": "X to the vessel",
    "check": "C non-return",
    "fill": "F fill",
    "between": "B between the ports",
    "drain": "D drain",
    "drill": "drill pump",
    "hose": "return hose in",
    "joint": "the joint under the field",
}


def book(request: HttpRequest, problem: str = "", status: int = 200) -> HttpResponse:
    """What was practised, what is due again, and every task to begin."""
    person, units = actor(request), units_of(request)
    runs = list(person.practice_runs.defer("rig", "turns", "design")[:MOST_SHOWN])
    rows = services.practised(person)
    today = timezone.localdate()

    def row(key: str) -> dict[str, Any]:
        """A task as the book lists it."""
        had = rows.get(key)
        return {"key": key, "name": TASKS[key], "had": had, "due": had is not None and had.due <= today}

    asks = [
        (TASKS[task], [(key, words, name, request.POST.get(key, "")) for key, (words, name, _, _) in says.items()])
        for task, says in services.SAYS_AT.items()
    ]
    context: dict[str, Any] = {
        "runs": runs,
        "due_now": sum(1 for had in rows.values() if had.due <= today),
        "learners": _learners(person, today),
        "all_tasks": len(TASKS),
        "plans": (plans := list(plans_for(person)[:MOST_PLANS])),
        "chosen": _chosen(request.POST.get("plan", ""), plans),
        "rig_rows": [row(key) for key in ON_RIG],
        "hunt_row": row(HUNT),
        "parts": [(part, [row(task.key) for task in SHEETS if task.part == part]) for part in PARTS_OF_WORK],
        "asks": asks,
        "open_says": any(typed for _, rows_ in asks for *_, typed in rows_),
        "problem": problem,
        "units": units,
    }
    return render(request, "practice/book.html", context, status=status)


def _chosen(number: str, plans: list[Plan]) -> int:
    """The plan that was chosen; else one with a vessel, which every task can be made like."""
    if number.isdecimal() and len(number) < 10:
        return int(number)
    return next((plan.pk for plan in plans if design_of(plan.head).sealed), 0)


def _learners(person: User, today: date) -> list[dict[str, Any]]:
    """For a lead: what the others of the firm have practised."""
    if not person.firm_id or not holds(person.role, "lead"):
        return []
    others = list(User.objects.filter(firm=person.firm, is_active=True).exclude(pk=person.pk)[:MOST_SHOWN])
    practised, found = services.practised_by(others), []
    for other in others:
        rows = practised.get(other.pk, {})
        last = max(rows.values(), key=lambda row: (row.on, row.run), default=None)
        found.append(
            {
                "person": other,
                "tasks": len(rows),
                "best": sum(row.best for row in rows.values()) / len(rows) if rows else 0.0,
                "due": sum(1 for row in rows.values() if row.due <= today),
                "last": last,
                "last_name": TASKS.get(last.task, "") if last else "",
            }
        )
    return found


def _said(request: HttpRequest, units: System) -> dict[str, float]:
    """What was said before the rig shows it. Raises NoSuchStepError for what is no number."""
    found = {}
    says = {key: row for rows in services.SAYS_AT.values() for key, row in rows.items()}
    for key, (words, kind, low, high) in says.items():
        text = request.POST.get(key, "").replace("\x00", "").strip()[:40]
        if not text:
            continue
        try:
            value = typed_to_si(text, kind, units)
        except TypedNumberError as error:
            raise NoSuchStepError(f"{words}: {error.text(units)}") from error
        if not low <= value <= high:
            raise NoSuchStepError(tr("{words}: {read} cannot be", words=words, read=shown(value, kind, units)))
        found[key] = value
    return found


@forms_only
def begin(request: HttpRequest) -> HttpResponse:
    """Begins a task, at the rig or on paper, made like a plan."""
    person, plan = actor(request), None
    number, task, seed = (request.POST.get(name, "") for name in ("plan", "task", "seed"))
    if number.isdecimal() and len(number) < 10:
        plan = plans_for(person).filter(pk=int(number)).first()
    if plan is None:
        return book(request, "Choose whose plan it is made like.", UNPROCESSABLE)
    try:
        if task in ("", *ON_RIG):
            made = services.begin(
                person=person, plan=plan, task=task or FILLING, said=_said(request, units_of(request))
            )
        else:
            fixed = int(seed) if seed.isdecimal() and len(seed) < 7 else None
            made = papers.begin(person=person, plan=plan, task=task, seed=fixed)
    except NoSuchStepError as error:
        return book(request, tr("Not begun: {error}.", error=error), UNPROCESSABLE)
    return redirect("practice:run", made.pk)


def run(request: HttpRequest, number: int) -> HttpResponse:
    """The rig under one's hands, or the task on paper; once it has ended, what it was worth."""
    found = run_for(request, number)
    if found.task not in ON_RIG:
        return sheet_views.show(request, found)
    units = units_of(request)
    if found.ended is None:
        return render(
            request,
            "practice/run.html",
            {**_about(found, units), **_piece(found, units)},
        )
    at = request.GET.get("at", "")
    then = _at(found, int(at), units) if at.isdecimal() and len(at) < 7 else {}
    return render(request, "practice/debrief.html", {**_debrief(found, units), **then})


def _at(found: PracticeRun, second: int, units: System) -> dict[str, Any]:
    """The rig as it stood at a second of a run that has ended, with the moments before and after it."""
    second = min(second, found.until)
    turns = [turn for turn in found.played if turn.at <= second]
    own = OWN_VIEWS.get(found.task)
    if own is not None:
        seen = own.look(found, turns, second, units)
    else:
        rig, ready, _ = rigs.rig_in(found)
        track = play(rig, ready, turns, second)
        seen = rig_drawing(rig, track, _stands(track), units).svg(), readings(rig, track, units)
    return {
        "at": second,
        "at_clock": _clock(found)(second),
        "at_drawing": seen[0],
        "at_readings": seen[1],
        "at_ways": [
            (words, min(max(second + step, 0), found.until)) for words, step in STEPS[MANNERS[found.task].grain]
        ],
    }


def _stands(track: Track) -> dict[str, str]:
    """How every handle stands at the end of a track."""
    last = track.handles[-1]
    return {
        name: next(position for position in positions if POSITIONS[position] == last[at])
        for at, (name, positions) in enumerate(HANDLES.items())
    }


def _fill(found: PracticeRun, units: System) -> str:
    """What the gauge is to read at the end, where that is the task."""
    return shown(raising.fill_of(rigs.ground_in(found)), "pressure", units) if found.task == RAISING else ""


def _column(rig: Rig, found: PracticeRun, units: System) -> list[tuple[str, str]]:
    """What the gauge should carry with nothing pushed in, by which its error is told."""
    if found.task != RAISING:
        return []
    full = np.full(rig.cells, rig.cell)
    return [("the column, reckoned", shown(float(column_of(rig, full)), "pressure", units))]


CALLS = {**tank_views.CALLED, **CALLED}
HINTS = {FILLING: filling.HINTS, RAISING: raising.HINTS, DRAINING: draining.HINTS, CABINET: cabinet_marks.HINTS}
WORTH = {
    FILLING: (MARKS, PARTS),
    RAISING: (raising.MARKS, raising.PARTS),
    DRAINING: (draining.MARKS, draining.PARTS),
    CABINET: (cabinet_marks.MARKS, cabinet_marks.PARTS),
}
# rigs that are drawn and read in their own way
OWN_VIEWS: dict[str, Any] = {DRAINING: tank_views, CABINET: cabinet_views}
PACES = ((0, "Hold"), (1, "As it goes"), (8, "8 times"), (30, "30 times"))
# how far a replay is moved, by what its moments are rounded to [s]
STEPS = {
    1: (("a minute back", -60), ("10 s back", -10), ("10 s on", 10), ("a minute on", 60)),
    60: (("an hour back", -3600), ("5 minutes back", -300), ("5 minutes on", 300), ("an hour on", 3600)),
}


def _clock(found: PracticeRun) -> Callable[[int], str]:
    """How the seconds of a run are said."""
    return cabinet_views.clock_text if found.task == CABINET else clock_text


def _about(found: PracticeRun, units: System) -> dict[str, Any]:
    """What stands above the rig: what is to be done, hints, paces, and the card where there is one."""
    own, days = OWN_VIEWS.get(found.task), found.task == CABINET
    return {
        "run": found,
        "fill": _fill(found, units),
        "lead": "" if own is None else own.LEAD,
        "hints": HINTS[found.task],
        "paces": cabinet_views.PACES if days else PACES,
        "begins": cabinets.BEGINS_MIN if days else "",
        "card": cabinet_views.card(found, units) if days else (),
        "on": (
            (found.until + 900, "15 min on"),
            (found.until + 3600, "1 h on"),
            (found.until + 6 * 3600, "6 h on"),
        )
        if days
        else ((found.until + 30, "Half a minute on"),),
    }


def _at_rig(request: HttpRequest, number: int) -> PracticeRun:
    """A run at the rig. 404 for another's, and for a task on paper."""
    found = run_for(request, number)
    if found.task not in ON_RIG:
        raise Http404
    return found


def _piece(found: PracticeRun, units: System) -> dict[str, Any]:
    """What the rig shows now."""
    own = OWN_VIEWS.get(found.task)
    if own is not None:
        piece: dict[str, Any] = own.piece(found, units)
        return piece
    rig, _, _ = rigs.rig_in(found)
    track = services.track_of(found)
    stands = _stands(track)
    return {
        "drawing": rig_drawing(rig, track, stands, units).svg(),
        "clock": clock_text(found.until),
        "until": found.until,
        "handles": [
            {"key": key, "name": name, "choices": [(position, position == stands[key]) for position in HANDLES[key]]}
            for key, name in CALLED.items()
            if key != "joint" or found.task == RAISING
        ],
        "readings": [*readings(rig, track, units), *_column(rig, found, units)],
    }


def _debrief(found: PracticeRun, units: System) -> dict[str, Any]:
    """What a run was worth, beside a master's."""
    made = services.debrief_of(found)
    marks, parts = WORTH[found.task]
    own, clock = OWN_VIEWS.get(found.task), _clock(found)
    if own is not None:
        shown_there = own.debrief(found, made, units)
    else:
        track, masters = services.track_of(found), services.master_of(found)
        shown_there = {
            "masters": clock_text(len(masters.rows) - 1),
            "drawing": track_drawing(track, masters, made, units).svg(),
            "said": said_rows(found, (raising if found.task == RAISING else filling).showed(track), units),
            "after": services.after_of(found, track),
        }
    before = [
        one.total
        for one in found.person.practice_runs.filter(task=found.task, ended__isnull=False, begun__lt=found.begun)[:5]
    ]
    return {
        "run": found,
        "total": round(found.total or 0.0),
        "parts": [
            {
                "name": parts[key],
                "marks": round(made.marks[key]),
                "of": round(most),
                "wide": round(59 * made.marks[key] / most, 1),
            }
            for key, most in marks.items()
        ],
        "moments": [
            (one, clock(one.at), max(one.at - max(JUST_BEFORE_S, MANNERS[found.task].grain), 0)) for one in made.moments
        ],
        "before": ", ".join(f"{total:.0f}" for total in before if total is not None),
        "clock": clock(found.until),
        "within": "by" if found.task == CABINET else "in",
        "due": services.practised(found.person)[found.task].due,
        "masters_turns": [
            (clock(int(turn.at)), *_said_turn(found, turn, units)) for turn in services.master_turns(found)
        ],
        **shown_there,
    }


def _said_turn(found: PracticeRun, turn: Turn, units: System) -> tuple[str, str]:
    """A turn in words: what, and to what."""
    return cabinet_views.turn_text(found, turn, units) if found.task == CABINET else (CALLS[turn.handle], turn.position)


def _until(request: HttpRequest) -> int:
    text = request.POST.get("until", "")
    return int(text) if text.isdecimal() and len(text) < 7 else 0


def _answer(request: HttpRequest, found: PracticeRun) -> HttpResponse:
    if request.headers.get("X-Piece"):
        return render(request, "practice/rig.html", {"run": found, **_piece(found, units_of(request))})
    return redirect("practice:run", found.pk)


def _done(request: HttpRequest, number: int, act: Any) -> HttpResponse:
    found = _at_rig(request, number)
    try:
        found = act(found)
    except NoSuchStepError as error:
        if found.ended is not None:
            return redirect("practice:run", found.pk)
        units = units_of(request)
        context = {"problem": tr("Not done: {error}.", error=error), **_about(found, units), **_piece(found, units)}
        return render(request, "practice/run.html", context, status=UNPROCESSABLE)
    return _answer(request, found)


@forms_only
def go_on(request: HttpRequest, number: int) -> HttpResponse:
    """Lets time pass until a second."""
    return _done(request, number, lambda found: services.go_on(run=found, until=_until(request)))


@forms_only
def turn(request: HttpRequest, number: int) -> HttpResponse:
    """Turns a handle now."""
    handle, _, position = request.POST.get("turn", "").partition(":")

    def act(found: PracticeRun) -> PracticeRun:
        """The handle, or a number of the menu as it was typed."""
        to = _typed(request, found, handle) if found.task == CABINET and handle not in cabinets.HANDLES else position
        return services.turn(run=found, handle=handle, position=to, until=_until(request))

    return _done(request, number, act)


def _typed(request: HttpRequest, found: PracticeRun, path: str) -> str:
    """A number of the menu [SI], as a turn keeps it. Raises NoSuchStepError for what is no number of it."""
    cabinet, units = rigs.cabinet_in(found), units_of(request)
    if path not in cabinet.right:
        raise NoSuchStepError("there is no such setting")
    text = request.POST.get("value", "").replace("\x00", "").strip()[:40]
    try:
        return repr(typed_to_si(text, locate(cabinet.ground.design, path).spec.dimension, units))
    except TypedNumberError as error:
        raise NoSuchStepError(error.text(units)) from error


@forms_only
def back(request: HttpRequest, number: int) -> HttpResponse:
    """Takes the last half minute back."""
    return _done(request, number, lambda found: services.take_back(run=found, seconds=30))


@forms_only
def end(request: HttpRequest, number: int) -> HttpResponse:
    """Ends the run and shows what it was worth."""
    found = _at_rig(request, number)
    with suppress(NoSuchStepError):  # sent twice, it has ended already
        services.end(run=found)
    return redirect("practice:run", found.pk)


@forms_only
def again(request: HttpRequest, number: int) -> HttpResponse:
    """A further run, from a moment of this one."""
    found = _at_rig(request, number)
    try:
        made = services.again_from(run=found, person=actor(request), at=_until(request))
    except NoSuchStepError as error:
        return book(request, tr("Not begun: {error}.", error=error), UNPROCESSABLE)
    return redirect("practice:run", made.pk)


def paper(request: HttpRequest, number: int) -> HttpResponse:
    """A task as a worksheet with its answer sheet, which is kept back until it has ended; a lead has it at once."""
    found, units = run_for(request, number), units_of(request)
    if found.task not in ON_RIG and found.task != HUNT:
        return sheet_views.paper(request, found)
    held = hunt_views.on_paper(found, units) if found.task == HUNT else _rig_on_paper(found, units)
    if not sheet_views.answers_open(found, actor(request)):
        held |= {"answers": [], "found": "", "hints": ()}
    context = {"run": found, "firm": found.person.firm or "", "lines": range(1, PAPER_LINES + 1), **held}
    return render(request, "practice/rig_paper.html", context)


def _rig_on_paper(found: PracticeRun, units: System) -> dict[str, Any]:
    """A task at the rig as it stands when one comes, what can be turned there, and a master's turns."""
    start, clock = PracticeRun(task=found.task, rig=found.rig, design=found.design, title=found.title), _clock(found)
    about, piece = _about(start, units), _piece(start, units)
    lead = about["lead"] or (
        tr(
            "It is full and purged, everything shut. Raise it, hold it, open the vessel, set {about}, leave it as it works.",
            about=about["fill"],
        )
        if about["fill"]
        else "Fill it, drive the air out until minutes pass without a bubble, and leave everything shut, the drill off."
    )
    rows = [(handle["name"], " · ".join(position for position, _ in handle["choices"])) for handle in piece["handles"]]
    rows += [(one["name"], f"{one['value']} {one['unit']}") for one in piece.get("menu", ())]
    return {
        "lead": lead,
        "drawing": piece["drawing"],
        "says": [
            (words, dimension(name).unit(units).label) for words, name, _, _ in services.SAYS_AT[found.task].values()
        ],
        "what": "What can be turned, as it stands first",
        "rows": rows,
        "answers": [(clock(int(turn.at)), *_said_turn(found, turn, units)) for turn in services.master_turns(found)],
        "hints": about["hints"],
    }
