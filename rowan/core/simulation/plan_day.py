"""A plan's day under the lens: which sky on which day, and a pair of differences run through it.

It comes after `reckon`, as the year does; what the controller did the day before is in it.
"""

from __future__ import annotations

import hashlib
from dataclasses import replace

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.simulation.cache import Kept, content_key
from rowan.core.simulation.day import (
    AWAY_DAYS,
    Day,
    Kind,
    Light,
    Ready,
    clear_weather,
    coldest_day,
    dull_weather,
    light_of,
    ready,
    run_day,
)
from rowan.core.simulation.draws import draws_of
from rowan.core.simulation.from_design import system_of
from rowan.core.simulation.simulate import climate_of, plane_keys, planes_of, sky_of, sun_of
from rowan.core.simulation.system import Draws, System
from rowan.core.steps.control.differences import proposed_start, proposed_stop
from rowan.core.terms.calendar import DAYS
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky

# K; a floor beyond that means a pump that costs more than it brings, and no pair suits it
MOST_FLOOR_K = 20.0
SPRING_DAY, AUTUMN_DAY, POOL_DAY = 106, 289, 134  # 17 April, 17 October, 15 May
_skies, _ready, _days, _houses = Kept(24), Kept(48), Kept(24), Kept(24)


@record
class Lens:
    """A kind of sky on a day of the year from 0."""

    kind: Kind
    day: int


def usual_day(design: Design) -> int:
    """A day on which the differences matter: in spring of the place's half of the earth, a pool's in its summer [day from 0]."""
    if design.is_pool:
        return POOL_DAY
    return SPRING_DAY if design.survey.latitude_deg.value >= 0 else AUTUMN_DAY


def day_of(lens: Lens, design: Design) -> int:
    """The day that is run: a frosty night lies in the coldest month whatever was asked."""
    return coldest_day(climate_of(design)) if lens.kind == "frost" else lens.day % DAYS


def _made(sky: Sky, kind: Kind) -> Sky:
    """The sky's place under a kind of sky all year; its own where days are taken as they come."""
    if kind == "as":
        return sky
    made = "dull" if kind == "dull" else "clear"
    key = (sky.digest, made)
    found = _skies.get(key)
    if found is None:
        sun = sun_of(sky.place)
        weather = dull_weather(sky.weather, sun) if made == "dull" else clear_weather(sky.weather, sun)
        digest = hashlib.sha256(repr(key).encode()).hexdigest()
        found = _skies.keep(key, Sky(sky.place, weather, f"{made} days", digest))
    return found


def _house(design: Design, result: Reckoning, own: Sky) -> tuple[System, Draws, str]:
    """What every kind of day has of a plan, with what it is known by; kept beside the reckoning, for a plan's starts are counted on
    two kinds of day after every change."""
    key = (id(design), id(result), own.digest)
    found: tuple[Design, Reckoning, System, Draws, str] | None = _houses.get(key)
    if found is None or found[0] is not design or found[1] is not result:
        system = system_of(with_pair(design, *usual_pair(result)), result, own.weather)
        draws = draws_of(design, own.weather)
        horizon = result.site.horizon
        content = content_key(system, own.digest, draws, horizon, plane_keys(design, horizon))
        found = (design, result, system, draws, content)
        _houses.keep(key, found)
    return found[2:]


def made_ready(design: Design, result: Reckoning, lens: Lens, *, measured: Sky | None = None) -> Ready:
    """A plan at the midnight before a day, kept by content. The pair set does not matter: the day before is run with usual ones.

    Raises ImpossibleInputError for a plan without flow.
    """
    own = sky_of(design, 0, measured)
    system, draws, house = _house(design, result, own)
    first = day_of(lens, design)
    days = range(first, first + (AWAY_DAYS if lens.kind == "away" else 1))
    if days.stop > DAYS:
        days = range(DAYS - len(days), DAYS)
    survey = design.survey
    key = (house, lens.kind, days)
    found: Ready | None = _ready.get(key)
    if found is not None:
        return found
    sky = _made(own, lens.kind)
    planes = planes_of(design, sky, result.site.horizon)
    coldest = survey.design_minimum_c.value if lens.kind == "frost" else None

    def light(those: range) -> Light:
        """What this kind of sky brings on some days."""
        return light_of(system, sky.weather, planes, those, clouds=lens.kind == "broken", coldest=coldest)

    if lens.kind == "away":
        away = draws.days.copy()
        away[days.start : days.stop] = 0.0
        draws = replace(draws, days=away)
    eve = (days.start - 1) % DAYS
    made = ready(system, draws, light(days), light(range(eve, eve + 1)), days)
    _ready.keep(key, made)
    return made


def usual_pair(result: Reckoning) -> tuple[float, float]:
    """The pair that suits a plan's loss floor [K]."""
    floor = min(result.differences.floor, MOST_FLOOR_K)
    return proposed_start(floor=floor), proposed_stop(floor=floor)


def with_pair(design: Design, start: float, stop: float) -> Design:
    """The design with a pair [K]. Raises RowanError where it cannot be."""
    return changed(design, [Change("control.start_k", start), Change("control.stop_k", stop)])


def race_day(made: Ready, *, start: float, stop: float) -> Day:
    """A pair's day, kept. Raises ImpossibleInputError unless stop lies below start [K]."""
    key = (id(made), start, stop)
    found: tuple[Ready, Day] | None = _days.get(key)
    if found is None or found[0] is not made:
        found = (made, run_day(made, start=start, stop=stop))
        _days.keep(key, found)
    return found[1]
