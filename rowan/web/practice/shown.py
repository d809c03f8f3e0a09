"""What a learner reads at the rig, and what was said beside what it showed."""

from __future__ import annotations

from typing import Any

import numpy as np

from rowan.core.practice import rig as rigs
from rowan.core.practice.filling import FULL_COLOUR
from rowan.core.practice.rig import NAMES, POSITIONS, Track
from rowan.core.terms.units import System, shown
from rowan.web.practice.models import PracticeRun
from rowan.web.practice.services import CLOSE, SAYS

FULL_AIR_M3 = 2.0e-3  # left in the loop, from which a learner would call it full
COLOURS = ((0.25, "clear, old water"), (0.6, "half colour"), (FULL_COLOUR, "nearly full colour"), (2.0, "full colour"))


def readings(track: Track, units: System) -> list[tuple[str, str]]:
    """What can be seen: gauge, flow at the hose, tubs, what comes back, bubbles. Nothing that nobody sees."""
    row = track.rows[-1]
    strongest = max(float(track.rows[:, rigs.STRENGTH].max()), 1e-9)
    share = row[rigs.DRAINED_STRENGTH] / strongest
    flows = row[rigs.FLOW] > 1e-6
    comes = "nothing" if not flows else next(words for most, words in COLOURS if share <= most)
    return [
        ("gauge", shown(float(row[rigs.GAUGE]), "pressure", units)),
        ("goes round", shown(float(row[rigs.FLOW]), "flow", units)),
        ("tub 1", shown(float(row[rigs.TUB1]), "volume", units)),
        ("tub 2", shown(float(row[rigs.TUB2]), "volume", units)),
        ("comes back", comes),
        ("bubbles at the hose", _bubbles(float(row[rigs.BUBBLES]), flows=bool(flows))),
        ("in the vessel", shown(float(row[rigs.VESSEL_HAS]), "volume", units)),
    ]


def _bubbles(rate: float, *, flows: bool) -> str:
    if not flows and rate <= 0:
        return "none, nothing flows"
    if rate < 2e-9:
        return "none"
    return "single ones" if rate < 1e-6 else "many" if rate < 3e-5 else "air alone"


def said_rows(run: PracticeRun, track: Track, units: System) -> list[dict[str, Any]]:
    """What was said, and what the rig showed."""
    was = _was(track)
    found = []
    for key, (words, dimension, _, _) in SAYS.items():
        if key not in run.said or was[key] is None:
            continue
        said, real = float(run.said[key]), float(was[key] or 0.0)
        near = abs(said - real) <= CLOSE * max(abs(real), 1e-9)
        found.append(
            {"words": words, "said": shown(said, dimension, units), "was": shown(real, dimension, units), "near": near}
        )
    return found


def _was(track: Track) -> dict[str, float | None]:
    rows = track.rows
    hose = track.handles[:, NAMES.index("hose")] == POSITIONS["tub 1"]
    flowed = rows[:, rigs.TUB2] > 0.0
    full = np.flatnonzero((rows[:, rigs.AIR] < FULL_AIR_M3) & (rows[:, rigs.SECOND] > 0))
    return {
        "old_water": float(rows[-1, rigs.TUB2]) if flowed.any() or hose.all() else None,
        "tub_full": float(rows[full[0], rigs.TUB1]) if len(full) else None,
        "mix_end": float(rows[-1, rigs.STRENGTH]),
    }
