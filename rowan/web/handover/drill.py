"""The drill after a factory reset: what the controller shows, line by line against the card."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from rowan.core.design.changes import locate
from rowan.web.care.settings_left import LeftRow, Typed, read_typed
from rowan.web.handover.pack import Pack
from rowan.web.house import services
from rowan.web.plans.selectors import actor, plan_of
from rowan.web.steps.page import frame
from rowan.web.ui.context import units_of
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import takes_forms

UNPROCESSABLE = 422
# of what a controller can be set to: it shows tenths
CLOSE = 0.05


@takes_forms
def drill(request: HttpRequest, job: int, letter: str) -> HttpResponse:
    """Type what the controller shows now; an empty line was not read."""
    plan = plan_of(request, job, letter)
    pack = Pack(plan, units_of(request))
    typed = read_typed(pack.sheet, request.POST.dict()) if request.method == "POST" else Typed({}, {}, {})
    context: dict[str, Any] = {**frame(plan, plan.head, pack.sheet, "handover"), "pack": pack}
    rows = [(row, request.POST.get(row.path, ""), typed.wrong.get(row.path, ("", ""))[1]) for row in pack.left]
    context["rows"] = rows
    if request.method != "POST" or typed.wrong:
        return render(request, "handover/drill.html", context, status=UNPROCESSABLE if typed.wrong else 200)
    read = [row for row in pack.left if _was_read(row, typed)]
    differ = {row.name: request.POST.get(row.path, "")[:40] for row in read if not _as_on_card(pack, row, typed)}
    try:
        services.read_again(plan=plan, person=actor(request), same=len(read) - len(differ), of=len(read), differ=differ)
    except WebError as error:
        return render(request, "handover/drill.html", {**context, "problem": f"{error}."}, status=UNPROCESSABLE)
    done = {"of": len(read), "same": len(read) - len(differ), "differ": differ}
    return render(request, "handover/drill.html", {**context, "done": done})


def _was_read(row: LeftRow, typed: Typed) -> bool:
    return typed.numbers.get(row.path) is not None or bool(typed.words.get(row.path))


def _as_on_card(pack: Pack, row: LeftRow, typed: Typed) -> bool:
    """Whether a setting stands as left, or as planned where nobody wrote down what was left."""
    kept = pack.plan.left_settings.filter(path=row.path).first()
    number = typed.numbers.get(row.path)
    planned = locate(pack.sheet.design, row.path).value
    if number is not None:
        wanted = kept.number if kept is not None and kept.number is not None else float(planned)
        return abs(number - wanted) <= CLOSE * max(abs(wanted), 1.0) / 10
    wanted_words = kept.words if kept is not None and kept.words else _plain(planned)
    return typed.words[row.path] == wanted_words


def _plain(value: object) -> str:
    """A flag or a choice as a form writes it."""
    return ("yes" if value else "no") if isinstance(value, bool) else str(value)
