"""Dangers of the work: each worded once, shown on the bench where it occurs and on papers. Source: practice, dangers.

A danger is asked of the plan, because some are only there with this loop, this tank or this leg. Local code, the makers'
instructions and licensed trades come first, whatever stands here.
"""

from __future__ import annotations

from collections.abc import Callable

from rowan.core.design.design import Design
from rowan.core.design.own_store import FLOOR_MOST_C
from rowan.core.goods.collector_rating import stagnation_of
from rowan.core.steps.parts.plant_room import BREAKER_APART_M, BREAKER_RISER_M
from rowan.core.steps.roof.loads import WIND_PA
from rowan.core.steps.roof.order import CARRIED_GUST_M_S, CARRIED_KG
from rowan.core.steps.run.laying import DECK_M
from rowan.core.steps.store.heat import SCALD_C, hottest_tap
from rowan.core.terms.caution import caution
from rowan.core.terms.figure import Quantity, Statement, say

Danger = Callable[[Design], Statement | None]


def _dry(design: Design) -> Quantity:
    """What this collector comes to dry in full sun."""
    return Quantity(stagnation_of(design.collector.item.value), "temperature")


def _open_hot(design: Design) -> Statement:
    pressure = "" if design.drains else " and under pressure"
    words = f"Left in sun the loop stands at up to {{t}}{pressure}: open it cold, early, late or covered."
    return say(words, t=_dry(design))


def _dry_field(design: Design) -> Statement:
    return say("Water into a hot dry field is steam.")


def _glycol(design: Design) -> Statement | None:
    return say("Glycol goes into a can, never down a drain.") if design.sealed else None


def _scald(design: Design) -> Statement | None:
    if not design.taps or hottest_tap(design) <= SCALD_C:
        return None
    return say("Water above {t} scalds.", t=Quantity(SCALD_C, "temperature"))


def _falls(design: Design) -> Statement | None:
    if design.roof.way.value == "ground":
        return None
    return say(
        "Edge protection before anybody is on the roof; nothing is carried in gusts over {v}, or left unclamped overnight.",
        v=Quantity(CARRIED_GUST_M_S, "gust"),
    )


def _roof(design: Design) -> Statement | None:
    if not design.on_roof:
        return None
    return say(
        "A roof in doubt goes to a roofer or a structural engineer first; old fibre-cement may hold asbestos and is never drilled."
    )


def _carried(design: Design) -> Statement | None:
    """A tank over its field stands on what was never built for it."""
    if design.pumped:
        return None
    item = design.store.item.value
    mass = Quantity(item.dry_mass_kg + item.contents_l, "mass")
    return say(
        "The full tank weighs {m} and stands in the wind: an engineer says what carries it, before it is bought.",
        m=mass,
    )


def _lift(design: Design) -> Statement | None:
    tank, plate = design.store.item.value.dry_mass_kg, design.collector.item.value.dry_mass_kg
    masses = {"m": Quantity(tank, "mass"), "p": Quantity(plate, "mass"), "l": Quantity(CARRIED_KG, "mass")}
    if design.own_store:
        return _plate(design)
    return say("{m} of store, {p} a collector: over {l} two people or a hoist.", **masses)


def _fire(design: Design) -> Statement:
    return say("Soldering in a roof space: extinguisher at hand, and a look back an hour later.")


def _coring(design: Design) -> Statement:
    return say("Before a wall or floor is cored: cables, gas and water behind it are looked for, and the power is off.")


def _deck(design: Design) -> Statement | None:
    """Pipe that nobody will see again."""
    if all(leg.place != "attic" for leg in (*design.run.cold, *design.run.hot)):
        return None
    return say(
        "Pipe under a roof keeps {d} from the deck, out of reach of a later roofer's nail.",
        d=Quantity(DECK_M, "length"),
    )


def _buried(design: Design) -> Statement | None:
    if not any(leg.place == "buried" for leg in (*design.run.cold, *design.run.hot)):
        return None
    return say(
        "Joints that will be buried are tested under pressure on the bench and again in the open trench, before it is closed."
    )


def _stagnation(design: Design) -> Statement:
    return say("The dry field reaches {t}: nothing near it that melts.", t=_dry(design))


def _air(design: Design) -> Statement:
    return say("Compressed air in a test is a spring: nobody stands close.")


def _plate(design: Design) -> Statement | None:
    plate = design.collector.item.value.dry_mass_kg
    masses = {"p": Quantity(plate, "mass"), "l": Quantity(CARRIED_KG, "mass")}
    return say("{p} a collector: over {l} two people or a hoist.", **masses) if plate > CARRIED_KG else None


def _backflow(design: Design) -> Statement:
    return say("A filling hose to the drinking water stays only while it fills, with a check against backflow.")


def _germs(design: Design) -> Statement | None:
    if not design.taps:
        return None
    return say("A lukewarm store grows legionella; one that was bypassed is heated through before it is used again.")


def _cut_off(design: Design) -> Statement | None:
    if design.own_store or design.store.item.value.unpressurised:
        return None
    return say("No valve, in any position, may cut a heated tank off from its relief and its way to expand.")


def _gust(design: Design) -> Statement | None:
    """What wind does to a collector in the hands."""
    if design.roof.way.value == "ground":
        return None
    area = design.collector.item.value.gross_m2
    push = Quantity(WIND_PA * CARRIED_GUST_M_S**2 * area, "force")
    return say(
        "At {v} a gust pushes {f} on one collector. Nobody goes up on frost or wet slate, or with thunder about.",
        v=Quantity(CARRIED_GUST_M_S, "gust"),
        f=push,
    )


def _floor(design: Design) -> Statement | None:
    if design.duty.kind.value != "slab":
        return None
    most = Quantity(FLOOR_MOST_C, "temperature")
    return say(
        "The field can be hotter than screed and floor pipe stand: nothing over {t} enters the slab, by a limit of its own.",
        t=most,
    )


def _bath(design: Design) -> Statement | None:
    if design.duty.kind.value != "bath":
        return None
    return say("A bath of chemicals: its user says what the coil may be of, and who may reach into it, with what on.")


def _open_tank(design: Design) -> Statement | None:
    if not design.drains:
        return None
    return say("An open tank is topped up by hand over an air gap, never by a float valve on the main.")


def _vacuum(design: Design) -> Statement | None:
    if not design.store.vacuum_breaker.value:
        return None
    return say(
        "The vacuum breaker stands on a riser of {r}, at least {a} from the hot outlet, so that it stays cool.",
        r=Quantity(BREAKER_RISER_M, "length"),
        a=Quantity(BREAKER_APART_M, "length"),
    )


def _mains(design: Design) -> Statement | None:
    element = design.store.backup.value == "element" or design.two_heaters
    return caution("mains") if design.pumped or element else None


# where each is met
BENCH_DANGERS: dict[str, tuple[Danger, ...]] = {
    "survey": (_roof, _carried, _falls),
    "collector": (_stagnation,),
    "store": (_scald, _carried, _cut_off, _germs, _lift, _open_tank, _vacuum, _floor, _bath),
    "roof": (_falls, _roof, _gust, _plate),
    "run": (_fire, _coring, _deck, _buried, _floor),
    "charge": (_open_hot, _dry_field, _glycol),
    "control": (_mains,),
    "parts": (_lift, _falls),
    "commission": (_open_hot, _air, _backflow),
}
LOOP_DANGERS: tuple[Danger, ...] = (_open_hot, _dry_field, _glycol, _scald, _mains)
SITE_DANGERS: tuple[Danger, ...] = (
    _falls, _roof, _gust, _carried, _lift, _fire, _coring, _deck, _buried, _stagnation, _air, _backflow, _cut_off, _germs, _open_tank, _vacuum, _floor,
    _bath,
)  # fmt: skip


def _said(design: Design, dangers: tuple[Danger, ...]) -> tuple[Statement, ...]:
    return tuple(words for danger in dangers if (words := danger(design)) is not None)


def bench_cautions(design: Design, bench: str) -> tuple[Statement, ...]:
    """What can hurt in the work a bench decides; nothing on a bench whose work is done at a desk."""
    return _said(design, BENCH_DANGERS.get(bench, ()))


def loop_cautions(design: Design) -> tuple[Statement, ...]:
    """What can hurt whoever touches this loop."""
    return _said(design, LOOP_DANGERS)


def site_cautions(design: Design) -> tuple[Statement, ...]:
    """What can hurt on the way there: roof, weight, fire, test, water."""
    return _said(design, SITE_DANGERS)
