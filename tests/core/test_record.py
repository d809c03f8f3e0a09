"""Records: equal where their fields are, watched where Python's development mode asks for it."""

from __future__ import annotations

import subprocess
import sys
from dataclasses import fields, replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.terms.record import record, record_by_names


@record
class Pair:
    first: float
    second: str = ""


@record_by_names
class Named:
    first: float


@given(first=st.floats(allow_nan=False), other=st.floats(allow_nan=False))
def test_equal_and_of_one_hash_where_the_fields_are(first: float, other: float) -> None:
    one, same = Pair(first), Pair(first, "")
    assert one == same
    assert hash(one) == hash(same)
    assert (one == Pair(other)) is (first == other)
    moved = replace(one, second="x")
    assert (moved.first, moved.second, one.second) == (first, "x", "")
    assert [field.name for field in fields(one)] == ["first", "second"]


def test_by_names_alone() -> None:
    assert Named(first=2.0).first == 2.0
    with pytest.raises(TypeError):
        Named(2.0)


@pytest.mark.parametrize(("flags", "said"), [((), "changed"), (("-X", "dev"), "FrozenInstanceError")])
def test_development_mode_watches(flags: tuple[str, ...], said: str) -> None:
    code = (
        "from rowan.core.terms.record import record\n"
        "A = record(type('A', (), {'__annotations__': {'x': float}}))\n"
        "one = A(1.0)\nhash(one)\n"
        "try:\n    one.x = 2.0\n    print('changed')\nexcept Exception as error:\n    print(type(error).__name__)\n"
    )
    done = subprocess.run([sys.executable, *flags, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == said
