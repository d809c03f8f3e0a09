"""The stand-in's own loop: one warm lump of field, two lagging lines, a store in four layers, under its own sky.

It is simpler than what Rowan plans with, and off by some percent on purpose.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from random import Random

WATER_J_M3K = 4.15e6
LAYERS = 4
LEAST_OFF, MOST_OFF = 0.05, 0.10
DAY_S = 86_400.0
SOLAR_W_M2, HAZE = 1361.0, 0.74
CLEAR_S, CLOUD_S = 1500.0, 900.0
THROUGH_CLOUD = 0.25
DIFFUSE = 0.13
WARMEST_S = 15 * 3600.0
DRAWS = ((7.0, 0.35), (12.5, 0.15), (18.5, 0.25), (21.0, 0.25))
DRAW_S = 600.0


@dataclass(frozen=True)
class Plant:
    """A loop in plain SI numbers, as a plan describes it: areas [m²], conductances [W/K], capacities [J/K], volumes [m³]."""

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


OFF = ("area", "a1", "field_capacity", "rate", "coil", "hot_loss", "cold_loss", "store", "store_loss")


def off_by_some(plant: Plant, seed: int) -> Plant:
    """The plant with each of its main numbers 5 to 10 % off, up or down, the same for the same seed."""
    dice = Random(seed)
    changes = {}
    for name in OFF:
        share = dice.uniform(LEAST_OFF, MOST_OFF) * dice.choice((-1, 1))
        changes[name] = getattr(plant, name) * (1.0 + share)
    return replace(plant, **changes)


@dataclass
class Sky:
    """Sun on the tilted field and air, with clouds that come and go by dice."""

    plant: Plant
    day_of_year: int
    dice: Random
    cloudy: bool = False
    turns_at: float = 0.0

    def sun(self, second: float) -> float:
        """Sun on the field at a second since midnight of the first day [W/m²]."""
        day = self.day_of_year + int(second // DAY_S)
        declination = math.radians(23.45) * math.sin(2 * math.pi * (day - 81) / 365)
        angle = math.radians((second % DAY_S / 3600.0 - 12.0) * 15.0)
        lat = math.radians(self.plant.latitude)
        up = math.sin(lat) * math.sin(declination) + math.cos(lat) * math.cos(declination) * math.cos(angle)
        if up <= 0.0:
            return 0.0
        north = math.cos(lat) * math.sin(declination) - math.sin(lat) * math.cos(declination) * math.cos(angle)
        east = -math.cos(declination) * math.sin(angle)
        tilt, faces = math.radians(self.plant.tilt), math.radians(self.plant.azimuth)
        normal = up * math.cos(tilt) + math.sin(tilt) * (north * math.cos(faces) + east * math.sin(faces))
        beam = SOLAR_W_M2 * HAZE ** (1.0 / max(up, 0.05) ** 0.68)
        if second >= self.turns_at:
            self.cloudy = not self.cloudy
            mean = CLOUD_S if self.cloudy else CLEAR_S
            self.turns_at = second + self.dice.expovariate(1.0 / mean)
        direct = beam * max(normal, 0.0) * (THROUGH_CLOUD if self.cloudy else 1.0)
        return float(direct + DIFFUSE * beam * up)

    def air(self, second: float) -> float:
        """Air at a second [°C]: warmest at three in the afternoon."""
        return self.plant.air_c + 5.0 * math.cos(2 * math.pi * (second - WARMEST_S) / DAY_S)


@dataclass
class Loop:
    """Temperatures of the loop [°C]; layers of the store from the top."""

    plant: Plant
    field_c: float = 10.0
    hot_c: float = 15.0
    cold_c: float = 15.0
    layers: list[float] = field(default_factory=lambda: [48.0, 40.0, 25.0, 20.0])

    def step(self, seconds: float, *, sun: float, air: float, flow: float, back: float, hour: float) -> None:
        """One step; `flow` and `back` are shares of the full flow, forwards and, through a leaking valve, backwards."""
        p = self.plant
        over = self.field_c - air
        gain = p.area * (p.eta0 * sun - p.a1 * over - p.a2 * over * abs(over))
        self.field_c += gain * seconds / p.field_capacity
        if flow > 0.0:
            self._forwards(seconds, p.rate * flow, air)
        elif back > 0.0:
            self._backwards(seconds, p.rate * back)
        self.hot_c += p.hot_loss * ((air + p.room_c) / 2 - self.hot_c) * seconds / p.line_capacity
        self.cold_c += p.cold_loss * ((air + p.room_c) / 2 - self.cold_c) * seconds / p.line_capacity
        self._store(seconds, hour)

    def _moved(self, rate: float, seconds: float, capacity: float) -> float:
        """Which share of a lump is exchanged in a step."""
        return 1.0 - math.exp(-rate * seconds / capacity)

    def _forwards(self, seconds: float, rate: float, air: float) -> None:
        p = self.plant
        arriving = self.hot_c
        # half the coil in each of the two lower layers
        for layer in (LAYERS - 2, LAYERS - 1):
            part = (arriving - self.layers[layer]) * (1.0 - math.exp(-p.coil / 2 / rate))
            self.layers[layer] += rate * part * seconds / self._layer_capacity
            arriving -= part
        line = self._moved(rate, seconds, p.line_capacity)
        returning, self.cold_c = self.cold_c, self.cold_c + line * (arriving - self.cold_c)
        share = self._moved(rate, seconds, p.field_capacity)
        leaving, self.field_c = self.field_c, self.field_c + share * (returning - self.field_c)
        self.hot_c += line * (leaving - self.hot_c)

    def _backwards(self, seconds: float, rate: float) -> None:
        """Warm fluid rises out of the coil through the cold or hot line and cools in the field."""
        p = self.plant
        warm = self.layers[LAYERS - 2]
        if warm <= self.field_c:
            return
        taken = rate * (warm - self.field_c) * seconds
        self.layers[LAYERS - 2] -= taken / self._layer_capacity
        self.field_c += taken * 0.8 / p.field_capacity
        self.hot_c += taken * 0.2 / p.line_capacity

    @property
    def _layer_capacity(self) -> float:
        return self.plant.store * WATER_J_M3K / LAYERS

    def _store(self, seconds: float, hour: float) -> None:
        p = self.plant
        for layer in range(LAYERS):
            loss = p.store_loss / LAYERS * (self.layers[layer] - p.room_c)
            self.layers[layer] -= loss * seconds / self._layer_capacity
        if self.layers[0] < p.backup_c - 5.0 or (self.layers[0] < p.backup_c and self._heating):
            self.layers[0] += p.backup_power * seconds / self._layer_capacity
            self._heating = self.layers[0] < p.backup_c
        for at, share in DRAWS:
            if at <= hour < at + DRAW_S / 3600.0:
                self._draw(p.daily_draw * share * seconds / DRAW_S)
        self._mix()

    _heating = False

    def _draw(self, volume: float) -> None:
        p = self.plant
        hot = max(self.layers[0], p.tap_c)
        taken = volume * (p.tap_c - p.cold_main_c) / (hot - p.cold_main_c)
        share = min(taken / (p.store / LAYERS), 1.0)
        for layer in range(LAYERS - 1):
            self.layers[layer] += share * (self.layers[layer + 1] - self.layers[layer])
        self.layers[-1] += share * (p.cold_main_c - self.layers[-1])

    def _mix(self) -> None:
        """A layer that is colder than the one under it changes places with it."""
        for _ in range(LAYERS):
            for layer in range(LAYERS - 1):
                if self.layers[layer] < self.layers[layer + 1]:
                    mean = (self.layers[layer] + self.layers[layer + 1]) / 2
                    self.layers[layer] = self.layers[layer + 1] = mean
