"""Two hands on one design: what each changed since the design both began from, put together input by input.

A list (legs, obstacles, readings) counts as one input: its entries hang together. Source: none, a rule of the house: what only one
changed is taken, what both changed is named.
"""

from __future__ import annotations

from collections.abc import Collection
from typing import Any

from pydantic import BaseModel

from rowan.core.design.changes import validated
from rowan.core.design.design import Design
from rowan.core.terms.record import record


@record
class Merge:
    """A design put together; the paths that mine changed, and those that the other changed too, to something else."""

    design: Design
    mine: tuple[str, ...]
    both: tuple[str, ...]


def _inputs(design: Design) -> dict[str, Any]:
    """Every field of every step by its path, as the job file writes it; what belongs to no step by its own name."""
    found: dict[str, Any] = {}
    for name in type(design).model_fields:
        held = getattr(design, name)
        if isinstance(held, BaseModel):
            for key, value in held.model_dump(mode="json").items():
                found[f"{name}.{key}"] = value
    return found


def changed_paths(base: Design, other: Design) -> tuple[str, ...]:
    """The paths at which two designs differ, in the order of the steps."""
    before, after = _inputs(base), _inputs(other)
    return tuple(path for path in after if before.get(path) != after[path])


def merged(base: Design, mine: Design, theirs: Design, leave: Collection[str] = ()) -> Merge:
    """`theirs` with what `mine` changed since `base`, but for the paths to `leave`.

    Raises JobFileError where the two do not go together.
    """
    ours = changed_paths(base, mine)
    other = set(changed_paths(base, theirs))
    values, now = _inputs(mine), _inputs(theirs)
    data = theirs.model_dump(mode="json")
    for path in ours:
        if path not in leave:
            step, key = path.split(".")
            data[step][key] = values[path]
    both = tuple(path for path in ours if path in other and values[path] != now[path])
    return Merge(validated(data), ours, both)
