"""What people expect of a page without being told."""

from __future__ import annotations

import pytest
from selenium.webdriver import Keys

from rowan.command.browser import set_size
from tests.browser.pages.plan import BenchPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


@pytest.fixture
def kvist(sign_in: SignInPage) -> BenchPage:
    return sign_in.open_plan("Kvist house, 4 Ropewalk")


def test_one_reason_is_open_at_a_time(kvist: BenchPage) -> None:
    kvist.open_why("static")
    kvist.open_why("fill")
    assert kvist.why_is_open("fill")
    assert not kvist.why_is_open("static")


def test_an_open_reason_says_that_it_is_reckoned_anew_and_the_new_one_follows(kvist: BenchPage) -> None:
    before = kvist.open_why("fill")
    # what stands in the reason between the answer and the year, and how high
    kvist.driver.execute_script(
        "const high = () => document.querySelector('#figure-fill .why').offsetHeight; window.first = high();"
        " window.addEventListener('ajax:after', () => { window.between = [high(),"
        " document.querySelector('#figure-fill .why').textContent.trim()]; }, { once: true })"
    )
    kvist.set("charge.gap_pa", "0.7 bar")
    height, said = kvist.driver.execute_script("return window.between")
    assert said == "Being reckoned anew.", "no number of the state before stands beside the new one"
    assert height == kvist.driver.execute_script("return window.first")
    assert kvist.why_is_open("fill")
    why = kvist.one("#figure-fill .why").text
    assert "anew" not in why
    assert why != before
    assert f"{kvist.figure('fill'):.2f} bar" in why.replace("\N{NO-BREAK SPACE}", " ")


def test_a_slip_closes_when_one_clicks_elsewhere(kvist: BenchPage) -> None:
    kvist.one("#in-charge-vessel_l").click()
    assert kvist.all("details.blank[open]")
    kvist.one("h1").click()
    assert not kvist.all("details.blank[open]")


def test_the_form_of_an_input_is_made_when_it_is_opened_and_needs_no_connection(kvist: BenchPage) -> None:
    assert kvist.all("details.blank form") == [], "a browser would look through a hundred of them"
    kvist.driver.execute_script("window.fetch = () => Promise.reject(new TypeError('no connection'))")
    kvist.one("#in-charge-vessel_l").click()
    assert kvist.focused() == kvist.one("#in-charge-vessel_l-value")
    assert kvist.one("details.blank[open] label").text
    assert len(kvist.all("details.blank form")) == 1


def test_a_slip_that_is_saved_untouched_changes_nothing(kvist: BenchPage) -> None:
    first = kvist.figure("contents")
    kvist.driver.execute_script("document.querySelector('details.more').open = true")
    kvist.one("#in-charge-station_l").click()
    with kvist.answered():
        kvist.press(Keys.ENTER)
    assert kvist.figure("contents") == first
    assert kvist.one("#undo").get_attribute("disabled") is not None


def test_undo_is_grey_at_the_start_and_redo_after_an_undo(kvist: BenchPage) -> None:
    assert kvist.one("#undo").get_attribute("disabled") is not None
    kvist.set("charge.vessel_l", "25")
    assert kvist.one("#undo").get_attribute("disabled") is None
    kvist.undo()
    assert kvist.one("#redo").get_attribute("disabled") is None


def test_the_proposal_says_what_is_missing(sign_in: SignInPage) -> None:
    jobs = sign_in.sign_in()
    jobs.fill(persons="")
    jobs.press(Keys.TAB)
    assert "Fill the blanks" in jobs.wait_for_proposal("Fill the blanks")
    jobs.fill(persons="9")
    jobs.press(Keys.TAB)
    assert "× 2.30" in jobs.wait_for_proposal("4 × 2.30")


def test_facts_that_cannot_be_are_refused_on_the_page(sign_in: SignInPage) -> None:
    jobs = sign_in.sign_in()
    jobs.fill(tilt="140")
    jobs.one("#start-plan").click()
    jobs.wait.until(lambda _: jobs.all("#facts .refusal"))
    assert "0 to 90 degrees" in jobs.one("#facts .refusal").text
    assert jobs.one("[name=tilt]").get_attribute("value") == "140"


def test_survey_on_the_phone(sign_in: SignInPage) -> None:
    set_size(sign_in.driver, 390, 844, phone=True)  # type: ignore[arg-type]
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "survey")
    blank = page.one("#in-survey-gauge_to_top_m")
    assert blank.size["height"] >= 44, "a gloved finger needs 44 px"
    page.set("survey.gauge_to_top_m", "9.62 m")
    assert not page.is_assumed("survey.gauge_to_top_m")
    assert page.driver.execute_script("return document.documentElement.scrollWidth") <= 390


def test_the_loop_folds_to_a_strip_on_a_narrow_screen(kvist: BenchPage) -> None:
    assert not kvist.one(".loop-strip").is_displayed()
    assert kvist.one(".page > .loop-column").is_displayed()
    set_size(kvist.driver, 900, 800)  # type: ignore[arg-type]
    assert kvist.one(".loop-strip").is_displayed()
    assert not kvist.one(".page > .loop-column").is_displayed()
    with kvist.new_page():
        next(link for link in kvist.all(".loop-strip a") if "store" in link.text).click()
    assert "300" in kvist.heading()


def test_a_page_at_twice_its_size_loses_nothing(kvist: BenchPage) -> None:
    """200 % zoom of a 1280 page is a page 640 wide."""
    set_size(kvist.driver, 640, 400)  # type: ignore[arg-type]
    kvist.driver.refresh()
    assert kvist.driver.execute_script("return document.documentElement.scrollWidth") <= 640
    assert kvist.figure("fill") > 1


def test_plans_are_copied_and_compared(kvist: BenchPage) -> None:
    with kvist.new_page():
        next(button for button in kvist.all(".crumbs button") if button.text == "copy").click()
    assert "/C/" in kvist.driver.current_url
    kvist.set("charge.vessel_l", "35")
    with kvist.new_page():
        next(link for link in kvist.all(".crumbs a") if link.text == "compare").click()
    row = next(r for r in kvist.all(".compare-table tbody tr") if r.text.startswith("vessel"))
    assert row.text.replace("\N{NO-BREAK SPACE}", " ").split() == ["vessel", "18", "L", "18", "L", "35", "L"]
