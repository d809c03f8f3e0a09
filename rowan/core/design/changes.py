"""Finding, listing and changing inputs by path: `charge.gap_pa`, `run.hot.h4.rise_m`."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from pydantic import BaseModel, ValidationError

from rowan.core.design.design import STAGES, Design
from rowan.core.design.inputs.base import Input, InputSpec, Origin, spec_of, specs
from rowan.core.design.refusals import refusal
from rowan.core.design.relevance import relevant
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record

# lists of entries with ids; a change may set a whole one. An entry counts as one input, by the key named here
ENTRIES = {
    "sun": {"horizon": "elevation_deg", "obstacles": "height_m"},
    "roof": {"objects": "x_m", "planes": "pitch_deg"},
    "run": {"cold": "length_m", "hot": "length_m"},
    "charge": {"log": "share"},
    "functions": {"windows": "off_c"},
}


@record
class Located:
    """An input found in a design: its definition, its value and where the value comes from."""

    path: str
    spec: InputSpec
    value: Any
    origin: Origin
    note: str = ""

    @property
    def si(self) -> float:
        """The SI value of a number."""
        return self.spec.si(float(self.value))


def _step(node: Any, key: str, path: str) -> Any:
    if isinstance(node, list):
        for entry in node:
            if entry.id == key:
                return entry
        raise JobFileError(path, f"there is no entry “{key}”")
    if isinstance(node, BaseModel) and key in type(node).model_fields:
        return getattr(node, key)
    raise JobFileError(path, f"there is no input “{key}”")


def _owner(design: Design, path: str) -> tuple[Any, str, InputSpec]:
    *way, last = path.split(".")
    node: Any = design
    for key in way:
        node = _step(node, key, path)
    _step(node, last, path)
    owner: type[BaseModel] = type(node)
    spec = spec_of(owner, last)
    if spec is None:
        raise JobFileError(path, "this is no input")
    return node, last, spec


def locate(design: Design, path: str) -> Located:
    """The input at a path; raises JobFileError where there is none."""
    owner, name, spec = _owner(design, path)
    held = getattr(owner, name)
    if isinstance(held, Input):
        return Located(path, spec, held.value, held.origin, held.note)
    return Located(path, spec, held, owner.origin, owner.note)


def _fields(model: BaseModel) -> dict[str, Any]:
    return {name: getattr(model, name) for name in type(model).model_fields}


def _opened(node: Any, key: str) -> Any:
    """What stands under a key, put in its place so that it may be written to and the model it came from stays as it is: the fields
    of a model, the entries of a list, and of those one by its id."""
    at: Any = key
    if isinstance(node, list):
        at = next(n for n, entry in enumerate(node) if (entry["id"] if isinstance(entry, dict) else entry.id) == key)
    held = node[at]
    node[at] = _fields(held) if isinstance(held, BaseModel) else list(held) if isinstance(held, list) else held
    return node[at]


def changed(design: Design, changes: Iterable[Change], origin: Origin | None = None) -> Design:
    """A new design with the changes made and validated; the old one stays as it is.

    `origin` is written to each changed input that brings none of its own; None keeps what it was. Raises JobFileError.
    """
    # what nothing changes goes over as it is, a step, a leg or an input: it was checked when it was made
    data = _fields(design)
    for change in changes:
        stage, _, name = change.path.partition(".")
        if name in ENTRIES.get(stage, {}):
            rows = [row.model_dump() if isinstance(row, BaseModel) else row for row in change.value]
            _opened(data, stage)[name] = rows
            continue
        _owner(design, change.path)
        *way, last = change.path.split(".")
        node: Any = data
        for key in way:
            node = _opened(node, key)
        value = change.value.model_dump() if isinstance(change.value, BaseModel) else change.value
        written = change.origin or origin
        # an entry's fields are bare, and the entry has an origin; any other input has its own
        if isinstance(node[last], Input) or (isinstance(node[last], dict) and "origin" in node[last]):
            said = {"note": change.note} if change.note is not None else {}
            _opened(node, last).update({"value": value, **({"origin": written} if written else {}), **said})
        else:
            node[last] = value
            if written:
                node["origin"] = written
    return validated(data)


def validated(data: Any) -> Design:
    """A design from plain data; raises JobFileError naming the first field at fault."""
    try:
        return Design.model_validate(data)
    except ValidationError as error:
        raise refusal(error, Design) from error


def inputs(design: Design) -> Iterator[Located]:
    """Every input of a design in working order; a leg or an obstacle counts once."""
    for stage in STAGES:
        model = getattr(design, stage)
        kind: type[BaseModel] = type(model)
        for name, spec in specs(kind):
            held = getattr(model, name)
            yield Located(f"{stage}.{name}", spec, held.value, held.origin, held.note)
        for rows, counted in ENTRIES.get(stage, {}).items():
            for row in getattr(model, rows):
                entry: type[BaseModel] = type(row)
                found = spec_of(entry, counted)
                assert found is not None  # noqa: S101  every entry has what it is counted by
                yield Located(f"{stage}.{rows}.{row.id}.{counted}", found, getattr(row, counted), row.origin, row.note)


def asked(design: Design) -> list[Located]:
    """The inputs that are this job's, in working order: what is not its duty's, its loop's or its functions' is no question."""
    return [found for found in inputs(design) if relevant(design, found.path)]


def assumed(design: Design) -> list[Located]:
    """The inputs of this job that nobody has measured, read or agreed yet."""
    return [found for found in asked(design) if found.origin == "assumed"]


def counted(design: Design) -> tuple[int, int]:
    """How many inputs are this job's, and how many of them are assumed, looked through once."""
    found = asked(design)
    return len(found), sum(one.origin == "assumed" for one in found)
