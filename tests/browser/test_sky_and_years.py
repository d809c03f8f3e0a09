"""The sky worked on by hand, a day scrubbed, many years run beside the page, a weather file dropped."""

from __future__ import annotations

import csv
import datetime
from pathlib import Path

import pytest
from selenium.webdriver import Keys
from selenium.webdriver.chrome.webdriver import WebDriver

from rowan.command.browser import set_size
from tests.browser.pages.plan import BenchPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]
KVIST = "Kvist house, 4 Ropewalk"


@pytest.fixture
def kvist(sign_in: SignInPage) -> BenchPage:
    return sign_in.open_plan(KVIST)


def test_a_tree_is_planted_moved_both_ways_typed_and_felled(kvist: BenchPage) -> None:
    page = kvist.open_bench("Sun")
    before = page.figure("window_loss")
    page.add("tree")
    key = next(handle for handle in page.in_the_sky() if handle == "drag-obstacle-o2")
    assert page.figure("window_loss") > before
    up, bearing = page.height_of(key), float(page.handle(key).get_attribute("data-value") or "nan")
    page.drag(key, 40, -50)
    assert page.height_of(key) > up
    assert float(page.handle(key).get_attribute("data-value") or "nan") > bearing
    raised = page.height_of(key)
    page.nudge(key, Keys.ARROW_UP, 4)
    assert page.height_of(key) == pytest.approx(raised + 2, abs=0.3)
    page.nudge(key, Keys.ARROW_LEFT, 3)
    assert float(page.handle(key).get_attribute("data-value") or "nan") > bearing
    page.type_on(key, "6 ft")
    assert page.shown("sun.obstacles.o2.height_m") == "1.83 m"
    page.take_away("o2")
    assert key not in page.in_the_sky()
    assert page.figure("window_loss") == before
    page.undo()
    assert key in page.in_the_sky()


def test_the_plane_is_dragged_over_its_contours(kvist: BenchPage) -> None:
    page = kvist.open_bench("Sun")
    before = page.figure("orientation")
    page.drag("drag-plane", -60, -30)
    assert page.figure("orientation") < before
    page.undo()
    assert page.figure("orientation") == before


def test_a_bungalow_in_the_shade_is_told_no(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Tolliver bungalow", "sun")
    assert page.heading().startswith("Say no")
    assert any("too much shade" in words for words in page.findings())
    page.try_cure("Fell the 2 trees")
    assert not page.heading().startswith("Say no")


def test_an_hour_of_the_day_is_scrubbed_by_hand_and_by_key(kvist: BenchPage) -> None:
    page = kvist.open_bench("Store")
    assert page.scrubbed()[0] == "12:00"
    noon = page.scrubbed()[1]
    page.scrub_by(-140)
    hour, early = page.scrubbed()
    assert int(hour.split(":")[0]) < 12
    assert early != noon
    page.press(Keys.ARROW_RIGHT, Keys.ARROW_RIGHT)
    assert int(page.scrubbed()[0].split(":")[0]) == int(hour.split(":")[0]) + 2


def test_many_years_are_drawn_as_they_come(kvist: BenchPage) -> None:
    page = kvist.open_bench("Store").start_run("sizes")
    cells = len(page.all("#run-sizes svg rect"))
    words = page.finish_run("sizes")
    assert "collectors would make" in words
    assert len(page.all("#run-sizes svg rect")) >= cells
    page.open_bench("Collector")
    assert "Take the sealed glycol loop" in page.finish_run("systems")


def test_a_weather_file_is_dropped_and_its_year_is_run(kvist: BenchPage) -> None:
    page = kvist.open_bench("Sun").open_climate()
    lines = ["LOCATION,Aldersund,-,-,made,000000,57.2,-3.1,0,85", *["-"] * 7]
    start = datetime.datetime(2021, 1, 1)
    with Path("tests/core/reference/year/weather.csv").open(encoding="utf-8", newline="") as file:
        for i, row in enumerate(csv.DictReader(file)):
            at = start + datetime.timedelta(hours=i)
            head = f"{at.year},{at.month},{at.day},{at.hour + 1},0,?,{row['air_c']},0,50,100000,0,0,300"
            lines.append(f"{head},{row['ghi_w_m2']},{row['dni_w_m2']},{row['dhi_w_m2']}" + ",0" * 19)
    page.drop_weather("made.epw", "\n".join(lines))
    assert page.heading() == "The year of Aldersund, made.epw, hour by hour"
    assert "Nothing had to be mended" in page.one("main").text


def test_the_sky_fits_a_phone(browser: WebDriver, sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Sandreef guesthouse", "sun")
    set_size(browser, 390, 844, phone=True)
    try:
        wide = browser.execute_script("return document.documentElement.scrollWidth")
        assert wide <= 390
        for button in page.all(".adds button"):
            assert button.size["height"] >= 44, button.text
    finally:
        set_size(browser, 1280, 800)
