"""The Collector bench: where the duty sits on the efficiency line, and what the others would bring."""

from __future__ import annotations

from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, Statement, joined, say
from rowan.core.terms.units import number_text
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot
from rowan.web.steps.collector.drawing import efficiency_lines


def _verdict(sheet: Sheet) -> Statement:
    design = sheet.design
    area = Quantity(design.area_m2, "area")
    try:
        year = sheet.year()
    except RowanError:
        return say("{a} of aperture; no year can be run", a=area)
    heat = say(
        "{a} bring {h} into the store a year: {s} solar",
        a=area,
        h=Quantity(year.solar_heat, "energy"),
        s=Quantity(year.solar_fraction, "share"),
    )
    money = sheet.appraisal.money
    return heat if money is None or money.no is None else joined(heat, money.no)


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    return (
        Slot("collector.count"),
        " × ",
        Slot("collector.item"),
        " on a roof to ",
        Slot("survey.roof_azimuth_deg"),
        " at ",
        Slot("survey.roof_tilt_deg"),
        ", loop working at ",
        Slot("collector.working_c"),
        ", joints stand ",
        Slot("run.joint_rating_c"),
        ". Built as a ",
        Slot("charge.kind"),
        ". Priced ",
        Slot("money.system_price"),
        f", {number_text(sheet.result.parts.price, 0)} " if sheet.design.money.system_price.value is None else " ",
        Slot("money.currency"),
        ".",
    )


def _blocks(sheet: Sheet) -> list[Block]:
    return [
        Block("Efficiency", "", efficiency_lines(sheet), yearly=True),
        Block("What each would bring here", "about the same aperture, this house, this year", run="candidates"),
        Block("Kinds of system", "this field and store as each of the four", run="systems"),
    ]


BENCH = Bench(
    "collector",
    "Collector",
    _verdict,
    _line,
    _blocks,
    (
        "money.fuel_price",
        "money.heater_efficiency",
        "money.fuel_kg_co2_kwh",
        "money.electricity_price",
        "money.cheap_price",
        "money.cheap_hours",
        "money.electricity_kg_co2_kwh",
        "money.upkeep_share",
        "money.life_years",
        "money.discount",
        "collector.advice",
        "collector.support",
    ),
    yearly=True,
)
