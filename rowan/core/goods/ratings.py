"""What parts stand [Pa gauge]: the usual ratings, used where a maker's data sheet does not say. Source: defaults of the trade."""

from __future__ import annotations

from rowan.core.goods.items import PipeItem

BAR = 1e5  # Pa
VESSEL_PA = 8 * BAR  # a solar expansion vessel
HOSES_PA = {"filling": 6 * BAR, "garden": 4 * BAR}  # Pa, defaults: pressure ratings
STATION_PA = 6 * BAR  # pump, check valve, gauge and air trap of a solar station
NARROW_COPPER_M = 0.0281  # m, outer diameter up to which copper tube stands the higher pressure
COPPER_PA, WIDE_COPPER_PA = 16 * BAR, 10 * BAR
OTHER_PIPE_PA = {"corrugated": 10 * BAR, "steel": 16 * BAR, "galvanised": 16 * BAR}
# plastic pipe, cold and at 95 °C; between them as a straight line
PLASTIC_COLD_PA, PLASTIC_HOT_PA = 6 * BAR, 2 * BAR
PLASTIC_COLD_C, PLASTIC_HOT_C = 20.0, 95.0
# sizes reliefs are sold in
RELIEFS_PA = tuple(bar * BAR for bar in (1.5, 2.0, 2.5, 3.0, 4.0, 6.0, 8.0, 10.0))


def pipe_stands(pipe: PipeItem, temperature: float) -> float:
    """What a pipe stands at a temperature [Pa gauge, °C]: the maker's word, else the usual of its material and size."""
    if pipe.rated_gauge_pa is not None:
        return pipe.rated_gauge_pa
    if pipe.material == "copper":
        return COPPER_PA if pipe.outer_diameter_m <= NARROW_COPPER_M else WIDE_COPPER_PA
    if pipe.material == "plastic":
        share = min(max((temperature - PLASTIC_COLD_C) / (PLASTIC_HOT_C - PLASTIC_COLD_C), 0.0), 1.0)
        return PLASTIC_COLD_PA + share * (PLASTIC_HOT_PA - PLASTIC_COLD_PA)
    return OTHER_PIPE_PA[pipe.material]
