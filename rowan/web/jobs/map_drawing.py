"""Where the jobs are, as dots over a graticule: no tiles, no network. Jobs close to each other are one dot with its number.

A site's own coordinates place a job; without them the place its plan was made for does, which is told apart.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Sequence

from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import System, fixed
from rowan.web.ui.svg import Drawing

WIDTH, HEIGHT, EDGE = 656.0, 420.0, 34.0
CELL_PX = 44.0  # dots are a thumb apart
LEAST_DEG = 0.04  # some four kilometres: one house is no map
MOST_NAMED = 30
KM_A_DEGREE = 111.2  # of latitude, mean sphere
STEPS_DEG = (0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 45.0)
MOST_LINES = 7
BAR_PX = 130.0
MILE_KM = 1.609344  # the statute mile, by definition
BARS = (1, 2, 5, 10, 20, 50, 100, 200, 500, 1000, 2000, 5000)
DOT_PX, GROWS_PX, MOST_DOT_PX = 6.0, 1.6, 20.0


@record
class Spot:
    """A job on the map: latitude and longitude [°], its number, name and place; whether its own site says where it is."""

    latitude: float
    longitude: float
    job: int
    title: str
    place: str
    own: bool


@record
class Group:
    """Jobs that are one dot: where it stands, them, the part of the map that holds them (south, west, north, east)."""

    x: float
    y: float
    spots: tuple[Spot, ...]

    @property
    def box(self) -> tuple[float, float, float, float]:
        """The part of the map in which they are, in degrees."""
        lat, lon = [s.latitude for s in self.spots], [s.longitude for s in self.spots]
        return min(lat), min(lon), max(lat), max(lon)

    @property
    def name(self) -> str:
        """What most of them are called by: their place, or the one job."""
        if len(self.spots) == 1:
            return self.spots[0].title
        return Counter(spot.place for spot in self.spots).most_common(1)[0][0]


class _View:
    """Degrees to pixels: a plate carrée true to scale at the middle latitude."""

    def __init__(self, spots: Sequence[Spot]) -> None:
        lat, lon = [s.latitude for s in spots], [s.longitude for s in spots]
        self.middle = ((min(lat) + max(lat)) / 2, (min(lon) + max(lon)) / 2)
        self.narrow = max(math.cos(math.radians(self.middle[0])), 0.05)
        high, wide = max(max(lat) - min(lat), LEAST_DEG), max((max(lon) - min(lon)) * self.narrow, LEAST_DEG)
        self.per_degree = min((HEIGHT - 2 * EDGE) / high, (WIDTH - 2 * EDGE) / wide)

    def x(self, longitude: float) -> float:
        """Pixels from the left."""
        return WIDTH / 2 + (longitude - self.middle[1]) * self.narrow * self.per_degree

    def y(self, latitude: float) -> float:
        """Pixels from the top."""
        return HEIGHT / 2 - (latitude - self.middle[0]) * self.per_degree


def groups(spots: Sequence[Spot]) -> list[Group]:
    """The dots, the largest first: jobs whose dots would touch are one."""
    if not spots:
        return []
    view = _View(spots)
    cells: dict[tuple[int, int], list[Spot]] = {}
    for spot in spots:
        cells.setdefault((int(view.x(spot.longitude) // CELL_PX), int(view.y(spot.latitude) // CELL_PX)), []).append(
            spot
        )
    found = [
        Group(
            sum(view.x(s.longitude) for s in held) / len(held),
            sum(view.y(s.latitude) for s in held) / len(held),
            tuple(held),
        )
        for held in cells.values()
    ]
    return sorted(found, key=lambda group: (-len(group.spots), group.y, group.x))


def _radius(group: Group) -> float:
    return min(DOT_PX + GROWS_PX * math.sqrt(len(group.spots) - 1), MOST_DOT_PX)


def map_drawing(dots: Sequence[Group], links: Sequence[str], units: System) -> Drawing:
    """The map of what `groups` made of the jobs; `links` lead on from each dot."""
    drawing = Drawing(WIDTH, HEIGHT, "Where the jobs are", "job-map", "job-map")
    view = _View([spot for group in dots for spot in group.spots])
    _graticule(drawing, view)
    _scale(drawing, view, units)
    for group, link in zip(dots, links, strict=True):
        number = len(group.spots)
        said = group.name if number == 1 else tr("{number} jobs, {place}", number=number, place=group.name)
        dot = drawing.add("a", href=link, aria_label=said, cls="map-dot")
        dot.circle(
            (group.x, group.y), _radius(group), "map-own" if any(spot.own for spot in group.spots) else "map-place"
        )
        if number > 1:
            dot.words((group.x, group.y + 4), str(number), "map-number", "middle")
    for group in dots[:MOST_NAMED]:
        drawing.words((group.x + _radius(group) + 4, group.y + 4), group.name, "label-ink halo")
    return drawing


def _graticule(drawing: Drawing, view: _View) -> None:
    """Parallels and meridians at round degrees, each with its number."""
    step = next((one for one in STEPS_DEG if HEIGHT / view.per_degree / one <= MOST_LINES), STEPS_DEG[-1])
    decimals = 0 if step >= 1 else 1 if step >= 0.1 else 2
    south, north = (view.middle[0] + sign * HEIGHT / 2 / view.per_degree for sign in (-1, 1))
    for n in range(math.ceil(max(south, -90) / step), math.floor(min(north, 90) / step) + 1):
        y = view.y(n * step)
        drawing.line((0, y), (WIDTH, y), "grid")
        half = " N" if n > 0 else " S" if n else ""
        drawing.words((3, y - 4), f"{fixed(abs(n * step), decimals)}°{half}", "axis")
    across = next(
        (one for one in STEPS_DEG if WIDTH / view.per_degree / view.narrow / one <= MOST_LINES), STEPS_DEG[-1]
    )
    decimals = 0 if across >= 1 else 1 if across >= 0.1 else 2
    west, east = (view.middle[1] + sign * WIDTH / 2 / view.per_degree / view.narrow for sign in (-1, 1))
    for n in range(math.ceil(max(west, -180) / across), math.floor(min(east, 180) / across) + 1):
        x = view.x(n * across)
        drawing.line((x, 0), (x, HEIGHT), "grid")
        half = f" {tr('E')}" if n > 0 else f" {tr('W')}" if n else ""
        drawing.words((x + 3, HEIGHT - 5), f"{fixed(abs(n * across), decimals)}°{half}", "axis")


def _scale(drawing: Drawing, view: _View, units: System) -> None:
    """A bar of a round length in the reader's unit, true at the middle of the map."""
    name, each_km = ("km", 1.0) if units == "metric" else ("mi", MILE_KM)
    per_unit = view.per_degree / KM_A_DEGREE * each_km
    long = max((one for one in BARS if one * per_unit <= BAR_PX), default=BARS[0])
    right, y = WIDTH - 10, 18.0
    drawing.line((right - long * per_unit, y), (right, y), "stroke")
    for x in (right - long * per_unit, right):
        drawing.line((x, y - 4), (x, y + 4), "stroke")
    drawing.words((right, y + 16), f"{long} {name}", "label", "end")
