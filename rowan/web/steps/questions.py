"""Pages beside the benches that are asked something: a loop as found, a line of a data sheet, a pump by its points."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from rowan.core.goods.items import CollectorItem, PumpItem
from rowan.core.records.data_sheet_line import LINES, Line, Reading, readings
from rowan.core.steps.charge.gauge import AsFound
from rowan.core.steps.charge.gauge_findings import GaugeRead, found_lines, found_of, found_verdict
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.run.own_pump import made, points_from_text
from rowan.core.terms.errors import RowanError, TypedNumberError
from rowan.core.terms.expression import significant
from rowan.core.terms.figure import Quantity, Statement, refusal_statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE, LITRE_H, System, dimension, shown, typed_to_si, unit_label
from rowan.web.benches.bench import Sheet
from rowan.web.editing.sheet_fields import Field
from rowan.web.steps.charge.drawing import found_vessels
from rowan.web.ui.sentences import sentence
from rowan.web.ui.svg import Drawing

MOST_GAUGE_PA = 2e6
LEAST_LOOP_C, MOST_LOOP_C = -40.0, 180.0


FOUND_FIELDS = (
    ("cold", "gauge, loop cold", "pressure", "what it shows today"),
    ("cold_at", "loop cold at", "temperature", "of the pipe, not of the room"),
    ("hot", "gauge, loop hot", "pressure", "if it was read on a sunny afternoon too"),
    ("hot_at", "loop hot at", "temperature", "mean of both lines"),
    ("charge", "vessel's charge", "pressure", "if it was measured with the liquid side empty"),
)


def found_context(sheet: Sheet, typed: Mapping[str, str]) -> dict[str, Any]:
    """The page of a loop as found: its fields, and once a gauge reading is there what it means."""
    fields, values = [], {}
    for key, label, name, help_text in FOUND_FIELDS:
        text, wrong = typed.get(key, "").strip(), ""
        if text:
            try:
                values[key] = _limited(typed_to_si(text, name, sheet.units), name)
            except TypedNumberError as error:
                wrong = sentence(str(error))
        fields.append(Field(key, label, text, unit_label(name, sheet.units), wrong, help_text))
    context: dict[str, Any] = {"fields": fields, "lines": (), "verdict": None, "drawing": None}
    charge = sheet.result.charge
    if not isinstance(charge, SealedCharge) or charge.setting is None:
        context["verdict"] = say("This plan has no vessel whose gauge could be read")
        return context
    if "cold" not in values or any(field.wrong for field in fields):
        return context
    try:
        found, told = found_of(sheet.design, sheet.result.run, charge, GaugeRead(**values))
    except RowanError as error:
        context["problem"] = refusal_statement(error)
        return context
    lines = found_lines(found, planned_charge=charge.setting.precharge, told_by_pair=told)
    return context | {"lines": lines, "verdict": found_verdict(lines), "drawing": _found_drawing(sheet, found)}


def _limited(value: float, name: str) -> float:
    low, high = (LEAST_LOOP_C, MOST_LOOP_C) if name == "temperature" else (-0.9e5, MOST_GAUGE_PA)
    if not low <= value <= high:
        raise TypedNumberError("that is outside what can be read here")
    return value


def _found_drawing(sheet: Sheet, found: AsFound) -> Drawing:
    units = sheet.units
    nominal = found.vessel.nominal
    return found_vessels(
        (
            ("as planned", found.planned_liquid / nominal, found.planned_liquid, found.planned_gauge),
            ("as found", found.liquid / nominal, found.liquid, found.gauge),
        ),
        shown(found.temperature, "temperature", units),
        units,
    )


def reading_context(sheet: Sheet, typed: Mapping[str, str]) -> dict[str, Any]:
    """The page of a data-sheet line: what was typed and everything it may mean."""
    asked = typed.get("line", "flow")
    line: Line = asked if asked in LINES else "flow"
    text = typed.get("text", "").strip()[:40]
    found: tuple[Reading, ...] = ()
    wrong = ""
    if text:
        try:
            found = readings(sheet.design, sheet.result, line=line, text=text, system=sheet.units)
        except TypedNumberError as error:
            wrong = sentence(str(error))
    name = "volume" if line == "contents" else "flow"
    return {
        "line": line,
        "choices": [(key, words) for key, (words, _) in LINES.items()],
        "text": text,
        "wrong": wrong,
        "rows": [
            {
                "reading": reading,
                "index": index,
                "each": tuple(shown(reading.each, name, system, 2) for system in ("metric", "us")),
                "total": tuple(shown(reading.total, name, system, 2) for system in ("metric", "us")),
            }
            for index, reading in enumerate(found)
        ],
        "count": sheet.design.collector.count.value,
        "as_is": _as_is(sheet.design.collector.item.value),
    }


def _as_is(item: CollectorItem) -> Statement:
    """The lines of a collector's sheet as the plan has them."""
    flows = {
        key: Quantity(flow * LITRE_H, "flow")
        for key, flow in (("a", item.least_flow_l_h), ("b", item.flow_l_h), ("c", item.most_flow_l_h))
    }
    return say(
        "{name} holds {v} and takes {a} least, {b} recommended, {c} most; each collector.",
        name=item.name.replace("{", "(").replace("}", ")"),
        v=Quantity(item.contents_l * LITRE, "volume", 2),
        **flows,
    )


PUMP_SPEEDS = 3


def _pump_speed(item: PumpItem, units: System, typed: Mapping[str, str] | None, number: int) -> dict[str, Any]:
    """The fields of one speed."""
    points, power = "", ""
    if typed is not None:
        points, power = typed.get(f"points-{number}", ""), typed.get(f"power-{number}", "")
    elif number < len(item.speeds):
        speed = item.speeds[number]
        points = "\n".join(_point(q, p, units) for q, p in speed.points_l_h_pa)
        power = significant(speed.power_w, 4)
    return {"number": number + 1, "points": points, "power": power}


def pump_context(item: PumpItem, units: System, typed: Mapping[str, str] | None, problem: str) -> dict[str, Any]:
    """The page of a pump by its points, filled from the plan's pump or from what was typed."""
    kind = item.kind if typed is None else typed.get("kind", item.kind)
    return {
        "speeds": [_pump_speed(item, units, typed, number) for number in range(PUMP_SPEEDS)],
        "name": item.name if typed is None else typed.get("name", item.name),
        "kinds": [(key, words, key == kind) for key, words in PUMP_KINDS],
        "variable": item.variable if typed is None else typed.get("variable") == "yes",
        "drinking": item.drinking if typed is None else typed.get("drinking") == "yes",
        "volts": f"{item.volts:g}" if typed is None else typed.get("volts", ""),
        "npsh": significant(dimension("head").unit(units).from_si(item.npsh_pa), 3)
        if typed is None
        else typed.get("npsh", ""),
        "flow_unit": unit_label("flow", units),
        "head_unit": unit_label("head", units),
        "problem": problem,
        "item": item,
    }


PUMP_KINDS = (
    ("induction", "induction motor, by its speeds"),
    ("electronic", "electronic, by a signal; never chopped"),
    ("magnet", "small, driven by a magnet"),
)


def _point(flow_l_h: float, head_pa: float, units: System) -> str:
    flow = dimension("flow").unit(units).from_si(flow_l_h * LITRE_H)
    head = dimension("head").unit(units).from_si(head_pa)
    return f"{significant(flow, 4)}; {significant(head, 4)}".replace("\N{NARROW NO-BREAK SPACE}", "")


def pump_from(typed: Mapping[str, str], base: PumpItem, units: System) -> PumpItem:
    """The pump that was typed. Raises RowanError (TypedNumberError) with what is wrong; `base` names what no field asks for."""
    curves = {}
    for number in range(PUMP_SPEEDS):
        points = typed.get(f"points-{number}", "")
        if points.strip():
            name = str(number + 1)
            power = typed.get(f"power-{number}", "").strip()
            if not power:
                raise TypedNumberError(tr("the power of speed {name} is missing", name=name))
            curves[name] = (points_from_text(points, units), typed_to_si(power, "electric_power", units))
    kind = typed.get("kind", base.kind)
    return PumpItem.model_validate(
        {
            "name": (typed.get("name", "").strip() or "typed pump")[:80],
            "speeds": made(curves),
            "kind": kind if kind in {key for key, _ in PUMP_KINDS} else base.kind,
            "variable": typed.get("variable") == "yes",
            "drinking": typed.get("drinking") == "yes",
            "volts": _volts(typed.get("volts", "")),
            "npsh_pa": _npsh(typed.get("npsh", ""), units),
        }
    )


def _volts(text: str) -> float:
    try:
        volts = float(text.replace(",", ".").removesuffix("V").strip())
    except ValueError as error:
        raise TypedNumberError("type the volts on its plate, such as 230 or 12") from error
    if not 5 <= volts <= 400:
        raise TypedNumberError("5 to 400 V can be")
    return volts


def _npsh(text: str, units: System) -> float:
    value = typed_to_si(text, "head", units)
    if not 0 <= value <= 2e5:
        raise TypedNumberError("what the inlet needs over boiling is 0 to 20 m")
    return value
