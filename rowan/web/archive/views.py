"""Archives over HTTP: out as a download that shows its own progress, in by looking first and picking then."""

from __future__ import annotations

import re
import tempfile
import time
import uuid
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import IO, Any

from django.http import HttpRequest, HttpResponse, StreamingHttpResponse
from django.shortcuts import redirect, render

from rowan.folders import data_folder
from rowan.web.archive.reader import ArchiveRefusedError, index_of, inside, opened, take_in
from rowan.web.archive.writer import write_archive
from rowan.web.plans.selectors import actor, firm_of, job_of
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import forms_only
from rowan.web.ui.problem import problem

PIECE = 256 * 1024  # bytes that are sent at once
KEPT_S = 24 * 3600.0  # s, a file that was looked at and never taken in
REFUSED = "Nothing was taken in"
NAME = re.compile(r"[0-9a-f]{32}")


def _sent(write: Callable[[IO[bytes]], None], name: str) -> StreamingHttpResponse:
    """What is written, as a download: made on disk when it is asked for, sent piece by piece, gone afterwards."""

    def pieces() -> Iterator[bytes]:
        with tempfile.TemporaryFile() as made:
            write(made)
            made.seek(0)
            while piece := made.read(PIECE):
                yield piece

    answer = StreamingHttpResponse(pieces(), content_type="application/zip")
    answer["Content-Disposition"] = f'attachment; filename="{name}"'
    return answer


def archive(request: HttpRequest) -> HttpResponse:
    """What can be taken out and in."""
    return render(request, "archive/archive.html", {"jobs": firm_of(request).jobs.count()})


def firm_zip(request: HttpRequest) -> StreamingHttpResponse:
    """The firm's whole book: every job with its customer, goods, places, weather."""
    firm = firm_of(request)
    jobs = firm.jobs.order_by("pk")
    return _sent(lambda into: write_archive(into, jobs, customers=True, firm=firm), "firm.zip")


def job_zip(request: HttpRequest, job: int) -> StreamingHttpResponse:
    """One whole job: plans with their history, runs, photographs; its customer if wanted."""
    found = job_of(request, job)
    customers = request.GET.get("customer") == "yes"
    return _sent(lambda into: write_archive(into, [found], customers=customers), f"job-{found.pk}.zip")


def _incoming(request: HttpRequest) -> Path:
    """Where files lie that were looked at; what nobody took in within a day is thrown away."""
    folder = data_folder() / "incoming" / str(firm_of(request).pk)
    folder.mkdir(parents=True, exist_ok=True)
    for old in folder.glob("*.zip"):
        if time.time() - old.stat().st_mtime > KEPT_S:
            old.unlink(missing_ok=True)
    return folder


@forms_only
def look(request: HttpRequest) -> HttpResponse:
    """What a file holds, before anything of it is taken in."""
    file = request.FILES.get("file")
    if file is None:
        return problem(request, REFUSED, "choose a file first")
    path = _incoming(request) / f"{uuid.uuid4().hex}.zip"
    with path.open("wb") as into:
        for chunk in file.chunks():
            into.write(chunk)
    try:
        with path.open("rb") as found:
            zipped = opened(found)
            context: dict[str, Any] = {
                "rows": inside(zipped, firm_of(request)),
                "head": index_of(zipped),
                "key": path.stem,
            }
    except ArchiveRefusedError as error:
        path.unlink(missing_ok=True)
        return problem(request, REFUSED, str(error))
    return render(request, "archive/inside.html", context)


@forms_only
def take(request: HttpRequest) -> HttpResponse:
    """Take in what was picked."""
    key = request.POST.get("key", "")
    path = _incoming(request) / f"{key}.zip"
    if not NAME.fullmatch(key) or not path.exists():
        return problem(request, REFUSED, "this file is no longer here: send it again")
    picked = set(request.POST.getlist("job"))
    if not picked:
        return problem(request, REFUSED, "no job was picked")
    try:
        with path.open("rb") as found:
            made = take_in(opened(found), firm=firm_of(request), person=actor(request), picked=picked)
    except WebError as error:
        return problem(request, REFUSED, str(error))
    path.unlink(missing_ok=True)
    if len(made) == 1:
        return redirect("dates:job", made[0].pk)
    return redirect("jobs:list")
