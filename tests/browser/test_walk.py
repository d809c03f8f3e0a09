"""A newcomer's way: from sign-in over four facts to a printed settings card."""

from __future__ import annotations

from typing import Any

import pytest
from selenium.webdriver import Keys

from rowan.command.browser import set_size
from tests.browser.pages.plan import BenchPage, JobsPage, SignInPage

pytestmark = [pytest.mark.browser, pytest.mark.django_db(transaction=True)]


def card(page: BenchPage) -> dict[str, Any]:
    """The settings card as the signed-in browser gets it."""
    return page.driver.execute_async_script(
        "const done = arguments[1]; fetch(arguments[0]).then(a => a.arrayBuffer().then(b => done({type: a.headers.get('Content-Type'),"
        " start: new TextDecoder('latin1').decode(b.slice(0, 5)), size: b.byteLength})))",
        page.card_address(),
    )


def test_from_four_facts_to_a_printed_settings_card(sign_in: SignInPage) -> None:
    jobs = sign_in.sign_in()
    jobs.fill(place="Aldersund", azimuth="SE", tilt="35", persons="6", storeys="2", heater="gas", title="Mill Lane 9")
    assert "× 2.30" in jobs.wait_for_proposal("3 × 2.30")
    page = jobs.start()
    assert page.heading().startswith("A roof to the SE at 35°"), "a new job opens where its work begins"
    page.open_bench("Charge")
    assert page.heading().startswith("Set the")
    assert page.assumed_count() > 40
    # a why opens and holds the number that is shown
    why = page.open_why("fill")
    assert f"{page.figure('fill'):.2f} bar" in why.replace("\N{NO-BREAK SPACE}", " ")
    # one input, measured: dotted no more, what follows moves, the why stays open
    before, count = page.figure("fill"), page.assumed_count()
    page.set("survey.gauge_to_top_m", "7.9 m")
    assert page.figure("fill") > before
    assert page.assumed_count() == count - 1
    assert not page.is_assumed("survey.gauge_to_top_m")
    assert page.why_is_open("fill")
    page.undo()
    assert page.figure("fill") == before
    assert page.is_assumed("survey.gauge_to_top_m")
    page.redo()
    printed = card(page)
    assert printed["type"] == "application/pdf"
    assert printed["start"] == "%PDF-"
    assert printed["size"] > 10_000


def test_findings_are_cured_one_after_another_and_taken_back(sign_in: SignInPage) -> None:
    page = sign_in.sign_in().open_job("Kvist house, 4 Ropewalk")
    page.set("charge.share", "30 %")
    page.set("charge.vessel_l", "12 L")
    first = page.findings()
    assert len(first) >= 3
    page.try_cure("Put a valve under it")
    page.try_cure("Mix 40 %")
    page.try_cure("Fit 18 L")
    assert page.findings() == []
    for _ in range(3):
        page.undo()
    assert page.findings() == first


def test_what_cannot_be_taken_stays_beside_its_field(sign_in: SignInPage) -> None:
    page = sign_in.sign_in().open_job("Kvist house, 4 Ropewalk")
    page.set("charge.relief_gauge_pa", "400 bar")
    assert "Allowed: 1.00" in page.refusal()
    assert page.typed() == "400 bar"
    page.press(Keys.ESCAPE)
    assert page.shown("charge.relief_gauge_pa") == "6.00 bar"


def test_two_windows_on_one_plan_overwrite_nothing(sign_in: SignInPage) -> None:
    page = sign_in.sign_in().open_job("Kvist house, 4 Ropewalk")
    address, old = page.driver.current_url, page.driver.current_window_handle
    page.driver.switch_to.new_window("tab")
    set_size(page.driver, 1280, 800)  # type: ignore[arg-type]
    page.driver.get(address)
    page.set("charge.vessel_l", "25 L")
    page.driver.close()
    page.driver.switch_to.window(old)
    page.set("survey.gauge_to_top_m", "9.85")
    assert "in another window" in page.one(".notice").text
    assert page.typed() == "9.85"
    assert page.shown("charge.vessel_l") == "25 L"


def test_the_bench_stays_where_the_address_says(sign_in: SignInPage) -> None:
    page = sign_in.sign_in().open_job("Kvist house, 4 Ropewalk").open_bench("Run")
    assert "43.0 m" in page.heading()
    page.driver.back()
    page.wait.until(lambda _: page.heading().startswith("Set the"))
    page.driver.get(page.driver.current_url.split("#")[0] + "#figure-kept")
    page.driver.refresh()
    page.wait.until(lambda _: page.why_is_open("kept"))


def test_units_switch_in_place_and_back(sign_in: SignInPage) -> None:
    page = sign_in.sign_in().open_job("Kvist house, 4 Ropewalk")
    metric = page.heading()
    for value, words in (("us", "psi"), ("metric", "bar")):
        with page.answered():
            page.one(f".units [value={value}]").click()
        assert words in page.heading()
    assert page.heading() == metric


def test_milestone_one_by_keyboard_alone(sign_in: SignInPage) -> None:
    sign_in.open().press("mara@hollinwray.example", Keys.TAB, "rope-walk-40")
    with sign_in.new_page():
        sign_in.press(Keys.ENTER)
    jobs = JobsPage(sign_in.driver, sign_in.base)
    jobs.tab_to("[name=persons]")
    jobs.press(Keys.BACKSPACE, Keys.BACKSPACE, "5")
    jobs.tab_to("#start-plan")
    with jobs.new_page():
        jobs.press(Keys.ENTER)
    page = BenchPage(jobs.driver, jobs.base)
    page.tab_to(".tape a[href$='/charge/']")
    with page.new_page():
        page.press(Keys.ENTER)
    start = page.figure("fill")
    # an input is opened, typed and saved
    page.tab_to("#in-survey-gauge_to_top_m")
    page.press(Keys.ENTER)
    page.wait.until(lambda _: page.focused().get_attribute("name") == "value")
    with page.answered():
        page.press("8.4", Keys.ENTER)
    assert page.figure("fill") > start
    # the focus is still at the input, not at the top of the page
    page.wait.until(lambda _: page.focused().get_attribute("id") == "in-survey-gauge_to_top_m")
    # the rung is nudged on the drawing
    page.tab_to("#drag-fill")
    gap = page.value_of("drag-fill")
    with page.answered():
        page.press(Keys.ARROW_UP, Keys.ARROW_UP)
    assert page.value_of("drag-fill") == pytest.approx(gap + 0.02)
    # a why is opened
    page.tab_to("#figure-static summary")
    page.press(Keys.ENTER)
    assert page.why_is_open("static")
    # a first design is clean; with a vessel too small a cure is tried, undone by the keys people know
    assert page.findings() == []
    page.tab_to("#in-charge-vessel_l")
    page.press(Keys.ENTER)
    page.wait.until(lambda _: page.focused().get_attribute("name") == "value")
    with page.answered():
        page.press("8", Keys.ENTER)
    page.tab_to(".finding .act")
    first = page.findings()
    with page.answered():
        page.press(Keys.ENTER)
    assert page.findings() != first
    with page.answered():
        page.chord(Keys.CONTROL, "z")
    assert page.findings() == first
    page.tab_to("#print-card")
    assert card(page)["type"] == "application/pdf"
