"""How the parts of the loop are compiled: as parts of one whole, which alone is kept on disk."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar, cast

from numba import config, njit

Part = TypeVar("Part", bound=Callable[..., Any])

# loops over five or twelve nodes are too short to be taken four at a time: the checks before them cost a quarter of a step
config.LOOP_VECTORIZE = 0  # type: ignore[attr-defined]
# nothing compiled here makes an array: without the count of who holds one a step takes a third less time
COMPILED: dict[str, Any] = {"error_model": "numpy", "fastmath": True, "nogil": True, "_nrt": False}


def called(function: Part) -> Part:
    """A part that is called: functions of the controller, what happens seldom."""
    return cast(Part, njit(**COMPILED)(function))


def inlined(function: Part) -> Part:
    """A part of every step, which is put where it is used: a call would hand over some thirty numbers."""
    return cast(Part, njit(forceinline=True, **COMPILED)(function))
