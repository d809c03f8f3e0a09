"""Words of a drawing stay inside its frame in every language: what would run over its edge is set closer, then moved in.

A drawing is made for English words; German and Spanish ones are a third longer. How wide a word stands is read from the font that is
shipped, at the weight most labels have, so that page and paper agree without a browser's ruler.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Any, Protocol

from rowan.core.terms.language import tr

SHIPPED = Path(__file__).parent / "static"
DRAWING_CSS = SHIPPED / "rowan" / "drawing.css"
FONT = SHIPPED / "vendor" / "fonts" / "source-sans-3-latin-wght-normal.woff2"
WEIGHT = 600.0  # the boldest labels; lighter ones stand a little narrower
ITALIC, ITALIC_WIDER = (
    "place",
    1.07,
)  # Literata's italic beside the measured letters, at most: 1.045 to 1.066 by the fonts
PHONE_PX = 12.0  # no letter is smaller on a phone, where its drawing keeps its width
USUAL_PX = 11.5  # what a text of no class of its own has
OTHER = 0.55  # em, of a letter the font's Latin part has not
CLOSEST = 0.82  # letters narrower than this are hard to read
EDGE_PX = 1.0
OVER, UNDER = 0.74, 0.22  # em, a line's letters over and under it
# px that a label gives way; the name of a storey stays over its floor, and has no line that leads to what it means
STEPS = (0.0, -6.0, 6.0, -12.0, 12.0, -18.0, 18.0, -24.0, 24.0, -30.0, 30.0, -36.0, 36.0, -42.0, 42.0)
UPWARDS = tuple(step for step in STEPS if step <= 0)
BEFORE = {"start": 0.0, "middle": 0.5, "end": 1.0}  # share of a text before its point
Point = tuple[float, float]
Box = tuple[float, float, float, float]
_MOVED = re.compile(r"translate\(\s*(-?[\d.]+)[ ,]+(-?[\d.]+)\s*\)")
_SIZE = re.compile(r"\.drawing \.([\w-]+)[^{},]*\{[^{}]*font-size: ([\d.]+)px")
_SIZE_WITHIN = re.compile(r"\.drawing \.([\w-]+) \.([\w-]+) *\{[^{}]*font-size: ([\d.]+)px")


class Element(Protocol):
    """An SVG element, as far as it is measured here."""

    tag: str
    text: str
    attributes: dict[str, Any]

    @property
    def children(self) -> Sequence[Element]:
        """What it holds."""
        ...

    def walk(self) -> Iterator[Element]:
        """It and all inside it."""
        ...


@lru_cache(maxsize=1)
def _advances() -> dict[str, float]:
    """How far each letter carries on, in em."""
    from fontTools.ttLib import TTFont

    with TTFont(FONT) as font:
        glyphs = font.getGlyphSet(location={"wght": WEIGHT})
        per_em = font["head"].unitsPerEm
        return {chr(code): glyphs[name].width / per_em for code, name in font.getBestCmap().items()}


@lru_cache(maxsize=1)
def _sizes() -> dict[str, float]:
    """Size of the letters of each class [px], by the drawings' style sheet."""
    found: dict[str, float] = {}
    for name, size in _SIZE.findall(DRAWING_CSS.read_text(encoding="utf-8")):
        found[name] = max(found.get(name, 0.0), float(size))
    return found


@lru_cache(maxsize=1)
def _sizes_within() -> dict[tuple[str, str], float]:
    """Size of the letters [px] of a class inside another, where the style sheet gives it one of its own there."""
    told = _SIZE_WITHIN.findall(DRAWING_CSS.read_text(encoding="utf-8"))
    return {(outer, inner): float(size) for outer, inner, size in told}


@lru_cache(maxsize=8192)
def width_of(text: str, size: float) -> float:
    """How wide a line of letters of that size stands [px]."""
    advances = _advances()
    return size * sum(advances.get(letter, OTHER) for letter in text)


def lines_of(text: str, wide: float, size: float = USUAL_PX) -> list[str]:
    """A text in the language that is spoken, in lines no wider than that [px], broken between words; a longer word stands alone."""
    lines = [""]
    for word in tr(text).split():
        longer = f"{lines[-1]} {word}".strip()
        if lines[-1] and width_of(longer, size) > wide:
            lines.append(word)
        else:
            lines[-1] = longer
    return lines


def shortened(text: str, wide: float, size: float = USUAL_PX) -> str:
    """A text in the language that is spoken, cut with three dots where it would stand wider than that [px]; whole where it is read out."""
    said = tr(text)
    if width_of(said, size) <= wide:
        return said
    while said and width_of(f"{said}…", size) > wide:
        said = said[:-1]
    return f"{said.rstrip()}…"


def _size(node: Element) -> float:
    """How large a text's letters are [px]."""
    return _size_of(str(node.attributes.get("class", "")))


@lru_cache(maxsize=512)
def _size_of(names: str) -> float:
    """How large the letters of these classes are [px]."""
    sizes = _sizes()
    return max((sizes[name] for name in names.split() if name in sizes), default=USUAL_PX)


@lru_cache(maxsize=512)
def measured_at(names: str) -> float:
    """The size at which the measured letters stand as wide as those of these classes [px], on a desk or a phone: the italic ones
    are wider, and none is smaller on a phone than can be read there."""
    return max(_size_of(names), PHONE_PX) * (ITALIC_WIDER if ITALIC in names.split() else 1.0)


@lru_cache(maxsize=512)
def _part_measured_at(names: str, of: str) -> float:
    """The size at which a part of a text of classes `of` is measured [px]: a unit is smaller than its figure, a part whose own classes
    say nothing is as large as the text."""
    within, own = _sizes_within(), _sizes()
    told = [within.get((outer, name), own.get(name)) for outer in of.split() or [""] for name in names.split()]
    return max([max(size, PHONE_PX) for size in told if size], default=measured_at(of))


def wanted_width(node: Element) -> float:
    """How wide a text and what it holds stand [px], in the language that is spoken."""
    of = str(node.attributes.get("class", ""))
    wide = width_of(tr(node.text), measured_at(of))
    for part in node.children:
        if part.tag != "title":
            size = _part_measured_at(str(part.attributes.get("class", "")), of)
            wide += float(part.attributes.get("dx", 0)) + width_of(tr(part.text), size)
    return wide


def _within(node: Element, wanted: float, moved: float, frame: float) -> None:
    """A text as wide as `wanted` that runs over the frame, set closer and moved in; `moved` is how far right its group stands [px]."""
    if not wanted:
        return
    at = float(node.attributes.get("x", 0)) + moved
    anchor = str(node.attributes.get("text-anchor", "start"))
    before = BEFORE[anchor]
    left, right = at - before * wanted, at + (1 - before) * wanted
    if left >= 0 and right <= frame:
        return
    room = {
        "start": frame - EDGE_PX - at,
        "middle": 2 * min(frame - EDGE_PX - at, at - EDGE_PX),
        "end": at - EDGE_PX,
    }[anchor]
    set_wide = min(max(room, CLOSEST * wanted), wanted, frame - 2 * EDGE_PX)
    start = min(max(at - before * set_wide, EDGE_PX), frame - EDGE_PX - set_wide)
    node.attributes["x"] = start + before * set_wide - moved
    if set_wide < wanted:
        node.attributes |= {"textLength": set_wide, "lengthAdjust": "spacingAndGlyphs"}


def _upright(drawn: Element, moved: Point = (0.0, 0.0)) -> Iterator[tuple[Element, Point]]:
    """The words of a drawing that stand upright in one piece, and how far their group is moved; turned ones are none."""
    for child in drawn.children:
        along = moved
        if transform := str(child.attributes.get("transform", "")):
            shift = _MOVED.fullmatch(transform)
            if shift is None:
                continue
            along = (moved[0] + float(shift[1]), moved[1] + float(shift[2]))
        if child.tag != "text":
            if child.children:
                yield from _upright(child, along)
        elif not any("x" in part.attributes or "dy" in part.attributes for part in child.children):
            yield child, along


def _box(node: Element, wanted: float, moved: Point) -> Box:
    """Left, top, right and foot of a text that wants to be so wide."""
    wide = float(node.attributes.get("textLength", 0)) or wanted
    left = (
        float(node.attributes.get("x", 0)) + moved[0] - BEFORE[str(node.attributes.get("text-anchor", "start"))] * wide
    )
    line, size = float(node.attributes.get("y", 0)) + moved[1], _size(node)
    return left, line - OVER * size, left + wide, line + UNDER * size


def _gives_way(node: Element) -> bool:
    """Whether a text is a label with a halo, which stands on a drawing without a place of its own."""
    return _is_label(str(node.attributes.get("class", "")))


@lru_cache(maxsize=512)
def _is_label(classes: str) -> bool:
    """Whether a text of these classes is one."""
    names = classes.split()
    return "halo" in names and (_is_place(classes) or any(name.startswith(("label", "axis")) for name in names))


@lru_cache(maxsize=512)
def _is_place(classes: str) -> bool:
    """Whether a text of these classes says where something stands."""
    return "place" in classes.split()


def _beside(node: Element, box: Box, others: list[Box], height: float) -> None:
    """A label that would stand on other words moves up or down, to the nearest free line."""
    left, top, right, foot = box
    near = [box for box in others if box[0] < right and left < box[2]]
    for step in UPWARDS if _is_place(str(node.attributes.get("class", ""))) else STEPS:
        over, under = top + step, foot + step
        if over >= 0 and under <= height and all(box[3] <= over or under <= box[1] for box in near):
            if step:
                node.attributes["y"] = float(node.attributes["y"]) + step
            return


def fit(drawn: Element, width: float, height: float) -> None:
    """Moves words into a frame so wide and high [px], and labels with a halo off each other and off other words."""
    words = [(node, wanted_width(node), moved) for node, moved in _upright(drawn)]
    labels, taken = [], []
    for node, wanted, moved in words:
        _within(node, wanted, moved[0], width)
        if _gives_way(node):
            labels.append((node, wanted, moved))
        else:
            taken.append(_box(node, wanted, moved))
    for node, wanted, moved in labels:
        _beside(node, _box(node, wanted, moved), taken, height)
        taken.append(_box(node, wanted, moved))
