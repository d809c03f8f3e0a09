"""Each bench has something worked on the drawing: by drag, by arrow key, by typing. Drawings are to scale."""

from __future__ import annotations

import pytest
from selenium.webdriver import Keys

from tests.browser.pages.plan import BenchPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]

# bench, handle, drag in px, arrow that raises the value, typed text, value it shows then
HANDLES = [
    ("Survey", "drag-survey-roof_azimuth_deg", (60, -25), Keys.ARROW_RIGHT, "200", 200.0),
    ("Collector", "drag-collector-working_c", (40, 0), Keys.ARROW_RIGHT, "60 °C", 60.0),
    ("Store", "drag-store-coil_top_m", (0, -30), Keys.ARROW_UP, "0.80 m", 0.80),
    ("Store", "drag-store-lower_sensor_m", (0, -20), Keys.ARROW_UP, "0.5", 0.5),
    ("Roof", "drag-field-roof", (24, -12), Keys.ARROW_RIGHT, "2.50 m", 2.5),
    ("Run", "joint-hot-h9", (0, 8), Keys.ARROW_UP, "", 0.0),
    ("Charge", "drag-fill", (0, -6), Keys.ARROW_UP, "0.5 bar", 0.5),
    ("Control", "drag-control-start_k", (0, -30), Keys.ARROW_UP, "9 K", 9.0),
    ("Control", "drag-control-stop_k", (0, -15), Keys.ARROW_UP, "4", 4.0),
]


@pytest.fixture
def kvist(sign_in: SignInPage) -> BenchPage:
    return sign_in.open_plan("Kvist house, 4 Ropewalk")


@pytest.mark.parametrize(
    ("bench", "key", "by", "arrow", "text", "typed"), HANDLES, ids=[f"{b}-{k}" for b, k, *_ in HANDLES]
)
def test_a_handle_is_dragged_nudged_and_typed(
    kvist: BenchPage, bench: str, key: str, by: tuple[float, float], arrow: str, text: str, typed: float
) -> None:
    page = kvist.open_bench(bench) if bench != "Charge" else kvist
    start = page.value_of(key)
    page.drag(key, *by)
    dragged = page.value_of(key)
    assert dragged != start
    page.nudge(key, arrow)
    assert page.value_of(key) > dragged
    page.undo()
    if text:
        page.type_on(key, text)
        assert page.value_of(key) == pytest.approx(typed)


def test_the_hand_moves_the_handle_before_the_server_answers(kvist: BenchPage) -> None:
    page = kvist
    handle = page.handle("drag-fill")
    page.driver.execute_script("arguments[0].focus()", handle)
    page.press(Keys.ARROW_UP)
    assert "translate" in (handle.get_attribute("transform") or "")
    assert "moving" in (page.one("#plan").get_attribute("class") or "")


def test_a_leg_twice_as_long_is_drawn_twice_as_long(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")

    def metres() -> float:
        leg = "#leg-hot-h9"
        return (page.drawn(leg, "x2") - page.drawn(leg, "x1")) / page.px_per_m("profile")

    assert metres() == pytest.approx(4.5, abs=0.02)
    page.set("run.hot.h9.length_m", "9 m")
    assert metres() == pytest.approx(9.0, abs=0.02)


def test_a_roof_twice_as_wide_is_drawn_twice_as_wide(kvist: BenchPage) -> None:
    page = kvist.open_bench("Survey")

    def metres() -> float:
        return page.drawn("#plan-roof") / page.px_per_m("plan")

    first = metres()
    page.set("survey.roof_width_m", f"{2 * first:.2f} m")
    assert metres() == pytest.approx(2 * first, rel=0.01)


def test_a_joint_lifted_moves_its_leg_under_the_hand(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")
    before = page.drawn("#leg-hot-h2", "y2")
    page.driver.execute_script("arguments[0].focus()", page.handle("joint-hot-h2"))
    page.press(Keys.ARROW_UP)
    assert page.drawn("#leg-hot-h2", "y2") < before
