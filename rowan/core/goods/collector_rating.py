"""What a collector of the catalogue is rated at, and what it comes to dry. Source: methods 3."""

from __future__ import annotations

from rowan.core.goods.efficiency import WIND_M_S, Rating, stagnation_temperature
from rowan.core.goods.items import CollectorItem


def rating_of(item: CollectorItem) -> Rating:
    """The efficiency rating of a collector item; an unglazed one in a light wind."""
    return Rating(item.eta0 * (1 - item.b_u_s_m * WIND_M_S), item.a1_w_m2k + item.b2_j_m3k * WIND_M_S, item.a2_w_m2k2)


def stagnation_of(item: CollectorItem) -> float:
    """What a collector comes to dry in full sun [°C]: as its maker measured it, else by its rating. Source: methods 3."""
    if item.stagnation_c is not None:
        return item.stagnation_c
    return stagnation_temperature(rating=rating_of(item))
