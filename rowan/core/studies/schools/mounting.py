"""The school of what holds a field: hook on a batten, into the rafter, or into a block between rafters."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.fixings import FIXINGS, FixingKey, usual_fixing
from rowan.core.steps.roof.result import RoofResult
from rowan.core.steps.roof.stage import reckon_roof
from rowan.core.studies.schools.matter import Matter, Way
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change

LAPPED = ("tile", "slate", "shingle")  # coverings that have something under them to hold on to
NAMES: dict[FixingKey, str] = {"batten": "a hook on the batten", "block": "a block between rafters"}


def mounting_matters(design: Design) -> Iterator[Matter]:
    """What the field is held by under a lapped covering."""
    covering = design.survey.covering.value
    if not design.on_roof or design.roof.way.value == "integrated" or covering not in LAPPED:
        return
    usual = usual_fixing(covering)
    keys: list[FixingKey] = [usual, "block", "batten"]
    ways = []
    for key in keys:
        name = NAMES.get(key, f"{FIXINGS[key].name}, into the rafter")
        roof = reckon_roof(changed(design, [Change("roof.fixing", key)]))
        ways.append(Way(say(name), _comes_to(roof), design.fixing.key == key, key == usual))
    yield Matter(
        "fixing",
        "roof",
        "What holds it under the covering",
        tuple(ways),
        say("Into the rafter, or a block where none lies under the row: a batten holds by its nails alone."),
        "roof.fixing",
    )


def _comes_to(roof: RoofResult) -> Statement:
    """Feet, the hardest pull and what is held, or why it cannot be."""
    if roof.verdict == "dropped":
        return say("not on this covering: {verdict_reason}", verdict_reason=roof.verdict_reason)
    hardest = roof.hardest
    if hardest is None:
        return say("no line allows its rail")
    enough = hardest.up <= 0 or roof.holds_up / hardest.up >= roof.wanted
    return say(
        "{n} feet; the hardest is pulled with {f} and holds {h}{case}",
        case="" if enough else ": short of what is wanted",
        n=str(len(roof.feet)),
        f=Quantity(hardest.up, "force"),
        h=Quantity(roof.holds_up, "force"),
    )
