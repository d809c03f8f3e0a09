"""How a collector suits a duty: its heat with the loop held at the duty's temperature, no store. Source: methods 3."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rowan.core.simulation.system import Absorber
from rowan.core.weather.hours import PlaneYear, Weather

Array = NDArray[np.float64]
WH_KWH = 1000.0


def duty_heat(*, absorber: Absorber, plane: PlaneYear, weather: Weather, temperature: float) -> Array:
    """Heat of each hour [W/m²] with the loop's mean held at a temperature [°C], never below zero, shape (8760,)."""
    over = temperature - weather.air
    gain = absorber.absorbed(plane, weather.air)
    return np.asarray(np.clip(gain - absorber.a1 * over - absorber.a2 * np.abs(over) * over, 0, None), dtype=float)


def useful_heat(*, absorber: Absorber, plane: PlaneYear, weather: Weather, temperature: float) -> float:
    """Heat of a year by area [kWh/m²] with the loop's mean held at a temperature [°C]."""
    return float(duty_heat(absorber=absorber, plane=plane, weather=weather, temperature=temperature).sum()) / WH_KWH
