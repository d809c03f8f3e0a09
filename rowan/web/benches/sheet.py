"""The sheet of a plan as it stands: what pages beside the benches and papers are made from."""

from __future__ import annotations

from rowan.core.terms.units import System
from rowan.web.benches.bench import NO_LOOK, Look, Sheet, sheet_from
from rowan.web.plans.models import Plan, Revision
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.weather import measured_sky


def sheet_of(plan: Plan, units: System, look: Look = NO_LOOK, head: Revision | None = None) -> Sheet:
    """Design and reckoning of a plan's newest revision, `head` where it is at hand."""
    found = reckoned(head or plan.head)
    return sheet_from(found, units, measured_sky(found.design, plan.job.firm_id), look)
