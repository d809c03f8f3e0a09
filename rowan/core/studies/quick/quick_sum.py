"""What a quick sum is: what it asks, by dimension and within its limits, and the figures that come out."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.figure import Figure, Statement
from rowan.core.terms.record import record

Values = Mapping[str, float]


@record
class Ask:
    """Something to type [SI]: its key, name, dimension, usual value and limits; or a choice by name.

    `path` is the input of a plan that takes it along, times `scale`, where the sum is kept as a job.
    """

    key: str
    name: str
    dimension: str = ""
    usual: float = 0.0
    low: float = 0.0
    high: float = 1e9
    choices: tuple[str, ...] = ()
    path: str = ""
    scale: float = 1.0


@record
class QuickSum:
    """A sum: what it is called and for, what it asks, its figures, and a caution where the work can hurt."""

    key: str
    name: str
    about: str
    asks: tuple[Ask, ...]
    reckon: Callable[[Values], tuple[Figure, ...]]
    caution: Statement | None = None

    def figures(self, values: Values) -> tuple[Figure, ...]:
        """What comes out. Raises OutOfRangeError for a value beyond its limits, RowanError for what cannot be."""
        for ask in self.asks:
            if ask.choices:
                if not 0 <= values[ask.key] < len(ask.choices):
                    raise OutOfRangeError(ask.name, values[ask.key], 0, len(ask.choices) - 1)
            elif not ask.low <= values[ask.key] <= ask.high:
                raise OutOfRangeError(ask.name, values[ask.key], ask.low, ask.high, dimension=ask.dimension)
        return self.reckon(values)

    def usual(self) -> dict[str, float]:
        """Every value to begin with."""
        return {ask.key: ask.usual for ask in self.asks}
