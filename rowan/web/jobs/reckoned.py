"""The one door to the reckoning of a saved revision: reckoned once, kept by its content."""

from __future__ import annotations

import hashlib
import json
from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock

from rowan.core.design.design import Design
from rowan.core.design.jobfile import read
from rowan.core.reckon import Reckoning, reckon
from rowan.web.jobs.models import Revision

KEPT = 128


@dataclass(frozen=True)
class Reckoned:
    """A design and its reckoning. Both are read, never changed."""

    design: Design
    result: Reckoning


_kept: OrderedDict[str, Reckoned] = OrderedDict()
_lock = Lock()


def reckoned(revision: Revision) -> Reckoned:
    """Design and reckoning of a revision. Raises RowanError for one that can no longer be reckoned."""
    key = hashlib.sha256(json.dumps(revision.design, sort_keys=True).encode()).hexdigest()
    with _lock:
        found = _kept.get(key)
        if found is not None:
            _kept.move_to_end(key)
            return found
    design = read(revision.design)
    made = Reckoned(design, reckon(design))
    with _lock:
        _kept[key] = made
        while len(_kept) > KEPT:
            _kept.popitem(last=False)
    return made
