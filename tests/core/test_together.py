"""Changes that are tried together: none is lost, none meets another of its own input."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from rowan.core.terms.finding import Change
from tests.core.together import AT_ONCE, each_once, lots

CHANGES = st.lists(st.builds(Change, st.sampled_from([f"step.input_{n}" for n in range(9)]), st.integers(0, 99)))


@given(changes=CHANGES)
def test_every_change_is_in_one_lot_and_no_input_twice_in_any(changes: list[Change]) -> None:
    found = list(lots(changes))
    assert sorted(id(change) for lot in found for change in lot) == sorted(map(id, changes))
    for lot in found:
        assert 0 < len(lot) <= AT_ONCE
        assert len({change.path for change in lot}) == len(lot)


@given(changes=CHANGES)
def test_there_are_as_few_lists_as_an_input_has_changes(changes: list[Change]) -> None:
    most = max((sum(other.path == one.path for other in changes) for one in changes), default=0)
    assert len(list(each_once(changes))) == most
