"""Keys, deep links, the way back, dropped files, searching while typing, units in place: in a real browser."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium.webdriver import Keys

from rowan.command.browser import set_size
from rowan.core.design.job_file import dump
from rowan.demo.kvist import kvist_plan_b
from tests.browser.pages.plan import BenchPage, JobsPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def jobs(sign_in: SignInPage) -> JobsPage:
    return sign_in.sign_in()


@pytest.fixture
def kvist(jobs: JobsPage) -> BenchPage:
    return jobs.open_job("Kvist house, 4 Ropewalk")


def test_the_question_mark_opens_the_sheet_and_escape_closes_it(kvist: BenchPage) -> None:
    kvist.press("?")
    assert kvist.keys_are_open()
    kvist.press(Keys.ESCAPE)
    assert not kvist.keys_are_open()
    kvist.one("[data-keys]").click()
    assert kvist.keys_are_open()


def test_a_key_counts_that_comes_before_the_frame_in_which_the_sheet_goes(kvist: BenchPage) -> None:
    """Until then the field that was ticked in it has the focus."""
    held = kvist.driver.execute_script(
        "const keys = document.getElementById('keys'), field = document.getElementById('keys-on'); keys.showModal(); field.focus();"
        " keys.close(); const held = document.activeElement;"
        " held.dispatchEvent(new KeyboardEvent('keydown', { key: '?', bubbles: true })); return held.id"
    )
    assert held == "keys-on"
    assert kvist.keys_are_open()


def test_brackets_walk_the_steps(kvist: BenchPage) -> None:
    with kvist.new_page():
        kvist.press("]")
    assert kvist.driver.current_url.endswith("/control/")
    with kvist.new_page():
        kvist.press("[")
    assert kvist.driver.current_url.endswith("/charge/")


@pytest.mark.parametrize(
    ("key", "ends"),
    [("h", "/history/"), ("p", "/papers/"), ("a", "/assumed/"), ("c", "/compare/"), ("m", "/methods/"), ("j", "/")],
)
def test_letters_lead_where_the_sheet_says(kvist: BenchPage, key: str, ends: str) -> None:
    with kvist.new_page():
        kvist.press(key)
    assert kvist.driver.current_url.endswith(ends)


def test_letters_find_the_next_guess_and_the_next_finding(kvist: BenchPage) -> None:
    kvist.press("e")
    first = kvist.focused().get_attribute("id")
    assert first
    assert first.startswith("in-")
    kvist.press("e")
    assert kvist.focused().get_attribute("id") != first
    kvist.press("f")
    assert (kvist.focused().get_attribute("id") or "").startswith("finding-")


def test_letters_that_are_typed_are_only_letters(kvist: BenchPage) -> None:
    kvist.one("#in-charge-vessel_l").click()
    kvist.press("h", "j", "?")
    assert kvist.driver.current_url.endswith("/charge/")
    assert not kvist.keys_are_open()


def test_single_letters_can_be_switched_off(kvist: BenchPage) -> None:
    kvist.press("?")
    kvist.one("#keys-on").click()
    kvist.press(Keys.ESCAPE, "h")
    assert kvist.driver.current_url.endswith("/charge/")
    kvist.press("?")
    assert kvist.keys_are_open(), "the sheet stays in reach"
    kvist.one("#keys-on").click()
    kvist.press(Keys.ESCAPE)
    with kvist.new_page():
        kvist.press("h")


def test_units_switch_in_place_and_keep_what_is_open(kvist: BenchPage) -> None:
    kvist.open_why("least_vessel")
    address = kvist.driver.current_url
    with kvist.answered():
        kvist.press("u")
    assert "gal" in kvist.one("#figure-least_vessel .unit").text
    assert kvist.why_is_open("least_vessel")
    assert kvist.driver.current_url == address
    with kvist.answered():
        kvist.one("#units-metric").click()
    assert kvist.one("#figure-least_vessel .unit").text == "L"


def test_units_switch_after_a_refusal(kvist: BenchPage) -> None:
    kvist.set("charge.vessel_l", "big")
    assert "not a number" in kvist.refusal()
    with kvist.answered():
        kvist.one("#units-us").click()
    assert kvist.heading().startswith("Set the 4.8 gal vessel")


def test_an_ambiguous_number_is_settled_by_one_click(kvist: BenchPage) -> None:
    kvist.set("charge.vessel_l", "0.025 m3")
    assert kvist.shown("charge.vessel_l") == "25 L"
    kvist.set("charge.vessel_l", "35,500")
    assert "two ways" in kvist.refusal()
    with kvist.answered():
        next(b for b in kvist.all(".readings button") if b.text.startswith("35.5")).click()
    assert kvist.shown("charge.vessel_l") == "36 L"  # 35.5 as printed, without a decimal


def test_a_link_to_a_figure_opens_its_reason_even_when_it_is_folded(kvist: BenchPage) -> None:
    kvist.driver.get(kvist.driver.current_url + "#figure-pure_glycol".replace("pure_glycol", "contents"))
    kvist.wait.until(lambda _: kvist.why_is_open("contents"))
    assert kvist.one("#figure-contents .why").is_displayed()
    kvist.driver.execute_script("location.hash = '#figure-static'")
    kvist.wait.until(lambda _: kvist.why_is_open("static"))


def test_back_leads_back(kvist: BenchPage) -> None:
    kvist.open_bench("Run")
    kvist.set("run.bends", "28")
    with kvist.new_page():
        kvist.driver.back()
    assert kvist.driver.current_url.endswith("/charge/")


def test_facts_that_were_typed_outlive_a_switch_of_units(jobs: JobsPage) -> None:
    jobs.fill(persons="9", title="Mill Lane 7")
    with jobs.new_page():
        jobs.one("#units-us").click()
    assert jobs.one("[name=persons]").get_attribute("value") == "9"
    assert jobs.one("[name=title]").get_attribute("value") == "Mill Lane 7"
    assert "4 × 24.8" in jobs.wait_for_proposal("4 × 24.8")
    jobs.start()
    with jobs.new_page():
        jobs.press("j")
    assert jobs.one("[name=title]").get_attribute("value") == "", "a started plan leaves the blanks free"


def test_the_search_follows_the_typing(jobs: JobsPage) -> None:
    jobs.press("/")
    assert jobs.focused().get_attribute("id") == "search"
    jobs.press(*"sandreef")
    jobs.wait.until(lambda _: jobs.job_names() == ["Sandreef guesthouse"])
    assert jobs.focused().get_attribute("id") == "search", "one goes on typing"
    assert jobs.driver.current_url.endswith("q=sandreef")
    jobs.press(*"xx")
    jobs.wait.until(lambda _: jobs.all(".empty"))
    assert "No open job has" in jobs.one(".empty").text


def test_a_chosen_job_file_becomes_a_job(jobs: JobsPage, tmp_path: Path) -> None:
    file = tmp_path / "mill.json"
    file.write_text(dump(kvist_plan_b().model_copy(update={"title": "Mill Lane 7"})), encoding="utf-8")
    with jobs.new_page():
        jobs.one("#job-files").send_keys(str(file))
    assert "Mill Lane 7" in jobs.one(".crumbs").text


def test_a_dropped_job_file_becomes_a_job_and_a_bad_one_is_refused_on_the_page(jobs: JobsPage) -> None:
    data = json.loads(dump(kvist_plan_b()))
    data["charge"]["share"]["value"] = 1.2
    with jobs.new_page():
        jobs.drop_file("bad.json", json.dumps(data))
    assert "bad.json is not taken in" in jobs.one("#file-refusal").text
    data["charge"]["share"]["value"] = 0.4
    with jobs.new_page():
        jobs.drop_file("good.json", json.dumps(data))
    assert "/A/charge/" in jobs.driver.current_url


def test_going_back_in_the_history(kvist: BenchPage) -> None:
    kvist.set("charge.vessel_l", "25")
    with kvist.new_page():
        kvist.press("h")
    assert "vessel" in kvist.one("#revision-2").text
    with kvist.new_page():
        kvist.one("#revision-1 .act").click()
    assert "Gone back" in kvist.one("#revision-3").text


@pytest.mark.parametrize("bench", ["parts", "commission"])
def test_the_new_benches_stay_inside_a_phone(kvist: BenchPage, bench: str) -> None:
    set_size(kvist.driver, 390, 844, phone=True)  # type: ignore[arg-type]
    kvist.driver.get(kvist.driver.current_url.replace("charge", bench))
    assert kvist.driver.execute_script("return document.documentElement.scrollWidth") <= 390
    for blank in kvist.all(".set-line .blank > summary"):
        assert blank.size["height"] >= 44
