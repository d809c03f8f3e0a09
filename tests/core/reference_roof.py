"""The roof's reference rules: feet of a rail, wind, snow, screws, squareness, rows behind another."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.roof import loads, square
from rowan.core.steps.roof.supports import feet_by_count, lines_between
from rowan.core.steps.site import rows as ground

Given = dict[str, Any]


def fixings_per_rail(g: Given) -> dict[str, Any]:
    start, end = g["row_start_m"], g["row_start_m"] + g["row_length_m"]
    lines = lines_between(first=g["rafter_offset_m"], spacing=g["rafter_spacing_m"], start=start, end=end)
    span = g["permitted_span_m"]
    overhang = g.get("permitted_overhang_m", span / 3)
    choices = feet_by_count(lines=lines, start=start, end=end, span=span, overhang=overhang)
    return {"fixings_per_rail": len(choices[0]) if choices else 0}


def uplift(g: Given) -> dict[str, Any]:
    way = g.get("mounting", "flush")
    lift = g.get("coefficient") or loads.LIFT[way][g["place"]]
    given = {"area": g["area_m2"], "mass": g["mass_kg"], "tilt": g["tilt_deg"], "fixings": g["fixings"]}
    return {
        "wind_pressure_pa": loads.wind_pressure(gust=g["gust_m_s"]),
        "uplift_per_fixing_n": loads.uplift(gust=g["gust_m_s"], lift=lift, **given),
    }


def snow(g: Given) -> dict[str, Any]:
    slides = not g.get("guard", False)
    return {
        "shape": loads.snow_shape(tilt=g["tilt_deg"], slides=slides),
        "snow_force_n": loads.snow_force(
            ground_snow=g["ground_snow_pa"], tilt=g["tilt_deg"], area=g["area_m2"], slides=slides
        ),
    }


def _screw(g: Given, withdrawal: float) -> dict[str, Any]:
    capacity = g["screws"] * withdrawal * g["thread_embedment_m"]
    return {"withdrawal_n_m": withdrawal, "capacity_n": capacity, "safety": capacity / g["uplift_per_fixing_n"]}


def lag_screw(g: Given) -> dict[str, Any]:
    return _screw(g, loads.lag_withdrawal(gravity=g["specific_gravity"], diameter=g["diameter_m"]))


def wood_screw(g: Given) -> dict[str, Any]:
    return _screw(g, loads.wood_screw_withdrawal(gravity=g["specific_gravity"], diameter=g["diameter_m"]))


def squareness(g: Given) -> dict[str, Any]:
    given = {"diagonal_1": g["diagonal_1_m"], "diagonal_2": g["diagonal_2_m"]}
    angle = square.out_of_square(**given, width=g["width_m"], height=g["height_m"])
    return {"angle_rad": angle, "square": abs(angle) <= g["limit_rad"]}


def central_third(g: Given) -> dict[str, Any]:
    return {"half_width_m": square.central_third(width=g["member_width_m"])}


def ground_rows(g: Given) -> dict[str, Any]:
    found = ground.row_pitch(
        slope_length=g["slope_length_m"],
        tilt=g["tilt_deg"],
        latitude=g["latitude_deg"],
        azimuth=g["row_azimuth_deg"],
    )
    return {
        "sun_altitude_deg": found.sun_height,
        "sun_azimuth_deg": found.sun_bearing,
        "floor_used": found.floor_used,
        "pitch_m": found.pitch,
    }


RULES = {
    rule.__name__: rule
    for rule in (
        fixings_per_rail, uplift, snow, lag_screw, wood_screw, squareness, central_third, ground_rows,
    )
}  # fmt: skip
