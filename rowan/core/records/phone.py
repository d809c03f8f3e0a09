"""Measured with a phone: slopes freed of its zero error, bearings by its compass or by a shadow and the clock, each with its spread.

Source: the trick of every level: read, turn end for end, read again. Declination by the world magnetic model.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import UTC, date, datetime
from typing import Literal

from rowan.core.terms.errors import ImpossibleInputError, OutOfRangeError
from rowan.core.terms.limits import ANY_ANGLE, LATITUDE, Span, takes
from rowan.core.terms.record import record

What = Literal["pitch", "bearing", "horizon", "fall"]
LEAST_READINGS, WANTED_READINGS, MOST_READINGS = 2, 5, 25
# ° the readings may differ by and still tell what is asked: a fall of 1:48 is 1.2° itself
MOST_SPREAD: dict[What, float] = {"pitch": 2.0, "bearing": 8.0, "horizon": 2.0, "fall": 0.3}
MOST_APART_DEG = 6.0  # ° between two places a step apart, beyond which iron is near
MOST_ERROR_DEG = 5.0  # ° of zero error, beyond which the phone lay on its camera or its case
MODEL_YEARS = (2025.0, 2029.99)  # for which the world magnetic model of 2025 is made
LEAST_SHADOW_DEG = 3.0  # ° of sun height under which no shadow is read


@record
class Reading:
    """What was measured [°], plus or minus [°]; the phone's own error where it was turned [°]; doubts in words."""

    value: float
    within: float
    error: float | None
    spread: float
    doubts: tuple[str, ...] = ()


def _spread(readings: Sequence[float]) -> float:
    return max(readings) - min(readings)


def _checked(name: str, readings: Sequence[float]) -> None:
    if not LEAST_READINGS <= len(readings) <= MOST_READINGS:
        raise ImpossibleInputError(
            "{least_readings} to {most_readings} readings are needed {name}, {wanted_readings} are usual",
            least_readings=f"{LEAST_READINGS}",
            most_readings=f"{MOST_READINGS}",
            name=name,
            wanted_readings=f"{WANTED_READINGS}",
        )
    for reading in readings:
        if not math.isfinite(reading) or abs(reading) > 360:
            raise OutOfRangeError("a reading", reading, -360, 360, "°")


def slope_of(*, first: Sequence[float], turned: Sequence[float], what: What = "pitch") -> Reading:
    """Slope [°] from signed readings and those with the phone turned end for end: half their difference is the slope.

    The mean of both is the phone's own error. Raises ImpossibleInputError where the readings differ by more than is to be told.
    """
    _checked("one way", first)
    _checked("and turned", turned)
    a, b = sum(first) / len(first), sum(turned) / len(turned)
    spread = max(_spread(first), _spread(turned))
    if spread > MOST_SPREAD[what]:
        better = ": a 600 mm level with a block of 12.5 mm tells a fall of 1:48" if what == "fall" else ""
        raise ImpossibleInputError(
            "the readings differ by {spread}°, more than the {most_spread}° that may be{better}",
            spread=f"{spread:.1f}",
            most_spread=f"{MOST_SPREAD[what]:g}",
            better=better,
        )
    error = (a + b) / 2
    doubts = ("its error is large: did it lie on its camera or its case?",) if abs(error) > MOST_ERROR_DEG else ()
    return Reading((a - b) / 2, spread / 2 / math.sqrt(2), error, spread, doubts)


def mean_bearing(readings: Sequence[float]) -> float:
    """The mean of bearings [°], across north too."""
    east = sum(math.sin(math.radians(r)) for r in readings)
    north = sum(math.cos(math.radians(r)) for r in readings)
    if math.hypot(east, north) < 1e-6:
        raise ImpossibleInputError("the readings point in every direction")
    return math.degrees(math.atan2(east, north)) % 360


def bearing_of(*, here: Sequence[float], aside: Sequence[float], declination: float) -> Reading:
    """True bearing [°] from magnetic readings at one place and a step aside, with the declination [°].

    Raises ImpossibleInputError where they differ by more than a roof needs.
    """
    _checked("here", here)
    _checked("a step aside", aside)
    one, two = mean_bearing(here), mean_bearing(aside)
    spread = max(_spread([_apart(r, m) for r in rows]) for rows, m in ((here, one), (aside, two)))
    if spread > MOST_SPREAD["bearing"]:
        raise ImpossibleInputError(
            "the readings differ by {spread}°, more than the {most_spread}° that may be",
            spread=f"{spread:.0f}",
            most_spread=f"{MOST_SPREAD['bearing']:g}",
        )
    apart = abs(_apart(one, two))
    doubts = (
        (f"both places differ by {apart:.0f}°: iron is near, take the shadow and the clock",)
        if apart > MOST_APART_DEG
        else ()
    )
    value = (mean_bearing([one, two]) + declination) % 360
    return Reading(value, max(spread, apart) / 2, None, spread, doubts)


def _apart(one: float, other: float) -> float:
    """Angle from one bearing to another [°], −180 to 180."""
    return (one - other + 180) % 360 - 180


@takes(latitude=LATITUDE, longitude=Span(-180.0, 180.0), altitude=Span(-500.0, 9000.0))
def declination_at(*, latitude: float, longitude: float, altitude: float, day: date) -> float:
    """How far magnetic north lies east of true north at a place on a day [°]. Source: world magnetic model."""
    from pygeomag import GeoMag

    year = day.year + (day.timetuple().tm_yday - 1) / 365.25
    model = GeoMag(coefficients_file="wmm/WMM_2025.COF")
    # a little over its years the model is still better than none: it drifts by a tenth of a degree a year
    time = min(max(year, MODEL_YEARS[0]), MODEL_YEARS[1])
    found = model.calculate(glat=latitude, glon=longitude, alt=altitude / 1000, time=time)
    return float(found.d)


@takes(latitude=LATITUDE, longitude=Span(-180.0, 180.0), turned=ANY_ANGLE)
def bearing_by_shadow(*, latitude: float, longitude: float, at: datetime, turned: float) -> Reading:
    """Bearing [°] by the shadow of a plumb line: what is sought lies `turned` clockwise from the shadow's own direction [°].

    `at` with its zone. Raises ImpossibleInputError where the sun is too low for a shadow.
    """
    import pandas as pd
    from pvlib.solarposition import get_solarposition

    if at.tzinfo is None:
        raise ImpossibleInputError("the clock's zone is needed")
    sun = get_solarposition(pd.DatetimeIndex([at.astimezone(UTC)]), latitude, longitude)
    height, bearing = float(sun["elevation"].iloc[0]), float(sun["azimuth"].iloc[0])
    if height < LEAST_SHADOW_DEG:
        raise ImpossibleInputError(
            "the sun stands {height}° high then: there is no shadow to read", height=f"{height:.0f}"
        )
    return Reading((bearing + 180 + turned) % 360, 1.0, None, 0.0)
