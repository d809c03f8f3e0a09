"""The Control bench by hand: the rival moved, the day read and looked at closer, B taken."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest

from rowan.core.records.readings import Reading
from rowan.web.care.models import Device
from rowan.web.care.services import take_in
from tests.browser.pages.plan import BenchPage, SignInPage


@pytest.fixture
def bench(sign_in: SignInPage) -> BenchPage:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "control")
    page.wait.until(lambda _: page.all("#rival"))
    return page


def test_the_rival_moves_by_key_and_its_race_follows(bench: BenchPage) -> None:
    disc = bench.one("#rival")
    before = bench.race_head()
    bench.driver.execute_script("arguments[0].focus()", disc)
    for key in ("\ue014", "\ue014", "\ue013"):  # right, right, up
        bench.press(key)
    words = disc.get_attribute("aria-valuetext") or ""
    bench.wait.until(lambda _: bench.race_head() != before)
    start, stop = (part.split()[1] for part in words.split(", "))
    bench.wait.until(lambda _: f"B {float(start):g} / {float(stop):g} K" in bench.race_head())
    bench.driver.refresh()
    bench.wait.until(lambda _: f"B {float(start):g} / {float(stop):g} K" in bench.race_head())


def test_the_line_reads_the_day_and_the_day_comes_nearer(bench: BenchPage) -> None:
    cross = bench.one("#lens-cross")
    bench.driver.execute_script("arguments[0].focus()", cross)
    read = cross.get_attribute("aria-valuetext")
    bench.press("\ue00f")  # page down: earlier
    assert cross.get_attribute("aria-valuetext") != read
    assert bench.one("#lens-words").text.split()[0] < str(read).split()[0]
    bench.press("+")
    bench.wait.until(
        lambda _: (
            bench.driver.execute_script("return JSON.parse(document.querySelector('svg[data-lens]').dataset.lens).to")
            < 20
        )
    )
    assert bench.focused().get_attribute("id") == "lens-cross", "the line keeps the focus"
    bench.one("#zoom-all").click()
    bench.wait.until(
        lambda _: (
            bench.driver.execute_script("return JSON.parse(document.querySelector('svg[data-lens]').dataset.lens).to")
            == 24
        )
    )


def test_b_is_taken(bench: BenchPage) -> None:
    pair = bench.race_head().split("B ")[1]
    with bench.answered():
        bench.one("#take-b").click()
    assert f"A {pair.split(' K')[0]} K" in bench.race_head()
    assert bench.all("#rival"), "the map is kept: it needs no second run"


def test_a_function_is_turned_and_a_conflict_cured_without_leaving_the_page(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "functions")
    page.set("control.frost", "warms the field from the store")
    assert any("cannot freeze" in words for words in page.findings())
    page.try_cure("Turn it off")
    assert not any("cannot freeze" in words for words in page.findings())
    page.undo()
    assert any("cannot freeze" in words for words in page.findings())


def test_a_window_is_added_and_typed(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "functions")
    with page.answered():
        page.one("#add-window").click()
    page.set("functions.windows.w1.ends", "4:30")
    assert "unused" in page.one("tr.unused").text
    page.set("functions.windows.w1.ends", "7")
    assert page.shown("functions.windows.w1.ends") == "7"
    assert not page.all("tr.unused")


def test_what_calms_it_comes_by_itself(bench: BenchPage) -> None:
    bench.wait.until(lambda _: bench.all("#calming tbody tr"))
    rows = [row.text for row in bench.all("#calming tbody tr")]
    assert rows[0].startswith("nothing: the plan")
    assert len(rows) >= 3


def test_live_values_follow_what_is_sent(sign_in: SignInPage) -> None:
    page = sign_in.open_at("Kvist house, 4 Ropewalk", "B/live/")
    assert "nothing stands against the plan" in page.one("#live-now .run-verdict").text
    device = Device.objects.get()
    later = datetime(2026, 5, 4, 16, tzinfo=UTC)
    take_in(
        device,
        [Reading(later + timedelta(minutes=n), 70.0, 50.0, 60.0, pump_share=1.0, flow_m3_s=0.0) for n in range(3)],
    )
    page.wait.until(lambda _: "told to run" in page.one("#live-now").text)


def test_a_device_is_connected_and_its_token_shown_once(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "live")
    page.one("#device-name").send_keys("logger by the door")
    with page.new_page():
        page.one("#connect").click()
    assert len(page.one("#token").text) >= 32
    with page.new_page():
        page.driver.refresh()
    assert not page.all("#token")
    assert "not heard yet" in page.one("#live-now").text


# when what would calm it was asked for, from the change before it [ms]
ASKED = """
const asked = performance.getEntriesByType("resource").filter((one) => one.name.includes("/calming/")).map((one) => one.startTime);
return [window.changes, asked.filter((at) => at > window.changes[0])];
"""
CHANGES = """
const done = arguments[0];
window.changes = [];
window.addEventListener("ajax:after", () => window.changes.push(performance.now()));
const form = document.getElementById("drag-form");
const change = (value) => {
  form.elements.path.value = "control.start_k"; form.elements.second.value = ""; form.elements.value.value = value;
  document.getElementById("drag-form").requestSubmit();
};
window.addEventListener("ajax:after", () => setTimeout(() => { change("9.5"); done(); }, 500), { once: true });
change("9");
"""


def test_a_run_begins_once_the_hand_has_rested(sign_in: SignInPage) -> None:
    page = sign_in.open_plan("Kvist house, 4 Ropewalk", "control")
    rows_are_there = "return window.changes?.length !== 1 && document.querySelector('#calming table') !== null && !document.querySelector('#calming[data-run]')"
    page.until(rows_are_there)
    page.driver.execute_async_script(CHANGES)
    page.until(rows_are_there)
    changes, asked = page.driver.execute_script(ASKED)
    assert len(changes) == 2
    # not for the state that was left again half a second later
    assert len(asked) == 1
    assert asked[0] - changes[1] > 700
