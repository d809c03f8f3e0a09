"""Reference rules of the loop: friction, fluid, pressure, filling and testing."""

from __future__ import annotations

from typing import Any

from rowan.core import fluid as media
from rowan.core.goods import prices as saving
from rowan.core.steps.charge import pressures, ratings, vessel
from rowan.core.steps.commission import pressure_test
from rowan.core.steps.run import friction, insulation, pump
from rowan.core.weather import air
from tests.core.reference_registry import LITRE, LITRE_H, Given, rule

# what a case may call a pipe; corrugated is the stainless one of the catalogue
MATERIALS: dict[str, friction.Material] = {
    "copper": "copper",
    "steel": "steel",
    "galvanised": "galvanised",
    "corrugated": "corrugated",
    "stainless": "corrugated",
    "corrugated stainless": "corrugated",
    "plastic": "plastic",
}


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
        material=MATERIALS[g["material"]],
        k_sum=g["k_sum"],
    )
    return {"velocity_m_s": drop.velocity, "pressure_drop_pa": drop.pressure_drop, "reynolds": drop.reynolds}


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
        material=MATERIALS[g["material"]], length=g["length_m"], temperature_change=g["temperature_change_k"]
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
    return {"atmosphere_pa": air.atmosphere(altitude=g["altitude_m"])}


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
        air.atmosphere(altitude=g["altitude_m"]),
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
        atmosphere_pa=air.atmosphere(altitude=g["altitude_m"]),
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
        atmosphere_pa=air.atmosphere(altitude=g["altitude_m"]),
    )
    return {
        "two_stage": found.needed,
        "liquid_l": found.liquid / LITRE,
        **({} if found.first_precharge is None else {"first_precharge_gauge_pa": found.first_precharge}),
    }


@rule("gauge_to_litres")
def _(g: Given) -> dict[str, Any]:
    moved = vessel.litres_between(
        p1=g["p1_gauge_pa"],
        p2=g["p2_gauge_pa"],
        vessel=g["vessel_l"] * LITRE,
        precharge=g["precharge_gauge_pa"],
        loop_volume=g["loop_volume_l"] * LITRE,
        atmosphere_pa=air.atmosphere(altitude=g["altitude_m"]),
        stiffness=1 / g["water_bulk_modulus_pa"] + 1 / g["pipe_bulk_modulus_pa"],
    )
    return {"change_l": moved / LITRE}


@rule("pipe_modulus")
def _(g: Given) -> dict[str, Any]:
    stiffness = vessel.pipe_bulk_modulus(bore=g["bore_m"], wall=g["wall_m"], elastic_modulus=g["elastic_modulus_pa"])
    return {"pipe_bulk_modulus_pa": stiffness}


@rule("filling")
def _(g: Given) -> dict[str, Any]:
    found = saving.filling(
        loop_volume=g["loop_volume_l"] * LITRE,
        tub_area=g["tub_area_m2"],
        flow=g["flow_l_h"] * LITRE_H,
        duration=g["minutes"] * 60,
    )
    return {"tub_falls_m": found.tub_falls, "colour_changes_s": found.colour_changes, "turns": found.turns}


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
    highest = ratings.highest_test(
        weakest_part=g["weakest_part_pa"], relief=g["relief_gauge_pa"], relief_connected=g["relief_connected"]
    )
    return {"highest_test_gauge_pa": highest}
