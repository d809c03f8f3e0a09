"""A collector typed from its data sheet."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import ValidationError

from rowan.core.goods.items import CollectorItem
from rowan.core.records.data_sheet import Sheet, plausibility, rating_on_aperture
from rowan.core.terms.errors import RowanError, TypedNumberError
from rowan.core.terms.expression import significant
from rowan.core.terms.units import LITRE, LITRE_H, System, dimension, typed_to_si, unit_label

KINDS = ("flat", "tube", "heat pipe", "unglazed", "hybrid", "concentrating")
# key, label, dimension, scale of the stored value to SI
NUMBERS: tuple[tuple[str, str, str, float], ...] = (
    ("aperture_m2", "aperture", "area", 1.0),
    ("gross_m2", "gross area", "area", 1.0),
    ("width_m", "width", "length", 1.0),
    ("slope_length_m", "length up the slope", "length", 1.0),
    ("b0", "b0 of the incidence factor", "efficiency", 1.0),
    ("k_d", "factor for diffuse light", "efficiency", 1.0),
    ("contents_l", "holds", "volume", LITRE),
    ("dry_mass_kg", "dry mass", "mass", 1.0),
    ("flow_l_h", "flow recommended", "flow", LITRE_H),
    ("least_flow_l_h", "flow, least", "flow", LITRE_H),
    ("most_flow_l_h", "flow, most", "flow", LITRE_H),
    ("rated_gauge_pa", "highest pressure", "pressure", 1.0),
    ("least_tilt_deg", "least tilt", "angle", 1.0),
    ("most_tilt_deg", "greatest tilt", "angle", 1.0),
    ("price", "price of one", "money", 1.0),
)
RATING: tuple[tuple[str, str, str], ...] = (
    ("gain", "η0, or intercept", "efficiency"),
    ("loss", "a1, or slope", "a1"),
    ("curve", "a2; 0 with a slope", "a2"),
)
DROPS = (
    ("drop_low", "pressure drop at the recommended flow", "pressure"),
    ("drop_high", "pressure drop at the most flow", "pressure"),
)
TEST_FLOW = ("test_flow", "flow of the test", "flow", LITRE_H)


@dataclass(frozen=True)
class Field:
    """One field of the sheet as it stands, with its unit and what is wrong with it."""

    key: str
    label: str
    typed: str
    unit: str
    wrong: str = ""
    help: str = ""


def _shown(si: float, dimension_name: str, units: System) -> str:
    text = significant(dimension(dimension_name).unit(units).from_si(si), 5)
    return text.replace("\N{NARROW NO-BREAK SPACE}", "")


def fields_of(item: CollectorItem, units: System) -> dict[str, Field]:
    """The fields filled from a collector."""
    made = {
        key: Field(key, label, _shown(getattr(item, key) * scale, name, units), unit_label(name, units))
        for key, label, name, scale in NUMBERS
    }
    rating = {"gain": item.eta0, "loss": item.a1_w_m2k, "curve": item.a2_w_m2k2}
    made |= {
        key: Field(key, label, _shown(rating[key], name, units), unit_label(name, units)) for key, label, name in RATING
    }
    ends = {"drop_low": item.drop_points_l_h_pa[0][1], "drop_high": item.drop_points_l_h_pa[-1][1]}
    made |= {
        key: Field(key, label, _shown(ends[key], name, units), unit_label(name, units)) for key, label, name in DROPS
    }
    key, label, name, scale = TEST_FLOW
    made[key] = Field(key, label, _shown(item.flow_l_h * scale, name, units), unit_label(name, units))
    return made


def item_from(
    post: Mapping[str, str], base: CollectorItem, units: System
) -> tuple[CollectorItem | None, dict[str, Field], str]:
    """The collector that was typed, or None with the fields and what is wrong; `base` brings what no field asks for."""
    fields, values = {}, {}
    names = [(k, label, name, scale) for k, label, name, scale in NUMBERS]
    names += [(k, label, name, 1.0) for k, label, name in (*RATING, *DROPS)]
    for key, label, name, scale in (*names, TEST_FLOW):
        text, wrong = post.get(key, "").strip(), ""
        try:
            values[key] = typed_to_si(text, name, units) / scale
        except TypedNumberError as error:
            wrong = str(error)
        fields[key] = Field(key, label, text, unit_label(name, units), wrong)
    if any(field.wrong for field in fields.values()):
        return None, fields, ""
    try:
        return _item(post, values, base), fields, ""
    except RowanError as error:
        return None, fields, error.text(units)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        return None, fields, f"{'.'.join(str(part) for part in first['loc'])}: {first['msg']}"


def _item(post: Mapping[str, str], values: dict[str, float], base: CollectorItem) -> CollectorItem:
    sheet = Sheet(
        "inlet" if post.get("form") == "inlet" else "mean",
        "gross" if post.get("area") == "gross" else "aperture",
        values["gain"],
        values["loss"],
        0.0 if post.get("form") == "inlet" else values["curve"],
        values["test_flow"],
    )
    rating = rating_on_aperture(sheet=sheet, aperture=values["aperture_m2"], gross=values["gross_m2"])
    kind = post.get("kind", "")
    data: dict[str, Any] = base.model_dump() | {key: round(values[key], 9) for key, *_ in NUMBERS}
    data |= {
        "name": (post.get("name", "").strip() or "typed collector")[:80],
        "kind": kind if kind in KINDS else base.kind,
        "eta0": round(rating.eta0, 6),
        "a1_w_m2k": round(rating.a1, 6),
        "a2_w_m2k2": round(rating.a2, 8),
        "drains": post.get("drains") == "yes",
        "drop_points_l_h_pa": [
            (values["flow_l_h"], values["drop_low"]),
            (values["most_flow_l_h"], values["drop_high"]),
        ],
    }
    if kind not in ("tube", "heat pipe"):
        data |= {"angles_deg": [], "k_across": [], "k_along": []}
    return CollectorItem.model_validate(data)


def sheet_context(
    item: CollectorItem, fields: dict[str, Field], post: Mapping[str, str] | None = None, problem: str = ""
) -> dict[str, Any]:
    """What the page shows."""
    typed = post or {}
    return {
        "name": typed.get("name", item.name),
        "kinds": [(kind, kind == typed.get("kind", item.kind)) for kind in KINDS],
        "form": typed.get("form", "mean"),
        "area": typed.get("area", "aperture"),
        "drains": typed.get("drains", "yes" if item.drains else "no"),
        "rating": [fields[row[0]] for row in RATING] + [fields["test_flow"]],
        "rest": [fields[row[0]] for row in NUMBERS] + [fields[row[0]] for row in DROPS],
        "wrong": [field for field in fields.values() if field.wrong],
        "problem": problem,
        "doubts": plausibility(item) if post is None else (),
        "item": item,
    }
