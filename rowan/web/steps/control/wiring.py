"""The page of the backup's wiring: drawn rungs with switches to turn, the truth table, what a dead device does."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from urllib.parse import urlencode

from rowan.core.steps.control.wiring import (
    DANGERS,
    Alive,
    Arrangement,
    Contact,
    Death,
    Rung,
    Wiring,
    alive,
    arrangements_of,
    changed_conductors,
    conductors,
    deaths,
    truth_table,
    wiring_of,
)
from rowan.core.terms.figure import Statement, say
from rowan.core.terms.language import tr
from rowan.web.benches.bench import Sheet
from rowan.web.ui.sentences import capital
from rowan.web.ui.svg import Drawing

WIDTH, RUNG_H, TOP = 656.0, 132.0, 30.0
LEFT, RIGHT = 34.0, 622.0
SIDE_BY_SIDE = 44.0
BLADE = 15.0
# as a house stands on a morning on which it heats
USUAL = {
    "programmer": True,
    "permission": True,
    "high_limit": True,
    "thermostat": True,
    "window": True,
    "off_peak": True,
    "winter": True,
    "summer": True,
}


def turned(wiring: Wiring, typed: Mapping[str, str]) -> dict[str, bool]:
    """How every contact stands: as the address says, or as on a morning on which it heats."""
    keys = [contact.key for contact in wiring.contacts]
    if not any(key in typed for key in keys):
        return {key: USUAL.get(key, False) for key in keys}
    return {key: typed.get(key) == "1" for key in keys}


def link(wiring: Wiring, closed: Mapping[str, bool], turn: str) -> str:
    """The address in which one contact is turned."""
    return "?" + urlencode(_stands(wiring, {key: value != (key == turn) for key, value in closed.items()})) + "#rungs"


def _stands(wiring: Wiring, closed: Mapping[str, bool]) -> dict[str, str | int]:
    """A wiring and its switches as an address has them."""
    return {"of": wiring.arrangement, **{key: int(value) for key, value in closed.items()}}


def rungs_drawing(wiring: Wiring, closed: Mapping[str, bool], found: Alive, *, turnable: bool = True) -> Drawing:
    """The rungs with every conductor as live as it is; what can be turned is a link, unless it is only to be looked at."""
    drawing = Drawing(WIDTH, TOP + RUNG_H * len(wiring.rungs) + 6, f"Wiring: {wiring.name}", "rungs", "rungs")
    foot = TOP + RUNG_H * len(wiring.rungs) - 16
    drawing.line((LEFT, TOP), (LEFT, foot), "live")
    drawing.line((RIGHT, TOP), (RIGHT, foot), "cold thin-line")
    drawing.words((LEFT, TOP - 10), "live", "key-small", "middle")
    drawing.words((RIGHT, TOP - 10), "neutral", "key-small", "middle")
    for number, rung in enumerate(wiring.rungs):
        _rung(drawing, rung, TOP + RUNG_H * number + 50, closed, found, (number, wiring))
    return drawing if turnable else _at_rest(drawing)


def _at_rest(drawing: Drawing) -> Drawing:
    """The same without a link in it."""
    for node in drawing.walk():
        if node.tag == "a":
            node.tag = "g"
            for name in ("href", "id", "aria-label"):
                node.attributes.pop(name, None)
    return drawing


def _rung(
    drawing: Drawing, rung: Rung, y: float, closed: Mapping[str, bool], found: Alive, place: tuple[int, Wiring]
) -> None:
    number, wiring = place
    step = (RIGHT - LEFT) / (len(rung.places) + 1)
    works = found.reaches(number, wiring)
    before = LEFT
    for at, contacts in enumerate(rung.places):
        x = LEFT + step * (at + 0.5)
        lively = found.passed[number] >= at
        drawing.line((before, y), (x - BLADE, y), "live" if lively else "dead-wire")
        for row, contact in enumerate(contacts):
            level = y + SIDE_BY_SIDE * row
            if row:
                for side in (-BLADE - 8, BLADE + 8):
                    drawing.line((x + side, y), (x + side, level), "live" if lively and side < 0 else "dead-wire")
                drawing.line((x - BLADE - 8, level), (x - BLADE, level), "live" if lively else "dead-wire")
                drawing.line((x + BLADE, level), (x + BLADE + 8, level), "dead-wire")
            _contact(drawing, contact, (x, level), closed, found, wiring)
        before = x + BLADE
    load = LEFT + step * (len(rung.places) + 0.42)
    drawing.line((before, y), (load - 20, y), "live" if found.passed[number] == len(rung.places) else "dead-wire")
    drawing.circle((load, y), 20, "load-on" if works else "part-body")
    drawing.words((load, y + 4), "on" if works else "off", "tab" if works else "key-small", "middle")
    drawing.words((load, y - 28), rung.load.name, "label-ink halo", "middle")
    drawing.line((load + 20, y), (RIGHT, y), "cold thin-line")


def _contact(
    drawing: Drawing,
    contact: Contact,
    at: tuple[float, float],
    closed: Mapping[str, bool],
    found: Alive,
    wiring: Wiring,
) -> None:
    """A contact with its blade; one that somebody may turn is a link."""
    x, y = at
    mine = contact.key in closed
    shut = closed[contact.key] if mine else "valve" in found.works
    says = contact.closed if shut else contact.open
    node: Any = drawing
    if mine:
        node = drawing.add(
            "a",
            href=link(wiring, closed, contact.key),
            id=f"turn-{contact.key}-{round(x)}",
            aria_label=tr("{name}: {says}; turn it", name=contact.name, says=says),
        )
        node.rect(x - 34, y - 22, 68, 36, "grip")
    node.circle((x - BLADE, y), 3.2, "part-body")
    node.circle((x + BLADE, y), 3.2, "part-body")
    end = (x + BLADE, y) if shut else (x + BLADE - 4, y - 15)
    node.line((x - BLADE, y), end, "blade-live" if shut else "blade")
    words = tr(contact.name).split(", ")[0]
    half = len(words) // 2
    cut = (
        min((i for i, ch in enumerate(words) if ch == " "), key=lambda i: abs(i - half), default=-1)
        if len(words) > 14
        else -1
    )
    lines = [words] if cut < 0 else [words[:cut], words[cut + 1 :]]
    for k, line in enumerate(lines):
        node.words(
            (x, y - 26 - 12 * (len(lines) - 1 - k) if not contact.by_hand else y + 16 + 12 * k),
            line if k == len(lines) - 1 else f"{line} ",  # read out as words apart
            "label-ink halo",
            "middle",
        )


def _verdict(wiring: Wiring, found: Alive) -> Statement:
    heating = [rung.load.name for rung in wiring.rungs if rung.load.heats and rung.load.key in found.works]
    if heating:
        return say("Now: {join} on", join=", ".join(tr(load) for load in heating))
    for number, rung in enumerate(wiring.rungs):
        at = found.passed[number]
        if at < len(rung.places):
            return say("Now: no heat, it ends at the {name}", name=rung.places[at][0].name)
    return say("Now: no heat")


def _death(death: Death, wiring: Wiring) -> dict[str, Any]:
    """A dead device in words."""
    names = {contact.key: contact.name for contact in wiring.contacts}
    if death.state == "open":
        if death.heats and not death.by_hand:
            what = "heat still comes by the other way"
        elif death.heats:
            what = tr(
                "no hot water from it until the {switch} is turned on",
                switch=" or the ".join(names[key] for key in death.by_hand),
            )
        else:
            what = "no hot water from it until it is mended"
    else:
        others = [names[key] for key in death.stops]
        what = tr("still stopped by: {others}", others="; ".join(others)) if others else "nothing else stops it"
        if death.contact.guards:
            what = tr("the last guard is gone, and nobody sees it: test it each year. {capital}", capital=capital(what))
    return {
        "name": death.contact.name,
        "state": "never closes" if death.state == "open" else "never opens",
        "what": what,
        "grave": death.grave,
    }


def wiring_context(sheet: Sheet, typed: Mapping[str, str]) -> dict[str, Any]:
    """The page of a plan's backup wiring, of two heaters the one asked for; only a sentence where nothing is wired."""
    those = _arrangements(sheet)
    if not those:
        return {"verdict": say("Nothing is wired to this store's backup"), "wiring": None}
    asked = next((one for one in those if one == typed.get("of")), those[0])
    heaters = [{"of": one, "name": wiring_of(one).name, "chosen": one == asked} for one in those]
    return {**one_wiring(asked, typed), "heaters": heaters if len(those) > 1 else []}


def wirings(sheet: Sheet) -> list[dict[str, Any]]:
    """Every wiring of a plan, as on a morning on which it heats."""
    return [one_wiring(arrangement, {}) for arrangement in _arrangements(sheet)]


def _arrangements(sheet: Sheet) -> tuple[Arrangement, ...]:
    design = sheet.design
    # a slab or bath has no upper coil or element that this page could draw
    return () if design.own_store else arrangements_of(design.store.backup.value, two_heaters=design.two_heaters)


def one_wiring(arrangement: Arrangement, typed: Mapping[str, str]) -> dict[str, Any]:
    """One wiring with its switches as they are typed: rungs, combinations, deaths, conductors."""
    wiring = wiring_of(arrangement)
    closed = turned(wiring, typed)
    found = alive(wiring, closed)
    out, new = changed_conductors(wiring)
    return {
        "verdict": _verdict(wiring, found),
        "wiring": wiring,
        "rungs": rungs_drawing(wiring, closed, found),
        "contacts": [
            {
                "contact": c,
                "closed": closed[c.key],
                "says": c.closed if closed[c.key] else c.open,
                "link": link(wiring, closed, c.key),
            }
            for c in wiring.contacts
        ],
        "truth": [
            {
                "cells": [row.closed[c.key] for c in wiring.contacts],
                "loads": [rung.load.key in row.works for rung in wiring.rungs],
                "now": row.closed == closed,
                "link": "?" + urlencode(_stands(wiring, row.closed)) + "#truth",
            }
            for row in truth_table(wiring)
        ],
        "loads": [rung.load.name for rung in wiring.rungs],
        "deaths": [_death(death, wiring) for death in deaths(wiring)],
        "taken_out": out,
        "put_in": new,
        "schedule": conductors(wiring.rungs),
        "dangers": DANGERS,
    }
