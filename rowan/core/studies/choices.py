"""Variants of a plan that are worth a year: other collectors, kinds of system, sizes."""

from __future__ import annotations

import math

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.fluid import strength
from rowan.core.goods.items import CollectorItem, StoreItem
from rowan.core.steps.store.stage import scaled_store
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Change


def with_collector(design: Design, item: CollectorItem, *, same_area: bool = True) -> Design:
    """The plan with another collector: as near to its aperture as whole collectors come, flow by the data sheet.

    Prices go with it: those of the chosen collectors are taken off the system and those of the others put on.
    """
    chosen, count = design.collector.item.value, design.collector.count.value
    wanted = max(1, round(count * chosen.aperture_m2 / item.aperture_m2)) if same_area else count
    price = design.money.system_price.value + wanted * item.price - count * chosen.price
    return changed(
        design,
        [
            Change("collector.item", item),
            Change("collector.count", min(wanted, 60)),
            Change("run.flow_l_h", min(wanted * item.flow_l_h, 20000.0)),
            Change("money.system_price", max(price, 0.0)),
        ],
    )


def with_kind(design: Design, kind: str) -> Design:
    """The plan as another kind of loop, with what that kind needs and without what it must not have."""
    changes = [Change("charge.kind", kind), Change("run.non_return", kind in ("sealed", "direct"))]
    if kind == "sealed":
        coldest = design.survey.design_minimum_c.value
        try:
            changes.append(Change("charge.share", strength(design_minimum=coldest)))
        except RowanError:
            changes.append(Change("charge.share", 0.6))
    if kind == "direct":
        changes.append(Change("control.frost", design.survey.design_minimum_c.value < 5.0))
    return changed(design, changes)


def with_sizes(design: Design, *, count: int, contents_l: float) -> Design:
    """The plan with so many collectors and a store of the same build in another size; ports and sensors keep their share."""
    item: StoreItem = design.store.item.value
    store = scaled_store(item, contents_l=contents_l) if not math.isclose(contents_l, item.contents_l) else item
    chosen = design.collector.item.value
    price = design.money.system_price.value + (count - design.collector.count.value) * chosen.price
    each = design.run.flow_l_h.value / design.collector.count.value
    return changed(
        design,
        [
            Change("collector.count", count),
            Change("run.flow_l_h", min(each * count, 20000.0)),
            Change("store.item", store),
            Change("money.system_price", max(price, 0.0)),
        ],
    )
