"""What a plan is like with one function turned, and what would calm a pump that hunts: variants to be run."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from rowan.core.appraise.calming import ways
from rowan.core.design.design import Design
from rowan.core.steps.control.conflicts import sag
from rowan.core.steps.control.stage import LEAST_RUN_S
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH

EXERCISE_S, LAG_S, OFF_K, STRAPPED, BARE = (
    30.0,
    120.0,
    3.0,
    0.1,
    0.33,
)  # what a controller usually does, and what bad sensors do; practice, controller
WORTH_WORDS_J = 5 * KWH  # J a year; less is not worth a sentence
EVENING = "16:00-22:00"  # the heater waits for the sun
CUT_SHARE, APART_SHARE = 11.6 / 12.0, 0.5 / 12.0  # of the nominal voltage
BATTERY_BAND_K, BATTERY_WEIGHT = 3.0, 5.0  # K, and what a battery's kilowatt-hour is worth in heat; rules of thumb


@record
class Trial:
    """A variant: its key, what is turned in words, and the changes."""

    key: str
    name: str
    changes: tuple[Change, ...]


def _switch(key: str, path: str, now: object, on: object, off: object, words: str) -> Trial:
    """A function turned to what it is not."""
    running = now != off
    return Trial(key, f"{words} {'off' if running else 'on'}", (Change(path, off if running else on),))


def function_trials(design: Design) -> tuple[Trial, ...]:
    """Every function that acts on heat, turned on where it is off and off where it is on. A loop without a pump has none."""
    if not design.pumped:
        return ()
    return (*_pump_trials(design), *_heat_trials(design), *_store_trials(design), *_sensor_trials(design))


def _pump_trials(design: Design) -> Iterator[Trial]:
    held = design.functions
    kind = "chopped" if design.run.pump.value.kind == "induction" else "signal"
    yield _switch("speed", "functions.speed", held.speed.value, kind, "one", "speed by the difference")
    least = held.least_run_s.value
    yield _switch("least_run", "functions.least_run_s", least, LEAST_RUN_S, 0.0, "least run")
    yield _switch("timer", "functions.timer", held.timer.value, True, False, "plain timer, 9 to 16 h,")
    yield _switch("exercise", "functions.exercise_s", held.exercise_s.value, EXERCISE_S, 0.0, "weekly exercise")


def _heat_trials(design: Design) -> Iterator[Trial]:
    held = design.functions
    if not design.drains:
        yield _switch("cooling", "functions.cooling", held.cooling.value, True, False, "collector cooling")
        yield _switch("night", "functions.night", held.night.value, "always", "off", "night cooling")
        yield _switch("dump", "functions.dump", held.dump.value, "radiator", "none", "heat dump")
        yield _switch("frost", "control.frost", design.control.frost.value, True, False, "frost protection")


def _store_trials(design: Design) -> Iterator[Trial]:
    held, store = design.functions, design.store
    if store.backup.value in ("coil", "element") and not design.own_store:
        weekly = store.hygiene.value
        yield _switch("hygiene", "store.hygiene", weekly, "weekly", "backup", "weekly heating through")
        if held.windows or store.backup_hours.value != EVENING:
            changes = (Change("functions.windows", []), Change("store.backup_hours", EVENING))
            yield Trial("evening", "backup from 16:00 to 22:00 only", changes)
        if design.duty.away.value.strip().lower() != "never":
            yield _switch("holiday", "functions.holiday", held.holiday.value, True, False, "backup resting while away")
    if not design.own_store:
        yield _switch("ring", "functions.ring", held.ring.value, True, False, "ring main")


def _sensor_trials(design: Design) -> Iterator[Trial]:
    """The field's sensor as it should not be, or mended."""
    held = design.functions
    offset, lag, strapped = held.field_offset_k.value, held.field_lag_s.value, held.strapped_share.value
    yield Trial(
        "offset",
        "field sensor read right" if offset else "field sensor 3 K high",
        (Change("functions.field_offset_k", 0.0 if offset else OFF_K),),
    )
    yield Trial(
        "lag",
        "field sensor without lag" if lag else "field sensor two minutes late",
        (Change("functions.field_lag_s", 0.0 if lag else LAG_S),),
    )
    yield Trial(
        "strapped",
        "field sensor in its pocket" if strapped else "field sensor strapped on",
        (Change("functions.strapped_share", 0.0 if strapped else STRAPPED),),
    )


def battery_preset(design: Design, run: RunResult) -> tuple[Change, ...]:
    """A pump on a battery: cut-off and resume further apart than it sags, stop close under start, electricity counted dearly.

    Source: practice, controller; methods 7.
    """
    volts = design.supply_volts
    cut = round(CUT_SHARE * volts, 1)
    resume = round(cut + sag(design, run) + APART_SHARE * volts, 1)
    control = design.control
    stop = max(control.stop_k.value, control.start_k.value - BATTERY_BAND_K)
    return (
        Change("functions.battery", True),
        Change("functions.cut_v", cut),
        Change("functions.resume_v", resume),
        Change("functions.electricity_weight", BATTERY_WEIGHT),
        Change("control.stop_k", stop),
    )


def sensor_trials(design: Design) -> tuple[Trial, ...]:
    """The field's sensor right, then wrong in each of the ways it can be."""
    names = ("field_offset_k", "field_lag_s", "strapped_share")

    def trial(key: str, words: str, **those: float) -> Trial:
        """All three as named, the others at nothing."""
        return Trial(key, words, tuple(Change(f"functions.{name}", those.get(name, 0.0)) for name in names))

    return (
        trial("right", "in its pocket, reading right"),
        trial("high", "reads 3 K high", field_offset_k=OFF_K),
        trial("low", "reads 3 K low", field_offset_k=-OFF_K),
        trial("late", "two minutes late", field_lag_s=LAG_S),
        trial("strapped", "strapped on and lagged", strapped_share=STRAPPED),
        trial("bare", "strapped on bare", strapped_share=BARE),
    )


CALMING_WORDS = {
    "slower": "the pump a speed lower",
    "follows": "speed by the difference",
    "least_run": "at least five minutes a run",
    "pocket": "sensor pushed home in its pocket, and matched",
    "wider": "a wider start",
}


def calming_trials(design: Design, run: RunResult) -> tuple[Trial, ...]:
    """The first of each way that may calm a pump that hunts, in the order to try them. Source: methods 7."""
    return tuple(Trial(key, CALMING_WORDS[key], cures[0].changes) for key, cures in ways(design, run).items())


def most_telling(gains: Sequence[tuple[float, str]]) -> Statement | None:
    """What is most worth turning and what costs most, of heat won a year [J] and the function's name; None without any."""
    if not gains:
        return None
    best, worst = max(gains), min(gains)
    parts: list[str] = []
    quantities: dict[str, Quantity | str] = {}
    if best[0] >= WORTH_WORDS_J:
        parts.append(f"Most is won by {best[1]}, {{b}} a year.")
        quantities["b"] = Quantity(best[0], "energy")
    if worst[0] <= -WORTH_WORDS_J:
        parts.append(f"Most is lost by {worst[1]}, {{w}}.")
        quantities["w"] = Quantity(-worst[0], "energy")
    return say(" ".join(parts) or "None of them moves the year by much.", **quantities)
