"""Collectors built into the roof: only where the covering sheds water round them, and what covering they save. Source: practice."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.goods.fixings import BUILT_IN_FROM_DEG
from rowan.core.steps.roof.result import PRACTICE, RoofResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding


def built_in_findings(design: Design) -> list[Finding]:
    """A roof too flat, or of a covering that takes no frame."""
    if design.roof.way.value != "integrated":
        return []
    least, pitch = BUILT_IN_FROM_DEG[design.survey.covering.value], design.survey.roof_tilt_deg.value
    if least is not None and round(pitch, 1) >= least:
        return []
    why = "This covering takes none: water would stand round the collectors."
    if least is not None:
        why = "At {p} rain driven up the slope comes under its flashing; with this covering {l} is the least. The maker of the frame says."
    return [
        Finding(
            key="built_in_flat",
            level="stop",
            stage="roof",
            part="collector",
            title=say("no frame is built into this roof"),
            reason=say(why, p=Quantity(pitch, "angle"), l=Quantity(least or 0.0, "angle")),
            quantity=Quantity(pitch, "angle"),
            limit=None if least is None else Quantity(least, "angle"),
            cures=(
                Cure(
                    say("Lay it over the covering"),
                    (Change("roof.way", "flush"), Change("roof.fixing", "usual")),
                ),
            ),
            source=PRACTICE,
        )
    ]


def built_in_figures(design: Design, roof: RoofResult) -> tuple[Figure, ...]:
    """The covering that a roof laid anew need not have under the field."""
    if design.roof.way.value != "integrated":
        return ()
    anew = design.roof.new_covering.value
    area = sum(row.width * row.height for row in roof.rows)
    return (
        closed_form(
            key="covering_saved",
            name="Covering saved",
            basis=say("on a roof that is covered anew" if anew else "none: the roof has its covering already"),
            dimension_name="area",
            sentence=say(
                "Built in, the collectors are the covering. That saves something only where the covering is not there yet."
            ),
            expression=Expression(
                "k * A",
                {"k": Symbol(1.0 if anew else 0.0, "k", "anew"), "A": Symbol(area, "A", "rows", "m²")},
            ),
            letter="A",
            result_unit="m²",
            source=PRACTICE,
            part="collector",
        ),
    )
