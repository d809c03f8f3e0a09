"""What the columns of a log are: by their names, by their units, and by how their numbers behave; each guess with its reason."""

from __future__ import annotations

import re
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.readings import LIMITS, MOST_SUN_W_M2
from rowan.core.terms.constants import KELVIN
from rowan.core.terms.record import record
from rowan.core.terms.units import GALLON, INCH, KPA, KWH, LITRE_H, LITRE_MIN, PSI

Numbers = NDArray[np.float64]


@record
class Channel:
    """A thing a loop's log can hold: its key, what it is called, its kind, what it can be in SI (°C for temperatures)."""

    key: str
    label: str
    kind: str
    least: float
    most: float
    words: str


def _channel(key: str, label: str, kind: str, words: str) -> Channel:
    return Channel(key, label, kind, *LIMITS[key], words)


# in the order in which a name is looked through: what is told by one word before what could be anything
CHANNELS: tuple[Channel, ...] = (
    _channel("gauge_pa", "gauge", "pressure", r"pressure|gauge|druck|pression|presi[oó]n"),
    Channel(
        "sun_w_m2", "sun on the field", "sun", 0.0, MOST_SUN_W_M2, r"\bsun|irradi|radiat|strahlung|ensoleil|radiaci"
    ),
    Channel(
        "heat_j", "heat meter", "heat", 0.0, 1e14, r"\bheat\b|energy|yield|w[aä]rmemenge|[eé]nergie|calor\b|\bk?wh\b"
    ),
    _channel(
        "flow_m3_s",
        "flow",
        "flow",
        r"flow ?(rate|meter)?$|volume ?flow|durchfluss|volumenstrom|d[eé]bit|caudal|litres? per|l/(min|h)",
    ),
    _channel("level_m", "water level", "length", r"\blevel|f[uü]llstand|pegel|niveau|nivel"),
    _channel("pump_share", "pump", "share", r"pump|relay|relais|pompe|bomba|output|speed"),
    _channel(
        "air_c",
        "air outside",
        "temperature",
        r"outdoor|outside|ambient|\bair\b|au(ss|ß)en|ext[eé]rieur|exterior",
    ),
    _channel("field_c", "field", "temperature", r"coll|field|panel|roof|kollektor|capteur|captador"),
    _channel("cold_c", "cold line", "temperature", r"cold|return|r[uü]cklauf|retour|retorno|down"),
    _channel("hot_c", "hot line", "temperature", r"\bhot\b|supply|flow temp|vorlauf|d[eé]part|impuls"),
    _channel("high_c", "store top", "temperature", r"top|upper|high|oben|haut|superior|arriba"),
    _channel(
        "low_c",
        "store foot",
        "temperature",
        r"foot|bottom|lower|low\b|unten|\bbas\b|inferior|abajo|store|tank|cylinder|speicher",
    ),
)
BY_KEY = {channel.key: channel for channel in CHANNELS}
# units by what is written for them: of which kind, factor and shift to SI (°C for temperatures)
UNITS: dict[str, tuple[str, float, float]] = {
    "°C": ("temperature", 1.0, 0.0),
    "K": ("temperature", 1.0, -KELVIN),
    "°F": ("temperature", 5.0 / 9.0, -160.0 / 9.0),
    "0 to 1": ("share", 1.0, 0.0),
    "%": ("share", 0.01, 0.0),
    "L/min": ("flow", LITRE_MIN, 0.0),
    "L/h": ("flow", LITRE_H, 0.0),
    "m³/h": ("flow", 1.0 / 3600.0, 0.0),
    "m³/s": ("flow", 1.0, 0.0),
    "gal/min": ("flow", GALLON / 60.0, 0.0),
    "bar": ("pressure", 1e5, 0.0),
    "kPa": ("pressure", KPA, 0.0),
    "MPa": ("pressure", 1e6, 0.0),
    "Pa": ("pressure", 1.0, 0.0),
    "psi": ("pressure", PSI, 0.0),
    "W/m²": ("sun", 1.0, 0.0),
    "kW/m²": ("sun", 1e3, 0.0),
    "kWh": ("heat", KWH, 0.0),
    "Wh": ("heat", KWH / 1e3, 0.0),
    "MWh": ("heat", KWH * 1e3, 0.0),
    "MJ": ("heat", 1e6, 0.0),
    "m": ("length", 1.0, 0.0),
    "cm": ("length", 0.01, 0.0),
    "mm": ("length", 1e-3, 0.0),
    "in": ("length", INCH, 0.0),
}
# as they are written in small letters: the labels themselves, and what else stands for them
WRITTEN = {label.lower(): label for label in UNITS} | {
    "c": "°C", "degc": "°C", "deg c": "°C", "celsius": "°C", "kelvin": "K", "f": "°F", "degf": "°F", "deg f": "°F", "fahrenheit": "°F",
    "lpm": "L/min", "lph": "L/h", "m3/h": "m³/h", "m3/s": "m³/s", "gpm": "gal/min", "w/m2": "W/m²", "kw/m2": "kW/m²",
}  # fmt: skip
# no temperature of a loop in °C stands as high all the time, and none in kelvin as low or high
LEAST_KELVIN, MOST_KELVIN = 230.0, 480.0
# °C between which the temperatures of a loop lie but for some moments, and K that one moves at least
LEAST_USUAL_C, MOST_USUAL_C, LEAST_SWING_K = -40.0, 260.0, 4.0
SAMPLE = 5000  # rows by which a column's kind is told
LEAST_SUN_W_M2, DARK_SHARE = (
    300.0,
    0.3,
)  # a pyranometer has shown more than this some day, and nothing in this share of all rows
REST_SHARE = 0.02  # of all rows, in which a pump that was logged at least rested
# our own files say the unit in the key
KEY_UNITS = {
    "_c": "°C",
    "pump_share": "0 to 1",
    "flow_m3_s": "m³/s",
    "gauge_pa": "Pa",
    "sun_w_m2": "W/m²",
    "level_m": "m",
}
# of each kind, the unit and the largest number that is usual in it, from the smallest unit to the largest
USUAL: dict[str, tuple[tuple[str, float], ...]] = {
    "share": (("0 to 1", 1.0), ("%", 100.0)),
    "pressure": (("bar", 12.0), ("psi", 150.0), ("kPa", 1500.0), ("Pa", 1e7)),
    "flow": (("m³/s", 0.02), ("m³/h", 1.2), ("L/min", 60.0), ("L/h", 5000.0)),
    "sun": (("kW/m²", 2.0), ("W/m²", 1e5)),
    "heat": (("kWh", 1e12),),
    "length": (("m", 5.0), ("cm", 400.0), ("mm", 1e5)),
}


@record
class Guess:
    """What a column is taken for: channel and unit, "" where it is not used, and why."""

    column: int
    name: str
    channel: str
    unit: str
    why: str


def guesses(names: tuple[str, ...], units: tuple[str, ...], columns: dict[int, Numbers]) -> list[Guess]:
    """What each column of numbers is taken for. No channel is given twice; what stays unnamed is told by its behaviour.

    `columns`: the numbers by the column's place from 0, NaN where there is none; the same moments in each.
    """
    found: dict[int, Guess] = {}
    taken: set[str] = set()
    for at in columns:
        by_name = _by_name(names[at])
        if by_name is None or by_name.key in taken or _is_empty(columns[at]):
            continue
        unit, why_unit = _unit(by_name, names[at], units[at], columns[at])
        if unit:
            taken.add(by_name.key)
            found[at] = Guess(at, names[at], by_name.key, unit, f"its name; {why_unit}")
    left = [at for at in columns if at not in found and not _is_empty(columns[at])]
    found |= _by_behaviour(left, names, units, columns, taken)
    return [found.get(at, Guess(at, names[at], "", "", _unused(columns[at]))) for at in columns]


def _is_empty(values: Numbers) -> bool:
    return bool(np.isnan(values).all())


def _unused(values: Numbers) -> str:
    return "it holds no numbers" if _is_empty(values) else "nothing tells what it is"


def _by_name(name: str) -> Channel | None:
    plain = name.strip().lower()
    if plain in BY_KEY:
        return BY_KEY[plain]
    # a unit in brackets is none of the name
    spoken = re.sub(r"[_\-./]+", " ", re.sub(r"\s*[(\[][^)\]]*[)\]]\s*$", "", plain))
    return next((channel for channel in CHANNELS if re.search(channel.words, spoken)), None)


def _unit(channel: Channel, name: str, written: str, values: Numbers) -> tuple[str, str]:
    """Unit of a column of a channel and why; "" where the written one is of another kind."""
    for ending, unit in KEY_UNITS.items():
        if name == channel.key and name.endswith(ending):
            return unit, "the unit is in the key"
    said = WRITTEN.get(written.strip().lower(), "")
    if said:
        if UNITS[said][0] != channel.kind:
            return "", ""
        if said == "°C" and _looks_kelvin(values):
            return "K", "°C is written, yet its numbers are kelvin"
        return said, f"{said} is written beside it"
    return _usual(channel.kind, values)


def _looks_kelvin(values: Numbers) -> bool:
    low, high = np.nanpercentile(values, [2, 98])
    return bool(low > LEAST_KELVIN and high < MOST_KELVIN)


def _usual(kind: str, values: Numbers) -> tuple[str, str]:
    high = float(np.nanpercentile(np.abs(values), 99.5))
    if kind == "temperature":
        if _looks_kelvin(values):
            return "K", "its numbers can only be kelvin"
        return "°C", "taken for °C"
    for unit, most in USUAL[kind]:
        if high <= most:
            return unit, f"up to {high:.3g}, taken for {unit}"
    return "", ""


@record
class _Traits:
    high: float
    low: float
    mean: float
    zeros: float
    kinds: int


def _traits(values: Numbers) -> _Traits:
    good = values[~np.isnan(values)]
    low, high = np.percentile(good, [1, 99])
    few = good[:: max(1, len(good) // SAMPLE)]
    return _Traits(float(high), float(low), float(good.mean()), float((few == 0.0).mean()), len(np.unique(few)))


def _by_behaviour(
    left: list[int], names: tuple[str, ...], units: tuple[str, ...], columns: dict[int, Numbers], taken: set[str]
) -> dict[int, Guess]:
    """Columns without a telling name: the pump is on or off, the sun stands at nothing half the time, the field swings widest."""
    traits = {at: _traits(columns[at]) for at in left}
    found: dict[int, Guess] = {}

    def give(at: int, key: str, unit: str, why: str) -> None:
        """Takes a column for a channel, which no other is then."""
        taken.add(key)
        found[at] = Guess(at, names[at], key, unit, why)

    for at, t in traits.items():
        if "pump_share" not in taken and t.kinds == 2 and t.zeros > REST_SHARE and t.high in (1.0, 100.0):
            give(at, "pump_share", "0 to 1" if t.high == 1.0 else "%", "it is on or off, nothing between")
        elif "sun_w_m2" not in taken and t.zeros > DARK_SHARE and LEAST_SUN_W_M2 < t.high <= MOST_SUN_W_M2:
            give(at, "sun_w_m2", "W/m²", f"nothing at night, up to {t.high:.0f} by day")
    warm = [at for at in left if at not in found and _is_temperature(units[at], traits[at])]
    by_swing = sorted(warm, key=lambda at: traits[at].low - traits[at].high)
    if by_swing and "field_c" not in taken and len(warm) >= 2:
        at = by_swing.pop(0)
        give(at, "field_c", _temperature_unit(units[at], columns[at]), "of the temperatures it swings widest")
    by_warmth = sorted(by_swing, key=lambda at: -traits[at].mean)
    for key, at, why in zip(
        ("high_c", "low_c"), (by_warmth[:1] + by_warmth[-1:]), ("the warmest on average", "the coolest"), strict=False
    ):
        if key not in taken and at not in found and len(by_warmth) >= 2:
            give(at, key, _temperature_unit(units[at], columns[at]), f"of the others it is {why}")
    return found


def _is_temperature(unit: str, t: _Traits) -> bool:
    said = WRITTEN.get(unit.strip().lower(), "")
    if said:
        return UNITS[said][0] == "temperature"
    is_kelvin = t.low > LEAST_KELVIN and t.high < MOST_KELVIN
    is_celsius = t.low >= LEAST_USUAL_C and t.high <= MOST_USUAL_C
    # a state or a counter has few values, or moves less
    return t.kinds > 10 and t.high - t.low > LEAST_SWING_K and (is_celsius or is_kelvin)


def _temperature_unit(unit: str, values: Numbers) -> str:
    if _looks_kelvin(values):
        return "K"
    return WRITTEN.get(unit.strip().lower(), "") or "°C"


def in_si(values: Any, unit: str) -> Numbers:
    """Numbers of a unit in SI, °C for temperatures. Raises KeyError for an unknown unit."""
    _, factor, shift = UNITS[unit]
    return np.asarray(values, dtype=float) * factor + shift
