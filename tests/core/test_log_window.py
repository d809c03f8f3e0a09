"""A stretch of a log as it is drawn: no peak lost, nothing drawn across a gap, never more points than were asked for."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from rowan.core.records.logs.log import Log
from rowan.core.records.logs.window import MOST_POINTS, window_of

BEGIN, MINUTE, DAY = 1_767_225_600, 60, 86_400


def log_of(rows: int, step: int = MINUTE) -> Log:
    at = BEGIN + step * np.arange(rows)
    field = 20.0 + 30.0 * np.sin(2 * np.pi * (at % DAY) / DAY)
    return Log(at, {"field_c": field, "low_c": field - 5.0, "pump_share": (field > 35.0).astype(float)}, step, ())


def test_few_rows_are_handed_out_as_they_are() -> None:
    log = log_of(500)
    found = window_of(log, BEGIN, int(log.at[-1]))
    assert found.is_every_row
    assert found.rows == 500
    assert (found.at == log.at).all()
    assert (found.columns["field_c"] == log.columns["field_c"]).all()


def test_a_line_is_broken_at_a_gap() -> None:
    log = log_of(600)
    kept = np.concatenate((np.arange(200), np.arange(400, 600)))
    cut = Log(log.at[kept], {key: values[kept] for key, values in log.columns.items()}, MINUTE, ())
    found = window_of(cut, BEGIN, int(log.at[-1]))
    assert found.rows == 400
    assert len(found.at) == 401
    assert np.isnan(found.columns["field_c"][200])
    assert (np.diff(found.at) > 0).all()


@given(days=st.integers(2, 40), spike=st.integers(0, 1439), most=st.sampled_from([200, 800, MOST_POINTS]))
@settings(max_examples=30)
def test_no_peak_is_lost_between_two_points(days: int, spike: int, most: int) -> None:
    log = log_of(days * 1440)
    log.columns["field_c"][spike] = 150.0
    found = window_of(log, int(log.at[0]), int(log.at[-1]), most=most)
    assert not found.is_every_row
    assert len(found.at) <= most
    assert np.nanmax(found.columns["field_c"]) == 150.0
    assert (np.diff(found.at) >= 0).all()
    assert found.rows == days * 1440


def test_of_a_pump_the_mean_is_shown() -> None:
    log = log_of(6 * 1440)
    found = window_of(log, int(log.at[0]), int(log.at[-1]))
    share = found.columns["pump_share"]
    assert share.mean() == pytest.approx(log.columns["pump_share"].mean(), abs=0.01)
    assert (share[::2] == share[1::2]).all()


def test_a_year_is_put_together_by_whole_days() -> None:
    log = log_of(365 * 144, 600)
    found = window_of(log, int(log.at[0]), int(log.at[-1]))
    assert len(found.at) == 2 * 365
    # of whole days the mean is the same every day, and the field swings between its least and its most
    assert np.ptp(found.columns["low_c"]) < 0.05
    assert found.columns["field_c"][0] == pytest.approx(-10.0, abs=0.05)
    assert found.columns["field_c"][1] == pytest.approx(50.0, abs=0.05)


def test_a_stretch_with_a_gap_has_no_point_in_it() -> None:
    log = log_of(40 * 1440)
    kept = np.concatenate((np.arange(10 * 1440), np.arange(30 * 1440, 40 * 1440)))
    cut = Log(log.at[kept], {key: values[kept] for key, values in log.columns.items()}, MINUTE, ())
    found = window_of(cut, int(log.at[0]), int(log.at[-1]))
    inside = (found.at > log.at[10 * 1440] + DAY) & (found.at < log.at[30 * 1440] - DAY)
    assert not inside.any()


def test_a_column_that_was_not_read_stays_so() -> None:
    log = log_of(6 * 1440)
    log.columns["low_c"][:] = np.nan
    found = window_of(log, int(log.at[0]), int(log.at[-1]))
    assert np.isnan(found.columns["low_c"]).all()
