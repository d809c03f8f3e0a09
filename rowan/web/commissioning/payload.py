"""A run as data for the phone: the same tables, symbols and units by which the server judges, so that no signal is needed."""

from __future__ import annotations

from itertools import product
from typing import Any

from rowan.core.steps.commission.legality import hazards
from rowan.core.steps.commission.loops import working_state
from rowan.core.steps.commission.result import CommissionResult, Field, Rule, Step
from rowan.core.steps.commission.valves import CHOICES, PUMP, SOURCE
from rowan.core.terms.units import System, dimension
from rowan.web.commissioning.models import Entry
from rowan.web.commissioning.services import POSSIBLE


def dimensions_of(steps: tuple[Step, ...]) -> set[str]:
    """Every dimension that is read or told in these steps."""
    read = {field.dimension for step in steps for field in step.fields if field.dimension}
    return read | {dimension for step in steps for rule in step.rules for _, dimension in rule.amounts.values()}


def units_data(units: System, steps: tuple[Step, ...]) -> dict[str, Any]:
    """How each dimension is printed and typed: SI = number × factor + offset; what can be at all."""
    found = {}
    for name in sorted(dimensions_of(steps)):
        dim = dimension(name)
        unit = dim.unit(units)
        typed = [
            *dim.typed,
            *((one.label.lower(), one.factor, one.offset) for one in (dim.metric, dim.us) if one.label),
        ]
        found[name] = {
            "label": unit.label, "factor": unit.factor, "offset": unit.offset, "decimals": unit.decimals,
            "typed": {label: [factor, offset] for label, factor, offset in typed}, "possible": POSSIBLE.get(name),
        }  # fmt: skip
    return found


def steps_data(steps: tuple[Step, ...], commission: CommissionResult, units: System) -> dict[str, Any]:
    """Every step's fields, rules and handles; steps of one phase and supply share a table of handles."""
    tables: dict[tuple[object, ...], dict[str, Any]] = {}
    found = []
    for step in steps:
        if not step.valves:  # nothing of it turns a handle
            found.append({**_step(step), "handles": None})
            continue
        key = step.phase, step.supply, step.valves[SOURCE], step.valves[PUMP]
        if key not in tables:
            tables[key] = {"name": len(tables), **handle_table(step, commission, units)}
        found.append({**_step(step), "handles": tables[key]["name"]})
    return {"steps": found, "tables": list(tables.values())}


def _step(step: Step) -> dict[str, Any]:
    return {
        "key": step.key,
        "name": step.name,
        "seconds": step.seconds,
        "bells": list(step.bells),
        "stages": [stage.passed for stage in step.stages],
        "gate": step.gate,
        "fields": [_field(field) for field in step.fields],
        "rules": [_rule(rule) for rule in step.rules],
    }


def _field(field: Field) -> dict[str, Any]:
    return {
        "key": field.key, "name": field.name, "dimension": field.dimension, "low": field.low, "high": field.high,
        "expected": field.expected, "needed": field.needed, "instead": field.instead, "level": field.level,
    }  # fmt: skip


def _rule(rule: Rule) -> dict[str, Any]:
    return {"key": rule.key, "level": rule.level, "when": rule.when, "words": rule.words, "amounts": dict(rule.amounts)}


def handle_table(step: Step, commission: CommissionResult, units: System) -> dict[str, Any]:
    """What is wrong with every way the handles can stand at a step: words once, each state by its positions in the order of the tags."""
    graph, said, states = commission.graph, list[list[str]](), dict[str, list[int]]()
    places: dict[str, int] = {}
    for positions in product(*(CHOICES[valve] for valve in graph.valves)):
        state = {**step.valves, **dict(zip(graph.valves, positions, strict=True))}
        found = []
        for hazard in hazards(graph, state, step.phase, step.supply):
            words = hazard.words.text(units)
            if words not in places:
                places[words] = len(said)
                said.append([hazard.level, words, hazard.at])
            found.append(places[words])
        if found:
            states["".join(position[0] for position in positions)] = found
    return {"said": said, "states": states, "works": {v: working_state(graph)[v] for v in graph.valves}}


def entry_data(entry: Entry) -> dict[str, Any]:
    """An entry as the phone keeps it."""
    return {
        "sent": entry.sent, "number": entry.number, "kind": entry.kind, "step": entry.step, "field": entry.field,
        "value": entry.value, "text": entry.text if entry.kind != "sign" else "", "reason": entry.reason, "at": entry.at.isoformat(), "person": str(entry.person),
    }  # fmt: skip
