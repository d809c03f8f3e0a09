"""The air a loop stands in."""

from __future__ import annotations

from rowan.core.terms.constants import ATMOSPHERE_PA
from rowan.core.terms.limits import Span, takes

# °C of the place's coldest night. A field under a clear sky is colder than the air: below the first no water may stand outside,
# below the second the controller must guard it. Practice: which kind of system; methods 11
WATER_OUTSIDE_FROM_C = 2.0
# °C of air from which a clear sky freezes the water in plates and in tubes; defaults, clear sky
PLATES_FREEZE_FROM_C, TUBES_FREEZE_FROM_C = 4.0, 2.0
# °C of the coldest night; below it the sky may still freeze what faces it
FROST_GUARDED_BELOW_C = 5.0


@takes(altitude=Span(-500.0, 11_000.0))
def atmosphere(*, altitude: float) -> float:
    """Air pressure [Pa] at altitude [m]. Source: methods 10, standard atmosphere."""
    return ATMOSPHERE_PA * (1 - 2.25577e-5 * altitude) ** 5.2559
