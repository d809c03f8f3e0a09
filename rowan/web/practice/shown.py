"""What a learner reads at the rig, and what was said beside what it showed."""

from __future__ import annotations

from typing import Any

from rowan.core.practice import rig as rigs
from rowan.core.practice.filling import BUBBLE_M3_S, FULL_COLOUR
from rowan.core.practice.rig import Track
from rowan.core.practice.rig_kernel import FLOWS_M3_S, Rig
from rowan.core.terms.units import System, shown
from rowan.web.practice.models import PracticeRun
from rowan.web.practice.services import SAYS_AT, near

COLOURS = ((0.25, "clear, old water"), (0.6, "half colour"), (FULL_COLOUR, "nearly full colour"), (2.0, "full colour"))


def readings(rig: Rig, track: Track, units: System) -> list[tuple[str, str]]:
    """What can be seen: gauge, flow at the hose, tubs, what comes back, bubbles. Nothing that nobody sees."""
    row = track.rows[-1]
    strongest = max(float(track.rows[:, rigs.STRENGTH].max()), 1e-9)
    share = row[rigs.DRAINED_STRENGTH] / strongest
    flows = row[rigs.FLOW] > FLOWS_M3_S
    comes = (
        "steam"
        if row[rigs.STEAMS] > 0
        else "nothing"
        if not flows
        else next(words for most, words in COLOURS if share <= most)
    )
    return [
        ("gauge", shown(float(row[rigs.GAUGE]) + rig.error, "pressure", units)),
        ("goes round", shown(float(row[rigs.FLOW]), "flow", units)),
        ("tub 1", shown(float(row[rigs.TUB1]), "volume", units)),
        ("tub 2", shown(float(row[rigs.TUB2]), "volume", units)),
        ("comes back", comes),
        ("the field", shown(float(row[rigs.FIELD_C]), "temperature", units)),
        ("bubbles at the hose", _bubbles(float(row[rigs.BUBBLES]), flows=bool(flows))),
        ("in the vessel", shown(float(row[rigs.VESSEL_HAS]), "volume", units)),
    ]


def _bubbles(rate: float, *, flows: bool) -> str:
    if not flows and rate <= 0:
        return "none, nothing flows"
    if rate < BUBBLE_M3_S:
        return "none"
    return "single ones" if rate < 1e-6 else "many" if rate < 3e-5 else "air alone"


def said_rows(run: PracticeRun, was: dict[str, float], units: System) -> list[dict[str, Any]]:
    """What was said before, and what the rig showed."""
    found = []
    for key, (words, dimension, _, _) in SAYS_AT[run.task].items():
        if key not in run.said or key not in was:
            continue
        said, real = float(run.said[key]), was[key]
        found.append(
            {
                "words": words,
                "said": shown(said, dimension, units),
                "was": shown(real, dimension, units),
                "near": near(said, real),
            }
        )
    return found
