"""A year case of the reference: what is given in its keys to the core's system, and the year's sums back."""

from __future__ import annotations

import csv
from functools import lru_cache
from pathlib import Path
from typing import Any

import numpy as np

from rowan.core.simulation.system import Absorber, Draws, Line, Settings, System, Tank
from rowan.core.simulation.year import Year, run_year
from rowan.core.weather.cold_main import cold_main
from rowan.core.weather.files import read_weather
from rowan.core.weather.hours import Place, PlaneYear, SunYear, Weather, plane_year, sun_year

KWH = 3.6e6
Given = dict[str, Any]


PLAIN = b"time,"  # how a plain table of hours begins; anything else is a weather file


@lru_cache(maxsize=4)
def _file(path: str) -> tuple[Weather, float | None]:
    """Weather of a file and the clock it is written by [h ahead of UTC]; a plain table does not say."""
    content = Path(path).read_bytes()
    if not content.startswith(PLAIN):
        sky = read_weather(Path(path).name, content).sky
        return sky.weather, sky.place.utc_offset
    rows = list(csv.DictReader(content.decode("utf-8").splitlines()))
    columns = (np.array([float(row[key]) for row in rows]) for key in ("ghi_w_m2", "dni_w_m2", "dhi_w_m2", "air_c"))
    return Weather(*columns), None


def weather_of(path: str) -> Weather:
    return _file(path)[0]


def sun_of(path: str, site: Given) -> SunYear:
    """The sun by the clock of the case, else of its file, else of its longitude."""
    written, longitude = _file(path)[1], site["longitude_deg"]
    offset = site.get("utc_offset_h", round(longitude / 15) if written is None else written)
    return sun_at(site["latitude_deg"], longitude, site.get("altitude_m", 0.0), float(offset))


@lru_cache(maxsize=8)
def sun_at(latitude: float, longitude: float, altitude: float, offset: float) -> SunYear:
    return sun_year(Place(latitude, longitude, altitude, offset))


def plane_of(g: Given) -> PlaneYear:
    site, field = g["site"], g["collector"]
    return plane_year(
        weather=weather_of(g["weather_path"]),
        sun=sun_of(g["weather_path"], site),
        tilt=field["tilt_deg"],
        azimuth=field["azimuth_deg"],
        sky=site["sky_model"],
        albedo=site["albedo"],
    )


def _line(given: Given) -> Line:
    return Line(
        np.array(given["node_capacity_j_k"]), np.array(given["node_loss_w_k"]), np.array(given["node_outdoors"], float)
    )


def _field(g: Given) -> Absorber:
    field = g["collector"]
    return Absorber(
        area=field["area_m2"],
        eta0=field["eta0"],
        a1=field["a1_w_m2k"],
        a2=field["a2_w_m2k2"],
        capacity=field["c_eff_j_m2k"],
        b0=field.get("b0", 0.0),
        k_d=field["k_d"],
        angles=tuple(field.get("iam_angles_deg", ())),
        k_t=tuple(field.get("k_t", ())),
        k_l=tuple(field.get("k_l", ())),
        nodes=g["collector_nodes"],
    )


def _tank(store: Given) -> Tank:
    return Tank(
        volume=store["volume_l"] / 1000,
        diameter=store["diameter_m"],
        loss=store["loss_w_m2_k"],
        room=store["room_c"],
        coil_ua=store["coil_ua_w_k"],
        coil_top=store["coil_top_m"],
        coil_bottom=store["coil_bottom_m"],
        conduction=store["conductivity_w_mk"],
        nodes=store["nodes"],
        density=store["water_density_kg_m3"],
        heat_capacity=store["water_heat_capacity_j_kg_k"],
    )


def system_of(g: Given) -> System:
    control = g["control"]
    settings = Settings(
        start=control["start_difference_k"],
        stop=control["stop_difference_k"],
        least_collector=control["least_collector_c"],
        store_maximum=control["store_maximum_c"],
        cut_out=control["collector_cut_out_c"],
        store_node=control["store_sensor_node"] - 1,
        # where there is no upper sensor the lower one holds the limit
        limit_node=control.get("limit_sensor_node", control["store_sensor_node"]) - 1,
        store_latch=control["store_hysteresis_k"],
        cut_out_latch=control["cut_out_hysteresis_k"],
    )
    return System(
        field=_field(g),
        cold=_line(g["cold_line"]),
        hot=_line(g["hot_line"]),
        tank=_tank(g["store"]),
        settings=settings,
        flow=g["flow_kg_s"],
        heat_capacity=g["loop_heat_capacity_j_kg_k"],
        pump_power=g["pump_power_w"],
        pump_heat_share=g["pump_heat_share"],
        stagnation=g["stagnation_threshold_c"],
        step=g["time_step_s"],
        store_start=g["initial"]["store_c"],
        loop_start=g["initial"]["loop_c"],
    )


def draws_of(g: Given) -> Draws:
    minute = np.zeros(1440)
    for draw in g["draws"]:
        minute[draw["start_minute"] : draw["start_minute"] + draw["minutes"]] += draw["litres_per_minute"] / 1000
    latitude = g["site"]["latitude_deg"]
    cold = [cold_main(monthly_air=g["mains_monthly_air_c"], day=day, latitude=latitude) for day in range(1, 366)]
    return Draws(minute, np.ones(365), np.array(cold), g["tap_c"])


def year_of(g: Given) -> dict[str, Any]:
    year: Year = run_year(
        system=system_of(g), weather=weather_of(g["weather_path"]), plane=plane_of(g), draws=draws_of(g)
    )
    return {
        "plane_irradiation_kwh_m2": year.plane_kwh_m2,
        "collector_heat_kwh": year.total("collector") / KWH,
        "heat_into_store_kwh": year.solar_heat / KWH,
        "pump_hours": year.total("pump_time") / 3600,
        "starts": year.total("starts"),
        "stagnation_hours": year.total("stagnation_time") / 3600,
        "draw_heat_kwh": year.total("draw") / KWH,
        "demand_kwh": year.total("demand") / KWH,
        "backup_heat_kwh": year.backup / KWH,
        "solar_fraction": year.solar_fraction,
        "store_loss_kwh": year.total("store_loss") / KWH,
        "line_loss_kwh": year.total("line_loss") / KWH,
        "highest_collector_c": year.highest_collector,
        "highest_store_c": year.highest_store,
        "solar_heat_by_month_kwh": list(year.months("coil") / KWH),
    }
