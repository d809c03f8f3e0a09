"""A small SVG builder: drawings are made on the server, and print."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache
from typing import Any
from xml.sax.saxutils import escape, quoteattr

from django.utils.safestring import SafeString, mark_safe

from rowan.core.terms.language import tr
from rowan.web.ui.fit import DRAWING_CSS, fit, wanted_width

Point = tuple[float, float]
_MARKED = re.compile('[&<>"\n\r\t]').search


def _number(value: float) -> str:
    """A coordinate to a hundredth of a pixel, without zeros at its end."""
    text = f"{value:.2f}"
    if text[-1] != "0":
        return text
    return text[:-3] if text[-2] == "0" else text[:-1]


def _quoted(text: str) -> str:
    """An attribute's value in quotes; most have nothing to be escaped."""
    return quoteattr(text) if _MARKED(text) else f'"{text}"'


class _Written(dict[str, str]):
    """Attributes as they are written by the names they have here: a page has thousands of elements and some forty names."""

    def __missing__(self, key: str) -> str:
        found = self[key] = key.rstrip("_").replace("_", "-")
        return found


_WRITTEN = _Written(cls="class")
# attributes that are read out
_SPOKEN = frozenset({"aria-label", "aria-valuetext", "aria-description"})


class Node:
    """An SVG element. Attribute names use underscores for hyphens; `cls` is the class."""

    __slots__ = ("attributes", "children", "tag", "text")

    def __init__(self, tag: str, text: str = "", **attributes: Any) -> None:
        self.tag, self.text = tag, text
        self.children: list[Node] = []
        self.attributes = {
            _WRITTEN[key]: value for key, value in attributes.items() if value is not None and value != ""
        }

    def add(self, tag: str, text: str = "", **attributes: Any) -> Node:
        """A new element inside this one."""
        child = Node(tag, text, **attributes)
        self.children.append(child)
        return child

    def _plain(self, tag: str, attributes: dict[str, Any], more: dict[str, Any]) -> Node:
        """A new element inside this one whose own attributes are written as they are in SVG: the most there are."""
        child = Node(tag, **more)
        if not attributes["class"]:
            del attributes["class"]
        child.attributes = attributes | child.attributes if more else attributes
        self.children.append(child)
        return child

    def walk(self) -> Iterator[Node]:
        """This element and all inside it."""
        yield self
        for child in self.children:
            yield from child.walk()

    def markup(self) -> str:
        """The element as text, everything escaped."""
        pieces: list[str] = []
        self._write(pieces.append)
        return "".join(pieces)

    def _write(self, put: Callable[[str], None]) -> None:
        written = ""
        for key, value in self.attributes.items():
            # coordinates are rounded, what a handle reckons with is not
            if isinstance(value, float) and key[:5] != "data-":
                written += f' {key}="{_number(value)}"'
            elif key in _SPOKEN:
                written += f" {key}={_quoted(tr(str(value)))}"
            else:
                written += f" {key}={_quoted(str(value))}"
        text = escape(tr(self.text)) if self.text else ""
        if not self.children:
            put(f"<{self.tag}{written}>{text}</{self.tag}>")
            return
        put(f"<{self.tag}{written}>{text}")
        for child in self.children:
            child._write(put)
        put(f"</{self.tag}>")

    # drawing words
    def line(self, a: Point, b: Point, cls: str, **more: Any) -> Node:
        """A straight line."""
        where = {"x1": float(a[0]), "y1": float(a[1]), "x2": float(b[0]), "y2": float(b[1]), "class": cls}
        return self._plain("line", where, more)

    def path(self, points: Iterable[Point], cls: str, close: bool = False, **more: Any) -> Node:
        """A polyline as a path."""
        # a tenth of a pixel is finer than any eye, also on paper
        d = "M" + " L".join(f"{x:.1f} {y:.1f}" for x, y in points) + (" Z" if close else "")
        return self.add("path", d=d, cls=cls, **more)

    def rect(self, x: float, y: float, width: float, height: float, cls: str, **more: Any) -> Node:
        """A rectangle; a negative height grows upwards."""
        if height < 0:
            y, height = y + height, -height
        size = {"width": float(max(width, 0)), "height": float(height)}
        return self._plain("rect", {"x": float(x), "y": float(y), **size, "class": cls}, more)

    def circle(self, centre: Point, radius: float, cls: str, **more: Any) -> Node:
        """A circle."""
        where = {"cx": float(centre[0]), "cy": float(centre[1]), "r": float(radius), "class": cls}
        return self._plain("circle", where, more)

    def words(
        self, at: Point, text: str, cls: str = "label", anchor: str = "", turn: float = 0, **more: object
    ) -> Node:
        """A text; `turn` in degrees about its own point."""
        transform = f"rotate({_number(turn)} {_number(at[0])} {_number(at[1])})" if turn else None
        return self.add(
            "text",
            text,
            x=float(at[0]),
            y=float(at[1]),
            cls=cls,
            text_anchor=anchor or None,
            transform=transform,
            **more,
        )

    def figure(self, at: Point, number: str, unit: str = "", cls: str = "fig", anchor: str = "", **more: Any) -> Node:
        """A number with its smaller unit."""
        node = self.words(at, number, cls, anchor, **more)
        if unit:
            node.add("tspan", unit, cls="unit", dx=None if unit == "°" else 3)
        return node

    def dimension(self, a: Point, b: Point, text: str, cls: str = "dim") -> Node:
        """A dimension line with slashes and its figure on the middle; upright ones read from the right."""
        group = self.add("g", cls=cls)
        group.line(a, b, "dim-line")
        upright = abs(b[0] - a[0]) < abs(b[1] - a[1])
        for x, y in (a, b):
            end = ((x - 6, y), (x + 6, y)) if upright else ((x, y - 6), (x, y + 6))
            group.line(*end, "dim-end")
            group.line((x - 4, y + 4), (x + 4, y - 4), "dim-slash")
        middle = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
        if upright:
            group.words((middle[0] - 4, middle[1]), text, "dim-text halo", "middle", turn=-90)
        else:
            group.words((middle[0], middle[1] - 5), text, "dim-text halo", "middle")
        return group

    def mark(self, at: Point, level: str, size: float = 15) -> Node:
        """The mark of a finding: octagon, triangle or ring, centred on a point."""
        x, y, r = at[0], at[1], size / 2
        group = self.add("g", cls=f"mark mark-{level}", role="img", aria_label=level)
        if level == "stop":
            k = 0.414 * r
            group.path(
                (
                    (x - k, y - r),
                    (x + k, y - r),
                    (x + r, y - k),
                    (x + r, y + k),
                    (x + k, y + r),
                    (x - k, y + r),
                    (x - r, y + k),
                    (x - r, y - k),
                ),
                "m-fill",
                close=True,
            )
            group.line((x - r / 2, y), (x + r / 2, y), "m-stroke")
        elif level == "fix":
            group.path(((x, y - r), (x + r, y + r * 0.85), (x - r, y + r * 0.85)), "m-fill", close=True)
            group.line((x, y - r * 0.3), (x, y + r * 0.3), "m-stroke")
            group.circle((x, y + r * 0.58), 0.9, "m-dot")
        else:
            group.circle((x, y), r - 1, "m-ring")
            group.circle((x, y), 1.9, "m-centre")
        return group


def hatches() -> Node:
    """Hatches of the look: they say what colour alone must not. Once a page, for all its drawings."""
    defs = Node("defs")
    steep = defs.add(
        "pattern", id="hatch-steep", width=5, height=5, patternUnits="userSpaceOnUse", patternTransform="rotate(65)"
    )
    steep.rect(0, 0, 5, 5, "p-wash2")
    steep.line((0, 0), (0, 5), "p-ink2")
    wide = defs.add(
        "pattern", id="hatch-wide", width=9, height=9, patternUnits="userSpaceOnUse", patternTransform="rotate(45)"
    )
    wide.line((0, 0), (0, 9), "p-rule")
    cross = defs.add(
        "pattern", id="hatch-cross", width=6, height=6, patternUnits="userSpaceOnUse", patternTransform="rotate(45)"
    )
    cross.line((0, 0), (0, 6), "p-ink")
    cross.line((0, 0), (6, 0), "p-ink")
    liquid = defs.add("pattern", id="liquid", width=6, height=5, patternUnits="userSpaceOnUse")
    liquid.rect(0, 0, 6, 5, "p-tint")
    liquid.line((0, 2.5), (6, 2.5), "p-slate")
    back = defs.add(
        "pattern",
        id="hatch-berry",
        width=5,
        height=5,
        patternUnits="userSpaceOnUse",
        patternTransform="rotate(-45)",
    )
    back.line((0, 0), (0, 5), "p-berry")
    leaf = defs.add("pattern", id="hatch-leaf", width=7, height=7, patternUnits="userSpaceOnUse")
    leaf.rect(0, 0, 7, 7, "p-paper")
    leaf.line((0, 7), (3.5, 2), "p-leaf")
    leaf.line((3.5, 2), (7, 7), "p-leaf")
    sun = defs.add("pattern", id="sun-dots", width=6, height=6, patternUnits="userSpaceOnUse")
    sun.rect(0, 0, 6, 6, "p-straw")
    sun.circle((3, 3), 0.7, "p-clay")
    return defs


# what makes a part movable on a page means nothing in a file
_MOVING = (
    "tabindex",
    "data-opens",
    "role",
    "aria-label",
    "aria-valuenow",
    "aria-valuemin",
    "aria-valuemax",
    "aria-valuetext",
)


def _still(node: Node) -> Node:
    """The drawing without handles, links and what is for the screen alone: nothing in it can be focused or dragged, and it leads
    nowhere."""
    copy = Node("g" if node.tag == "a" else node.tag, node.text)
    drop = _MOVING if node.attributes.get("role") in ("slider", "button") else ()
    copy.attributes = {
        key: value
        for key, value in node.attributes.items()
        if not key.startswith("data-") and key not in drop and not (node.tag == "a" and key in _LEADS)
    }
    copy.children = [_still(child) for child in node.children if "screen" not in _classes(child)]
    return copy


def _squeezed(text: Node) -> dict[str, Any]:
    """A text that is set closer, for paper: there a given length is that of its first part alone, so that a figure's unit went over the
    edge, and is kept by letters that stand apart. All of it is made narrower about its own place."""
    kept = {key: value for key, value in text.attributes.items() if key not in ("textLength", "lengthAdjust")}
    share, at = float(text.attributes["textLength"]) / wanted_width(text), float(text.attributes["x"])
    squeeze = f"translate({_number(at)} 0) scale({share:.4f} 1) translate({_number(-at)} 0)"
    return kept | {"transform": f"{kept.get('transform', '')} {squeeze}".strip()}


def _underlaid(node: Node) -> Node:
    """An element in which each text with a halo lies on a copy of itself that has one in the paper's white: paper knows no
    paint-order, there a halo is drawn over its own letters."""
    copy = Node(node.tag, node.text)
    copy.attributes = _squeezed(node) if "textLength" in node.attributes else node.attributes
    for child in node.children:
        laid = _underlaid(child)
        if child.tag == "text" and "halo" in _classes(child):
            bare = " ".join(word for word in _classes(child) if word != "halo")
            below = _underlaid(child)
            below.attributes, laid.attributes = (laid.attributes | {"class": cls} for cls in (f"{bare} under", bare))
            copy.children.append(below)
        copy.children.append(laid)
    return copy


_LEADS = ("href", "target", "aria-label")


def _classes(node: Node) -> list[str]:
    """The classes of an element."""
    return str(node.attributes.get("class", "")).split()


class Drawing(Node):
    """A whole drawing with its title for those who cannot see it."""

    def __init__(self, width: float, height: float, title: str, cls: str = "", key: str = "drawing") -> None:
        super().__init__(
            "svg",
            viewBox=f"0 0 {_number(width)} {_number(height)}",
            cls=f"drawing {cls}".strip(),
            role="group",
            aria_labelledby=f"{key}-title",
            xmlns="http://www.w3.org/2000/svg",
        )
        self.key, self.width, self.height, self.title = key, width, height, title
        self.add("title", title, id=f"{key}-title")

    def svg(self) -> SafeString:
        """The drawing for a page. Its own width is what a phone shows it at, where it is pushed sideways: no text smaller than drawn."""
        fit(self, self.width, self.height)
        self.attributes |= {"width": _number(self.width), "height": _number(self.height)}
        return mark_safe(self.markup())  # noqa: S308  every text and attribute is escaped in Node.markup

    def svg_file(self, *, paper: bool = False) -> str:
        """The drawing with its own style, for files and for `paper`."""
        fit(self, self.width, self.height)
        still = _underlaid(_still(self)) if paper else _still(self)
        still.attributes = {key: value for key, value in still.attributes.items() if key not in ("width", "height")}
        patterns = hatches()
        bare = _style_of(still)
        patterns.children = [p for p in patterns.children if f"#{p.attributes['id']})" in bare]
        whole = still.markup()
        at = whole.index(">") + 1
        style = _style_of(still, patterns)
        return whole[:at] + f"<style>{escape(style)}</style>" + patterns.markup() + whole[at:]


def _style_of(*parts: Node) -> str:
    """The rules of the drawings' style that speak of anything in these parts: a file carries only its own."""
    used = {word for part in parts for node in part.walk() for word in (node.tag, *_classes(node))}
    return "".join(rule for rule, names in _rules() if names <= used)


@lru_cache
def _rules() -> tuple[tuple[str, frozenset[str]], ...]:
    """The rules of the drawings' style, one selector each, with the elements and classes they speak of."""
    text = re.sub(r"/\*.*?\*/", "", DRAWING_CSS.read_text(encoding="utf-8"), flags=re.S)
    # a file that stands alone, and paper, know no page's palette: the light one stands beside each name
    text = re.sub(r"var\(--[\w-]+, (#\w+)\)", r"\1", text)
    found = []
    for selectors, body in re.findall(r"([^{}]+)\{([^{}]*)\}", text):
        for selector in selectors.split(","):
            # what is hovered or focused, opened or dragged is never on paper
            if ":" not in selector and "[" not in selector:
                names = frozenset(re.findall(r"[\w-]+", selector))
                found.append((f"{selector.strip()}{{{body.strip()}}}", names))
    return tuple(found)
