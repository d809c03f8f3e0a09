"""What a run is made of: the numbers of its rig or the plan as it was, out of what is kept with it."""

from __future__ import annotations

import hashlib
import json
from dataclasses import asdict
from typing import Any

import numpy as np

from rowan.core.design.design import Design
from rowan.core.design.job_file import read
from rowan.core.practice import cabinet, draining
from rowan.core.practice.rig import Ready
from rowan.core.practice.rig_kernel import Rig
from rowan.core.practice.sheets.ground import Ground
from rowan.core.reckon import reckon
from rowan.core.simulation.cache import Kept
from rowan.web.plans.packing import packed, text_of, unpacked
from rowan.web.practice.models import PracticeRun

_grounds, _cabinets = Kept(32), Kept(16)


def rig_kept(rig: Rig, ready: Ready, wanted: float) -> dict[str, Any]:
    """The numbers of a rig as a run keeps them."""
    made = {key: value.tolist() if isinstance(value, np.ndarray) else value for key, value in rig._asdict().items()}
    return {"rig": made, "ready": asdict(ready), "wanted": wanted}


def rig_in(run: PracticeRun) -> tuple[Rig, Ready, float]:
    """The rig of a run, how it was made ready, and the share of glycol that is wanted."""
    made = dict(run.rig["rig"])
    made["rise"] = np.array(made["rise"], dtype=float)
    made["pocket_at"] = np.array(made["pocket_at"], dtype=np.int64)
    return Rig(**made), Ready(**run.rig["ready"]), float(run.rig["wanted"])


def tank_in(run: PracticeRun) -> draining.Tank:
    """The rig of a run on a loop that drains."""
    return draining.Tank(**run.rig["tank"])


def course_of(run: PracticeRun) -> draining.Course:
    """Such a run, played to where it stands."""
    return draining.play(tank_in(run), run.played, run.until)


def design_kept(design: Design) -> bytes:
    """A plan as a run keeps it."""
    return packed(text_of(design.model_dump(mode="json")))


def content_of(run: PracticeRun) -> tuple[str, int]:
    """What tells the plan and the seed of one run from those of another."""
    return hashlib.sha256(bytes(run.design or b"")).hexdigest(), int(run.rig["seed"])


def ground_in(run: PracticeRun) -> Ground:
    """The plan and the seed that a run keeps, reckoned; kept by their content."""
    key = content_of(run)
    found: Ground | None = _grounds.get(key)
    if found is None:
        design = read(json.loads(unpacked(bytes(run.design or b""))))
        found = _grounds.keep(key, Ground(design, reckon(design), key[1]))
    return found


def cabinet_in(run: PracticeRun) -> cabinet.Cabinet:
    """The rig with its controller that a run was begun on; kept by its content."""
    key = content_of(run)
    found: cabinet.Cabinet | None = _cabinets.get(key)
    if found is None:
        found = _cabinets.keep(key, cabinet.cabinet_of(ground_in(run)))
    return found


def cabinet_course(run: PracticeRun) -> cabinet.Course:
    """Such a run, played to where it stands."""
    return cabinet.play(cabinet_in(run), run.played, run.until)
