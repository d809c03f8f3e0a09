"""What is kept in the process: by its key, bounded by bytes, the one asked for longest ago goes first."""

from __future__ import annotations

from threading import Barrier, Thread

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.web.ui.shelf import Shelf


def test_it_is_made_once_and_the_oldest_goes() -> None:
    shelf, made = Shelf[str](3000, len), list[int]()

    def asked(key: int) -> None:
        def make() -> str:
            made.append(key)
            return f"{key}" * 1000

        assert shelf.get(key, make) == f"{key}" * 1000

    for key in (1, 2, 3, 1, 4):
        asked(key)
    assert made == [1, 2, 3, 4]
    asked(1)  # asked for since, so 2 has gone
    assert made == [1, 2, 3, 4]
    asked(2)
    assert made == [1, 2, 3, 4, 2]


@given(asked=st.lists(st.tuples(st.integers(0, 9), st.integers(0, 400)), max_size=60), most=st.integers(0, 1000))
def test_never_more_than_it_may_hold_and_always_what_was_asked(asked: list[tuple[int, int]], most: int) -> None:
    shelf = Shelf[bytes](most, len)
    sizes = dict(asked)
    for key, _ in asked:
        assert shelf.get(key, lambda key=key: bytes([key]) * sizes[key]) == bytes([key]) * sizes[key]  # type: ignore[misc]
        held = sum(len(thing) for thing in shelf._kept.values())
        assert held == shelf._bytes <= most


def test_what_could_not_be_made_is_not_kept() -> None:
    shelf = Shelf[str](100, len)
    with pytest.raises(ValueError, match="not yet"):
        shelf.get("a", lambda: (_ for _ in ()).throw(ValueError("not yet")))
    assert shelf.get("a", lambda: "now") == "now"


def test_two_who_ask_at_once_count_once() -> None:
    shelf, together, found = Shelf[str](100, len), Barrier(2), list[str]()

    def make() -> str:
        together.wait(10)
        return "x" * 40

    threads = [Thread(target=lambda: found.append(shelf.get("a", make))) for _ in range(2)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert found == ["x" * 40] * 2
    assert shelf._bytes == 40
