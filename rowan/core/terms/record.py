"""Records: what is said once and never changed. The type checker refuses to change a field; at run time nothing watches, unless
Python runs in its development mode.

A dataclass that watches itself takes 1.9 µs to make, one that does not 0.5, and a reckoning makes some thousand: a sixth of its time.
"""

from __future__ import annotations

import sys
from dataclasses import dataclass, field
from typing import TypeVar, dataclass_transform

T = TypeVar("T")
WATCHED = sys.flags.dev_mode


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def record(cls: type[T], /) -> type[T]:
    """A class of the fields it names, equal and of one hash where they are."""
    return dataclass(frozen=WATCHED, unsafe_hash=not WATCHED)(cls)


@dataclass_transform(frozen_default=True, kw_only_default=True, field_specifiers=(field,))
def record_by_names(cls: type[T], /) -> type[T]:
    """A record that is made by the names of its fields alone."""
    return dataclass(frozen=WATCHED, unsafe_hash=not WATCHED, kw_only=True)(cls)
