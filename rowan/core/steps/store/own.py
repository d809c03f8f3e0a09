"""What is its own store: what the loop gives its heat through, whether its swing holds a sunny day, and how warm a floor may be."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.design.own_store import SLAB_W_M2K, OwnStore, own_store_of
from rowan.core.steps.store.sizing import COIL_U, LEAST_COIL, coil_check, coil_conductance
from rowan.core.terms.constants import WATER_J_KG_K, WATER_KG_M3
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import KWH

FLOOR_C = 29.0  # °C of a floor that people stand on at most, EN 1264
SWING_J_M2 = 2.0 * KWH  # J for each m² of aperture: what a clear day brings over what is taken meanwhile, rule of thumb
OWN_LOOP = say(
    "What the field carries is never the slab's or the bath's own: a loop of its own with a coil or pipe between."
)


def loop_conductance(design: Design) -> float:
    """What the loop gives to the store for each kelvin [W/K]: by a tank's or bath's coil, or the pipe in a slab."""
    duty, item = design.duty, design.store.item.value
    if duty.kind.value == "slab":
        return SLAB_W_M2K * duty.slab_area_m2.value
    if duty.kind.value == "bath":
        return coil_conductance(kind="plain", coil_area=duty.bath_coil_m2.value)
    return coil_conductance(kind=item.coil_kind, coil_area=item.coil_area_m2)


def own_figures(design: Design) -> tuple[Figure, ...]:
    """What a slab's pipe or a bath's coil passes; a pool's water goes through the field itself."""
    duty = design.duty
    if duty.kind.value == "slab":
        per, area, words = SLAB_W_M2K, duty.slab_area_m2.value, "What the pipe in the slab hands to its concrete."
    elif duty.kind.value == "bath":
        per, area, words = COIL_U["plain"], duty.bath_coil_m2.value, "What the coil hands to the still bath."
    else:
        return ()
    return (
        closed_form(
            key="own_ua",
            name="Slab takes" if duty.kind.value == "slab" else "Coil passes",
            basis=say("for each degree of difference"),
            dimension_name="conductance",
            sentence=say(words),
            expression=Expression("U * A", {"U": Symbol(per, "U", "", "W/m²K"), "A": Symbol(area, "A", "", "m²")}),
            letter="UA",
            result_unit="W/K",
            source=methods(5),
            part="coil",
        ),
        *_ratio(design),
    )


def _ratio(design: Design) -> tuple[Figure, ...]:
    if design.duty.kind.value != "bath":
        return ()
    coil, area = design.duty.bath_coil_m2.value, design.area_m2
    return (
        closed_form(
            key="coil_ratio",
            name="Coil by aperture",
            basis=say("{a} of coil, plain", a=Quantity(coil, "area")),
            dimension_name="ratio",
            sentence=say("A coil too small for the field keeps the loop hot and the collectors inefficient."),
            expression=Expression(
                "A_coil / A", {"A_coil": Symbol(coil, "A", "coil", "m²"), "A": Symbol(area, "A", "", "m²")}
            ),
            letter="r",
            source=methods(5),
            part="coil",
            window=Window(LEAST_COIL["plain"], None, "methods 5, rule of thumb"),
        ),
    )


def own_findings(design: Design) -> tuple[Finding, ...]:
    """Findings of a body that is its own store."""
    own = own_store_of(design)
    if own is None or own.kind == "pool":
        return ()
    return (*_loop(design), *_warm(own), *_swing(design, own), *_coil(design))


def _loop(design: Design) -> list[Finding]:
    if not design.through_store:
        return []
    return [
        Finding(
            key="own_loop",
            level="stop",
            stage="store",
            part="coil",
            title=say("this loop would run through the slab or bath itself"),
            reason=OWN_LOOP,
            cures=(Cure(say("Build it as a sealed loop"), (Change("charge.kind", "sealed"),)),),
            source="practice: system and store",
        )
    ]


def _warm(own: OwnStore) -> list[Finding]:
    top = own.held + own.swing
    if own.kind != "slab" or top <= FLOOR_C:
        return []
    room = FLOOR_C - own.held
    fits = room >= 0.5
    change = Change("duty.slab_swing_k", room) if fits else Change("duty.slab_c", FLOOR_C - own.swing)
    words = say("Let it swing {k}", k=Quantity(room, "difference")) if fits else say("Hold it cooler")
    return [
        Finding(
            key="slab_warm",
            level="mind",
            stage="store",
            part="store",
            title=say("the floor gets warmer than feet like"),
            reason=say(
                "With its swing the slab reaches {t}; where people stand a floor has at most {l}.",
                t=Quantity(top, "temperature"),
                l=Quantity(FLOOR_C, "temperature"),
            ),
            quantity=Quantity(top, "temperature"),
            limit=Quantity(FLOOR_C, "temperature"),
            cures=(Cure(words, (change,)),),
            source="EN 1264, floor heating",
        )
    ]


def _swing(design: Design, own: OwnStore) -> list[Finding]:
    holds, wants = own.volume * WATER_KG_M3 * WATER_J_KG_K * own.swing, SWING_J_M2 * design.area_m2
    # as they are printed: a rule never fires on digits nobody sees
    if round(holds / KWH, 1) >= round(wants / KWH, 1):
        return []
    return [
        Finding(
            key="swing_small",
            level="mind",
            stage="store",
            part="store",
            title=say("its swing does not hold a sunny day"),
            reason=say(
                "The swing holds {h}; a clear day brings {w} over what is taken meanwhile. The field will stand still on fine days.",
                h=Quantity(holds, "energy", 1),
                w=Quantity(wants, "energy", 1),
            ),
            quantity=Quantity(holds, "energy"),
            limit=Quantity(wants, "energy"),
            source=methods(5),
        )
    ]


def _coil(design: Design) -> list[Finding]:
    if design.duty.kind.value != "bath":
        return []
    check = coil_check(kind="plain", coil_area=design.duty.bath_coil_m2.value, collector_area=design.area_m2)
    if check.enough:
        return []
    least = LEAST_COIL["plain"]
    wanted = math.ceil(least * design.area_m2 * 10) / 10
    return [
        Finding(
            key="coil_small",
            level="fix",
            stage="store",
            part="coil",
            title=say("the coil is small for this field"),
            reason=say(
                "Its area is {r} of the aperture; {l} is the least for a plain coil. The loop runs hotter than it need.",
                r=Quantity(check.ratio, "share"),
                l=Quantity(least, "share"),
            ),
            quantity=Quantity(check.ratio, "ratio"),
            limit=Quantity(least, "ratio"),
            cures=(Cure(say("Fit {a} of coil", a=Quantity(wanted, "area")), (Change("duty.bath_coil_m2", wanted),)),),
            source=methods(5),
        )
    ]
