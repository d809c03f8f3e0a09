"""A vessel from its data sheet: what it takes at most, what it stands, how it comes; with a plausibility check."""

from __future__ import annotations

from rowan.core.design.design import Design
from rowan.core.terms.errors import OutOfRangeError
from rowan.core.terms.figure import Quantity, Statement, say
from rowan.core.terms.finding import Change
from rowan.core.terms.record import record
from rowan.core.terms.units import LITRE

# what is usual, rules of thumb: the works' charge [Pa gauge], the share that must stay gas [-]
MOST_WORKS_PA = 400e3
LEAST_GAS, MOST_GAS = 0.15, 0.65


@record
class VesselSheet:
    """Contents [L], liquid it takes at most [L], rating and works' charge [Pa gauge], what its membrane stands [°C]; None is not printed."""

    contents_l: float
    takes_l: float | None
    rated_gauge_pa: float
    works_gauge_pa: float | None
    membrane_c: float


def sheet_of_vessel(design: Design) -> VesselSheet:
    """The plan's vessel as a data sheet would have it."""
    charge = design.charge
    gas, contents = charge.vessel_gas_share, charge.vessel_l.value
    takes = None if gas.origin == "assumed" else contents * (1 - gas.value)
    works = charge.vessel_works_gauge_pa.value
    return VesselSheet(contents, takes, charge.vessel_rated_gauge_pa.value, works, charge.membrane_c.value)


def vessel_changes(design: Design, sheet: VesselSheet) -> list[Change]:
    """What a sheet changes in a plan; a line that is not printed leaves what the plan assumes.

    Raises OutOfRangeError for a vessel that would take more than it holds.
    """
    if sheet.takes_l is not None and not 0 < sheet.takes_l < sheet.contents_l:
        raise OutOfRangeError("liquid it takes at most", sheet.takes_l, 0, sheet.contents_l, "L", above=True)
    changes = [
        Change("charge.vessel_l", sheet.contents_l, "data sheet"),
        Change("charge.vessel_rated_gauge_pa", sheet.rated_gauge_pa, "data sheet"),
        Change("charge.vessel_works_gauge_pa", sheet.works_gauge_pa, "data sheet"),
        Change("charge.membrane_c", sheet.membrane_c, "data sheet"),
    ]
    if sheet.takes_l is not None:
        share = round(1 - sheet.takes_l / sheet.contents_l, 6)
        changes.append(Change("charge.vessel_gas_share", share, "data sheet"))
    return changes


def vessel_doubts(sheet: VesselSheet) -> tuple[Statement, ...]:
    """What on a vessel's sheet looks as if a line had been mixed up."""
    found = []
    works = sheet.works_gauge_pa
    if works is not None and works >= sheet.rated_gauge_pa:
        found.append(say("it would come charged to what it stands at most: the two lines may be swapped"))
    elif works is not None and works > MOST_WORKS_PA:
        words = "it would come charged to {p}; {l} is seldom passed: the charge, or the rating?"
        found.append(say(words, p=Quantity(works, "pressure"), l=Quantity(MOST_WORKS_PA, "pressure")))
    if sheet.takes_l is not None and not LEAST_GAS <= 1 - sheet.takes_l / sheet.contents_l <= MOST_GAS:
        words = "of {v} it would take {t}; between {a} and {b} is usual: another size of the same line?"
        low, high = (sheet.contents_l * (1 - share) * LITRE for share in (MOST_GAS, LEAST_GAS))
        found.append(
            say(
                words,
                v=Quantity(sheet.contents_l * LITRE, "tank"),
                t=Quantity(sheet.takes_l * LITRE, "tank"),
                a=Quantity(low, "tank"),
                b=Quantity(high, "tank"),
            )
        )
    return tuple(found)
