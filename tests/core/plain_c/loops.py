"""Loops of each kind with nothing beside the two differences, as both the plain and the compiled loop take them."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

import numpy as np

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.items import StoreItem
from rowan.core.reckon import reckon
from rowan.core.simulation import kernel
from rowan.core.simulation.controller import functions
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.simulate import plane_of, sky_of
from rowan.core.simulation.year import UNWATCHED, feed_of, fresh_state, plant_of
from rowan.core.studies.choices import with_kind
from rowan.core.terms.calendar import DAYS, HOURS
from rowan.core.terms.finding import Change
from rowan.demo.corrim import corrim
from rowan.demo.kvist import kvist_plan_a
from rowan.demo.sandreef import sandreef

MINUTE = kernel.Paces(60.0, 60.0, 60.0, 60.0)
SKIPPING = kernel.Paces(60.0, 300.0, 900.0, 60.0)


def _without_coil() -> StoreItem:
    item: StoreItem = corrim().store.item.value
    return item.model_copy(update={"tap_coil_m2": 0.0})


LOOPS: dict[str, Callable[[], Design]] = {
    "sealed": kvist_plan_a,
    # the loop these bounds were measured on
    # without the taps' coil, which the plain loop does not know
    "drainback": lambda: changed(corrim(), [Change("run.insulation_m", 0.019), Change("store.item", _without_coil())]),
    "direct": sandreef,
    "direct where it freezes": lambda: with_kind(kvist_plan_a(), "direct"),
    "thermosiphon": lambda: with_kind(sandreef(), "thermosiphon"),
}


@lru_cache
def given_of(name: str) -> tuple[kernel.Plant, kernel.State, kernel.Feed]:
    """A loop of a kind with nothing beside the two differences, its store in one room and its backup free every day."""
    design = LOOPS[name]()
    found, sky, survey = reckon(design), sky_of(design), design.survey
    system, draws = system_of(design, found, sky.weather), draws_of(design, sky.weather)
    plane = plane_of(sky, survey.roof_tilt_deg.value, survey.roof_azimuth_deg.value, found.site.horizon)
    plant = plant_of(system, draws.tap)._replace(more=functions())
    feed = feed_of(system, draws, system.field.absorbed(plane, sky.weather.air), sky.weather.air, range(DAYS))
    room, one = np.full(HOURS, plant.room), np.ones(HOURS)
    return plant, fresh_state(system), feed._replace(room=room, exposed=one, heats=np.ones(DAYS))


def compiled_year(name: str, paces: kernel.Paces, **more: bool) -> dict[str, float]:
    """The sums of the compiled loop's year [J, s] and its highest temperatures [°C]; `more` sets flags of its functions."""
    plant, state, feed = given_of(name)
    if more:
        plant = plant._replace(more=plant.more._replace(**more))
    kept = kernel.Kept(np.zeros((DAYS, len(kernel.SUMS))), np.full(2, -273.0), UNWATCHED, UNWATCHED)
    kernel.run(plant, paces, kernel.State(*(part.copy() for part in state)), feed, kept)
    found = dict(zip(kernel.SUMS, kept.sums.sum(axis=0).tolist(), strict=True))
    return found | {"highest_field": float(kept.highest[0]), "highest_store": float(kept.highest[1])}
