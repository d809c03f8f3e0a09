"""What is wrong with a job file, in words: field, value and limit."""

from __future__ import annotations

import difflib
import reprlib
from typing import Any

from pydantic import BaseModel, ValidationError

from rowan.core.design.inputs.base import Inputs, spec_of, written
from rowan.core.design.key_units import key_unit
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.units import number_text

_TYPES = {
    "float": "a number",
    "int": "a whole number",
    "string": "text",
    "bool": "true or false",
    "list": "a list",
    "tuple": "a list",
    "model": "an object",
}
# beyond, a float no longer holds every whole number
MOST_WRITTEN_OUT = 1e15
_shorten = reprlib.Repr()
_shorten.maxstring = _shorten.maxother = 40
_shorten.maxlist = _shorten.maxdict = _shorten.maxlevel = 2


def _value(value: Any) -> str:
    if isinstance(value, str):
        return f"the text “{value[:40]}{'…' if len(value) > 40 else ''}”"
    if value is None:
        return "nothing"
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, int | float):
        whole = abs(value) < MOST_WRITTEN_OUT and value == int(value)
        return number_text(value, 0) if whole else written(value)
    return _shorten.repr(value)


def _siblings(model: type[BaseModel], way: tuple[int | str, ...]) -> list[str]:
    """The keys that may stand where a path ends; empty where the path leads out of the models."""
    node: Any = model
    for key in way[:-1]:
        if isinstance(key, int):
            continue
        field = node.model_fields.get(key) if isinstance(node, type) and issubclass(node, BaseModel) else None
        if field is None:
            return []
        node = field.annotation
        arguments = [a for a in getattr(node, "__args__", ()) if isinstance(a, type) and issubclass(a, BaseModel)]
        node = arguments[0] if arguments else node
    return list(node.model_fields) if isinstance(node, type) and issubclass(node, BaseModel) else []


def _limit_refusal(stage: Inputs | type[Inputs], path: str, name: str, value: float) -> JobFileError:
    model = stage if isinstance(stage, type) else type(stage)
    spec = spec_of(model, name)
    assert spec is not None  # noqa: S101  only an input has limits
    if spec.kind == "choice":
        return JobFileError(path, f"{spec.refuse(value)}, not {_value(value)}")
    low_side = spec.low is not None and value < spec.low
    limit = spec.low if low_side else spec.high
    assert limit is not None  # noqa: S101  one of both was passed
    words = f"{_value(value)} is {'below the least' if low_side else 'above the most'} that can be, {_value(limit)}"
    unit = key_unit(name)
    if unit:
        words += f" {unit}"
    if spec.kind != "number":
        return JobFileError(path, words)
    return JobFileError(path, words + " ({limit})", limit=(spec.si(limit), spec.dimension))


def refusal(error: ValidationError, model: type[BaseModel]) -> JobFileError:
    """A validation error as the refusal of its first field at fault, with how many more there are."""
    errors = error.errors(include_url=False)
    first = errors[0]
    way = tuple(part for part in first["loc"])
    path = ".".join(str(part) for part in way)
    more = f"; and {len(errors) - 1} more" if len(errors) > 1 else ""
    kind, context = first["type"], first.get("ctx", {})
    if kind == "input_limit":
        found = _limit_refusal(
            context["model"], f"{path}.{context['name']}".lstrip("."), context["name"], context["value"]
        )
        return JobFileError(found.field, found.reason + more, **found.quantities)
    return JobFileError(path, _words(first, kind, way, model) + more)


def _words(first: Any, kind: str, way: tuple[int | str, ...], model: type[BaseModel]) -> str:
    key = str(way[-1]) if way else ""
    if kind == "missing":
        return "is missing"
    if kind == "extra_forbidden":
        near = difflib.get_close_matches(key, _siblings(model, way), 1, 0.5)
        return "is not a key of a job file" + (f"; perhaps {near[0]} is meant" if near else "")
    wanted = next((words for name, words in _TYPES.items() if kind.startswith(name)), "")
    if wanted and (kind.endswith(("_type", "_parsing", "_from_float"))):
        unit = key_unit(str(way[-2]) if key == "value" and len(way) > 1 else key)
        return f"must be {wanted}{f' in {unit}' if unit and 'number' in wanted else ''}, not {_value(first['input'])}"
    if kind in ("too_short", "too_long"):
        context = first["ctx"]
        side, bound = (
            ("at least", context.get("min_length")) if kind == "too_short" else ("at most", context.get("max_length"))
        )
        return f"must hold {side} {bound} entries, not {context['actual_length']}"
    if kind == "literal_error":
        choices = str(first["ctx"]["expected"]).replace("'", "").replace(" or ", ", ")
        return f"must be one of {choices}, not {_value(first['input'])}"
    if kind in ("leg_twice", "tables", "hours", "days", "return_above_flow"):
        return str(first["msg"])
    if kind == "string_pattern_mismatch":
        return f"must be 1 to 12 small letters and digits, not {_value(first['input'])}"
    if kind == "json_invalid":
        return "this is not a JSON job file: it is nested too deeply"
    words = str(first["msg"]).removeprefix("Value error, ").removeprefix("Input should be ")
    return f"{'must be ' if first['msg'].startswith('Input should be') else ''}{words}, not {_value(first['input'])}"
