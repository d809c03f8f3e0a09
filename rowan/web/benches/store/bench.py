"""The Store bench: size, coil, sensors, what it stands on and what else heats it."""

from __future__ import annotations

from rowan.core.figures import Quantity, Statement, say
from rowan.core.units import LITRE
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.benches.blanks import Slot
from rowan.web.benches.store.drawing import cut_away, days
from rowan.web.benches.store.year import year_drawing


def _verdict(sheet: Sheet) -> Statement:
    item, store = sheet.design.store.item.value, sheet.result.store
    return say(
        "{v} for {a} of field: {p}",
        v=Quantity(item.contents_l * LITRE, "tank"),
        a=Quantity(sheet.design.area_m2, "area"),
        p=Quantity(store.litres_per_m2 * LITRE, "volume_per_area"),
    )


def _line(sheet: Sheet) -> tuple[str | Slot, ...]:
    return (
        Slot("store.item"),
        ", coil from ",
        Slot("store.coil_bottom_m"),
        " to ",
        Slot("store.coil_top_m"),
        ", sensors at ",
        Slot("store.lower_sensor_m"),
        " and ",
        Slot("store.upper_sensor_m"),
        ", limit ",
        Slot("store.maximum_c"),
        ", tempering valve ",
        Slot("store.tempering_valve"),
        ", hygiene: ",
        Slot("store.hygiene"),
        ", floor bears ",
        Slot("survey.floor_limit_kg_m2"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    return [
        Block("The store cut open", "", cut_away(sheet)),
        Block("The year, minute by minute", "", year_drawing(sheet)),
        Block("A day of this house against the store", "to one scale of volume", days(sheet)),
    ]


BENCH = Bench(
    "store", "Store", _verdict, _line, _blocks, ("store.foot_below_gauge_m", "store.relief_free", "survey.room_c")
)
