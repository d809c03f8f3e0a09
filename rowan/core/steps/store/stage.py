"""The store: size against field, coil, floor, hygiene and scald protection."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rowan.core.design.design import Design
from rowan.core.goods.items import StoreItem
from rowan.core.steps.site.stage import SiteResult
from rowan.core.steps.store.sizing import (
    BEARABLE_L_M2,
    COIL_U,
    LEAST_COIL,
    USUAL_L_M2,
    coil_check,
    coil_conductance,
    cylinder_height,
    floor_load,
)
from rowan.core.terms.expression import Expression, Symbol
from rowan.core.terms.figure import Figure, Quantity, Window, closed_form, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE

SCALD_C = 50.0  # °C at the tap that hurts
UNLIMITED_STORE_C = 95.0  # °C a store comes to in summer where no limit acts; practice, thermosiphon
HOT_STORE_C = 60.0  # °C at which hygiene is served
USABLE_AT_C = 60.0  # °C at which contents are told as litres at the tap


@dataclass(frozen=True)
class StoreResult:
    """Height inside [m], coil conductance [W/K], litres per m² aperture, floor load [kg/m²]."""

    height: float
    coil_conductance: float
    litres_per_m2: float
    floor_load: float
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]


def scaled_store(item: StoreItem, *, contents_l: float) -> StoreItem:
    """The store of the same build in another size: same height, footprint and coil in proportion."""
    ratio = contents_l / item.contents_l
    return item.model_copy(
        update={
            "name": f"Store {contents_l:.0f} {'twin coil' if item.twin_coil else 'single coil'}",
            "contents_l": contents_l,
            "diameter_m": round(item.diameter_m * math.sqrt(ratio), 3),
            "coil_area_m2": round(item.coil_area_m2 * ratio, 2),
            "coil_contents_l": round(item.coil_contents_l * ratio, 1),
            "dry_mass_kg": round(item.dry_mass_kg * ratio),
        }
    )


def reckon_store(design: Design, site: SiteResult) -> StoreResult:
    """Store of a design beside the rules of thumb."""
    item, area = design.store.item.value, design.area_m2
    height = cylinder_height(volume=item.contents_l * LITRE, diameter=item.diameter_m)
    footprint = math.pi / 4 * item.diameter_m**2
    load = floor_load(dry_mass=item.dry_mass_kg, contents_mass=item.contents_l, footprint=footprint)
    conductance = coil_conductance(kind=item.coil_kind, coil_area=item.coil_area_m2)
    per_m2 = item.contents_l / area
    figures: tuple[Figure, ...] = (
        ()
        if design.is_pool
        else (
            *_size_figures(design, site),
            *(() if design.through_store else _coil_figures(design)),
            *_stand_figures(design),
        )
    )
    # a pool is its own store: what holds for a tank does not hold for it
    findings: tuple[Finding, ...] = (
        ()
        if design.is_pool
        else (
            *(_size(design, per_m2) if design.taps else ()),
            *(() if design.through_store else _coil(design)),
            *_safety(design),
            *_floor(design, load),
            *_sensors(design, height),
        )
    )
    return StoreResult(height, conductance, per_m2, load, figures, findings)


def _size_figures(design: Design, site: SiteResult) -> tuple[Figure, ...]:
    item, area = design.store.item.value, design.area_m2
    return (
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
            basis=say("{a} of coil, " + item.coil_kind, a=Quantity(item.coil_area_m2, "area")),
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
    item, limit = design.store.item.value, design.survey.floor_limit_kg_m2.value
    return (
        closed_form(
            key="floor_load",
            name="Load on the floor",
            basis=say("full, on its own footprint"),
            dimension_name="floor_load",
            sentence=say("Tank and water stand on one small circle; spread it or prove the floor."),
            expression=Expression(
                "(m + V) / (pi / 4 * d ** 2)",
                {
                    "m": Symbol(item.dry_mass_kg, "m", "dry", "kg"),
                    "V": Symbol(item.contents_l, "m", "water", "kg"),
                    "pi": Symbol(math.pi, "π"),
                    "d": Symbol(item.diameter_m, "d", "", "m"),
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


def _size(design: Design, per_m2: float) -> list[Finding]:
    low, high = USUAL_L_M2
    if low <= per_m2 <= high:
        return []
    grave = not BEARABLE_L_M2[0] <= per_m2 <= BEARABLE_L_M2[1]
    small = per_m2 < low
    limit = (BEARABLE_L_M2 if grave else USUAL_L_M2)[0 if small else 1]
    item = design.store.item.value
    wanted = (
        math.ceil((low if small else high) * design.area_m2 / 10) * 10
        if small
        else math.floor(high * design.area_m2 / 10) * 10
    )
    other = scaled_store(item, contents_l=max(50, wanted))
    return [
        Finding(
            key="store_size",
            level="fix" if grave else "mind",
            stage="store",
            part="store",
            title=say(f"the store is {'small' if small else 'big'} for this field"),
            reason=say(
                "{v} of aperture; {l} is the "
                + ("bearable" if grave else "usual")
                + " limit. "
                + ("The field will stand still on fine days." if small else "It will seldom be hot."),
                v=Quantity(per_m2 * LITRE, "volume_per_area"),
                l=Quantity(limit * LITRE, "volume_per_area"),
            ),
            quantity=Quantity(per_m2 * LITRE, "volume_per_area"),
            limit=Quantity(limit * LITRE, "volume_per_area"),
            cures=(
                Cure(
                    say("Take {v}", v=Quantity(other.contents_l * LITRE, "tank")),
                    (Change("store.item", other),),
                    "solar_share",
                ),
            ),
            source=methods(5),
        )
    ]


def _coil(design: Design) -> list[Finding]:
    item = design.store.item.value
    check = coil_check(kind=item.coil_kind, coil_area=item.coil_area_m2, collector_area=design.area_m2)
    if check.enough:
        return []
    ratio, least = check.ratio, LEAST_COIL[item.coil_kind]
    wanted = math.ceil(least * design.area_m2 * 10) / 10
    bigger = item.model_copy(
        update={
            "coil_area_m2": wanted,
            "coil_contents_l": round(item.coil_contents_l * wanted / max(item.coil_area_m2, 0.1), 1),
        }
    )
    return [
        Finding(
            key="coil_small",
            level="fix",
            stage="store",
            part="coil",
            title=say("the coil is small for this field"),
            reason=say(
                "Its area is {r} of the aperture; {l} is the least for a "
                + item.coil_kind
                + " coil. The loop runs hotter than it need.",
                r=Quantity(ratio, "share"),
                l=Quantity(least, "share"),
            ),
            quantity=Quantity(ratio, "ratio"),
            limit=Quantity(least, "ratio"),
            cures=(
                Cure(
                    say("Order it with {a} of coil", a=Quantity(wanted, "area")),
                    (Change("store.item", bigger),),
                    "solar_share",
                ),
            ),
            source=methods(5),
        )
    ]


def hottest_tap(design: Design, limit: float | None = None) -> float:
    """The hottest water that may come to a tap [°C], with the store limited as it is or to `limit`: what the sun, the backup
    or a weekly pass heat it to. No limit acts on a loop without a pump."""
    store = design.store
    found = [store.maximum_c.value if limit is None else limit]
    if not design.pumped:
        found.append(UNLIMITED_STORE_C)
    if store.backup.value != "none":
        found.append(store.backup_c.value)
        if store.hygiene.value == "weekly":
            found.append(design.functions.hygiene_c.value)
    return max(found)


def _held_cool(design: Design) -> tuple[Cure, ...]:
    """Holding the store cool helps only where nothing else makes the tap's water hot."""
    if hottest_tap(design, SCALD_C) > SCALD_C:
        return ()
    words = say("Hold the store at {t}", t=Quantity(SCALD_C, "temperature"))
    return (Cure(words, (Change("store.maximum_c", SCALD_C),)),)


def _safety(design: Design) -> list[Finding]:
    store = design.store
    found = []
    hottest = hottest_tap(design)
    if design.taps and hottest > SCALD_C and not store.tempering_valve.value:
        found.append(
            Finding(
                key="no_tempering",
                level="stop",
                stage="store",
                part="tap",
                title=say("the tap can scald"),
                reason=say(
                    "The water may reach {t}; water of {s} scalds in seconds. Above {l} a tempering valve stands between store and tap.",
                    t=Quantity(hottest, "temperature"),
                    s=Quantity(60.0, "temperature"),
                    l=Quantity(SCALD_C, "temperature"),
                ),
                quantity=Quantity(hottest, "temperature"),
                limit=Quantity(SCALD_C, "temperature"),
                cures=(
                    Cure(say("Fit a tempering valve"), (Change("store.tempering_valve", True),)),
                    *_held_cool(design),
                ),
                source="practice: system and store",
            )
        )
    if not store.relief_free.value:
        found.append(
            Finding(
                key="store_relief",
                level="stop",
                stage="store",
                part="store",
                title=say("the heated store can be cut off from its relief"),
                reason=say("A shut valve between a heated tank and its relief makes a boiler without a safety valve."),
                cures=(Cure(say("Move the relief to the tank"), (Change("store.relief_free", True),)),),
                source="practice: system and store",
            )
        )
    nobody = store.hygiene.value == "none" or (store.hygiene.value == "backup" and store.backup.value == "none")
    if design.taps and nobody:
        found.append(
            Finding(
                key="no_hygiene",
                level="fix",
                stage="store",
                part="store",
                title=say("lukewarm water may stand for weeks"),
                reason=say(
                    "Nothing heats the whole store to {t}, the temperature that keeps legionella down.",
                    t=Quantity(HOT_STORE_C, "temperature"),
                ),
                cures=(Cure(say("Heat it through every week"), (Change("store.hygiene", "weekly"),)),),
                source="practice: controller",
            )
        )
    return found


def _floor(design: Design, load: float) -> list[Finding]:
    found: list[Finding] = []
    limit = design.survey.floor_limit_kg_m2.value
    if limit is None:
        found.append(
            Finding(
                key="floor_unknown",
                level="mind",
                stage="store",
                part="store",
                title=say("nobody has said what the floor bears"),
                reason=say(
                    "Full, the store presses with {q}. Ask, or set it on a spread base.", q=Quantity(load, "floor_load")
                ),
                quantity=Quantity(load, "floor_load"),
                cures=(
                    Cure(
                        say("Floor proved for {q}", q=Quantity(math.ceil(load / 100) * 100, "floor_load")),
                        (Change("survey.floor_limit_kg_m2", float(math.ceil(load / 100) * 100)),),
                    ),
                ),
                source=methods(5),
            )
        )
    elif load > limit:
        item = design.store.item.value
        wider = item.model_copy(
            update={
                "diameter_m": round(math.sqrt((item.dry_mass_kg + item.contents_l) / limit / (math.pi / 4)) + 0.005, 2)
            }
        )
        found.append(
            Finding(
                key="floor_overloaded",
                level="stop",
                stage="store",
                part="store",
                title=say("the floor does not bear the full store"),
                reason=say(
                    "It presses with {q}; the floor bears {l}. A structural engineer decides.",
                    q=Quantity(load, "floor_load"),
                    l=Quantity(limit, "floor_load"),
                ),
                quantity=Quantity(load, "floor_load"),
                limit=Quantity(limit, "floor_load"),
                cures=(
                    Cure(
                        say("Take a wider store, {d} across", d=Quantity(wider.diameter_m, "length")),
                        (Change("store.item", wider),),
                        "floor_load",
                    ),
                ),
                source=methods(5),
            )
        )
    return found


def _sensors(design: Design, height: float) -> list[Finding]:
    store = design.store
    low, high = store.coil_bottom_m.value, store.coil_top_m.value
    found = []
    if not low <= store.lower_sensor_m.value <= high:
        middle = round(low + (high - low) * 0.4, 2)
        found.append(
            Finding(
                key="sensor_off_coil",
                level="fix",
                stage="store",
                part="sensor_low",
                title=say("the lower sensor does not sit beside the coil"),
                reason=say(
                    "At {s} it does not feel what the coil heats, between {a} and {b}. The pump then starts and stops on the wrong water.",
                    s=Quantity(store.lower_sensor_m.value, "length"),
                    a=Quantity(low, "length"),
                    b=Quantity(high, "length"),
                ),
                cures=(
                    Cure(
                        say("Move it to {m}", m=Quantity(middle, "length")), (Change("store.lower_sensor_m", middle),)
                    ),
                ),
                source="practice: sensors",
            )
        )
    if not 0 <= low < high <= height:
        item = store.item.value
        found.append(
            Finding(
                key="coil_ports",
                level="fix",
                stage="store",
                part="coil",
                title=say("the coil does not fit the store as drawn"),
                reason=say(
                    "Its ports stand at {a} and {b} in a store {h} high; hot enters the upper one.",
                    a=Quantity(low, "length"),
                    b=Quantity(high, "length"),
                    h=Quantity(height, "length"),
                ),
                cures=(
                    Cure(
                        say("Put the ports as on the data sheet"),
                        (
                            Change("store.coil_top_m", item.coil_top_m),
                            Change("store.coil_bottom_m", item.coil_bottom_m),
                        ),
                    ),
                ),
                source="practice: system and store",
            )
        )
    return found
