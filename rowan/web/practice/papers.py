"""Tasks on paper: made from a plan and a seed, answered, handed in; made again from what the run keeps."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import replace

from django.db import transaction
from django.utils import timezone

from rowan.core.practice.hunt import BY_INSTRUMENT, CURES, HUNTED, House, house_of, judge
from rowan.core.practice.sheet import Answer, Marked, Question, Sheet, mark, total
from rowan.core.practice.sheets import BY_KEY
from rowan.core.practice.sheets.ground import Ground
from rowan.core.simulation.cache import Kept
from rowan.core.terms.errors import RowanError, TypedNumberError
from rowan.core.terms.units import System, typed_to_si
from rowan.web.accounts.models import User
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.practice.models import HUNT, PracticeRun
from rowan.web.practice.rigs import content_of, design_kept, ground_in
from rowan.web.practice.services import SEEDS, room_for_one, still_open
from rowan.web.ui.errors import NoSuchStepError

LONGEST_TYPED = 40
_tasks = Kept(64)


def _made(task: str, ground: Ground) -> Sheet | House:
    """A task as it is made. Raises NoSuchStepError where there is none such, or its plan gives none."""
    if task != HUNT and task not in BY_KEY:
        raise NoSuchStepError("there is no such task")
    try:
        return house_of(ground) if task == HUNT else BY_KEY[task].made(ground)
    except RowanError as error:
        raise NoSuchStepError(error.text("metric")) from error


def begin(*, person: User, plan: Plan, task: str, seed: int | None = None) -> PracticeRun:
    """A task begun on a plan. Raises NoSuchStepError for a plan that it cannot be made from, or one run too many."""
    room_for_one(person)
    seed = secrets.randbelow(SEEDS) if seed is None else seed % SEEDS
    found = reckoned(plan.head)
    _made(task, Ground(found.design, found.result, seed))
    return PracticeRun.objects.create(
        person=person,
        task=task,
        title=plan.job.title[:120],
        rig={"seed": seed},
        design=design_kept(found.design),
    )


def _made_in(run: PracticeRun) -> Sheet | House:
    """The task of a run, made as it was made when it began."""
    key = (run.task, *content_of(run))
    found: Sheet | House | None = _tasks.get(key)
    return _tasks.keep(key, _made(run.task, ground_in(run))) if found is None else found


def sheet_in(run: PracticeRun) -> Sheet:
    """The questions of a run on paper. Raises NoSuchStepError for another."""
    found = _made_in(run)
    if isinstance(found, Sheet):
        return found
    raise NoSuchStepError("this run has no questions")


def house_in(run: PracticeRun) -> House:
    """The house of a hunt. Raises NoSuchStepError for another run."""
    found = _made_in(run)
    if isinstance(found, House):
        return found
    raise NoSuchStepError("this run is no hunt")


def answers_in(run: PracticeRun) -> dict[str, Answer]:
    """What was answered so far."""
    return {key: tuple(value) if isinstance(value, list) else value for key, value in run.said.items()}


def marked_in(run: PracticeRun) -> tuple[Marked, ...]:
    """What the answers of a run are worth."""
    return mark(sheet_in(run), answers_in(run), frozenset(run.hinted))


def typed_answers(
    sheet: Sheet, typed: Mapping[str, list[str]], units: System
) -> tuple[dict[str, Answer], dict[str, str]]:
    """Answers out of a form, and what of it is no number: the question and why."""
    found: dict[str, Answer] = {}
    wrong: dict[str, str] = {}
    for one in sheet.questions:
        values = [text.replace("\x00", "").strip()[:LONGEST_TYPED] for text in typed.get(f"q-{one.key}", [])]
        if one.kind == "number" and values and values[0]:
            try:
                found[one.key] = typed_to_si(values[0], one.dimension, units)
            except TypedNumberError as error:
                wrong[one.key] = error.text(units)
        elif one.kind == "order":
            order = _ordered(one, typed)
            if order:
                found[one.key] = order
        elif one.kind != "number":
            known = {option.key for option in one.options}
            chosen = tuple(value for value in values if value in known)
            if chosen:
                found[one.key] = chosen if one.kind == "many" else chosen[0]
    return found, wrong


def _ordered(one: Question, typed: Mapping[str, list[str]]) -> tuple[str, ...]:
    """What was given a place, by its place; two on one place stand as they are listed."""
    places = []
    for number, option in enumerate(one.options):
        text = (typed.get(f"q-{one.key}-{option.key}") or [""])[0]
        if text.isdecimal() and len(text) < 3:
            places.append((int(text), number, option.key))
    return tuple(key for _, _, key in sorted(places))


def answer(*, run: PracticeRun, answers: Mapping[str, Answer], hint: str = "") -> PracticeRun:
    """Keeps what was answered so far; with `hint` a hint to one question is taken. Raises NoSuchStepError where it has ended."""
    asked = {one.key for one in sheet_in(run).questions}  # made before the lock is taken
    with transaction.atomic():
        found = still_open(run)
        found.said = _said(answers)
        if hint in asked and hint not in found.hinted:
            found.hinted = [*found.hinted, hint]
        found.save(update_fields=["said", "hinted"])
    return found


def hand_in(*, run: PracticeRun, answers: Mapping[str, Answer]) -> PracticeRun:
    """Ends a task and says what it was worth. Raises NoSuchStepError where it has ended."""
    sheet = sheet_in(run)  # made before the lock is taken
    with transaction.atomic():
        found = still_open(run)
        marked = mark(sheet, answers, frozenset(found.hinted))
        found.said, found.ended, found.total = _said(answers), timezone.now(), round(total(marked), 1)
        found.marks = {one.question.key: one.marks for one in marked}
        found.save(update_fields=["said", "ended", "marks", "total"])
    return found


def _said(answers: Mapping[str, Answer]) -> dict[str, object]:
    return {key: list(value) if isinstance(value, tuple) else value for key, value in answers.items()}


def again(*, run: PracticeRun, person: User, same: bool) -> PracticeRun:
    """The same task once more, as it was or with another seed. Raises NoSuchStepError for one run too many."""
    room_for_one(person)
    seed = int(run.rig["seed"]) if same else secrets.randbelow(SEEDS)
    ground = ground_in(run)
    _made(run.task, replace(ground, seed=seed))
    return PracticeRun.objects.create(
        person=person, task=run.task, title=run.title, rig={**run.rig, "seed": seed}, design=run.design
    )


def use(*, run: PracticeRun, instrument: str) -> PracticeRun:
    """Looks with an instrument. Raises NoSuchStepError for one that there is not, and where the hunt has ended."""
    if instrument not in BY_INSTRUMENT:
        raise NoSuchStepError("there is no such instrument")
    with transaction.atomic():
        found = still_open(run)
        if instrument not in found.turns:
            found.turns = [*found.turns, instrument]
            found.save(update_fields=["turns"])
    return found


def put_right(*, run: PracticeRun, named: str, cures: tuple[str, ...]) -> PracticeRun:
    """Names the fault and does what is thought to put it right. Raises NoSuchStepError for what there is not, and where it has ended."""
    if named not in HUNTED or not set(cures) <= {one.key for one in CURES}:
        raise NoSuchStepError("say what it is, and what is done")
    house = house_in(run)  # made before the lock is taken
    with transaction.atomic():
        found = still_open(run)
        made = judge(house, tuple(found.turns), named=named, cures=cures)
        found.said = {"named": named, "cures": list(cures)}
        found.ended, found.total = timezone.now(), round(made.total, 1)
        found.marks = {"named": made.named, "cured": made.cured, "in_time": made.in_time, "off": -made.off}
        found.save(update_fields=["said", "ended", "total", "marks"])
    return found
