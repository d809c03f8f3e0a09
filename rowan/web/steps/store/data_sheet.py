"""A store typed from its data sheet."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, get_args

from pydantic import ValidationError

from rowan.core.goods.items import StoreItem
from rowan.core.records.store_sheet import LossForm, loss_by_area, store_doubts, tank_surface
from rowan.core.terms.errors import RowanError
from rowan.core.terms.units import LITRE, LITRE_H, System
from rowan.web.editing.sheet_fields import Field, Row, filled, typed

NUMBERS = (
    Row("contents_l", "holds", "tank", LITRE),
    Row("diameter_m", "width inside its coat", "length"),
    Row("dry_mass_kg", "dry mass", "mass"),
    Row("coil_area_m2", "area of the loop's coil", "area"),
    Row("coil_contents_l", "the coil holds", "volume", LITRE),
    Row("coil_bottom_m", "coil, lower port over the foot", "length"),
    Row("coil_top_m", "coil, upper port over the foot", "length"),
    Row("coil_rated_gauge_pa", "the coil stands", "pressure"),
    Row("tap_rated_gauge_pa", "the drinking-water side stands", "pressure"),
)
TAP_COIL = Row("tap_coil_m2", "area of a coil for the taps", "area", optional=True)
DROP = (Row("drop_flow", "coil's drop: at a flow of", "flow", LITRE_H), Row("drop_pa", "it is", "pressure"))
# the one number that stands for what it loses, in the unit it is printed in
LOSSES = {
    "area": Row("loss", "loses by area", "loss_per_area"),
    "day": Row("loss", "loses in a day, 65 °C in 20 °C", "small_energy"),
    "power": Row("loss", "loses standing, 65 °C in 20 °C", "electric_power"),
}
FORMS: tuple[LossForm, ...] = get_args(LossForm)
COILS = ("plain", "finned", "wrapped")


def _form(post: Mapping[str, str] | None) -> LossForm:
    asked = (post or {}).get("loss_form", "area")
    return next((form for form in FORMS if form == asked), "area")


def _rows(form: LossForm) -> tuple[Row, ...]:
    return (*NUMBERS, TAP_COIL, *DROP, LOSSES[form])


def store_fields(item: StoreItem, units: System) -> dict[str, Field]:
    """The fields filled from a store."""
    return filled(_rows("area"), _values(item), units)


def _values(item: StoreItem) -> dict[str, float | None]:
    values: dict[str, float | None] = {row.key: getattr(item, row.key) for row in (*NUMBERS, TAP_COIL)}
    flow, drop = item.coil_drop_l_h_pa
    return values | {"drop_flow": flow, "drop_pa": drop, "loss": item.loss_w_m2k}


def store_from(
    post: Mapping[str, str], base: StoreItem, units: System
) -> tuple[StoreItem | None, dict[str, Field], str]:
    """The store that was typed, or None with the fields and what is wrong; `base` brings what no field asks for."""
    form = _form(post)
    before = _values(base)
    if form != "area":
        del before["loss"]  # kept by area: in another form it is another number
    fields, values = typed(_rows(form), post, units, before)
    if any(field.wrong for field in fields.values()):
        return None, fields, ""
    try:
        return _item(post, values, base, form), fields, ""
    except RowanError as error:
        return None, fields, error.text(units)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        return None, fields, f"{'.'.join(str(part) for part in first['loc'])}: {first['msg']}"


def _item(post: Mapping[str, str], found: Mapping[str, float | None], base: StoreItem, form: LossForm) -> StoreItem:
    values = {key: value for key, value in found.items() if value is not None}
    data: dict[str, Any] = base.model_dump() | {row.key: found[row.key] for row in (*NUMBERS, TAP_COIL)}
    surface = tank_surface(volume=values["contents_l"] * LITRE, diameter=values["diameter_m"])
    coil = post.get("coil_kind", "")
    data |= {
        "name": (post.get("name", "").strip() or "typed store")[:80],
        "coil_kind": coil if coil in COILS else base.coil_kind,
        "twin_coil": post.get("twin_coil") == "yes",
        "unpressurised": post.get("unpressurised") == "yes",
        "coil_drop_l_h_pa": (values["drop_flow"], values["drop_pa"]),
        "loss_w_m2k": round(loss_by_area(form=form, loss=values["loss"], surface=surface), 4),
    }
    return StoreItem.model_validate(data)


def store_context(
    item: StoreItem, fields: dict[str, Field], post: Mapping[str, str] | None = None, problem: str = ""
) -> dict[str, Any]:
    """What the page shows."""
    said, form = post or {}, _form(post)
    yes = {"twin_coil": item.twin_coil, "unpressurised": item.unpressurised}
    coil = said.get("coil_kind", item.coil_kind)
    return {
        "name": said.get("name", item.name),
        "coils": [(kind, kind == coil) for kind in COILS],
        "forms": [(key, LOSSES[key].label, key == form) for key in FORMS],
        "flags": {key: said.get(key, "yes" if value else "no") for key, value in yes.items()},
        "loss": fields["loss"],
        "rest": [fields[row.key] for row in (*NUMBERS, TAP_COIL, *DROP)],
        "wrong": [field for field in fields.values() if field.wrong],
        "problem": problem,
        "doubts": store_doubts(item) if post is None else (),
        "item": item,
    }
