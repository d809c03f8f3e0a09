"""Heat of the water drawn, and what a store of a given temperature gives."""

from __future__ import annotations

import math

from rowan.core.terms.constants import WATER_J_KG_K, WATER_KG_M3
from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.limits import FINITE, NOT_NEGATIVE, POSITIVE, takes

TAP_M3_S = 0.1e-3  # m³/s, 6 L/min: how fast a draw runs
MOST_DRAW_MIN = 60  # a big house opens several taps: no draw takes longer
# when it is drawn: minute of the day and share
HOUSEHOLD = ((7 * 60, 0.36), (12 * 60 + 30, 0.15), (18 * 60, 0.24), (20 * 60 + 30, 0.25))
# a house that is away by day: most of it early, or most of it late; rules of thumb
MORNING = ((7 * 60, 0.65), (12 * 60 + 30, 0.05), (18 * 60, 0.15), (20 * 60 + 30, 0.15))
EVENING = ((7 * 60, 0.10), (12 * 60 + 30, 0.05), (18 * 60, 0.35), (20 * 60 + 30, 0.50))
# minute of the day and share of its draw: kitchens and washing spread over a working day; rule of thumb
COMMERCIAL = ((6 * 60 + 30, 0.2), (9 * 60, 0.15), (12 * 60, 0.2), (16 * 60, 0.2), (20 * 60, 0.25))


@takes(volume=NOT_NEGATIVE)
def draw_minutes(*, volume: float) -> int:
    """Whole minutes that a draw [m³] takes."""
    return min(max(1, math.ceil(volume / (TAP_M3_S * 60) - 1e-9)), MOST_DRAW_MIN)


@takes(volume=NOT_NEGATIVE, tap_temperature=FINITE, cold_temperature=FINITE, density=POSITIVE, heat_capacity=POSITIVE)
def heat_needed(
    *,
    volume: float,
    tap_temperature: float,
    cold_temperature: float,
    density: float = WATER_KG_M3,
    heat_capacity: float = WATER_J_KG_K,
) -> float:
    """Heat of a draw [J]: volume [m³] at the tap from cold [°C], never negative. Source: methods 4."""
    return max(0.0, volume * density * heat_capacity * (tap_temperature - cold_temperature))


@takes(volume=NOT_NEGATIVE, store_temperature=FINITE, tap_temperature=FINITE, cold_temperature=FINITE)
def usable_volume(*, volume: float, store_temperature: float, tap_temperature: float, cold_temperature: float) -> float:
    """Water at tap temperature [m³] in a store of volume [m³]; 0 if the store is below it. Source: methods 4."""
    if tap_temperature <= cold_temperature:
        raise OutOfRangeError("tap temperature", tap_temperature, cold_temperature, None, dimension="temperature")
    if store_temperature < tap_temperature:
        return 0.0
    return volume * (store_temperature - cold_temperature) / (tap_temperature - cold_temperature)


@takes(tap_volume=NOT_NEGATIVE, top_temperature=FINITE, tap_temperature=FINITE, cold_temperature=FINITE)
def drawn_from_store(
    *, tap_volume: float, top_temperature: float, tap_temperature: float, cold_temperature: float
) -> float:
    """What a tempering valve takes from the store [m³] for tap_volume [m³]; all of it if the top is too cold."""
    if top_temperature <= tap_temperature:
        return tap_volume
    if cold_temperature >= tap_temperature:
        raise ImpossibleInputError("the cold main is as warm as the tap: nothing has to be heated")
    return tap_volume * (tap_temperature - cold_temperature) / (top_temperature - cold_temperature)


@takes(
    volume=NOT_NEGATIVE,
    from_temperature=FINITE,
    to_temperature=FINITE,
    power=POSITIVE,
    density=POSITIVE,
    heat_capacity=POSITIVE,
)
def boost_time(
    *,
    volume: float,
    from_temperature: float,
    to_temperature: float,
    power: float,
    density: float = WATER_KG_M3,
    heat_capacity: float = WATER_J_KG_K,
) -> float:
    """Seconds to heat volume [m³] from one temperature to another [°C] with power [W]. Source: methods 4."""
    return max(0.0, density * volume * heat_capacity * (to_temperature - from_temperature) / power)


@takes(preheat_temperature=FINITE, cold_temperature=FINITE, set_temperature=FINITE)
def preheat_share(*, preheat_temperature: float, cold_temperature: float, set_temperature: float) -> float:
    """Share of a draw's heat that a pre-heat store saves a second heater, 0 to 1. Source: methods 5."""
    if set_temperature <= cold_temperature:
        raise OutOfRangeError("set temperature", set_temperature, cold_temperature, None, dimension="temperature")
    return min(1.0, max(0.0, (preheat_temperature - cold_temperature) / (set_temperature - cold_temperature)))


@takes(demand=NOT_NEGATIVE, backup=NOT_NEGATIVE, backup_only_loss=NOT_NEGATIVE)
def solar_fraction(*, demand: float, backup: float, backup_only_loss: float) -> float:
    """Solar fraction [-] from yearly demand, backup heat and the backup-only store loss, one unit. Source: methods 5."""
    wanted = demand + backup_only_loss
    if wanted <= 0:
        raise ImpossibleInputError("nothing asks for heat: there is no share of it")
    return 1 - backup / wanted


def draw_pattern(*, commercial: bool, drawn: str) -> tuple[tuple[int, float], ...]:
    """When a day's water is drawn: minutes of the day with their shares; kitchens and washing have their own hours."""
    if commercial:
        return COMMERCIAL
    return {"morning": MORNING, "evening": EVENING}.get(drawn, HOUSEHOLD)
