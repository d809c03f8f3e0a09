"""The method pages over HTTP."""

from __future__ import annotations

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import render

from rowan.core.terms.glossary import GLOSSARY
from rowan.web.methods.pages import job_file_page, pages


def index(request: HttpRequest) -> HttpResponse:
    """How Rowan reckons: every page."""
    return render(request, "methods/index.html", {"pages": pages().values()})


def page(request: HttpRequest, number: int) -> HttpResponse:
    """One page, as figures cite it."""
    found = pages()
    if number not in found:
        raise Http404
    return render(request, "methods/page.html", {"page": found[number], "pages": found.values()})


def glossary(request: HttpRequest) -> HttpResponse:
    """The trade's words as they are used here."""
    return render(request, "methods/glossary.html", {"terms": GLOSSARY, "pages": pages().values()})


def job_file(request: HttpRequest) -> HttpResponse:
    """What the job file is."""
    return render(request, "methods/page.html", {"page": job_file_page(), "pages": pages().values()})
