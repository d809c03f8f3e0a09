"""Measures and prints speeds; asserts nothing, because machines differ."""

from __future__ import annotations

import resource
import statistics
import time
from collections.abc import Callable
from typing import TYPE_CHECKING

from rowan.core.design.design import Design

if TYPE_CHECKING:
    from django.test import Client

    from rowan.web.plans.models import Plan

REPEATS = 60


def _measure(name: str, act: Callable[[], object], repeats: int = REPEATS) -> float:
    """Prints how long something takes; gives its median [s]."""
    act()
    times = []
    for _ in range(repeats):
        start = time.perf_counter()
        act()
        times.append((time.perf_counter() - start) * 1000)
    _print(name, times)
    return statistics.median(times) / 1000


def _print(name: str, times: list[float]) -> None:
    times = sorted(times)
    p95 = times[min(len(times) - 1, round(0.95 * len(times)))]
    print(f"{name:<48} median {statistics.median(times):8.1f} ms   p95 {p95:8.1f} ms   ({len(times)} runs)", flush=True)


def run_year_bench() -> None:
    """Print the speed of the years alone."""
    import django

    django.setup()
    from rowan.demo.kvist import kvist_plan_a

    _years(kvist_plan_a())


def run_bench() -> None:
    """Print medians of reckoning, proposal, pages and the settings card, on a database in memory."""
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
    _measure("reckon the Kvist plan, without the year", lambda: reckon(design))
    heights = iter(9.0 + i / 1000 for i in range(10_000))
    _measure(
        "change an input and reckon", lambda: reckon(changed(design, [Change("survey.gauge_to_top_m", next(heights))]))
    )
    _run_of_forty(design)
    _measure("four facts to a whole design", lambda: propose(FACTS))
    _years(design)
    _lens(design)
    call_command("migrate", verbosity=0)
    person = load_world()
    plan = Job.objects.visible(person).get(title=design.title).plans.get(letter="A")
    client = Client()
    client.force_login(person)
    plain = {"staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}
    with override_settings(STORAGES={**settings.STORAGES, **plain}, ALLOWED_HOSTS=["testserver"]):
        _measure("page: jobs", lambda: client.get("/"), 20)
        for bench in BENCH_STAGES:
            address = f"/jobs/{plan.job_id}/A/{bench}/"
            _measure(f"page: {bench}", lambda address=address: client.get(address), 20)  # type: ignore[misc]
        _edits(client, plan)
        _measure("page: history of eight states", lambda: client.get(f"/jobs/{plan.job_id}/B/history/"), 20)
        _measure("settings card as PDF", lambda: client.get(f"/jobs/{plan.job_id}/A/settings-card.pdf"), 5)
        _measure("job sheet as PDF, ten pages", lambda: client.get(f"/jobs/{plan.job_id}/A/job-sheet.pdf"), 3)
    _browser()


def _edits(client: Client, plan: Plan) -> None:
    """What a hand on a drawing waits for: a saved change with its new page, and a race."""
    gaps = iter(range(30_000, 70_000, 100))

    def edit() -> None:
        data = {"path": "charge.gap_pa", "value": next(gaps), "revision": plan.head.number, "bench": "charge"}
        client.post(f"/jobs/{plan.job_id}/A/drag/", data, follow=True)

    _measure("edit on Charge: save and new page", edit, 20)
    lifts = iter([0.01, -0.01] * 30)

    def lift() -> None:
        data = {"path": "joint:hot.h9", "value": next(lifts), "revision": plan.head.number, "bench": "run"}
        client.post(f"/jobs/{plan.job_id}/A/drag/", data, headers={"X-Alpine-Request": "true"})

    _measure("lift a joint on Run: save and new page", lift, 20)
    starts = iter(["6", "7", "9", "10"] * 30)
    race = f"/jobs/{plan.job_id}/A/race/"
    _measure(
        "move the rival on Control: its new race",
        lambda: client.get(race, {"start": next(starts), "stop": "2"}),
        20,
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
    _measure(f"reckon a run of {count} legs", lambda: reckon_run(design, site))


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
        _measure(f"a {kind} day at 10 s, every step kept", lambda k=kind: run_day(made[k], start=start, stop=stop))  # type: ignore[misc]
    _measure("a broken day at 10 s, sums alone", lambda: run_day(made["broken"], start=start, stop=stop, watch=False))
    pairs = grid()
    _measure(f"{len(pairs)} pairs over three days", lambda: [try_pairs(day, pairs) for day in made.values()], 5)


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
    plane = plane_year(weather=weather, sun=sun, tilt=survey.roof_tilt_deg.value, azimuth=survey.roof_azimuth_deg.value)
    alone = _measure(
        "the year in the loop alone", lambda: run_year(system=system, weather=weather, plane=plane, draws=draws), 12
    )
    seeds = iter(range(1, 1000))
    _measure("the year with weather and sums", lambda: simulate(design, result, seed=next(seeds)), 12)
    steps = 365 * 24 * 60
    print(f"{'steps of a minute a second, in the loop':<48} median {steps / alone / 1e6:8.2f} million")
    _many_years(design)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(f"{'memory at most':<48} {peak:15.0f} MB")


def _many_years(design: Design) -> None:
    """Twenty years and the map of sixty, as the benches run them: two at a time."""
    from rowan.core.reckon import reckon
    from rowan.web.benches.bench import Sheet
    from rowan.web.steps.study_registry import RUNS
    from rowan.web.studies.work import Workshop

    sheet = Sheet(design, reckon(design), "metric")
    for key, name in (
        ("band", "20 years of weather and the mean one"),
        ("sizes", "the map of 60 years"),
        ("candidates", "7 candidates"),
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
        print(f"{name:<48} median {statistics.median(times):8.2f} s   (median of {len(times)})")


# In the page: from the release of a handle to the frame in which the new drawing is painted.
EDIT = """
const [path, value, done] = arguments;
const form = document.getElementById("drag-form");
form.elements.path.value = path;
form.elements.value.value = value;
const start = performance.now();
window.addEventListener("ajax:after", () => requestAnimationFrame(() => setTimeout(() => done(performance.now() - start))), { once: true });
form.requestSubmit();
"""
# from asking for the page to its first paint
FIRST = """
const done = arguments[0];
const painted = () => performance.getEntriesByName("first-contentful-paint")[0];
const look = () => (painted() ? done(painted().startTime) : setTimeout(look, 10));
look();
"""
EDITS, FIRSTS = 60, 12


def _browser() -> None:
    """Times inside headless Chromium against a server of the demo world, in a process of its own."""
    import shutil
    import subprocess
    import sys

    if not shutil.which("chromedriver"):
        print("in the browser: not measured, ChromeDriver is not installed (bin/test installs it)")
        return
    subprocess.run([sys.executable, "-c", "from rowan.command.bench import in_browser; in_browser()"], check=False)


def in_browser() -> None:
    """First page, and edit to new drawing, as the browser's own clock sees them."""
    from rowan.command.browser import set_size
    from rowan.command.server import demo_server, signed_in

    with demo_server() as demo, signed_in(demo) as driver:
        set_size(driver, 1280, 800)
        driver.set_script_timeout(20)
        address = f"{demo.base}/jobs/{demo.job}/A/charge/"
        firsts = []
        for _ in range(FIRSTS):
            driver.get(address)
            firsts.append(float(driver.execute_async_script(FIRST)))
        _print("browser: first page of Charge, to first paint", firsts)

        def edits(path: str, values: Callable[[int], str]) -> list[float]:
            return [float(driver.execute_async_script(EDIT, path, values(number))) for number in range(EDITS)][2:]

        _print("browser: edit on Charge to new drawing", edits("charge.gap_pa", lambda n: str(31_000 + 500 * n)))
        driver.get(f"{demo.base}/jobs/{demo.job}/A/run/")
        lifted = edits("joint:hot.h9", lambda n: "-0.01" if n % 2 == 0 else "0.01")
        _print("browser: joint released on Run to new drawing", lifted)
