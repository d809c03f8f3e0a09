"""Rows of collectors: how flow divides, and that it closes."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.design import Design
from rowan.core.design.inputs.rows import RowsText, row_counts
from rowan.core.reckon import reckon
from rowan.core.steps.run.array import EVEN_WITHIN, Field, Header, field_of
from rowan.core.steps.run.friction import DropCurve, drop_curve
from rowan.core.terms.errors import JobFileError, TypedNumberError
from rowan.core.terms.finding import Change
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from tests.core.designs import altered, plan_b

LITRE_H = 1e-3 / 3600
PLATE = drop_curve(points=[(120 * LITRE_H, 1000.0), (180 * LITRE_H, 2000.0)])
WATER = {"density": 992.0, "viscosity": 0.65e-3}


def field(
    rows: tuple[int, ...],
    feed: str = "reverse",
    *,
    series: bool = False,
    bore: float = 0.02,
    apart: float = 3.0,
    curve: DropCurve = PLATE,
) -> Field:
    header = Header(apart, bore, "copper")
    return Field(rows, series, feed, curve, header, header, **WATER, nominal=120 * LITRE_H * sum(rows))  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("text", "count", "rows"),
    [
        ("1", 7, (7,)),
        ("2", 12, (6, 6)),
        ("2", 7, (4, 3)),
        ("3 rows", 7, (3, 2, 2)),
        ("6 + 6", 12, (6, 6)),
        ("5, 3", 8, (5, 3)),
        ("5 and 3", 8, (5, 3)),
        ("9", 2, (1, 1)),
    ],
)
def test_rows_are_understood(text: str, count: int, rows: tuple[int, ...]) -> None:
    assert row_counts(text, count) == rows


@pytest.mark.parametrize("text", ["", "many", "6 +", "-2", "0", "13", "1.5", "6 + 0", "99 + 1 + 1000"])
def test_what_is_no_list_of_rows_is_refused(text: str) -> None:
    with pytest.raises(TypedNumberError):
        row_counts(text, 12)
    with pytest.raises(JobFileError):
        changed(plan_b(), [Change("collector.rows", text)])


def test_rows_that_do_not_add_up_are_reckoned_even_and_said() -> None:
    design = altered(plan_b(), collector__rows="3 + 2")
    assert design.row_counts == (1, 1)
    assert "rows_do_not_add_up" in {f.key for f in reckon(design).findings}


feeds = st.sampled_from(["reverse", "direct", "throttled"])
row_lists = st.lists(st.integers(1, 8), min_size=1, max_size=5).map(tuple)


@given(rows=row_lists, feed=feeds, series=st.booleans(), flow=st.floats(20, 4000), bore=st.floats(0.012, 0.05))
def test_every_row_has_its_way_under_one_pressure(
    rows: tuple[int, ...], feed: str, series: bool, flow: float, bore: float
) -> None:
    """Flows add up, none is against the stream, and every way from first tee to last has one drop."""
    asked = flow * LITRE_H
    found = field(rows, feed, series=series, bore=bore).at(asked)
    assert sum(row.flow for row in found.rows) == pytest.approx(asked, rel=1e-6)
    assert all(row.flow > 0 for row in found.rows)
    one = field(rows, feed, series=series, bore=bore)
    headers = one.headers([row.flow for row in found.rows]) if len(rows) > 1 else [0.0]
    ways = [h + row.drop + row.throttle for h, row in zip(headers, found.rows, strict=True)]
    assert max(ways) == pytest.approx(found.drop, rel=1e-6)
    assert min(ways) == pytest.approx(found.drop, rel=1e-6)


@given(rows=st.integers(2, 6), each=st.integers(1, 6), flow=st.floats(50, 300))
def test_equal_rows_are_most_even_with_throttles_then_reversed_then_direct(rows: int, each: int, flow: float) -> None:
    asked = flow * LITRE_H * rows * each
    direct, reverse, throttled = (
        field((each,) * rows, feed, bore=0.018).at(asked).uneven for feed in ("direct", "reverse", "throttled")
    )
    assert throttled == pytest.approx(0, abs=1e-9)
    assert throttled <= reverse + 1e-9
    assert reverse <= direct + 1e-6


@given(rows=row_lists, flow=st.floats(60, 3000), more=st.floats(1.05, 2))
def test_more_flow_more_drop(rows: tuple[int, ...], flow: float, more: float) -> None:
    one = field(rows)
    assert one.drop(flow * more * LITRE_H) > one.drop(flow * LITRE_H)


@given(rows=st.lists(st.integers(1, 6), min_size=2, max_size=4).map(tuple), share=st.floats(0.03, 4.5))
def test_the_table_is_within_half_a_percent_of_the_solution(rows: tuple[int, ...], share: float) -> None:
    one = field(rows, "direct")
    flow = share * one.nominal
    assert one.drop(flow) == pytest.approx(one.at(flow).drop, rel=5e-3)


def test_series_adds_drops_and_side_by_side_divides_the_flow() -> None:
    flow = 240 * LITRE_H
    fluid = {"flow": flow, **WATER}
    assert field((2,), series=True).at(flow).drop == pytest.approx(2 * PLATE.drop(**fluid))
    assert field((2,)).at(flow).drop == pytest.approx(PLATE.drop(**{**fluid, "flow": flow / 2}))


def _with(design: Design, **changes: object) -> Design:
    return altered(design, **changes)


def test_a_starving_row_is_found_and_each_cure_ends_it() -> None:
    design = _with(pipwater(), collector__feed="direct")
    starving = next(f for f in reckon(design).findings if f.key == "rows_uneven")
    assert starving.quantity is not None
    assert starving.quantity.value < 1 - EVEN_WITHIN
    assert len(starving.cures) == 2
    for cure in starving.cures:
        after = reckon(changed(design, cure.changes))
        assert "rows_uneven" not in {f.key for f in after.findings}


def test_unequal_rows_are_cured_by_equal_ones() -> None:
    design = _with(corrim(), collector__rows="9 + 3", collector__within="series", collector__feed="reverse")
    found = {f.key: f for f in reckon(design).findings}
    assert "rows_uneven" in found
    assert "series_too_long" in found
    even = found["rows_uneven"].cures[0]
    assert even.label.text() == "Rows of 6 + 6"
    assert "rows_uneven" not in {f.key for f in reckon(changed(design, even.changes)).findings}


def test_in_series_the_maker_s_window_is_a_row_s() -> None:
    design = _with(plan_b(), collector__within="series")
    assert design.flow_paths == 1
    flow = reckon(design).figures["flow"]
    item = design.collector.item.value
    assert flow.window is not None
    assert flow.window.low == pytest.approx(item.least_flow_l_h * LITRE_H)


def test_the_field_of_a_design_is_its_rows() -> None:
    made = field_of(corrim(), PLATE, **WATER)
    assert made.rows == (6, 6)
    assert RowsText(value="6 + 6").value == "6 + 6"
