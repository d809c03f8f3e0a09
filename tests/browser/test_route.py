"""The route changed by hand and key, a loop as found on the phone, a reading in the tub."""

from __future__ import annotations

import pytest
from selenium.webdriver import Keys

from rowan.command.browser import set_size
from tests.browser.pages.plan import BenchPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def kvist(sign_in: SignInPage) -> BenchPage:
    return sign_in.open_plan("Kvist house, 4 Ropewalk")


def test_a_leg_is_put_in_cut_and_taken_out_by_key_at_its_joint(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")
    legs = len(page.legs())
    page.key_on("joint-hot-h3", "+")
    assert len(page.legs()) == legs + 1
    assert "hot-n1" in page.legs()
    page.key_on("joint-hot-h3", "/")
    assert len(page.legs()) == legs + 2
    page.key_on("joint-hot-n1", Keys.DELETE)
    assert len(page.legs()) == legs + 1
    page.undo().undo().undo()
    assert len(page.legs()) == legs


def test_the_table_s_buttons_do_the_same(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")
    legs = len(page.legs())
    page.change_leg("insert", "cold-c3")
    assert len(page.legs()) == legs + 1
    page.set("run.cold.n1.length_m", "6 ft 6 in")
    assert page.shown("run.cold.n1.length_m") == "1.98 m"
    page.change_leg("remove", "cold-n1")
    assert len(page.legs()) == legs


def test_a_leg_opens_in_place_keeps_open_and_closes(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")
    assert page.turn_leg("cold-c3").leg_is_open("cold-c3")
    page.set("run.cold.c3.bends", "2")
    assert "2 bends" in page.one("#leg-own-cold-c3").text
    assert page.leg_is_open("cold-c3")
    page.set("run.cold.c3.insulation_m", "25 mm")
    assert page.shown("run.cold.c3.insulation_m") == "25 mm"
    assert not page.turn_leg("cold-c3").leg_is_open("cold-c3")


def test_a_dragged_joint_moves_its_legs_before_the_server_answers(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")
    before = page.drawn("#leg-hot-h9", "y2")
    page.driver.execute_script("arguments[0].focus()", page.handle("joint-hot-h9"))
    page.press(Keys.ARROW_DOWN, Keys.ARROW_DOWN)
    assert page.drawn("#leg-hot-h9", "y2") != before
    assert "moving" in (page.one("#plan").get_attribute("class") or "")


def test_a_loop_as_found_on_the_phone(kvist: BenchPage) -> None:
    page = kvist
    page.one("#plan")
    set_size(page.driver, 390, 844, phone=True)
    page.driver.get(page.driver.current_url.replace("/charge/", "/as-found/"))
    assert page.heading() == "What does the gauge say today?"
    for key, text in (("cold", "1.2 bar"), ("cold_at", "18 °C")):
        page.one(f"#found-{key}").send_keys(text)
    with page.new_page():
        page.one("#tell").click()
    lines = page.one(".found-lines").text
    assert "are missing" in lines
    assert "coldest night" in lines
    width = page.driver.execute_script("return document.documentElement.scrollWidth")
    assert width <= 390


def test_a_reading_in_the_tub_says_what_to_exchange(kvist: BenchPage) -> None:
    page = kvist
    page.one("#plan")
    with page.new_page():
        page.one("#to-fluid").click()
    page.add("reading")
    page.set("charge.log.r1.share", "36 %")
    assert page.heading().startswith("Exchange ")
    page.undo()
    assert page.heading().startswith("Fill with ")


def test_a_length_is_typed_where_it_stands_on_the_profile(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")
    words = page.one("svg.profile [data-opens='run.cold.c3.length_m']")
    page.driver.execute_script("arguments[0].focus()", words)
    page.press(Keys.ENTER)
    field = page.one("details.blank[open] [name=value]")
    page.wait.until(lambda _: page.focused() == field)
    with page.answered():
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys("6 m", Keys.ENTER)
    assert page.shown("run.cold.c3.length_m") == "6.00 m"


def test_where_a_line_goes_through_the_roof_is_dragged_and_the_route_follows(kvist: BenchPage) -> None:
    page = kvist.open_bench("Run")
    before = page.shown("run.hot.h1.length_m")
    page = page.open_bench("Roof")
    page.drag("drag-hole-hot", 60, -20)
    page = page.open_bench("Run")
    assert page.shown("run.hot.h1.length_m") != before
    page.undo()
    assert page.shown("run.hot.h1.length_m") == before


def test_another_plane_is_added_gets_collectors_and_its_field_is_dragged(kvist: BenchPage) -> None:
    page = kvist.open_bench("Roof")
    with page.answered():
        page.one("#add-plane").click()
    page.set("roof.planes.p1.count", "1")
    assert page.shown("roof.planes.p1.count") == "1"
    before = float(page.handle("drag-field-p1").get_attribute("data-value") or "nan")
    page.drag("drag-field-p1", 80, 0)
    assert float(page.handle("drag-field-p1").get_attribute("data-value") or "nan") > before + 0.5
