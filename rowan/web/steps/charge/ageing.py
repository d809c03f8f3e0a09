"""How the fluid ages: its pH by the hours the plan's own year stands hot."""

from __future__ import annotations

from rowan.core.steps.charge.tub import ageing
from rowan.core.terms.figure import Quantity, say
from rowan.web.benches.bench import Sheet
from rowan.web.steps.charge.fluid_drawing import ageing_drawing
from rowan.web.studies.kinds import Outcomes, RunKind, Told
from rowan.web.studies.lines import waiting_drawing
from rowan.web.studies.work import Variant


def variants(sheet: Sheet) -> tuple[Variant, ...]:
    """The plan's own year."""
    return (Variant("this plan", sheet.design, 0),)


def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
    """The line of the pH, and in how many years the fluid is spent."""
    found = outcomes[0]
    if found is None or found.year is None:
        return Told(None, waiting_drawing(sheet, found, "How the fluid ages"))
    standing = found.year.total("stagnation_time")
    lasts = ageing(sheet.design, standing).lasts
    hot = Quantity(standing, "hours")
    if lasts is None:
        verdict = say("By these rates it never turns sour.")
    else:
        verdict = say(
            "It should last {y}: this loop stands hot {h} a year.", y=Quantity(max(lasts, 0.0), "years", 0), h=hot
        )
    return Told(verdict, ageing_drawing(sheet, standing))


AGEING = RunKind("ageing", "How the fluid ages", variants, tell, count=lambda _: 1)
