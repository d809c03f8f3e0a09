"""What each run of many years is: its variants, and what it says of the outcomes so far."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from typing import NamedTuple

from django.conf import settings

from rowan.core.terms.figure import Statement
from rowan.core.terms.language import as_messages
from rowan.core.terms.record import record
from rowan.web.benches.bench import Sheet
from rowan.web.studies.beside import Asked, workshop
from rowan.web.studies.work import Outcome, Variant
from rowan.web.ui.svg import Drawing

Outcomes = Sequence[Outcome | None]


@record
class Offer:
    """A button that takes what a run shows: its words, the input it sets and what is typed into it."""

    words: str
    path: str
    text: str


@record
class Told:
    """What a run says so far: a sentence above, the drawing, and what to know below."""

    verdict: Statement | None
    drawing: Drawing
    notes: tuple[Statement, ...] = ()
    offers: tuple[Offer, ...] = ()


@record
class RunKind:
    """A run: begun by itself where it is short, by a button where it is long. `count` is how many variants a short one has, for
    its page to say so before any of them is made."""

    key: str
    title: str
    variants: Callable[[Sheet], tuple[Variant, ...]]
    tell: Callable[[Sheet, Outcomes], Told]
    button: str = ""
    count: Callable[[Sheet], int] | None = None

    def __post_init__(self) -> None:
        if bool(self.button) is (self.count is not None):
            raise TypeError(f"the run {self.key} begins by its button or by itself, one of the two")
        as_messages(self, "title", "button")

    @property
    def by_itself(self) -> bool:
        """Whether it begins without being asked."""
        return self.count is not None


class Place(NamedTuple):
    """Where a run is asked for: newer work at the same desk (a plan, or somebody's proposal) ends the older; firms take turns."""

    desk: str
    firm: int

    def of(self, kind: RunKind) -> str:
        """The place of one kind of run at that desk."""
        return f"{self.desk}:{kind.key}"


@record
class RunView:
    """A run as a page shows it, at one moment: years come in while a page is made of it, and what it says and whether more will come
    must be of the same ones. One that is announced has none yet, and begins when the page asks for it."""

    kind: RunKind
    address: str
    told: Told | None
    outcomes: Outcomes = ()

    @property
    def done(self) -> int:
        """Years that are there."""
        return self.total - self.outcomes.count(None)

    @property
    def total(self) -> int:
        """Years in all."""
        return len(self.outcomes)

    @property
    def waiting(self) -> bool:
        """Whether more will come."""
        return self.done < self.total

    @property
    def percent(self) -> int:
        """How far it is."""
        return round(100 * self.done / self.total) if self.total else 0


def content_key(kind: RunKind, sheet: Sheet) -> str:
    """The content of a run: its kind, the plan and its weather, of which its variants follow. They are made when it begins."""
    measured = sheet.measured.digest if sheet.measured else ""
    return hashlib.sha256(f"{kind.key};{measured};{sheet.digest}".encode()).hexdigest()


def run_view(kind: RunKind, sheet: Sheet, place: Place, address: str, begin: bool) -> RunView:
    """A run with what it says so far, begun if it is asked to. One that begins by itself does so when its page is painted and asks
    for it: making its variants takes as long as the page, and both want the same processor."""
    shop = workshop()
    asked = Asked(
        key=content_key(kind, sheet),
        place=place.of(kind),
        firm=place.firm,
        variants=lambda: kind.variants(sheet),  # made when somebody needs them, for that takes as long as a year
        measured=sheet.measured,
    )
    work = shop.find(asked, at_once=kind.by_itself and not begin)
    if work is None and begin:
        work = shop.begin(asked)
    if work is not None:
        outcomes: Outcomes = tuple(work.outcomes)
    elif kind.count is not None and settings.SHORT_RUNS_BEGIN:
        outcomes = (None,) * kind.count(sheet)
    else:
        return RunView(kind, address, None)
    return RunView(kind, address, kind.tell(sheet, outcomes), outcomes)
