"""What a tank over its field takes: water, weight, and what warming pushes out of it each day. Source: practice 5 and 10."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C
from rowan.core.steps.charge.figures import direct_figures
from rowan.core.steps.charge.result import ThermosiphonCharge
from rowan.core.steps.run.buoyancy import density
from rowan.core.steps.store.heat import UNLIMITED_STORE_C
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE


def thermosiphon_figures(design: Design, charge: ThermosiphonCharge) -> tuple[Figure, ...]:
    """Column and contents as of any loop that the main fills; what the roof carries; what warming pushes out."""
    return (*direct_figures(design, charge), _mass(design, charge), _pushed_out(design))


def _mass(design: Design, charge: ThermosiphonCharge) -> Figure:
    item, field = design.store.item.value, design.collector
    symbols = {
        "tank": Symbol(item.dry_mass_kg, "m", "tank", "kg"),
        "n": Symbol(float(field.count.value), "n"),
        "plate": Symbol(field.item.value.dry_mass_kg, "m", "collector", "kg"),
        "V": Symbol(item.contents_l + charge.contents.total / LITRE, "V", "water", "L"),
        "rho": Symbol(density(FILL_C), "ρ", "", "kg/m³"),
    }
    return closed_form(
        key="roof_mass",
        name="It weighs, full",
        basis=say("tank, field and water"),
        dimension_name="mass",
        part="store",
        sentence=say(
            "All of it stands where the tank stands: what carries that for decades, and in wind, is an engineer's to say."
        ),
        expression=Expression("tank + n * plate + V * rho / 1000", symbols),
        letter="m",
        result_unit="kg",
        source="practice: system and store",
    )


def _pushed_out(design: Design) -> Figure:
    symbols = {
        "V": Symbol(design.store.item.value.contents_l, "V", "tank", "L"),
        "cold": Symbol(density(FILL_C), "ρ", "cold", "kg/m³"),
        "hot": Symbol(density(UNLIMITED_STORE_C), "ρ", "hot", "kg/m³"),
    }
    return closed_form(
        key="pushed_out",
        name="Warming pushes out",
        basis=say(
            "from {a} to {b}",
            a=Quantity(FILL_C, "temperature"),
            b=Quantity(UNLIMITED_STORE_C, "temperature"),
        ),
        dimension_name="volume",
        part="relief",
        sentence=say(
            "It goes back into the main, or drips from the relief where a check valve holds it: give it an open way to a drain."
        ),
        expression=Expression("V * (cold / hot - 1)", symbols),
        letter="V",
        letter_index="out",
        result_unit="L",
        scale=LITRE,
        source=methods(10),
    )
