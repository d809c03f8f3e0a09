"""How far a place is from where its weather was measured, and how much higher: what a file's year is worth here."""

from __future__ import annotations

import math

from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.limits import FINITE, Span, takes
from rowan.core.terms.record import record

EARTH_M = 6_371_000.0  # m, mean radius of the Earth
FAR_M, HIGH_M = 50_000.0, 200.0  # m, beyond which sun and frost are another's; rule of the house
LAPSE_K_M = 0.0065  # K/m, the standard atmosphere's


@record
class Apart:
    """How far [m], how much higher the place is [m], and how much colder by that [K]."""

    distance: float
    higher: float

    @property
    def colder(self) -> float:
        """By the standard atmosphere [K]; negative where the place is lower."""
        return self.higher * LAPSE_K_M

    @property
    def level(self) -> Level | None:
        """Whether it is to be minded."""
        return "mind" if self.distance > FAR_M or abs(self.higher) > HIGH_M else None

    @property
    def words(self) -> Statement:
        """In words."""
        way = "higher" if self.higher >= 0 else "lower"
        return say(
            "its weather was measured {d} away, the place lies {h} {way}",
            way=way,
            d=Quantity(self.distance, "length", 0),
            h=Quantity(abs(self.higher), "length", 0),
        )


@takes(
    latitude=Span(-90, 90),
    longitude=Span(-180, 180),
    to_latitude=Span(-90, 90),
    to_longitude=Span(-180, 180),
    altitude=FINITE,
    to_altitude=FINITE,
)
def apart(
    *, latitude: float, longitude: float, altitude: float, to_latitude: float, to_longitude: float, to_altitude: float
) -> Apart:
    """A place [°, m] from a station; along the great circle. Raises OutOfRangeError for what is no position."""
    one, other = math.radians(latitude), math.radians(to_latitude)
    half = math.sin((other - one) / 2) ** 2
    half += math.cos(one) * math.cos(other) * math.sin(math.radians(to_longitude - longitude) / 2) ** 2
    return Apart(2 * EARTH_M * math.asin(min(1.0, math.sqrt(half))), altitude - to_altitude)
