"""The plant that the stand-in imitates, in plain numbers, off by some percent on purpose: it is not the plan's own loop."""

from __future__ import annotations

from dataclasses import dataclass, replace
from random import Random

LEAST_OFF, MOST_OFF = 0.05, 0.10


@dataclass(frozen=True)
class Plant:
    """A loop in plain SI numbers, as a plan describes it: areas [m²], conductances [W/K], capacities [J/K], volumes [m³].

    The air is by the year: its mean and half its swing [°C, K]; `zone_h` is what the place's clock is ahead of universal time.
    """

    area: float
    eta0: float
    a1: float
    a2: float
    field_capacity: float
    rate: float  # mass flow times heat capacity at full speed [W/K]
    flow: float  # [m³/s]
    coil: float
    hot_loss: float
    cold_loss: float
    line_capacity: float
    store: float
    store_loss: float
    pump_power: float
    latitude: float
    tilt: float
    azimuth: float
    room_c: float = 15.0
    air_c: float = 10.0
    cold_main_c: float = 9.0
    daily_draw: float = 0.2
    tap_c: float = 45.0
    backup_c: float = 50.0
    backup_power: float = 10_000.0
    gauge_pa: float = 150e3
    gauge_per_k: float = 400.0
    longitude: float = 0.0
    zone_h: float = 0.0
    air_swing_k: float = 5.0
    begins_c: float = 0.0  # of a store that is as warm all through when the log begins [°C]; 0 for one with a warm top
    level: float = 0.0  # of the water at rest in a loop that drains [m]; 0 where there is none
    level_drop: float = 0.0  # by which it stands lower while the pump runs [m]
    dry_capacity: float = 0.0  # of a field that drains when the pump stops [J/K]; 0 where it stays full


OFF = ("area", "a1", "field_capacity", "rate", "coil", "hot_loss", "cold_loss", "store", "store_loss")


def off_by_some(plant: Plant, seed: int) -> Plant:
    """The plant with each of its main numbers 5 to 10 % off, up or down, the same for the same seed."""
    dice = Random(seed)
    changes = {}
    for name in OFF:
        share = dice.uniform(LEAST_OFF, MOST_OFF) * dice.choice((-1, 1))
        changes[name] = getattr(plant, name) * (1.0 + share)
    return replace(plant, **changes)
