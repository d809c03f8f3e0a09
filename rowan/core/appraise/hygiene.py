"""Hygiene: whether the heater that is said to keep germs down ever makes the water hot enough.

A word in the plan kills nothing. The year knows how long the store's top went without 60 °C while somebody drew water:
windows, a low setting or a weak heater show there. Source: methods 5 and practice of the trade, a week at most.
"""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.simulation.year import Year
from rowan.core.steps.store.heat import HOT_STORE_C
from rowan.core.terms.calendar import DAYS
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change, Cure, Finding
from rowan.core.terms.source import methods

# °C of a store's node through the year: germs grow between the first two, and die the faster the hotter beyond
HYGIENE_EDGES_C = (25.0, 45.0, 55.0, HOT_STORE_C)
MOST_DAYS = 7  # days a store may go without its hot hour, as a weekly pass allows


def days_without(year: Year, node: int, warm: float) -> int:
    """The longest stretch of days with a draw in which a node [0 at the top] never reached a temperature [°C]."""
    hottest = year.traced[:, node].reshape(DAYS, 24).max(axis=1)
    drawn = year.day_sums("demand") > 0
    longest = now = 0
    for hot, used in zip(hottest >= warm, drawn, strict=True):
        if hot:
            now = 0
        elif used:
            now += 1
            longest = max(longest, now)
    return longest


def hygiene(design: Design, year: Year) -> tuple[Finding, ...]:
    """A backup that is to keep the store clean and does not."""
    store = design.store
    if not design.taps or store.hygiene.value != "backup":
        return ()
    setting = store.backup_c.value
    if store.backup.value == "second" and setting < HOT_STORE_C:
        reason = say(
            "The second tank is held at {s}; below {t} germs live on in what stands there.",
            s=Quantity(setting, "temperature"),
            t=Quantity(HOT_STORE_C, "temperature"),
        )
        return (_not_reached(design, reason),)
    if store.backup.value not in ("coil", "element"):
        return ()
    days = days_without(year, 0, HOT_STORE_C)
    if days <= MOST_DAYS:
        return ()
    reason = say(
        "In a year run through, the top of the store goes {n} days on end without {t} while water is drawn. "
        "The backup heats to {s}, {h}.",
        n=Quantity(float(days), "count"),
        t=Quantity(HOT_STORE_C, "temperature"),
        s=Quantity(setting, "temperature"),
        h="whenever it is called" if store.backup_hours.value == "always" else "in its windows alone",
    )
    return (_not_reached(design, reason),)


def _not_reached(design: Design, reason: Statement) -> Finding:
    cures = []
    if design.store.backup_c.value < HOT_STORE_C:
        words = say("Hold it at {t}", t=Quantity(HOT_STORE_C, "temperature"))
        cures.append(Cure(words, (Change("store.backup_c", HOT_STORE_C),)))
    if design.store.backup.value in ("coil", "element"):
        cures.append(Cure(say("Heat it through every week"), (Change("store.hygiene", "weekly"),)))
        if design.store.backup_hours.value != "always" and design.store.backup_c.value >= HOT_STORE_C:
            cures.append(Cure(say("Let the backup heat at any hour"), (Change("store.backup_hours", "always"),)))
    return Finding(
        key="hygiene_not_reached",
        level="fix",
        stage="store",
        part="store",
        title=say("the backup does not keep germs down"),
        reason=reason,
        quantity=Quantity(design.store.backup_c.value, "temperature"),
        limit=Quantity(HOT_STORE_C, "temperature"),
        cures=tuple(cures),
        source=methods(5),
    )
