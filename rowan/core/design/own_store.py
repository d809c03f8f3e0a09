"""What is its own store: a pool, a floor slab, a process bath. Its mass, swing and losses stand in place of a tank's litres.

A slab's mass is told as the water that holds as much heat, so that one store serves all of them.
"""

from __future__ import annotations

import math
from typing import Literal

from rowan.core.design.design import Design
from rowan.core.terms.constants import WATER_J_KG_K, WATER_KG_M3
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

Kind = Literal["pool", "slab", "bath"]
NAMES: dict[Kind, str] = {"pool": "pool", "slab": "floor slab", "bath": "process bath"}
CONCRETE_KG_M3, CONCRETE_J_KG_K = 2300.0, 1000.0  # ISO 10456, concrete with 1 % of steel
# W/m²K from the loop to the slab's middle: plastic pipe of 16 mm at 200 mm in concrete, rule of thumb
SLAB_W_M2K = 8.0
SLAB_PIPE_M_M2 = 5.0  # m of pipe for each m² at 200 mm
SLAB_PIPE_L_M2 = 0.57  # litres in it, with a bore of 12 mm
FLOOR_MOST_C = 50.0  # °C that enters a floor at most: screed and plastic pipe, rule of thumb under the usual 55
CIRCUIT_M2 = 16.0  # m² that 80 m of pipe cover, the longest usual circuit
CIRCUIT_POINT = (120.0, 12_000.0)  # L/h and Pa of such a circuit at 30 °C, by the friction of a smooth bore
SLAB_PIPE_PA = 600e3  # Pa gauge, plastic floor pipe at 60 °C, rule of thumb
BATH_COIL_L_M2 = 6.0  # litres in each m² of plain tube, rule of thumb
BATH_COIL_POINT = (500.0, 2_000.0)  # L/h and Pa, as a store's coil of that size
BATH_COIL_PA = 1_000e3  # Pa gauge, plain steel tube, rule of thumb
BATH_DEEP = 0.8  # depth of a bath by its width, where only its litres are known


@record
class OwnStore:
    """A body that is warmed itself: as water [m³] over a surface [m²], wanted at [°C], and the swing above it [K]."""

    kind: Kind
    volume: float
    across: float
    held: float
    swing: float

    @property
    def height(self) -> float:
        """Depth of the water that stands for it [m]."""
        return self.volume / self.across


def own_store_of(design: Design) -> OwnStore | None:
    """The body that a plan warms in place of a tank; None where there is a tank."""
    duty, kind = design.duty, design.duty.kind.value
    if kind == "pool":
        area = duty.pool_area_m2.value
        return OwnStore("pool", area * duty.pool_depth_m.value, area, duty.pool_c.value, duty.pool_swing_k.value)
    if kind == "slab":
        area = duty.slab_area_m2.value
        heat = area * duty.slab_thickness_m.value * CONCRETE_KG_M3 * CONCRETE_J_KG_K
        return OwnStore("slab", heat / (WATER_KG_M3 * WATER_J_KG_K), area, duty.slab_c.value, duty.slab_swing_k.value)
    if kind == "bath":
        volume = duty.bath_l.value * LITRE
        wide = (4 * volume / (math.pi * BATH_DEEP)) ** (1 / 3)
        return OwnStore("bath", volume, math.pi / 4 * wide**2, duty.bath_c.value, duty.bath_swing_k.value)
    return None


def contents_of(design: Design) -> float:
    """What stores the heat, as water [m³]: the tank's litres, or the body's own."""
    own = own_store_of(design)
    return design.store.item.value.contents_l * LITRE if own is None else own.volume


def circuits_of(design: Design) -> int:
    """Circuits of pipe in the slab, none longer than usual."""
    return math.ceil(design.duty.slab_area_m2.value / CIRCUIT_M2)


@record
class Exchanger:
    """What the loop gives its heat through: litres in it, a flow [L/h] with its drop [Pa], rating [Pa gauge], and its name."""

    contents_l: float
    drop_l_h_pa: tuple[float, float]
    rated_gauge_pa: float
    name: str


def exchanger_of(design: Design) -> Exchanger:
    """The coil of the tank or bath, or the pipe in the slab."""
    duty = design.duty
    if duty.kind.value == "slab":
        area = duty.slab_area_m2.value
        flow, drop = CIRCUIT_POINT
        return Exchanger(area * SLAB_PIPE_L_M2, (circuits_of(design) * flow, drop), SLAB_PIPE_PA, "pipe in the slab")
    if duty.kind.value == "bath":
        return Exchanger(duty.bath_coil_m2.value * BATH_COIL_L_M2, BATH_COIL_POINT, BATH_COIL_PA, "bath's coil")
    item = design.store.item.value
    return Exchanger(item.coil_contents_l, item.coil_drop_l_h_pa, item.coil_rated_gauge_pa, "store's coil")
