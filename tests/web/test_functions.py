"""The page of functions, windows of the backup, weights, and the runs of pairs and functions."""

from __future__ import annotations

import re

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.reckon import reckon
from rowan.core.simulation.year import Year
from rowan.core.studies.trials import function_trials
from rowan.web.accounts.models import User
from rowan.web.benches.bench import Sheet
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.steps.control.calming import calming_rows, sensor_rows
from rowan.web.steps.control.functions import entries
from rowan.web.steps.control.race import lens_of
from rowan.web.studies import functions as functions_run
from rowan.web.studies import pair_year
from rowan.web.studies.work import Outcome, run_one
from tests.core.designs import altered, plan_a, plan_b
from tests.web.test_control import words_of
from tests.web.test_pages import bench_url


def at(plan: Plan, name: str) -> str:
    return reverse(f"steps:{name}", args=(plan.job_id, plan.letter))


def put(page: Client, plan: Plan, path: str, value: str) -> int:
    post = {"path": path, "value": value, "origin": "agreed", "revision": plan.head.number, "bench": "functions"}
    return page.post(at(plan, "set"), post).status_code


def text_of(page: Client, plan: Plan, key: str = "functions") -> str:
    return page.get(bench_url(plan, key)).content.decode()


def test_every_function_says_when_to_use_it_and_when_not(plan: Plan, page: Client) -> None:
    text = text_of(page, plan)
    groups = entries(plan_a())
    assert sum(len(group) for _, group in groups) >= 16
    for _, group in groups:
        for entry in group:
            assert f'id="function-{entry.key}"' in text
            assert len(entry.use) > 20
            assert len(entry.leave) > 20
    ids = re.findall(r' id="([^"]+)"', text)
    assert len(ids) == len(set(ids)), "an id stands once in a page"


def test_a_function_that_is_turned_on_brings_its_settings(plan: Plan, page: Client) -> None:
    assert "in-functions-cooling_c" not in text_of(page, plan)
    assert put(page, plan, "functions.cooling", "yes") == 302
    assert "in-functions-cooling_c" in text_of(page, plan)
    assert "collector cooling" in re.findall(r"<h1[^>]*>(.*?)</h1>", text_of(page, plan), re.S)[0]


def test_a_conflict_stands_beside_and_its_cure_ends_it(plan: Plan, page: Client) -> None:
    put(page, plan, "control.frost", "yes")
    text = text_of(page, plan)
    assert 'id="finding-frost_on_glycol"' in text
    post = {"finding": "frost_on_glycol", "cure": "0", "revision": plan.head.number, "bench": "functions"}
    assert page.post(at(plan, "cure"), post).status_code == 302
    assert 'id="finding-frost_on_glycol"' not in text_of(page, plan)
    undo = reverse("steps:step", args=(plan.job_id, plan.letter, "undo"))
    page.post(undo, {"revision": plan.head.number, "bench": "functions"})
    assert 'id="finding-frost_on_glycol"' in text_of(page, plan)


def test_windows_are_added_typed_and_taken_away(plan: Plan, page: Client) -> None:
    def entry(**post: str) -> int:
        return page.post(
            at(plan, "entries"), {"revision": str(plan.head.number), "bench": "functions", **post}
        ).status_code

    assert entry(add="window") == 302
    assert put(page, plan, "functions.windows.w1.ends", "4:30") == 302
    assert "unused: never fires" in text_of(page, plan)
    assert put(page, plan, "functions.windows.w1.ends", "noonish") == 422
    assert put(page, plan, "functions.windows.w1.off_c", "131 °F") == 302
    assert services.design_of(plan.head).functions.windows[0].off_c == pytest.approx(55.0)
    assert entry(list="functions.windows", remove="w1") == 302
    assert services.design_of(plan.head).functions.windows == []


def test_the_battery_preset_is_one_step_that_undo_takes_back(plan: Plan, page: Client) -> None:
    before = plan.head.number
    assert page.post(at(plan, "battery"), {"revision": str(before), "bench": "functions"}).status_code == 302
    held = services.design_of(plan.head).functions
    assert held.battery.value
    assert held.resume_v.value > held.cut_v.value
    assert plan.head.number == before + 1
    assert "battery holds" in text_of(page, plan)


def test_weights_are_typed_on_the_map_and_move_its_advice(plan: Plan, page: Client) -> None:
    whole = {"whole": "1"}
    assert "by the prices" in page.get(at(plan, "pairs"), whole, headers={"X-Requested-With": "fetch"}).content.decode()
    assert put(page, plan, "functions.electricity_weight", "15") == 302
    assert put(page, plan, "functions.start_worth_j", "500 Wh") == 302
    text = page.get(at(plan, "pairs"), whole, headers={"X-Requested-With": "fetch"}).content.decode()
    assert "500\N{NO-BREAK SPACE}Wh" in text


def test_what_calms_and_what_a_bad_sensor_costs_are_run_on_the_day() -> None:
    design = plan_a()
    sheet = Sheet(design, reckon(design), "metric")
    rows = calming_rows(sheet, lens_of(sheet))
    assert rows[0]["name"] == "nothing: the plan"
    assert min(int(row["starts"]) for row in rows[1:]) < int(rows[0]["starts"])
    sensors = {row["name"]: float(row["heat"]) for row in sensor_rows(sheet, lens_of(sheet))}
    assert sensors["strapped on bare"] < sensors["in its pocket, reading right"]


def test_what_calms_is_fetched_and_stands_alone_too(plan: Plan, page: Client) -> None:
    assert f'data-run="{at(plan, "calming")}"' in text_of(page, plan, "control")
    piece = page.get(at(plan, "calming"), headers={"X-Requested-With": "fetch"}).content.decode()
    assert "at least five minutes a run" in piece
    assert "<html" not in piece
    assert "<html" in page.get(at(plan, "calming"), {"whole": "1"}).content.decode()
    put(page, plan, "control.stop_k", "9")
    assert "No day can be run" in page.get(at(plan, "calming"), headers={"X-Requested-With": "fetch"}).content.decode()


def outcomes(variants: tuple[object, ...], keep: int | None = None) -> list[Outcome | None]:
    return [
        run_one(variant, None) if keep is None or n < keep else None  # type: ignore[arg-type]
        for n, variant in enumerate(variants)
    ]


def test_each_function_is_drawn_against_the_plan() -> None:
    design = plan_b()
    sheet = Sheet(design, reckon(design), "metric")
    variants = functions_run.variants(sheet)
    assert len(variants) == 1 + len(function_trials(design))
    part = functions_run.tell(sheet, outcomes(variants, 2))
    assert part.verdict is None
    assert "being run" in words_of(part.drawing)
    told = functions_run.tell(sheet, outcomes(variants))
    assert told.verdict is not None
    assert "night cooling on" in told.verdict.text(), "nothing costs this house more"
    text = words_of(told.drawing)
    for variant in variants:
        assert variant.label in text


def test_a_year_of_pairs_names_its_best() -> None:
    design = altered(plan_b(), control__start_k=20.0, control__stop_k=9.0)
    sheet = Sheet(design, reckon(design), "us")
    variants = pair_year.variants(sheet)
    assert variants[0].design == design
    few = [0, *range(1, len(variants), 6)]
    found = [run_one(v, None) if n in few else None for n, v in enumerate(variants)]
    part = pair_year.tell(sheet, found)
    assert part.verdict is None
    assert "best" in words_of(part.drawing)
    whole = [found[0] if n == 0 else found[few[1 + n % (len(few) - 1)]] for n in range(len(variants))]
    told = pair_year.tell(sheet, whole)
    assert told.verdict is not None
    assert "more than the plan's pair" in told.verdict.text("us")
    assert isinstance(found[0].year if found[0] else None, Year)
    best = told.verdict.quantities["b"]
    assert best.value >= sheet.result.differences.floor, "what only loses is not advised"  # type: ignore[union-attr]
    assert "least stop" in words_of(told.drawing)
    assert "wrong by" in told.notes[0].text("us")


def test_hunting_has_one_level_on_tape_ledger_and_bench(plan: Plan, page: Client, person: User) -> None:
    bench = text_of(page, plan, "control")
    level = re.search(r'class="finding (\w+)" id="finding-hunting"', bench)
    assert level is not None
    assert level[1] == "mind"
    assert re.search(r'href="[^"]*control/"[^>]*>Control<span\s*class="step-mark">.*?, mind', bench, re.S)
