"""The one door to the reckoning of a saved revision: reckoned once, kept by its content."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from dataclasses import dataclass, field
from threading import Lock
from typing import Any

from rowan.core.appraise.appraisal import Appraisal
from rowan.core.design.design import Design
from rowan.core.design.job_file import read
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.studies.cures import Effect, cure_effect
from rowan.core.terms.finding import Finding
from rowan.core.weather.hours import Sky
from rowan.web.plans.models import Revision

KEPT = 128


@dataclass(frozen=True)
class Reckoned:
    """A design and its reckoning. Both are read, never changed. What each cure would do is kept once it was asked for."""

    design: Design
    result: Reckoning
    _effects: dict[tuple[str, int], Effect] = field(default_factory=dict, compare=False)

    def effect(self, finding: Finding, index: int, judged: Appraisal, measured: Sky | None) -> Effect:
        """What a cure of a finding would do; each cure's own year is run for it."""
        key = (finding.key, index)
        if key not in self._effects:
            self._effects[key] = cure_effect(
                design=self.design,
                before=self.result,
                judged=judged,
                finding=finding,
                cure=finding.cures[index],
                measured=measured,
            )
        return self._effects[key]

    def kept_effect(self, finding: Finding, index: int) -> Effect | None:
        """What a cure would do, if it was asked for before."""
        return self._effects.get((finding.key, index))


_kept: OrderedDict[str, Reckoned] = OrderedDict()
_lock = Lock()


def reckoned(revision: Revision) -> Reckoned:
    """Design and reckoning of a revision. Raises RowanError for one that can no longer be reckoned."""
    key = _key(revision.design)
    found = _taken(key)
    return found if found is not None else _keep(key, read(revision.design))


def reckoned_now(design: Design, data: dict[str, Any], before: Reckoned | None = None) -> Reckoned:
    """Design and reckoning of what is about to be saved as `data`, kept for the page that comes next."""
    key = _key(data)
    found = _taken(key)
    return found if found is not None else _keep(key, design, before)


def _key(data: dict[str, Any]) -> str:
    return hashlib.sha256(json.dumps(data, sort_keys=True).encode()).hexdigest()


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
