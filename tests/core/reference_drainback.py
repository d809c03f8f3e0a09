"""The drainback's reference rules: reservoir, falls, draining, freezing, feet of a sloping row."""

from __future__ import annotations

from typing import Any

from rowan.core.steps.roof import layout
from rowan.core.steps.run import draining as physics

Given = dict[str, Any]
LITRE = 1e-3


def reservoir(g: Given) -> dict[str, Any]:
    found = physics.reservoir(contents_above=g["contents_above_l"] * LITRE, least_water=g["least_water_l"] * LITRE)
    return {
        "reservoir_l": found.volume / LITRE,
        "fill_mark_l": found.fill_mark / LITRE,
        "running_l": found.running / LITRE,
    }


def falls(g: Given) -> dict[str, Any]:
    segments = [physics.Segment(s["length_m"], s["drop_m"], s["bore_m"], s["outdoors"]) for s in g["segments"]]
    found = physics.falls(segments=segments, least_fall=g["least_fall"])
    return {"fall": list(found.fall), "trap_segments": list(found.traps), "held_l": found.held / LITRE}


def bore_ok(g: Given) -> dict[str, Any]:
    return {"bore_allowed": physics.bore_allowed(bore=g["bore_m"])}


def drain_time(g: Given) -> dict[str, Any]:
    found = physics.drain(
        volume=g["volume_l"] * LITRE,
        driving_height=g["driving_height_m"],
        length=g["return_length_m"],
        bore=g["bore_m"],
        k_sum=g["k_sum"],
        roughness=g["roughness_m"],
        density=g["density_kg_m3"],
        viscosity=g["viscosity_pa_s"],
    )
    return {"drain_time_s": found.time, "velocity_m_s": found.velocity}


def freeze_time(g: Given) -> dict[str, Any]:
    after = physics.freeze_time(capacity=g["capacity_j_m_k"], loss=g["loss_w_m_k"], start=g["start_c"], air=g["air_c"])
    return {"freezes": after is not None, "freeze_time_s": after}


def drains_in_time(g: Given) -> dict[str, Any]:
    found = freeze_time(g)
    in_time = physics.drains_in_time(drain_time=g["drain_time_s"], freezes_after=found["freeze_time_s"])
    return {**found, "in_time": in_time}


def foot_heights(g: Given) -> dict[str, Any]:
    heights = layout.foot_heights(base_height=g["base_height_m"], slope=g["slope"], distances=g["distances_m"])
    return {"height_m": list(heights)}


RULES = {
    function.__name__: function
    for function in (reservoir, falls, bore_ok, drain_time, freeze_time, drains_in_time, foot_heights)
}
