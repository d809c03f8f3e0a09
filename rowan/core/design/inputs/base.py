"""An input with its origin, and the one definition of its dimension, limits, label and help."""

from __future__ import annotations

import math
from functools import cache
from typing import Any, Generic, Literal, Self, TypeVar

from pydantic import BaseModel, Field, model_validator
from pydantic_core import PydanticCustomError

from rowan.core.terms import limits
from rowan.core.terms.language import Message, as_messages
from rowan.core.terms.record import record
from rowan.core.terms.strict import Strict

Origin = Literal["assumed", "measured", "data sheet", "agreed", "seen from below", "phone", "as built"]
ORIGINS: tuple[Origin, ...] = ("assumed", "measured", "data sheet", "agreed", "seen from below", "phone", "as built")
Kind = Literal["number", "whole", "choice", "flag", "text", "item"]

T = TypeVar("T")


def written(value: float) -> str:
    """A number as a message shows it, however large it is."""
    try:
        return f"{value:g}"
    except OverflowError:
        return f"a number of {len(str(abs(int(value))))} digits"


class Input(Strict, Generic[T]):
    """One input: its value, where it comes from, and a note."""

    value: T
    origin: Origin = "assumed"
    note: str = Field(default="", max_length=400)


@record
class InputSpec:
    """The one definition of an input.

    `low` and `high` are in the stored unit; stored × `scale` is SI (litres are stored as litres).
    """

    label: str
    kind: Kind = "number"
    dimension: str = "ratio"
    low: float | None = None
    high: float | None = None
    scale: float = 1.0
    help: str = ""
    choices: tuple[tuple[Any, str], ...] = ()
    decimals: int | None = None
    step: float | None = None
    # words for a value that is left empty; without them it may not be
    empty: str = ""
    # usual sizes as somebody would type them, metric and US
    offers: tuple[tuple[str, ...], tuple[str, ...]] = ((), ())

    def __post_init__(self) -> None:
        as_messages(self, "label", "help", "empty")
        object.__setattr__(self, "choices", tuple((key, Message(label)) for key, label in self.choices))

    def si(self, stored: float) -> float:
        """The SI value of a stored number."""
        return stored * self.scale

    def stored(self, si: float) -> float:
        """The stored number of an SI value."""
        return si / self.scale

    def choice_label(self, value: Any) -> str:
        """The words shown for a choice."""
        return next((label for key, label in self.choices if key == value), str(value))

    def refuse(self, value: Any) -> str:
        """Why a stored value cannot be taken, in stored units; empty if it can."""
        if self.kind == "choice" and self.choices and value not in [key for key, _ in self.choices]:
            return f"must be one of {', '.join(str(key) for key, _ in self.choices)}"
        counted = self.kind in ("number", "whole") and value is not None
        if counted and limits.held(value, self.low, self.high) is None:
            below = self.low is not None and value < self.low
            return (
                f"must be at {'least' if below else 'most'} {self.low if below else self.high:g}, not {written(value)}"
            )
        return ""


@cache
def spec_of(model: type[BaseModel], name: str) -> InputSpec | None:
    """The definition of a model's field, None if the field is no input."""
    for entry in model.model_fields[name].metadata:
        if isinstance(entry, InputSpec):
            return entry
    return None


@cache
def specs(model: type[BaseModel]) -> tuple[tuple[str, InputSpec], ...]:
    """The inputs a model defines, in order."""
    found = ((name, spec_of(model, name)) for name in model.model_fields)
    return tuple((name, spec) for name, spec in found if spec is not None)


@cache
def _bounds(model: type[BaseModel]) -> tuple[tuple[str, InputSpec, float, float, frozenset[str], bool], ...]:
    """The inputs a model defines that can be refused, with limits and choices, and whether each is an `Input` for certain, which
    is slow to ask of a value."""
    found = []
    for name, spec in specs(model):
        chosen = spec.kind == "choice" and spec.choices
        if not chosen and spec.kind not in ("number", "whole"):
            continue
        kind = model.model_fields[name].annotation
        low, high = (spec.low, spec.high) if spec.low is not None and spec.high is not None else (math.inf, -math.inf)
        choices = frozenset(key for key, _ in (spec.choices if chosen else ()) if isinstance(key, str))
        found.append((name, spec, low, high, choices, isinstance(kind, type) and issubclass(kind, Input)))
    return tuple(found)


class Inputs(Strict):
    """A model that holds inputs; every number is checked against its own limits."""

    @model_validator(mode="after")
    def _within_limits(self) -> Self:
        for name, spec, low, high, choices, certain in _bounds(type(self)):
            held = getattr(self, name)
            value = held.value if certain or isinstance(held, Input) else held
            kind = type(value)
            # seen at a glance where it lies well inside: a plan has two hundred inputs, and each change looks at them all
            if value in choices if kind is str else (kind is float or kind is int) and low < value < high:
                continue
            reason = spec.refuse(value)
            if reason:
                context = {"model": type(self), "name": name, "value": value}
                raise PydanticCustomError("input_limit", "this value cannot be", context)
        return self
