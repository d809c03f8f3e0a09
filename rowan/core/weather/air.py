"""The air a loop stands in."""

from __future__ import annotations

from rowan.core.terms.constants import ATMOSPHERE_PA


def atmosphere(*, altitude: float) -> float:
    """Air pressure [Pa] at altitude [m]. Source: methods 10, standard atmosphere."""
    return ATMOSPHERE_PA * (1 - 2.25577e-5 * altitude) ** 5.2559
