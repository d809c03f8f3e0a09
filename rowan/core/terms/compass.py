"""Points of the compass by their names, in the language that is spoken: where the east is an O in one, the west is in another."""

from __future__ import annotations

import re

from rowan.core.terms.language import tr

WINDS = ("N", "E", "S", "W")  # as a point is spelled here
POINTS = ("N", "NNE", "NE", "ENE", "E", "ESE", "SE", "SSE", "S", "SSW", "SW", "WSW", "W", "WNW", "NW", "NNW")
# what a language calls the winds, in their order; how each is written in full, its ways parted by a stroke
LETTERS, NAMES = "N E S W", "north east south west"


def compass_name(bearing: float) -> str:
    """The nearest of the sixteen points to a bearing [° clockwise from north], by the letters of the language that is spoken."""
    point = POINTS[round(bearing * len(POINTS) / 360) % len(POINTS)]
    return point.translate(str.maketrans("".join(WINDS), "".join(tr(LETTERS).split())))


def _point(text: str, letters: str, names: str) -> str:
    """A point as it is spelled here, from small letters as a language with these letters and names writes it; "" where it is none."""
    ways = [(name, wind) for wind, ways in zip(WINDS, names.split(), strict=True) for name in ways.split("/")]
    # the longest first: one name may end as another
    for name, wind in sorted(ways, key=lambda way: -len(way[0])):
        text = text.replace(name, wind)
    known = dict(zip(letters.lower().split(), WINDS, strict=True)) | {wind: wind for wind in WINDS}
    return "".join(known.get(letter, "?") for letter in re.sub(r"[\s\-]+", "", text))


def compass_point(text: str) -> float | None:
    """Degrees clockwise from north of a point of the compass, as “SW” or “south-west”; None where it is none.

    Read in the language that is spoken, and else in English: a German SO is the south-east, a Spanish one the south-west.
    """
    small = text.strip().lower()
    for letters, names in ((tr(LETTERS), tr(NAMES)), (LETTERS, NAMES)):
        point = _point(small, letters, names)
        if point in POINTS:
            return POINTS.index(point) * 360 / len(POINTS)
    return None
