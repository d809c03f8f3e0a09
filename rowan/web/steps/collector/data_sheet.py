"""A collector typed from its data sheet."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from rowan.core.goods.items import CollectorItem
from rowan.core.records.data_sheet import Sheet, plausibility, rating_on_aperture
from rowan.core.terms.errors import ImpossibleInputError, RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, LITRE_H, System
from rowan.web.editing.sheet_fields import Field, Row, filled, typed

KINDS = ("flat", "tube", "heat pipe", "unglazed", "hybrid", "concentrating")
NUMBERS = (
    Row("aperture_m2", "aperture", "area"),
    Row("gross_m2", "gross area", "area"),
    Row("width_m", "width", "length"),
    Row("slope_length_m", "length up the slope", "length"),
    Row("b0", "b0 of the incidence factor", "efficiency"),
    Row("k_d", "factor for diffuse light", "efficiency"),
    Row("contents_l", "holds", "volume", LITRE),
    Row("dry_mass_kg", "dry mass", "mass"),
    Row("flow_l_h", "flow recommended", "flow", LITRE_H),
    Row("least_flow_l_h", "flow, least", "flow", LITRE_H),
    Row("most_flow_l_h", "flow, most", "flow", LITRE_H),
    Row("most_in_series", "most in one row of series", "count"),
    Row("rated_gauge_pa", "highest pressure", "pressure"),
    Row("stagnation_c", "dry in full sun, as measured", "temperature", optional=True),
    Row("least_tilt_deg", "least tilt", "angle"),
    Row("most_tilt_deg", "greatest tilt", "angle"),
    Row("rated_gust_m_s", "gust it is rated for", "gust", optional=True),
    Row("rated_snow_pa", "snow it is rated for", "roof_load", optional=True),
    Row("pieces", "comes in pieces", "count"),
    Row("assembly_h", "to put together", "hours", 3600.0),
    Row("price", "price of one", "money"),
)
RATING = (
    Row("gain", "η0, or intercept", "efficiency"),
    Row("loss", "a1, or slope", "a1"),
    Row("curve", "a2; 0 with a slope", "a2"),
    Row("test_flow", "flow of the test", "flow", LITRE_H),
)
DROPS = (
    Row("drop_low", "pressure drop at the recommended flow", "pressure"),
    Row("drop_high", "pressure drop at the most flow", "pressure"),
)
COUNTS = ("most_in_series", "pieces")
MOST_ANGLES = 19


def fields_of(item: CollectorItem, units: System) -> dict[str, Field]:
    """The fields filled from a collector."""
    return filled((*NUMBERS, *RATING, *DROPS), _values(item), units)


def _values(item: CollectorItem) -> dict[str, float | None]:
    values = {row.key: getattr(item, row.key) for row in NUMBERS}
    values |= {"gain": item.eta0, "loss": item.a1_w_m2k, "curve": item.a2_w_m2k2, "test_flow": item.flow_l_h}
    values |= {"drop_low": item.drop_points_l_h_pa[0][1], "drop_high": item.drop_points_l_h_pa[-1][1]}
    return values


def angles_text(item: CollectorItem) -> str:
    """The table of incidence factors, a line for each angle: the angle, across the tubes, along them."""
    rows = zip(item.angles_deg, item.k_across, item.k_along, strict=True)
    return "\n".join(f"{angle:g} {across:g} {along:g}" for angle, across, along in rows)


def angles_from(text: str) -> dict[str, list[float]]:
    """The table as it was typed. Raises ImpossibleInputError for a line that holds no three numbers."""
    rows = []
    for line in text.splitlines():
        if not line.strip():
            continue
        try:
            angle, across, along = (float(part.replace(",", ".")) for part in line.replace(";", " ").split())
        except ValueError as error:
            raise ImpossibleInputError(
                tr("“{line}” in the table is not an angle and two factors: type 50 1.30 0.92", line=line.strip()[:40])
            ) from error
        rows.append((angle, across, along))
    if len(rows) > MOST_ANGLES:
        raise ImpossibleInputError(
            tr("a table of {rows} angles is too long: at most {most}", rows=len(rows), most=MOST_ANGLES)
        )
    columns = [list(column) for column in zip(*rows, strict=True)] or [[], [], []]
    return {"angles_deg": columns[0], "k_across": columns[1], "k_along": columns[2]}


def item_from(
    post: Mapping[str, str], base: CollectorItem, units: System
) -> tuple[CollectorItem | None, dict[str, Field], str]:
    """The collector that was typed, or None with the fields and what is wrong; `base` brings what no field asks for."""
    fields, values = typed((*NUMBERS, *RATING, *DROPS), post, units, _values(base))
    if any(field.wrong for field in fields.values()):
        return None, fields, ""
    try:
        return _item(post, values, base), fields, ""
    except RowanError as error:
        return None, fields, error.text(units)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        return None, fields, f"{'.'.join(str(part) for part in first['loc'])}: {first['msg']}"


def _item(post: Mapping[str, str], found: Mapping[str, float | None], base: CollectorItem) -> CollectorItem:
    values = {key: value for key, value in found.items() if value is not None}
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
    data: dict[str, Any] = base.model_dump() | {row.key: found[row.key] for row in NUMBERS}
    data |= {key: round(values[key]) for key in COUNTS}
    data |= angles_from(post.get("angles", angles_text(base)))
    data |= {
        "name": (post.get("name", "").strip() or "typed collector")[:80],
        "kind": kind if kind in KINDS else base.kind,
        "eta0": round(rating.eta0, 6),
        "a1_w_m2k": round(rating.a1, 6),
        "a2_w_m2k2": round(rating.a2, 8),
        "drains": post.get("drains") == "yes",
        "certificate": post.get("certificate", "").strip()[:60],
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
    said = post or {}
    return {
        "name": said.get("name", item.name),
        "kinds": [(kind, kind == said.get("kind", item.kind)) for kind in KINDS],
        "form": said.get("form", "mean"),
        "area": said.get("area", "aperture"),
        "drains": said.get("drains", "yes" if item.drains else "no"),
        "rating": [fields[row.key] for row in RATING],
        "rest": [fields[row.key] for row in (*NUMBERS, *DROPS)],
        "certificate": said.get("certificate", item.certificate),
        "angles": said.get("angles", angles_text(item)),
        "wrong": [field for field in fields.values() if field.wrong],
        "problem": problem,
        "doubts": plausibility(item) if post is None else (),
        "item": item,
    }
