"""A design, its reckoning and its year in; what needs all of them out. The one truth about heat and money.

Pages, lists, papers and comparisons show these figures and no estimate. Where no year can be run there is no heat and no
money, and what rests on a single day stands alone.
"""

from __future__ import annotations

from collections.abc import Mapping

from rowan.core.appraise.heat import heat_figures
from rowan.core.appraise.hunting import Starts, hunting, starts_of
from rowan.core.appraise.hygiene import hygiene
from rowan.core.appraise.money import Money, money_of
from rowan.core.design.design import Design
from rowan.core.reckon import Reckoning
from rowan.core.simulation.simulate import simulate
from rowan.core.simulation.year import Year
from rowan.core.terms.errors import RowanError
from rowan.core.terms.figure import Figure
from rowan.core.terms.finding import Finding, in_order
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky


@record
class Appraisal:
    """What a plan's year says of it: money, its pump's starts, figures and findings; `year` None where none can be run."""

    year: Year | None
    money: Money | None
    starts: Starts | None
    figures: tuple[Figure, ...]
    findings: tuple[Finding, ...]


def appraise(
    design: Design, reckoning: Reckoning, year: Year | None, *, measured: Sky | None = None, cures: bool = False
) -> Appraisal:
    """Judge a reckoned plan by its year; `measured` is the weather the plan names, for its two days. With `cures` what would
    calm its pump is tried on them."""
    starts = starts_of(design, reckoning, measured)
    found = list(hunting(design, reckoning, starts, measured, cures=cures))
    if year is None:
        return Appraisal(None, None, starts, (), tuple(found))
    money = money_of(design, year, price=reckoning.parts.price)
    found += hygiene(design, year)
    return Appraisal(year, money, starts, (*heat_figures(design, year), *money.figures), tuple(found))


def appraised(design: Design, reckoning: Reckoning, *, measured: Sky | None = None, cures: bool = False) -> Appraisal:
    """The year is run where one can be, then judged: for whoever can wait."""
    try:
        year = simulate(design, reckoning, measured=measured)
    except RowanError:
        year = None
    return appraise(design, reckoning, year, measured=measured, cures=cures)


@record
class Account:
    """Figures by key and findings, gravest first, of a plan at one time: what is compared with another time."""

    figures: Mapping[str, Figure]
    findings: tuple[Finding, ...]


def by_day(design: Design, reckoning: Reckoning, *, measured: Sky | None = None) -> Account:
    """A plan's account without its year, for many of them at once: the broken day is run, so that hunting is told."""
    judged = appraise(design, reckoning, None, measured=measured)
    return Account(reckoning.figures, all_findings(reckoning, judged))


def all_findings(reckoning: Reckoning, appraisal: Appraisal) -> tuple[Finding, ...]:
    """Every finding of a plan, gravest first."""
    return in_order([*reckoning.findings, *appraisal.findings])


def all_figures(reckoning: Reckoning, appraisal: Appraisal) -> dict[str, Figure]:
    """Every figure of a plan by its key, those of its year first."""
    return {**{figure.key: figure for figure in appraisal.figures}, **reckoning.figures}
