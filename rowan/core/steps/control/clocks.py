"""What goes by a clock: the backup's hours, a controller whose clock is wrong, a pump on a plain timer. Source: methods 7."""

from __future__ import annotations

from collections.abc import Iterator

from rowan.core.design.design import Design
from rowan.core.design.inputs.hours import ALWAYS, day_minutes
from rowan.core.steps.charge.result import ChargeResult
from rowan.core.steps.control.found import cure_of, found_here
from rowan.core.steps.run.result import RunResult
from rowan.core.terms.figure import Quantity, say
from rowan.core.terms.finding import Change, Cure, Finding

SUN_UP, MIDDAY, EARLY = 6 * 60, 12 * 60, 3 * 60  # by the clock at the equinox; a window from `EARLY` on is a morning's
MODEST_C = 50.0  # °C, an early window that leaves the store to the sun
CLOCK_RIGHT_S = 600.0  # s a clock may be off before windows miss


def _mornings(design: Design) -> list[tuple[int, int, float, str]]:
    """Spans of the morning in which the backup may heat: from, till [min], to what [°C], and the window's id or nothing."""
    if design.pumped and design.functions.windows:
        spans = [(*w.minutes, w.off_c, w.id) for w in design.functions.windows if w.fires]
    elif design.store.backup_hours.value.strip().lower() == ALWAYS:
        return []
    else:
        held = design.store.backup_c.value
        spans = [(a, b, held, "") for a, b in day_minutes(design.store.backup_hours.value)]
    return [span for span in spans if EARLY <= span[0] < MIDDAY]


def time_switch(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """Hours of the backup that leave the sun little to do."""
    early = [span for span in _mornings(design) if span[1] > SUN_UP or span[2] > MODEST_C]
    if early and design.store.backup.value in ("coil", "element"):
        yield _before_sun(design, early[0])


def _before_sun(design: Design, span: tuple[int, int, float, str]) -> Finding:
    start, _, heated, key = span
    cure = cure_of("Heat from 16:00 to 22:00", "store.backup_hours", "16:00-22:00")
    if key:
        base, modest = f"functions.windows.{key}", min(heated, MODEST_C)
        window = next(w for w in design.functions.windows if w.id == key)
        changes = [
            Change(f"{base}.off_c", modest),
            Change(f"{base}.on_c", min(window.on_c, MODEST_C - 5.0)),
            Change(f"{base}.ends", "6:00" if start < SUN_UP else "20:00"),
        ]
        if start >= SUN_UP:
            changes.append(Change(f"{base}.starts", "16:00"))
        words = "End it at 6:00, at {t}" if start < SUN_UP else "Heat from 16:00 to 20:00, to {t}"
        cure = Cure(say(words, t=Quantity(modest, "temperature")), tuple(changes))
    return found_here(
        "backup_before_sun",
        "mind",
        "backup",
        "the backup heats the store just before the sun comes",
        say(
            "A store at {t} in the morning leaves the sun little to do. End an early window before sunrise at a modest temperature; top up in the evening.",
            t=Quantity(heated, "temperature"),
        ),
        (cure,),
    )


def unused(design: Design) -> Iterator[Finding]:
    """A window whose times or temperatures meet."""
    unused = [w for w in design.functions.windows if not w.fires]
    if not unused:
        return
    left = [w for w in design.functions.windows if w.fires]
    meet = unused[0].minutes[0] == unused[0].minutes[1]
    why = "ends when it begins." if meet else "stops below what it starts at."
    yield found_here(
        "window_unused",
        "mind",
        "backup",
        "a window of the backup never fires",
        say(
            "The one from {starts} {why}{case}",
            starts=unused[0].starts,
            why=why,
            case="" if left else " Nothing else heats.",
        ),
        (cure_of("Take it out", "functions.windows", left),),
    )


def clock(design: Design) -> Iterator[Finding]:
    """A clock that is wrong where anything goes by it."""
    held = design.functions
    by_it = held.windows or design.store.backup_hours.value.strip().lower() != ALWAYS or held.ring.value
    ahead = held.clock_ahead_s.value
    if by_it and abs(ahead) > CLOCK_RIGHT_S:
        when = "early" if ahead > 0 else "late"
        yield found_here(
            "clock_wrong",
            "fix",
            "backup",
            "the controller's clock is wrong",
            say(
                "Every window falls {d} too {when}. Set it, and look again after power cuts and when the hour changes.",
                when=when,
                d=Quantity(abs(ahead), "minutes"),
            ),
            (cure_of("Set the clock", "functions.clock_ahead_s", 0.0),),
        )


def timer(design: Design, charge: ChargeResult, run: RunResult) -> Iterator[Finding]:
    """A clock that knows no sun."""
    held = design.functions
    if not held.timer.value:
        return
    if held.timer_to_h.value <= held.timer_from_h.value:
        yield found_here(
            "timer_never",
            "stop",
            "pump",
            "the timer never runs the pump",
            say("It is off before it is on."),
            (Cure(say("From 9 to 16 h"), (Change("functions.timer_from_h", 9), Change("functions.timer_to_h", 16))),),
        )
        return
    yield found_here(
        "timer_blind",
        "fix",
        "pump",
        "a timer pumps on dull days too",
        say(
            "It knows no sun: on a dull day it carries the store's heat up to the roof, and no limit stops it. The year says what that costs."
        ),
        (cure_of("By the difference", "functions.timer", False),),
    )
