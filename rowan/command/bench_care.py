"""`bin/rowan bench care`: logs of the stand-in with a fault each, and healthy ones, and how often the true fault is named.

The stand-in's loop is 5 to 10 % off the plan, its probes are off and flicker, its logs have gaps. The core knows nothing of it.
"""

from __future__ import annotations

import os
import time
from collections import Counter
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from random import Random

import numpy as np

from rowan.command.bench import row
from rowan.command.standin import pair_of, plant_of
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning, reckon
from rowan.core.records.care.faults import BY_KEY
from rowan.core.records.care.match import Match, classes_of, match
from rowan.core.records.care.scene import scene_of
from rowan.core.records.logs.log import Log
from rowan.core.records.planned import planned_of
from rowan.standin.controller import Standin
from rowan.standin.faults import FAULTS, Fault

DAY_S = 86_400.0
WEEKS_S = 42 * DAY_S
FAULTY, HEALTHY = 200, 100
FRESH = (120, 60, 9)
DELAY_SEED = 4
SIZES = (0.85, 1.25)  # of what the words of a fault say
COLUMNS = (
    "field_c",
    "low_c",
    "high_c",
    "hot_c",
    "cold_c",
    "air_c",
    "sun_w_m2",
    "pump_share",
    "flow_m3_s",
    "gauge_pa",
    "level_m",
)
SETS = {"plain": ("field_c", "low_c", "high_c", "pump_share"), "full": COLUMNS}
# what each fault of the stand-in is called by the core, in a full log
TRUE = {
    "stuck_pump": "no_flow",
    "air": "air",
    "lost_pressure": "lost_pressure",
    "swapped_sensors": "swapped",
    "open_sensor": "field_unread",
    "leaking_check": "check_valve",
    "night_circulation": "night_pump",
    "wrong_differences": "wrong_pair",
    "low_flow": "low_flow",
    "hand_on": "hand_on",
    "welded_relay": "welded_relay",
    "hand_off": "hand_off",
    "field_offset": "field_offset",
    "foot_offset": "foot_offset",
    "loose_field": "field_loose",
    "loose_foot": "foot_loose",
    "drifting_field": "field_drift",
    "afternoon_shade": "shade",
    "dirty_glass": "dirty_glass",
    "scaled_coil": "scaled_coil",
    "thick_mix": "thick_mix",
    "low_limit": "low_limit",
    "backup_first": "backup_first",
    "clock_off": "clock",
    "open_bypass": "open_bypass",
    "slow_leak": "leak",
    "air_leaves": "air_leaves",
    "dead_vessel": "vessel",
    "weeping_relief": "relief",
    "frost_run": "frost_run",
    "cold_backup": "cold_top",
    "open_dump": "dump",
    "weak_battery": "battery",
    "falling_level": "falling_level",
    "wet_jacket": "wet_jacket",
}


@dataclass(frozen=True)
class Trial:
    """A log made for a trial: the stand-in's fault or none, the day it begins, its channels."""

    fault: str
    begins: int
    seed: int
    channels: str


@dataclass(frozen=True)
class House:
    """A plan that logs are made for."""

    design: Design
    result: Reckoning


def house() -> House:
    """The demo's house with its plan B."""
    from rowan.demo.kvist import kvist_plan_b

    design = kvist_plan_b()
    return House(design, reckon(design))


def draining_house() -> House:
    """The demo's hostel, whose loop drains: where a level can fall."""
    from rowan.demo.corrim import corrim

    design = corrim()
    return House(design, reckon(design))


def log_of(home: House, trial: Trial, *, seconds: float = WEEKS_S, every: float = 60.0) -> Log:
    """The log of a trial: begun on some day of the warmer half of the year, with gaps."""
    dice = Random(trial.seed * 7919 + trial.begins)
    begins = datetime(2026, dice.randint(4, 8), dice.randint(1, 28), tzinfo=UTC)
    size = dice.uniform(*SIZES)
    faults = (Fault(trial.fault, trial.begins * DAY_S, size),) if trial.fault else ()
    table = Standin(plant_of(home.design), pair_of(home.design), begins, trial.seed, faults).table(seconds, every)
    at = (begins.timestamp() + table[:, 0]).astype(np.int64)
    if trial.fault == "clock_off":
        at = at + np.where(table[:, 0] > trial.begins * DAY_S, 3600, 0)
    kept = np.ones(len(at), dtype=bool)
    for _ in range(dice.randint(0, 3)):
        first = dice.randrange(len(at))
        kept[first : first + dice.randint(20, 2000)] = False
    _, once = np.unique(at, return_index=True)
    kept = np.intersect1d(np.flatnonzero(kept), once)
    columns = {name: table[kept, 1 + number] for number, name in enumerate(COLUMNS) if name in SETS[trial.channels]}
    return Log(at[kept], columns, round(every), ())


def tried(home: House, trial: Trial, *, seconds: float = WEEKS_S) -> Match:
    """What is found in a trial's log."""
    planned = planned_of(home.design, home.result)
    return match(
        scene_of(home.design, home.result, log_of(home, trial, seconds=seconds), zone_h=planned.zone_h), planned
    )


DRAINING = "falling_level"  # the fault that only a loop that drains has
# of the stand-in's sizes, what stays under the visible size in a log that does not know the sun: a flow two thirds of what it was
BELOW = {"plain": frozenset({"thick_mix"}), "full": frozenset[str]()}


def is_visible(fault: str, channels: str) -> bool:
    """Whether a fault of the stand-in can be seen in a log with these channels."""
    if fault in BELOW[channels]:
        return False
    return all(need in SETS[channels] for need in BY_KEY[TRUE[fault]].needs)


def trials(count: int, seed: int = 1) -> list[Trial]:
    """So many faulty trials, over all faults that can be seen in either set of channels, begun on any day of the first half."""
    dice = Random(seed)
    pairs = [(fault, channels) for channels in SETS for fault in FAULTS if is_visible(fault, channels)]
    return [
        Trial(*pairs[n % len(pairs)][:1], dice.randint(0, 20), seed * 1000 + n, pairs[n % len(pairs)][1])
        for n in range(count)
    ]


def rank_of(found: Match, trial: Trial) -> int:
    """The place of the true class among those named; 0 where nothing is named or it is not among them."""
    if found.named is None:
        return 0
    for place, one in enumerate(classes_of(found, frozenset(SETS[trial.channels])), 1):
        if TRUE[trial.fault] in {supposed.fault.key for supposed in one.members}:
            return place
    return 0


@lru_cache
def house_of(fault: str) -> House:
    """The house whose log shows a fault."""
    return draining_house() if fault == DRAINING else house()


def _judged(trial: Trial) -> tuple[Trial, int, Match, float]:
    """A trial, the place of its true class, what was found, and how long that took [s]."""
    begun = time.perf_counter()
    found = tried(house_of(trial.fault), trial)
    return trial, rank_of(found, trial) if trial.fault else 0, found, time.perf_counter() - begun


def run_care_bench() -> None:
    """Print how often the true class is named and a healthy log accused: on the logs the match's numbers were chosen by, and on others."""
    run_trials(FAULTY, HEALTHY, 1)
    print("logs that nothing was chosen by:")
    run_trials(*FRESH)


def run_trials(faulty: int, healthy: int, seed: int) -> None:
    """Print how often the true class of fault is named first and among three, and how often a healthy log is accused."""
    clean = [Trial("", 0, 50_000 * seed + n, ("plain", "full")[n % 2]) for n in range(healthy)]
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        judged = list(pool.map(_judged, [*trials(faulty, seed), *clean]))
    ranks, others = judged[:faulty], judged[faulty:]
    first = sum(rank == 1 for _, rank, _, _ in ranks) / len(ranks)
    three = sum(1 <= rank <= 3 for _, rank, _, _ in ranks) / len(ranks)
    row(f"of {len(ranks)} faulty logs the true class first", f"{100 * first:.1f} %", "≥ 90 %")
    row("among the first three", f"{100 * three:.1f} %", "≥ 97 %")
    for trial, rank, found, _ in ranks:
        if rank != 1:
            first_three = [one.fault.key for one, _ in found.ranked[:3]] if found.named else []
            print(
                f"    {trial.channels:<6} {trial.fault:<18} seed {trial.seed}, day {trial.begins}: {rank}, {first_three}"
            )
    accused = Counter[str]()
    for trial, _, found, _ in others:
        if (named := found.named) is not None:
            accused[f"{trial.channels} {named.fault.key}"] += 1
            print(f"    healthy {trial.channels} seed {trial.seed}: {named.fault.key} {named.gain:.1f}")
    row(f"of {healthy} healthy logs accused", f"{100 * accused.total() / max(healthy, 1):.1f} %", "≤ 3 %")
    times = sorted(taken for *_, taken in ranks)
    row("a match of six weeks of minutes, median", f"{times[len(times) // 2]:.1f} s", "")


LED_DAYS = 14  # healthy days before a fault whose delay is asked for
LOOKED_AT = (1, 2, 3, 5, 8, 13, 21)  # days after it began on which it is looked for


def delay_of(home: House, fault: str, channels: str, seed: int) -> int | None:
    """Days after its beginning on which a fault is first named rightly; None where it is not within three weeks."""
    for days in LOOKED_AT:
        trial = Trial(fault, LED_DAYS, seed, channels)
        if rank_of(tried(home, trial, seconds=(LED_DAYS + days) * DAY_S), trial) == 1:
            return days
    return None


def run_delay_bench() -> None:
    """Print for each fault the days until it is named, in a full and a plain log, as a table; the same seed for all."""
    print("| fault | full log | plain log |")
    print("|---|---|---|")
    with ProcessPoolExecutor(os.cpu_count()) as pool:
        told = list(pool.map(_delay, [(fault, channels) for fault in FAULTS for channels in ("full", "plain")]))
    for number, words in enumerate(FAULTS.values()):
        print(f"| {words} | {told[2 * number]} | {told[2 * number + 1]} |", flush=True)


def _delay(pair: tuple[str, str]) -> str:
    """The days of a fault in a log with these channels, in words."""
    fault, channels = pair
    if not is_visible(fault, channels):
        return "cannot be seen"
    days = delay_of(house_of(fault), fault, channels, DELAY_SEED)
    return f"over {LOOKED_AT[-1]} days" if days is None else f"{days} day{'s' if days > 1 else ''}"
