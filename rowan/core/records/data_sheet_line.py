"""Reading a line of a data sheet: everything the text may mean, held against the plan. Source: practice 0 and 1.

Contents, least, recommended and most flow stand near each other on a sheet, per collector or for a set, in L/h, L/min or
gal/h, with a decimal comma or a thousands mark. A reading that makes no sense on this plan is named.
"""

from __future__ import annotations

from typing import Literal

from rowan.core.design.design import Design
from rowan.core.goods.efficiency import REFERENCE_IRRADIANCE
from rowan.core.reckon import Reckoning
from rowan.core.steps.run.friction import series_rise
from rowan.core.terms.errors import TypedNumberError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE, LITRE_H, System, typed_to_si

Line = Literal["contents", "flow", "least", "most"]
LINES: dict[Line, tuple[str, str]] = {
    "contents": ("contents", "contents_l"),
    "flow": ("recommended flow", "flow_l_h"),
    "least": ("least flow", "least_flow_l_h"),
    "most": ("most flow", "most_flow_l_h"),
}
# what is usual for a square metre of aperture, rules of thumb
CONTENTS_M2 = (0.3e-3, 2.5e-3)  # m³ for each m² of aperture, what sheets show
FLOW_M2 = (12 * LITRE_H, 110 * LITRE_H)  # m³/s for each m², low flow to matched flow, methods 8
MOST_RISE_K, LEAST_RISE_K, MOST_SPEED = 60.0, 3.0, 1.2  # K over the field in good sun, and m/s in its pipes
UNITS: dict[bool, tuple[str, ...]] = {True: ("L", "gal"), False: ("L/h", "L/min", "gal/h", "gal/min")}


@record
class Reading:
    """One thing the text may mean: worded, for one collector [m³ or m³/s], and what speaks against it."""

    words: str
    each: float
    total: float
    doubts: tuple[Statement, ...]

    @property
    def likely(self) -> bool:
        """Whether nothing speaks against it."""
        return not self.doubts


def readings(design: Design, reckoning: Reckoning, *, line: Line, text: str, system: System) -> tuple[Reading, ...]:
    """Everything a typed line may mean, what is likely first. Raises TypedNumberError for what is no number at all."""
    count, volume = design.collector.count.value, line == "contents"
    name = "volume" if volume else "flow"
    found = []
    for candidate in _numbers(text, name, system):
        for unit in _units(candidate, name, volume, system):
            value = typed_to_si(f"{candidate} {unit}".strip(), name, system)
            for whole in (False, True) if count > 1 else (False,):
                each = value / count if whole else value
                words = f"{candidate} {unit}".strip() + (f" for all {count}" if whole else " for one collector")
                found.append(Reading(words, each, each * count, _doubts(design, reckoning, line, each)))
    return tuple(sorted(found, key=lambda reading: len(reading.doubts)))


def _numbers(text: str, name: str, system: System) -> tuple[str, ...]:
    """The text itself, or both readings of a number that can be read in two ways."""
    try:
        typed_to_si(text, name, system)
    except TypedNumberError as error:
        if not error.readings:
            raise
        return error.readings
    return (text.strip(),)


def _units(text: str, name: str, volume: bool, system: System) -> tuple[str, ...]:
    """The unit it brings, or all it may have meant."""
    if any(letter.isalpha() for letter in text):
        return ("",)
    found = []
    for unit in UNITS[volume]:
        try:
            typed_to_si(f"{text} {unit}", name, system)
        except TypedNumberError:
            continue
        found.append(unit)
    return tuple(found)


def _doubts(design: Design, reckoning: Reckoning, line: Line, each: float) -> tuple[Statement, ...]:
    item = design.collector.item.value
    per_m2 = each / item.aperture_m2
    if line == "contents":
        low, high = CONTENTS_M2
        if low <= per_m2 <= high:
            return ()
        return (
            say(
                "{v} in a square metre of collector; {a} to {b} are usual",
                v=Quantity(per_m2, "volume", 2),
                a=Quantity(low, "volume", 1),
                b=Quantity(high, "volume", 1),
            ),
        )
    return (*_flow_doubts(design, reckoning, each, per_m2), *_order_doubts(design, line, each))


def _flow_doubts(design: Design, reckoning: Reckoning, each: float, per_m2: float) -> list[Statement]:
    found = []
    low, high = FLOW_M2
    if not low <= per_m2 <= high:
        found.append(
            say(
                "{v} on the aperture; {a} to {b} are usual",
                v=Quantity(per_m2, "specific_flow"),
                a=Quantity(low, "specific_flow"),
                b=Quantity(high, "specific_flow"),
            )
        )
    run = reckoning.run
    flow = each * design.flow_paths
    rise = series_rise(
        irradiance=REFERENCE_IRRADIANCE,
        efficiency=max(run.temperatures.efficiency, 0.05),
        area=design.area_m2,
        flow=max(flow, 1e-9) * run.warm.density,
        heat_capacity=run.heat_capacity,
    )
    if not LEAST_RISE_K <= rise <= MOST_RISE_K:
        found.append(say("the field would warm it by {r} in full sun", r=Quantity(rise, "difference", 0)))
    speed = run.warm.velocity(flow)
    if speed > MOST_SPEED:
        found.append(say("it would run at {v} in this pipe", v=Quantity(speed, "velocity")))
    return found


def _order_doubts(design: Design, line: Line, each: float) -> list[Statement]:
    """Least under recommended under most: a line that breaks this belongs to another."""
    item = design.collector.item.value
    least, flow, most = (q * LITRE_H for q in (item.least_flow_l_h, item.flow_l_h, item.most_flow_l_h))
    wrong = {
        "flow": not least <= each <= most,
        "least": each > flow,
        "most": each < flow,
    }
    if not wrong.get(line, False):
        return []
    return [
        say(
            "the sheet has {a} least, {b} recommended, {c} most",
            a=Quantity(least, "flow", 1),
            b=Quantity(flow, "flow", 1),
            c=Quantity(most, "flow", 1),
        )
    ]


def stored(line: Line, each: float) -> float:
    """The number a collector's data sheet keeps for a line: litres, or litres an hour."""
    return each / LITRE if line == "contents" else each / LITRE_H
