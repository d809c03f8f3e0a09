"""A differential controller on the simulated loop: what its sensors read, when it runs the pump, what it reports."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import astuple, dataclass, field, fields
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from rowan.standin import walk as steps
from rowan.standin.faults import FAULTS, NUMBER, Fault
from rowan.standin.loop import Plant, off_by_some

OFFSET_K = 0.4
METER_OFF, SUN_METER_OFF = 0.03, 0.02
AT_ONCE = 5000  # rows walked in one go, where so many are asked for
FIRST_C = (10.0, 15.0, 15.0, 48.0, 40.0, 25.0, 20.0)  # field, hot and cold line, layers of the store from the top
Hours = NDArray[np.float64]
Numbers = NamedTuple("Numbers", [(entry.name, float) for entry in fields(Plant)])  # type: ignore[misc]


@dataclass(frozen=True)
class Pair:
    """What was set at the controller: differences [K], limits [°C]."""

    start: float = 8.0
    stop: float = 3.0
    least_c: float = 20.0
    store_c: float = 80.0
    cut_out_c: float = 130.0
    floor: float = 1.0  # of the full speed at the start difference; 1 where the pump has one speed
    full_k: float = 10.0  # over the start difference at which it runs at full speed


@dataclass
class Standin:
    """Controller and loop together, in a time of their own that runs as fast as it is asked for.

    `hours` is a year of weather, 8760 rows of beam on what faces the sun, diffuse [W/m²] and air [°C] by the place's clock;
    without it the sky is made by dice. `scatter` tells how far the plant is off what was planned: 1 as usual, 0 not at all.
    """

    plant: Plant
    pair: Pair
    begins: datetime
    seed: int = 1
    faults: tuple[Fault, ...] = ()
    hours: Hours | None = None
    second: float = 0.0
    _state: NDArray[np.float64] = field(init=False, repr=False)

    def __post_init__(self) -> None:
        dice = Random(self.seed)
        real = off_by_some(self.plant, self.seed)
        self._offsets = np.array([dice.uniform(-OFFSET_K, OFFSET_K) for _ in steps.LAGS_S])
        meter = 1.0 + dice.uniform(-METER_OFF, METER_OFF)
        sun_meter = 1.0 + dice.uniform(-SUN_METER_OFF, SUN_METER_OFF)
        local = self.begins + timedelta(hours=real.zone_h)
        # the first day begins at the hour somebody asked for
        clock = (local - local.replace(hour=0, minute=0, second=0, microsecond=0)).total_seconds()
        pair, shape = self.pair, Random(self.seed + 1_000_003)  # what its faults are like in this house
        self._walk = steps.Walk(
            plant=Numbers(*(float(value) for value in astuple(real))),
            start=float(pair.start),
            stop=float(pair.stop),
            least_c=float(pair.least_c),
            store_c=float(pair.store_c),
            cut_out_c=float(pair.cut_out_c),
            floor=float(pair.floor),
            full_k=float(pair.full_k),
            day_of_year=float(local.timetuple().tm_yday),
            clock=clock,
            meter=meter,
            sun_meter=sun_meter,
            night_from_h=shape.uniform(0.0, 2.0),
            night_to_h=shape.uniform(3.0, 5.0),
            frost_below_c=shape.uniform(6.0, 9.0),
            air_days=shape.uniform(1.5, 5.0),
            weeps_c=shape.uniform(50.0, 62.0),
            cut_after_s=shape.uniform(300.0, 1200.0),
            cut_for_s=shape.uniform(900.0, 2400.0),
            shade_from_h=shape.uniform(11.0, 13.0),
            loose_share=shape.uniform(0.75, 0.92),
        )
        self._state = np.zeros(steps.STATE)
        self._state[: len(FIRST_C)] = FIRST_C
        self._state[steps.UPSTREAM :] = FIRST_C[0]
        if real.begins_c > 0.0:
            self._state[steps.LAYER0 : steps.LAYER0 + steps.LAYERS] = real.begins_c
        self._state[steps.PROBE0 : steps.PROBE0 + steps.PROBES] = math.nan
        self._state[steps.DAY] = -1e9
        self._dice = np.array([dice.getrandbits(63) | 1 for _ in range(2)], dtype=np.uint64)
        self._faults = np.zeros((len(FAULTS), 2))
        self._faults[:, 0] = math.inf
        for fault in self.faults:
            self._faults[NUMBER[fault.key]] = fault.begins, fault.size
        self._hours = np.zeros((0, 3)) if self.hours is None else np.ascontiguousarray(self.hours, dtype=float)

    def table(self, seconds: float, every: float = 60.0) -> NDArray[np.float64]:
        """Rows every so many simulated seconds, for so long; the first after one interval. Columns as `walk` numbers them."""
        between = max(1, round(every / steps.STEP_S))
        out = np.empty((int(seconds // (between * steps.STEP_S)), steps.COLUMNS))
        steps.walk(self._walk, self._state, self._dice, self._offsets, self._faults, self._hours, between, out)
        self.second = float(self._state[steps.SECOND])
        return out

    def run(self, seconds: float, every: float = 60.0) -> Iterator[dict[str, Any]]:
        """The same as readings, walked on as they are asked for."""
        between = max(1, round(every / steps.STEP_S)) * steps.STEP_S
        left = int(seconds // between)
        at_once = 1
        while left:
            rows = self.table(min(left, at_once) * between, between)
            left -= len(rows)
            at_once = min(at_once * 4, AT_ONCE)
            for row in rows:
                yield self.reading(row)

    def reading(self, row: NDArray[np.float64]) -> dict[str, Any]:
        """What is sent of a row: SI, with the unit in the key."""
        # a clock that is ahead dates what it writes an hour later
        ahead = 3600.0 if row[steps.O_SECOND] > self._faults[NUMBER["clock_off"], 0] else 0.0
        at = self.begins + timedelta(seconds=float(row[steps.O_SECOND]) + ahead)
        return {
            "at": at.astimezone(UTC).isoformat(timespec="seconds").replace("+00:00", "Z"),
            "field_c": _tenth(row[steps.O_FIELD]),
            "low_c": _tenth(row[steps.O_LOW]),
            "high_c": _tenth(row[steps.O_HIGH]),
            "hot_c": _tenth(row[steps.O_HOT]),
            "cold_c": _tenth(row[steps.O_COLD]),
            "pump_share": round(float(row[steps.O_PUMP]), 2),
            "flow_m3_s": round(float(row[steps.O_FLOW]), 9),
            "gauge_pa": round(float(row[steps.O_GAUGE]) / 1e3) * 1e3,
            "air_c": _tenth(row[steps.O_AIR]),
            "sun_w_m2": round(float(row[steps.O_SUN])),
            **({} if math.isnan(row[steps.O_LEVEL]) else {"level_m": round(float(row[steps.O_LEVEL]), 3)}),
        }


def _tenth(value: float) -> float | None:
    return None if math.isnan(value) else round(float(value), 1)


def warm() -> None:
    """Compiles the loop, where it is not kept on disk."""
    plant = Plant(4.0, 0.8, 3.5, 0.01, 3e4, 270.0, 7e-5, 400.0, 4.0, 4.0, 2e4, 0.3, 2.0, 30.0, 50.0, 40.0, 180.0)
    Standin(plant, Pair(), datetime(2026, 5, 4, tzinfo=UTC)).table(60.0)
