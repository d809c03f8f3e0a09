"""`bin/rowan bench`: measures speeds and prints each beside its goal. It asserts nothing, because machines differ.

Medians are what to quote; where a goal is about the slow ones (p95) it says so. Parts that need something this machine lacks
are left out by name.
"""

from __future__ import annotations

import math
import resource
import shutil
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import replace
from importlib import import_module
from typing import TYPE_CHECKING

from rowan.core.design.design import Design

if TYPE_CHECKING:
    from django.test import Client
    from selenium.webdriver import Chrome

    from rowan.command.server import Demo
    from rowan.web.plans.models import Plan

REPEATS = 60
MB = 1024.0  # of the kilobytes that the system counts in


def row(name: str, found: str, goal: str = "", more: str = "") -> None:
    """A line: what was measured, what was found, what is aimed at."""
    print(f"{name:<54} {found:>14}   {('goal ' + goal) if goal else '':<18} {more}".rstrip(), flush=True)


def left_out(name: str, why: str) -> None:
    """A line for what this machine cannot measure."""
    row(name, "left out", more=why)


def _times(act: Callable[[], object], repeats: int) -> list[float]:
    act()
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        act()
        times.append((time.perf_counter() - start) * 1000)
    return sorted(times)


def _print(name: str, times: list[float], goal: str = "") -> None:
    times = sorted(times)
    p95 = times[math.ceil(0.95 * len(times)) - 1]  # by nearest rank
    row(name, f"{statistics.median(times):.1f} ms", goal, f"p95 {p95:.1f} ms, {len(times)} runs")


def measure(name: str, act: Callable[[], object], goal: str = "", repeats: int = REPEATS) -> None:
    """Prints how long something takes."""
    _print(name, _times(act, repeats), goal)


def run_year_bench() -> None:
    """Print the speed of the years alone."""
    import django

    django.setup()
    from rowan.demo.kvist import kvist_plan_a

    _over_plain_c()
    _years(kvist_plan_a())


def run_bench() -> None:
    """Print medians of reckoning, proposal, years, pages, edits and papers, on a database in memory."""
    import django
    from django.conf import settings
    from django.core.management import call_command
    from django.test import Client
    from django.test.utils import override_settings

    settings.DATABASES["default"]["NAME"] = ":memory:"
    django.setup()
    from rowan.core.design.changes import changed
    from rowan.core.reckon import BENCH_STAGES, reckon
    from rowan.core.studies.propose import propose
    from rowan.core.terms.finding import Change
    from rowan.demo.kvist import FACTS, kvist_plan_a
    from rowan.demo.load import load_world
    from rowan.web.plans.models import Job

    design = kvist_plan_a()
    measure("reckon a plan, without the year", lambda: reckon(design), "≤ 10 ms")
    heights = iter(9.0 + i / 1000 for i in range(10_000))
    measure(
        "change an input and reckon", lambda: reckon(changed(design, [Change("survey.gauge_to_top_m", next(heights))]))
    )
    _run_of_forty(design)
    roofs = iter(range(90, 10_000))  # another roof each time: a proposal is kept by its facts
    measure("four facts to a whole design", lambda: propose(replace(FACTS, roof_azimuth_deg=90 + next(roofs) % 180)))
    _over_plain_c()
    _years(design)
    _lens(design)
    call_command("migrate", verbosity=0)
    import_module("rowan.web.config.wsgi")  # from here on as it is served: all loaded, and left alone by the collector
    person = load_world()
    plan = Job.objects.visible(person).get(title=design.title).plans.get(letter="A")
    client = Client()
    client.force_login(person)
    plain = {"staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}
    with override_settings(STORAGES={**settings.STORAGES, **plain}, ALLOWED_HOSTS=["testserver"]):
        measure("page: jobs", lambda: client.get("/"), "≤ 60 ms", 20)
        for bench in BENCH_STAGES:
            address = f"/jobs/{plan.job_id}/A/{bench}/"
            measure(f"page: {bench}", lambda address=address: client.get(address), "≤ 60 ms", 20)  # type: ignore[misc]
        _edits(client, plan)
        measure("page: history of eight states", lambda: client.get(f"/jobs/{plan.job_id}/B/history/"), repeats=20)
        _papers(client, plan)
    _starts()
    _browser()


def _papers(client: Client, plan: Plan) -> None:
    """The two papers that are asked for on site."""
    from rowan.web.papers.sheets import DRAWN, can_print

    if not can_print():
        left_out("papers as PDF", "Pango is not installed")
        return

    def drawn(name: str) -> Callable[[], object]:
        def act() -> object:
            DRAWN.forget()
            return client.get(f"/jobs/{plan.job_id}/A/{name}.pdf")

        return act

    measure("settings card as PDF, drawn", drawn("settings-card"), "≤ 1 s", 5)
    measure("job sheet as PDF, drawn", drawn("job-sheet"), "≤ 3 s", 3)
    measure("job sheet as PDF, printed again", lambda: client.get(f"/jobs/{plan.job_id}/A/job-sheet.pdf"), repeats=3)


def _starts() -> None:
    """A new process until the core can reckon, and until the loop is loaded compiled."""
    for name, what in (
        ("import of the core, new process", "import rowan.core.appraise.appraisal"),
        ("the same with the loop loaded", "from rowan.core.simulation.year import warm; warm()"),
    ):
        command = [sys.executable, "-c", what]
        measure(name, lambda command=command: subprocess.run(command, check=True), repeats=5)  # type: ignore[misc]  # noqa: S603


def _edits(client: Client, plan: Plan) -> None:
    """What a hand on a drawing waits for: a saved change with its new page, and a race."""
    swapped = {"X-Alpine-Request": "true"}

    def drags(bench: str, path: str, values: Iterator[object]) -> Callable[[], object]:
        def edit() -> object:
            data = {"path": path, "value": next(values), "revision": plan.head.number, "bench": bench}
            data |= {"second": 2.3} if path == "field:roof" else {}
            return client.post(f"/jobs/{plan.job_id}/A/drag/", data, headers=swapped)

        return edit

    for bench, path, values in (
        ("survey", "survey.roof_tilt_deg", range(20, 60)),
        ("collector", "collector.working_c", range(35, 75)),
        ("store", "store.lower_sensor_m", (n / 100 for n in range(10, 50))),
        ("roof", "field:roof", (n / 100 for n in range(270, 310))),
        ("run", "joint:hot.h9", (v for _ in range(20) for v in (-0.01, 0.01))),
        ("charge", "charge.gap_pa", range(30_000, 70_000, 1000)),
        ("control", "control.start_k", (v for _ in range(20) for v in (7.0, 8.0))),
    ):
        measure(f"edit on {bench}: saved, with its new page", drags(bench, path, iter(values)), repeats=20)
    starts = iter(["6", "7", "9", "10"] * 30)
    race = f"/jobs/{plan.job_id}/A/race/"
    measure(
        "move the rival on Control: its new race",
        lambda: client.get(race, {"start": next(starts), "stop": "2"}, headers={"X-Requested-With": "fetch"}),
        repeats=20,
    )


def _run_of_forty(design: Design) -> None:
    """A run of forty legs reckoned alone: route, friction, pump, losses, its figures and findings."""
    from rowan.core.design.changes import changed
    from rowan.core.reckon import reckon
    from rowan.core.steps.run.stage import reckon_run
    from rowan.core.terms.finding import Change

    for line, key in (("cold", "c6"), ("hot", "h3")):
        legs = list(getattr(design.run, line))
        at = next(i for i, leg in enumerate(legs) if leg.id == key)
        more = [
            legs[at].model_copy(update={"id": f"x{n}", "length_m": 0.4, "rise_m": -0.01}) for n in range(20 - len(legs))
        ]
        design = changed(design, [Change(f"run.{line}", [*legs[:at], *more, *legs[at:]])])
    site = reckon(design).site
    count = len(design.run.cold) + len(design.run.hot)
    measure(f"reckon a run of {count} legs", lambda: reckon_run(design, site))


def _lens(design: Design) -> None:
    """The day at ten seconds, with and without its steps kept, and every pair over three days on both cores."""
    from rowan.core.reckon import reckon
    from rowan.core.simulation.day import run_day
    from rowan.core.simulation.plan_day import Lens, made_ready, usual_day
    from rowan.core.studies.pairs import DAY_KINDS, grid, try_pairs

    result, control, day = reckon(design), design.control, usual_day(design)
    start, stop = control.start_k.value, control.stop_k.value
    made = {kind: made_ready(design, result, Lens(kind, day)) for kind in DAY_KINDS}
    for kind in ("clear", "broken"):
        measure(f"a {kind} day at 10 s, every step kept", lambda k=kind: run_day(made[k], start=start, stop=stop))  # type: ignore[misc]
    measure("a broken day at 10 s, sums alone", lambda: run_day(made["broken"], start=start, stop=stop, watch=False))
    pairs = grid()
    measure(f"{len(pairs)} pairs over three days", lambda: [try_pairs(day, pairs) for day in made.values()], "≤ 1 s", 5)


def _over_plain_c() -> None:
    """The year of each kind of loop over the plain C loop of the same rules, one after the other in one run."""
    try:
        from tests.core.plain_c import available, ratio_of
        from tests.core.plain_c.loops import LOOPS
    except ImportError:
        left_out("year over plain C", "the tests are not here")
        return
    if not available():
        left_out("year over plain C", "there is no gcc")
        return
    for name in LOOPS:
        ratio, ours, plain = ratio_of(name)
        goal = "≤ 0.33" if name == "sealed" else "≤ 0.50"
        row(f"year over plain C: {name}", f"{ratio:.2f}", goal, f"{1000 * ours:.0f} of {1000 * plain:.0f} ms")


def _years(design: Design) -> None:
    """The year: the compiled loop alone, and with weather, sun and sums."""
    from rowan.core.reckon import reckon
    from rowan.core.simulation.draws import draws_of
    from rowan.core.simulation.from_design import system_of
    from rowan.core.simulation.simulate import simulate, sky_of, sun_of
    from rowan.core.simulation.year import run_year
    from rowan.core.weather.hours import plane_year

    result, sky = reckon(design), sky_of(design)
    weather, sun = sky.weather, sun_of(sky.place)
    system, draws = system_of(design, result, weather), draws_of(design, weather)
    survey = design.survey
    plane = plane_year(weather=weather, sun=sun, tilt=design.tilt_deg, azimuth=survey.roof_azimuth_deg.value)
    measure(
        "the year in the loop alone",
        lambda: run_year(system=system, weather=weather, plane=plane, draws=draws),
        repeats=12,
    )
    seeds = iter(range(1, 1000))
    measure("the year with weather and sums", lambda: simulate(design, result, seed=next(seeds)), repeats=12)
    _many_years(design)
    row("memory of this process, years and all", _memory())


def _memory() -> str:
    """The most this process has held."""
    return f"{resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / MB:.0f} MB"


def _many_years(design: Design) -> None:
    """Twenty years and the map of sixty, as the benches run them: two at a time."""
    from rowan.core.reckon import reckon
    from rowan.web.benches.bench import Sheet
    from rowan.web.steps.study_registry import RUNS
    from rowan.web.studies.work import Workshop

    sheet = Sheet(design, reckon(design), "metric")
    for key, name, goal in (
        ("band", "20 years of weather and the mean one", "≤ 2 s"),
        ("sizes", "the map of 60 years", "≤ 5 s"),
        ("candidates", "7 candidates", ""),
    ):
        kind = RUNS[key][0]
        times = []
        for round_ in range(3):
            # other normals each time: nothing is taken from what is kept
            normals = design.survey.normals.value
            warmer = normals.model_copy(update={"air_c": [t + 0.01 * (round_ + 1) for t in normals.air_c]})
            moved = design.model_copy(deep=True)
            moved.survey.normals.value = warmer
            one = Sheet(moved, sheet.result, "metric")
            start = time.perf_counter()
            work = Workshop().begin(key=f"{key}{round_}", place=key, variants=kind.variants(one), measured=None)
            work.whole.wait()
            times.append(time.perf_counter() - start)
        row(name, f"{statistics.median(times):.2f} s", goal, f"median of {len(times)}")


# In the page: from the release of a handle to the frame in which the new drawing is painted, and to when the year's figures and
# what the cures would do have followed it. The next edit waits for them, as a hand that reads them does.
EDIT = """
const [path, value, done] = arguments;
const form = document.getElementById("drag-form");
form.elements.path.value = path;
form.elements.value.value = value;
form.elements.second.value = path === "field:roof" ? "2.3" : "";
const start = performance.now();
let drawn = 0;
const followed = () => (document.querySelector("[data-later]") ? setTimeout(followed, 10) : done([drawn, performance.now() - start]));
window.addEventListener("ajax:after", () => requestAnimationFrame(() => setTimeout(() => {
  drawn = performance.now() - start;
  followed();
})), { once: true });
form.requestSubmit();
"""
# from asking for the page to its first paint
FIRST = """
const done = arguments[0];
const painted = () => performance.getEntriesByName("first-contentful-paint")[0];
const look = () => (painted() ? done(painted().startTime) : setTimeout(look, 10));
look();
"""
# a run on site: from asking for it until it can be worked with
READY = """
const done = arguments[0];
const look = () => (document.querySelector("#on-site.ready") ? done(performance.now()) : setTimeout(look, 5));
look();
"""
# readings taken without signal: from the reading to its being kept and judged
OFFLINE = """
const done = arguments[0];
const field = document.querySelector("#read-colour_s");
const kept = () => document.querySelector("#kept-state").textContent;
(async () => {
  const times = [];
  for (let number = 1; number <= 30; number += 1) {
    field.focus();
    field.value = number % 2 ? "88 s" : "4 s";
    const start = performance.now();
    const seen = new Promise((shown) => {
      const look = () => (kept().startsWith(`${number} kept`) ? shown(performance.now() - start) : requestAnimationFrame(look));
      look();
    });
    field.dispatchEvent(new Event("change", { bubbles: true }));
    times.push(await seen);
  }
  done(times);
})();
"""
EDITS, FIRSTS, OPENS = 40, 12, 5


def _browser() -> None:
    """Times inside headless Chromium against a server of the demo world, in a process of its own."""
    name = "in the browser"
    if not shutil.which("chromedriver"):
        left_out(name, "ChromeDriver is not installed; bin/test installs it")
        return
    try:
        import selenium  # noqa: F401
    except ImportError:
        left_out(name, "Selenium is not installed; bin/test installs it")
        return
    code = subprocess.run([sys.executable, "-c", "from rowan.command.bench import in_browser; in_browser()"]).returncode
    if code:
        left_out(name, f"it ended with {code}")


def in_browser() -> None:
    """First page, and edit to new drawing, as the browser's own clock sees them."""
    from rowan.command.browser import set_size
    from rowan.command.server import served_demo, signed_in

    with served_demo() as (demo, server), signed_in(demo) as driver:
        set_size(driver, 1280, 800)
        driver.set_script_timeout(20)
        address = f"{demo.base}/jobs/{demo.job}/A/charge/"
        firsts = []
        for _ in range(FIRSTS):
            driver.get(address)
            firsts.append(float(driver.execute_async_script(FIRST)))
        _print("browser: first page of Charge, to first paint", firsts, "≤ 300 ms")

        def edits(bench: str, path: str, values: Callable[[int], str]) -> None:
            driver.get(f"{demo.base}/jobs/{demo.job}/A/{bench}/")
            found = [driver.execute_async_script(EDIT, path, values(number)) for number in range(EDITS)][2:]
            _print(f"browser: edit on {bench} to new drawing", [float(drawn) for drawn, _ in found], "≤ 150 ms p95")
            _print(f"browser: edit on {bench} to its year", [float(whole) for _, whole in found], "≤ 500 ms")

        edits("survey", "survey.roof_tilt_deg", lambda n: str(30 + n % 20))
        edits("collector", "collector.working_c", lambda n: str(40 + n % 20))
        edits("store", "store.lower_sensor_m", lambda n: str(0.1 + 0.01 * (n % 20)))
        edits("roof", "field:roof", lambda n: str(2.7 + 0.01 * (n % 30)))
        edits("run", "joint:hot.h9", lambda n: "-0.01" if n % 2 == 0 else "0.01")
        edits("charge", "charge.gap_pa", lambda n: str(31_000 + 500 * n))
        edits("control", "control.start_k", lambda n: str(7 + n % 5))
        _on_site(demo, driver)
        whole, share = server.memory_mb()[0]
        row(
            "memory of the worker that was asked all this",
            f"{share} MB",
            "≤ 300 MB",
            f"its share; {whole} MB with what it shares",
        )


def _on_site(demo: Demo, driver: Chrome) -> None:
    """A run opened with nothing cached, and its entries without signal."""
    from rowan.command.browser import set_network, set_size

    set_size(driver, 390, 844)
    driver.get(f"{demo.base}/jobs/{demo.job}/B/runs/")
    driver.find_element("css selector", ".start-run [value=first]").click()
    driver.execute_async_script(READY)
    address = driver.current_url.partition("#")[0]
    driver.execute_cdp_cmd("Network.enable", {})
    opens = []
    for _ in range(OPENS):
        driver.get("about:blank")
        driver.execute_cdp_cmd("Network.clearBrowserCache", {})
        driver.get(address)
        opens.append(float(driver.execute_async_script(READY)))
    _print("browser: a run on site opened on a cold cache", opens, "≤ 1000 ms")
    driver.get("about:blank")
    driver.get(address + "#step-fill")
    driver.execute_async_script(READY)
    set_network(driver, gone=True)
    kept = [float(time) for time in driver.execute_async_script(OFFLINE)]
    _print("browser: an entry without signal, kept and judged", kept, "≤ 100 ms")
