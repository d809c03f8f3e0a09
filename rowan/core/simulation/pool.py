"""A pool as a store: what it loses to air, wind and sky, and what the sun on its water gives, hour by hour.

Evaporation and convection by ISO/TR 12596, open pools; wind and moisture of the air are rules of thumb.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.system import Around
from rowan.core.terms.calendar import HOURS
from rowan.core.terms.constants import KELVIN, STEFAN_BOLTZMANN
from rowan.core.terms.errors import OutOfRangeError
from rowan.core.weather.hours import Weather

Array = NDArray[np.float64]
WIND_M_S = 1.0  # over the water of a sheltered garden
MOISTURE = 0.65  # of the air
ABSORBED = 0.80  # of the sun on open water
SKY_EMITTANCE = 0.82  # of the air over a pool, rule of thumb
WATER_EMITTANCE = 0.95  # of open water
COVER_KEEPS_IN = 0.85  # of what would be lost, with the cover on
COVERED_FROM, COVERED_TO = 20, 9  # o'clock


def vapour_pressure(t: Array | float) -> Array:
    """Saturation pressure of water vapour [kPa] over water at t [°C] (Magnus)."""
    return np.asarray(0.6112 * np.exp(17.62 * np.asarray(t) / (243.12 + np.asarray(t))))


def surface_loss(*, water: float, air: Array) -> tuple[Array, Array]:
    """Loss of open water by area [W/m²] at a water temperature [°C] in air [°C], and its change for each kelvin [W/m²K]."""

    def loss(t: float) -> Array:
        """Loss of open water at a temperature [°C], by area [W/m²]."""
        convection = (3.1 + 4.1 * WIND_M_S) * (t - air)
        evaporation = (50.6 + 66.9 * WIND_M_S) * (vapour_pressure(t) - MOISTURE * vapour_pressure(air))
        sky = SKY_EMITTANCE * STEFAN_BOLTZMANN * (air + KELVIN) ** 4
        return np.asarray(convection + evaporation + WATER_EMITTANCE * STEFAN_BOLTZMANN * (t + KELVIN) ** 4 - sky)

    return loss(water), (loss(water + 0.5) - loss(water - 0.5))


def surroundings(*, area: float, held: float, cover: bool, weather: Weather, days: Array, whole_loss: float) -> Around:
    """What surrounds a pool: area [m²], held at [°C], covered at night or not; `days` of its season, shape (365,).

    `whole_loss` is the loss of the tank that stands for it [W/K]; the factor makes the pool's own of it.
    """
    if area <= 0 or whole_loss <= 0:
        raise OutOfRangeError("pool area", area, 0, None, "m²")
    loss, per_kelvin = surface_loss(water=held, air=weather.air)
    hour = np.arange(HOURS) % 24
    covered = (hour >= COVERED_FROM) | (hour < COVERED_TO) if cover else np.zeros(HOURS, dtype=bool)
    kept = np.where(covered, 1 - COVER_KEEPS_IN, 1.0)
    sun = np.where(covered, 0.0, ABSORBED * weather.ghi)
    conductance = per_kelvin * kept
    return Around(held - (loss * kept - sun) / conductance, conductance * area / whole_loss, days, held)
