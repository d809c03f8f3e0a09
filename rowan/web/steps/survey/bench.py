"""The Survey bench: place, roof and route as found."""

from __future__ import annotations

from rowan.core.terms.compass import compass_name
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.language import tr
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import LinePart, Slot, blanks
from rowan.web.steps.roof.planes import plane_rows
from rowan.web.steps.survey.drawing import chain, house_plan, months

# what each duty is, in its own few words
DUTY_WORDS = {
    "pool": (
        "{duty.pool_area_m2} of open water, {duty.pool_depth_m} deep, at {duty.pool_c} from {duty.season_from} to "
        "{duty.season_to}, cover {duty.pool_cover}"
    ),
    "slab": (
        "{duty.slab_area_m2}, {duty.slab_thickness_m} thick, at {duty.slab_c}, under a house that loses "
        "{duty.house_loss_w_k}, heated below {duty.heat_below_c}"
    ),
    "bath": (
        "{duty.bath_l} at {duty.bath_c}, losing {duty.bath_loss_w_k}; the work takes {duty.process_w}, "
        "{duty.process_hours}, {duty.days_a_week} days a week"
    ),
    "process": (
        "{duty.process_w} at {duty.process_c}, back at {duty.process_return_c}, {duty.process_hours}, "
        "{duty.days_a_week} days a week"
    ),
}


def _verdict(sheet: Sheet) -> Statement:
    survey, site = sheet.design.survey, sheet.result.site
    words = "keeps" if site.relative_yield >= 0.9 else "keeps only"
    beside = sheet.design.plane_beside
    if beside is not None:
        both = tr(
            "{one} and {other}",
            one=compass_name(survey.roof_azimuth_deg.value),
            other=compass_name(beside.azimuth_deg),
        )
        words = "keep" if site.relative_yield >= 0.9 else "keep only"
        return say(
            "Planes to the {both} {words} {s} of the sun",
            both=f"{both}",
            words=words,
            s=Quantity(site.relative_yield, "share"),
        )
    return say(
        "A roof to the {bearing} at {t} {words} {s} of the sun",
        bearing=compass_name(survey.roof_azimuth_deg.value),
        words=words,
        t=Quantity(survey.roof_tilt_deg.value, "angle"),
        s=Quantity(site.relative_yield, "share"),
    )


def _line(sheet: Sheet) -> tuple[LinePart, ...]:
    return (
        "In ",
        Slot("survey.place"),
        ", roof faces ",
        Slot("survey.roof_azimuth_deg"),
        ", pitched ",
        Slot("survey.roof_tilt_deg"),
        ", of ",
        Slot("survey.covering"),
        ", ",
        Slot("survey.storeys"),
        " storeys, gauge to top ",
        Slot("survey.gauge_to_top_m"),
        ". For ",
        Slot("duty.kind"),
        ": ",
        *_duty(sheet),
        "; ",
        Slot("duty.heater"),
        " now. Built as a ",
        Slot("charge.kind"),
        ".",
    )


def _house_parts() -> tuple[LinePart, ...]:
    """What is asked of a house that is heated."""
    return (
        " that loses ",
        Slot("duty.house_loss_w_k"),
        ", heated below ",
        Slot("duty.heat_below_c"),
        ", flow ",
        Slot("duty.supply_c"),
        ", return ",
        Slot("duty.supply_return_c"),
    )


def _duty(sheet: Sheet) -> tuple[LinePart, ...]:
    """What the duty is, in its own few words."""
    kind = sheet.design.duty.kind.value
    if kind in DUTY_WORDS:
        return blanks(DUTY_WORDS[kind])
    if kind == "heating":
        return ("a house", *_house_parts())
    return (
        Slot("duty.persons"),
        " people, ",
        Slot("duty.litres_per_person_l"),
        " each at ",
        Slot("duty.tap_c"),
        ", drawn ",
        Slot("duty.drawn"),
        *((", ", Slot("duty.own_draws")) if sheet.design.duty.drawn.value == "own" else ()),
        "; the house ",
        Slot("duty.also_heats"),
        *(_house_parts() if sheet.design.heats_house else ()),
    )


def _blocks(sheet: Sheet) -> list[Block]:
    planes = [Block("Planes of this roof", "", template="steps/roof/planes.html")] if sheet.design.on_roof else []
    return [
        Block("The house in plan", "", house_plan(sheet)),
        *planes,
        Block("Sun on the roof", "a day in each month", months(sheet), half=True),
        Block("The route", "legs to scale, dotted where assumed", chain(sheet), half=True),
    ]


BENCH = Bench(
    "survey",
    "Survey",
    _verdict,
    _line,
    _blocks,
    (
        "survey.roof_width_m",
        "survey.roof_slope_m",
        "survey.latitude_deg",
        "survey.longitude_deg",
        "survey.altitude_m",
        "survey.design_minimum_c",
        "survey.hardness_mol_m3",
        "survey.chloride_kg_m3",
        "survey.floor_limit_kg_m2",
        "survey.room_c",
        "survey.weather",
        "duty.days_a_week",
        "duty.away",
    ),
    lambda sheet: {"plane_rows": plane_rows(sheet)},
)
