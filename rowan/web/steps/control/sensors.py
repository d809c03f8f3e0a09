"""The page of sensors: ohms to a temperature, which kind this is, what a broken one does, and the test on the bench."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rowan.core.steps.control.sensors import (
    SENSOR_KINDS,
    BenchReading,
    PointCurve,
    SensorKind,
    Told,
    broken,
    candidates,
    faults,
    moved,
    side_by_side,
    swapped,
    switch_told,
)
from rowan.core.terms.errors import RowanError, TypedNumberError
from rowan.core.terms.figure import Part, Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import System, shown, typed_to_si, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.editing.sheet_fields import Field
from rowan.web.steps.control.calming import sensor_rows
from rowan.web.steps.control.race import lens_of, lens_title
from rowan.web.ui.sentences import sentence

MOST_OHM = 1e9
LEAST_C, MOST_C = -60.0, 250.0
MOST_POINTS = 20
TEST_FIELDS = (
    ("a1", "collector sensor shows", "temperature", "both probes in one cup, room warm"),
    ("b1", "store sensor shows", "temperature", "in the same cup"),
    ("t1", "a thermometer shows", "temperature", "if there is one"),
    ("a2", "collector sensor, warm cup", "temperature", "again in hot water: an offset that moves is a wrong curve"),
    ("b2", "store sensor, warm cup", "temperature", "in the same cup"),
    ("on", "pump came on at", "difference", "collector sensor warmed slowly: shown difference"),
    ("off", "pump went off at", "difference", "left to cool"),
)


def _read(typed: Mapping[str, str], key: str, name: str, units: System) -> tuple[str, float | None, str]:
    """What was typed, its SI value if it is one, and what is wrong."""
    text = typed.get(key, "").strip()[:30]
    if not text:
        return "", None, ""
    try:
        value = typed_to_si(text, name, units)
    except TypedNumberError as error:
        return text, None, sentence(str(error))
    low, high = (LEAST_C, MOST_C) if name == "temperature" else (-60.0, 120.0)
    if not low <= value <= high:
        return text, None, "That is outside what can be read here."
    return text, value, ""


def _ohm(typed: Mapping[str, str]) -> tuple[str, float | None, str]:
    """Ohms, with “k” for thousands."""
    text = typed.get("ohm", "").strip()[:30]
    if not text:
        return "", None, ""
    bare = text.lower().removesuffix("ohm").removesuffix("ω").strip()
    thousand = bare.endswith("k")
    try:
        value = typed_to_si(bare.removesuffix("k").strip(), "ratio") * (1000.0 if thousand else 1.0)
    except TypedNumberError as error:
        return text, None, sentence(str(error))
    if not 0 <= value <= MOST_OHM:
        return text, None, "Ohms are between none and a thousand million."
    return text, value, ""


def _curve(typed: Mapping[str, str], units: System) -> tuple[str, PointCurve | None, str]:
    """An own curve, a line for each point: temperature; ohms."""
    text = typed.get("points", "")[:600]
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if not lines:
        return text, None, ""
    try:
        points = []
        for line in lines[:MOST_POINTS]:
            first, mark, second = line.partition(";")
            if not mark:
                raise TypedNumberError(tr("“{line}” is no point: type the temperature; then the ohms", line=line[:30]))
            points.append((typed_to_si(first.strip(), "temperature", units), typed_to_si(second.strip(), "ratio")))
        return text, PointCurve(tuple(points)), ""
    except RowanError as error:
        return text, None, sentence(error.text(units))


def _rows(ohm: float, held: float | None, curve: PointCurve | None, units: System) -> list[dict[str, str]]:
    """The kinds these ohms may be of, the own curve first."""
    rows = []
    if curve is not None:
        try:
            rows.append(
                {"name": "your curve", "at": shown(curve.temperature(ohm), "temperature", units, 1), "apart": ""}
            )
        except RowanError as error:
            rows.append({"name": "your curve", "at": error.text(units), "apart": ""})
    for found in candidates(ohm=ohm, held_at=held):
        apart = "" if found.apart is None else shown(found.apart, "difference", units, 1)
        rows.append({"name": found.kind.name, "at": shown(found.temperature, "temperature", units, 1), "apart": apart})
    return rows


def _kind(typed: Mapping[str, str]) -> SensorKind:
    return next((kind for kind in SENSOR_KINDS if kind.key == typed.get("kind")), SENSOR_KINDS[0])


def _test(sheet: Sheet, values: Mapping[str, float]) -> list[Told]:
    """What the test on the bench says so far."""
    told: list[Told] = []
    pairs = [("a1", "b1", "t1"), ("a2", "b2", "")]
    readings = [BenchReading(values[a], values[b], values.get(t)) for a, b, t in pairs if a in values and b in values]
    if readings:
        told += side_by_side(readings)[1]
    if len(readings) == 2:
        told += moved(*readings)
    if "on" in values and "off" in values:
        control = sheet.design.control
        told += switch_told(on=values["on"], off=values["off"], start=control.start_k.value, stop=control.stop_k.value)
    return told


def _hand(typed: Mapping[str, str], units: System) -> tuple[list[Field], Statement | None]:
    """One sensor held in a hand: which of the two shown temperatures rose."""
    fields, rises = [], {}
    for key, label in (("hand_a", "collector reading rose by"), ("hand_b", "store reading rose by")):
        text, value, wrong = _read(typed, key, "difference", units)
        fields.append(
            Field(key, label, text, unit_label("difference", units), wrong, "the collector sensor held in a hand")
        )
        if value is not None:
            rises[key] = value
    if len(rises) < 2:
        return fields, None
    crossed = swapped(collector_read=rises["hand_a"], store_read=rises["hand_b"], warmed="collector")
    words = (
        "The store reading rose: the two sensors are swapped, at the terminals or in their pockets."
        if crossed
        else "The collector reading rose: they are not swapped."
    )
    return fields, say(words)


def sensors_context(sheet: Sheet, typed: Mapping[str, str]) -> dict[str, Any]:
    """The page of sensors: what was typed, and everything it says."""
    units, kind = sheet.units, _kind(typed)
    ohm_text, ohm, ohm_wrong = _ohm(typed)
    held_text, held, held_wrong = _read(typed, "held", "temperature", units)
    points, curve, curve_wrong = _curve(typed, units)
    fields, values = [], {}
    for key, label, name, help_text in TEST_FIELDS:
        text, value, wrong = _read(typed, key, name, units)
        fields.append(Field(key, label, text, unit_label(name, units), wrong, help_text))
        if value is not None:
            values[key] = value
    hand, hand_says = _hand(typed, units)
    state = "" if ohm is None else broken(ohm=ohm)
    return {
        "kinds": [(entry.key, entry.name, entry.key == kind.key) for entry in SENSOR_KINDS],
        "kind_name": kind.name,
        "ohm_fields": [
            Field(
                "ohm",
                "ohms measured",
                ohm_text,
                "Ω",
                ohm_wrong,
                "at the controller's end, both wires off their terminals; 12.5k will do",
            ),
            Field("held", "held at", held_text, unit_label("temperature", units), held_wrong, "if it is known"),
        ],
        "points": points,
        "points_wrong": curve_wrong,
        "state": state,
        "ohm_rows": [] if ohm is None or state else _rows(ohm, held, curve, units),
        "asked": ohm is not None,
        "table": [
            (shown(t, "temperature", units), f"{kind.ohm(t):,.0f}".replace(",", "\N{NARROW NO-BREAK SPACE}"))
            for t in (-20.0, 0.0, 10.0, 20.0, 25.0, 40.0, 60.0, 80.0, 100.0, 120.0)
        ],
        "faults": faults(kind),
        "test_fields": fields,
        "test_told": _test(sheet, values),
        "hand_fields": hand,
        "hand_says": hand_says,
        "wrong": any((ohm_wrong, held_wrong, curve_wrong, *(f.wrong for f in (*fields, *hand)))),
        "verdict": _verdict(ohm, state, held, units),
        **_places(sheet),
    }


def _places(sheet: Sheet) -> dict[str, Any]:
    """Where the store's sensors sit, and what a bad collector sensor costs on the day under the lens."""
    store, lens = sheet.design.store, lens_of(sheet)
    rows = [] if not sheet.design.pumped else sensor_rows(sheet, lens)
    return {
        "low_at": shown(store.lower_sensor_m.value, "length", sheet.units),
        "high_at": shown(store.upper_sensor_m.value, "length", sheet.units),
        "sensor_day": rows,
        "lens_title": lens_title(sheet, lens),
    }


def _verdict(ohm: float | None, state: str, held: float | None, units: System) -> Statement:
    """What the ohms say, in one line."""
    if ohm is None:
        return say("Ohms tell the sensor, its wire and its place")
    if state:
        return say("The wire is broken or off its terminal: open" if state == "open" else "The two wires touch: short")
    found = candidates(ohm=ohm, held_at=held)
    if not found:
        return say("No sensor known here has these ohms in a solar loop")
    told: dict[str, Part] = {"kind": found[0].kind.name, "t": Quantity(found[0].temperature, "temperature", 1)}
    return Statement("{kind}, at {t}", told, capital=True)
