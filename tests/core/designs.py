"""Designs the core tests reckon."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.finding import Change
from rowan.demo.kvist import kvist_plan_a, kvist_plan_b

EIGHT_FACTS = {
    "aldersund-5-oil": Facts(PLACES["Aldersund"], 157, 40, "slate", 5, "oil", 3),
    "aldersund-1-gas": Facts(PLACES["Aldersund"], 180, 40, "tile", 1, "gas", 2),
    "aldersund-8-electric": Facts(PLACES["Aldersund"], 180, 40, "slate", 8, "electric", 2),
    "aldersund-8-west": Facts(PLACES["Aldersund"], 270, 40, "slate", 8, "oil", 2),
    "maravel-1-oil": Facts(PLACES["Port Maravel"], 0, 25, "tile", 1, "oil", 1),
    "maravel-8-gas": Facts(PLACES["Port Maravel"], 0, 25, "tile", 8, "gas", 2),
    "maravel-8-west": Facts(PLACES["Port Maravel"], 270, 25, "tile", 8, "gas", 2),
    "maravel-5-electric": Facts(PLACES["Port Maravel"], 0, 25, "metal", 5, "electric", 1),
}


@lru_cache
def plan_a() -> Design:
    return kvist_plan_a()


@lru_cache
def plan_b() -> Design:
    return kvist_plan_b()


@lru_cache
def proposed(key: str) -> Design:
    return propose(EIGHT_FACTS[key], title=key)


def altered(design: Design, **values: Any) -> Design:
    """The design with inputs set; double underscores stand for dots."""
    return changed(design, [Change(path.replace("__", "."), value) for path, value in values.items()])
