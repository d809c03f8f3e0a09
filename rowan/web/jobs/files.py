"""Job files that people drop on the page."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import PurePath

from django.core.files.uploadedfile import UploadedFile

from rowan.core.design.design import Design
from rowan.core.design.job_file import load, too_large
from rowan.core.reckon import reckon
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import System
from rowan.web.ui.errors import WebError

MOST_FILES = 20


class RefusedFileError(WebError):
    """A file that cannot be taken in; the text names it and says why."""


def read_files(files: Sequence[UploadedFile[bytes]], units: System) -> list[tuple[str, Design]]:
    """Name and design of each file; nothing is taken in if one of them cannot be. Raises RefusedFileError."""
    if not files:
        raise RefusedFileError("Choose a job file first, or drop one here.")
    if len(files) > MOST_FILES:
        raise RefusedFileError(tr("{files} files at once; up to {most} are taken.", files=len(files), most=MOST_FILES))
    found = []
    for file in files:
        name = PurePath(file.name or "job file").name[:80]
        try:
            long = too_large(file.size or 0)
            if long:
                raise long
            design = load(file.read())
            reckon(design)
        except RowanError as error:
            raise RefusedFileError(
                tr("{name} is not taken in. {units}.", name=name, units=error.text(units))
            ) from error
        found.append((PurePath(name).stem, design))
    return found
