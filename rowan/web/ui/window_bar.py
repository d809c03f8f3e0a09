"""The small bar that shows where in its window a figure lies."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from django.utils.safestring import SafeString, mark_safe

from rowan.core.terms.figure import Figure
from rowan.core.terms.language import Language, spoken, tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown, shown_parts
from rowan.web.ui.svg import Node

WIDTH, HEIGHT = 74, 36
AXIS_Y = 17.0
HALF_LETTER = 2.8  # px, half the width of a figure's digit


@record
class WindowBar:
    """The bar as a drawing, and in words for those who cannot see it."""

    svg: SafeString
    words: str


@record
class Held:
    """A value and its window [SI], as the bar shows it; `expected` is ticked dashed where something was reckoned before it was read."""

    value: float
    low: float | None
    high: float | None
    dimension: str
    decimals: int | None = None
    expected: float | None = None
    source: str = ""

    @property
    def inside(self) -> bool:
        """Whether the value lies in its window."""
        return (self.low is None or self.value >= self.low) and (self.high is None or self.value <= self.high)


def window_bar(figure: Figure, units: System) -> WindowBar | None:
    """The bar of a figure; None where it has no window."""
    window = figure.window
    if window is None or (window.low is None and window.high is None):
        return None
    held = Held(
        figure.value, window.low, window.high, figure.dimension, figure.decimals, source=window.source_text(units)
    )
    return _drawn(held, units, figure.inside, spoken())


@lru_cache(maxsize=1024)
def _drawn(held: Held, units: System, inside: bool, _language: Language) -> WindowBar:
    """A bench has two dozen bars, of which a change moves a few."""
    node, words = bar(held, units, inside=inside)
    return WindowBar(mark_safe(node.markup()), words)  # noqa: S308  escaped in Node.markup


def _ends(held: Held) -> tuple[float, float]:
    """What the axis begins and ends with."""
    low, high, value = held.low, held.high, held.value
    if low is not None and high is not None:
        span = (high - low) or abs(high) or 1.0
        return low - 0.45 * span, high + 0.45 * span
    if low is not None:
        span = max(abs(value - low), abs(low), 1e-9) * 1.15
        return low - 0.55 * span, low + span
    span = max(abs((high or 0) - value), abs(high or 0), 1e-9) * 1.15
    return (high or 0) - span, (high or 0) + 0.55 * span


def bar(held: Held, units: System, *, inside: bool | None = None) -> tuple[Node, str]:
    """The bar as a drawing, and what it says. `inside` where who asks knows better, by the slack of a rounded limit."""
    low, high, value = held.low, held.high, held.value
    start, end = _ends(held)

    def x(quantity: float) -> float:
        return min(max((quantity - start) / (end - start), 0.03), 0.97) * WIDTH

    decimals = held.decimals if units == "metric" else None

    def number(quantity: float) -> str:
        # as the figure beside it: a length in feet under another in inches would be read as inches
        return shown_parts(quantity, held.dimension, units, decimals)[0]

    def told(quantity: float) -> str:
        return shown(quantity, held.dimension, units, decimals)

    svg = Node(
        "svg", viewBox=f"0 0 {WIDTH} {HEIGHT}", width=WIDTH, height=HEIGHT, cls="window drawing", aria_hidden="true"
    )
    svg.line((0, AXIS_Y), (WIDTH, AXIS_Y), "w-axis")
    left, right = (x(low) if low is not None else 0.0), (x(high) if high is not None else float(WIDTH))
    svg.rect(left, AXIS_Y - 4, right - left, 8, "w-tint")
    svg.line((left, AXIS_Y), (right, AXIS_Y), "w-leaf")
    both = low is not None and high is not None and abs(right - left) < 34
    for limit, at, anchor in ((low, left, "end" if both else "middle"), (high, right, "start" if both else "middle")):
        if limit is not None:
            svg.line((at, AXIS_Y - 6), (at, AXIS_Y + 6), "w-leaf")
            half = max(12.0, HALF_LETTER * len(number(limit)))
            near = min(max(at, half), WIDTH - half) if anchor == "middle" else at
            svg.words(
                (near + (3 if anchor == "end" else -3 if anchor == "start" else 0), HEIGHT - 3),
                number(limit),
                "w-number",
                anchor,
            )
    at = x(value)
    svg.path(
        ((at - 5, AXIS_Y - 12), (at + 5, AXIS_Y - 12), (at, AXIS_Y - 3)),
        "w-needle" if right_of(held, inside) else "w-needle-out",
        close=True,
    )
    if held.expected is not None:
        svg.line((x(held.expected), AXIS_Y - 9), (x(held.expected), AXIS_Y + 9), "planned")
    return svg, _words(held, told, inside=right_of(held, inside))


def right_of(held: Held, inside: bool | None) -> bool:
    """Whether it counts as inside."""
    return held.inside if inside is None else inside


def _words(held: Held, told: Callable[[float], str], *, inside: bool) -> str:
    low, high = (None if limit is None else told(limit) for limit in (held.low, held.high))
    allowed = (
        tr("between {low} and {high}", low=low, high=high)
        if low and high
        else tr("at least {low}", low=low)
        if low
        else tr("at most {high}", high=high)
    )
    words = "inside its window: {allowed}. {source}" if inside else "outside its window: {allowed}. {source}"
    return tr(words, allowed=allowed, source=tr(held.source)).rstrip()
