"""What tap water does to metal: scale where it is hard and hot, pits where chloride meets stainless steel.

Scale grows from about 60 °C on; chloride eats ordinary stainless steel at a quarter of what a grade with molybdenum takes.
Source: defaults, pressure ratings and water.
"""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.steps.store.heat import HOT_STORE_C, hottest_tap
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding

MOST_HARDNESS_MOL_M3 = 2.5  # mol/m³, 250 mg/L as calcium carbonate or 14 °dH, where it passes 60 °C
# kg/m³ of chloride that stainless steel stands, without and with molybdenum
MOST_CHLORIDE_KG_M3 = {"stainless": 0.05, "molybdenum": 0.2}
BETTER_MATERIAL = {"stainless": "molybdenum", "molybdenum": "lined"}
MATERIAL_NAMES = {"molybdenum": "Take stainless steel with molybdenum", "lined": "Take lined steel with an anode"}


def water_findings(design: Design) -> tuple[Finding, ...]:
    """Hard water where it becomes hot, and chloride on stainless steel."""
    return (*_scale(design), *_chloride(design))


def hard(design: Design) -> bool:
    """Whether the tap water scales what makes it hotter than 60 °C."""
    return design.survey.hardness_mol_m3.value > MOST_HARDNESS_MOL_M3 * (1 + 1e-9)


def _scale(design: Design) -> tuple[Finding, ...]:
    """Where drinking water passes 60 °C: in the collectors of a direct loop, else on what heats the store."""
    if not hard(design) or not design.taps:
        return ()
    # an open store's own water scales once; the taps run through its coil
    in_field = design.through_store and not design.store.item.value.unpressurised
    if not in_field and hottest_tap(design) <= HOT_STORE_C:
        return ()
    words = (
        "{h}; above {l} it scales what makes it hotter than {t}: here the collectors, which nobody descales."
        if in_field
        else "{h}; above {l} it scales what makes it hotter than {t}: coil, element and tempering valve, thicker each year."
    )
    cures = () if in_field else _cooler(design)
    return (
        _finding(
            "hard_water",
            "collector" if in_field else "coil",
            say("this tap water scales the {case}", case="collectors" if in_field else "hot parts of the store"),
            say(words, h=_hardness(design), l=Quantity(MOST_HARDNESS_MOL_M3, "hardness"), t=_hot()),
            (_hardness(design), Quantity(MOST_HARDNESS_MOL_M3, "hardness")),
            cures,
        ),
    )


def _cooler(design: Design) -> tuple[Cure, ...]:
    """Nothing heats the store beyond 60 °C: what the controller and the backup are set to."""
    store = design.store
    changes = [
        Change(path, HOT_STORE_C)
        for path, value in (("store.maximum_c", store.maximum_c.value), ("store.backup_c", store.backup_c.value))
        if value > HOT_STORE_C
    ]
    if not design.pumped or store.solid_fuel.value != "none" or not changes:
        return ()
    return (Cure(say("Hold the store at {t}", t=_hot()), tuple(changes)),)


def _chloride(design: Design) -> tuple[Finding, ...]:
    """Chloride over what the tank's steel stands."""
    material, found = design.store.material.value, design.survey.chloride_kg_m3.value
    most = MOST_CHLORIDE_KG_M3.get(material)
    if most is None or found is None or found <= most * (1 + 1e-9) or not design.taps:
        return ()
    better = "lined" if found > MOST_CHLORIDE_KG_M3["molybdenum"] else BETTER_MATERIAL[material]
    amounts = Quantity(found, "dissolved"), Quantity(most, "dissolved")
    return (
        _finding(
            "chloride",
            "store",
            say("the water's chloride eats this tank"),
            say(
                "{c} of chloride; this steel stands {m}. It pits at the welds first, and no warranty covers it.",
                c=amounts[0],
                m=amounts[1],
            ),
            amounts,
            (Cure(say(MATERIAL_NAMES[better]), (Change("store.material", better),)),),
        ),
    )


def _hardness(design: Design) -> Quantity:
    return Quantity(design.survey.hardness_mol_m3.value, "hardness")


def _hot() -> Quantity:
    return Quantity(HOT_STORE_C, "temperature")


def _finding(
    key: str,
    part: str,
    title: Statement,
    reason: Statement,
    amounts: tuple[Quantity, Quantity],
    cures: tuple[Cure, ...],
) -> Finding:
    return Finding(
        key=key,
        level="fix",
        stage="store",
        part=part,
        title=title,
        reason=reason,
        quantity=amounts[0],
        limit=amounts[1],
        cures=cures,
        source="defaults: water",
    )
