"""What calms a pump that hunts, in the order to try it: each is run on the two days, and offered only if it calms.

Source: methods 7.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.steps.control.conflicts import NEAR_STORE_K, following
from rowan.core.steps.control.stage import LEAST_RUN_S, START_WINDOW_K
from rowan.core.steps.run.loop import maker_window
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure

LEAST_RUNS_S = (LEAST_RUN_S, 480.0, 600.0, 900.0)  # s, as controllers are set
WIDER_K = (2.0, 4.0)  # K more at the start
Calm = Callable[[Design, Reckoning], bool]


def calming_cures(design: Design, result: Reckoning, calm: Calm) -> tuple[Cure, ...]:
    """The first of each way that leaves the plan calm; two together where none does alone."""
    alone = [cure for cures in ways(design, result.run).values() if (cure := _first(design, result, cures, calm))]
    return tuple(alone) or tuple(cure for cure in [_first(design, result, _together(design, result.run), calm)] if cure)


def ways(design: Design, run: RunResult) -> dict[str, tuple[Cure, ...]]:
    """What may calm a pump by its key, in the order to try it, each from little to much; none that is there already."""
    found = {
        "slower": tuple(_slower(design, run)),
        "follows": tuple(_follows(design, run)),
        "least_run": tuple(_longer(design, ())),
        "pocket": tuple(_matched(design)),
        "wider": tuple(_wider(design)),
    }
    return {key: cures for key, cures in found.items() if cures}


def _first(design: Design, result: Reckoning, cures: Iterable[Cure], calm: Calm) -> Cure | None:
    for cure in cures:
        try:
            tried = changed(design, cure.changes)
            if calm(tried, reckon(tried, Known(design, result))):
                return cure
        except RowanError:
            continue
    return None


def _slower(design: Design, run: RunResult) -> Iterator[Cure]:
    least, _ = maker_window(design)
    for speed in range(run.pump.speed - 1, 0, -1):
        point = run.pump.points[speed - 1]
        if point and point.flow >= least:
            yield Cure(
                say("Lower the flow: speed {speed}", speed=f"{speed}"), (Change("run.speed", speed),), "hold_sun"
            )


def _follows(design: Design, run: RunResult) -> Iterator[Cure]:
    follows = following(design, run)
    if follows:
        yield Cure(say("Let the speed follow the difference"), follows)


def _longer(design: Design, more: tuple[Change, ...], words: str = "Run at least {t} each time") -> Iterator[Cure]:
    for least in LEAST_RUNS_S:
        if design.functions.least_run_s.value < least:
            changes = (*more, Change("functions.least_run_s", least))
            yield Cure(say(words, t=Quantity(least, "minutes")), changes)


def _matched(design: Design) -> Iterator[Cure]:
    held = design.functions
    if held.strapped_share.value or held.field_lag_s.value or held.field_offset_k.value:
        names = ("strapped_share", "field_lag_s", "field_offset_k")
        yield Cure(
            say("Push the field's sensor home in its pocket"), tuple(Change(f"functions.{name}", 0.0) for name in names)
        )


def _started_at(design: Design, wider: float) -> tuple[Change, ...]:
    """A wider start, and a cut-out that keeps its distance over the store: a cure must not stop the pump before the store is full."""
    least = design.store.maximum_c.value + wider + NEAR_STORE_K
    follows = least - (wider - design.control.start_k.value) <= design.control.cut_out_c.value < least
    start = (Change("control.start_k", wider),)
    return (*start, Change("control.cut_out_c", least)) if follows and not design.own_store else start


def _wider(design: Design) -> Iterator[Cure]:
    start = design.control.start_k.value
    for more in WIDER_K:
        wider = min(START_WINDOW_K[1], start + more)
        if wider > start:
            words = say("Start at {s}", s=Quantity(wider, "difference"))
            yield Cure(words, _started_at(design, wider), "start_sun")


def _together(design: Design, run: RunResult) -> Iterator[Cure]:
    follows = following(design, run)
    if follows:
        yield from _longer(design, follows, "Let the speed follow the difference, and run at least {t}")
    start = design.control.start_k.value
    wider = min(START_WINDOW_K[1], start + WIDER_K[-1])
    if wider > start:
        yield from _longer(design, _started_at(design, wider), "Start wider, and run at least {t}")
