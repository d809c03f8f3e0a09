"""What a duty draws from the store through the year: taps, heating, a process. Source: methods 4."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import away_days, day_minutes, months_between
from rowan.core.design.own_store import own_store_of
from rowan.core.simulation.system import Draws
from rowan.core.steps.duty.demand import draw_minutes
from rowan.core.steps.duty.hours import pattern_of
from rowan.core.terms.calendar import DAY_S, DAYS, DAYS_IN_MONTH, MINUTES_A_DAY
from rowan.core.terms.constants import WATER_J_KG_K, WATER_KG_M3
from rowan.core.terms.units import LITRE
from rowan.core.weather.cold_main import cold_main_year
from rowan.core.weather.hours import FIRST_WEEKDAY, Weather

Array = NDArray[np.float64]
# J/m³K of tap water
PER_M3_K = WATER_KG_M3 * WATER_J_KG_K

# K by which what the work takes leaves the bath colder, rule of thumb: it sets how fast the bath is stirred, not the heat
BATH_SPREAD_K = 10.0


def working_days(design: Design) -> Array:
    """1 on days with a draw, 0 on others, shape (365,): days of the week from Monday on, less the days away."""
    weekday = (np.arange(DAYS) + FIRST_WEEKDAY) % 7
    found = (weekday < design.duty.days_a_week.value).astype(float)
    for start, end in away_days(design.duty.away.value):
        found[start:end] = 0.0
    return found


def season_days(design: Design) -> Array:
    """1 on the days of the pool's season, shape (365,); a season may go over the turn of the year."""
    months = months_between(design.duty.season_from.value, design.duty.season_to.value)
    return np.repeat(np.array(months, dtype=float), DAYS_IN_MONTH)


def hour_shares(text: str) -> Array:
    """Which minutes of a day some typed hours name, 0 or 1, shape (1440,)."""
    minutes = np.zeros(MINUTES_A_DAY)
    for start, end in day_minutes(text):
        minutes[start:end] = 1.0
    return minutes


def _taps(design: Design) -> Draws:
    duty = design.duty
    volume = duty.persons.value * duty.litres_per_person_l.value * LITRE
    minute = np.zeros(MINUTES_A_DAY)
    for start, share in pattern_of(design):
        minutes = draw_minutes(volume=volume * share)
        for k in range(minutes):
            minute[(start + k) % MINUTES_A_DAY] += volume * share / minutes
    air, latitude = design.survey.normals.value.air_c, design.survey.latitude_deg.value
    cold = cold_main_year(monthly_air=air, latitude=latitude)
    return Draws(minute, working_days(design), cold, duty.tap_c.value)


def heating_power(design: Design, weather: Weather) -> Array:
    """What the house needs on each day [W], shape (365,): its loss below the air at which heating begins."""
    duty = design.duty
    air = weather.air.reshape(DAYS, 24).mean(axis=1)
    return np.asarray(duty.house_loss_w_k.value * np.clip(duty.heat_below_c.value - air, 0, None), dtype=float)


def draws_of(design: Design, weather: Weather) -> Draws:
    """The duty's day, spread over whole minutes the same way each day, with a factor and the cold side for each day."""
    duty = design.duty
    if duty.kind.value == "heating":
        return Draws(
            np.full(MINUTES_A_DAY, 1 / MINUTES_A_DAY),
            _heating_volumes(design, weather),
            np.full(DAYS, duty.supply_return_c.value),
            duty.supply_c.value,
        )
    if duty.kind.value == "process":
        spread = duty.process_c.value - duty.process_return_c.value
        minute = hour_shares(duty.process_hours.value) * duty.process_w.value * 60 / (PER_M3_K * spread)
        return Draws(minute, working_days(design), np.full(DAYS, duty.process_return_c.value), duty.process_c.value)
    own = own_store_of(design)
    if own is not None and own.kind == "bath":
        # what the work takes out of it, wherever in its swing it stands
        minute = hour_shares(duty.process_hours.value) * duty.process_w.value * 60 / (PER_M3_K * BATH_SPREAD_K)
        return Draws(minute, working_days(design), np.full(DAYS, own.held - BATH_SPREAD_K), own.held)
    if own is not None:
        return Draws(np.zeros(MINUTES_A_DAY), np.zeros(DAYS), np.full(DAYS, 10.0), own.held)
    taps = _taps(design)
    if not design.heats_house:
        return taps
    zone = _heating_volumes(design, weather)
    return replace(taps, zone=zone, zone_c=duty.supply_c.value, zone_back=duty.supply_return_c.value)


def _heating_volumes(design: Design, weather: Weather) -> Array:
    """Water that carries the house's heat on each day [m³], shape (365,)."""
    spread = design.duty.supply_c.value - design.duty.supply_return_c.value
    return heating_power(design, weather) * DAY_S / (PER_M3_K * spread)
