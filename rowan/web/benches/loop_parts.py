"""What every drawing of a loop shares: parts that lead to their bench, their figure and their worst finding."""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.terms.finding import Finding, gravest
from rowan.core.terms.language import tr
from rowan.core.terms.units import number_and_unit
from rowan.web.benches.bench import Sheet
from rowan.web.ui.svg import Drawing, Node, Point

PART_BENCH = {
    "collector": "collector",
    "vent": "run",
    "cold_line": "run",
    "hot_line": "run",
    "pump": "run",
    "non_return": "run",
    "gauge": "charge",
    "relief": "charge",
    "vessel": "charge",
    "store": "store",
    "coil": "store",
    "tap": "store",
    "sensor_low": "control",
    "sensor_high": "control",
    "sensor_field": "control",
    "station": "charge",
    "backup": "store",
}


class LoopParts:
    """Draws the parts; keeps what they share."""

    def __init__(self, drawing: Drawing, sheet: Sheet, bench: str, link: Callable[[str], str]) -> None:
        self.drawing, self.sheet, self.bench, self.link = drawing, sheet, bench, link
        self.units = sheet.units
        self.worst: dict[str, list[Finding]] = {}
        for finding in sheet.findings:
            self.worst.setdefault(finding.part, []).append(finding)

    def part(self, key: str, label: str) -> Node:
        bench = PART_BENCH[key]
        level = gravest(self.worst.get(key, []))
        node = self.drawing.add(
            "a", href=self.link(bench), cls="part open" if bench == self.bench else "part", id=f"part-{key}"
        )
        node.add("title", f"{tr(label)}: {tr(level)}" if level else label)
        return node

    def mark(self, node: Node, key: str, at: Point) -> None:
        level = gravest(self.worst.get(key, []))
        if level:
            node.mark(at, level)

    def shown(self, key: str) -> str:
        figure = self.sheet.result.figures.get(key)
        return figure.quantity.shown(self.units) if figure else ""

    def label(self, node: Node, at: Point, key_text: str, small: str, anchor: str = "") -> None:
        number, unit = number_and_unit(key_text)
        node.figure(at, number, unit, "key halo", anchor)
        if small:
            node.words((at[0], at[1] + 13), small, "label halo", anchor)

    def numbered(self, node: Node, number: int, at: Point) -> None:
        """A sensor's number, on the page that says where each goes."""
        if self.bench == "sensors":
            node.circle(at, 8.5, "disc-a")
            node.words((at[0], at[1] + 4), str(number), "tab", "middle")
