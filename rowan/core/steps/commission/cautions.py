"""The usual cautions for a kind of loop, short, for papers. Source: practice, dangers."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.steps.store.heat import SCALD_C
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Quantity, Statement, say

OPEN_LOOP_C, STAGNATION_C = 150.0, 200.0  # °C, what a loop and a dry field pass; practice, dangers


def loop_cautions(design: Design) -> tuple[Statement, ...]:
    """What can hurt whoever touches this loop."""
    hot = Quantity(OPEN_LOOP_C, "temperature")
    found = [
        say("The loop can stand above {t} and under pressure: open it cold, early, late or covered.", t=hot),
        say("Water into a hot dry field is steam."),
    ]
    if design.sealed:
        found.append(say("Glycol goes into a can, never down a drain."))
    return (
        *found,
        say("Water above {t} scalds.", t=Quantity(SCALD_C, "temperature")),
        caution("mains"),
    )


def site_cautions(design: Design) -> tuple[Statement, ...]:
    """What can hurt on the way there: roof, weight, fire, test, water."""
    found = [
        say("Edge protection before anybody is on the roof; nothing is carried or left unclamped in wind."),
        say(
            "A roof in doubt goes to a roofer or a structural engineer first; old fibre-cement sheets are not drilled."
        ),
        say(
            "{m} of store and the collectors are lifted by two.",
            m=Quantity(design.store.item.value.dry_mass_kg, "mass"),
        ),
        say("Soldering in a roof space: extinguisher at hand, and a look back an hour later."),
        say("The dry field passes {t}: nothing near it that melts.", t=Quantity(STAGNATION_C, "temperature")),
        say("Compressed air in a test is a spring: nobody stands close."),
        say("A filling hose to the drinking water stays only while it fills, with a check against backflow."),
    ]
    return tuple(found)
