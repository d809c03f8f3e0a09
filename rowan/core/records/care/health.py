"""Is a loop doing what it should: its log held against its plan, what should have come beside what came, the likeliest fault in words."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.records.care.evidence import Evidence
from rowan.core.records.care.expected import Expected, expected, night_losses
from rowan.core.records.care.faults import Change
from rowan.core.records.care.match import Class, Match, classes_of, match, speech
from rowan.core.records.care.scene import Scene, scene_of
from rowan.core.records.care.signs import Off as NotOff
from rowan.core.records.care.signs import Twins, signs_of
from rowan.core.records.logs.log import Log
from rowan.core.records.logs.stamps import WHOLE_DAY_S
from rowan.core.records.planned import planned_of
from rowan.core.records.readings import Planned
from rowan.core.terms.dates import day_said
from rowan.core.terms.figure import Part, Quantity, Statement, say
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky

Array = NDArray[np.float64]
DECIMALS = {"pressure": 2, "length": 2, "share": 0}
MATCH_SHARE = 0.8  # of the time of a whole answer, for what is told of its progress
WHEN = (" at night", " in the morning", " at noon", " in the afternoon", " in the evening")
# what a channel is called, its kind of number, and how it is asked after
SAID: dict[str, tuple[str, str]] = {
    "field_c": ("the field", "temperature"),
    "hot_c": ("the hot line", "temperature"),
    "cold_c": ("the cold line", "temperature"),
    "gauge_pa": ("the gauge", "pressure"),
    "level": ("the water level at rest", "length"),
    "flow": ("the flow", "share"),
    "scatter": ("the flow's flicker", "share"),
    "light": ("the light the field must have seen, of a clear sky's", "share"),
    "top_cools": ("the store's top by night, an hour", "difference"),
    "foot_cools": ("the store's foot by night, an hour", "difference"),
    "foot_gains": ("the store's foot at noon, an hour", "difference"),
    "dawn": ("the store's foot before the pump runs, warmed by", "difference"),
    "top_most": ("the store's top at its warmest", "temperature"),
    "unread": ("time without a reading of the field", "share"),
    "start_k": ("the pump starts at", "difference"),
    "stop_k": ("the pump stops at", "difference"),
}


# numbers that are fitted, and their kinds
OFF_SAID: dict[str, tuple[str, str]] = {
    "share": ("flow", "share"),
    "eta0": ("what the field takes in", "share"),
    "a1": ("what the field loses", "share"),
    "capacity": ("what the field holds", "share"),
    "lines": ("what the lines lose", "share"),
    "coil": ("what the coil passes on", "share"),
    "up": ("how far up the coil works", "share"),
    "field_k": ("field probe reads more", "difference"),
    "foot_k": ("store probe reads more", "difference"),
    "air_k": ("air over the one read", "difference"),
    "gauge_fill": ("gauge as filled", "pressure"),
    "gauge_swing": ("gauge's swing", "share"),
    "meter": ("flow meter reads more", "share"),
}
# what the rules of the last day and of the nights say again, where a fault was named
COVERED: dict[str, frozenset[str]] = {
    "warm_nights": frozenset({"check_valve", "welded_relay"}),
    "no_flow": frozenset({"no_flow", "air", "lost_pressure", "low_flow", "thick_mix"}),
    "night_pump": frozenset({"night_pump", "hand_on", "frost_run", "swapped"}),
    "runs_on": frozenset({"hand_on", "swapped", "wrong_pair", "frost_run", "night_pump"}),
    "rests": frozenset({"hand_off", "low_limit", "battery", "field_unread"}),
    "other_pair": frozenset({"wrong_pair", "battery"}),
    "pressure": frozenset({"leak", "air_leaves", "relief", "lost_pressure", "vessel"}),
    "open_field_c": frozenset({"field_unread"}),
}


@record
class Health:
    """What a log says of its loop: the match, its classes, what was due and what came, heat lost each night [J], the channels it has."""

    match: Match
    classes: tuple[Class, ...]
    expected: Expected
    night_heat: float
    channels: frozenset[str]
    has_sun: bool
    has_air: bool
    by_file: bool = False

    @property
    def named(self) -> Class | None:
        """The class of fault to name; None for nothing found."""
        return self.classes[0] if self.match.named is not None and self.classes else None

    @property
    def begins(self) -> int:
        """The day of the log, from 0, from which the named fault holds; 0 without one."""
        named = self.named
        return named.first.begins if named is not None else 0

    def covers(self, key: str) -> bool:
        """Whether a deviation of the last day says again what is named."""
        named = self.named
        return named is not None and any(one.fault.key in COVERED.get(key, ()) for one in named.members)

    def speech(self, one: Class) -> dict[str, str]:
        """What each place of the loop says of a class; see `match.speech`."""
        return speech(one.first, self.classes[0].first)


def health_of(
    design: Design,
    result: Reckoning,
    log: Log,
    *,
    zone_h: float,
    sky: Sky | None = None,
    told: Callable[[float], None] = lambda _: None,
) -> Health:
    """Holds a log against its plan.

    Args:
        design: the plan as built.
        result: its reckoning.
        log: the log.
        zone_h: hours that the place's winter clock is ahead of universal time [h].
        sky: the weather of its days, where a file has it and the log has no sensor.
        told: hears how far it is, 0 to 1.

    Raises LogError for a log that cannot be held against anything, ImpossibleInputError for a plan that cannot be run.
    """
    scene = scene_of(design, result, log, zone_h=zone_h, sky=sky)
    planned = planned_of(design, result)
    found = match(scene, planned, told=lambda share: told(MATCH_SHARE * share))
    channels = channels_of(log)
    classes = tuple(classes_of(found, channels))
    rows = _rows_supposed(scene, planned, found)
    begins = found.named.begins if found.named is not None else 0
    due = expected(
        design,
        result,
        scene,
        log,
        rows,
        # what is ill may move the foot as well
        healthy=begins if found.named is not None else None,
        told=lambda share: told(MATCH_SHARE + (1 - MATCH_SHARE) * share),
    )
    return Health(
        found, classes, due, _night_heat(scene, rows, begins), channels, scene.has_sun, scene.has_air, scene.by_file
    )


def channels_of(log: Log) -> frozenset[str]:
    """The channels in which a log has readings."""
    return frozenset(key for key, values in log.columns.items() if np.isfinite(values).any())


def _rows_supposed(scene: Scene, planned: Planned, found: Match) -> Array:
    """The twin's rows: healthy until the named fault begins, with it from then on."""
    twins = Twins(scene)
    _, rows = signs_of(twins, planned, Change(), NotOff())
    named = found.named
    if named is None or named.change.swapped:
        return rows
    _, ill = signs_of(twins, planned, named.change, NotOff())
    return np.where((scene.day >= named.begins)[:, None], ill, rows)


def _night_heat(scene: Scene, rows: Array, begins: int) -> float:
    """Heat that leaves the store by the loop at rest, a night, since a day [J]."""
    return float(night_losses(scene, rows)[begins:].mean())


def off_words(found: Match) -> list[tuple[str, Statement]]:
    """What a healthy loop would be off its plan to read so, in the order it was fitted: what, and by how much."""
    told = []
    for key, value in found.off.items():
        name, kind = OFF_SAID[key]
        if kind == "share":
            told.append((name, say(f"{100 * value:+.0f} %".replace("-", "\u2212"))))
        else:
            told.append((name, say("{d}", d=_quantity(value, kind))))
    return told


def day_words(first_day: int, day: int) -> Statement:
    """A day of a log as it is said: 14 May."""
    return day_said(datetime.fromtimestamp((first_day + day) * WHOLE_DAY_S, UTC))


def verdict(health: Health) -> Statement:
    """What the log says, in one line."""
    named = health.named
    came, due, low, high = health.expected.sums(health.begins)
    if named is None and came < low:
        return say(
            "Less heat came than was due in this weather, {share} of it, and no single fault explains it",
            share=Quantity(came / due, "share"),
        )
    if named is None and came > high > 0:
        return say(
            "Nothing stands against the plan; more heat came than was due in this weather: {share}",
            share=Quantity(came / due, "share"),
        )
    if named is None:
        if due <= 0:
            return say("Nothing stands against the plan in what was read")
        return say(
            "It does what it should: {share} of the heat that was due in this weather came",
            share=Quantity(came / due, "share"),
        )
    name, more = named.first.fault.name, "" if len(named.members) == 1 else ", or what looks the same in this log"
    if not health.begins:
        return say("{name}{more}", name=name, more=more)
    since = day_words(health.expected.first_day, health.begins)
    return say("{name}, since {since}{more}", since=since, name=name, more=more)


def evidence_words(one: Evidence) -> Statement:
    """A piece of evidence as a sentence: what was read, what a healthy loop would have shown, what this fault would."""
    if one.channel == "sun_time":
        late = one.healthy
        return say(
            "The middle of the day's light comes {minutes} min {case} than the sun's, on {nearer} of {days} days",
            minutes=f"{abs(late):.0f}",
            case="later" if late > 0 else "earlier",
            nearer=f"{one.nearer}",
            days=f"{one.days}",
        )
    if one.channel in ("off_h", "on_day_h", "on_night_h"):
        what = {
            "off_h": "The pump rests though it should run",
            "on_day_h": "The pump runs by day though it should rest",
            "on_night_h": "The pump runs by night though it should rest",
        }[one.channel]
        return say(
            "{what}: {healthy} h a day, on {nearer} of {days} days",
            what=what,
            healthy=f"{-one.healthy:.1f}",
            nearer=f"{one.nearer}",
            days=f"{one.days}",
        )
    name, kind = SAID[one.channel]
    when = "" if one.part is None else WHEN[one.part]
    pump = "" if one.part is None else ", pump on" if one.runs else ", pump off"
    told: dict[str, Part] = {
        "name": name,
        "when": when,
        "pump": pump,
        "nearer": f"{one.nearer}",
        "days": f"{one.days}",
        "read": _quantity(one.read, kind),
        "healthy": _quantity(one.healthy, kind),
        "supposed": _quantity(one.supposed, kind),
    }
    return Statement(
        "{name}{when}{pump}: {read} read, {healthy} if healthy, {supposed} with this fault; nearer to it on {nearer} of {days}",
        told,
        capital=True,
    )


def _quantity(value: float, kind: str) -> Quantity:
    return Quantity(value, kind, DECIMALS.get(kind, 1))
