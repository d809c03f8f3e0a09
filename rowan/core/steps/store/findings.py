"""What can be wrong with a store: size, coil, floor, sensors, scald, hygiene, and the fire on it."""

from __future__ import annotations

import math

from rowan.core.design.design import Design
from rowan.core.goods.catalogue import STORES
from rowan.core.goods.items import StoreItem
from rowan.core.steps.store.heat import HOT_STORE_C, SCALD_C, hottest_tap
from rowan.core.steps.store.own import own_findings
from rowan.core.steps.store.result import StoreResult
from rowan.core.steps.store.sizing import BEARABLE_L_M2, LEAST_COIL, USUAL_L_M2, coil_check
from rowan.core.steps.store.water import water_findings
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods
from rowan.core.terms.units import LITRE


def store_findings(design: Design, found: StoreResult) -> tuple[Finding, ...]:
    """All findings of a store. What holds for a tank does not hold for a body that is its own."""
    if design.own_store:
        return own_findings(design)
    return (
        *(_size(design, found.litres_per_m2) if design.taps else ()),
        *(() if design.through_store else _coil(design)),
        *_safety(design),
        *_stand(design),
        *_fire(design),
        *water_findings(design),
        *_floor(design, found.floor_load),
        *_sensors(design, found.height),
    )


def rounded(per_m2: float) -> float:
    """Litres for each m² as they are printed: a rule never fires on digits nobody sees."""
    return float(round(per_m2))


def _size(design: Design, per_m2: float) -> list[Finding]:
    low, high = USUAL_L_M2
    if low <= rounded(per_m2) <= high:
        return []
    grave = not BEARABLE_L_M2[0] <= per_m2 <= BEARABLE_L_M2[1]
    small = per_m2 < low
    limit = (BEARABLE_L_M2 if grave else USUAL_L_M2)[0 if small else 1]
    other = _sold(design, small=small)
    return [
        Finding(
            key="store_size",
            level="fix" if grave else "mind",
            stage="store",
            part="store",
            title=say("the store is {case} for this field", case="small" if small else "big"),
            reason=say(
                "{v} of aperture; {l} is the {case} limit. {case_2}",
                case="bearable" if grave else "usual",
                case_2="The field will stand still on fine days." if small else "It will seldom be hot.",
                v=Quantity(per_m2 * LITRE, "volume_per_area"),
                l=Quantity(limit * LITRE, "volume_per_area"),
            ),
            quantity=Quantity(per_m2 * LITRE, "volume_per_area"),
            limit=Quantity(limit * LITRE, "volume_per_area"),
            cures=()
            if other is None
            else (
                Cure(
                    say("Take {v}", v=Quantity(other.contents_l * LITRE, "tank")),
                    (Change("store.item", other),),
                    "solar_share",
                ),
            ),
            source=methods(5),
        )
    ]


def _sold(design: Design, *, small: bool) -> StoreItem | None:
    """The nearest size sold of that kind whose litres and coil suit the field; None where there is none."""
    item, area = design.store.item.value, design.area_m2
    suits = [
        other
        for other in STORES.values()
        if (other.twin_coil, other.unpressurised) == (item.twin_coil, item.unpressurised)
        and USUAL_L_M2[0] <= other.contents_l / area <= USUAL_L_M2[1]
        and (
            design.through_store
            or coil_check(kind=other.coil_kind, coil_area=other.coil_area_m2, collector_area=area).enough
        )
    ]
    suits.sort(key=lambda other: other.contents_l, reverse=not small)
    return suits[0] if suits else None


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
                "Its area is {r} of the aperture; {l} is the least for a {coil_kind} coil. The loop runs hotter than it need.",
                coil_kind=item.coil_kind,
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


def _held_cool(design: Design) -> tuple[Cure, ...]:
    """Holding the store cool helps only where nothing else makes the tap's water hot."""
    if hottest_tap(design, SCALD_C) > SCALD_C:
        return ()
    words = say("Hold the store at {t}", t=Quantity(SCALD_C, "temperature"))
    return (Cure(words, (Change("store.maximum_c", SCALD_C),)),)


def _stand(design: Design) -> list[Finding]:
    """What eats a tank from below, and what it loses by its hot pipe."""
    found = []
    if not design.store.pan.value:
        found.append(
            Finding(
                key="no_pan",
                level="mind",
                stage="store",
                part="store",
                title=say("the tank stands on the bare floor"),
                reason=say(
                    "Where hot steel meets a cold damp slab it rusts from below, and a drip is seen by nobody. Feet, a pan, a drain."
                ),
                cures=(Cure(say("Feet and a pan"), (Change("store.pan", True),), note=say("2 parts more")),),
                source="practice: system and store",
            )
        )
    if design.taps and not design.store.hot_pipe_lagged.value:
        found.append(
            Finding(
                key="hot_pipe_bare",
                level="fix",
                stage="store",
                part="tap",
                title=say("the hot pipe from the tank is bare"),
                reason=say(
                    "It stands warm day and night and draws heat out of the top of the tank, where it is dearest."
                ),
                cures=(Cure(say("Lag it"), (Change("store.hot_pipe_lagged", True),)),),
                source="practice: system and store",
            )
        )
    return found


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


def _fire(design: Design) -> list[Finding]:
    """A solid-fuel boiler on the tank: heat that nobody can stop."""
    if design.store.solid_fuel.value != "bare":
        return []
    return [
        Finding(
            key="fire_unvented",
            level="stop",
            stage="store",
            part="store",
            title=say("nothing takes the fire's heat when the store is full"),
            reason=say(
                "A solid-fuel fire cannot be switched off, and the solar limit does not control it. In a power cut it boils the "
                "tank. It stands on an open vent, or on a dump that works without power."
            ),
            cures=(
                Cure(say("On an open vent"), (Change("store.solid_fuel", "vented"),)),
                Cure(say("A heat dump without power"), (Change("store.solid_fuel", "dump"),)),
            ),
            source="practice: system and store",
        )
    ]


def _floor(design: Design, load: float) -> list[Finding]:
    """What nobody has said of the floor is a guess, counted as one."""
    limit = design.survey.floor_limit_kg_m2.value
    if limit is None or load <= limit:
        return []
    return [
        Finding(
            key="floor_overloaded",
            level="stop",
            stage="store",
            part="store",
            title=say("the floor does not bear the full store"),
            reason=say(
                "It presses with {q}; the floor bears {l}. Spread it on a base, stand it elsewhere, or take a smaller one: a "
                "structural engineer decides.",
                q=Quantity(load, "floor_load"),
                l=Quantity(limit, "floor_load"),
            ),
            quantity=Quantity(load, "floor_load"),
            limit=Quantity(limit, "floor_load"),
            cures=_spread(design, limit),
            source=methods(5),
        )
    ]


MOST_BASE_M2 = 4.0  # m²; a base wider than that is a floor of its own, and no cure to offer


def _spread(design: Design, limit: float) -> tuple[Cure, ...]:
    """A base that spreads the load, in tenths of a square metre."""
    item = design.store.item.value
    wanted = math.ceil((item.dry_mass_kg + item.contents_l) / limit * 10 - 1e-9) / 10
    if wanted > MOST_BASE_M2:
        return ()
    words = say("Stand it on a base of {a}", a=Quantity(wanted, "area"))
    return (Cure(words, (Change("store.base_m2", wanted),), "floor_load"),)


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
