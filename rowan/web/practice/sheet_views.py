"""Tasks on paper: asked, kept, handed in, printed; what a person has practised, and what a master has seen of the hand."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone

from rowan.core.practice.a_day import comes_of
from rowan.core.practice.sheet import mark
from rowan.core.practice.sheets import BY_KEY
from rowan.core.terms.language import tr
from rowan.web.accounts.models import User
from rowan.web.accounts.roles import holds
from rowan.web.plans.selectors import actor
from rowan.web.practice import hunt_views, papers, rigs, services
from rowan.web.practice.models import HUNT, ON_RIG, SKILLS, TASKS, PracticeRun
from rowan.web.practice.selectors import run_for
from rowan.web.practice.sheet_shown import answered, asked, right_of, sheet_context
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import NoSuchStepError
from rowan.web.ui.methods import forms_only
from rowan.web.ui.problem import UNPROCESSABLE


def _on_paper(request: HttpRequest, number: int) -> PracticeRun:
    """A task on paper of one's own, or to be looked at. 404 for one on the rig, and for a hunt."""
    found = run_for(request, number)
    if found.task not in BY_KEY:
        raise Http404
    return found


def show(request: HttpRequest, run: PracticeRun, problem: str = "", status: int = 200) -> HttpResponse:
    """The task to be answered; once it is handed in, what it was worth."""
    if run.task == HUNT:
        return hunt_views.show(request, run, problem, status)
    sheet, units = papers.sheet_in(run), units_of(request)
    if run.ended is None:
        context = {
            "run": run,
            "asked": asked(sheet, papers.answers_in(run), units, hinted=frozenset(run.hinted)),
            **sheet_context(sheet, units),
        }
        return render(request, "practice/sheet.html", context | {"problem": problem}, status=status)
    row = services.practised(run.person)[run.task]
    before = run.person.practice_runs.filter(task=run.task, ended__isnull=False, begun__lt=run.begun)[:5]
    context = {
        "run": run,
        "total": round(run.total or 0.0),
        "answered": answered(papers.marked_in(run), units),
        "comes": [words.text(units) for words in comes_of(run.task, rigs.ground_in(run), papers.answers_in(run))],
        "before": ", ".join(f"{one.total:.0f}" for one in before if one.total is not None),
        "due": row.due,
        **sheet_context(sheet, units),
    }
    return render(request, "practice/sheet_debrief.html", context | {"problem": problem}, status=status)


@forms_only
def answer(request: HttpRequest, number: int) -> HttpResponse:
    """Keeps what was answered; gives a hint; hands it in."""
    run, units = _on_paper(request, number), units_of(request)
    if run.ended is not None:
        return redirect("practice:run", run.pk)
    sheet = papers.sheet_in(run)
    answers, wrong = papers.typed_answers(sheet, dict(request.POST.lists()), units)
    try:
        papers.answer(run=run, answers=answers, hint=request.POST.get("hint", ""))
        if request.POST.get("done") and not wrong:
            papers.hand_in(run=run, answers=answers)
    except NoSuchStepError:  # handed in from another page meanwhile
        return redirect("practice:run", run.pk)
    if wrong:
        run.refresh_from_db()
        typed = {key: request.POST.get(f"q-{key}", "")[:40] for key in wrong}
        context = {
            "run": run,
            "problem": "Not taken: a number cannot be read. The others are kept.",
            "asked": asked(sheet, answers, units, hinted=frozenset(run.hinted), wrong=wrong, typed=typed),
            **sheet_context(sheet, units),
        }
        return render(request, "practice/sheet.html", context, status=UNPROCESSABLE)
    return redirect("practice:run", run.pk)


@forms_only
def once_more(request: HttpRequest, number: int) -> HttpResponse:
    """The same task again, with the same numbers or others."""
    run, person = run_for(request, number), actor(request)
    if run.task in ON_RIG:
        raise Http404
    try:
        try:
            made = papers.again(run=run, person=person, same=bool(request.POST.get("same")))
        except NoSuchStepError:
            # other numbers may make a case that this loop does not have: then the same once more
            made = papers.again(run=run, person=person, same=True)
    except NoSuchStepError as error:
        return show(request, run, tr("Not begun: {error}.", error=error), UNPROCESSABLE)
    return redirect("practice:run", made.pk)


def answers_open(run: PracticeRun, person: User) -> bool:
    """Whether somebody may see the answer sheet: once a run has ended, and a lead of another's at once."""
    return run.ended is not None or (run.person_id != person.pk and holds(person.role, "lead"))


def paper(request: HttpRequest, run: PracticeRun) -> HttpResponse:
    """A task on paper as a worksheet; its answer sheet once it is handed in, for a lead at once."""
    units, sheet = units_of(request), papers.sheet_in(run)
    answers = []
    if answers_open(run, actor(request)):
        marked = mark(sheet, sheet.masters())
        answers = [
            {"asks": one.question.asks.text(units), "right": right_of(one, units), "why": one.question.why.text(units)}
            for one in marked
        ]
    context = {
        "run": run,
        "name": TASKS[run.task],
        "firm": run.person.firm or "",
        "asked": asked(sheet, {}, units),
        "answers": answers,
        **sheet_context(sheet, units),
    }
    return render(request, "practice/paper.html", context)


def _learner(request: HttpRequest, number: int | None) -> User:
    """Oneself, or for a lead somebody of the firm. 404 for anybody else."""
    person = actor(request)
    if number is None or number == person.pk:
        return person
    if person.firm_id is None or not holds(person.role, "lead"):
        raise Http404
    return get_object_or_404(User, pk=number, firm=person.firm)


def certificate(request: HttpRequest, number: int | None = None, problem: str = "", status: int = 200) -> HttpResponse:
    """What somebody has practised and what was seen of the hand; it claims nothing else."""
    person, learner = actor(request), _learner(request, number)
    rows = services.practised(learner)
    context: dict[str, Any] = {
        "learner": learner,
        "today": timezone.localdate(),
        "rows": [(TASKS[key], row) for key, row in rows.items() if key in TASKS],
        "skills": learner.hand_skills.all(),
        "can_witness": learner.pk != person.pk and holds(person.role, "lead"),
        "kinds": SKILLS.items(),
        "problem": problem,
    }
    return render(request, "practice/certificate.html", context, status=status)


@forms_only
def witnessed(request: HttpRequest, number: int) -> HttpResponse:
    """A master writes down what was seen of somebody's hand."""
    learner = _learner(request, number)
    try:
        services.witness(
            person=learner,
            by=actor(request),
            skill=request.POST.get("skill", ""),
            words=request.POST.get("words", "").replace("\x00", ""),
        )
    except NoSuchStepError as error:
        return certificate(request, number, tr("Not written: {error}.", error=error), UNPROCESSABLE)
    return redirect("practice:certificate_of", learner.pk)
