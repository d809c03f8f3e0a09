"""What the roof step hands on: where everything lies on the plane, what each foot carries, what is to be marked."""

from __future__ import annotations

import math

from rowan.core.goods.fixings import Fixing, Verdict, wanted_safety
from rowan.core.steps.roof.loads import Zone
from rowan.core.terms.figure import Figure
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record

PRACTICE = "practice: the roof"  # the trade's own rules


@record
class Box:
    """A rectangle on the plane [m]: along the eave from the left, up the slope from the eave."""

    x: float
    y: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """Its right side [m]."""
        return self.x + self.width

    @property
    def top(self) -> float:
        """Its upper side [m]."""
        return self.y + self.height

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """Its corners [m], round from the lower left."""
        return ((self.x, self.y), (self.right, self.y), (self.right, self.top), (self.x, self.top))

    def meets(self, other: Box) -> bool:
        """Whether both cover a place."""
        apart = self.right <= other.x + 1e-9 or other.right <= self.x + 1e-9
        return not (apart or self.top <= other.y + 1e-9 or other.top <= self.y + 1e-9)

    def shared(self, other: Box) -> Box | None:
        """What both cover; None where that is nothing."""
        x, y = max(self.x, other.x), max(self.y, other.y)
        width, height = min(self.right, other.right) - x, min(self.top, other.top) - y
        return Box(x, y, width, height) if width > 1e-9 and height > 1e-9 else None

    def within(self, other: Box) -> bool:
        """Whether it lies wholly in another."""
        return (
            self.x >= other.x - 1e-9
            and self.y >= other.y - 1e-9
            and self.right <= other.right + 1e-9
            and self.top <= other.top + 1e-9
        )


@record
class Cut(Box):
    """A corner that a hip (`upper`) or a valley cuts off the plane: the half of its box toward that corner [m]."""

    left: bool = True
    upper: bool = True

    @property
    def edge(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """The hip or valley itself, from its lower end to its upper one [m]."""
        rises = self.left == self.upper
        low, high = (self.x, self.right) if rises else (self.right, self.x)
        return (low, self.y), (high, self.top)

    @property
    def corners(self) -> tuple[tuple[float, float], ...]:
        """The triangle's corners [m]."""
        return (*self.edge, (self.x if self.left else self.right, self.top if self.upper else self.y))

    def meets(self, other: Box) -> bool:
        """Whether another reaches over the edge."""
        if not super().meets(other):
            return False
        # the other's corner that reaches farthest into the one cut off
        x = max(other.x, self.x) if self.left else min(other.right, self.right)
        y = min(other.top, self.top) if self.upper else max(other.y, self.y)
        across = (x - self.x if self.left else self.right - x) / self.width
        along = (self.top - y if self.upper else y - self.y) / self.height
        return across + along < 1 - 1e-9

    def distance(self, x: float, y: float) -> float:
        """How far a place lies from the edge [m]."""
        (ax, ay), (bx, by) = self.edge
        length = math.hypot(bx - ax, by - ay)
        at = min(max(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length**2, 0.0), 1.0)
        return math.hypot(x - ax - at * (bx - ax), y - ay - at * (by - ay))


@record
class Foot:
    """A foot of a rail: place [m], zone, length of the row it carries [m], lift, push and slide on it [N], each at its worst."""

    x: float
    y: float
    zone: Zone
    share: float
    up: float
    down: float
    along: float


@record
class Rail:
    """A rail of a row from start to end at a height up the slope [m], with its feet; none where no lines allow its span.

    `wind` and `weight` are its parts of the wind's force on the row and of the row's weight that pull and hold its feet [-].
    """

    row: int
    start: float
    end: float
    y: float
    feet: tuple[Foot, ...]
    wind: float
    weight: float


@record
class RoofResult:
    """The field on its plane. Lengths [m], forces [N], pressures [Pa], tilts [°]."""

    plane: Box
    edge: float
    rows: tuple[Box, ...]
    counts: tuple[int, ...]
    collectors: tuple[Box, ...]
    rails: tuple[Rail, ...]
    lines: tuple[float, ...]
    objects: tuple[Box, ...]
    # what each of the objects shades of the plane; None where it throws no shade to speak of
    strips: tuple[Box | None, ...]
    fixing: Fixing
    verdict: Verdict
    verdict_reason: str
    span: float
    overhang: float
    holds_up: float
    holds_down: float
    by_screws: bool
    gust: float
    pressure: float
    added_share: float
    fits_across: int
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
    # what lies on the other plane, with its own place, feet and marks; None where all lie on one
    beside: RoofResult | None = None

    @property
    def planes(self) -> tuple[RoofResult, ...]:
        """This plane, and the other one where collectors lie on it."""
        return (self,) if self.beside is None else (self, self.beside)

    @property
    def feet(self) -> tuple[Foot, ...]:
        """Every foot, lower rails first."""
        return tuple(foot for rail in self.rails for foot in rail.feet)

    @property
    def wanted(self) -> float:
        """How many times the hardest lift a foot is to hold."""
        return wanted_safety(by_screws=self.by_screws)

    @property
    def field(self) -> Box:
        """The whole field as one rectangle."""
        x, y = min(row.x for row in self.rows), min(row.y for row in self.rows)
        return Box(x, y, max(row.right for row in self.rows) - x, max(row.top for row in self.rows) - y)

    @property
    def hardest(self) -> Foot | None:
        """The foot that is pulled hardest."""
        return max(self.feet, key=lambda foot: foot.up, default=None)

    @property
    def grid(self) -> tuple[float, float]:
        """Width and height of the rail grid that is squared [m]: ends of the lowest row's rails."""
        rails = [rail for rail in self.rails if rail.row == 0]
        return rails[0].end - rails[0].start, rails[-1].y - rails[0].y
