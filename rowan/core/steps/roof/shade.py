"""What stands on a roof throws a strip of shade over it: where, on the day when day and night are equal. Source: geometry.

In winter the strips are longer and the sun is weak, in summer they are short; the equinox from nine to three is the measure for
what is kept free. Rule of thumb.
"""

from __future__ import annotations

import math

from rowan.core.steps.roof.result import Box
from rowan.core.terms.limits import ANY_ANGLE, LATITUDE, NOT_NEGATIVE, Span, takes
from rowan.core.weather.hours import HOUR_DEG

HOURS = (9.0, 10.5, 12.0, 13.5, 15.0)  # o'clock by the sun
LEAST_FACING = 0.1  # of the sun on the plane; where it comes flatter the shade runs off the roof
HIGHEST_SUN_DEG = 85.0  # steeper, the shade under an edge is longer than any wall


@takes(latitude=LATITUDE, pitch=Span(0.0, 90.0), azimuth=ANY_ANGLE, hour=Span(0.0, 24.0))
def sun_on_plane(*, latitude: float, pitch: float, azimuth: float, hour: float) -> tuple[float, float, float]:
    """The unit vector to the sun at the equinox in a roof's own axes: along the eave to the right, up the slope, out of it [-].

    Angles [°]; the right is that of somebody who stands before the roof and looks at it.
    """
    phi, turned = math.radians(latitude), math.radians((hour - 12) * HOUR_DEG)
    east, north, up = -math.sin(turned), -math.sin(phi) * math.cos(turned), math.cos(phi) * math.cos(turned)
    faces, slope = math.radians(azimuth), math.radians(pitch)
    toward = east * math.sin(faces) + north * math.cos(faces)
    along = -east * math.cos(faces) + north * math.sin(faces)
    return along, up * math.sin(slope) - toward * math.cos(slope), up * math.cos(slope) + toward * math.sin(slope)


@takes(stands=NOT_NEGATIVE, latitude=LATITUDE, pitch=Span(0.0, 90.0), azimuth=ANY_ANGLE)
def shade_strip(thing: Box, *, stands: float, latitude: float, pitch: float, azimuth: float) -> Box | None:
    """The box on the plane that a thing standing plumb and so high [m] shades through the hours; None where no sun comes.

    The strip holds the thing's own box. Angles [°].
    """
    slope = math.radians(pitch)
    low_x = low_y = high_x = high_y = 0.0
    lit = False
    for hour in HOURS:
        along, up, out = sun_on_plane(latitude=latitude, pitch=pitch, azimuth=azimuth, hour=hour)
        if out < LEAST_FACING:
            continue
        lit = True
        # its top stands over the plane by cos, and leans up the slope by sin
        away = stands * math.cos(slope) / out
        x, y = -along * away, stands * math.sin(slope) - up * away
        low_x, high_x, low_y, high_y = min(low_x, x), max(high_x, x), min(low_y, y), max(high_y, y)
    if not lit:
        return None
    return Box(thing.x + low_x, thing.y + low_y, thing.width + high_x - low_x, thing.height + high_y - low_y)


@takes(length=NOT_NEGATIVE, tilt=Span(0.0, 90.0), noon=Span(-90.0, 90.0))
def shade_below(*, length: float, tilt: float, noon: float) -> float:
    """How far down [m] the wall a collector hung on it shades at noon, below its lower edge; tilt and sun's height [°].

    Its upper edge lies at the wall, which faces the noon sun.
    """
    return length * math.cos(math.radians(tilt)) * math.tan(math.radians(min(max(noon, 0.0), HIGHEST_SUN_DEG)))
