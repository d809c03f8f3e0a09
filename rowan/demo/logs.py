"""Logs of the demo's loops, made by the stand-in when the world is loaded: nobody is told what begins in them, or when."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import numpy as np

from rowan.command.standin import pair_of, plant_of
from rowan.core.design.design import Design
from rowan.core.weather.hours import winter_clock
from rowan.standin.controller import Standin
from rowan.standin.faults import Fault
from rowan.standin.walk import (
    O_AIR,
    O_COLD,
    O_FIELD,
    O_FLOW,
    O_GAUGE,
    O_HIGH,
    O_HOT,
    O_LEVEL,
    O_LOW,
    O_PUMP,
    O_SECOND,
    O_SUN,
)
from rowan.web.accounts.models import User
from rowan.web.care.log_services import name_columns, offered, open_again, take_file
from rowan.web.plans.models import Plan

DAY_S = 86_400.0
WEEKS = 42  # days of the short ones


@dataclass(frozen=True)
class DemoLog:
    """A log: the name of its file, when it begins, how long and how often it was written [days, s], the stand-in's loop, and what
    begins in it on which day."""

    name: str
    begins: datetime
    days: int
    every: float
    seed: int
    fault: str = ""
    from_day: int = 0


KVIST = DemoLog("loop-cellar.csv", datetime(2025, 9, 1, tzinfo=UTC), 364, 60.0, 7, "leaking_check", 255)
KVIST_SHORT = DemoLog("loop-cellar.csv", datetime(2026, 5, 4, tzinfo=UTC), WEEKS, 600.0, 7, "leaking_check", 17)
CORRIM = DemoLog("plant-room.csv", datetime(2026, 7, 6, tzinfo=UTC), WEEKS, 600.0, 11, "falling_level", 19)
SANDREEF = DemoLog("roof-tank.csv", datetime(2026, 2, 2, tzinfo=UTC), WEEKS, 600.0, 12)
PIPWATER = DemoLog("pool-house.csv", datetime(2026, 5, 18, tzinfo=UTC), WEEKS, 600.0, 13, "clock_off", 12)

# heads as a logger writes them, with the place of each in the stand-in's rows and its decimals
HEADS: tuple[tuple[str, int, int], ...] = (
    ("Collector (°C)", O_FIELD, 1),
    ("Store foot (°C)", O_LOW, 1),
    ("Store top (°C)", O_HIGH, 1),
    ("Hot line (°C)", O_HOT, 1),
    ("Cold line (°C)", O_COLD, 1),
    ("Outdoor (°C)", O_AIR, 1),
    ("Sun (W/m²)", O_SUN, 0),
    ("Pump", O_PUMP, 2),
    ("Flow (L/min)", O_FLOW, 2),
    ("Gauge (bar)", O_GAUGE, 2),
    ("Level (mm)", O_LEVEL, 0),
)
SCALES = {O_FLOW: 60e3, O_GAUGE: 1e-5, O_LEVEL: 1e3}


def log_csv(design: Design, made: DemoLog) -> bytes:
    """The file of a log, as a logger writes it."""
    import pandas as pd

    faults = (Fault(made.fault, made.from_day * DAY_S),) if made.fault else ()
    device = Standin(plant_of(design), pair_of(design), made.begins, made.seed, faults)
    table = device.table(made.days * DAY_S, made.every)
    shift = 3600.0 if made.fault == "clock_off" else 0.0
    zone = winter_clock(design.survey.longitude_deg.value) * 3600.0
    local = made.begins.timestamp() + zone + table[:, O_SECOND]
    local = local + shift * (table[:, O_SECOND] > made.from_day * DAY_S)
    stamps = np.char.replace(np.datetime_as_string(local.astype("datetime64[s]"), unit="m"), "T", " ")
    columns: dict[str, Any] = {"Time": stamps}
    for head, at, decimals in HEADS:
        values = table[:, at] * SCALES.get(at, 1.0)
        if not np.isnan(values).all():
            columns[head] = values.round(decimals) if decimals else values.round().astype(int)
    return bytes(pd.DataFrame(columns).to_csv(sep=";", index=False).encode())


def take_log(plan: Plan, person: User, design: Design, made: DemoLog) -> None:
    """Takes a log in as somebody would: dropped, its columns as they were guessed."""
    zone_h = winter_clock(design.survey.longitude_deg.value)
    file = take_file(plan=plan, person=person, name=made.name, data=log_csv(design, made), zone_h=zone_h)
    asked = offered(open_again(file), {})
    name_columns(
        file=file, person=person, channels=dict(asked.channels), clock=asked.clock, prefers=asked.prefers, zone_h=zone_h
    )
