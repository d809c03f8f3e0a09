"""A vessel typed from its data sheet or its plate."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any, cast

from rowan.core.design.design import Design
from rowan.core.design.inputs.base import spec_of
from rowan.core.design.inputs.charge import ChargeInputs
from rowan.core.records.vessel_sheet import VesselSheet, sheet_of_vessel, vessel_changes, vessel_doubts
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, System
from rowan.web.editing.blanks import limits_text
from rowan.web.editing.sheet_fields import Field, Row, filled, typed

ROWS = (
    Row("contents_l", "holds", "tank", LITRE),
    Row("takes_l", "liquid it takes at most", "tank", LITRE, optional=True),
    Row("rated_gauge_pa", "it stands", "pressure"),
    Row("works_gauge_pa", "comes charged to", "pressure", optional=True),
    Row("membrane_c", "its membrane stands", "temperature"),
)

# the inputs whose limits hold for what is typed
INPUTS = {
    "contents_l": "vessel_l",
    "rated_gauge_pa": "vessel_rated_gauge_pa",
    "works_gauge_pa": "vessel_works_gauge_pa",
    "membrane_c": "membrane_c",
}


def _values(sheet: VesselSheet) -> dict[str, float | None]:
    return {row.key: getattr(sheet, row.key) for row in ROWS}


def vessel_fields(design: Design, units: System) -> dict[str, Field]:
    """The fields filled from the plan's vessel."""
    return filled(ROWS, _values(sheet_of_vessel(design)), units)


def vessel_from(post: Mapping[str, str], design: Design, units: System) -> tuple[list[Change], dict[str, Field], str]:
    """What was typed as changes of the plan; none, with the fields and what is wrong, where it cannot be."""
    fields, values = typed(ROWS, post, units, _values(sheet_of_vessel(design)))
    for key, name in INPUTS.items():
        spec, value = spec_of(ChargeInputs, name), values.get(key)
        if spec is not None and value is not None and spec.refuse(value):
            fields[key] = replace(
                fields[key], wrong=tr("allowed is {limits_text}", limits_text=limits_text(spec, units))
            )
    if any(field.wrong for field in fields.values()):
        return [], fields, ""
    try:
        return vessel_changes(design, VesselSheet(**cast("dict[str, Any]", values))), fields, ""
    except RowanError as error:
        return [], fields, error.text(units)


def vessel_context(design: Design, fields: dict[str, Field], units: System, problem: str = "") -> dict[str, Any]:
    """What the page shows."""
    sheet = sheet_of_vessel(design)
    return {
        "fields": list(fields.values()),
        "wrong": [field for field in fields.values() if field.wrong],
        "problem": problem,
        "doubts": [doubt.text(units) for doubt in vessel_doubts(sheet)],
        "gas_share": design.charge.vessel_gas_share.value,
        "sealed": design.sealed,
    }
