"""The Control bench by hand: the rival moved, the day read and looked at closer, B taken."""

from __future__ import annotations

import pytest

from tests.browser.pages.plan import BenchPage, SignInPage


@pytest.fixture
def bench(sign_in: SignInPage) -> BenchPage:
    page = sign_in.sign_in().open_job("Kvist house, 4 Ropewalk").open_bench("Control")
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
