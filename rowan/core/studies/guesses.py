"""What a guess is worth: how much the plan moves if it is wrong, so that the most telling one is measured first.

A number is taken a tenth higher, a count one more, a choice the other way. What has no window weighs by its own share.
"""

from __future__ import annotations

import math

from rowan.core.design.changes import Located, assumed, changed
from rowan.core.design.design import Design
from rowan.core.reckon import Known, Reckoning, reckon
from rowan.core.studies.moved_figures import Moved, difference
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import LEVELS, Change, Finding
from rowan.core.terms.record import record
from rowan.core.terms.units import SYSTEMS

WRONG_BY = 0.1  # of a number, as people guess
CUTTING = ("offcut", "pipe_pieces")  # jump with every length, whatever they are worth
BY_LEVEL = {"stop": 100.0, "fix": 10.0, "mind": 1.0}  # what a finding that would come weighs beside figures


@record
class Guess:
    """An input nobody has measured, the figure it would move most and the gravest finding that would come, if it is wrong."""

    found: Located
    moves: Moved | None
    brings: Finding | None

    @property
    def decided(self) -> bool:
        """Whether it is a choice that somebody makes, and nothing to be measured or read."""
        return self.found.spec.kind in ("choice", "flag", "item", "text")

    @property
    def weight(self) -> float:
        """How much it tells [-]: a finding before any figure, else the figure's move by its window."""
        figure = min(self.moves.weight, 1.0) if self.moves else 0.0
        return figure + (BY_LEVEL[self.brings.level] if self.brings else 0.0)


def guesses(design: Design, result: Reckoning) -> tuple[Guess, ...]:
    """Every guess of a plan: what can be measured first, the most telling before the rest, then what is decided, so too.

    Those that tell as little keep the working order.
    """
    found = [_guess(design, result, one) for one in assumed(design)]
    return tuple(sorted(found, key=lambda guess: (guess.decided, -round(guess.weight, 4))))


def _guess(design: Design, result: Reckoning, found: Located) -> Guess:
    for value in _otherwise(found):
        try:
            after = reckon(changed(design, [Change(found.path, value)]), Known(design, result))
        except RowanError:
            continue
        told = difference(result, after)
        own = [moved for moved in told.moved if _tells(moved, found, value)]
        graver = sorted(told.came, key=lambda finding: LEVELS.index(finding.level))
        return Guess(found, own[0] if own else None, graver[0] if graver else None)
    return Guess(found, None, None)


def _tells(moved: Moved, found: Located, value: object) -> bool:
    """Whether a moved figure says something: not the input over again, not how pipe is cut, and not digits that nobody sees."""
    before, after = moved.before, moved.after
    if before is None or after is None or moved.key in CUTTING:
        return False
    if isinstance(value, int | float) and math.isclose(after.value, found.spec.si(float(value)), rel_tol=1e-9):
        return False
    return all(before.shown(system) != after.shown(system) for system in SYSTEMS)


def _otherwise(found: Located) -> list[object]:
    """What it might be instead, the likelier first; none for a text, an item or what nobody knows."""
    spec, value = found.spec, found.value
    if value is None or spec.kind in ("text", "item"):
        return []
    if spec.kind in ("choice", "flag"):
        return [key for key, _ in spec.choices if key != value]
    if spec.kind == "whole":
        return [value + 1, value - 1]
    return [value * (1 + WRONG_BY), value * (1 - WRONG_BY)] if value else [spec.step or WRONG_BY]
