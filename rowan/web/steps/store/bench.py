"""The Store bench: size, coil, sensors, what it stands on and what else heats it."""

from __future__ import annotations

from typing import Any

from rowan.core.design.own_store import NAMES, own_store_of
from rowan.core.simulation.year import Year
from rowan.core.steps.store.modes import VALVES, Arrangement, mode_table
from rowan.core.terms.dates import day_of_year_said
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.core.terms.units import LITRE
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot, blanks
from rowan.web.steps.store.day import chosen_day, day_drawing, day_links
from rowan.web.steps.store.drawing import cut_away, days
from rowan.web.steps.store.hygiene import hygiene_drawing, hygiene_words
from rowan.web.steps.store.valves import valves_drawing
from rowan.web.steps.store.year import year_drawing

OWN_WORDS = {"pool": "{v} of pool at {t}", "slab": "{a} of floor slab at {t}", "bath": "{v} of process bath at {t}"}
# the sentence of what is its own store
OWN_LINES = {
    "pool": (
        "The pool is its own store: {duty.pool_area_m2} of open water, {duty.pool_depth_m} deep, held at "
        "{duty.pool_c}, cover {duty.pool_cover}, from {duty.season_from} to {duty.season_to}, may go over by "
        "{duty.pool_swing_k}; backup: {store.backup}."
    ),
    "slab": (
        "The slab is its own store: {duty.slab_area_m2}, {duty.slab_thickness_m} thick, held at {duty.slab_c}, "
        "may go over by {duty.slab_swing_k}; the house loses {duty.house_loss_w_k}, heated below "
        "{duty.heat_below_c}; backup: {store.backup}."
    ),
    "bath": (
        "The bath is its own store: {duty.bath_l} held at {duty.bath_c}, may go over by {duty.bath_swing_k}; it "
        "loses {duty.bath_loss_w_k}, coil of {duty.bath_coil_m2}; backup: {store.backup}."
    ),
}


def _verdict(sheet: Sheet) -> Statement:
    own = own_store_of(sheet.design)
    if own is not None:
        year = _year(sheet)
        return say(
            "{kind}{case}",
            kind=OWN_WORDS[own.kind],
            case=": the sun brings {s} of what holds it there" if year else "",
            v=Quantity(own.volume, "tank"),
            a=Quantity(own.across, "area", 0),
            t=Quantity(own.held, "temperature"),
            s=Quantity(year.solar_fraction if year else 0.0, "share"),
        )
    item, store = sheet.design.store.item.value, sheet.result.store
    return say(
        "{v} for {a} of field: {p}",
        v=Quantity(item.contents_l * LITRE, "tank"),
        a=Quantity(sheet.design.area_m2, "area"),
        p=Quantity(store.litres_per_m2 * LITRE, "volume_per_area"),
    )


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    kind = sheet.design.duty.kind.value
    if kind in OWN_LINES:
        return blanks(OWN_LINES[kind])
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
        ". Backup: ",
        Slot("store.backup"),
        " to ",
        Slot("store.backup_c"),
        ", ",
        Slot("store.backup_hours"),
        ". Tempering valve ",
        Slot("store.tempering_valve"),
        ", hygiene: ",
        Slot("store.hygiene"),
        ", floor bears ",
        Slot("survey.floor_limit_kg_m2"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    blocks = [] if sheet.design.own_store else [Block("The store cut open", "", cut_away(sheet))]
    year = _year(sheet)
    if year is not None:
        own = own_store_of(sheet.design)
        title = tr("A day in the {store}", store=NAMES[own.kind] if own else "store")
        blocks.append(Block(title, "", template="steps/store/day.html", yearly=True))
    blocks.append(Block("The year, month by month", "", year_drawing(sheet), yearly=True))
    if not sheet.design.own_store:
        blocks.append(Block("Field by store", "sixty years of other sizes", run="sizes"))
    blocks.append(Block("Twenty years of weather", "what to promise", run="band"))
    if sheet.design.taps:
        if year is not None:
            blocks.append(Block("Warm enough against germs", "", template="steps/store/hygiene.html", yearly=True))
        blocks.append(Block("Modes", "every valve, every relief", template="steps/store/modes.html"))
        blocks.append(Block("A day of this house against the store", "to one scale of volume", days(sheet)))
    return blocks


def _year(sheet: Sheet) -> Year | None:
    try:
        return sheet.year()
    except RowanError:
        return None


def _context(sheet: Sheet) -> dict[str, Any]:
    """Day, hygiene and modes."""
    store = sheet.design.store
    heater = {"coil": "boiler", "element": "element", "second": "its heater"}.get(store.backup.value, "")
    arrangement: Arrangement = "two" if store.backup.value == "second" else "one"
    summer = "element" if sheet.design.two_heaters else ""
    rows = mode_table(arrangement, heater=heater, relief_free=store.relief_free.value, summer=summer)
    found: dict[str, Any] = {
        "valves": list(VALVES[arrangement].items()),
        "valves_drawing": valves_drawing(arrangement, rows[0].mode, relief_free=store.relief_free.value),
        "usual_mode": rows[0].mode.name,
        "all_free": not any(row.unsafe for row in rows),
        "modes": [
            {
                "name": row.mode.name,
                "after": row.mode.after.text(sheet.units) if row.mode.after else "",
                "valves": list(row.mode.valves.values()),
                "path": ", ".join(place for place in row.path if place != "between"),
                "heaters": ", ".join(
                    tr("{tank} by {what}", tank=tank, what=what) for tank, what in row.mode.heaters.items()
                ),
                "unsafe": ", ".join(row.unsafe),
            }
            for row in rows
        ],
    }
    year = _year(sheet)
    if year is None:
        return found
    day = chosen_day(sheet, year)
    return {
        **found,
        "day_title": day_of_year_said(day).text(),
        "day_links": day_links(year, day),
        "day_drawing": day_drawing(sheet, year, day),
        "hygiene_drawing": hygiene_drawing(sheet, year),
        "hygiene_words": hygiene_words(sheet, year),
    }


BENCH = Bench(
    "store",
    "Store",
    _verdict,
    _line,
    _blocks,
    (
        "store.backup_w",
        "store.second_l",
        "store.foot_below_gauge_m",
        "store.relief_free",
        "store.pan",
        "store.hot_pipe_lagged",
        "store.spare_element",
        "store.summer_element",
        "store.summer_from",
        "store.summer_to",
        "store.material",
        "store.base_m2",
        "store.solid_fuel",
        "store.vacuum_breaker",
        "store.above_field_m",
        "survey.room_c",
        "control.frost",
        "control.frost_c",
    ),
    _context,
    yearly=True,
)
