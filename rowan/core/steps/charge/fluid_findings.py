"""What is said of the fluid: the first mix, what is to be exchanged, and when it is spent."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.fluid import MOST_SHARE, frost_point
from rowan.core.steps.charge.result import SealedCharge
from rowan.core.steps.charge.tub import CLOSE_ENOUGH, Tub
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE


def fluid_figures(design: Design, tub: Tub) -> tuple[Figure, ...]:
    """The first mix for the water that stays, what had really stayed, and what to exchange now."""
    return (*_first_mix(design, tub), *_residual(design, tub), *_exchange(design, tub))


def _first_mix(design: Design, tub: Tub) -> tuple[Figure, ...]:
    water = design.charge.residual_l.value
    ready = design.parts.fluid_sold.value == "premix"
    if not tub.possible or ready or water * LITRE >= 0.9 * tub.loop:
        return ()
    return (
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
        ),
    )


def _residual(design: Design, tub: Tub) -> tuple[Figure, ...]:
    water = design.charge.residual_l.value
    first = next((found.entry.share for found in tub.rounds if found.entry.share is not None), None)
    if first is None or tub.residual is None or tub.residual <= 0:
        return ()
    return (
        closed_form(
            key="residual",
            name="Water that had stayed",
            basis=say("by the first reading; {w} was the guess", w=Quantity(water * LITRE, "volume")),
            dimension_name="volume",
            part="cold_line",
            sentence=say("What thinned the first fill: worth knowing before the next house with this coil."),
            expression=Expression(
                "V * (1 - c / f)",
                {
                    "V": Symbol(tub.loop / LITRE, "V", "loop", "L"),
                    "c": Symbol(first, "c", "read"),
                    "f": Symbol(tub.fill, "c", "fill"),
                },
            ),
            letter="V",
            letter_index="water",
            result_unit="L",
            scale=LITRE,
            source=methods(9),
        ),
    )


def _exchange(design: Design, tub: Tub) -> tuple[Figure, ...]:
    if not tub.read or tub.exchange is None or tub.done:
        return ()
    return (
        closed_form(
            key="exchange",
            name="Exchange for concentrate",
            basis=say("{n} now, {c} wanted", n=Quantity(tub.now, "share_fine"), c=Quantity(tub.wanted, "share_fine")),
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
        ),
    )


def fluid_findings(design: Design, charge: SealedCharge, tub: Tub) -> tuple[Finding, ...]:
    """A mix that cannot be made, is too thin, or is spent."""
    return (*_not_mixable(design, tub), *_thin(design, tub), *_spent(design, tub))


def _not_mixable(design: Design, tub: Tub) -> list[Finding]:
    if design.parts.fluid_sold.value == "premix" or (tub.possible and tub.fill <= MOST_SHARE):
        return []
    strong = design.charge.concentrate.value
    return [
        Finding(
            key="first_mix_impossible",
            level="mind",
            stage="charge",
            part="cold_line",
            title=say("the water left in the loop cannot be made up by the first fill"),
            reason=say(
                "{w} of {v} is water that stayed. Fill with what there is, circulate, read, and exchange for concentrate; or blow the coil out first.",
                w=Quantity(design.charge.residual_l.value * LITRE, "volume"),
                v=Quantity(tub.loop, "volume"),
            ),
            quantity=Quantity(tub.fill, "share_fine"),
            limit=Quantity(min(strong, MOST_SHARE), "share_fine"),
            cures=(Cure(say("Bring pure concentrate"), (Change("charge.concentrate", 1.0),), "first_mix"),)
            if strong < 1
            else (),
            source=methods(9),
        )
    ]


def _thin(design: Design, tub: Tub) -> list[Finding]:
    if not tub.read or tub.now >= tub.wanted - CLOSE_ENOUGH:
        return []
    coldest = design.survey.design_minimum_c.value
    freezes = frost_point(volume_share=min(max(tub.now, 0.0), MOST_SHARE))
    return [
        Finding(
            key="mix_thin",
            level="stop" if freezes > coldest else "fix",
            stage="charge",
            part="cold_line",
            title=say("the loop is thinner than was planned"),
            reason=say(
                "{n} by the last reading, {c} wanted: it begins to freeze at {f}, the coldest night is {t}. Exchange and read again.",
                n=Quantity(tub.now, "share_fine"),
                c=Quantity(tub.wanted, "share_fine"),
                f=Quantity(freezes, "temperature", 1),
                t=Quantity(coldest, "temperature"),
            ),
            quantity=Quantity(tub.now, "share_fine"),
            limit=Quantity(tub.wanted, "share_fine"),
            source=methods(9),
        )
    ]


def _spent(design: Design, tub: Tub) -> list[Finding]:
    least = design.charge.ph_least.value
    if tub.ph is None or tub.ph >= least:
        return []
    return [
        Finding(
            key="fluid_spent",
            level="fix",
            stage="charge",
            part="cold_line",
            title=say("the fluid has turned sour and eats metal"),
            reason=say(
                "pH {p}; below {l} its inhibitors are used up. Drain it into cans, never into the drain, flush, and fill anew.",
                p=Quantity(tub.ph, "ph"),
                l=Quantity(least, "ph"),
            ),
            quantity=Quantity(tub.ph, "ph"),
            limit=Quantity(least, "ph"),
            source="practice: fluid",
        )
    ]
