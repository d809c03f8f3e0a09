"""The small bar that shows where in its window a figure lies."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from django.utils.safestring import SafeString, mark_safe

from rowan.core.terms.figure import Figure
from rowan.core.terms.units import System, shown, shown_parts
from rowan.web.ui.svg import Node

WIDTH, HEIGHT = 74, 36
AXIS_Y = 17.0
HALF_LETTER = 2.8  # px, half the width of a figure's digit


@dataclass(frozen=True)
class WindowBar:
    """The bar as a drawing, and in words for those who cannot see it."""

    svg: SafeString
    words: str


def window_bar(figure: Figure, units: System) -> WindowBar | None:
    """The bar of a figure; None where it has no window."""
    window = figure.window
    if window is None or (window.low is None and window.high is None):
        return None
    low, high, value = window.low, window.high, figure.value
    if low is not None and high is not None:
        span = (high - low) or abs(high) or 1.0
        start, end = low - 0.45 * span, high + 0.45 * span
    elif low is not None:
        span = max(abs(value - low), abs(low), 1e-9) * 1.15
        start, end = low - 0.55 * span, low + span
    else:
        span = max(abs((high or 0) - value), abs(high or 0), 1e-9) * 1.15
        start, end = (high or 0) - span, (high or 0) + 0.55 * span

    def x(quantity: float) -> float:
        return min(max((quantity - start) / (end - start), 0.03), 0.97) * WIDTH

    decimals = figure.decimals if units == "metric" else None

    def number(quantity: float) -> str:
        # as the figure beside it: a length in feet under another in inches would be read as inches
        return shown_parts(quantity, figure.dimension, units, decimals)[0]

    def told(quantity: float) -> str:
        return shown(quantity, figure.dimension, units, decimals)

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
        "w-needle" if figure.inside else "w-needle-out",
        close=True,
    )
    return WindowBar(mark_safe(svg.markup()), _words(figure, units, told))  # noqa: S308  escaped in Node.markup


def _words(figure: Figure, units: System, told: Callable[[float], str]) -> str:
    window = figure.window
    if window is None:
        return ""
    low, high = (None if limit is None else told(limit) for limit in (window.low, window.high))
    allowed = f"between {low} and {high}" if low and high else f"at least {low}" if low else f"at most {high}"
    return f"{'inside' if figure.inside else 'outside'} its window: {allowed}. {window.source_text(units)}"
