"""Pages for what went wrong."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """404, worded for people."""
    return render(
        request,
        "ui/problem.html",
        {"title": "Not here", "text": "There is no such page, or it is not yours to see."},
        status=404,
    )


def server_error(request: HttpRequest) -> HttpResponse:
    """500, worded for people."""
    text = "Rowan stumbled over this page. Nothing you saved is lost; go back and try again."
    return render(request, "ui/problem.html", {"title": "Something broke", "text": text}, status=500)


def csrf_failed(request: HttpRequest, reason: str = "") -> HttpResponse:
    """403 for a form that is too old."""
    text = "This page was open too long to be sent safely. Go back, reload it and send it again."
    return render(request, "ui/problem.html", {"title": "Too old to send", "text": text}, status=403)
