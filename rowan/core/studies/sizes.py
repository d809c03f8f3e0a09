"""Other sizes of field and store: which are tried, and what makes one of them a poor one. Source: methods 6 and 18."""

from __future__ import annotations

import numpy as np

from rowan.core.design.design import Design
from rowan.core.simulation.year import Year

COUNTS, MOST_COLLECTORS = 10, 60  # field sizes on the map; collectors a plan takes
VOLUME_STEPS = (0.5, 0.75, 1.0, 1.4, 2.0, 2.8)  # of the plan's store
# L, what the catalogue's builds are scaled to
LEAST_STORE_L, MOST_STORE_L = 50.0, 20_000.0
STANDS_H = 60.0  # h a year; a field that stands hot longer is larger than its store and its people
SELDOM_HOT_H = 300.0  # h a year; a store whose middle is hot more seldom than that is larger than its field


def field_sizes(design: Design) -> list[int]:
    """Ten field sizes about the plan's, from one collector up."""
    here = design.collector.count.value
    if here <= COUNTS // 2:
        return list(range(1, COUNTS + 1))
    found = {min(MOST_COLLECTORS, max(1, round(here * share))) for share in np.linspace(0.25, 2.0, COUNTS)} | {here}
    nearest = sorted((n for n in range(1, MOST_COLLECTORS + 1) if n not in found), key=lambda n: abs(n - here))
    found |= set(nearest[: max(0, COUNTS - len(found))])
    while len(found) > COUNTS:
        found.discard(max(found - {here}))
    return sorted(found)


def store_sizes(design: Design) -> list[float]:
    """Six store sizes about the plan's [L], to the nearest ten."""
    here = design.store.item.value.contents_l
    return [
        here if share == 1.0 else max(LEAST_STORE_L, min(MOST_STORE_L, round(here * share / 10) * 10))
        for share in VOLUME_STEPS
    ]


def stands_hot(year: Year) -> bool:
    """Whether the field stands hot for more hours than a fitting one does."""
    return year.total("stagnation_time") / 3600 > STANDS_H


def seldom_hot(middle_hot_hours: float) -> bool:
    """Whether the store's middle is hot so seldom [h a year] that it is larger than its field."""
    return middle_hot_hours < SELDOM_HOT_H
