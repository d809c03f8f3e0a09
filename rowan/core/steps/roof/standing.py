"""Rows that stand behind each other, and a lower edge over the snow. Source: methods 12."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.steps.roof.result import PRACTICE
from rowan.core.steps.site.rows import MOST_LOSS, loss_at, pitch_by_loss, rows_behind
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

LEAST_EDGE_OVER_GROUND_M = 0.45  # m, practice: the roof
BETTER_EDGE_M = 2 * LEAST_EDGE_OVER_GROUND_M  # m, practice: the roof


def _length(value: float) -> Quantity:
    return Quantity(value, "length")


def standing_rows(design: Design) -> list[Finding]:
    """Rows that stand so close that they take the sun from each other."""
    rows = rows_behind(design)
    if rows is None or design.roof.row_pitch_m.value is None:
        return []
    loss = loss_at(design, rows.pitch)
    if round(loss, 3) <= MOST_LOSS:
        return []
    enough = pitch_by_loss(design)
    cures = [Cure(say("By the winter sun"), (Change("roof.row_pitch_m", None),), "solar_share")]
    if enough is not None:
        enough = math.ceil(enough * 10) / 10
        cures.insert(
            0, Cure(say("{p} from row to row", p=_length(enough)), (Change("roof.row_pitch_m", enough),), "solar_share")
        )
    return [
        Finding(
            key="rows_shade",
            level="fix",
            stage="roof",
            part="collector",
            title=say("the rows stand in each other's shade"),
            reason=say(
                "At {p} from row to row they take {l} of the year's sun from each other; {m} are borne.",
                p=_length(rows.pitch),
                l=Quantity(loss, "share_fine"),
                m=Quantity(MOST_LOSS, "share"),
            ),
            quantity=Quantity(loss, "share_fine"),
            limit=Quantity(MOST_LOSS, "share_fine"),
            cures=tuple(cures),
            source=methods(12),
        )
    ]


def standing_edge(design: Design) -> list[Finding]:
    """The lower edge of a field on the ground stands over the snow that slides off it."""
    edge = design.roof.lower_edge_m.value
    if (
        design.roof.way.value != "ground"
        or round(edge, 2) >= LEAST_EDGE_OVER_GROUND_M
        or design.roof.snow_pa.value <= 0
    ):
        return []
    return [
        Finding(
            key="edge_in_snow",
            level="fix",
            stage="roof",
            part="collector",
            title=say("the lower edge will stand in snow"),
            reason=say(
                "It is {e} over the ground; what slides off the glass piles up there. {l} at least, {b} is better.",
                e=_length(edge),
                l=_length(LEAST_EDGE_OVER_GROUND_M),
                b=_length(BETTER_EDGE_M),
            ),
            quantity=_length(edge),
            limit=_length(LEAST_EDGE_OVER_GROUND_M),
            cures=(
                Cure(say("Raise it to {b}", b=_length(BETTER_EDGE_M)), (Change("roof.lower_edge_m", BETTER_EDGE_M),)),
            ),
            source=PRACTICE,
        )
    ]
