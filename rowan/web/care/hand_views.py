"""Read by hand: gauge, level and heat meter of a loop, what they say together, and the form that keeps one more."""

from __future__ import annotations

from typing import Any

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone

from rowan.core.fluid import MOST_SHARE, frost_point
from rowan.core.records.care.counters import Counted, Counter, between, usual_days
from rowan.core.records.care.fluid_age import fluid_age
from rowan.core.records.care.gauge_series import gauge_series, level_series, level_words, series_words
from rowan.core.records.logs.days import days_of
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Statement, say
from rowan.web.benches.sheet import sheet_of
from rowan.web.care import log_services
from rowan.web.care.gauge_drawing import gauge_course, level_course
from rowan.web.care.hand import (
    READABLE,
    ByHand,
    NotReadError,
    asked_by_hand,
    keep_reading,
    levels_of_nights,
    of_nights,
    readings_of,
    strike_out,
)
from rowan.web.house.models import DiaryEntry
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import Reckoned, reckoned
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.steps.page import frame
from rowan.web.ui.context import units_of
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.problem import UNPROCESSABLE

SHOWN = 12  # readings in the table; older ones stay in the drawing
HELP = {
    "gauge": "to the mark of the needle",
    "at_c": "empty: before sunrise, pump off",
    "level": "over its mark, cold and at rest; minus: under it",
    "heat": "as its counter stands",
    "ran": "as the controller counts them",
}


@takes_forms
def by_hand(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """What was read by hand, and one more reading."""
    plan = plan_of(request, job, letter)
    found, wrong, status = reckoned(plan.head), {}, 200
    asked = asked_by_hand(found.design)
    if request.method == "POST":
        try:
            keep_reading(
                plan=plan, person=actor(request), typed=request.POST.dict(), asked=asked, units=units_of(request)
            )
        except NotReadError as error:
            wrong, status = error.wrong, UNPROCESSABLE
        else:
            return redirect("care:by_hand", plan.job_id, plan.letter)
    context = {
        **_context(request, plan, found),
        "wrong": wrong,
        "today": request.POST.get("day", "") or timezone.localdate().isoformat(),
    }
    context["fields"] = [
        {
            "key": key,
            "name": READABLE[key][1].capitalize(),
            "dimension": READABLE[key][0],
            "typed": request.POST.get(key, ""),
            "help": HELP[key],
            "wrong": wrong.get(key, ""),
        }
        for key in asked
    ]
    return render(request, "care/by_hand.html", context, status=status)


def _context(request: HttpRequest, plan: Plan, found: Reckoned) -> dict[str, Any]:
    units, design = units_of(request), found.design
    read, log = readings_of(plan), log_services.log_of(plan)
    zone_h = log_services.zone_in(plan, design.survey.longitude_deg.value)
    days = days_of(log, zone_h=zone_h) if log is not None else None
    nights = of_nights(days) if days is not None else []
    levels_read = [*read.levels, *(levels_of_nights(days) if days is not None and design.drains else [])]
    series = gauge_series(design, found.result, [*read.gauges, *nights])
    levels = level_series(levels_read)
    context: dict[str, Any] = {
        **frame(plan, plan.head, sheet_of(plan, units), "by_hand"),
        "entries": read.entries[:SHOWN],
        "more": max(len(read.entries) - SHOWN, 0),
        "verdict": _verdict(series, levels),
        "series": series,
        "levels": levels,
        "nights": len(nights) or any(one.who == "the log" for one in levels_read),
        "tub": _tub(found),
        "sealed": design.sealed,
        "age": fluid_age(design, found.result, log) if log is not None and design.sealed else None,
    }
    if series is not None:
        context |= {"drawing": gauge_course(series, units).svg(), "points": series.points[-1 : -SHOWN - 1 : -1]}
    elif levels is not None:
        context["drawing"] = level_course(levels, units).svg()
    try:
        context["counted"] = [
            (name, dimension, between(usual_days(design, found.result, of), rows)[::-1])
            for name, dimension, of, rows in _counted(read)
            if len(rows) > 1
        ]
    except RowanError as error:
        context["not_counted"] = error.text(units)
    return context


def _counted(read: ByHand) -> tuple[tuple[str, str, Counted, tuple[Counter, ...]], ...]:
    """Counters that were read: what each is called, its kind of number, what of a usual year it is held against."""
    return (
        ("By the heat meter", "energy", "coil", read.heats),
        ("By the pump's hours", "hours", "pump_time", read.ran),
    )


def _verdict(series: Any, levels: Any) -> Statement:
    if series is not None:
        return series_words(series)
    if levels is not None:
        return level_words(levels)
    return say("Nothing was read by hand yet")


def _tub(found: Reckoned) -> dict[str, Any] | None:
    """The mix as it is by the fluid's log, where that has a line."""
    tub = found.result.tub
    if tub is None or not found.design.charge.log or not found.design.glycol_share:
        return None
    freezes, coldest = (
        frost_point(volume_share=min(max(tub.now, 0.0), MOST_SHARE)),
        found.design.survey.design_minimum_c.value,
    )
    return {"now": tub.now, "freezes": freezes, "coldest": coldest, "is_weak": freezes > coldest}


@forms_only
def strike(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Strike a reading out."""
    plan = plan_of(request, job, letter)
    number = request.POST.get("entry", "")
    entry = (
        plan.job.diary.filter(pk=int(number), kind=DiaryEntry.Kind.READ).first()
        if number.isdecimal() and len(number) < 12
        else None
    )
    if entry is None or entry.data.get("plan") != plan.letter or "strikes" in entry.data:
        raise Http404
    strike_out(entry=entry, person=actor(request))
    return redirect("care:by_hand", plan.job_id, plan.letter)
