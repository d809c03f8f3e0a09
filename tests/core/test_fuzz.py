"""Whatever comes in, it is taken or refused in words: nothing else is ever raised."""

from __future__ import annotations

import copy
import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed, inputs, locate
from rowan.core.design.design import Design
from rowan.core.design.job_file import dump, load
from rowan.core.design.moves import handle_changes, joint_changes
from rowan.core.reckon import reckon
from rowan.core.steps.run.route import profile
from rowan.core.terms.errors import JobFileError, RowanError, TypedNumberError
from rowan.core.terms.finding import Change
from rowan.core.terms.units import DIMENSIONS, SYSTEMS, typed_to_si
from tests.core.designs import altered, plan_a, plan_b

DATA: dict[str, Any] = json.loads(dump(plan_a()))
JSON = st.recursive(
    st.none()
    | st.booleans()
    | st.integers(-(10**12), 10**12)
    | st.sampled_from([10**400, -(10**400), 10**15, 2**63])
    | st.floats(allow_nan=False, allow_infinity=False)
    | st.text(max_size=12),
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=6), inner, max_size=3),
    max_leaves=5,
)
PATHS = [found.path for found in inputs(plan_a())]


def _ways(node: Any, way: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    found = [way] if way else []
    if isinstance(node, dict):
        for key, value in node.items():
            found += _ways(value, (*way, key))
    elif isinstance(node, list):
        for index, value in enumerate(node):
            found += _ways(value, (*way, index))
    return found


WAYS = _ways(DATA)


@given(way=st.sampled_from(WAYS), value=JSON)
def test_a_job_file_with_anything_in_any_place(way: tuple[Any, ...], value: Any) -> None:
    data = copy.deepcopy(DATA)
    node = data
    for key in way[:-1]:
        node = node[key]
    node[way[-1]] = value
    try:
        design = load(json.dumps(data))
    except JobFileError as error:
        assert str(error)
        return
    assert isinstance(design, Design)
    try:
        reckon(design)
    except RowanError as error:
        assert len(str(error)) > 10


@given(way=st.sampled_from(WAYS))
def test_a_job_file_that_lacks_anything(way: tuple[Any, ...]) -> None:
    data = copy.deepcopy(DATA)
    node = data
    for key in way[:-1]:
        node = node[key]
    del node[way[-1]]
    try:
        assert isinstance(load(json.dumps(data)), Design)
    except JobFileError as error:
        assert str(error)


@given(text=st.text(max_size=60))
def test_a_job_file_of_any_letters(text: str) -> None:
    with pytest.raises(JobFileError):
        load(text)


@given(
    text=st.text(alphabet="0123456789.,-+/ ½¼¾\"'′″−eE°%mftinbarpsiFCKLgal\u202f\u00a0", max_size=16),
    name=st.sampled_from(list(DIMENSIONS)),
    system=st.sampled_from(SYSTEMS),
)
def test_any_typed_text_is_a_number_or_is_refused(text: str, name: str, system: str) -> None:
    try:
        assert isinstance(typed_to_si(text, name, system), float)  # type: ignore[arg-type]
    except TypedNumberError as error:
        assert str(error)


@given(path=st.sampled_from(PATHS), value=JSON)
def test_any_value_for_any_input(path: str, value: Any) -> None:
    try:
        design = changed(plan_a(), [Change(path, value)])
    except JobFileError as error:
        assert str(error)
        return
    assert locate(design, path).spec is locate(plan_a(), path).spec


@given(
    path=st.text(max_size=24)
    | st.sampled_from(PATHS)
    | st.sampled_from(["joint:", "joint:cold", "joint:cold.", "joint:up.c1"]),
    value=st.floats(-1e9, 1e9),
)
def test_any_handle(path: str, value: float) -> None:
    try:
        changes = handle_changes(plan_a(), path, value)
    except JobFileError as error:
        assert str(error)
        return
    assert changes


@given(leg=st.sampled_from(["h2", "h3"]), lift=st.floats(-0.04, 0.04))
def test_a_joint_lifted_and_let_down_is_where_it_was(leg: str, lift: float) -> None:
    lift = round(lift, 3)
    lifted = changed(plan_a(), joint_changes(plan_a(), "hot", leg, lift))
    back = changed(lifted, joint_changes(lifted, "hot", leg, -lift))
    before, after = profile(plan_a()), profile(back)
    assert [x.end_height for x in after.hot] == pytest.approx([x.end_height for x in before.hot], abs=1e-3)


@given(rises=st.lists(st.floats(-0.3, 0.3), min_size=5, max_size=5), vented=st.booleans())
def test_high_points_are_those_that_stand_up(rises: list[float], vented: bool) -> None:
    """Whatever the attic legs do: what holds air stands above both its sides, within the line, and a vent cures it."""
    legs = ("h3", "h4", "h5", "h6", "h7")
    changes = {
        f"run__hot__{leg}__rise_m": round(min(max(rise, -0.29), 0.29), 3) for leg, rise in zip(legs, rises, strict=True)
    }
    changes |= {f"run__hot__{leg}__vented": vented for leg in legs}
    route = profile(altered(plan_b(), **changes))
    by_id = {leg.id: leg for leg in route.hot}
    for point in route.high_points:
        assert point.stands_up > 0
        assert 0 < point.held <= sum(by_id[leg].contents for leg in point.legs) + 1e-12
        assert not by_id[point.peak_leg].vented
        assert all(by_id[leg].start_height < point.height + 1e-6 for leg in point.legs[:1])
    if vented:
        assert all(point.peak_leg not in legs for point in route.high_points)
    elif all(rise < -0.02 for rise in rises):
        assert route.high_points == ()


@given(rises=st.lists(st.floats(-0.3, 0.3), min_size=5, max_size=5))
def test_laying_a_hump_straight_through_ends_it(rises: list[float]) -> None:
    legs = ("h3", "h4", "h5", "h6", "h7")
    changes = {
        f"run__hot__{leg}__rise_m": round(min(max(rise, -0.29), 0.29), 3) for leg, rise in zip(legs, rises, strict=True)
    }
    design = altered(plan_b(), **changes)
    for finding in reckon(design).findings:
        straight = next((cure for cure in finding.cures if cure.label.text() == "Lay it straight through"), None)
        if straight is not None:
            after = reckon(changed(design, straight.changes))
            assert finding.key not in {f.key for f in after.findings}
