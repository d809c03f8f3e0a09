"""The page that says what was not done, and why."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render

from rowan.core.terms.language import tr
from rowan.web.ui.sentences import sentence

UNPROCESSABLE = 422


def problem(request: HttpRequest, title: str, words: str, status: int = UNPROCESSABLE, **more: Any) -> HttpResponse:
    """A page of its own: what was not done as its title, and the reason [as errors word it] as a sentence."""
    return render(request, "ui/problem.html", {"title": tr(title), "text": sentence(tr(words)), **more}, status=status)
