"""A tank as a piece of goods: the foot it presses with, and the same build in another size."""

from __future__ import annotations

import math

from rowan.core.goods.items import StoreItem


def foot_area(item: StoreItem, *, base: float | None) -> float:
    """What a store presses on [m²]: its own foot, or the base [m²] it stands on where that is wider."""
    own = math.pi / 4 * item.diameter_m**2
    return own if base is None else max(base, own)


def scaled_store(item: StoreItem, *, contents_l: float) -> StoreItem:
    """The store of the same build in another size: same height, footprint and coil in proportion."""
    ratio = contents_l / item.contents_l
    return item.model_copy(
        update={
            "name": f"Store {contents_l:.0f} {'twin coil' if item.twin_coil else 'single coil'}",
            "contents_l": contents_l,
            "diameter_m": round(item.diameter_m * math.sqrt(ratio), 3),
            "coil_area_m2": round(item.coil_area_m2 * ratio, 2),
            "coil_contents_l": round(item.coil_contents_l * ratio, 1),
            "dry_mass_kg": round(item.dry_mass_kg * ratio),
        }
    )
