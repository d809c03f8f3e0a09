"""Where a job stands, from the enquiry to the years of service, and what is missing for its next step.

A rule of the house: a state is set by somebody, never by the program; what is missing is said beside it. Source: practice 0, 15.
"""

from __future__ import annotations

from typing import Literal

from rowan.core.terms.finding import Level, rank
from rowan.core.terms.language import Message
from rowan.core.terms.record import record

State = Literal[
    "enquiry", "surveyed", "quoted", "agreed", "goods", "roof", "commissioned", "handed_over", "service", "declined"
]
STATES: dict[State, str] = {
    "enquiry": Message("enquiry"),
    "surveyed": Message("surveyed"),
    "quoted": Message("quoted"),
    "agreed": Message("agreed"),
    "goods": Message("goods in the yard"),
    "roof": Message("on the roof"),
    "commissioned": Message("commissioned"),
    "handed_over": Message("handed over"),
    "service": Message("in service"),
}
# ends the way from any state: the house is too much in the shade, or they want another
DECLINED = "declined"
# the state from which on a plan is built: what would stop it must be mended by then
BUILT_FROM: State = "agreed"


@record
class Facts:
    """What is known of a job: of its customer, its plan, its runs and its papers."""

    customer: bool = False
    address: bool = False
    survey_closed: bool = False
    # key inputs that nobody has measured: those that a survey is for
    unmeasured: int = 0
    # titles of findings that stop the plan, and that must be mended
    stops: tuple[str, ...] = ()
    fixes: tuple[str, ...] = ()
    offered: bool = False
    visit_planned: bool = False
    delivery_closed: bool = False
    roof_closed: bool = False
    first_closed: bool = False
    frost_point_read: bool = True
    settings_read_again: bool = True


@record
class Missing:
    """Something that the next state wants: how grave, and what."""

    level: Level
    words: str


def next_state(state: State) -> State | None:
    """The state after one; None after the last, and for a job that was declined."""
    order = list(STATES)
    return order[order.index(state) + 1] if state in order[:-1] else None


def missing_for(state: State, facts: Facts) -> tuple[Missing, ...]:
    """What is missing before a job comes to `state`, the gravest first; nothing for a state that wants nothing."""
    wanted: dict[State, tuple[tuple[bool, Level, str], ...]] = {
        "surveyed": (
            (facts.address, "fix", "no address"),
            (facts.survey_closed or not facts.unmeasured, "mind", f"{facts.unmeasured} inputs of the survey are guesses"),
        ),
        "quoted": (
            (facts.customer, "fix", "no customer"),
            (not facts.stops, "fix", "; ".join(facts.stops[:2])),
            (facts.offered, "mind", "no quotation was made"),
        ),
        "agreed": ((not facts.stops, "stop", "; ".join(facts.stops[:2])), (facts.customer, "fix", "no customer")),
        "goods": (
            (facts.delivery_closed, "mind", "the delivery was not checked"),
            (not facts.fixes, "mind", "; ".join(facts.fixes[:2])),
        ),
        "roof": (
            (not facts.stops, "stop", "; ".join(facts.stops[:2])),
            (facts.visit_planned or facts.roof_closed, "mind", "no day on the roof is planned"),
        ),
        "commissioned": (
            (facts.roof_closed, "mind", "the work on the roof is not closed"),
            (facts.first_closed, "fix", "no first commissioning is closed"),
        ),
        "handed_over": (
            (facts.first_closed, "fix", "no first commissioning is closed"),
            (facts.frost_point_read, "fix", "frost point not read"),
            (facts.settings_read_again, "mind", "settings not read again"),
            (facts.customer, "fix", "no customer to hand over to"),
        ),
    }  # fmt: skip
    found = [Missing(level, words) for is_there, level, words in wanted.get(state, ()) if not is_there]
    return tuple(sorted(found, key=lambda one: rank(one.level)))
