"""A quotation: the list of parts at a firm's prices, hours, margin and tax, each line with what it rests on.

Nothing is guessed twice: a line's usual price is that of the Parts bench; what a firm's own list has takes its place.
Source: practice 13; methods 14.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.steps.parts.pricing import piece_price, work_hours
from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.figure import Quantity, Statement
from rowan.core.terms.record import record

MOST_SHARE = 2.0  # of margin and of tax: more is a slip of the decimal mark


@record
class Line:
    """A line: what, how much, the price of one, of all; whether the price is the firm's own."""

    key: str
    name: Statement
    quantity: Quantity
    unit: str
    each: float
    total: float
    own: bool


@record
class Quotation:
    """Everything in a currency: goods, hours [h] and what they cost, margin on goods, tax on all, what is asked."""

    lines: tuple[Line, ...]
    goods: float
    hours: float
    work: float
    margin: float
    net: float
    tax: float
    total: float

    @property
    def usual(self) -> int:
        """How many lines stand at a usual price, for want of the firm's own."""
        return sum(not line.own for line in self.lines)


def quotation(
    design: Design,
    result: Reckoning,
    *,
    prices: Mapping[str, float],
    hour_price: float,
    margin: float = 0.0,
    tax: float = 0.0,
    more: Sequence[tuple[str, float]] = (),
) -> Quotation:
    """What a plan is offered for.

    prices: of a part by its key; hour_price an hour; margin a share of goods, tax a share of all [-]; `more` (words, price) as agreed.
    Raises OutOfRangeError for a share below nought or beyond `MOST_SHARE`, or a price below nought.
    """
    for name, share in (("margin", margin), ("tax", tax)):
        if not 0 <= share <= MOST_SHARE:
            raise OutOfRangeError(name, share, 0, MOST_SHARE)
    lines = _lines(design, result, prices)
    for number, (words, price) in enumerate(more):
        lines.append(
            Line(
                f"more_{number}",
                Statement(words.replace("{", "(").replace("}", ")"), {}),
                Quantity(1.0, "count"),
                "",
                price,
                price,
                True,
            )
        )
    goods = sum(line.total for line in lines)
    hours = work_hours(design, result.run)
    work, added = hours * hour_price, goods * margin
    net = goods + added + work
    return Quotation(tuple(lines), goods, hours, work, added, net, net * tax, net * (1 + tax))


def _lines(design: Design, result: Reckoning, prices: Mapping[str, float]) -> list[Line]:
    """Every part with its price; the same goods for several places are one line, as they are bought."""
    found: dict[tuple[str, float], Line] = {}
    for part in result.parts.parts:
        own = prices.get(part.key)
        each = piece_price(design, part) if own is None else own
        if each < 0:
            raise OutOfRangeError("price", each, 0, None)
        same = found.get((part.name.text(), each))
        amount = part.quantity.value + (same.quantity.value if same is not None else 0.0)
        quantity = Quantity(amount, part.quantity.dimension, part.quantity.decimals)
        found[part.name.text(), each] = Line(
            part.key, part.name, quantity, part.unit, each, each * amount, own is not None
        )
    return list(found.values())
