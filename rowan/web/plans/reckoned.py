"""The one door to the reckoning of a saved revision: reckoned once, kept by its content."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import field
from datetime import datetime
from functools import cached_property
from threading import Lock
from typing import Any, TypeVar

from rowan.core.appraise.appraisal import Account, Appraisal, appraise, by_day
from rowan.core.design.changes import counted
from rowan.core.design.design import Design
from rowan.core.design.job_file import read
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.simulation.simulate import simulate, year_by_key, year_key
from rowan.core.simulation.year import Year
from rowan.core.studies.cures import Effect, cure_effect
from rowan.core.studies.guesses import Guess, guesses
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Finding
from rowan.core.terms.record import record
from rowan.core.weather.hours import Sky
from rowan.web.plans.models import Revision

T = TypeVar("T")
KEPT = 64  # states; each may hold its year, half a megabyte


@record
class Reckoned:
    """A design and its reckoning. Both are read, never changed. What each cure would do is kept once it was asked for."""

    design: Design
    result: Reckoning
    _effects: dict[tuple[str, int], Effect] = field(default_factory=dict, compare=False)
    _years: dict[str, Year | RowanError] = field(default_factory=dict, compare=False)
    _keys: dict[str, str] = field(default_factory=dict, compare=False)
    _appraisals: dict[str, Appraisal] = field(default_factory=dict, compare=False)
    _accounts: dict[str, Account] = field(default_factory=dict, compare=False)
    _guesses: list[tuple[Guess, ...]] = field(default_factory=list, compare=False)
    _beside: dict[str, Any] = field(default_factory=dict, compare=False)

    @cached_property
    def counted(self) -> tuple[int, int]:
        """How many inputs are this job's, and how many of them nobody has measured, read or agreed."""
        return counted(self.design)

    def beside(self, name: str, make: Callable[[], T]) -> T:
        """Something made from it that takes a while, made once and kept as long as the reckoning is."""
        if name not in self._beside:
            self._beside[name] = make()
        found: T = self._beside[name]
        return found

    def kept_year(self, measured: Sky | None) -> Year | RowanError | None:
        """The plan's year, or why none can be run; None if nobody has asked for it yet."""
        found = self._years.get(_weather(measured))
        if found is not None:
            return found
        try:
            key = self._keys.get(_weather(measured)) or year_key(self.design, self.result, measured=measured)
        except RowanError as error:
            return self._years.setdefault(_weather(measured), error)
        self._keys[_weather(measured)] = key
        year = year_by_key(key)
        return None if year is None else self._years.setdefault(_weather(measured), year)

    def year(self, measured: Sky | None) -> Year:
        """The plan's year, run if it has not been. Raises RowanError."""
        found = self.kept_year(measured)
        if found is None:
            found = self._years.setdefault(_weather(measured), simulate(self.design, self.result, measured=measured))
        if isinstance(found, RowanError):
            raise found.with_traceback(None)  # one refusal, raised often: its frames must not pile up
        return found

    def appraisal(self, measured: Sky | None, *, cures: bool = False) -> Appraisal:
        """What the plan's year says of it; the year is run if it has not been. With `cures` what would calm its pump is tried."""
        key = _weather(measured) + (" with cures" if cures else "")
        if key not in self._appraisals:
            try:
                year = self.year(measured)
            except RowanError:
                year = None
            self._appraisals[key] = appraise(self.design, self.result, year, measured=measured, cures=cures)
        return self._appraisals[key]

    def guesses(self) -> tuple[Guess, ...]:
        """What nobody has measured, the most telling first; reckoned once it is asked for."""
        if not self._guesses:
            self._guesses.append(guesses(self.design, self.result))
        return self._guesses[0]

    def account(self, measured: Sky | None) -> Account:
        """What the history compares: everything but the year."""
        key = _weather(measured)
        if key not in self._accounts:
            self._accounts[key] = by_day(self.design, self.result, measured=measured)
        return self._accounts[key]

    def effect(self, finding: Finding, index: int, measured: Sky | None) -> Effect:
        """What a cure of a finding would do; each cure's own year is run for it."""
        key = (finding.key, index)
        if key not in self._effects:
            self._effects[key] = cure_effect(
                design=self.design,
                before=self.result,
                finding=finding,
                cure=finding.cures[index],
                measured=measured,
            )
        return self._effects[key]

    def kept_effect(self, finding: Finding, index: int) -> Effect | None:
        """What a cure would do, if it was asked for before."""
        return self._effects.get((finding.key, index))


# the newest state of each plan whose year was shown: it stands in while that of a newer one is being run
_shown: OrderedDict[int, Reckoned] = OrderedDict()


def note_shown(plan: int, found: Reckoned) -> None:
    """Keeps which state's year a plan's page has shown."""
    with _lock:
        _shown[plan] = found
        _shown.move_to_end(plan)
        while len(_shown) > KEPT:
            _shown.popitem(last=False)


def last_shown(plan: int) -> Reckoned | None:
    """The state whose year was shown last; None where none was."""
    with _lock:
        return _shown.get(plan)


def _weather(measured: Sky | None) -> str:
    return measured.digest if measured is not None else ""


_kept: OrderedDict[str, Reckoned] = OrderedDict()
_contents: OrderedDict[tuple[int, datetime], str] = OrderedDict()
_lock = Lock()


def reckoned(revision: Revision) -> Reckoned:
    """Design and reckoning of a revision. Raises RowanError for one that can no longer be reckoned."""
    key = content_of(revision)
    found = _taken(key)
    return found if found is not None else _keep(key, read(revision.design))


def reckoned_now(design: Design, key: str, before: Reckoned | None = None) -> Reckoned:
    """Design and reckoning of what is about to be saved, kept by its content's key for the page that comes next."""
    found = _taken(key)
    return found if found is not None else _keep(key, design, before)


def content_of(revision: Revision) -> str:
    """The content of a revision, which never changes: told once, and known again by its number and the moment it was made."""
    if revision.pk is None:
        return content_key(revision.text)  # nobody saved it: it has no number to be known by
    known = (revision.pk, revision.created)
    with _lock:
        found = _contents.get(known)
    if found is None:
        found = content_key(revision.text)
        note_content(revision, found)
    return found


def note_content(revision: Revision, key: str) -> None:
    """Keeps the content of a saved revision, so that it need not be told again."""
    with _lock:
        _contents[(revision.pk, revision.created)] = key
        while len(_contents) > KEPT:
            _contents.popitem(last=False)


def content_key(text: bytes) -> str:
    """What a design is known by, of its text as it is kept: the same for the same content in the same order."""
    return hashlib.sha256(text).hexdigest()


def _taken(key: str) -> Reckoned | None:
    with _lock:
        found = _kept.get(key)
        if found is not None:
            _kept.move_to_end(key)
        return found


def _keep(key: str, design: Design, before: Reckoned | None = None) -> Reckoned:
    made = Reckoned(design, reckon(design, Known(before.design, before.result) if before else None))
    with _lock:
        _kept[key] = made
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return made
