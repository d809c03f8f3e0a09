"""This job's reckoning as the symbols that the rules of site work speak of, each with its SI unit."""

from __future__ import annotations

import math

from rowan.core.fluid import FILL_C, properties
from rowan.core.steps.charge.gauge import stiffness_of
from rowan.core.steps.charge.ratings import test_pressure, weakest_tested
from rowan.core.steps.charge.result import DrainbackCharge, SealedCharge
from rowan.core.steps.commission.deviations import EARLY_LAMINAR_SHARE, EARLY_SHARE
from rowan.core.steps.commission.figures import station_flow
from rowan.core.steps.commission.order import HOTTEST_FILL_C, TAP_C, Job, raised_pressure
from rowan.core.terms.units import LITRE

DIVISION_PA = 10e3  # Pa between the marks of a usual gauge
LAMINAR_RE = 2300.0  # of the filling flow, under which the middle runs ahead; methods 16
MOST_STAYS = 0.9  # of the contents, that may have stayed at most: as the tub is reckoned
EXPANSION_STEP_K = 1.0  # K over which a liquid's expansion is taken


def plan_constants(job: Job) -> dict[str, float]:
    """Every symbol that begins with `plan_` [SI]; those of another kind of loop are left out."""
    design, charge = job.design, job.charge
    contents = charge.contents
    found = {
        "plan_contents": contents.total,
        "plan_coil": contents.coil,
        "plan_cold_line": job.run.route.contents_of("cold") + contents.station,
        "plan_field": contents.collectors,
        "plan_hot_line": job.run.route.contents_of("hot"),
        "plan_stays": min(design.charge.residual_l.value * LITRE, MOST_STAYS * contents.total)
        if design.sealed
        else contents.coil,
        "plan_air": charge.atmosphere,
        "plan_static": charge.static,
        "plan_test": test_pressure(design),
        "plan_weakest": weakest_tested(design),
        "plan_relief": design.charge.relief_gauge_pa.value,
        "plan_stiffness": stiffness_of(job.run.route),
        "plan_flow": job.run.flow,
        "plan_speed": float(design.run.speed.value),
        "plan_kit_flow": station_flow(design),
        "plan_tub": design.commission.tub_area_m2.value,
        "plan_turns": design.commission.turns.value,
        "plan_front": _front(job),
        "plan_division": DIVISION_PA,
        "plan_hottest_fill": HOTTEST_FILL_C,
        "plan_tap": TAP_C,
        "plan_main": design.main_gauge_pa,
        "plan_set_start": design.control.start_k.value,
        "plan_set_stop": design.control.stop_k.value,
        "plan_set_limit": design.store.maximum_c.value,
    }
    if isinstance(charge, SealedCharge):
        found |= _sealed(job, charge)
    if isinstance(charge, DrainbackCharge):
        found |= _draining(charge)
    return found


def _front(job: Job) -> float:
    """Share of the time reckoned from which the colour is early: a laminar front runs ahead."""
    fluid = properties(volume_share=job.design.glycol_share, temperature=FILL_C)
    bore = job.run.warm.widest
    speed = station_flow(job.design) / (math.pi / 4 * bore**2)
    reynolds = fluid.density * speed * bore / fluid.viscosity
    return EARLY_LAMINAR_SHARE if reynolds < LAMINAR_RE else EARLY_SHARE


def _sealed(job: Job, charge: SealedCharge) -> dict[str, float]:
    found = {
        "plan_vessel": charge.vessel,
        "plan_prepare": charge.prepare,
        "plan_tub_share": charge.tub.fill,
        "plan_concentrate": job.design.charge.concentrate.value,
        "plan_share_wanted": job.design.glycol_share,
        "plan_frost": charge.frost_point,
        "plan_ph": job.design.charge.ph_least.value,
    }
    if job.medium == "mix":
        found["plan_mix_expansion"] = mix_expansion(volume_share=job.design.glycol_share)
    if job.setting is not None:
        first = charge.two_stage.first_precharge if charge.two_stage is not None else None
        found["plan_precharge"] = job.setting.precharge if first is None else first
        found["plan_fill"] = job.setting.fill
        # the share of the vessel that the fill takes
        low, high = (pressure + charge.atmosphere for pressure in (found["plan_precharge"], job.setting.fill))
        found["plan_share"] = charge.vessel * (1 - low / high)
        hot, cold = charge.states["hot"], charge.states["fill"]
        if hot.station is not None and cold.station is not None:
            found["plan_by_k"] = (hot.station - cold.station) / (hot.temperature - cold.temperature)
        found["plan_raise"] = raised_pressure(job.design, job.setting.fill)
    return found


def mix_expansion(*, volume_share: float) -> float:
    """Volume expansion of a mix as it is filled [1/K]."""
    cold, warm = (
        properties(volume_share=volume_share, temperature=FILL_C + step).density for step in (0.0, EXPANSION_STEP_K)
    )
    return (cold - warm) / (warm * EXPANSION_STEP_K)


def _draining(charge: DrainbackCharge) -> dict[str, float]:
    draining = charge.draining
    found = {}
    if draining.drain is not None:
        found["plan_drain"] = draining.drain.time
    if draining.freezes_after is not None:
        found["plan_freezes"] = draining.freezes_after
    return found
