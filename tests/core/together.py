"""Changes that are tried together where each by itself would take its time: a fault of any of them shows all the same."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from rowan.core.terms.finding import Change

AT_ONCE = 6


def each_once(changes: Sequence[Change]) -> Iterator[list[Change]]:
    """The same changes in as few lists as name no input twice."""
    left = list(changes)
    while left:
        first = {change.path: change for change in reversed(left)}
        yield list(first.values())
        left = [change for change in left if change is not first[change.path]]


def lots(changes: Sequence[Change]) -> Iterator[list[Change]]:
    """The same changes, some at a time, of inputs far from each other."""
    for once in each_once(changes):
        count = -(-len(once) // AT_ONCE)
        for number in range(count):
            yield once[number::count]
