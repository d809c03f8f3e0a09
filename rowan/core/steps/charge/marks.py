"""To where a loop that drains is filled: in an open store by its own shape, in a reservoir beside it by litres. Source: methods 11."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.fluid import FILL_C, properties
from rowan.core.steps.run.drainback import FREE_UNDER_LID_M, Draining, OpenLevels
from rowan.core.steps.run.draining import AIR_SHARE
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, by_method, closed_form, say
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE


def water_figures(design: Design, found: Draining, contents: float) -> tuple[Figure, ...]:
    """What comes back, and to where it is filled: in an open store by its own shape, beside it by litres."""
    above = by_method(
        key="contents_above",
        name="Comes back",
        basis=say("from above the water, when the pump stops"),
        value=found.above,
        dimension_name="volume",
        part="collector",
        sentence=say("Field and pipe above the running level: so much flows back, and so much the pump fills again."),
        method=say("Collectors and the lengths of both lines above the level."),
        source=methods(11),
    )
    if found.levels is not None:
        return above, *_open_marks(design, found, found.levels), _contents(contents)
    return above, *_reservoir_marks(design, found), *_belt_and_braces(design), _contents(contents)


def _open_marks(design: Design, found: Draining, levels: OpenLevels) -> tuple[Figure, ...]:
    """The mark at rest of an open store, and how far it falls while the pump runs."""
    hottest = max(design.store.maximum_c.value, FILL_C)
    cold, hot = (properties(volume_share=0.0, temperature=t).density for t in (FILL_C, hottest))
    across = design.store.item.value.contents_l * LITRE / levels.height
    return (
        closed_form(
            key="rest_mark",
            name="Fill to under the rim",
            basis=say("cold, pump off; room to swell to {t}", t=Quantity(hottest, "temperature")),
            dimension_name="level",
            part="store",
            sentence=say(
                "Everything has come back, and what the store swells by the time it is hot still stays under its lid."
            ),
            expression=Expression(
                "H - (H - f) * hot / cold",
                {
                    "H": Symbol(levels.height, "H", "store", "m"),
                    "f": Symbol(FREE_UNDER_LID_M, "f", "lid", "m"),
                    "hot": Symbol(hot, "ρ", "hot", "kg/m³"),
                    "cold": Symbol(cold, "ρ", "cold", "kg/m³"),
                },
            ),
            letter="h",
            letter_index="mark",
            result_unit="m",
            source=methods(11),
        ),
        closed_form(
            key="running_fall",
            name="Falls, running",
            basis=say("below the mark"),
            dimension_name="level",
            part="store",
            sentence=say("What the field and the lines hold is missing in the store; back it must come, to the mark."),
            expression=Expression(
                "V / A",
                {"V": Symbol(found.above / LITRE, "V", "above", "L"), "A": Symbol(across, "A", "store", "m²")},
            ),
            letter="h",
            letter_index="run",
            result_unit="mm",
            scale=1e-3,
            source=methods(11),
        ),
    )


def _belt_and_braces(design: Design) -> tuple[Figure, ...]:
    """What glycol in the reservoir takes of the heat that each litre carries."""
    share, at = design.glycol_share, design.collector.working_c.value
    if not share:
        return ()
    mix, water = properties(volume_share=share, temperature=at), properties(volume_share=0.0, temperature=at)
    return (
        closed_form(
            key="glycol_penalty",
            name="Glycol takes",
            basis=say("of the heat a litre carries, {s} of it", s=Quantity(share, "share")),
            dimension_name="share_fine",
            part="cold_line",
            sentence=say(
                "A field that empties needs none. As belt and braces for a leg that may hold water it costs this, and a test each year."
            ),
            expression=Expression(
                "1 - rho * c / (rho_w * c_w)",
                {
                    "rho": Symbol(mix.density, "ρ", "mix", "kg/m³"),
                    "c": Symbol(mix.heat_capacity, "c", "mix", "J/kg·K"),
                    "rho_w": Symbol(water.density, "ρ", "water", "kg/m³"),
                    "c_w": Symbol(water.heat_capacity, "c", "water", "J/kg·K"),
                },
            ),
            letter="x",
            source=methods(9),
        ),
    )


def _reservoir_marks(design: Design, found: Draining) -> tuple[Figure, ...]:
    """The mark at rest in litres over the pump's inlet, and what a reservoir beside the store must hold."""
    letters = {
        "V": Symbol(found.above / LITRE, "V", "above", "L"),
        "V_least": Symbol(design.charge.least_water_l.value, "V", "least", "L"),
    }
    mark = closed_form(
        key="fill_mark",
        name="Fill to the mark",
        basis=say("pump off, over the inlet"),
        dimension_name="volume",
        part="store",
        sentence=say("Cold and at rest: what drains, over the least water at the pump's inlet. Never above it."),
        expression=Expression("V + V_least", letters),
        letter="V",
        letter_index="mark",
        result_unit="L",
        scale=LITRE,
        source=methods(11),
    )
    if design.is_pool:
        return (mark,)
    holds = closed_form(
        key="reservoir",
        name="Reservoir holds at least",
        basis=say("fitted: {v}", v=Quantity(design.charge.reservoir_l.value * LITRE, "tank")),
        dimension_name="tank",
        part="store",
        sentence=say("What drains with a tenth of air beside it, and the least water."),
        expression=Expression(f"{1 + AIR_SHARE:g} * V + V_least", letters),
        letter="V",
        letter_index="res",
        result_unit="L",
        scale=LITRE,
        source=methods(11),
    )
    return mark, holds


def _contents(contents: float) -> Figure:
    return by_method(
        key="contents",
        name="Loop takes",
        basis=say("field, lines, coil and station"),
        value=contents,
        dimension_name="volume",
        part="collector",
        sentence=say("What runs round, reservoir not counted."),
        method=say("Sum of the parts' contents."),
        source=methods(9),
    )
