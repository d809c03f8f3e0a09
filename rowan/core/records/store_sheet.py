"""A store from its data sheet: what it loses standing, by any of the figures that are printed, with a plausibility check."""

from __future__ import annotations

import math
from typing import Literal

from rowan.core.goods.items import StoreItem
from rowan.core.terms.calendar import DAY_S
from rowan.core.terms.limits import POSITIVE, takes

LossForm = Literal["area", "day", "power"]
# K between a store and its room in the test that a standing loss comes from: 65 °C in 20 °C
TEST_OVER_ROOM_K = 45.0
# what is usual, rules of thumb: W/m²K of a coat, m² of coil for each 100 L, a tank's height over its width
LEAST_LOSS, MOST_LOSS = 0.25, 2.0
LEAST_COIL_M2, MOST_COIL_M2 = 0.2, 1.5
LEAST_SLIM, MOST_SLIM = 0.8, 5.0


@takes(volume=POSITIVE, diameter=POSITIVE)
def tank_surface(*, volume: float, diameter: float) -> float:
    """Outer surface of an upright cylinder [m²]; volume [m³], diameter [m]. Source: methods 5."""
    foot = math.pi / 4 * diameter**2
    return 2 * foot + math.pi * diameter * volume / foot


@takes(loss=POSITIVE, surface=POSITIVE)
def loss_by_area(*, form: LossForm, loss: float, surface: float) -> float:
    """What a coat loses [W/m²K], from what is printed: by area [W/m²K], heat a day [J], or power [W] in the test. Source: methods 5."""
    if form == "area":
        return loss
    power = loss / DAY_S if form == "day" else loss
    return power / (TEST_OVER_ROOM_K * surface)


def store_doubts(item: StoreItem) -> tuple[str, ...]:
    """What on a data sheet looks as if a line had been mixed up."""
    found = []
    foot = math.pi / 4 * item.diameter_m**2
    height = item.contents_l / 1000 / foot
    if item.coil_top_m > height:
        found.append(
            f"its coil ends {item.coil_top_m:.2f} m over the foot, and {item.contents_l:.0f} L in this width stand {height:.2f} m high"
        )
    if item.coil_bottom_m >= item.coil_top_m:
        found.append("the coil's lower port is not below its upper one")
    if not LEAST_SLIM <= height / item.diameter_m <= MOST_SLIM:
        found.append(
            f"it would be {height:.2f} m high and {item.diameter_m:.2f} m wide: outer width, or without the coat?"
        )
    if not LEAST_LOSS <= item.loss_w_m2k <= MOST_LOSS:
        found.append(
            f"its coat loses {item.loss_w_m2k:.2f} W/m²K; {LEAST_LOSS:g} to {MOST_LOSS:g} is usual: a day, or an hour?"
        )
    coil = item.coil_area_m2 / (item.contents_l / 100)
    if item.coil_area_m2 > 0 and not LEAST_COIL_M2 <= coil <= MOST_COIL_M2:
        found.append(f"it has {coil:.2f} m² of coil for each 100 L; {LEAST_COIL_M2:g} to {MOST_COIL_M2:g} is usual")
    return tuple(found)
