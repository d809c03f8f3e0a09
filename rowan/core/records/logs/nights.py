"""Heat that leaves the store through a loop at rest: what the lines and the field show by night.

Hours after the pump has stopped both lines have come down to the room they run through, and a plate stands at the air or below it.
Where one line stays over the other, or the field over the air, fluid creeps round by its warmth: the check valve passes.
"""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from rowan.core.records.logs.channels import Numbers
from rowan.core.records.logs.days import NIGHT_H
from rowan.core.records.logs.log import Log
from rowan.core.records.logs.stamps import HOUR_S, WHOLE_DAY_S
from rowan.core.records.readings import Seen
from rowan.core.terms.dates import day_said
from rowan.core.terms.figure import Quantity, say

# K between the lines at rest: a difference of 15 K when the pump stops is 2 K seven hours later in a line that cools in four hours
LINES_APART_K = 4.0
OVER_AIR_K = 5.0  # K of the field over the air; site: it stands below it on a clear night
RESTED_H = 4.0  # h before the night's window in which the pump must have been off too
LAST_NIGHTS = 14  # nights that are looked back on
LEAST_NIGHTS = 5  # of them that have to show it
SHARE = 0.7  # of the nights since then that show it, to call it lasting


def night_gap(log: Log, high: str, low: str, *, zone_h: float) -> tuple[Numbers, Numbers]:
    """How far one channel stands over another by night, pump off: days [since 1970, by the place's clock] and means [K].

    Nights in which the pump ran, or was not read, or that hold no pair, are left out.
    """
    local = log.at + round(zone_h * HOUR_S)
    hour = (local % WHOLE_DAY_S) / HOUR_S
    day = local // WHOLE_DAY_S
    window = (hour >= NIGHT_H[0]) & (hour < NIGHT_H[1])
    runs = np.nan_to_num(log.columns["pump_share"], nan=1.0) > 0.0
    # four hours before two at night begin on the day before
    rest_of = (local + round((RESTED_H - NIGHT_H[0]) * HOUR_S)) // WHOLE_DAY_S
    in_rest = (local - rest_of * WHOLE_DAY_S) < NIGHT_H[1] * HOUR_S
    busy = np.unique(rest_of[runs & in_rest])
    gap = log.columns[high] - log.columns[low]
    good = window & ~np.isnan(gap) & ~np.isin(day, busy)
    days, place = np.unique(day[good], return_inverse=True)
    sums = np.bincount(place, weights=gap[good], minlength=len(days))
    return days.astype(float), sums / np.maximum(np.bincount(place, minlength=len(days)), 1)


def warm_nights(log: Log, *, zone_h: float) -> list[Seen]:
    """What nights say of the check valve; nothing where the log cannot tell. See `sees_nights`."""
    for high, low, least, words in (
        ("hot_c", "cold_c", LINES_APART_K, "the lines stand {d} apart"),
        ("field_c", "air_c", OVER_AIR_K, "the field stands {d} over the air"),
    ):
        if not {high, low, "pump_share"} <= set(log.columns):
            continue
        days, gap = night_gap(log, high, low, zone_h=zone_h)
        # heat may go up either line
        size = np.abs(gap) if high == "hot_c" else gap
        warm = size >= least
        recent = days >= (days[-1] - LAST_NIGHTS if len(days) else 0.0)
        if int((warm & recent).sum()) < LEAST_NIGHTS or warm[recent].mean() < SHARE:
            continue
        begins = _begins(warm)
        since = datetime.fromtimestamp(int(days[begins]) * WHOLE_DAY_S, UTC)
        count, nights = int(warm[begins:].sum()), len(warm) - begins
        last = (since + timedelta(days=float(days[-1] - days[begins]))).date()
        told = say(words, d=Quantity(float(np.median(size[begins:][warm[begins:]])), "difference", 1))
        return [
            Seen(
                "warm_nights",
                "fix" if high == "field_c" or _field_is_warm(log, zone_h) else "mind",
                say(
                    "By night, pump off, {told} on {count} of {nights} nights from {since} to {last}",
                    told=told,
                    count=f"{count}",
                    nights=f"{nights}",
                    since=day_said(since),
                    last=day_said(last),
                ),
                say(
                    "Heat rises out of the store through a loop at rest: the check valve passes, or its handle stands half open. "
                    "Shut one ball valve for a night, never one that parts the field from relief and vessel, and open it before the "
                    "sun is up; if it ends, clean the valve's seat."
                ),
            )
        ]
    return []


def _field_is_warm(log: Log, zone_h: float) -> bool:
    """Whether the field stands over the cold line in the last nights: outside by night it does so by heat from the store alone.

    Lines apart with a cold field may be one pipe that circulates within itself, or a probe too near the store.
    """
    if "field_c" not in log.columns:
        return False
    _, gap = night_gap(log, "field_c", "cold_c", zone_h=zone_h)
    return len(gap) > 0 and float(np.median(gap[-LAST_NIGHTS:])) > 0.0


def sees_nights(log: Log) -> bool:
    """Whether a log has what tells heat that rises by night: the pump, and both lines or field and air."""
    keys = set(log.columns)
    return "pump_share" in keys and ({"hot_c", "cold_c"} <= keys or {"field_c", "air_c"} <= keys)


def _begins(warm: NDArray[np.bool_]) -> int:
    """The first night of the newest stretch of which most are warm: where the sum of (warm - half) from the end is highest."""
    score = np.cumsum((warm.astype(float) - 0.5)[::-1])[::-1]
    return int(np.argmax(score))
