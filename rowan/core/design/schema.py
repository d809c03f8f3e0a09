"""The published JSON Schema of the job file, made from the design models and their inputs' definitions."""

from __future__ import annotations

import json
from typing import Any

from pydantic import BaseModel

from rowan.core.design.design import SCHEMA_VERSION, Design
from rowan.core.design.inputs.base import Inputs, InputSpec, specs
from rowan.core.design.key_units import key_unit
from rowan.core.goods import items
from rowan.core.terms.units import worded

DIALECT = "https://json-schema.org/draft/2020-12/schema"


def _described(spec: InputSpec, key: str) -> dict[str, Any]:
    """What a reader of the file needs to know of an input."""
    unit = key_unit(key)
    words = [spec.label, f"[{unit}]" if unit else "", f"({worded(spec.help)})" if spec.help else ""]
    return {"description": " ".join(word for word in words if word)}


def _bounds(spec: InputSpec) -> dict[str, Any]:
    if spec.kind == "choice":
        return {"enum": [key for key, _ in spec.choices]}
    if spec.kind not in ("number", "whole"):
        return {}
    return {name: value for name, value in (("minimum", spec.low), ("maximum", spec.high)) if value is not None}


def _enriched(schema: dict[str, Any], model: type[Inputs]) -> None:
    for key, spec in specs(model):
        entry = schema["properties"][key]
        entry.pop("title", None)
        entry |= _described(spec, key)
        if "$ref" in entry:
            # an input with its origin: the limits belong to its value
            bounds = _bounds(spec)
            if bounds:
                entry["properties"] = {"value": bounds}
        else:
            entry |= {name: bound for name, bound in _bounds(spec).items() if name != "enum"}


def _units_in_items(schema: dict[str, Any], model: type[BaseModel]) -> None:
    for key in model.model_fields:
        unit = key_unit(key)
        if unit:
            schema["properties"][key]["description"] = f"[{unit}]"


def job_file_schema() -> dict[str, Any]:
    """The schema as data: every key with its unit and limits."""
    schema = Design.model_json_schema(mode="validation")
    definitions = schema["$defs"]
    inputs = {model.__name__: model for model in Inputs.__subclasses__()}
    for name, definition in definitions.items():
        model = inputs.get(name) or getattr(items, name, None)
        if isinstance(model, type) and issubclass(model, Inputs):
            _enriched(definition, model)
        elif isinstance(model, type) and issubclass(model, BaseModel):
            _units_in_items(definition, model)
    return {
        "$schema": DIALECT,
        "title": f"Rowan job file, version {SCHEMA_VERSION}",
        "description": "One plan: what somebody typed, measured or assumed. Nothing in it is reckoned. SI units, named in the keys.",
        **{key: value for key, value in schema.items() if key not in ("title", "description")},
        "required": ["schema_version", *[key for key in schema["required"] if key != "schema_version"]],
    }


def schema_text() -> str:
    """The schema as it is published."""
    return json.dumps(job_file_schema(), indent=1, ensure_ascii=False) + "\n"
