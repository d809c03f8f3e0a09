"""Pages for what went wrong."""

from __future__ import annotations

import shutil
import sys
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.decorators import login_not_required
from django.db import OperationalError, connection
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.utils.html import format_html, format_html_join

from rowan.core.reckon import ENGINE_VERSION
from rowan.core.terms.language import spoken, tr
from rowan.web.ui.context import is_piece

WORKER = Path(__file__).parent / "static" / "rowan" / "worker.js"
WORDS = WORKER.parent / "words"  # of the scripts, by language
UNAVAILABLE = 503
LEAST_ROOM = 50_000_000  # bytes of disk under which somebody has to look
UNSHOWN = ("csrfmiddlewaretoken", "password", "sent", "late", "revision", "bench", "next")
KEPT = "Nothing that was saved before is lost."
# of a change that the page's script sent, and of a plain form, which the browser shows again as it was typed
BY_ITSELF = " What you sent is shown below, and your browser keeps it and sends it again by itself."
BY_HAND = " What you sent is shown below: go back, where it still stands, and send it again then."
# by a part of what the database says
STORAGE: tuple[tuple[str, tuple[str, str]], ...] = (
    ("full", ("The server's disk is full", "Nothing can be saved until whoever runs it makes room. ")),
    ("locked", ("The server is busy saving", "Somebody else's change takes longer than usual. ")),
    ("readonly", ("The server may only read", "Its disk takes no changes: whoever runs it has to look. ")),
    ("unable to open", ("The server cannot reach its data", "Whoever runs it has to look. ")),
)
STORAGE_ELSE = ("The server cannot save", "Its disk did not take it: whoever runs it has to look. ")


@login_not_required
def health(request: HttpRequest) -> JsonResponse:
    """That this process answers."""
    return JsonResponse({"answers": True, "engine_version": ENGINE_VERSION})


@login_not_required
def ready(request: HttpRequest) -> JsonResponse:
    """Whether people can work: the database is read, and there is room to save. 503 where not, with what is wrong."""
    wrong = []
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except OperationalError as error:
        wrong.append(_storage_words(str(error))[0])
    room = shutil.disk_usage(settings.VAR).free
    if room < LEAST_ROOM:
        wrong.append(tr("{room} MB of disk are left", room=f"{room / 1e6:.0f}"))
    return JsonResponse({"ready": not wrong, "wrong": wrong}, status=UNAVAILABLE if wrong else 200)


@login_not_required
def worker(request: HttpRequest) -> HttpResponse:
    """The script that shows pages without signal; asked for anew each time, so that it is never an old one."""
    key = spoken().key
    words = (WORDS / f"{key}.js").read_text(encoding="utf-8") if (WORDS / f"{key}.js").is_file() else ""
    script = f'{words}self.rowanLanguage = "{key}";\n{WORKER.read_text(encoding="utf-8")}'
    answer = HttpResponse(script, content_type="text/javascript; charset=utf-8")
    answer["Cache-Control"] = "no-cache"
    return answer


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """404, worded for people."""
    return render(
        request,
        "ui/problem.html",
        {"title": "Not here", "text": "There is no such page, or it is not yours to see."},
        status=404,
    )


def server_error(request: HttpRequest) -> HttpResponse:
    """500, worded for people; 503 where it is the server's disk that could not take it, by its name and with what was typed."""
    failed = sys.exc_info()[1]
    if isinstance(failed, OperationalError):
        title, text = _storage_words(str(failed))
        if request.method == "POST":
            text += tr(BY_ITSELF if is_piece(request) else BY_HAND)
        return _safe(request, {"title": title, "text": text, "typed": _typed(request)}, status=UNAVAILABLE)
    text = "Rowan stumbled over this page. Nothing you saved is lost; go back and try again."
    return _safe(request, {"title": "Something broke", "text": text, "typed": _typed(request)}, status=500)


def _storage_words(told: str) -> tuple[str, str]:
    """What is wrong with where everything is kept, and what to do, by what the database says."""
    said = told.lower()
    title, why = next((words for part, words in STORAGE if part in said), STORAGE_ELSE)
    return tr(title), tr(why) + tr(KEPT)


def _typed(request: HttpRequest) -> list[tuple[str, str]]:
    """What a form brought that was not saved, without its secrets."""
    try:
        return [(key, str(value)) for key, value in request.POST.items() if key not in UNSHOWN and value]
    except Exception:
        return []


def _safe(request: HttpRequest, context: dict[str, Any], status: int) -> HttpResponse:
    """The page of a problem, also where not even the session can be read any more."""
    try:
        return render(request, "ui/problem.html", context, status=status)
    except Exception:
        rows = format_html_join("", "<li>{}: {}</li>", context["typed"])
        page = format_html(
            "<!DOCTYPE html><html lang='en'><title>{}</title><main><h1>{}</h1><p>{}</p><ul>{}</ul></main></html>",
            context["title"],
            context["title"],
            context["text"],
            rows,
        )
        return HttpResponse(page, status=status)


def csrf_failed(request: HttpRequest, reason: str = "") -> HttpResponse:
    """403 for a form that is too old."""
    text = "This page was open too long to be sent safely. Nothing was saved; what you typed stands below. Go back, reload and send it again."
    answer = render(
        request, "ui/problem.html", {"title": "Too old to send", "text": text, "typed": _typed(request)}, status=403
    )
    # the page's script asks for a new token then, and for nothing after any other refusal
    answer["X-Rowan-Token"] = "old"
    return answer
