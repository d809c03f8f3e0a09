"""What parts a supposition from a healthy loop, where somebody would look for it: means as read, as healthy, as supposed."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.care.blocks import DAILY, Blocks
from rowan.core.records.care.fit import likelihood
from rowan.core.records.care.scene import PARTS_H
from rowan.core.terms.record import record

Array = NDArray[np.float64]
SAYS = 2.0  # by how much a channel has to speak to be said to speak
MOST_EVIDENCE = 3
# what a channel is of, as somebody would look for it
PLACES: dict[str, tuple[str, ...]] = {
    "field": ("field_c", "unread", "sun_time", "light"),
    "lines": ("hot_c", "cold_c"),
    "store": ("top_cools", "foot_cools", "foot_gains", "dawn", "top_most"),
    "pump": ("off_h", "on_day_h", "on_night_h", "start_k", "stop_k"),
    "flow": ("flow", "scatter"),
    "gauge": ("gauge_pa", "level"),
}


@record
class Evidence:
    """What parts a supposition from a healthy loop: a channel, the part of the day (of `PARTS_H`, None for whole days) and whether the
    pump ran; means as read, as healthy would have been, and as supposed; on how many of how many days it is nearer to what is supposed."""

    channel: str
    part: int | None
    runs: bool
    read: float
    healthy: float
    supposed: float
    nearer: int
    days: int


def evidence_of(blocks: Blocks, base: Array, left: Array, begins: int) -> tuple[Evidence, ...]:
    """Where what a supposition leaves over is clearly less than what healthy does: the channels and parts of the day that speak most.

    Args:
        blocks: what is compared.
        base: what a healthy loop leaves over in each block.
        left: the same of the supposition.
        begins: the day from which it holds.
    """
    since = blocks.day >= begins
    better = likelihood(left / blocks.spread) - likelihood(base / blocks.spread)
    found = []
    for name in blocks.names:
        of_channel = (blocks.only(name) > 0) & since
        for group in np.unique(blocks.group[of_channel]):
            here = of_channel & (blocks.group == group)
            column, wide = int(group) - blocks.first[name], name not in DAILY
            one = Evidence(
                name,
                column % len(PARTS_H) if wide else None,
                wide and column >= len(PARTS_H),
                float(np.mean(blocks.value[here])),
                float(np.mean(blocks.value[here] - base[here])),
                float(np.mean(blocks.value[here] - left[here])),
                int((np.abs(left[here]) < np.abs(base[here])).sum()),
                int(here.sum()),
            )
            found.append((float(better[here].sum()), one))
    found.sort(key=lambda entry: -entry[0])
    return tuple(one for gain, one in found[:MOST_EVIDENCE] if gain > SAYS)
