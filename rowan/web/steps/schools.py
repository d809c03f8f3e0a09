"""The page of schools: what installers differ on, by step, each way with what it comes to on this job."""

from __future__ import annotations

from itertools import groupby
from typing import Any

from rowan.core.studies.schools import DEFERS, Matter, matters
from rowan.web.benches.bench import STEPS, Sheet
from rowan.web.editing.blanks import blank

# steps whose bench has a link to its part of the page
WITH_SCHOOLS = ("store", "roof", "run", "charge", "control", "commission")


def schools_context(sheet: Sheet) -> dict[str, Any]:
    """The matters of a plan by step, each with the input that settles it."""
    found = matters(sheet.design, sheet.result, measured=sheet.measured)
    names = dict(STEPS)
    groups = [
        (step, names[step], [(matter, _settled(sheet, matter)) for matter in group])
        for step, group in groupby(found, key=lambda matter: matter.step)
    ]
    followed = sum(any(way.planned and way.ours for way in matter.ways) for matter in found)
    return {"groups": groups, "matter_count": len(found), "followed": followed, "defers": DEFERS}


def _settled(sheet: Sheet, matter: Matter) -> Any:
    return blank(sheet.design, matter.path, sheet.units) if matter.path else None
