"""The collectors of a catalogue in this design's place: what each would bring, and for how much."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.items import CollectorItem
from rowan.core.errors import RowanError
from rowan.core.findings import Change
from rowan.core.reckon import reckon


@dataclass(frozen=True)
class Candidate:
    """A collector in the design's place: heat a year on the aperture [J/m²], None without an estimate; dry temperature [°C]."""

    item: CollectorItem
    chosen: bool
    heat_per_m2: float | None
    stagnation: float
    stops: tuple[str, ...]


def candidates(design: Design, items: Iterable[CollectorItem]) -> tuple[Candidate, ...]:
    """Each item reckoned as the design's collector, count and all else kept."""
    found = []
    chosen = design.collector.item.value.name
    for item in items:
        try:
            result = reckon(changed(design, [Change("collector.item", item)]))
        except RowanError:
            continue
        area = design.collector.count.value * item.aperture_m2
        heat = result.collector.year_heat
        stops = tuple(f.title.text() for f in result.findings if f.level == "stop")
        found.append(
            Candidate(
                item, item.name == chosen, None if heat is None else heat / area, result.collector.stagnation, stops
            )
        )
    return tuple(found)
