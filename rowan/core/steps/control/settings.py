"""What is set at the controller, in the order it is entered, each with its reason. The card prints it; what was left is kept by it."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.steps.control.differences import CUT_OUT_LATCH_K
from rowan.core.steps.control.stage import ControlResult, Differential, Uncontrolled
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record


@record
class ControllerSetting:
    """An input of the plan that is entered at the controller: its path, what the card calls it, why it is so."""

    path: str
    name: str
    reason: Statement


def controller_settings(design: Design, control: ControlResult) -> tuple[ControllerSetting, ...]:
    """Everything to be entered for a plan: differences and limits always, functions where they act; without a controller the
    backup's alone."""
    if isinstance(control, Uncontrolled):
        return tuple(_backup(design))
    return (
        *_always(design, control),
        *_pump(design),
        *_heat(design),
        *_frost(design),
        *_water(design),
        *_battery(design),
    )


def _always(design: Design, control: Differential) -> Iterator[ControllerSetting]:
    yield ControllerSetting(
        "control.start_k",
        "Start, field over store foot",
        say("sun of {g} starts the pump", g=Quantity(control.band.start_irradiance, "irradiance")),
    )
    yield ControllerSetting(
        "control.stop_k",
        "Stop, field over store foot",
        say("below {f} the loop loses more than it brings", f=Quantity(control.floor, "difference")),
    )
    yield ControllerSetting("control.least_collector_c", "Least field temperature", say("tested at the start only"))
    valve = "fitted" if design.store.tempering_valve.value else "MISSING: the tap can scald"
    yield ControllerSetting("store.maximum_c", "Store limit", say("tempering valve {valve}", valve=f"{valve}"))
    yield ControllerSetting(
        "control.cut_out_c",
        "Field cut-out",
        say(
            "the pump rests above it, until {k} lower; never above the lowest part rating",
            k=Quantity(CUT_OUT_LATCH_K, "difference", 0),
        ),
    )


def _pump(design: Design) -> Iterator[ControllerSetting]:
    held = design.functions
    if held.follows:
        yield ControllerSetting("functions.speed", "Pump speed", say("lower flow holds on in less sun"))
        yield ControllerSetting(
            "functions.speed_floor", "Slowest speed", say("below it the motor stalls or plates get little")
        )
        yield ControllerSetting(
            "functions.speed_full_k", "Full speed over the start", say("at this many degrees over the start difference")
        )
    if held.least_run_s.value:
        yield ControllerSetting(
            "functions.least_run_s", "Least run", say("against many short starts under broken cloud")
        )
    if held.exercise_s.value:
        yield ControllerSetting("functions.exercise_s", "Weekly exercise", say("keeps the shaft free"))


def _heat(design: Design) -> Iterator[ControllerSetting]:
    held = design.functions
    if held.cooling.value:
        yield ControllerSetting("functions.cooling_c", "Collector cooling from", say("below the cut-out"))
        yield ControllerSetting(
            "functions.cooling_store_c", "Cooling fills the store to", say("over the store limit, tempered at the tap")
        )
    if held.night_cools:
        yield ControllerSetting(
            "functions.night", "Night cooling", say("gives heat back; off when somebody is there again")
        )
        yield ControllerSetting("functions.night_c", "Night cooling down to", say("room for the next day's sun"))
    if held.dumps:
        yield ControllerSetting("functions.dump_c", "Heat dump from", say("below the cut-out"))


def _frost(design: Design) -> Iterator[ControllerSetting]:
    held = design.functions
    if design.drains:
        yield ControllerSetting(
            "control.refill_c", "No filling above", say("a dry hot field boils what is pumped into it")
        )
        yield ControllerSetting(
            "control.restart_k", "Restarts after cooling by", say("from its limit: emptied and filled less often")
        )
    if not design.control.frost.value:
        return
    yield ControllerSetting("control.frost_c", "Frost protection from", say("of the field; it fails with the power"))
    if held.frost_run_s.value and held.frost_pause_s.value:
        yield ControllerSetting("functions.frost_run_s", "Frost: runs", say("then pauses, and looks again"))
        yield ControllerSetting(
            "functions.frost_pause_s", "Frost: pauses", say("short enough that nothing freezes meanwhile")
        )
    if held.second_frost.value:
        yield ControllerSetting("functions.second_frost_c", "Second frost level", say("colder: longer runs"))


def _backup(design: Design) -> Iterator[ControllerSetting]:
    """What is set at the heater itself where no controller is."""
    if design.store.backup.value in ("coil", "element") and not design.own_store:
        yield ControllerSetting(
            "store.backup_hours", "Backup may heat", say("after the sun, by a time switch of its own")
        )
        yield ControllerSetting("store.backup_c", "Backup heats to", say("its own thermostat: nothing else limits it"))


def _water(design: Design) -> Iterator[ControllerSetting]:
    held = design.functions
    reasons = {
        "none": "lukewarm water may stand",
        "backup": "{t} through the whole store",
        "weekly": "{t} through the whole store, every {n} days",
    }
    yield ControllerSetting(
        "store.hygiene",
        "Hygiene",
        say(
            reasons[design.store.hygiene.value],
            t=Quantity(held.hygiene_c.value, "temperature"),
            n=str(held.hygiene_days.value),
        ),
    )
    if design.store.backup.value in ("coil", "element") and not design.own_store:
        if not held.windows:
            yield ControllerSetting(
                "store.backup_hours", "Backup may heat", say("early hours end before sunrise; the evening tops up")
            )
            yield ControllerSetting("store.backup_c", "Backup heats to", say("the upper part of the store"))
        for window in held.windows:
            base = f"functions.windows.{window.id}"
            words = f"Backup {window.starts} to {window.ends}" + ("" if window.fires else ", unused")
            yield ControllerSetting(
                f"{base}.off_c", words, say("starts below {t}", t=Quantity(window.on_c, "temperature"))
            )
        if design.store.backup.value == "element":
            yield ControllerSetting("functions.boost_s", "A boost lasts", say("then ends by itself"))
    if held.holiday.value:
        yield ControllerSetting("functions.holiday", "Backup while away", say("with a date to end"))
    if held.ring.value:
        yield ControllerSetting("functions.ring_hours", "Ring main runs", say("when people draw"))
        yield ControllerSetting("functions.ring_return_c", "Ring main rests at", say("of the water that comes back"))


def _battery(design: Design) -> Iterator[ControllerSetting]:
    held = design.functions
    if held.battery.value:
        yield ControllerSetting("functions.cut_v", "Battery cut-off", say("spares the battery"))
        yield ControllerSetting(
            "functions.resume_v", "Battery resume", say("further from the cut-off than the pump makes it sag")
        )
    if held.locked.value:
        yield ControllerSetting("functions.locked", "Settings", say("the code is with the householder"))
