"""The sun's reference rules: horizon, obstacles, planes of a year, and the collector's match to a duty."""

from __future__ import annotations

from typing import Any

from rowan.core.simulation.system import Absorber
from rowan.core.studies import duty_match as match
from rowan.core.weather import horizon
from rowan.core.weather.hours import PlaneYear, plane_grid_year, plane_year
from tests.core.reference_year import sun_of, weather_of

Given = dict[str, Any]


def horizon_elevation(g: Given) -> dict[str, Any]:
    return {"elevation_deg": horizon.horizon_elevation(profile=g["profile_deg"], azimuth=g["azimuth_deg"])}


def obstacle(g: Given) -> dict[str, Any]:
    block = horizon.obstacle_block(
        bearing=g["bearing_deg"], distance=g["distance_m"], width=g["width_m"], height=g["height_m"]
    )
    return {"elevation_deg": block.elevation, "from_deg": block.start, "to_deg": block.end}


def window_verdict(g: Given) -> dict[str, Any]:
    return {"verdict": horizon.window_verdict(loss_share=g["loss_share"])}


def _plane(g: Given, tilt: float, azimuth: float) -> PlaneYear:
    return plane_year(
        weather=weather_of(g["weather_path"]),
        sun=sun_of(g["weather_path"], g),
        tilt=tilt,
        azimuth=azimuth,
        sky=g["sky_model"],
        albedo=g["albedo"],
    )


def year_plane(g: Given) -> dict[str, Any]:
    return {"plane_irradiation_kwh_m2": _plane(g, g["tilt_deg"], g["azimuth_deg"]).total_kwh_m2}


def relative_yield(g: Given) -> dict[str, Any]:
    path = g["weather_path"]
    grid = plane_grid_year(weather=weather_of(path), sun=sun_of(path, g), albedo=g["albedo"])
    share = _plane(g, g["tilt_deg"], g["azimuth_deg"]).total_kwh_m2 / float(grid[2].max())
    return {"relative_yield": share, "area_factor": 1 / share}


def duty_heat(g: Given) -> dict[str, Any]:
    field = g["collector"]
    absorber = Absorber(
        area=1.0,
        eta0=field["eta0"],
        a1=field["a1_w_m2k"],
        a2=field["a2_w_m2k2"],
        capacity=0.0,
        b0=field.get("b0", 0.0),
        angles=tuple(field.get("iam_angles_deg", ())),
        k_t=tuple(field.get("k_t", ())),
        k_l=tuple(field.get("k_l", ())),
        k_d=field["k_d"],
    )
    heat = match.useful_heat(
        absorber=absorber,
        plane=_plane(g, field["tilt_deg"], field["azimuth_deg"]),
        weather=weather_of(g["weather_path"]),
        temperature=g["duty_c"],
    )
    return {"useful_heat_kwh_m2": heat}


RULES = {
    function.__name__: function
    for function in (horizon_elevation, obstacle, window_verdict, year_plane, relative_yield, duty_heat)
}
