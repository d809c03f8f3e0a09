"""What dragging something on a drawing changes in the design."""

from __future__ import annotations

from rowan.core.design.changes import locate
from rowan.core.design.design import Design
from rowan.core.errors import JobFileError
from rowan.core.findings import Change


def joint_changes(design: Design, line: str, leg_id: str, lift: float) -> list[Change]:
    """Lift the joint at a leg's end by `lift` [m]: this leg rises more, the next one less; a fitted leg takes it up."""
    legs = design.run.cold if line == "cold" else design.run.hot
    at = next((i for i, leg in enumerate(legs) if leg.id == leg_id), None)
    if at is None:
        raise JobFileError(f"joint:{line}.{leg_id}", "there is no such joint")
    changes = []
    for leg, change in ((legs[at], lift), (legs[at + 1] if at + 1 < len(legs) else None, -lift)):
        if leg is not None and not leg.fitted:
            rise = round(leg.rise_m + change, 4)
            if abs(rise) > leg.length_m + 1e-9:
                raise JobFileError(
                    f"run.{line}.{leg.id}", f"this leg is {leg.length_m:g} m long and cannot rise {abs(rise):.2f} m"
                )
            changes.append(Change(f"run.{line}.{leg.id}.rise_m", rise))
    return changes


def handle_changes(design: Design, path: str, value: float) -> list[Change]:
    """Changes of a handle: `joint:hot.h4` lifts a joint by a value [m], any other path sets its input (stored unit)."""
    if path.startswith("joint:"):
        line, _, leg = path.removeprefix("joint:").partition(".")
        return joint_changes(design, line, leg, value)
    spec = locate(design, path).spec
    if spec.kind not in ("number", "whole"):
        raise JobFileError(path, "this is not moved on a drawing")
    reason = spec.refuse(value)
    if reason:
        raise JobFileError(path, reason)
    return [Change(path, round(value, 6))]
