"""What is said of the fluid: the first mix, what is to be exchanged, and when it is spent."""

from __future__ import annotations

from rowan.core.charge.results import Charge
from rowan.core.charge.tub import CLOSE_ENOUGH, Tub
from rowan.core.design.design import Design
from rowan.core.expression import Expression, Symbol
from rowan.core.figures import Figure, Quantity, closed_form, say
from rowan.core.findings import Change, Cure, Finding
from rowan.core.media import frost_point
from rowan.core.sources import methods
from rowan.core.units import LITRE

MOST_SHARE = 0.60


def fluid_figures(design: Design, tub: Tub) -> tuple[Figure, ...]:
    """The first mix for the water that stays, and what to exchange now."""
    water = design.charge.residual_l.value
    figures = []
    ready = design.parts.fluid_sold.value == "premix"
    if tub.possible and not ready and water * LITRE < 0.9 * tub.loop:
        figures.append(
            closed_form(
                key="first_mix",
                name="Mix the first fill to",
                basis=say("{w} of water left in the loop", w=Quantity(water * LITRE, "volume")),
                dimension_name="share_fine",
                part="cold_line",
                sentence=say(
                    "Nobody knows how much water stays in the coil; mix for a guess, and let the refractometer say."
                ),
                expression=Expression(
                    "c * V / (V - r)",
                    {
                        "c": Symbol(tub.wanted, "c", "wanted"),
                        "V": Symbol(tub.loop / LITRE, "V", "loop", "L"),
                        "r": Symbol(water, "V", "water", "L"),
                    },
                ),
                letter="c",
                letter_index="fill",
                source=methods(9),
            )
        )
    if tub.read and tub.exchange is not None and not tub.done:
        figures.append(
            closed_form(
                key="exchange",
                name="Exchange for concentrate",
                basis=say(
                    "{n} now, {c} wanted", n=Quantity(tub.now, "share_fine"), c=Quantity(tub.wanted, "share_fine")
                ),
                dimension_name="volume",
                part="cold_line",
                sentence=say(
                    "Drain so much of what is in, and pump as much concentrate after it; then circulate and read again."
                ),
                expression=Expression(
                    "V * (c - n) / (k - n)",
                    {
                        "V": Symbol(tub.loop / LITRE, "V", "loop", "L"),
                        "c": Symbol(tub.wanted, "c", "wanted"),
                        "n": Symbol(tub.now, "c", "now"),
                        "k": Symbol(design.charge.concentrate.value, "c", "concentrate"),
                    },
                ),
                letter="V",
                letter_index="out",
                result_unit="L",
                scale=LITRE,
                source=methods(9),
            )
        )
    return tuple(figures)


def fluid_findings(design: Design, charge: Charge, tub: Tub) -> tuple[Finding, ...]:
    """A mix that cannot be made, is too thin, or is spent."""
    return (*_not_mixable(design, tub), *_thin(design, tub), *_spent(design, tub))


def _not_mixable(design: Design, tub: Tub) -> list[Finding]:
    if design.parts.fluid_sold.value == "premix" or (tub.possible and tub.fill <= MOST_SHARE):
        return []
    strong = design.charge.concentrate.value
    return [
        Finding(
            "first_mix_impossible",
            "mind",
            "charge",
            "cold_line",
            say("the water left in the loop cannot be made up by the first fill"),
            say(
                "{w} of {v} is water that stayed. Fill with what there is, circulate, read, and exchange for concentrate; or blow the coil out first.",
                w=Quantity(design.charge.residual_l.value * LITRE, "volume"),
                v=Quantity(tub.loop, "volume"),
            ),
            Quantity(tub.fill, "share_fine"),
            Quantity(min(strong, MOST_SHARE), "share_fine"),
            (Cure(say("Bring pure concentrate"), (Change("charge.concentrate", 1.0),), "first_mix"),)
            if strong < 1
            else (),
            methods(9),
        )
    ]


def _thin(design: Design, tub: Tub) -> list[Finding]:
    if not tub.read or tub.now >= tub.wanted - CLOSE_ENOUGH:
        return []
    coldest = design.survey.design_minimum_c.value
    freezes = frost_point(volume_share=min(max(tub.now, 0.0), MOST_SHARE))
    return [
        Finding(
            "mix_thin",
            "stop" if freezes > coldest else "fix",
            "charge",
            "cold_line",
            say("the loop is thinner than was planned"),
            say(
                "{n} by the last reading, {c} wanted: it begins to freeze at {f}, the coldest night is {t}. Exchange and read again.",
                n=Quantity(tub.now, "share_fine"),
                c=Quantity(tub.wanted, "share_fine"),
                f=Quantity(freezes, "temperature", 1),
                t=Quantity(coldest, "temperature"),
            ),
            Quantity(tub.now, "share_fine"),
            Quantity(tub.wanted, "share_fine"),
            source=methods(9),
        )
    ]


def _spent(design: Design, tub: Tub) -> list[Finding]:
    least = design.charge.ph_least.value
    if tub.ph is None or tub.ph >= least:
        return []
    return [
        Finding(
            "fluid_spent",
            "fix",
            "charge",
            "cold_line",
            say("the fluid has turned sour and eats metal"),
            say(
                "pH {p}; below {l} its inhibitors are used up. Drain it into cans, never into the drain, flush, and fill anew.",
                p=Quantity(tub.ph, "ph"),
                l=Quantity(least, "ph"),
            ),
            Quantity(tub.ph, "ph"),
            Quantity(least, "ph"),
            source="practice: fluid",
        )
    ]
