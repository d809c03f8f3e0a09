"""Backup wiring as rungs from live to load: what is energised is followed through the drawn contacts, never stored.

A rung is a series of places; at each place one contact, or several side by side, lets the conductor go on. A zone
valve is a load on one rung and, by its end switch, a contact on the next. Source: practice, wiring and backup.
"""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from typing import Literal

from rowan.core.terms.record import record

Arrangement = Literal["coil", "element", "second", "winter", "summer"]
LIVE = "live"
END_SWITCH = "end_switch"
Dead = Literal["open", "closed"]


@record
class Contact:
    """Something that closes a way: its key, its name, and what it says when it is closed and when it is open.

    `by_hand` marks a fallback that somebody switches; `guards` one that only ever protects.
    """

    key: str
    name: str
    closed: str
    open: str
    by_hand: bool = False
    guards: bool = False


@record
class Load:
    """What a rung feeds: its key, its name, and whether it makes heat; `closes` is the contact it works, if any."""

    key: str
    name: str
    heats: bool = False
    closes: str = ""


@record
class Rung:
    """A way from live to a load: contacts in series, at each place one or several side by side."""

    places: tuple[tuple[Contact, ...], ...]
    load: Load


@record
class Wiring:
    """An arrangement: its rungs, and the rungs that were there before the solar controller came."""

    arrangement: Arrangement
    name: str
    rungs: tuple[Rung, ...]
    before: tuple[Rung, ...]

    @property
    def contacts(self) -> tuple[Contact, ...]:
        """Everything that can be switched by hand or by itself, each once, in the order of the rungs."""
        found: dict[str, Contact] = {}
        for rung in self.rungs:
            for place in rung.places:
                for contact in place:
                    if contact.key != END_SWITCH:
                        found.setdefault(contact.key, contact)
        return tuple(found.values())

    @property
    def devices(self) -> tuple[Contact, ...]:
        """Everything that can die: the contacts, and an end switch that a load works."""
        ends = [c for rung in self.rungs for place in rung.places for c in place if c.key == END_SWITCH]
        return (*self.contacts, *ends)


PROGRAMMER = Contact("programmer", "programmer, hot water", "calls", "does not call")
PERMISSION = Contact("permission", "solar controller's permission", "store is cool: permits", "store is warm: refuses")
HIGH_LIMIT = Contact("high_limit", "independent high limit, hand reset", "closed", "tripped", guards=True)
FALLBACK = Contact("fallback", "fallback switch past the permission", "on by hand", "off", by_hand=True)
OLD_STAT = Contact("thermostat", "tank thermostat", "tank is cool: calls", "tank is warm: open")
VALVE_END = Contact(END_SWITCH, "zone valve's end switch", "valve stands open", "valve is shut")
WINDOW = Contact("window", "controller's window", "inside its hours", "outside its hours")
OFF_PEAK = Contact("off_peak", "off-peak relay", "cheap hours", "dear hours")
# one switch with two sides, by hand in spring and autumn: it never makes both
WINTER = Contact("winter", "season switch, winter side", "on winter", "on summer")
SUMMER = Contact("summer", "season switch, summer side", "on summer", "on winter")
ELEMENT_STAT = Contact("thermostat", "element's thermostat", "store is cool: calls", "store is warm: open")
BOOST = Contact("boost", "boost, by its timer", "running", "off", by_hand=True)

VALVE = Load("valve", "zone valve", closes=END_SWITCH)
BOILER = Load("boiler", "boiler and its pump", heats=True)
ELEMENT = Load("element", "element's contactor", heats=True)
SECOND = Load("second", "second tank's heater", heats=True)


def wiring_of(arrangement: Arrangement) -> Wiring:
    """The drawn wiring of an arrangement, and what it replaces."""
    if arrangement in ("coil", "winter"):
        boiler = Rung(((VALVE_END,),), BOILER)
        season = ((WINTER,),) if arrangement == "winter" else ()
        return Wiring(
            arrangement,
            "boiler and twin coil, with a zone valve" + (", in winter" if season else ""),
            (Rung(((PROGRAMMER,), *season, (PERMISSION, FALLBACK), (HIGH_LIMIT,)), VALVE), boiler),
            (Rung(((PROGRAMMER,), (OLD_STAT,), (HIGH_LIMIT,)), VALVE), boiler),
        )
    if arrangement == "element":
        return Wiring(
            "element",
            "element in the upper store",
            (Rung(((OFF_PEAK, BOOST), (WINDOW, BOOST), (OLD_STAT,), (HIGH_LIMIT,)), ELEMENT),),
            (Rung(((OFF_PEAK,), (OLD_STAT,), (HIGH_LIMIT,)), ELEMENT),),
        )
    if arrangement == "summer":
        rungs = (Rung(((SUMMER,), (WINDOW, BOOST), (ELEMENT_STAT,), (HIGH_LIMIT,)), ELEMENT),)
        return Wiring("summer", "element that takes over in summer", rungs, ())
    rung = Rung(((PROGRAMMER,), (OLD_STAT,), (HIGH_LIMIT,)), SECOND)
    return Wiring("second", "second tank after the store", (rung,), (rung,))


@record
class Alive:
    """What is live: for each rung how many of its places the live conductor has passed, and the loads that work."""

    passed: tuple[int, ...]
    works: frozenset[str]

    def reaches(self, rung: int, wiring: Wiring) -> bool:
        """Whether a rung's load works."""
        return wiring.rungs[rung].load.key in self.works


def alive(wiring: Wiring, closed: Mapping[str, bool], *, dead: Mapping[str, Dead] | None = None) -> Alive:
    """Follows live through the contacts that are closed; `dead` contacts stay open or closed whatever they should do.

    Source: the drawn rungs.
    """
    stuck = dead or {}
    works: set[str] = set()
    worked = {rung.load.closes: rung.load.key for rung in wiring.rungs if rung.load.closes}
    passed = [0] * len(wiring.rungs)

    def lets(contact: Contact) -> bool:
        """Whether live goes on through a contact."""
        if contact.key in stuck:
            return stuck[contact.key] == "closed"
        if contact.key in worked:
            return worked[contact.key] in works
        return bool(closed.get(contact.key, False))

    for _ in range(len(wiring.rungs) + 1):  # a load that works a contact may bring another rung to life
        for number, rung in enumerate(wiring.rungs):
            way = 0
            while way < len(rung.places) and any(lets(contact) for contact in rung.places[way]):
                way += 1
            passed[number] = way
            alive_load = way == len(rung.places) and stuck.get(rung.load.key) != "open"
            (works.add if alive_load else works.discard)(rung.load.key)
    return Alive(tuple(passed), frozenset(works))


@record
class TruthRow:
    """A combination of contacts (by key, closed or not) and the loads that work with it."""

    closed: dict[str, bool]
    works: frozenset[str]


def truth_table(wiring: Wiring) -> tuple[TruthRow, ...]:
    """Every combination of the contacts, all open first."""
    keys = [contact.key for contact in wiring.contacts]
    rows = []
    for number in range(2 ** len(keys)):
        closed = {key: bool(number >> (len(keys) - 1 - i) & 1) for i, key in enumerate(keys)}
        rows.append(TruthRow(closed, alive(wiring, closed).works))
    return tuple(rows)


@record
class Death:
    """What one dead device does: whether heat can still be had, by what means, and whether heating can still be stopped, by what."""

    contact: Contact
    state: Dead
    heats: bool
    by_hand: tuple[str, ...]
    stops: tuple[str, ...]

    @property
    def grave(self) -> bool:
        """Whether nobody would see it, or nothing else stops the heat."""
        return self.state == "closed" and (not self.stops or self.contact.guards)


def _heats(wiring: Wiring, works: frozenset[str]) -> bool:
    return any(rung.load.heats and rung.load.key in works for rung in wiring.rungs)


def deaths(wiring: Wiring) -> tuple[Death, ...]:
    """Every device dead in either way, followed through all combinations."""
    keys = [contact.key for contact in wiring.contacts]
    normal = [row.closed for row in truth_table(wiring)]
    hands = {contact.key for contact in wiring.contacts if contact.by_hand}
    found = []
    for contact in wiring.devices:
        for state in ("open", "closed"):
            dead: dict[str, Dead] = {contact.key: state}
            heating = [row for row in normal if _heats(wiring, alive(wiring, row, dead=dead).works)]
            by_itself = [row for row in heating if not any(row[key] for key in hands)]
            needed = (
                ()
                if by_itself or not heating
                else tuple(sorted(hands & {k for row in heating for k in hands if row[k]}))
            )
            everything = dict.fromkeys(keys, True)
            stops = tuple(
                key
                for key in keys
                if key != contact.key and key not in hands and not _stays(wiring, everything, key, hands, dead)
            )
            found.append(Death(contact, state, bool(heating), needed, stops))
    return tuple(found)


def _stays(wiring: Wiring, everything: dict[str, bool], key: str, hands: set[str], dead: dict[str, Dead]) -> bool:
    """Whether it still heats with one contact open and every fallback left off."""
    row = everything | {key: False} | dict.fromkeys(hands, False)
    return _heats(wiring, alive(wiring, row, dead=dead).works)


# which device answers which danger, and what is left when it fails
DANGERS: tuple[tuple[str, str, str], ...] = (
    ("water that scalds at the tap", "tempering valve", "the store limit, if it is set low"),
    ("a store that boils from the backup", "independent high limit, hand reset", "the store's own relief valve"),
    ("a store over its limit from the sun", "controller's store limit", "tempering valve and relief valve"),
    ("pressure in the loop", "the loop's relief valve, never shut off", "nothing: it is tested each year"),
    ("pressure in the store", "the store's relief valve", "nothing: it is tested each year"),
    ("steam in the lines", "collector cut-out", "vessel and relief, sized for standstill"),
    ("lukewarm water that stands", "heating through, by whoever does it", "nothing: note who does it"),
    ("a touched wire", "isolator locked off, proved dead", "protective conductor"),
)


@record
class Conductor:
    """A conductor between two terminals, named by what they belong to."""

    start: str
    end: str


def conductors(rungs: tuple[Rung, ...]) -> tuple[Conductor, ...]:
    """Every conductor of some rungs, in order: from live through each place to the load."""
    found: dict[Conductor, None] = {}
    for rung in rungs:
        stations = [(LIVE,), *(tuple(contact.name for contact in place) for place in rung.places), (rung.load.name,)]
        for here, there in pairwise(stations):
            for start in here:
                for end in there:
                    if start != end:
                        found[Conductor(start, end)] = None
    return tuple(found)


def changed_conductors(wiring: Wiring) -> tuple[tuple[Conductor, ...], tuple[Conductor, ...]]:
    """Conductors that are taken out, and those that are new."""
    before, after = conductors(wiring.before), conductors(wiring.rungs)
    return tuple(c for c in before if c not in after), tuple(c for c in after if c not in before)


def arrangements_of(backup: str, *, two_heaters: bool = False) -> tuple[Arrangement, ...]:
    """The arrangements of a plan's backup, each wired for itself; none where nothing is wired to it."""
    if backup == "coil" and two_heaters:
        return ("winter", "summer")
    return (backup,) if backup in ("coil", "element", "second") else ()  # type: ignore[return-value]
