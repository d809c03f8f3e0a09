"""The gauge through the year as whoever lives there reads it; handles of the modes; tags to cut out; sheets of the pack as small papers."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence

from rowan.core.records.house_look import Month
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, shown, unit_label
from rowan.web.ui.fit import lines_of, width_of
from rowan.web.ui.svg import Drawing, Node

WIDTH, HEIGHT = 656.0, 226.0
LEFT, RIGHT, TOP, FOOT = 44.0, 520.0, 44.0, 180.0
NAMES = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
BREAK_Y = 22.0  # where the axis is broken for the relief


@record
class Read:
    """A reading of the gauge: month from January 0, within it as a share, pressure [Pa], words; by whom the mark tells."""

    month: float
    pressure: float
    words: str
    ours: bool


def gauge_year(
    months: Sequence[Month],
    relief: float,
    hottest: float | None,
    heat: Sequence[float],
    reads: Sequence[Read],
    units: System,
) -> Drawing:
    """The window before sunrise, what is expected in it, work at noon, standing in the sun, the relief; what was read."""
    drawing = Drawing(WIDTH, HEIGHT, "The gauge, month by month", "gauge-year", "gauge-year")
    low = min(month.low for month in months)
    high = max(month.high for month in months)
    span = (high - low) * 1.5
    base = low - span * 0.14

    def x_of(month: float) -> float:
        return LEFT + (RIGHT - LEFT) * (month + 0.5) / 12

    def y_of(pressure: float) -> float:
        return FOOT - (FOOT - TOP) * (min(max(pressure, base), base + span) - base) / span

    band = [(x_of(n), y_of(month.low)) for n, month in enumerate(months)]
    drawing.rect(LEFT, y_of(high), RIGHT - LEFT, y_of(low) - y_of(high), "w-tint")
    drawing.line((LEFT, y_of(high)), (RIGHT, y_of(high)), "leaf-line")
    drawing.line((LEFT, y_of(low)), (RIGHT, y_of(low)), "leaf-line")
    drawing.rect(LEFT, y_of(low), RIGHT - LEFT, FOOT - y_of(low), "ground")
    drawing.words((LEFT + 8, y_of(high) + 15), "allowed before sunrise, pump off", "label-leaf halo")
    drawing.words(
        (LEFT + 8, FOOT - 6),
        tr("below {low} before sunrise: ring us", low=shown(low, "pressure", units)),
        "key-small halo",
    )
    _axis(drawing, relief, units)
    drawing.path([(x_of(n), y_of(month.working)) for n, month in enumerate(months)], "stroke")
    drawing.path([(x, y_of(month.expected)) for (x, _), month in zip(band, months, strict=True)], "slate-line")
    for n, month in enumerate(months):
        drawing.circle((x_of(n), y_of(month.expected)), 3.2, "slate-ring")
        drawing.words((x_of(n), FOOT + 17), NAMES[n], "axis", "middle")
        if heat:
            drawing.words((x_of(n), FOOT + 36), f"{heat[n]:.0f}", "key-small", "middle")
    if heat:
        drawing.words((RIGHT + 8, FOOT + 36), "kWh a month", "label")
    _right(drawing, [(y_of(high), shown(high, "pressure", units), "label-leaf"), (y_of(months[5].working), "pump on, noon", "label-ink"),
                     (y_of(months[5].expected), "before sunrise", "label-slate"), (y_of(low), tr("{low} at least", low=shown(low, 'pressure', units)), "label-leaf")])  # fmt: skip
    if hottest is not None:
        drawing.words((RIGHT + 8, TOP - 10), "standing in the sun:", "label")
        drawing.words((RIGHT + 8, TOP + 4), tr("up to {hottest}", hottest=shown(hottest, "pressure", units)), "label")
    for read in reads:
        at = x_of(read.month - 0.5), y_of(read.pressure)
        drawing.circle(at, 5 if read.ours else 4, "leaf-dot")
        drawing.words((at[0], at[1] + 17), read.words, "key-small halo", "middle")
    return drawing


def _axis(drawing: Node, relief: float, units: System) -> None:
    drawing.line((LEFT, FOOT), (RIGHT, FOOT), "rule-ink")
    drawing.line((LEFT, FOOT), (LEFT, BREAK_Y + 6), "rule-ink")
    drawing.path(
        ((LEFT - 6, BREAK_Y + 4), (LEFT + 6, BREAK_Y), (LEFT - 6, BREAK_Y - 4), (LEFT + 6, BREAK_Y - 8)), "stroke"
    )
    drawing.line((LEFT, 10), (RIGHT, 10), "limit")
    drawing.words((RIGHT + 8, 14), tr("relief opens {relief}", relief=shown(relief, "pressure", units)), "label-ink")
    drawing.words((LEFT - 8, TOP - 2), unit_label("pressure", units), "axis", "end")


def _right(drawing: Node, rows: list[tuple[float, str, str]]) -> None:
    """Words at the right edge, kept apart."""
    last = -20.0
    for y, words, cls in sorted(rows):
        y = max(y, last + 14)
        drawing.words((RIGHT + 8, y + 4), words, cls)
        last = y


def handle(position: str) -> Drawing:
    """A handle as the table shows it: along and hollow open, across and filled shut, in between half."""
    drawing = Drawing(34, 24, position, "handle-mark")
    drawing.line((0, 12), (34, 12), "rule")
    if position == "shut":
        drawing.rect(14, 2, 6, 20, "solid")
    elif position == "half":
        bar = drawing.rect(6, 9, 22, 6, "bar-empty")
        bar.attributes["transform"] = "rotate(-45 17 12)"
    else:
        drawing.rect(6, 8, 22, 7, "bar-empty")
    return drawing


# room for a name on a tag, and the size at which the measured letters stand as wide as the tag's, which are those of headings
TAG_WORDS_PX, NAME_PX = 186.0, 25.5


def tag_drawing(number: int | str, name: str, stays: str) -> Drawing:
    """A tag to cut out, 60 by 40 mm: hole, number, name, how it stays."""
    drawing = Drawing(240, 160, tr("Tag {number}", number=number), "tag")
    drawing.path(((40, 2), (238, 2), (238, 158), (40, 158), (2, 120), (2, 40)), "part-body", close=True)
    drawing.circle((24, 80), 8, "stroke")
    drawing.words((140, 74), str(number), "tag-number", "middle")
    lines = lines_of(name, TAG_WORDS_PX, NAME_PX)
    # one long word cannot be broken
    size = "tag-name" if max(width_of(line, NAME_PX) for line in lines) <= TAG_WORDS_PX else "tag-name tag-long"
    first = 106 if len(lines) == 1 else 99
    for row, line in enumerate(lines):
        drawing.words((140, first + row * 22), line, size, "middle")
    drawing.words((140, first + len(lines) * 22 + (4 if len(lines) == 1 else 1)), stays, "tag-stays", "middle")
    return drawing


def sheet_hint(key: str, lacking: bool, opened: bool) -> Drawing:
    """A paper of the pack, small: what is on it as a hint, a gap hatched."""
    drawing = Drawing(80, 112, key, "paper-hint")
    drawing.rect(1, 4 if opened else 1, 78, 106, "part-body")
    if opened:
        drawing.line((0, 2), (80, 2), "head")
    drawing.line((10, 16), (36, 16), "stroke")
    drawing.circle((66, 15), 2.2, "berry-dot")
    drawing.circle((71, 17), 2.2, "berry-dot")
    HINTS.get(key, _lines)(drawing)
    if lacking:
        drawing.rect(48, 58, 24, 8, "clash-bar")
    return drawing


def _lines(drawing: Node) -> None:
    for row in range(7):
        drawing.line((10, 32 + row * 11), (70 - (row % 3) * 9, 32 + row * 11), "thin")


def _card(drawing: Node) -> None:
    for row in range(7):
        drawing.line((10, 30 + row * 8), (34, 30 + row * 8), "thin")
        drawing.rect(48, 27 + row * 8, 24, 5, "solid")


def _how(drawing: Node) -> None:
    drawing.path(((22, 56), (44, 40), (50, 47), (28, 63)), "body", close=True)
    drawing.path(((50, 44), (58, 60), (58, 84), (40, 84)), "thin")
    drawing.rect(22, 68, 18, 28, "part-body")


def _normal(drawing: Node) -> None:
    drawing.rect(10, 34, 60, 22, "w-tint")
    drawing.path(((10, 46), (30, 42), (50, 44), (70, 47)), "stroke")
    for row in range(4):
        drawing.line((10, 68 + row * 9), (66, 68 + row * 9), "thin")


def _modes(drawing: Node) -> None:
    for row in range(4):
        for column in range(6):
            tall = (row + column) % 3 == 0
            drawing.rect(
                12 + column * 10, 28 + row * 11, 3 if tall else 7, 8 if tall else 4, "solid" if tall else "bar-empty"
            )
    for column in range(3):
        drawing.path(
            (
                (16 + column * 20, 82),
                (28 + column * 20, 82),
                (28 + column * 20, 92),
                (16 + column * 20, 92),
                (12 + column * 20, 87),
            ),
            "thin",
            close=True,
        )


def _route(drawing: Node) -> None:
    drawing.path(((12, 92), (12, 40), (56, 40), (56, 66)), "cold")
    drawing.rect(30, 62, 30, 26, "pointing")


def _records(drawing: Node) -> None:
    for row in range(5):
        drawing.path(((12, 32 + row * 11), (15, 36 + row * 11), (20, 28 + row * 11)), "leaf-line")
        drawing.line((28, 33 + row * 11), (68, 33 + row * 11), "thin")
    drawing.path(((34, 98), (42, 90), (48, 98), (56, 88), (66, 96)), "thin")


HINTS: Mapping[str, Callable[[Node], None]] = {
    "card": _card, "how": _how, "normal": _normal, "modes": _modes, "route": _route, "records": _records,
}  # fmt: skip
