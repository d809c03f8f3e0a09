"""A plan's sealed loop as its vessel feels it."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.steps.charge.vessel import Loop


def loop_of(design: Design, *, contents: float, top: float, atmosphere: float) -> Loop:
    """Contents [m³], height of the top over the gauge [m], air [Pa] of a design, with its mix, relief and vessel."""
    charge = design.charge
    relief, keeps_gas = charge.relief_gauge_pa.value, charge.vessel_gas_share.value
    return Loop(contents, design.glycol_share, top, relief, atmosphere, keeps_gas)
