"""Maps each reference case's rule to the core: given (units in its keys) to results (units in their keys)."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from rowan.core import media
from rowan.core.charge import pressures, vessel
from rowan.core.collector import correlation, efficiency
from rowan.core.commissioning import pressure_test
from rowan.core.control import differences, sensors
from rowan.core.duty import demand
from rowan.core.money import saving
from rowan.core.roof import layout
from rowan.core.run import friction, insulation, pump
from rowan.core.site import cold_main, sun
from rowan.core.store import sizing
from rowan.core.year import functions
from tests.core import reference_control, reference_drainback, reference_sun, reference_year

Given = dict[str, Any]
Rule = Callable[[Given], dict[str, Any]]
RULES: dict[str, Rule] = {}
LITRE, LITRE_H = 1e-3, 1e-3 / 3600


def rule(name: str) -> Callable[[Rule], Rule]:
    def register(function: Rule) -> Rule:
        RULES[name] = function
        return function

    return register


@rule("friction_factor")
def _(g: Given) -> dict[str, Any]:
    return {
        "friction_factor": friction.friction_factor(reynolds=g["reynolds"], relative_roughness=g["relative_roughness"])
    }


@rule("pipe")
def _(g: Given) -> dict[str, Any]:
    drop = friction.pipe_drop(
        length=g["length_m"],
        bore=g["bore_m"],
        flow=g["flow_kg_s"],
        density=g["density_kg_m3"],
        viscosity=g["viscosity_pa_s"],
        material=g["material"],
        k_sum=g["k_sum"],
    )
    return {"velocity_m_s": drop.velocity, "pressure_drop_pa": drop.pressure_drop, "reynolds": drop.reynolds}


@rule("collector")
def _(g: Given) -> dict[str, Any]:
    rated = friction.RatedFluid(g["rated_density_kg_m3"], g["rated_viscosity_pa_s"])
    curve = friction.drop_curve(points=[(q * LITRE_H, p) for q, p in g["points_l_h_pa"]], rated=rated)
    drop = curve.drop(flow=g["flow_l_h"] * LITRE_H, density=g["density_kg_m3"], viscosity=g["viscosity_pa_s"])
    return {"pressure_drop_pa": drop}


@rule("operating_point")
def _(g: Given) -> dict[str, Any]:
    def loop(flow: float) -> float:
        q = flow / LITRE_H
        return g["static_pa"] + g["linear_pa_per_l_h"] * q + g["quadratic_pa_per_l_h2"] * q * q

    curve = pump.PumpCurve([(q * LITRE_H, p) for q, p in g["pump_points_l_h_pa"]])
    point = pump.operating_point(pump=curve, loop=loop)
    return {"flow_l_h": point.flow / LITRE_H, "pressure_pa": point.head}


@rule("drainback_head")
def _(g: Given) -> dict[str, Any]:
    head = friction.drainback_head(
        lift_cold=g["lift_cold_m"],
        lift_running=g["lift_running_m"],
        friction=g["friction_pa"],
        density=g["density_kg_m3"],
        flow=g["flow_l_h"] * LITRE_H,
        return_bore=g["return_bore_m"],
        vapour_pressure=g["vapour_pressure_pa"],
        atmosphere=g["atmosphere_pa"],
    )
    return {
        "start_head_pa": head.start_head,
        "return_velocity_m_s": head.return_velocity,
        "siphon": head.siphon,
        "pressure_on_top_absolute_pa": head.pressure_on_top_abs,
        "running_head_pa": head.running_head,
    }


@rule("pipe_expansion")
def _(g: Given) -> dict[str, Any]:
    growth = friction.thermal_growth(
        material=g["material"], length=g["length_m"], temperature_change=g["temperature_change_k"]
    )
    return {"expansion_m": growth}


@rule("pipe_loss")
def _(g: Given) -> dict[str, Any]:
    buried = g["place"] == "buried"
    loss = insulation.loss_per_metre(
        outer_radius=g["outer_radius_m"],
        insulated_radius=g["insulated_radius_m"],
        conductivity=g["insulation_w_mk"],
        film=insulation.FILM_INDOORS if g["place"] == "indoors" else insulation.FILM_OUTDOORS,
        buried_depth=g["depth_m"] if buried else None,
    )
    return {"loss_w_m_k": loss}


@rule("siphon_velocity")
def _(g: Given) -> dict[str, Any]:
    return {"least_velocity_m_s": friction.siphon_velocity(bore=g["bore_m"])}


@rule("suction")
def _(g: Given) -> dict[str, Any]:
    found = friction.suction_over_rim(
        atmosphere=g["atmosphere_pa"],
        density=g["density_kg_m3"],
        rim_height=g["rim_height_m"],
        suction_drop=g["suction_drop_pa"],
        vapour_pressure=g["vapour_pressure_pa"],
        npsh_required=g["npsh_required_pa"],
    )
    return {"available_pa": found.available, "margin_pa": found.margin, "enough": found.enough}


@rule("arrival")
def _(g: Given) -> dict[str, Any]:
    return {
        "arrival_s": friction.arrival_time(line_contents=g["line_contents_l"] * LITRE, flow=g["flow_l_h"] * LITRE_H)
    }


@rule("frost_point")
def _(g: Given) -> dict[str, Any]:
    return {"frost_point_c": media.frost_point(volume_share=g["volume_share"])}


@rule("properties")
def _(g: Given) -> dict[str, Any]:
    f = media.properties(volume_share=g["volume_share"], temperature=g["temperature_c"])
    return {
        "density_kg_m3": f.density,
        "heat_capacity_j_kg_k": f.heat_capacity,
        "viscosity_pa_s": f.viscosity,
        "conductivity_w_m_k": f.conductivity,
        "extrapolated": f.extrapolated,
    }


@rule("strength")
def _(g: Given) -> dict[str, Any]:
    share = media.strength(design_minimum=g["design_minimum_c"], margin=g["margin_k"])
    return {"volume_share": share, "frost_point_c": media.frost_point(volume_share=share)}


@rule("boiling_point")
def _(g: Given) -> dict[str, Any]:
    return {
        "boiling_point_c": media.boiling_point(volume_share=g["volume_share"], pressure_abs=g["pressure_absolute_pa"])
    }


@rule("correct_dilution")
def _(g: Given) -> dict[str, Any]:
    volume = media.exchange_litres(
        loop_volume=g["loop_volume_l"] * LITRE,
        share=g["share_measured"],
        wanted=g["share_wanted"],
        concentrate=g["share_concentrate"],
    )
    return {"exchange_l": volume / LITRE}


@rule("first_mix")
def _(g: Given) -> dict[str, Any]:
    mix = media.first_mix(
        loop_volume=g["loop_volume_l"] * LITRE,
        residual_water=g["residual_water_l"] * LITRE,
        wanted=g["share_wanted"],
        concentrate=g["share_concentrate"],
    )
    return {"fill_share": mix.share, "possible": mix.possible}


@rule("water_top_up")
def _(g: Given) -> dict[str, Any]:
    after = media.share_after_water(
        loop_volume=g["loop_volume_l"] * LITRE, share=g["share"], water=g["water_added_l"] * LITRE
    )
    return {"share_after": after}


@rule("atmosphere")
def _(g: Given) -> dict[str, Any]:
    return {"atmosphere_pa": pressures.atmosphere(altitude=g["altitude_m"])}


@rule("static")
def _(g: Given) -> dict[str, Any]:
    return {"static_pa": pressures.static_pressure(volume_share=g["volume_share"], height=g["height_m"])}


@rule("end_pressure")
def _(g: Given) -> dict[str, Any]:
    return {"end_gauge_pa": pressures.end_pressure(relief=g["relief_gauge_pa"])}


@rule("school")
def _(g: Given) -> dict[str, Any]:
    found = pressures.school_setting(
        school=g["school"],
        static=g["static_pa"],
        height=g["height_m"],
        gap=g["gap_pa"],
        typed_fill=g.get("typed_fill_pa", 0.0),
    )
    return {"precharge_gauge_pa": found.precharge, "fill_gauge_pa": found.fill}


@rule("expansion")
def _(g: Given) -> dict[str, Any]:
    grown = vessel.thermal_expansion(
        loop_volume=g["loop_volume_l"] * LITRE, volume_share=g["volume_share"], cold=g["cold_c"], hot=g["hot_c"]
    )
    return {"expansion_l": grown / LITRE}


@rule("steam")
def _(g: Given) -> dict[str, Any]:
    steam = vessel.steam_volume(
        collector_contents=g["collector_contents_l"] * LITRE,
        area=g["area_m2"],
        steaming_power=g["steaming_w_m2"],
        pipe_loss=g["pipe_loss_w_m_k"],
        pipe_contents=g["pipe_contents_l_m"] * LITRE,
        steam_lines=g["steam_lines_m"],
    )
    return {"reach_m": steam.reach, "steam_l": steam.volume / LITRE}


@rule("reserve")
def _(g: Given) -> dict[str, Any]:
    return {"reserve_l": vessel.reserve(loop_volume=g["loop_volume_l"] * LITRE) / LITRE}


@rule("size")
def _(g: Given) -> dict[str, Any]:
    try:
        need = vessel.vessel_size(
            expansion=g["expansion_l"] * LITRE,
            steam=g["steam_l"] * LITRE,
            reserve_volume=g["reserve_l"] * LITRE,
            precharge=g["precharge_gauge_pa"],
            fill=g["fill_gauge_pa"],
            end=g["end_gauge_pa"],
            atmosphere_pa=g["atmosphere_pa"],
        )
    except vessel.VesselTooSmallError:
        return {"finding": "stop"}
    return {"needed_l": need.needed / LITRE, "standard_l": need.standard_l, "vessels": need.vessels, "finding": "none"}


@rule("state")
def _(g: Given) -> dict[str, Any]:
    loop = vessel.Loop(
        g["loop_volume_l"] * LITRE,
        g["volume_share"],
        g["height_m"],
        g["relief_gauge_pa"],
        pressures.atmosphere(altitude=g["altitude_m"]),
    )
    state = vessel.vessel_state(
        vessel=g["vessel_l"] * LITRE,
        precharge=g["precharge_gauge_pa"],
        fill=g["fill_gauge_pa"],
        loop=loop,
        temperature=g["temperature_c"],
        steam=g["steam_l"] * LITRE if g["with_steam"] else 0.0,
    )
    result: dict[str, Any] = {"vessel_empty": state.empty, "over_travel": state.over_travel}
    if state.empty:
        return result | {"shortage_l": state.shortage / LITRE}
    if state.full:
        return result | {"finding": "stop"}
    return result | {
        "liquid_l": state.liquid / LITRE,
        "station_gauge_pa": state.station,
        "top_gauge_pa": state.top,
        "margin_to_relief_pa": state.margin_to_relief,
        "boiling_on_top_c": state.boiling_on_top,
    }


@rule("vessel_too_hot")
def _(g: Given) -> dict[str, Any]:
    return {"membrane_too_hot": vessel.membrane_too_hot(line_contents=g["line_contents_l"], taken_up=g["taken_up_l"])}


@rule("raised")
def _(g: Given) -> dict[str, Any]:
    if g["raised_gauge_pa"] >= g["end_gauge_pa"]:
        return {"finding": "stop"}
    found = pressures.raised_charge(
        precharge=g["precharge_gauge_pa"],
        fill=g["fill_gauge_pa"],
        raised=g["raised_gauge_pa"],
        vessel=g["vessel_l"] * LITRE,
        atmosphere_pa=pressures.atmosphere(altitude=g["altitude_m"]),
    )
    return {
        "finding": "none",
        "liquid_l": found.liquid / LITRE,
        "equivalent_precharge_gauge_pa": found.equivalent_precharge,
    }


@rule("two_stage")
def _(g: Given) -> dict[str, Any]:
    found = pressures.two_stage_charge(
        pump=g["pump_gauge_pa"],
        static=g["static_pa"],
        precharge=g["precharge_gauge_pa"],
        fill=g["fill_gauge_pa"],
        vessel=g["vessel_l"] * LITRE,
        atmosphere_pa=pressures.atmosphere(altitude=g["altitude_m"]),
    )
    return {
        "two_stage": found.needed,
        "liquid_l": found.liquid / LITRE,
        "first_precharge_gauge_pa": found.first_precharge,
    }


@rule("gauge_to_litres")
def _(g: Given) -> dict[str, Any]:
    moved = vessel.litres_between(
        p1=g["p1_gauge_pa"],
        p2=g["p2_gauge_pa"],
        vessel=g["vessel_l"] * LITRE,
        precharge=g["precharge_gauge_pa"],
        loop_volume=g["loop_volume_l"] * LITRE,
        atmosphere_pa=pressures.atmosphere(altitude=g["altitude_m"]),
        stiffness=1 / g["water_bulk_modulus_pa"] + 1 / g["pipe_bulk_modulus_pa"],
    )
    return {"change_l": moved / LITRE}


@rule("pipe_modulus")
def _(g: Given) -> dict[str, Any]:
    stiffness = vessel.pipe_bulk_modulus(bore=g["bore_m"], wall=g["wall_m"], elastic_modulus=g["elastic_modulus_pa"])
    return {"pipe_bulk_modulus_pa": stiffness}


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


def _stability(g: Given) -> differences.Stability:
    return differences.stability(
        start=g["start_difference_k"],
        stop=g["stop_difference_k"],
        area=g["area_m2"],
        fr_ul=g["fr_ul_w_m2k"],
        flow=g["flow_kg_s"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )


@rule("stability")
def _(g: Given) -> dict[str, Any]:
    found = _stability(g)
    return {"largest_stable_stop_difference_k": found.largest_stop, "stable": found.stable}


@rule("cycling_finding")
def _(g: Given) -> dict[str, Any]:
    level = differences.cycling_level(stable=_stability(g).stable, starts_per_day=g["starts_per_day"])
    return {"finding": level}


@rule("cycling_band")
def _(g: Given) -> dict[str, Any]:
    band = differences.cycling_band(
        start=g["start_difference_k"],
        stop=g["stop_difference_k"],
        loop=differences.LoopAtStart(
            g["area_m2"],
            g["fr_tau_alpha"],
            g["fr_ul_w_m2k"],
            g["flow_kg_s"] * g["heat_capacity_j_kg_k"],
            g["store_bottom_c"],
            g["air_temperature_c"],
        ),
    )
    return {
        "start_irradiance_w_m2": band.start_irradiance,
        "hold_irradiance_w_m2": band.hold_irradiance,
        "cycles": band.cycles,
    }


@rule("loss_floor")
def _(g: Given) -> dict[str, Any]:
    floor = differences.loss_floor(
        sensor_error=g["sensor_error_k"],
        pipe_loss=g["pipe_loss_w"],
        pump_power=g["pump_power_w"],
        price_ratio=g["price_ratio"],
        flow=g["flow_kg_s"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )
    return {"least_stop_difference_k": floor}


@rule("loss_floor_without_day")
def _(g: Given) -> dict[str, Any]:
    loss = g["line_loss_w_k"] * (g["line_temperature_c"] - g["annual_mean_air_c"])
    floor = differences.loss_floor(
        sensor_error=g["sensor_error_k"],
        pipe_loss=loss,
        pump_power=g["pump_power_w"],
        price_ratio=g["price_ratio"],
        flow=g["flow_kg_s"],
        heat_capacity=g["heat_capacity_j_kg_k"],
    )
    return {"pipe_loss_w": loss, "least_stop_difference_k": floor}


@rule("pt1000")
def _(g: Given) -> dict[str, Any]:
    return {"resistance_ohm": sensors.platinum_ohm(temperature=g["temperature_c"])}


@rule("pump_speed")
def _(g: Given) -> dict[str, Any]:
    over = g["difference_k"] - g["start_difference_k"]
    return {"speed": functions.speed_share(over, g["floor_share"], g["slope_1_k"])}


@rule("battery")
def _(g: Given) -> dict[str, Any]:
    low, runs = 0.0, []
    for open_circuit in g["open_circuit_v"]:
        volts = open_circuit - (g["current_a"] * g["resistance_ohm"] if low == 0.0 else 0.0)
        low = functions.battery_low(volts, low, g["cut_v"], g["resume_v"])
        runs.append(low == 0.0)
    hunts = differences.battery_hunts(
        current=g["current_a"], resistance=g["resistance_ohm"], cut=g["cut_v"], resume=g["resume_v"]
    )
    return {"pump": runs, "hunts": hunts}


@rule("pump_sequence")
def _(g: Given) -> dict[str, Any]:
    return {"pump": reference_control.pump_sequence(g)}


@rule("filling")
def _(g: Given) -> dict[str, Any]:
    found = saving.filling(
        loop_volume=g["loop_volume_l"] * LITRE,
        tub_area=g["tub_area_m2"],
        flow=g["flow_l_h"] * LITRE_H,
        duration=g["minutes"] * 60,
    )
    return {"tub_falls_m": found.tub_falls, "colour_changes_s": found.colour_changes, "turns": found.turns}


@rule("break_even_length")
def _(g: Given) -> dict[str, Any]:
    length = saving.break_even_length(
        fixed_difference=g["fixed_cost_difference"], per_metre_difference=g["cost_per_metre_difference"]
    )
    return {"length_m": length}


@rule("air")
def _(g: Given) -> dict[str, Any]:
    expected = pressure_test.air_expected(
        p1=g["p1_gauge_pa"], t1=g["t1_c"], t2=g["t2_c"], atmosphere_pa=g["atmosphere_pa"]
    )
    return {"expected_gauge_pa": expected}


@rule("air_verdict")
def _(g: Given) -> dict[str, Any]:
    outcome = pressure_test.air_verdict(
        p1=g["p1_gauge_pa"],
        p2=g["p2_gauge_pa"],
        t1=g["t1_c"],
        t2=g["t2_c"],
        atmosphere_pa=g["atmosphere_pa"],
        gauge_division=g["gauge_division_pa"],
    )
    return {"expected_gauge_pa": outcome.expected, "verdict": outcome.verdict}


@rule("air_per_kelvin")
def _(g: Given) -> dict[str, Any]:
    return {
        "pressure_per_kelvin_pa_k": pressure_test.air_per_kelvin(
            p1=g["p1_gauge_pa"], t1=g["t1_c"], atmosphere_pa=g["atmosphere_pa"]
        )
    }


@rule("air_energy")
def _(g: Given) -> dict[str, Any]:
    return {
        "energy_j": pressure_test.air_energy(
            pressure_abs=g["pressure_absolute_pa"],
            volume=g["volume_l"] * LITRE,
            atmosphere_pa=g["atmosphere_pa"],
            gamma=g["gamma"],
        )
    }


@rule("water_loss")
def _(g: Given) -> dict[str, Any]:
    lost = pressure_test.water_lost(
        p1=g["p1_gauge_pa"],
        p2=g["p2_gauge_pa"],
        loop_volume=g["loop_volume_l"] * LITRE,
        stiffness=1 / g["water_bulk_modulus_pa"] + 1 / g["pipe_bulk_modulus_pa"],
        air_pocket=g["air_pocket_l"] * LITRE,
        atmosphere_pa=g["atmosphere_pa"],
    )
    return {"water_lost_l": lost / LITRE}


@rule("water_verdict")
def _(g: Given) -> dict[str, Any]:
    stiffness = pressure_test.water_stiffness(bore=0.020, wall=0.001)
    outcome = pressure_test.water_verdict(
        p1=g["p1_gauge_pa"],
        p2=g["p2_gauge_pa"],
        t1=g["t1_c"],
        t2=g["t2_c"],
        per_kelvin=pressure_test.water_per_kelvin(stiffness=stiffness),
        gauge_division=g["gauge_division_pa"],
    )
    return {"verdict": outcome.verdict}


@rule("highest_test")
def _(g: Given) -> dict[str, Any]:
    highest = pressure_test.highest_test(
        weakest_part=g["weakest_part_pa"], relief=g["relief_gauge_pa"], relief_connected=g["relief_connected"]
    )
    return {"highest_test_gauge_pa": highest}


@rule("row_count")
def _(g: Given) -> dict[str, Any]:
    row = layout.row_count(
        roof_width=g["roof_width_m"],
        collector_width=g["collector_width_m"],
        gap=g["gap_m"],
        side_clearance=g["side_clearance_m"],
        edge_zone=g["edge_zone_m"],
    )
    return {"collectors": row}


@rule("year")
def _(g: Given) -> dict[str, Any]:
    return reference_year.year_of(g)


RULES |= reference_sun.RULES | reference_drainback.RULES
