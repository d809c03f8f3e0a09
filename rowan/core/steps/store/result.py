"""What the store step hands on."""

from __future__ import annotations

from rowan.core.terms.figure import Figure
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record


@record
class StoreResult:
    """Height inside [m], conductance of the loop's coil and of the taps' [W/K], litres per m² aperture, floor load [kg/m²]."""

    height: float
    coil_conductance: float
    taps_conductance: float
    litres_per_m2: float
    floor_load: float
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]
