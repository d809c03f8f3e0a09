"""What of a log does not fit its plan: the rules of live readings on its last day, and what its nights show."""

from __future__ import annotations

from rowan.core.records.logs.channels import BY_KEY
from rowan.core.records.logs.log import Log, newest_readings
from rowan.core.records.logs.nights import warm_nights
from rowan.core.records.readings import Planned, Seen, observed
from rowan.core.terms.calendar import DAY_S
from rowan.core.terms.figure import say

MISSING, STUCK = "open_", "stuck_"  # keys of findings and repairs of a sensor begin so
# s between rows up to which the row after a start still shows the difference that started it
PAIR_STEP_S = 60


def deviations(log: Log, planned: Planned) -> list[Seen]:
    """What does not fit. A sensor that the log has no column of is not one that reads nothing, nor is one that stood still; and switching
    points are not told from rows that are too far apart."""
    still = {repair.key.removeprefix(STUCK) for repair in log.repairs if repair.key.startswith(STUCK)}
    found = [*observed(newest_readings(log, DAY_S), planned), *warm_nights(log, zone_h=planned.zone_h)]
    told = [one for one in found if _is_told(one, log, still)]
    return [*told, *(_stood_still(key) for key in sorted(still))]


def _is_told(one: Seen, log: Log, still: set[str]) -> bool:
    if one.key == "other_pair":
        return log.step <= PAIR_STEP_S
    key = one.key.removeprefix(MISSING)
    return key == one.key or (key in log.columns and key not in still)


def _stood_still(key: str) -> Seen:
    return Seen(
        f"{STUCK}{key}",
        "mind",
        say("The {label} stood still for over a day while the rest moved", label=BY_KEY[key].label),
        say(
            "A probe out of its pocket, a cable to the wrong terminal, or a logger that repeats its last value: pull it and hold it."
        ),
    )
