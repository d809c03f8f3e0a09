"""What each run of many years is: its variants, and what it says of the outcomes so far."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import NamedTuple

from django.conf import settings

from rowan.core.terms.figure import Statement
from rowan.core.terms.language import as_messages
from rowan.web.benches.bench import Sheet
from rowan.web.studies.beside import Asked, workshop
from rowan.web.studies.work import Outcome, Variant, Work
from rowan.web.ui.svg import Drawing

PAGE_FIRST_S = 0.3  # a run that begins by itself lets its page be drawn first: both want the same processor
Outcomes = Sequence[Outcome | None]


@dataclass(frozen=True)
class Offer:
    """A button that takes what a run shows: its words, the input it sets and what is typed into it."""

    words: str
    path: str
    text: str


@dataclass(frozen=True)
class Told:
    """What a run says so far: a sentence above, the drawing, and what to know below."""

    verdict: Statement | None
    drawing: Drawing
    notes: tuple[Statement, ...] = ()
    offers: tuple[Offer, ...] = ()


@dataclass(frozen=True)
class RunKind:
    """A run: begun by itself where it is short, by a button where it is long."""

    key: str
    title: str
    variants: Callable[[Sheet], tuple[Variant, ...]]
    tell: Callable[[Sheet, Outcomes], Told]
    button: str = ""

    def __post_init__(self) -> None:
        as_messages(self, "title", "button")

    @property
    def by_itself(self) -> bool:
        """Whether it begins without being asked."""
        return not self.button


class Place(NamedTuple):
    """Where a run is asked for: newer work at the same desk (a plan, or somebody's proposal) ends the older; firms take turns."""

    desk: str
    firm: int


@dataclass(frozen=True)
class RunView:
    """A run as a page shows it."""

    kind: RunKind
    address: str
    work: Work | None
    told: Told | None

    @property
    def done(self) -> int:
        """Years that are there."""
        return self.work.done if self.work else 0

    @property
    def total(self) -> int:
        """Years in all."""
        return len(self.work.variants) if self.work else 0

    @property
    def waiting(self) -> bool:
        """Whether more will come."""
        return self.work is not None and not self.work.finished

    @property
    def percent(self) -> int:
        """How far it is."""
        return round(100 * self.done / self.total) if self.total else 0


def content_key(kind: RunKind, sheet: Sheet) -> str:
    """The content of a run: its kind, the plan and its weather, of which its variants follow. They are made when it begins."""
    measured = sheet.measured.digest if sheet.measured else ""
    return hashlib.sha256(f"{kind.key};{measured};{sheet.digest}".encode()).hexdigest()


def run_view(kind: RunKind, sheet: Sheet, place: Place, address: str, begin: bool) -> RunView:
    """A run with what it says so far; begun if it begins by itself or is asked to."""
    shop = workshop()
    asked = Asked(
        key=content_key(kind, sheet),
        place=f"{place.desk}:{kind.key}",
        firm=place.firm,
        variants=lambda: kind.variants(sheet),  # made when somebody needs them, for that takes as long as a year
        measured=sheet.measured,
    )
    work = shop.find(asked, at_once=kind.by_itself and not begin)
    if work is None and (begin or (kind.by_itself and settings.SHORT_RUNS_BEGIN)):
        work = shop.begin(asked, after_s=0.0 if begin else PAGE_FIRST_S)
    told = kind.tell(sheet, work.outcomes) if work is not None else None
    return RunView(kind, address, work, told)
