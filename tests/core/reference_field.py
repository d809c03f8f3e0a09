"""Reference rules of sun, field, duty, store and year."""

from __future__ import annotations

from typing import Any

from rowan.core.goods import efficiency
from rowan.core.goods import prices as saving
from rowan.core.steps.collector import correlation
from rowan.core.steps.duty import demand
from rowan.core.steps.roof import layout
from rowan.core.steps.run import friction
from rowan.core.steps.store import sizing
from rowan.core.weather import cold_main, sun
from tests.core import reference_drainback, reference_roof, reference_sun, reference_year
from tests.core.reference_registry import LITRE, LITRE_H, RULES, Given, rule


@rule("collector")
def _(g: Given) -> dict[str, Any]:
    rated = friction.RatedFluid(g["rated_density_kg_m3"], g["rated_viscosity_pa_s"])
    curve = friction.drop_curve(points=[(q * LITRE_H, p) for q, p in g["points_l_h_pa"]], rated=rated)
    drop = curve.drop(flow=g["flow_l_h"] * LITRE_H, density=g["density_kg_m3"], viscosity=g["viscosity_pa_s"])
    return {"pressure_drop_pa": drop}


@rule("arrival")
def _(g: Given) -> dict[str, Any]:
    return {
        "arrival_s": friction.arrival_time(line_contents=g["line_contents_l"] * LITRE, flow=g["flow_l_h"] * LITRE_H)
    }


@rule("position")
def _(g: Given) -> dict[str, Any]:
    at = sun.sun_position(
        time=g["time"], latitude=g["latitude_deg"], longitude=g["longitude_deg"], altitude=g["altitude_m"]
    )
    return {"elevation_deg": at.elevation, "azimuth_deg": at.azimuth}


@rule("incidence")
def _(g: Given) -> dict[str, Any]:
    angle = sun.incidence_angle(
        sun_elevation=g["sun_elevation_deg"],
        sun_azimuth=g["sun_azimuth_deg"],
        tilt=g["tilt_deg"],
        azimuth=g["azimuth_deg"],
    )
    return {"incidence_angle_deg": angle}


@rule("cold_main")
def _(g: Given) -> dict[str, Any]:
    found = cold_main.cold_main(monthly_air=g["monthly_air_c"], day=g["day_of_year"], latitude=g["latitude_deg"])
    return {"cold_main_c": found}


@rule("heat")
def _(g: Given) -> dict[str, Any]:
    heat = efficiency.collector_heat(
        area=g["area_m2"],
        rating=efficiency.Rating(g["eta0"], g["a1_w_m2k"], g["a2_w_m2k2"]),
        sun=efficiency.PlaneSun(g["beam_w_m2"], g["diffuse_w_m2"], g["k_b"], g["k_d"]),
        mean_temperature=g["mean_temperature_c"],
        air_temperature=g["air_temperature_c"],
        stored=g["heat_capacity_j_m2k"] * g["rate_k_s"],
    )
    return {"heat_w": heat}


@rule("k_flat")
def _(g: Given) -> dict[str, Any]:
    return {"k_b": efficiency.incidence_flat(angle=g["incidence_angle_deg"], b0=g["b0"])}


@rule("k_tube")
def _(g: Given) -> dict[str, Any]:
    factor = efficiency.incidence_tube(
        transverse=g["transverse_angle_deg"],
        longitudinal=g["longitudinal_angle_deg"],
        angles=g["angles_deg"],
        across=g["k_t"],
        along=g["k_l"],
    )
    return {"k_b": factor}


@rule("tube_angles")
def _(g: Given) -> dict[str, Any]:
    found = efficiency.tube_angles(
        sun_elevation=g["sun_elevation_deg"],
        sun_azimuth=g["sun_azimuth_deg"],
        tilt=g["tilt_deg"],
        azimuth=g["azimuth_deg"],
        tubes_across=g["tubes"] == "across",
    )
    return {
        "incidence_angle_deg": found.incidence,
        "transverse_angle_deg": found.transverse,
        "longitudinal_angle_deg": found.longitudinal,
    }


@rule("inlet_to_mean")
def _(g: Given) -> dict[str, Any]:
    mean = efficiency.inlet_to_mean(
        rating=efficiency.InletRating(g["fr_tau_alpha"], g["fr_ul_w_m2k"]),
        area=g["area_m2"],
        flow=g["flow_kg_s"],
        heat_capacity=g["fluid_heat_capacity_j_kg_k"],
    )
    return {"eta0": mean.eta0, "a1_w_m2k": mean.a1}


@rule("mean_to_inlet")
def _(g: Given) -> dict[str, Any]:
    inlet = efficiency.mean_to_inlet(
        rating=efficiency.Rating(g["eta0"], g["a1_w_m2k"]),
        area=g["area_m2"],
        flow=g["flow_kg_s"],
        heat_capacity=g["fluid_heat_capacity_j_kg_k"],
    )
    return {"fr_tau_alpha": inlet.fr_tau_alpha, "fr_ul_w_m2k": inlet.fr_ul}


@rule("stagnation")
def _(g: Given) -> dict[str, Any]:
    found = efficiency.stagnation_temperature(
        rating=efficiency.Rating(g["eta0"], g["a1_w_m2k"], g["a2_w_m2k2"]),
        irradiance=g["irradiance_w_m2"],
        air_temperature=g["air_temperature_c"],
    )
    return {"stagnation_c": found}


@rule("unglazed")
def _(g: Given) -> dict[str, Any]:
    found = efficiency.unglazed_heat(
        area=g["area_m2"],
        rating=efficiency.UnglazedRating(
            g["eta0"], g["b_u_s_m"], g["b1_w_m2k"], g["b2_j_m3k"], g["emittance_over_absorptance"]
        ),
        irradiance=g["irradiance_w_m2"],
        longwave=g["longwave_w_m2"],
        wind=g["wind_m_s"],
        mean_temperature=g["mean_temperature_c"],
        air_temperature=g["air_temperature_c"],
    )
    return {"net_irradiance_w_m2": found.net_irradiance, "heat_w": found.heat}


@rule("month")
def _(g: Given) -> dict[str, Any]:
    found = correlation.month_fraction(
        field=correlation.Field(
            g["area_m2"], g["fr_ul_w_m2k"], g["fr_tau_alpha_n"], g["exchanger_factor"], g["incidence_factor"]
        ),
        month=correlation.Month(
            g["plane_irradiation_j_m2_day"],
            g["air_temperature_c"],
            g["days"],
            g["load_j"],
            g.get("hot_water_c"),
            g.get("mains_c"),
        ),
        store_per_area=g["store_l_m2"],
    )
    return {"x": found.x, "y": found.y, "fraction": found.fraction}


@rule("heat_needed")
def _(g: Given) -> dict[str, Any]:
    heat = demand.heat_needed(
        volume=g["volume_l"] * LITRE,
        tap_temperature=g["tap_c"],
        cold_temperature=g["cold_c"],
        density=g["density_kg_m3"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )
    return {"heat_j": heat}


@rule("usable_volume")
def _(g: Given) -> dict[str, Any]:
    volume = demand.usable_volume(
        volume=g["volume_l"] * LITRE,
        store_temperature=g["store_c"],
        tap_temperature=g["tap_c"],
        cold_temperature=g["cold_c"],
    )
    return {"usable_l": volume / LITRE}


@rule("boost_time")
def _(g: Given) -> dict[str, Any]:
    seconds = demand.boost_time(
        volume=g["volume_l"] * LITRE,
        from_temperature=g["from_c"],
        to_temperature=g["to_c"],
        power=g["power_w"],
        density=g["density_kg_m3"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )
    return {"boost_time_s": seconds}


@rule("store_delivers")
def _(g: Given) -> dict[str, Any]:
    volume = demand.drawn_from_store(
        tap_volume=g["tap_volume_l"] * LITRE,
        top_temperature=g["top_c"],
        tap_temperature=g["tap_c"],
        cold_temperature=g["cold_c"],
    )
    return {"from_store_l": volume / LITRE}


@rule("preheat_share")
def _(g: Given) -> dict[str, Any]:
    share = demand.preheat_share(
        preheat_temperature=g["preheat_c"], cold_temperature=g["cold_c"], set_temperature=g["set_c"]
    )
    return {"saved_share": share}


@rule("solar_fraction")
def _(g: Given) -> dict[str, Any]:
    fraction = demand.solar_fraction(
        demand=g["demand_kwh"], backup=g["backup_kwh"], backup_only_loss=g["backup_only_store_loss_kwh"]
    )
    return {"solar_fraction": fraction}


@rule("coil_conductance")
def _(g: Given) -> dict[str, Any]:
    return {"ua_w_k": sizing.coil_conductance(kind=g["kind"], coil_area=g["coil_area_m2"])}


@rule("coil_enough")
def _(g: Given) -> dict[str, Any]:
    check = sizing.coil_check(kind=g["kind"], coil_area=g["coil_area_m2"], collector_area=g["collector_area_m2"])
    return {"coil_m2_per_m2": check.ratio, "enough": check.enough}


@rule("floor_load")
def _(g: Given) -> dict[str, Any]:
    load = sizing.floor_load(dry_mass=g["dry_mass_kg"], contents_mass=g["contents_kg"], footprint=g["footprint_m2"])
    return {"floor_load_kg_m2": load}


@rule("break_even_length")
def _(g: Given) -> dict[str, Any]:
    length = saving.break_even_length(
        fixed_difference=g["fixed_cost_difference"], per_metre_difference=g["cost_per_metre_difference"]
    )
    return {"length_m": length}


@rule("row_count")
def _(g: Given) -> dict[str, Any]:
    row = layout.row_count(
        roof_width=g["roof_width_m"],
        collector_width=g["collector_width_m"],
        gap=g["gap_m"],
        side_clearance=g["side_clearance_m"],
        edge_zone=g.get("edge_zone_m", 0.0),
    )
    return {"collectors": row}


@rule("year")
def _(g: Given) -> dict[str, Any]:
    return reference_year.year_of(g)


RULES |= reference_sun.RULES | reference_drainback.RULES | reference_roof.RULES
