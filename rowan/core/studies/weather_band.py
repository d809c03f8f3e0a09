"""Twenty made years as a band, and why the estimate by months differs from the year."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from rowan.core.design.design import Design
from rowan.core.simulation.year import Year
from rowan.core.terms.errors import ImpossibleInputError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH

BAND_YEARS = 20  # made years, methods 18
PERCENTILES = (10.0, 50.0, 90.0)  # of a hundred years
SOME_POINTS = 0.03  # of the demand, from which a difference is explained


@record
class Band:
    """The tenth, fiftieth and ninetieth part of a hundred years; `low` is reached or passed in nine years of ten."""

    low: float
    middle: float
    high: float


def band(values: Sequence[float]) -> Band:
    """P10, P50 and P90 of values, linear between them. Raises ImpossibleInputError without values."""
    if not len(values):
        raise ImpossibleInputError("a band needs at least one year")
    low, middle, high = np.percentile(np.asarray(values, dtype=float), PERCENTILES)
    return Band(float(low), float(middle), float(high))


def why_estimate_differs(design: Design, estimate: float | None, year: Year) -> Statement:
    """Why the monthly estimate and the year are not the same, by what this plan has."""
    if estimate is None:
        return say("There is no estimate by months for this duty: the correlation is made for hot water.")
    gap = (estimate - year.solar_heat) / max(year.total("demand"), KWH)
    words = {"e": Quantity(estimate, "energy"), "y": Quantity(year.solar_heat, "energy")}
    if abs(gap) < SOME_POINTS:
        return say("The estimate by months says {e}, the year {y}: they agree.", **words)
    if gap < 0:
        return say(
            "The estimate by months says {e}, the year {y}. The year counts all heat the sun brings into the store, and what the "
            "store then loses is not taken off; the estimate counts what is drawn.",
            **words,
        )
    reasons = []
    if design.store.backup.value in ("coil", "element"):
        reasons.append("the backup keeps the upper store at {b}, so the sun works against warmer water")
        words["b"] = Quantity(design.store.backup_c.value, "temperature")
    lines = year.total("line_loss") / max(year.total("collector"), 1.0)
    if lines > 0.1:
        reasons.append("the lines lose {l} of the field's heat, which the estimate leaves out")
        words["l"] = Quantity(lines, "share")
    reasons.append("the pump starts and stops with passing clouds, which monthly means do not know")
    return say("The estimate by months says {e}, the year {y}: {reasons}.", reasons="; ".join(reasons), **words)
