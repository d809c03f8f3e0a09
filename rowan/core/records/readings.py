"""What readings of a controller say about it: whether the pump does what the plan's differences ask for, and what does not fit.

A first look at what is there now; matching a whole log against what the plan should have brought is the care stage's.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import UTC, datetime, timedelta
from itertools import pairwise

import numpy as np
from numpy.typing import ArrayLike, NDArray

from rowan.core.terms.errors import ReadingError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.record import record

LEAST_C, MOST_C = -60.0, 400.0  # °C, what a platinum sensor can honestly say
MOST_FLOW_M3_S, MOST_GAUGE_PA = 0.05, 4e6  # m³/s and Pa, above any loop that is planned here
MOST_AIR_C = 60.0  # °C in the shade, above any place where collectors are mounted
# W/m²: a sensor's own zero at night, and beyond the brightest moment between clouds on the ground
SUN_ZERO_W_M2, MOST_SUN_W_M2 = -20.0, 1600.0
MOST_LEVEL_M = 20.0  # m of water over a sensor, above any reservoir or store here
SLACK_K = 1.5  # sensors flicker, and between two readings the loop has gone on
LITTLE_FLOW = 0.25  # share of the planned flow under which something is in the way
OFF_K = 2.0  # K, more than two good sensors differ
AWAY_S = 1800.0  # s without a reading before a device counts as silent
NIGHT_HOURS = (22, 5)  # hours in which no sun explains a warm field
# of now, beyond which a device's clock is wrong and not slow: a clock drifts by minutes, a log is sent late by years at most
AHEAD, BEHIND = timedelta(minutes=10), timedelta(days=3653)
# h between which night cooling runs, and K by which frost protection warms a field before it rests, and cooling cools one
COOLS_FROM_H, COOLS_TO_H, FROST_WARMS_K, COOLS_DOWN_K = 20.0, 9.0, 10.0, 20.0
TIMER_SLACK_H = 1.1  # h that a timer may be off by summer time, and some minutes
FAR_C = 50.0  # °C, a field that was not read is neither frozen nor hot
SOME_SWITCHES = 3  # times, before a switching point is told from noise


@record
class Reading:
    """What a controller showed at a moment: temperatures [°C], pump [-], flow [m³/s], gauge [Pa], sun on the field [W/m²], level of a loop that drains [m]; None where nothing was read."""

    at: datetime
    field_c: float | None = None
    low_c: float | None = None
    high_c: float | None = None
    hot_c: float | None = None
    cold_c: float | None = None
    pump_share: float | None = None
    flow_m3_s: float | None = None
    gauge_pa: float | None = None
    air_c: float | None = None
    sun_w_m2: float | None = None
    level_m: float | None = None

    @property
    def over(self) -> float | None:
        """The field over the store's foot [K]."""
        return None if self.field_c is None or self.low_c is None else self.field_c - self.low_c

    @property
    def runs(self) -> bool:
        """Whether the pump is told to run."""
        return bool(self.pump_share and self.pump_share > 0.0)


LIMITS: dict[str, tuple[float, float]] = {
    "field_c": (LEAST_C, MOST_C),
    "low_c": (LEAST_C, MOST_C),
    "high_c": (LEAST_C, MOST_C),
    "hot_c": (LEAST_C, MOST_C),
    "cold_c": (LEAST_C, MOST_C),
    "pump_share": (0.0, 1.0),
    "flow_m3_s": (0.0, MOST_FLOW_M3_S),
    "gauge_pa": (-1e5, MOST_GAUGE_PA),
    "air_c": (LEAST_C, MOST_AIR_C),
    "sun_w_m2": (SUN_ZERO_W_M2, MOST_SUN_W_M2),
    "level_m": (0.0, MOST_LEVEL_M),
}


def reading_of(data: object) -> Reading:
    """A reading from decoded JSON. Raises ReadingError for what is no reading: keys, kinds, limits, a time without its zone."""
    if not isinstance(data, dict):
        raise ReadingError("a reading is a JSON object")
    unknown = sorted(str(key) for key in data if key != "at" and key not in LIMITS)
    if unknown:
        raise ReadingError(
            "“{unknown}” is no key of a reading; there are at, {limits}",
            unknown=unknown[0][:40],
            limits=", ".join(LIMITS),
        )
    return Reading(_moment(data.get("at")), **{key: _number(key, data[key]) for key in LIMITS if key in data})


def _moment(text: object) -> datetime:
    if not isinstance(text, str):
        raise ReadingError("“at” is missing: when was it read? Such as 2026-05-04T12:00:00Z")
    try:
        found = datetime.fromisoformat(text)
    except ValueError as error:
        raise ReadingError("“{text}” is no time; such as 2026-05-04T12:00:00Z", text=text[:40]) from error
    if found.tzinfo is None:
        raise ReadingError("“{text}” does not say its zone; put Z or +01:00 behind it", text=text[:40])
    if not 2000 <= found.year <= 2200:
        raise ReadingError("the year {year} lies outside 2000 to 2200", year=f"{found.year}")
    return found


def clock_is_off(reading: Reading, now: datetime) -> bool:
    """Whether the device's clock cannot be right: ahead of now, or so far behind that it was reset."""
    return reading.at > now + AHEAD or reading.at < now - BEHIND


def once_each(pairs: list[tuple[str, object]]) -> dict[str, object]:
    """The keys of an object; made for `json.loads`, which of two alike would silently take the last. Raises ReadingError."""
    found = dict(pairs)
    if len(found) < len(pairs):
        twice = next(key for number, (key, _) in enumerate(pairs) if key in dict(pairs[:number]))
        raise ReadingError("“{twice}” stands twice: which one counts?", twice=twice[:40])
    return found


def _number(key: str, value: object) -> float | None:
    if value is None:
        return None
    if isinstance(value, bool) or not isinstance(value, int | float):
        raise ReadingError("“{key}” must be a number or null", key=key)
    try:
        number = float(value)
    except OverflowError:
        number = math.inf
    low, high = LIMITS[key]
    if not low <= number <= high:
        raise ReadingError("“{key}” must lie between {low} and {high}", key=key, low=f"{low:g}", high=f"{high:g}")
    return number


@record
class Allowed:
    """What a plan lets the pump do beside its differences: night cooling, frost protection from a temperature on [°C], cooling of a field
    from a temperature on [°C], a timer's hours, rests without a reason (a battery's), a speed that follows the difference: `floor` of the
    full one at the start difference, `slope` of it more for each kelvin over that."""

    nights: bool = False
    frost_c: float | None = None
    cools_c: float | None = None
    timer_h: tuple[float, float] | None = None
    rests: bool = False
    floor: float = 1.0
    slope: float = 0.0

    def may_run(self, hour: ArrayLike, field_c: ArrayLike) -> NDArray[np.bool_]:
        """Whether it may run at hours of the day [h] with a field [°C], whatever the differences say."""
        hours, field = np.asarray(hour, dtype=float), np.nan_to_num(np.asarray(field_c, dtype=float), nan=FAR_C)
        found = np.zeros(np.broadcast(hours, field).shape, dtype=bool)
        if self.nights:
            found = found | (hours >= COOLS_FROM_H) | (hours < COOLS_TO_H)
        if self.frost_c is not None:
            found = found | (field <= self.frost_c + FROST_WARMS_K)
        if self.cools_c is not None:
            found = found | (field >= self.cools_c - COOLS_DOWN_K)
        if self.timer_h is not None:
            found = found | (hours >= self.timer_h[0] - TIMER_SLACK_H) & (hours < self.timer_h[1] + TIMER_SLACK_H)
        return found

    @property
    def may_rest(self) -> bool:
        """Whether it may rest whatever the differences say."""
        return self.rests or self.timer_h is not None


NOTHING_ELSE = Allowed()


@record
class Planned:
    """What the plan has set: differences [K], limits [°C], flow [m³/s], the gauge on the coldest night [Pa] if it is known, how far
    the place's winter clock is ahead of universal time [h], and what else the pump may do."""

    start: float
    stop: float
    least_c: float
    store_c: float
    cut_out_c: float
    flow: float
    least_gauge: float | None = None
    zone_h: float = 0.0
    allowed: Allowed = NOTHING_ELSE

    def may_run(self, reading: Reading) -> bool:
        """Whether the pump may run at a reading, whatever the differences say."""
        hour = (reading.at + timedelta(hours=self.zone_h)).astimezone(UTC).hour
        return bool(self.allowed.may_run(hour, math.nan if reading.field_c is None else reading.field_c))


@record
class Seen:
    """Something in the readings that does not fit: its key, how grave, what, and what to look at."""

    key: str
    level: Level
    what: Statement
    look: Statement


@record
class Switching:
    """At what difference the pump was seen to start and to stop [K], medians; None where it was not."""

    start: float | None
    stop: float | None
    starts: int


def switching(readings: Sequence[Reading]) -> Switching:
    """How the pump switched, from readings in the order of their time: the difference read when it was first seen on or off."""
    on: list[float] = []
    off: list[float] = []
    for before, after in pairwise(readings):
        if after.over is None or before.runs == after.runs:
            continue
        (on if after.runs else off).append(after.over)
    return Switching(_middle(on), _middle(off), len(on))


def _middle(values: list[float]) -> float | None:
    return sorted(values)[len(values) // 2] if values else None


def observed(readings: Sequence[Reading], planned: Planned, *, now: datetime | None = None) -> list[Seen]:
    """What does not fit in some readings in the order of their time, the newest last. Nothing from no readings."""
    if not readings:
        return []
    last = readings[-1]
    found = [
        *_silent(last, now),
        *_wires(last),
        *_pump(last, readings, planned),
        *_night(readings, planned),
        *_pressure(last, planned),
        *_pair(readings, planned),
    ]
    return found


def _silent(last: Reading, now: datetime | None) -> list[Seen]:
    if now is None or (now - last.at).total_seconds() <= AWAY_S:
        return []
    return [
        Seen(
            "silent",
            "mind",
            say("The controller has not been heard for {t}", t=Quantity((now - last.at).total_seconds(), "hours", 1)),
            say("Is it powered, and does its line to here stand?"),
        )
    ]


def _wires(last: Reading) -> list[Seen]:
    names = (("field_c", "field"), ("low_c", "lower store"), ("high_c", "upper store"))
    return [
        Seen(
            f"open_{key}",
            "fix",
            say("The {name} sensor reads nothing", name=name),
            say("A broken wire or a loose terminal: measure its ohms. The pump rests meanwhile."),
        )
        for key, name in names
        if getattr(last, key) is None
    ]


def _pump(last: Reading, readings: Sequence[Reading], planned: Planned) -> list[Seen]:
    """Told to run and nothing flows; runs on without a reason; rests though there is heat."""
    recent = readings[-3:]
    flows = [r.flow_m3_s for r in recent if r.flow_m3_s is not None and r.runs]
    # a pump that is told to run slowly moves less; one that was logged as on alone may be at its slowest
    told = min((r.pump_share or 0.0 for r in recent), default=0.0)
    due = planned.flow * (told if told < 1.0 else planned.allowed.floor)
    if len(flows) == len(recent) and max(flows) < LITTLE_FLOW * due:
        return [
            Seen(
                "no_flow",
                "fix",
                say(
                    "The pump is told to run and {q} flow; {p} are due",
                    q=Quantity(max(flows), "flow"),
                    p=Quantity(due, "flow"),
                ),
                say("Stuck shaft, air at the top, a shut valve, or too little pressure: in this order."),
            )
        ]
    overs = [r.over for r in recent if r.over is not None]
    if len(overs) < len(recent):
        return []
    if all(r.runs and not planned.may_run(r) for r in recent) and max(overs) < planned.stop - SLACK_K:
        return [
            Seen(
                "runs_on",
                "fix",
                say(
                    "The pump runs with the field {d} over the store's foot",
                    d=Quantity(last.over or 0.0, "difference", 1),
                ),
                say(
                    "It should have stopped at {s}. A hand switch, a stuck relay, swapped sensors, or frost protection?",
                    s=Quantity(planned.stop, "difference"),
                ),
            )
        ]
    idle = not any(r.runs for r in recent) and min(overs) > planned.start + SLACK_K
    allowed = (last.field_c or 0.0) >= planned.least_c and (last.field_c or 0.0) < planned.cut_out_c - 10.0
    room = last.high_c is None or last.high_c < planned.store_c - 3.0
    if idle and allowed and room and not planned.allowed.may_rest:
        return [
            Seen(
                "rests",
                "fix",
                say(
                    "The pump rests with the field {d} over the store's foot",
                    d=Quantity(last.over or 0.0, "difference", 1),
                ),
                say(
                    "It should run from {s}. Is it switched off, or set otherwise?",
                    s=Quantity(planned.start, "difference"),
                ),
            )
        ]
    return []


def _night(readings: Sequence[Reading], planned: Planned) -> list[Seen]:
    """A pump that runs in the dark and cools the store."""
    ahead = timedelta(hours=planned.zone_h)
    hours = [(r, (r.at + ahead).astimezone(UTC).hour) for r in readings]
    night = [r for r, hour in hours if hour >= NIGHT_HOURS[0] or hour < NIGHT_HOURS[1]]
    cooled = [r for r in night if r.runs and r.over is not None and r.over < -OFF_K and not planned.may_run(r)]
    if len(cooled) >= SOME_SWITCHES:
        return [
            Seen(
                "night_pump",
                "fix",
                say("The pump ran at night and cooled the store"),
                say("A hand switch, a clock, swapped sensors, night cooling left on, or frost protection on glycol?"),
            )
        ]
    return []


def _pressure(last: Reading, planned: Planned) -> list[Seen]:
    if last.gauge_pa is None or planned.least_gauge is None or last.gauge_pa >= planned.least_gauge:
        return []
    return [
        Seen(
            "pressure",
            "fix",
            say(
                "The gauge stands at {g}, below the coldest night's {l}",
                g=Quantity(last.gauge_pa, "pressure"),
                l=Quantity(planned.least_gauge, "pressure"),
            ),
            say("Look for the leak before anything is topped up; never with water into glycol."),
        )
    ]


def _pair(readings: Sequence[Reading], planned: Planned) -> list[Seen]:
    """Differences as seen against those planned."""
    seen = switching(readings)
    if seen.starts < SOME_SWITCHES or seen.start is None or seen.start >= planned.start - OFF_K - SLACK_K:
        return []
    return [
        Seen(
            "other_pair",
            "fix",
            say(
                "It starts at about {a}; the plan says {b}",
                a=Quantity(seen.start, "difference", 1),
                b=Quantity(planned.start, "difference", 1),
            ),
            say("Somebody has set it otherwise, or a reset has: compare with the settings card."),
        )
    ]
