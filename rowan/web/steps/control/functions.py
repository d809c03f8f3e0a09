"""The page of functions: each with its settings, when it is of use and when not, and what it does through a year."""

from __future__ import annotations

from typing import Any

from rowan.core.design.design import Design
from rowan.core.steps.control.conflicts import KEYS
from rowan.core.terms.figure import Quantity, Statement, joined, say, series
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.web.benches.bench import Bench, Block, Sheet
from rowan.web.editing.blanks import Slot, blank, sentence
from rowan.web.steps.control.guards import guards_context

Parts = tuple[str | Slot, ...]


@record
class Entry:
    """A function: its name, its settings as a sentence, when to use it and when not, and whether it acts as the plan stands."""

    key: str
    name: str
    parts: Parts
    use: str
    leave: str
    on: bool


def _slot(name: str) -> Slot:
    return Slot(f"functions.{name}")


def _limits(design: Design) -> list[Entry]:
    return [
        Entry(
            "least",
            "Least collector temperature",
            ("The pump starts only from ", Slot("control.least_collector_c"), "."),
            "always: colder, thick fluid hardly moves and nothing is heated.",
            "lower it for a pool, which takes heat at any temperature.",
            True,
        ),
        Entry(
            "store",
            "Store limit",
            (
                "The pump rests when the top has ",
                Slot("store.maximum_c"),
                "; tempering valve ",
                Slot("store.tempering_valve"),
                ".",
            ),
            "always. High with a tempering valve: the store then lasts over a dull day.",
            "never over what the tap can bear without that valve.",
            True,
        ),
        Entry(
            "cut_out",
            "Collector cut-out",
            ("The pump stops when the field has ", Slot("control.cut_out_c"), " and may start again 10 degrees lower."),
            "always: it keeps steam out of the lines and spares what is not made for it.",
            "not below what the store limit needs, or fine days are lost.",
            True,
        ),
    ]


def _pump(design: Design) -> list[Entry]:
    held = design.functions
    timer: Parts = (", from ", _slot("timer_from_h"), " to ", _slot("timer_to_h"), " h") if held.timer.value else ()
    follows: Parts = (
        (", no slower than ", _slot("speed_floor"), ", full ", _slot("speed_full_k"), " over the start")
        if held.follows
        else ()
    )
    return [
        Entry(
            "speed",
            "Pump speed",
            (_slot("speed"), *follows, "."),
            "where the pump hunts, and where its electricity matters.",
            "not chopped on a pump with electronics; not on a drainback until it has climbed over the top.",
            held.follows,
        ),
        Entry(
            "least_run",
            "Least run",
            ("Once started the pump runs at least ", _slot("least_run_s"), "."),
            "against many short starts under broken cloud.",
            "keep it under ten minutes: it runs on though the sun is gone.",
            held.least_run_s.value > 0,
        ),
        Entry(
            "timer",
            "Plain timer",
            ("The pump runs ", _slot("timer"), *timer, "."),
            "where nothing else is to be had, and the year below says what that costs.",
            "not where there is a controller: it pumps on dull days and cools the store.",
            held.timer.value,
        ),
        Entry(
            "exercise",
            "Weekly exercise",
            ("The pump turns ", _slot("exercise_s"), " a week, whatever the sun."),
            "where it may stand for weeks: pools in winter, houses left alone.",
            "seconds are enough; minutes carry heat out.",
            held.exercise_s.value > 0,
        ),
    ]


def _heat(design: Design) -> list[Entry]:
    held = design.functions
    cooling: Parts = (
        (" from ", _slot("cooling_c"), ", till the store has ", _slot("cooling_store_c")) if held.cooling.value else ()
    )
    night: Parts = (", down to ", _slot("night_c")) if held.night_cools else ()
    dump: Parts = (" from ", _slot("dump_c"), ", taking ", _slot("dump_w_k")) if held.dumps else ()
    return [
        Entry(
            "cooling",
            "Collector cooling",
            (_slot("cooling"), *cooling, "."),
            "where standing hot ages the fluid and the store has room over its limit.",
            "not where nothing overheats, nor in a drainback, nor without a tempering valve.",
            held.cooling.value,
        ),
        Entry(
            "night",
            "Night cooling",
            (_slot("night"), *night, "."),
            "for weeks nobody draws, so that the field can work next day and does not boil.",
            "never in a drainback; little use with vacuum tubes; each night throws paid heat away.",
            held.night_cools,
        ),
        Entry(
            "dump",
            "Heat dump",
            (_slot("dump"), *dump, "."),
            "for fields sized for winter, with a radiator or a pool that takes the summer.",
            "rarely needed on hot water alone: a cover or fewer collectors is cheaper.",
            held.dumps,
        ),
    ]


def _frost(design: Design) -> list[Entry]:
    held, on = design.functions, design.control.frost.value
    first: Parts = (
        (
            " from ",
            Slot("control.frost_c"),
            ", running ",
            _slot("frost_run_s"),
            ", pausing ",
            _slot("frost_pause_s"),
            ". Second level ",
            _slot("second_frost"),
        )
        if on
        else ()
    )
    second: Parts = (
        (" from ", _slot("second_frost_c"), ", running ", _slot("second_run_s"), ", pausing ", _slot("second_pause_s"))
        if on and held.second_frost.value
        else ()
    )
    return [
        Entry(
            "frost",
            "Frost protection",
            (Slot("control.frost"), *first, *second, "."),
            "only for water in the field where frost is rare; it fails with the power.",
            "never on glycol or in a drainback: the one cannot freeze, the other is empty.",
            on,
        )
    ]


def _water(design: Design) -> list[Entry]:
    held, store = design.functions, design.store
    weekly: Parts = (
        (", every ", _slot("hygiene_days"), " days to ", _slot("hygiene_c"), " at hour ", _slot("hygiene_hour"))
        if store.hygiene.value == "weekly"
        else ()
    )
    ring: Parts = (
        (
            ", ",
            _slot("ring_hours"),
            ", till it comes back at ",
            _slot("ring_return_c"),
            "; ",
            _slot("ring_flow_l_h"),
            ", losing ",
            _slot("ring_loss_w_k"),
        )
        if held.ring.value
        else ()
    )
    return [
        Entry(
            "holiday",
            "Holiday",
            ("Backup while nobody is there: ", _slot("holiday"), ". Away ", Slot("duty.away"), "."),
            "for every absence; hygiene goes on. Dates have an end, so nobody comes home to a cold store.",
            "not where a house may freeze without it.",
            held.holiday.value,
        ),
        Entry(
            "hygiene",
            "Heating through",
            (Slot("store.hygiene"), *weekly, "."),
            "where the backup does not keep the whole store hot; best just before the evening's draws.",
            "not in the morning: the sun would find the store full. Local rules come first.",
            store.hygiene.value == "weekly",
        ),
        Entry(
            "ring",
            "Ring main",
            (_slot("ring"), *ring, "."),
            "for long runs to the taps, in the hours people draw, stopped by its return.",
            "not all day: it stirs the store and loses more than the pipe is worth.",
            held.ring.value,
        ),
    ]


def _battery(design: Design) -> list[Entry]:
    held = design.functions
    more: Parts = (
        (
            ": ", _slot("battery_wh"), ", panel ", Slot("run.panel_w"), ", cut off below ", _slot("cut_v"), ", again from ",
            _slot("resume_v"), ", sagging over ", _slot("wire_ohm"),
        )
        if held.battery.value
        else ()
    )  # fmt: skip
    return [
        Entry(
            "battery",
            "Pump on a battery",
            (_slot("battery"), *more, "."),
            "where there are no mains: stop close under start, and count electricity dearly.",
            "cut-off and resume must lie further apart than the pump makes the voltage sag.",
            held.battery.value,
        ),
        Entry(
            "locked",
            "Lock",
            (_slot("locked"), "."),
            "in hostels and schools, where many hands pass the unit.",
            "leave the code with the householder, on the card.",
            held.locked.value,
        ),
    ]


def _sensors(design: Design) -> list[Entry]:
    held = design.functions
    off = any(
        getattr(held, name).value
        for name in ("field_offset_k", "store_offset_k", "field_lag_s", "store_lag_s", "strapped_share")
    )
    return [
        Entry(
            "sensors",
            "Sensors as found",
            (
                "The field's reads ", _slot("field_offset_k"), " over what is true, lags ", _slot("field_lag_s"), " and feels ",
                _slot("strapped_share"), " of the air; the store's reads ", _slot("store_offset_k"), " over, lags ",
                _slot("store_lag_s"), ".",
            ),
            "type what the test on the bench found; the day and the year then run with these sensors.",
            "do not live with it: push the probe home, or change the pair.",
            off,
        )
    ]  # fmt: skip


def entries(design: Design) -> list[tuple[str, list[Entry]]]:
    """Every function, in groups."""
    return [
        ("Limits", _limits(design)),
        ("The pump", _pump(design)),
        ("Too much heat", _heat(design)),
        ("Frost", _frost(design)),
        ("Store and taps", _water(design)),
        ("Where there are no mains, or many hands", _battery(design)),
        ("The sensors", _sensors(design)),
    ]


def _verdict(sheet: Sheet) -> Statement:
    if not sheet.design.pumped:
        return say("No controller, no functions: the heater's own thermostat and time switch are all there is to set")
    found = [f for f in sheet.findings if f.key in KEYS]
    on = [say(entry.name.lower()) for _, group in entries(sheet.design)[1:-1] for entry in group if entry.on]
    control = sheet.design.control
    pair = {"a": Quantity(control.start_k.value, "difference"), "b": Quantity(control.stop_k.value, "difference")}
    does = say("Beside start at {a} and stop at {b} nothing acts", **pair)
    if on:
        does = say("Beside start at {a} and stop at {b} act {names}", names=series(on), **pair)
    if not found:
        return joined(does, say("nothing stands against another"))
    fits = "one thing does not fit" if len(found) == 1 else tr("{found} things do not fit", found=len(found))
    return joined(does, say(fits))


def _line(sheet: Sheet) -> Parts:
    if not sheet.design.pumped:
        return ("A ", Slot("charge.kind"), " loop, store ", Slot("store.backup"), ".")
    return ("A ", Slot("charge.kind"), " loop, store ", Slot("store.backup"), ", pump ", Slot("run.pump"), ".")


def _blocks(sheet: Sheet) -> list[Block]:
    if not sheet.design.pumped:
        return [Block("What holds it instead", "", template="steps/control/guards.html")]
    found = [Block("Functions", "", template="steps/control/functions.html")]
    if sheet.design.store.backup.value in ("coil", "element") and not sheet.design.own_store:
        found.append(
            Block(
                "The backup's hours", "each window with its own two temperatures", template="steps/control/windows.html"
            )
        )
    found.append(Block("What each would change in a year", "", run="functions"))
    return found


def _windows(sheet: Sheet) -> list[dict[str, Any]]:
    """The hours of the backup, each with its blanks."""
    return [
        {
            "entry": window,
            "fires": window.fires,
            "cells": {
                name: blank(sheet.design, f"functions.windows.{window.id}.{name}", sheet.units)
                for name in ("starts", "ends", "on_c", "off_c")
            },
        }
        for window in sheet.design.functions.windows
    ]


def _context(sheet: Sheet) -> dict[str, Any]:
    design, units = sheet.design, sheet.units
    if not design.pumped:
        return guards_context(sheet)
    return {
        "functions": [
            (title, [(entry, sentence(entry.parts, design, units)) for entry in group])
            for title, group in entries(design)
        ],
        "windows": _windows(sheet),
        "backup_hours": blank(design, "store.backup_hours", units),
        "backup_c": blank(design, "store.backup_c", units),
        "clock": blank(design, "functions.clock_ahead_s", units),
        "boost": blank(design, "functions.boost_s", units),
        "boost_at": blank(design, "functions.boost_at", units),
    }


FUNCTIONS = Bench(
    "functions",
    "Functions",
    _verdict,
    _line,
    _blocks,
    (),
    _context,
    of="control",
    figures=("store_limit",),
    findings=KEYS,
)
