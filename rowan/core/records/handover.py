"""What is handed over: the papers in their order, what each lacks, how the valves stand in each mode, what keeps the system safe.

Source: practice 15 and 17. A mode's valves follow from the loop's graph, so that a tag, a table and the work on site say one thing.
"""

from __future__ import annotations

from collections.abc import Mapping

from rowan.core.design.design import Design
from rowan.core.design.inputs.run import Leg
from rowan.core.design.own_store import contents_of
from rowan.core.reckon import Reckoning
from rowan.core.steps.commission.loops import vented_by_hand, working_state
from rowan.core.steps.commission.valves import CHECK, PUMP, SOURCE, Phase, ValveGraph
from rowan.core.steps.store.heat import SCALD_C, hottest_tap
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Level
from rowan.core.terms.record import record


@record
class HandoverFacts:
    """What is known when the papers are made: settings left and read again of all there are, runs closed, what was photographed."""

    settings_left: int = 0
    settings_read_again: int = 0
    settings: int = 0
    first_closed: bool = False
    frost_point_read: bool = False
    hidden_legs: tuple[str, ...] = ()
    hidden_photos: bool = False
    customer: bool = False
    telephone: bool = False
    # of the hidden ones those whose place nobody has written down
    without_offset: tuple[str, ...] = ()


@record
class Lack:
    """Something a paper lacks: how grave, and what is printed in its place."""

    level: Level
    words: Statement


@record
class Paper:
    """A paper of the pack: its key, name, what it is for, and what it lacks."""

    key: str
    name: str
    about: str
    lacks: tuple[Lack, ...] = ()


def papers(design: Design, facts: HandoverFacts) -> tuple[Paper, ...]:
    """The papers of a plan in their order, each with what it lacks, the gravest first."""
    rows = (
        ("card", "Settings card", "one page at the controller", _card(design, facts)),
        ("how", "How it works", "half a page, this system", ()),
        ("normal", "What is normal", "the gauge and the sounds, month by month", ()),
        ("modes", "Modes and tags", "to hang by the station, and to cut out", ()),
        ("route", "Where the pipes are", "hidden and buried lines with offsets", _route(facts)),
        ("safety", "Safety devices", "for the inspector: settings, proofs, test", _safety(facts)),
        ("records", "Records", "what was read on site", _records(facts)),
        ("whom", "Whom to call", "emergency card, label, diary", _whom(facts)),
    )
    return tuple(Paper(key, name, about, tuple(lacks)) for key, name, about, lacks in rows)


def _card(design: Design, facts: HandoverFacts) -> list[Lack]:
    found = []
    if design.glycol_share > 0 and not facts.frost_point_read:
        found.append(Lack("fix", say("frost point not read: the card prints a blank where it is promised")))
    if facts.settings and facts.settings_left < facts.settings:
        missing = str(facts.settings - facts.settings_left)
        found.append(Lack("fix", say("{n} settings not written down as left", n=missing)))
    elif facts.settings and facts.settings_read_again < facts.settings:
        found.append(Lack("mind", say("settings not read again after they were entered")))
    return found


def _route(facts: HandoverFacts) -> list[Lack]:
    where = "whoever drills there later needs the place"
    found = []
    if facts.hidden_legs and not facts.hidden_photos:
        found.append(
            Lack("mind", say("no photo of {legs}: {where}", where=where, legs=", ".join(facts.hidden_legs[:3])))
        )
    if facts.without_offset:
        found.append(
            Lack("mind", say("no offset of {legs}: {where}", where=where, legs=", ".join(facts.without_offset[:3])))
        )
    return found


def _safety(facts: HandoverFacts) -> list[Lack]:
    return (
        [] if facts.first_closed else [Lack("fix", say("no first commissioning is closed: nothing proves the devices"))]
    )


def _records(facts: HandoverFacts) -> list[Lack]:
    return [] if facts.first_closed else [Lack("fix", say("no record: the first commissioning is not closed"))]


def _whom(facts: HandoverFacts) -> list[Lack]:
    found = []
    if not facts.telephone:
        found.append(Lack("fix", say("the firm has no telephone on its papers")))
    if not facts.customer:
        found.append(Lack("mind", say("no customer: the emergency card has no name")))
    return found


# --- how the valves stand

LINE_LEGS = ("shaft", "attic", "buried")  # places that nobody sees once they are closed


def hidden_legs(design: Design) -> tuple[Leg, ...]:
    """The legs that lie where nobody sees them any more."""
    return tuple(leg for leg in (*design.run.cold, *design.run.hot) if leg.place in LINE_LEGS)


@record
class Mode:
    """A way the loop stands: its name, who may set it, the handles, and the phase in which that is right."""

    key: str
    name: str
    about: str
    state: Mapping[str, str]
    phase: Phase


def modes(graph: ValveGraph) -> tuple[Mode, ...]:
    """At work, away, topped up, drained, each with every handle of the loop."""
    works = working_state(graph)
    return (
        Mode("works", "at work", "all year", works, "rest"),
        Mode("away", "away", "holiday setting at the controller, valves stay", works, "rest"),
        Mode("topped", "topping up", "by us only, cold", _topped(graph, works), "raise"),
        Mode("drained", "drained", "before work on the roof, by us only", _drained(graph), "release"),
    )


def _topped(graph: ValveGraph, works: dict[str, str]) -> dict[str, str]:
    return {**works, "supply": "open", SOURCE: "on"} if "supply" in graph.valves else works


def _drained(graph: ValveGraph) -> dict[str, str]:
    """Everything open but what would bring water in; the vessel shut off, so that its charge stays."""
    shut = ("supply", "main", "vessel", "tank flow", "tank return")
    state = {name: "shut" if name in shut else "open" for name in graph.valves}
    if CHECK in state:
        state[CHECK] = "half"
    return {**state, SOURCE: "off", PUMP: "off"}


# --- what is normal, and what keeps it safe


def normal_and_not(design: Design) -> tuple[tuple[Statement, ...], tuple[Statement, ...]]:
    """What is as it should be with this kind of system, and what is a fault: a puff of steam is one in a sealed loop, not in a direct."""
    normal, faults = [], []
    if design.pumped:
        normal.append(say("In sun the pump runs, stops and starts again; at night it is still."))
        faults.append(say("The pump runs by night, or not at all on a sunny day."))
    if design.sealed:
        normal += [
            say(
                "On a hot day without draw it stands still. The gauge climbs, and comes down by itself in the evening."
            ),
            say("Then it gurgles and ticks for some minutes: that is steam drawing back."),
        ]
        faults += [
            say("Steam or liquid out of the relief, or anywhere: in a sealed loop that is a fault."),
            say("The gauge lower each month."),
        ]
    elif design.drains:
        normal += [
            say(
                "At the start it rushes until the lines are full, at the stop it trickles back: the field is empty then."
            ),
            say("In frost and in heat it stands empty; that is its protection."),
        ]
        faults += [say("The level under its mark."), say("Water still trickles an hour after the stop.")]
    else:
        normal.append(say("A puff of steam on a very hot day comes from the field's own relief and is no harm here."))
        faults.append(say("Water that drips from the roof or down a wall."))
    if design.taps and hottest_tap(design) > SCALD_C:
        faults.append(
            say(
                "Water hotter than {t} at the tap: it scalds. Mix by hand, and ring us.",
                t=Quantity(SCALD_C, "temperature"),
            )
        )
    return tuple(normal), tuple(faults)


@record
class Device:
    """What keeps the system safe: its name, its setting, and by what it was proved."""

    name: str
    setting: Statement
    proof: str


def safety_devices(design: Design, result: Reckoning) -> tuple[Device, ...]:
    """Each device of this system with its setting and the step of the commissioning that proves it."""
    charge = design.charge
    relief = Device("Relief of the loop", say("{p}", p=Quantity(charge.relief_gauge_pa.value, "pressure")), "inspect")
    found = [] if design.drains else [relief]
    if design.sealed:
        vessel = Quantity(charge.vessel_l.value / 1000, "tank")
        setting = result.setting
        words = say("{v}", v=vessel)
        if setting is not None:
            words = say(
                "{v}, charge {c}, fill {f}",
                v=vessel,
                c=Quantity(setting.precharge, "pressure"),
                f=Quantity(setting.fill, "pressure"),
            )
        found.append(Device("Expansion vessel", words, "vessel"))
    if design.taps:
        fitted = "fitted" if design.store.tempering_valve.value else "NOT FITTED: taps can scald"
        found.append(Device("Tempering valve", say("{fitted}", fitted=fitted), "taps"))
    if design.pumped:
        found.append(
            Device("Store limit", say("{t}", t=Quantity(design.store.maximum_c.value, "temperature")), "provoked")
        )
        found.append(
            Device(
                "Pump off above",
                say("{t} in the field", t=Quantity(design.control.cut_out_c.value, "temperature")),
                "provoked",
            )
        )
    if vented_by_hand(design):
        found.append(Device("Roof vent", say("shut in service: nothing lies between field and relief"), "close"))
    return tuple(found)


@record
class Discharge:
    """What may come out under the relief [m³], and what is done with it."""

    litres: float
    words: Statement


def discharge(design: Design, result: Reckoning) -> Discharge | None:
    """Where the relief's discharge goes; None for a loop whose relief is its open tank."""
    if design.drains:
        return None
    total = result.charge.contents.total if design.sealed else 0.0
    if design.sealed:
        words = say(
            "A can of {v} stands under the relief: what is in it is the loop's own mix. Keep it, do not pour it down a drain, do not drink it.",
            v=Quantity(total, "volume"),
        )
    else:
        words = say("What drips here is hot drinking water: it runs to a drain in sight, never capped.")
    return Discharge(total, words)


def how_it_works(design: Design, result: Reckoning) -> tuple[Statement, ...]:
    """This system in a few sentences, for who lives there."""
    count = str(design.collector.count.value)
    store = Quantity(contents_of(design), "tank")
    found = []
    if design.sealed:
        found += [
            say(
                "The sun warms {n} collectors. When they are {k} warmer than the foot of the {v} store, a pump sends a mix of water and glycol round: hot down, cooled up again.",
                n=count,
                k=Quantity(design.control.start_k.value, "difference"),
                v=store,
            ),
            say(
                "The loop is closed, {v} of it. It never mixes with the water you wash in. The vessel beside it takes up what warmth makes it swell.",
                v=Quantity(result.charge.contents.total, "volume"),
            ),
        ]
    elif design.drains:
        found += [
            say(
                "The sun warms {n} collectors. When they are {k} warmer than the {v} store, a pump lifts water up to them; when it stops, the water falls back into the tank by itself.",
                n=count,
                k=Quantity(design.control.start_k.value, "difference"),
                v=store,
            ),
            say("Empty pipes cannot freeze or boil: that is why nothing else is needed against frost and heat."),
        ]
    elif design.pumped:
        found.append(
            say(
                "The sun warms {n} collectors, and a pump sends the water of the {v} store itself through them.",
                n=count,
                v=store,
            )
        )
    else:
        found.append(
            say(
                "The sun warms the water in {n} collectors; warm water is lighter and rises into the {v} tank above, without a pump.",
                n=count,
                v=store,
            )
        )
    if design.store.backup.value != "none":
        found.append(
            say("When there is too little sun, or the loop stands still for a repair, the other heater does the rest.")
        )
    if design.taps and design.store.tempering_valve.value:
        found.append(
            say(
                "The store may get hotter than is safe at a tap: the tempering valve mixes cold water in. Leave its setting alone."
            )
        )
    return tuple(found)


def not_to_touch(design: Design) -> tuple[Statement, ...]:
    """What who lives there leaves alone."""
    found = [say("Valves with a number: they stay as the table on the wall shows them.")]
    if design.sealed:
        found.append(say("Do not top the loop up with water: it thins the frost protection."))
    if design.pumped:
        found.append(say("Do not switch the controller off in summer: without its pump the field stands hot."))
    found.append(say("Do not open anything in sun, and do not touch pipes at the collectors: they scald."))
    return tuple(found)


def holiday(design: Design) -> tuple[Statement, ...]:
    """What is done before some weeks away."""
    if design.drains:
        return (say("Leave it on. When the store is full the field empties and waits."),)
    if design.pumped:
        return (
            say(
                "Leave it on. Set the holiday function with a date to end; at night it then gives heat back to the sky."
            ),
            say("The other heater may be off; heat the store through once before you wash again."),
        )
    return (say("Shut nothing. Draw some hot water when you come back, before anybody washes."),)
