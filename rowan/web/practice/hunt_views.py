"""A house with a hidden fault: instruments, what each has shown, and what it was."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render

from rowan.core.practice.hunt import AIR_C, BY_INSTRUMENT, CURES, HUNTED, INSTRUMENTS, ROOM_C, judge, minutes_of, reads
from rowan.core.records.care.faults import BY_KEY
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown
from rowan.web.practice import papers, services
from rowan.web.practice.models import HUNT, PracticeRun
from rowan.web.practice.selectors import run_for
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import NoSuchStepError
from rowan.web.ui.methods import forms_only
from rowan.web.ui.problem import UNPROCESSABLE


def _hunt(request: HttpRequest, number: int) -> PracticeRun:
    """A hunt of one's own, or to be looked at. 404 for another task."""
    found = run_for(request, number)
    if found.task != HUNT:
        raise Http404
    return found


def show(request: HttpRequest, run: PracticeRun, problem: str = "", status: int = 200) -> HttpResponse:
    """The house, with what was looked at; once it is put right, what it was worth."""
    house, units = papers.house_in(run), units_of(request)
    seen = [(BY_INSTRUMENT[key], reads(house, key).text(units)) for key in run.turns]
    context: dict[str, Any] = {
        "run": run,
        "problem": problem,
        "shown": seen,
        "minutes": minutes_of(run.turns),
        "instruments": [one for one in INSTRUMENTS if one.key not in run.turns],
        "faults": sorted((BY_KEY[key].name, key) for key in HUNTED),
        "cures": CURES,
        "cellar": shown(ROOM_C, "temperature", units),
        "outside": shown(AIR_C, "temperature", units),
    }
    if run.ended is None:
        return render(request, "practice/hunt.html", context, status=status)
    named, cures = str(run.said.get("named", "")), tuple(run.said.get("cures", []))
    made = judge(house, tuple(run.turns), named=named, cures=cures)
    right, way = HUNTED[house.fault]
    by_key = {one.key: one for one in CURES}
    context |= {
        "total": round(run.total or 0.0),
        "fault": BY_KEY[house.fault],
        "named": BY_KEY[named].name if named in BY_KEY else "",
        "done": [by_key[key].name for key in cures if key in by_key],
        "cure": by_key[right].name,
        "verdict": made,
        "parts": (
            ("The fault named", made.named, 50),
            ("Put right, no part for nothing", made.cured, 20),
            ("In time", made.in_time, 30),
        ),
        "words": [words.text(units) for words in made.words],
        "masters": [(BY_INSTRUMENT[key], reads(house, key).text(units)) for key in way],
        "due": services.practised(run.person)[run.task].due,
    }
    return render(request, "practice/hunt_debrief.html", context, status=status)


@forms_only
def look(request: HttpRequest, number: int) -> HttpResponse:
    """Looks with an instrument."""
    run = _hunt(request, number)
    try:
        papers.use(run=run, instrument=request.POST.get("with", ""))
    except NoSuchStepError as error:
        if run.ended is None:
            return show(request, run, tr("Not done: {error}.", error=error), UNPROCESSABLE)
    return redirect("practice:run", run.pk)


@forms_only
def put_right(request: HttpRequest, number: int) -> HttpResponse:
    """Says what it is and does what is thought to put it right."""
    run = _hunt(request, number)
    try:
        papers.put_right(run=run, named=request.POST.get("named", ""), cures=tuple(request.POST.getlist("cure")))
    except NoSuchStepError as error:
        if run.ended is None:
            return show(request, run, tr("Not done: {error}.", error=error), UNPROCESSABLE)
    return redirect("practice:run", run.pk)


def on_paper(run: PracticeRun, units: System) -> dict[str, Any]:
    """The hunt as a worksheet: what can be looked at with its minutes, what it may be; the way of a master for the answer sheet."""
    house = papers.house_in(run)
    cure, way = HUNTED[house.fault]
    return {
        "lead": "“It does not do what it did.” Name the fault with as few minutes as you can; whoever has the answer sheet reads out what an "
        "instrument shows. What could hurt somebody costs most.",
        "what": "What can be looked at, and what it may be",
        "rows": [
            *((one.name, tr("{minutes} min", minutes=one.minutes)) for one in INSTRUMENTS),
            ("It may be", "; ".join(sorted(tr(BY_KEY[key].name) for key in HUNTED))),
        ],
        "found": f"{BY_KEY[house.fault].name}. {next(one.name for one in CURES if one.key == cure)}.",
        # every reading, for whoever reads them out; a master's way first
        "answers": [
            (
                tr("{minutes} min", minutes=BY_INSTRUMENT[key].minutes),
                BY_INSTRUMENT[key].name,
                reads(house, key).text(units),
            )
            for key in (*way, *(one.key for one in INSTRUMENTS if one.key not in way))
        ],
    }
