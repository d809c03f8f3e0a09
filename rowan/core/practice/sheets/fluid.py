"""A task about the mix: a tub to a frost point with water nobody knows in the coil. Source: practice 9, methods 9."""

from __future__ import annotations

from rowan.core.fluid import exchange_litres, first_mix, frost_point, strength
from rowan.core.practice.sheet import Option, Question, Range, Sheet, Slip, Tub, around
from rowan.core.practice.sheets.ground import Ground
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.units import LITRE

COLDEST_C, SPARE_K = -20.0, 5.0  # the coldest night of the task and its margin: a mix to −25 °C
GUESSED = 0.5 * LITRE  # that somebody guesses to have stayed in the coil
STRONG = 1.0  # share of glycol in the concentrate of the task


def tub(ground: Ground) -> Sheet:
    """Mix a tub to −25 °C, read what came of it, and say what is exchanged."""
    charge = ground.sealed
    dice = ground.dice("tub")
    loop, wanted = charge.contents.total, strength(design_minimum=COLDEST_C, margin=SPARE_K)
    real = min(float(dice.uniform(1.6, 3.4)) * LITRE, 0.25 * loop)
    mixed = first_mix(loop_volume=loop, residual_water=GUESSED, wanted=wanted, concentrate=STRONG).share
    prepared = charge.prepare
    read = round(mixed * (loop - real) / loop, 2)
    stayed = loop * (1.0 - read / mixed)
    out = exchange_litres(loop_volume=loop, share=read, wanted=wanted, concentrate=STRONG)
    return Sheet(
        lead=say(
            "The mix has to stand {c} with {k} to spare. What stayed in the coil after flushing nobody knows; somebody guesses {g}.",
            c=Quantity(COLDEST_C, "temperature"),
            k=Quantity(SPARE_K, "difference", 0),
            g=Quantity(GUESSED, "volume"),
        ),
        given=(
            ("the loop holds", Quantity(loop, "volume")),
            ("prepared in all", Quantity(prepared, "volume")),
            ("concentrate", say("propylene glycol, pure; steps of {s}", s=Quantity(0.05, "share"))),
            ("a mix of 35 % freezes at", Quantity(frost_point(volume_share=0.35), "temperature")),
            ("a mix of 45 % freezes at", Quantity(frost_point(volume_share=0.45), "temperature")),
            ("after an hour of circulating the refractometer shows", Quantity(read, "share")),
        ),
        shown=Tub(prepared, loop, read),
        questions=_tub_asks(loop, wanted, mixed, prepared, stayed, out),
        master=say("Mixes from an estimate, circulates, reads, corrects once, writes strength and date on the card; what is drained is kept and labelled."),
        slips=(
            Slip("the water in the coil forgotten", {"wanted": wanted, "glycol": wanted * prepared * 0.93, "stayed": 0.0}, "stayed"),
            Slip("topped up instead of exchanged", {"wanted": wanted, "exchange": (wanted - read) * loop * 0.5}, "exchange"),
        ),
    )  # fmt: skip


def _tub_asks(
    loop: float, wanted: float, mixed: float, prepared: float, stayed: float, out: float
) -> tuple[Question, ...]:
    return (
        Question(
            key="wanted",
            asks=say("Strength that is wanted in the loop"),
            marks=20,
            dimension="share",
            right=Range(wanted - 0.005, min(wanted + 0.05, 0.5), wanted),
            hint=say("Between the two frost points given; more costs heat and watts."),
            why=say("The smallest step whose frost point lies {k} under the coldest night.", k=Quantity(SPARE_K, "difference", 0)),
        ),
        Question(
            key="glycol",
            asks=say("Litres of concentrate for what is prepared, with the water guessed in the coil"),
            marks=25,
            dimension="volume",
            decimals=1,
            right=around(mixed * prepared, 0.05),
            hint=say("The water that stayed takes part: mix somewhat stronger than wanted."),
            why=say("A mix of {s}: with the guessed water in the loop it comes out as wanted.", s=Quantity(mixed, "share_fine")),
        ),
        Question(
            key="stayed",
            asks=say("How much water had really stayed?"),
            marks=20,
            dimension="volume",
            decimals=1,
            right=around(stayed, 0.15, 0.2 * LITRE),
            hint=say("It was mixed at one strength and came out at another: what thinned it?"),
            why=say("The loop times one less what was read over what was mixed."),
        ),
        Question(
            key="exchange",
            asks=say("Litres to drain and replace by concentrate"),
            marks=25,
            dimension="volume",
            decimals=1,
            right=around(out, 0.1, 0.2 * LITRE),
            hint=say("What is drained takes glycol with it; what is put in is all glycol."),
            why=say("The strength that is short over the strength between concentrate and loop, times the loop."),
        ),
        Question(
            key="scale",
            asks=say("Which scale of the refractometer is read?"),
            marks=10,
            options=(
                Option("propylene", say("the propylene one, zeroed in water first")),
                Option("ethylene", say("the ethylene one"), say("It shows another strength for the same glass, and ethylene has no place beside tap water")),
                Option("battery", say("any: they agree"), say("They do not: each scale is for one fluid")),
            ),
            answer=("propylene",),
            grave=frozenset({"ethylene"}),
            hint=say("What is in the tub, and what would a pinhole in the coil put into the taps?"),
            why=say("Propylene glycol alone, near drinking water; a glass is zeroed in water."),
        ),
    )  # fmt: skip
