"""Rows that stand before another: what of the beam and of the sky they take from those behind. Source: methods 12; pvlib."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rowan.core.terms.record import record
from rowan.core.weather.hours import PlaneYear, SunYear
from rowan.core.weather.sun import MonthlyDays

Array = NDArray[np.float64]


@record
class Rows:
    """Rows: how many, length up their slope and distance from row to row [m], tilt and bearing [°].

    They stand on level ground, or on a roof of a pitch `ground` [°] that faces as they do; the distance is along it.
    """

    count: int
    length: float
    pitch: float
    tilt: float
    azimuth: float
    ground: float = 0.0

    @property
    def behind(self) -> float:
        """Share of the rows that have one before them [-]."""
        return (self.count - 1) / self.count

    def lit(self, *, zenith: Array, bearing: Array) -> Array:
        """Share of the beam that reaches the whole field, with the sun at a zenith angle and bearing [°]; one below the level."""
        from pvlib.shading import shaded_fraction1d

        low = zenith >= 90
        taken: Any = shaded_fraction1d(
            np.minimum(zenith, 89.9),
            bearing,
            (self.azimuth + 90) % 360,
            -self.tilt,
            collector_width=self.length,
            pitch=self.pitch * float(np.cos(np.radians(self.ground))),
            cross_axis_slope=-self.ground,
        )
        return np.asarray(1 - self.behind * np.where(low, 0.0, np.nan_to_num(np.asarray(taken, dtype=float))))

    @property
    def sky_kept(self) -> float:
        """Share of the even sky's light that the field keeps [-], by the masking angle mean over a row."""
        from pvlib.shading import masking_angle_passias, sky_diffuse_passias

        angle = masking_angle_passias(max(self.tilt - self.ground, 0.1), min(self.length / self.pitch, 0.999))
        return float(1 - self.behind * float(sky_diffuse_passias(angle)))


def behind_in_year(plane: PlaneYear, sun: SunYear, rows: Rows) -> PlaneYear:
    """What a whole field of rows gets of what falls on a free plane."""
    lit = rows.lit(zenith=90 - sun.elevation, bearing=sun.azimuth)
    return replace(plane, beam=plane.beam * lit, diffuse=plane.diffuse * rows.sky_kept)


def behind_in_days(days: MonthlyDays, rows: Rows) -> MonthlyDays:
    """The mean days as a whole field of rows sees them: the beam alone; the sky's share is the field's own."""
    zenith = np.degrees(np.arccos(np.clip(days.cos_zenith, -1, 1)))
    bearing = np.degrees(np.arctan2(days.sun_east, days.sun_north)) % 360
    lit = rows.lit(zenith=zenith, bearing=bearing)
    return replace(days, through=lit if days.through is None else days.through * lit)
