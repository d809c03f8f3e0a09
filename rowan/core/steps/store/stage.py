"""The store: size against field, coil, floor, hygiene and scald protection."""

from __future__ import annotations

import math
from dataclasses import replace

from rowan.core.design.design import Design
from rowan.core.steps.site.stage import SiteResult
from rowan.core.steps.store.findings import store_findings
from rowan.core.steps.store.own import loop_conductance, own_figures
from rowan.core.steps.store.result import StoreResult
from rowan.core.steps.store.sizing import (
    COIL_U,
    LEAST_COIL,
    USUAL_L_M2,
    cylinder_height,
    floor_load,
)
from rowan.core.steps.store.tank import foot_area
from rowan.core.steps.store.taps_coil import taps_coil_figures, taps_coil_findings, taps_conductance
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE

USABLE_AT_C = 60.0  # °C at which contents are told as litres at the tap


def reckon_store(design: Design, site: SiteResult) -> StoreResult:
    """Store of a design beside the rules of thumb."""
    item, area = design.store.item.value, design.area_m2
    height = cylinder_height(volume=item.contents_l * LITRE, diameter=item.diameter_m)
    footprint = foot_area(item, base=design.store.base_m2.value)
    load = floor_load(dry_mass=item.dry_mass_kg, contents_mass=item.contents_l, footprint=footprint)
    conductance = loop_conductance(design)
    per_m2 = item.contents_l / area
    figures: tuple[Figure, ...] = (
        own_figures(design)
        if design.own_store
        else (
            *_size_figures(design, site),
            *(() if design.through_store else _coil_figures(design)),
            *taps_coil_figures(design, site),
            *_stand_figures(design),
        )
    )
    found = StoreResult(height, conductance, taps_conductance(design), per_m2, load, figures, ())
    return replace(found, findings=(*store_findings(design, found), *taps_coil_findings(design, site)))


def _size_figures(design: Design, site: SiteResult) -> tuple[Figure, ...]:
    item, area = design.store.item.value, design.area_m2
    return (
        *(_usable_figure(design, site) if design.taps else ()),
        closed_form(
            key="litres_per_m2",
            name="Store by aperture",
            basis=say("whole tank over aperture"),
            dimension_name="volume_per_area",
            sentence=say("Too small and the field stands still on fine days, too big and the water is never hot."),
            expression=Expression(
                "V / A", {"V": Symbol(item.contents_l, "V", "store", "L"), "A": Symbol(area, "A", "", "m²")}
            ),
            letter="v",
            result_unit="L/m²",
            scale=LITRE,
            source=methods(5),
            part="store",
            window=Window(USUAL_L_M2[0] * LITRE, USUAL_L_M2[1] * LITRE, "methods 5, rule of thumb for hot water"),
        ),
    )


def _usable_figure(design: Design, site: SiteResult) -> tuple[Figure, ...]:
    """What the store gives at the tap."""
    item = design.store.item.value
    return (
        closed_form(
            key="usable",
            name="Hot water in it",
            basis=say("all of it at {t}", t=Quantity(USABLE_AT_C, "temperature")),
            dimension_name="tank",
            sentence=say("Hotter than the tap needs, the store gives more than it holds, because cold is mixed in."),
            expression=Expression(
                "V * (T_store - T_cold) / (T_tap - T_cold)",
                {
                    "V": Symbol(item.contents_l, "V", "", "L"),
                    "T_store": Symbol(USABLE_AT_C, "T", "store", "°C"),
                    "T_tap": Symbol(design.duty.tap_c.value, "T", "tap", "°C"),
                    "T_cold": Symbol(sum(site.monthly_cold_main) / 12, "T", "cold", "°C"),
                },
            ),
            letter="V",
            letter_index="tap",
            result_unit="L",
            scale=LITRE,
            source=methods(4),
            part="tap",
        ),
    )


def _coil_figures(design: Design) -> tuple[Figure, ...]:
    item, area = design.store.item.value, design.area_m2
    return (
        closed_form(
            key="coil_ratio",
            name="Coil by aperture",
            basis=say("{a} of coil, {coil_kind}", coil_kind=item.coil_kind, a=Quantity(item.coil_area_m2, "area")),
            dimension_name="ratio",
            sentence=say("A coil too small for the field keeps the loop hot and the collectors inefficient."),
            expression=Expression(
                "A_coil / A", {"A_coil": Symbol(item.coil_area_m2, "A", "coil", "m²"), "A": Symbol(area, "A", "", "m²")}
            ),
            letter="r",
            source=methods(5),
            part="coil",
            window=Window(LEAST_COIL[item.coil_kind], None, "methods 5, rule of thumb"),
        ),
        closed_form(
            key="coil_ua",
            name="Coil passes",
            basis=say("for each degree of difference"),
            dimension_name="conductance",
            sentence=say("What the coil hands to still water for every degree it is warmer."),
            expression=Expression(
                "U * A",
                {
                    "U": Symbol(COIL_U[item.coil_kind], "U", "", "W/m²K"),
                    "A": Symbol(item.coil_area_m2, "A", "coil", "m²"),
                },
            ),
            letter="UA",
            result_unit="W/K",
            source=methods(5),
            part="coil",
        ),
    )


def _stand_figures(design: Design) -> tuple[Figure, ...]:
    item, limit, base = design.store.item.value, design.survey.floor_limit_kg_m2.value, design.store.base_m2.value
    foot = "(pi / 4 * d ** 2)" if base is None else "A"
    stands = (
        {"pi": Symbol(math.pi, "π"), "d": Symbol(item.diameter_m, "d", "", "m")}
        if base is None
        else {"A": Symbol(base, "A", "base", "m²")}
    )
    return (
        closed_form(
            key="floor_load",
            name="Load on the floor",
            basis=say("full, on its own foot" if base is None else "full, on its base"),
            dimension_name="floor_load",
            sentence=say("Tank and water stand on one small circle; spread it or prove the floor."),
            expression=Expression(
                f"(m + V) / {foot}",
                {
                    "m": Symbol(item.dry_mass_kg, "m", "dry", "kg"),
                    "V": Symbol(item.contents_l, "m", "water", "kg"),
                    **stands,
                },
            ),
            letter="q",
            source=methods(5),
            part="store",
            window=None if limit is None else Window(None, limit, "survey: what the floor bears"),
        ),
        closed_form(
            key="store_height",
            name="Height inside",
            basis=say("{d} across", d=Quantity(item.diameter_m, "length")),
            dimension_name="length",
            sentence=say("A slim tank keeps its layers; the sensor heights on the drawing are to this scale."),
            expression=Expression(
                "V / (pi / 4 * d ** 2)",
                {
                    "V": Symbol(item.contents_l * LITRE, "V", "", "m³"),
                    "pi": Symbol(math.pi, "π"),
                    "d": Symbol(item.diameter_m, "d", "", "m"),
                },
            ),
            letter="h",
            source=methods(5),
            part="store",
        ),
    )
