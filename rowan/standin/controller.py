"""A differential controller on the simulated loop: what its sensors read, when it runs the pump, what it reports."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Any

from rowan.standin.faults import Fault
from rowan.standin.loop import DAY_S, Loop, Plant, Sky, off_by_some

STEP_S = 5.0
NOISE_K, OFFSET_K, RESOLUTION_K = 0.15, 0.4, 0.1
LAGS_S = {"field": 35.0, "low": 60.0, "high": 60.0, "hot": 30.0, "cold": 30.0}
LATCH_K, CUT_OUT_LATCH_K = 3.0, 10.0
AIR_SHARE, LOST_SHARE, LEAK_SHARE = 0.15, 0.2, 0.06
LOSES_PA_H, NEEDS_PA = 12e3, 20e3
NIGHT_HOURS = (0.0, 4.0)
RESET_PAIR = (3.0, 0.5)
METER_OFF = 0.03


@dataclass(frozen=True)
class Pair:
    """What was set at the controller: differences [K], limits [°C]."""

    start: float = 8.0
    stop: float = 3.0
    least_c: float = 20.0
    store_c: float = 80.0
    cut_out_c: float = 130.0


@dataclass
class Probe:
    """A sensor: it lags, is off by something of its own, flickers, and shows tenths."""

    lag: float
    offset: float
    dice: Random
    inside: float = math.nan

    def follow(self, true: float, seconds: float) -> None:
        """A step of the temperature it stands in."""
        if math.isnan(self.inside):
            self.inside = true
        self.inside += (true - self.inside) * seconds / (self.lag + seconds)

    def reads(self) -> float:
        """What it shows [°C]."""
        shown = self.inside + self.offset + self.dice.gauss(0.0, NOISE_K)
        return round(shown / RESOLUTION_K) * RESOLUTION_K


@dataclass
class Standin:
    """Controller and loop together, in a time of their own that runs as fast as it is asked for."""

    plant: Plant
    pair: Pair
    begins: datetime
    seed: int = 1
    faults: tuple[Fault, ...] = ()
    second: float = 0.0
    pump: bool = False
    full: bool = False
    too_hot: bool = False
    _told: dict[str, float | None] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self._dice = Random(self.seed)
        real = off_by_some(self.plant, self.seed)
        self._loop = Loop(real)
        self._sky = Sky(real, self.begins.timetuple().tm_yday, Random(self.seed + 1))
        self._probes = {
            name: Probe(lag, self._dice.uniform(-OFFSET_K, OFFSET_K), self._dice) for name, lag in LAGS_S.items()
        }
        self._meter = 1.0 + self._dice.uniform(-METER_OFF, METER_OFF)
        # the first day begins at the hour somebody asked for
        self._clock = (self.begins - self.begins.replace(hour=0, minute=0, second=0, microsecond=0)).total_seconds()

    def has(self, key: str) -> bool:
        """Whether a fault has begun."""
        return any(fault.key == key and self.second >= fault.begins for fault in self.faults)

    @property
    def now(self) -> datetime:
        """The time of the simulated loop."""
        return self.begins + timedelta(seconds=self.second)

    def run(self, seconds: float, every: float = 60.0) -> Iterator[dict[str, Any]]:
        """Readings every so many simulated seconds, for so long; the first after one interval."""
        due = self.second + every
        last = self.second + seconds
        while self.second < last - 1e-6:
            self._step()
            if self.second >= due - 1e-6:
                due += every
                yield self.reading()

    def _step(self) -> None:
        clock = self._clock + self.second
        hour = clock % DAY_S / 3600.0
        sun, air = self._sky.sun(clock), self._sky.air(clock)
        for name, true in self._true().items():
            self._probes[name].follow(true, STEP_S)
        self._told = self._terminals()
        self._decide(hour)
        flow = self._flow()
        back = LEAK_SHARE if self.has("leaking_check") and not self.pump else 0.0
        self._loop.step(STEP_S, sun=sun, air=air, flow=flow, back=back, hour=hour)
        self.second += STEP_S

    def _true(self) -> dict[str, float]:
        loop = self._loop
        return {
            "field": loop.field_c,
            "low": loop.layers[-1],
            "high": loop.layers[0],
            "hot": loop.hot_c,
            "cold": loop.cold_c,
        }

    def _terminals(self) -> dict[str, float | None]:
        """What arrives at the terminals, None where a wire is broken."""
        told: dict[str, float | None] = {name: probe.reads() for name, probe in self._probes.items()}
        if self.has("open_sensor"):
            told["field"] = None
        if self.has("swapped_sensors"):
            told["field"], told["low"] = told["low"], told["field"]
        return told

    def _decide(self, hour: float) -> None:
        """Start and stop by the difference, with limits; fails safe without a sensor."""
        if self.has("night_circulation") and NIGHT_HOURS[0] <= hour < NIGHT_HOURS[1]:
            self.pump = True
            return
        field_c, low, high = (self._told[name] for name in ("field", "low", "high"))
        if field_c is None or low is None or high is None:
            self.pump = False
            return
        start, stop = RESET_PAIR if self.has("wrong_differences") else (self.pair.start, self.pair.stop)
        self.full = high >= self.pair.store_c or (self.full and high > self.pair.store_c - LATCH_K)
        self.too_hot = field_c >= self.pair.cut_out_c or (
            self.too_hot and field_c > self.pair.cut_out_c - CUT_OUT_LATCH_K
        )
        if self.full or self.too_hot:
            self.pump = False
        elif self.pump:
            self.pump = field_c - low > stop
        else:
            self.pump = field_c - low >= start and field_c >= self.pair.least_c

    def _flow(self) -> float:
        """The share of the full flow that really moves."""
        if not self.pump or self.has("stuck_pump"):
            return 0.0
        share = 1.0
        if self.has("air"):
            share *= AIR_SHARE * self._dice.random() * 2.0
        if self.has("lost_pressure") and self.gauge() < NEEDS_PA:
            share *= LOST_SHARE
        return share

    def gauge(self) -> float:
        """The gauge at the station [Pa over the air]: warmer is more, and a leak takes it away."""
        plant = self._loop.plant
        warm = (self._loop.hot_c + self._loop.cold_c) / 2 - 20.0
        lost = 0.0
        for fault in self.faults:
            if fault.key == "lost_pressure" and self.second > fault.begins:
                lost = LOSES_PA_H * (self.second - fault.begins) / 3600.0
        return max(plant.gauge_pa + plant.gauge_per_k * warm - lost, 0.0)

    def reading(self) -> dict[str, Any]:
        """What is sent of this moment: SI, with the unit in the key."""
        told = self._told
        return {
            "at": self.now.astimezone(UTC).isoformat(timespec="seconds").replace("+00:00", "Z"),
            "field_c": _tenth(told["field"]),
            "low_c": _tenth(told["low"]),
            "high_c": _tenth(told["high"]),
            "hot_c": _tenth(told["hot"]),
            "cold_c": _tenth(told["cold"]),
            "pump_share": 1.0 if self.pump else 0.0,
            "flow_m3_s": round(self._flow() * self.plant.flow * self._meter, 9),
            "gauge_pa": round(self.gauge() / 1e3) * 1e3,
        }


def _tenth(value: float | None) -> float | None:
    return None if value is None else round(value, 1)
