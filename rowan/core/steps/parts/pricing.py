"""What the list costs: goods by the piece or the metre, and the hours to fit them.

Prices are invented rules of thumb in the firm's currency, there so that one plan can be held against another before anybody has
asked a merchant; an offer that is typed takes their place. Source: practice 13, methods 14.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping

from rowan.core.design.design import Design
from rowan.core.goods.fixings import FixingKey
from rowan.core.steps.parts.counting import Part
from rowan.core.steps.roof.place import fixing_of
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, by_method, closed_form, say
from rowan.core.terms.source import methods

# by the piece, or by the metre where the list counts metres; the key's part before “_” stands for all that begin so
PIECE: dict[str, float] = {
    "starter_packs": 140.0, "addon_packs": 95.0, "links": 14.0, "plugs": 8.0, "row_tees": 14.0, "throttles": 48.0,
    "boot_hot": 45.0, "boot_cold": 25.0, "boots_house": 25.0, "vent": 30.0, "clips": 2.5, "lagging": 6.0, "duct": 9.0,
    "warning_tape": 0.5, "panel": 120.0, "separator": 85.0, "non_return": 25.0, "station": 280.0, "discharge": 15.0,
    "cooling_vessel": 60.0, "store_relief": 35.0, "store_drain": 8.0, "tempering": 85.0, "fluid": 42.0, "concentrate": 60.0,
    "controller": 220.0, "sensors": 22.0, "cable": 1.2, "scaffold": 300.0, "test_gauge": 15.0, "hand_pump": 20.0,
    "filling_station": 60.0, "refractometer": 12.0, "loop_relief": 35.0, "field_relief": 35.0, "loop_gauge": 18.0,
    "reducer": 75.0, "level_tube": 90.0, "lid_seal": 25.0, "tank_stand": 260.0, "house_pipes": 12.0, "vacuum_breaker": 20.0,
    "pan": 45.0, "mode_valves": 16.0, "valve_tags": 2.0, "taps_lagging": 6.0, "heat_dump": 340.0, "fire_dump": 260.0, "base": 90.0,
    "expansion_pieces": 26.0, "series_elbows": 15.0, "sealant": 1.5, "membrane_tape": 1.2, "nails": 0.1, "adapters": 6.0, "washers": 0.4, "lagging_paint": 22000.0, "core_drill": 55.0,
    "foot_screws": 0.6, "foot_flashings": 12.0, "vent_tiles": 18.0,
    "summer_element": 95.0, "season_switch": 28.0, "slab_pipe": 1.6, "manifold": 240.0, "floor_mixer": 130.0,
}  # fmt: skip
FOOT_PRICE: dict[FixingKey, float] = {
    "plate": 14.0, "hook": 16.0, "foot": 15.0, "post": 12.0, "batten": 9.0, "block": 8.0, "seam": 11.0, "bracket": 8.0,
    "ballast": 30.0, "anchor": 22.0, "pile": 85.0, "wall": 24.0, "strap": 6.0, "frame": 9.0, "tube": 60.0,
}  # fmt: skip
STORE, STORE_L = 300.0, 3.2  # a tank, and each litre of it
TAPS_COIL_M2 = 70.0  # a coil for the taps or a bath, by its area
PUMP, PUMP_DRINKING, PUMP_SIGNAL = 180.0, 1.6, 1.8  # a circulator; times where of bronze, times where it takes a signal
VESSEL, VESSEL_L = 40.0, 2.2  # a vessel, and each litre of it
PIPE_MM_M = {"corrugated": 0.9}  # a metre of pipe for each mm of its outer diameter
COPPER_MM_M, FITTING_MM = 0.3, 0.25  # of any other; a fitting for each mm
STRAPPED = 0.25  # of what mounts and links a glazed collector, and of its hours: mats are strapped and clipped
WORK_H, WORK_COLLECTOR_H = 8.0, 1.5  # h on any job, for each collector
# h of the lines: setting up to solder and making ends whatever the length, and by the metre with fittings and lagging
ENDS_H, METRE_H = {"corrugated": 1.0}, {"corrugated": 0.06}
SOLDERED_ENDS_H, SOLDERED_METRE_H = 4.0, 0.15  # of any other pipe
BOX_SAVES_H, BOX_DEARER = 2.5, 1.4  # h saved by a station in one box; times what single fittings cost
UNPRICED = 10.0  # whatever has no price of its own


def _by_size(design: Design) -> dict[str, float]:
    """What one costs of all that is priced by this job's sizes; mixed pipe sizes as the cold line's."""
    pipe, pump = design.run.laid("cold"), design.run.pump.value
    outer_mm = pipe.outer_diameter_m * 1e3
    return {
        "collectors": design.collector.item.value.price,
        "store": STORE + STORE_L * design.store.item.value.contents_l,
        "taps_coil": TAPS_COIL_M2 * design.taps_coil_m2,
        "feet": FOOT_PRICE[fixing_of(design).key],
        "bath_coil": TAPS_COIL_M2 * design.duty.bath_coil_m2.value,
        "pump": PUMP * (PUMP_DRINKING if pump.drinking else 1.0) * (PUMP_SIGNAL if pump.variable else 1.0),
        "vessel": VESSEL + VESSEL_L * design.charge.vessel_l.value,
        "pipe": PIPE_MM_M.get(pipe.material, COPPER_MM_M) * outer_mm * design.parts.pipe_piece_m.value,
        **dict.fromkeys(("bends", "couplings", "unions", "tees", "valves"), FITTING_MM * outer_mm),
    }


def piece_price(design: Design, part: Part) -> float:
    """What one of a part costs, a metre where it is counted in metres; mixed pipe sizes are priced as the cold line's."""
    return _price(design, part, _by_size(design))


def _price(design: Design, part: Part, own: Mapping[str, float]) -> float:
    key = re.sub(r"_\d+$", "", part.key)  # a second pipe of the plan is priced as the first
    if key in own:
        return own[key]
    if key == "station" and design.parts.station.value == "box":
        return BOX_DEARER * PIECE[key]
    usual = PIECE.get(key, PIECE.get(key.split("_")[0], UNPRICED))
    strapped = (
        key in ("starter_packs", "addon_packs", "links", "plugs") and design.collector.item.value.kind == "unglazed"
    )
    return usual * STRAPPED if strapped else usual


def goods_price(design: Design, parts: Iterable[Part]) -> float:
    """What all of a list costs."""
    own = _by_size(design)
    return sum(_price(design, part, own) * part.quantity.value for part in parts)


def work_hours(design: Design, run: RunResult) -> float:
    """Hours of work of a job [h]: any job's own, each collector's, the lines' ends and metres; mixed pipes as the cold line's."""
    boxed = BOX_SAVES_H if design.sealed and design.parts.station.value == "box" else 0.0
    each = WORK_COLLECTOR_H * (STRAPPED if design.collector.item.value.kind == "unglazed" else 1.0)
    each += design.collector.item.value.assembly_h
    material = design.run.laid("cold").material
    ends, metre = ENDS_H.get(material, SOLDERED_ENDS_H), METRE_H.get(material, SOLDERED_METRE_H)
    return WORK_H - boxed + each * design.collector.count.value + ends + metre * run.route.length


def price_figures(design: Design, run: RunResult, parts: tuple[Part, ...]) -> tuple[Figure, ...]:
    """Goods, and what the whole job costs: by the list, or as it was offered."""
    currency, offered = design.money.currency.value, design.money.system_price.value
    goods, hours = goods_price(design, parts), work_hours(design, run)
    listed = by_method(
        key="goods_price",
        name="The list costs",
        basis=say("{currency}, usual prices", currency=currency),
        value=goods,
        dimension_name="money",
        better=-1,
        sentence=say("Every line of the list at a usual price, so that one plan can be held against another."),
        method=say(
            "{n} lines, each its quantity times a rule of thumb; a merchant's prices replace them.", n=str(len(parts))
        ),
        source=methods(14),
        part="",
    )
    letters = {
        "G": Symbol(goods, "G", "list"),
        "h": Symbol(hours, "t", "work", "h"),
        "r": Symbol(design.money.hour_price.value, "p", "hour"),
        "I": Symbol(offered or 0.0, "I", "offer"),
    }
    return (
        listed,
        closed_form(
            key="system_price",
            name="The system costs",
            basis=say(
                "{currency}{case}",
                currency=currency,
                case=", list and {h} of work" if offered is None else ", as offered",
                h=Quantity(hours * 3600, "hours"),
            ),
            dimension_name="money",
            better=-1,
            sentence=say("What is offered counts; until then the list at usual prices and the hours to fit it."),
            expression=Expression(
                "G + h * r" if offered is None else "I", letters if offered is None else {"I": letters["I"]}
            ),
            letter="I",
            source=methods(14),
            part="",
        ),
    )
