"""What is done on the training rig: begun, turned, let go on, taken back, ended. Each run is its learner's own."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Iterable, Sequence
from dataclasses import asdict
from datetime import date, timedelta

from django.db import transaction
from django.utils import timezone

from rowan.core.design.design import Design
from rowan.core.practice import cabinet, cabinet_marks, draining, filling, raising
from rowan.core.practice.filling import Debrief, judge, master
from rowan.core.practice.rig import LONGEST_S, Track, Turn, checked, play, ready_of, rig_of
from rowan.core.practice.sheets.ground import Ground
from rowan.core.reckon import Reckoning
from rowan.core.simulation.cache import Kept
from rowan.core.steps.charge.gauge_findings import FoundLine
from rowan.core.terms.errors import RowanError
from rowan.core.terms.record import record
from rowan.web.accounts.models import User
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.practice.models import CABINET, DRAINING, FILLING, RAISING, SKILLS, HandSkill, PracticeRun
from rowan.web.practice.rigs import (
    cabinet_course,
    cabinet_in,
    content_of,
    course_of,
    design_kept,
    ground_in,
    rig_in,
    rig_kept,
    tank_in,
)
from rowan.web.ui.errors import NoSuchStepError

SEEDS = 10_000  # of what is left to chance in a task
MOST_TURNS = 400
MOST_RUNS = 500  # that a person keeps
LEAP_S = 600  # that is let pass at once
DAY_LEAP_S = 24 * 3600  # where a day goes by
# days until a task is due again by the least marks; of full runs one after the other each waits longer. Rule of thumb
AGAIN = ((90.0, (14, 30, 90, 180)), (70.0, (3,)), (0.0, (1,)))
# what a learner says before each rig shows it, with its kind of number and between what it lies [SI]
SAYS_AT: dict[str, dict[str, tuple[str, str, float, float]]] = {
    FILLING: {
        "old_water": ("litres into tub 2 before the full colour", "volume", 0.0, 0.2),
        "tub_full": ("litres left in tub 1 when the loop is full", "volume", 0.0, 0.5),
        "mix_end": ("strength of the mix at the end", "share_fine", 0.0, 1.0),
    },
    RAISING: {
        "raised": ("the gauge once it is raised with the vessel shut", "pressure", 0.0, 2e6),
        "vessel_end": ("litres in the vessel at the end", "volume", 0.0, 0.5),
    },
    DRAINING: {
        "goes_up": ("litres that leave the reservoir when it runs", "volume", 0.0, 1.0),
        "drains": ("seconds in which it drains", "time", 0.0, 3600.0),
    },
    CABINET: {
        "warmest": ("the field at its warmest", "temperature", -30.0, 300.0),
        "heat": ("heat into the store by the time it is done", "energy", -1e9, 1e9),
    },
}
CLOSE = 0.15  # of what it was, within which what was said counts as right
_masters = Kept(16)


def _no_time(handle: str, position: str) -> int:
    """A handle is turned in its second."""
    return 0


def _minutes(handle: str, position: str) -> int:
    return cabinet.minutes_of(handle, position) * 60


@record
class Manner:
    """How time goes in a task at a rig: how its turns are checked, how long it may last, what is let pass at once, to what a moment is
    rounded, what a turn takes [s]."""

    checked: Callable[[Sequence[Turn], float], list[Turn]] = checked
    longest: int = LONGEST_S
    leap: int = LEAP_S
    grain: int = 1
    takes: Callable[[str, str], int] = _no_time

    def until(self, run: PracticeRun, asked: int) -> int:
        """To where a run goes on, asked for a second: never back, never in a leap, never past its end."""
        found = min(max(asked, run.until), run.until + self.leap, self.longest)
        return found - found % self.grain


MANNERS = {
    FILLING: Manner(),
    RAISING: Manner(),
    DRAINING: Manner(draining.checked),
    CABINET: Manner(cabinet.checked, cabinet.LONGEST_S, DAY_LEAP_S, 60, _minutes),
}


def near(said: float, real: float) -> bool:
    """Whether what was said counts as right."""
    return abs(said - real) <= CLOSE * max(abs(real), 1e-9)


def room_for_one(person: User) -> None:
    """Raises NoSuchStepError where a book is full."""
    if person.practice_runs.count() >= MOST_RUNS:
        raise NoSuchStepError("the book is full; nobody learns by more")


def begin(*, person: User, plan: Plan, task: str = FILLING, said: dict[str, float] | None = None) -> PracticeRun:
    """A run on the rig of a plan's own loop. Raises NoSuchStepError for a loop that is not filled so, or one run too many."""
    room_for_one(person)
    found = reckoned(plan.head)
    if task == DRAINING:
        return _begin_draining(person, plan, found.design, found.result, said or {})
    if task == CABINET:
        return _begin_cabinet(person, plan, found.design, found.result, said or {})
    try:
        rig = rig_of(found.design, found.result)
        ready = ready_of(found.design, found.result, full=task == RAISING)
        if task == RAISING:
            raising.checked(Ground(found.design, found.result, 0))
            rig = raising.with_chance(rig, seed := secrets.randbelow(SEEDS))
    except RowanError as error:
        raise NoSuchStepError(error.text("metric")) from error
    kept = rig_kept(rig, ready, found.design.glycol_share) | {"coldest": found.design.survey.design_minimum_c.value}
    design = None
    if task == RAISING:
        # what comes after it is reckoned from the plan as it was
        kept, design = kept | {"seed": seed}, design_kept(found.design)
    return PracticeRun.objects.create(
        person=person, task=task, title=plan.job.title[:120], rig=kept, design=design, said=said or {}
    )


def _begin_draining(person: User, plan: Plan, design: Design, result: Reckoning, said: dict[str, float]) -> PracticeRun:
    try:
        tank = draining.tank_of(design, result)
    except RowanError as error:
        raise NoSuchStepError(error.text("metric")) from error
    return PracticeRun.objects.create(
        person=person, task=DRAINING, title=plan.job.title[:120], rig={"tank": asdict(tank)}, said=said
    )


def _begin_cabinet(person: User, plan: Plan, design: Design, result: Reckoning, said: dict[str, float]) -> PracticeRun:
    seed = secrets.randbelow(SEEDS)
    try:
        cabinet.cabinet_of(Ground(design, result, seed))
    except RowanError as error:
        raise NoSuchStepError(error.text("metric")) from error
    return PracticeRun.objects.create(
        person=person,
        task=CABINET,
        title=plan.job.title[:120],
        rig={"seed": seed},
        design=design_kept(design),
        said=said,
    )


def still_open(run: PracticeRun) -> PracticeRun:
    """The run as it stands now, locked. Raises NoSuchStepError for one that has ended."""
    found = PracticeRun.objects.select_for_update().get(pk=run.pk)
    if found.ended is not None:
        raise NoSuchStepError("this run has ended; begin it again from any moment")
    return found


def go_on(*, run: PracticeRun, until: int) -> PracticeRun:
    """Lets time pass. Raises NoSuchStepError where it has ended."""
    with transaction.atomic():
        found = still_open(run)
        found.until = MANNERS[found.task].until(found, until)
        found.save(update_fields=["until"])
    return found


def turn(*, run: PracticeRun, handle: str, position: str, until: int) -> PracticeRun:
    """Turns a handle at a moment. Raises NoSuchStepError for what cannot be turned, and where the run has ended."""
    with transaction.atomic():
        found = still_open(run)
        manner = MANNERS[found.task]
        if len(found.turns) >= MOST_TURNS:
            raise NoSuchStepError("that is more turning than any loop needs")
        at = manner.until(found, until) + manner.takes(handle, position)
        try:
            manner.checked([Turn(float(at), handle, position)], at)
        except RowanError as error:
            raise NoSuchStepError(error.text("metric")) from error
        found.until = at
        found.turns = [*found.turns, [at, handle, position]]
        found.save(update_fields=["until", "turns"])
    return found


def take_back(*, run: PracticeRun, seconds: int) -> PracticeRun:
    """So many seconds earlier, with what was turned since undone. Raises NoSuchStepError where it has ended."""
    with transaction.atomic():
        found = still_open(run)
        found.until, found.turns = _taken_back(found, seconds)
        found.save(update_fields=["until", "turns"])
    return found


def _taken_back(run: PracticeRun, seconds: int) -> tuple[int, list[list[float | str]]]:
    """Where a run stands and what was turned once so many seconds are taken back; where a turn takes its time, once the last one is."""
    if run.task == CABINET and run.turns:
        at, handle, position = run.turns[-1]
        return max(int(at) - _minutes(handle, position), 0), run.turns[:-1]
    until = max(run.until - max(seconds, 1), 0)
    return until, [one for one in run.turns if one[0] < until]


def end(*, run: PracticeRun) -> PracticeRun:
    """Ends a run and says what it was worth. Raises NoSuchStepError where it has ended."""
    run.refresh_from_db()
    made = debrief_of(run)  # played before the lock is taken
    with transaction.atomic():
        found = still_open(run)
        if (found.turns, found.until) != (run.turns, run.until):
            made = debrief_of(found)
        found.ended, found.marks, found.total = timezone.now(), made.marks, round(made.total, 1)
        found.save(update_fields=["ended", "marks", "total"])
    return found


def again_from(*, run: PracticeRun, person: User, at: int) -> PracticeRun:
    """A further run that begins as this one was at a moment."""
    room_for_one(person)
    at = min(max(at, 0), run.until)
    return PracticeRun.objects.create(
        person=person,
        task=run.task,
        title=run.title,
        rig=run.rig,
        design=run.design,
        said=run.said,
        turns=[one for one in run.turns if one[0] < at],
        until=at,
    )


def track_of(run: PracticeRun) -> Track:
    """A run played to where it stands."""
    rig, ready, _ = rig_in(run)
    return play(rig, ready, run.played, run.until)


def debrief_of(run: PracticeRun) -> Debrief:
    """What a run is worth as it stands."""
    if run.task == DRAINING:
        return draining.judge(tank_in(run), course_of(run))
    if run.task == CABINET:
        return cabinet_marks.judge(cabinet_in(run), cabinet_course(run))
    rig, _, wanted = rig_in(run)
    track = track_of(run)
    return raising.judge(rig, track, ground_in(run)) if run.task == RAISING else judge(rig, track, wanted=wanted)


def after_of(run: PracticeRun, track: Track) -> tuple[FoundLine, ...]:
    """What comes of the loop as it was left: the next hot days, the coldest night."""
    if run.task == RAISING:
        return raising.after(track, ground_in(run), leak=rig_in(run)[0].leak)
    coldest = run.rig.get("coldest")  # a run of before this was kept says nothing of it
    return () if coldest is None else filling.after(track, coldest=float(coldest))


def master_turns(run: PracticeRun) -> list[Turn]:
    """What a master turns on the same rig, and when."""
    key = content_of(run) if run.task == CABINET else repr(run.rig)
    found: list[Turn] | None = _masters.get(key)
    if found is None:
        found = _masters.keep(key, _mastered(run))
    return found


def _mastered(run: PracticeRun) -> list[Turn]:
    if run.task == DRAINING:
        return draining.master(tank_in(run))
    if run.task == CABINET:
        return cabinet_marks.master(cabinet_in(run))
    rig, ready, _ = rig_in(run)
    return raising.master(rig, ready, raising.fill_of(ground_in(run))) if run.task == RAISING else master(rig, ready)


def master_of(run: PracticeRun) -> Track:
    """A master's run on the same rig."""
    rig, ready, _ = rig_in(run)
    turns = master_turns(run)
    return play(rig, ready, turns, turns[-1].at + 10)


def due_again(run: PracticeRun, before: int = 0) -> date | None:
    """The day on which a task is due again, after so many good runs `before` this one; None for one that is under way."""
    if run.ended is None or run.total is None:
        return None
    days = next(days for least, days in AGAIN if run.total >= least)
    return timezone.localdate(run.ended) + timedelta(days=days[min(before, len(days) - 1)])


@record
class Practised:
    """A task in a person's book: how often, the best and the last marks, when last, the good runs in a row, when it is due again,
    and the run that was last."""

    task: str
    runs: int
    best: float
    last: float
    on: date
    in_a_row: int
    due: date
    run: int


def practised(person: User) -> dict[str, Practised]:
    """What a person has practised, by task."""
    return practised_by([person]).get(person.pk, {})


def practised_by(people: Iterable[User]) -> dict[int, dict[str, Practised]]:
    """What some people have practised, by person and task: one question for all of them."""
    found: dict[int, dict[str, Practised]] = {}
    good = AGAIN[0][0]
    runs = PracticeRun.objects.filter(person__in=list(people), ended__isnull=False, total__isnull=False)
    for run in runs.order_by("ended", "pk").defer("rig", "turns", "design"):
        theirs, total = found.setdefault(run.person_id, {}), float(run.total or 0.0)
        had = theirs.get(run.task)
        row = (0 if had is None else had.in_a_row) + 1 if total >= good else 0
        day = due_again(run, row - 1 if row else 0)
        theirs[run.task] = Practised(
            run.task,
            1 if had is None else had.runs + 1,
            total if had is None else max(had.best, total),
            total,
            timezone.localdate(run.ended),
            row,
            day or timezone.localdate(),
            run.pk,
        )
    return found


def witness(*, person: User, by: User, skill: str, words: str = "") -> HandSkill:
    """A master has seen a skill of somebody's hand today. Raises NoSuchStepError for no such skill, and for one's own."""
    if skill not in SKILLS:
        raise NoSuchStepError("there is no such skill")
    if person.pk == by.pk:
        raise NoSuchStepError("nobody is a witness of his own hand")
    return HandSkill.objects.create(
        person=person,
        skill=skill,
        seen_on=timezone.localdate(),
        witness=str(by)[:120],
        seen_by=by,
        words=words.strip()[:200],
    )
