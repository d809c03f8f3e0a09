"""Quantities, sentences that carry them, and figures with their window and their why."""

from __future__ import annotations

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import field
from typing import Literal, NotRequired, TypedDict, Unpack

from rowan.core.terms.errors import RowanError
from rowan.core.terms.expression import Expression
from rowan.core.terms.language import Typed, as_messages, tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, dimension, number_text, shown, shown_parts, worded

Better = Literal[-1, 0, 1]
NAMED = re.compile(r"\{(\w+)\}")


@record
class Quantity:
    """An SI value with its dimension; `decimals` overrides the usual number of decimals (metric)."""

    value: float
    dimension: str
    decimals: int | None = None

    def shown(self, system: System = "metric") -> str:
        """Number and unit in the system."""
        return shown(self.value, self.dimension, system, self.decimals if system == "metric" else None)


@record
class Statement:
    """A sentence with named quantities, worded once and printed in either system of units and in the language that is spoken.

    The template is the message that is looked up. What has a name in it may be a quantity, a word, or a sentence of its own.
    `capital`: begun with a capital letter.
    """

    template: str
    quantities: Mapping[str, Part] = field(default_factory=dict)
    capital: bool = False

    def text(self, system: System = "metric") -> str:
        """The sentence with its quantities in the system's units."""

        def put(match: re.Match[str]) -> str:
            """A quantity in the reader's units."""
            quantity = self.quantities.get(match.group(1))
            if quantity is None:
                return match.group(0)  # braces somebody typed
            if isinstance(quantity, Typed):
                return quantity
            if isinstance(quantity, str):
                # a piece of the sentence that depends on the case; what it names is the sentence's
                return NAMED.sub(put, tr(quantity)) if "{" in quantity else tr(quantity)
            return quantity.text(system) if isinstance(quantity, Statement) else quantity.shown(system)

        said = NAMED.sub(put, tr(self.template))
        return said[:1].upper() + said[1:] if self.capital else said


# what a name in a sentence may stand for
Part = Quantity | str | Statement


def refusal_statement(error: RowanError, template: str = "{refusal}.") -> Statement:
    """A refusal of the core as a sentence in either system of units, begun with a capital letter; `template` says it with others."""
    quantities: dict[str, Part] = {
        name: found if isinstance(found, str) else Quantity(*found) for name, found in error.quantities.items()
    }
    return Statement(template, {"refusal": Statement(error.template, quantities)}, capital=True)


def say(template: str, **quantities: Part) -> Statement:
    """A statement from a template with {names} and the quantities of these names."""
    return Statement(template, quantities)


def series(parts: Sequence[Statement], between: str = ", ") -> Statement:
    """Statements one after the other."""
    named = {f"part_{number}": part for number, part in enumerate(parts)}
    return Statement(between.join("{" + name + "}" for name in named), named)


def joined(first: Statement, second: Statement) -> Statement:
    """Two statements as one sentence."""
    return series((first, second), "; ")


@record
class Window:
    """Where a figure may lie (SI, either side open) and the rule, data sheet or school that says so.

    Quantities in `source` are written as `units.worded` takes them.
    """

    low: float | None
    high: float | None
    source: str

    def source_text(self, system: System = "metric") -> str:
        """The rule in words, its numbers in the system's units."""
        return worded(self.source, system)

    def holds(self, value: float) -> bool:
        """Whether the value lies inside, ends included."""
        slack = 1e-9 * max(1.0, abs(value))
        return (self.low is None or value >= self.low - slack) and (self.high is None or value <= self.high + slack)


@record
class Why:
    """Why a figure is what it is: a sentence, its formula or its method, and where the rule stands.

    `scale` turns the expression's value into the figure's SI value; `result_unit` is the unit the formula works in.
    """

    sentence: Statement
    source: str
    expression: Expression | None = None
    letter: str = ""
    letter_index: str = ""
    result_unit: str = ""
    scale: float = 1.0
    method: Statement | None = None


@record
class Figure:
    """One reckoned number as a bench shows it: SI value, window, why and where it belongs; whether more of it is better (1),
    less (−1), or neither."""

    key: str
    name: str
    basis: Statement
    value: float
    dimension: str
    why: Why
    window: Window | None = None
    decimals: int | None = None
    part: str = ""
    better: Better = 0

    def __post_init__(self) -> None:
        as_messages(self, "name")

    @property
    def inside(self) -> bool:
        """Whether the value lies in its window; true where there is none."""
        return self.window is None or self.window.holds(self.value)

    @property
    def quantity(self) -> Quantity:
        """The figure's value as a quantity."""
        return Quantity(self.value, self.dimension, self.decimals)

    def number(self, system: System = "metric") -> str:
        """The number as printed, without its unit."""
        return self._parts(system)[0]

    def unit(self, system: System = "metric") -> str:
        """The unit as printed."""
        return self._parts(system)[1]

    def _parts(self, system: System) -> tuple[str, str]:
        return shown_parts(self.value, self.dimension, system, self.decimals if system == "metric" else None)

    def printed_digits(self) -> dict[str, str]:
        """The inputs of its formula with the digits that give the printed (metric) result."""
        expression = self.why.expression
        if expression is None:
            return {}
        unit = dimension(self.dimension).metric
        decimals = unit.decimals if self.decimals is None else self.decimals
        return expression.printed_digits(lambda value: number_text(unit.from_si(value * self.why.scale), decimals))


class FigureFields(TypedDict):
    """What every figure is made from; see Figure."""

    key: str
    name: str
    basis: Statement
    dimension_name: str
    sentence: Statement
    source: str
    window: NotRequired[Window | None]
    decimals: NotRequired[int | None]
    part: NotRequired[str]
    better: NotRequired[Better]


class ClosedFormFields(FigureFields):
    """A figure that is its formula: `scale` turns the formula's working unit into SI."""

    expression: Expression
    letter: str
    letter_index: NotRequired[str]
    result_unit: NotRequired[str]
    scale: NotRequired[float]


class MethodFields(FigureFields):
    """A figure found by iteration or from a table: the method names its residual where it has one."""

    value: float
    method: Statement


def _figure(fields: FigureFields, value: float, why: Why) -> Figure:
    return Figure(
        key=fields["key"],
        name=fields["name"],
        basis=fields["basis"],
        value=value,
        dimension=fields["dimension_name"],
        why=why,
        window=fields.get("window"),
        decimals=fields.get("decimals"),
        part=fields.get("part", ""),
        better=fields.get("better", 0),
    )


def closed_form(**fields: Unpack[ClosedFormFields]) -> Figure:
    """A figure whose value is the evaluation of its formula. Raises ArithmeticError if that is not finite."""
    expression, scale = fields["expression"], fields.get("scale", 1.0)
    value = expression.value() * scale
    if not math.isfinite(value):
        raise ArithmeticError(f"{fields['key']} is not finite")
    why = Why(
        sentence=fields["sentence"],
        source=fields["source"],
        expression=expression,
        letter=fields["letter"],
        letter_index=fields.get("letter_index", ""),
        result_unit=fields.get("result_unit", ""),
        scale=scale,
    )
    return _figure(fields, value, why)


def by_method(**fields: Unpack[MethodFields]) -> Figure:
    """A figure found by iteration or by a table: the why names the method and its residual."""
    why = Why(fields["sentence"], fields["source"], method=fields["method"])
    return _figure(fields, fields["value"], why)
