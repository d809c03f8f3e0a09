"""Looking at every page: a browser that no longer answers is followed by another, and none is used for ever."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pytest
from selenium.common.exceptions import WebDriverException

from rowan.command import access, server
from rowan.command.access import LOOKS, LOOKS_EACH, Browsers

PAGE = ("jobs:list", "/")


class Opened:
    """Browsers that were opened and let go, by number; those of `dumb` answer nothing."""

    def __init__(self, dumb: set[int]) -> None:
        self.dumb, self.opened, self.gone = dumb, 0, list[int]()

    @contextmanager
    def signed_in(self, demo: object) -> Iterator[int]:
        self.opened += 1
        number = self.opened
        try:
            yield number
        finally:
            self.gone.append(number)
            if number in self.dumb:
                raise WebDriverException("it does not even go")

    def measure(self, driver: int, *_: object) -> int:
        if driver in self.dumb:
            raise WebDriverException("no answer")
        return driver


def browsers(monkeypatch: pytest.MonkeyPatch, dumb: set[int]) -> tuple[Browsers, Opened]:
    opened = Opened(dumb)
    monkeypatch.setattr(server, "signed_in", opened.signed_in)
    monkeypatch.setattr(access, "measure", opened.measure)
    demo: Any = type("Demo", (), {"base": ""})()
    return Browsers(demo), opened


def test_one_that_does_not_answer_is_followed_by_another(monkeypatch: pytest.MonkeyPatch) -> None:
    found, opened = browsers(monkeypatch, {1})
    assert found.measure(PAGE, LOOKS[0], "") == 2
    assert opened.gone == [1]
    assert found.measure(PAGE, LOOKS[0], "") == 2
    found.close()
    assert opened.gone == [1, 2]


def test_a_page_that_no_browser_can_look_at_is_told(monkeypatch: pytest.MonkeyPatch) -> None:
    found, opened = browsers(monkeypatch, {1, 2})
    with pytest.raises(WebDriverException):
        found.measure(PAGE, LOOKS[0], "")
    assert opened.opened == 2
    found.close()
    assert opened.gone == [1, 2]


def test_each_is_let_go_after_some_looks(monkeypatch: pytest.MonkeyPatch) -> None:
    found, opened = browsers(monkeypatch, set())
    used = [found.measure(PAGE, LOOKS[0], "") for _ in range(2 * LOOKS_EACH + 1)]
    assert [used.count(number) for number in (1, 2, 3)] == [LOOKS_EACH, LOOKS_EACH, 1]
    assert opened.gone == [1, 2]
    found.close()
    assert opened.gone == [1, 2, 3]
