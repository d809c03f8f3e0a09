"""The phone as an instrument: the browser's own sensor events become readings, and readings the plan's pitch."""

from __future__ import annotations

import pytest

from tests.browser.pages.plan import SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def test_sensor_events_become_readings_and_the_plan_s_pitch(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "survey").measure_by_phone()
    page.lie(beta=39.4)
    assert page.live() == "39.4°"
    for _ in range(2):
        page.take("first")
    page.lie(beta=-37.0)
    for _ in range(2):
        page.take("turned")
    assert page.readings("first") == [39.4, 39.4]
    assert page.readings("turned") == [-37.0, -37.0]
    page.reckon()
    assert page.heading() == "38.2° ± 0.1°"
    assert "1.2" in page.words(), "the mean of both ways is the phone's own error"
    assert page.use().shown("survey.roof_tilt_deg") == "38°"
