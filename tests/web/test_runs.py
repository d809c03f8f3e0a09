"""Runs of many years: begun, followed, finished, given up; what they say."""

from __future__ import annotations

import re
import time
from dataclasses import replace
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.goods.catalogue import COLLECTORS
from rowan.core.reckon import reckon
from rowan.core.studies.sizes import field_sizes
from rowan.demo.corrim import corrim
from rowan.demo.pipwater import pipwater
from rowan.demo.sandreef import sandreef
from rowan.web.benches.bench import Look, Sheet
from rowan.web.jobs.facts_band import FACTS_BAND
from rowan.web.plans.models import Plan
from rowan.web.steps.study_registry import RUNS
from rowan.web.studies import candidates, sizes
from rowan.web.studies.kinds import Outcomes, Place, RunKind, Told, content_key, run_view
from rowan.web.studies.work import WORKSHOP, Outcome, Variant, Work, Workshop, run_one
from tests.core.designs import altered, plan_b
from tests.web.test_pages import bench_url, post, read

PATIENCE_S = 120


def sheet(design: object, units: str = "metric") -> Sheet:
    return Sheet(design, reckon(design), units)  # type: ignore[arg-type]


def finished(key: str, one: Sheet) -> str:
    """The text of a run's drawing and words when it is whole."""
    kind, _ = RUNS[key]
    place = Place("test", 1)
    run_view(kind, one, place, "/", begin=True)
    work = WORKSHOP.find(content_key(kind, one))
    assert work is not None
    assert work.whole.wait(PATIENCE_S)
    told = run_view(kind, one, place, "/", begin=False).told
    assert told is not None
    words = " ".join(statement.text(one.units) for statement in (told.verdict, *told.notes) if statement is not None)
    return " ".join((re.sub(r"<[^>]+>", " ", told.drawing.svg()) + " " + words).split())


@pytest.mark.parametrize("units", ["metric", "us"])
def test_candidates_are_told_with_a_verdict(units: str) -> None:
    text = finished("candidates", sheet(plan_b(), units))
    for name in COLLECTORS:
        assert name in text
    assert "of them, heat pipe" in text
    assert "kWh electric" in text, "a hybrid has two yields"
    assert "the joints will not stand stagnation" in text
    assert "Of those that can be built as it stands" in text


def test_a_cheaper_one_that_does_nearly_as_much_is_named() -> None:
    tubes = altered(
        sandreef(), collector__item=COLLECTORS["Tube 20 heat pipe"], run__joint_rating_c=380.0, collector__count=5
    )
    priced = altered(tubes, money__system_price=reckon(sandreef()).parts.price + 3340)
    text = finished("candidates", sheet(priced))
    found = re.search(
        r"Plate 2.3 selective does (\d+) % of it, each kWh at \d+ % of the price, and costs (\d+) % of the money", text
    )
    assert found, text
    assert 90 <= int(found[1]) <= 100
    assert int(found[2]) < 80


def test_a_hybrid_whose_electricity_pays_for_its_heat_draws_no_bar_backwards() -> None:
    text = finished("candidates", sheet(altered(pipwater(), money__electricity_price=0.5)))
    assert "its electricity pays for its heat" in text
    assert not re.search(r'<rect[^>]* width="-', text)


def test_kinds_are_told_with_a_recommendation() -> None:
    text = finished("systems", sheet(plan_b()))
    assert "Take the sealed glycol loop" in text
    assert "Water stands outside and the coldest night is −14" in text
    assert "this plan" in text


def test_the_band_has_its_percentiles_and_its_reason() -> None:
    text = finished("band", sheet(plan_b()))
    assert "P10" in text
    assert "P90" in text
    assert "Nine years of ten bring at least" in text
    assert "estimate by months says" in text


def test_the_map_holds_the_plan_and_says_what_more_would_bring() -> None:
    one = sheet(plan_b())
    assert len(sizes.variants(one)) == 60
    first = sizes.variants(one)[0]
    assert first.design.collector.count.value == plan_b().collector.count.value
    assert first.design.store.item.value == plan_b().store.item.value
    text = finished("sizes", one)
    assert "3 collectors would make" in text
    assert "stands hot" in text


@pytest.mark.parametrize("count", [1, 4, 5, 6, 12, 30, 60])
def test_the_map_has_the_plan_s_own_field_among_ten(count: int) -> None:
    one = sheet(altered(corrim(), collector__count=count))
    counts = field_sizes(one.design)
    assert count in counts
    assert len(counts) == 10
    assert counts == sorted(set(counts))


def test_half_a_run_is_drawn_too() -> None:
    one = sheet(plan_b())
    for key, (kind, _) in RUNS.items():
        variants = kind.variants(one)
        empty = kind.tell(one, [None] * len(variants))
        assert empty.drawing.svg().startswith("<svg"), key
        some: list[Outcome | None] = [run_one(variants[0], None), *[None] * (len(variants) - 1)]
        assert kind.tell(one, some).drawing.svg().startswith("<svg")


def test_a_run_says_and_asks_for_the_same_years_while_more_come_in(monkeypatch: pytest.MonkeyPatch) -> None:
    one, place = sheet(plan_b()), Place("test", 1)
    kind, _ = RUNS["systems"]
    made = kind.variants(one)
    work = Work(made, [*(Outcome(variant) for variant in made[:-1]), None])
    monkeypatch.setattr(WORKSHOP, "find", lambda key: work)

    def tell(sheet: Sheet, outcomes: Outcomes) -> Told:
        """What is said of them; the last year comes in meanwhile."""
        work.outcomes[-1] = Outcome(made[-1])
        return kind.tell(sheet, outcomes)

    view = run_view(replace(kind, tell=tell), one, place, "/", begin=False)
    assert view.told is not None
    assert work.finished
    assert (view.told.verdict, view.done, view.total, view.waiting) == (None, 3, 4, True)
    whole = run_view(kind, one, place, "/", begin=False)
    assert whole.told is not None
    assert whole.told.verdict is not None
    assert (whole.done, whole.waiting) == (4, False)


def test_a_plan_without_a_year_is_told_in_words() -> None:
    crossed = altered(plan_b(), control__stop_k=9.0)
    assert "must be below the start difference" in finished("band", sheet(crossed))
    assert "the stop difference must be below the start" in finished("systems", sheet(crossed))
    outcome = run_one(Variant("x", crossed), None)
    assert outcome.year is None
    assert outcome.refusal is not None
    assert outcome.findings == ()


def test_a_held_flow_takes_the_place_of_the_pump_s() -> None:
    usual, slow = run_one(Variant("a", plan_b()), None), run_one(Variant("b", plan_b(), flow=2e-5), None)
    assert usual.year is not None
    assert slow.year is not None
    assert slow.year.solar_heat != usual.year.solar_heat


def test_many_years_do_not_fill_the_memory() -> None:
    outcome = run_one(Variant("a", altered(plan_b(), collector__count=7)), None)
    assert outcome.year is not None
    assert outcome.year.traced.size == 0
    assert outcome.middle_hot > 0
    assert outcome.findings


def test_the_content_of_a_run_is_its_key() -> None:
    kind, _ = RUNS["band"]
    one = sheet(plan_b())
    same = content_key(kind, one)
    assert same == content_key(kind, sheet(plan_b()))
    assert same != content_key(kind, sheet(altered(plan_b(), collector__count=3)))
    assert same != content_key(RUNS["sizes"][0], one)


def test_the_variants_of_a_run_follow_from_what_its_key_is_made_of() -> None:
    """They are made when the run begins: the same plan must give the same ones, whatever is looked at."""
    for kind, _ in RUNS.values():
        one, again = sheet(plan_b()), replace(sheet(plan_b()), units="us", look=Look(day=7, leg="hot-h3", sky="dull"))
        assert [(v.design, v.seed, v.flow) for v in kind.variants(one)] == [
            (v.design, v.seed, v.flow) for v in kind.variants(again)
        ], kind.key


def test_a_run_that_begins_by_itself_is_announced_with_as_many_years_as_it_will_have() -> None:
    short = [kind for kind, _ in [*RUNS.values(), (FACTS_BAND, "")] if kind.count is not None]
    assert {kind.key for kind in short} >= {"candidates", "systems", "standstill", "facts"}
    for one in (sheet(plan_b()), sheet(sandreef()), sheet(corrim())):
        for kind in short:
            assert kind.count is not None
            assert kind.count(one) == len(kind.variants(one)), kind.key


def test_what_is_left_ends_and_what_is_elsewhere_goes_on() -> None:
    workshop = Workshop()
    many = [Variant(str(n), plan_b(), n) for n in range(440, 480)]
    left = workshop.begin(key="left", place="1:candidates", variants=many, measured=None)
    stays = workshop.begin(key="stays", place="2:candidates", variants=many[:1], measured=None)
    workshop.leave(["1:candidates", "1:nothing"])
    assert left.stop.is_set()
    assert not stays.stop.is_set()
    assert stays.whole.wait(PATIENCE_S)
    workshop.leave(["2:candidates"])
    assert not stays.stop.is_set(), "what is finished stays"
    assert workshop.find("left") is None


def test_newer_work_in_the_same_place_ends_the_older() -> None:
    workshop = Workshop()
    many = [Variant(str(n), plan_b(), n) for n in range(400, 440)]
    old = workshop.begin(key="old", place="here", variants=many, measured=None)
    new = workshop.begin(key="new", place="here", variants=[Variant("n", plan_b())], measured=None)
    assert old.stop.is_set()
    assert new.whole.wait(PATIENCE_S)
    assert new.finished
    assert old.done < len(many)
    assert workshop.find("old") is None, "what was given up is begun again when asked for"
    assert workshop.find("new") is new
    assert workshop.begin(key="new", place="here", variants=[], measured=None) is new
    third = workshop.begin(key="third", place="there", variants=many, measured=None)
    workshop.give_up()
    assert third.stop.is_set()
    assert not new.stop.is_set(), "what is finished stays"


# pages


def whole(page: Client, address: str) -> str:
    """The text of a run's own page once it is whole: asked again as it says itself, which is how a browser without scripts does."""
    ends = time.monotonic() + PATIENCE_S
    while True:
        answer = page.get(address, {"whole": "1"})
        if "Refresh" not in answer:
            return read(answer).text
        assert time.monotonic() < ends
        time.sleep(0.1)


@pytest.mark.django_db
def test_short_runs_begin_by_themselves_and_long_ones_when_asked(plan: Plan, page: Client, settings: Any) -> None:
    settings.SHORT_RUNS_BEGIN = True
    collector = page.get(bench_url(plan, "collector")).content.decode()
    assert 'id="run-candidates"' in collector
    assert 'id="start-candidates"' not in collector
    store = page.get(bench_url(plan, "store")).content.decode()
    address = reverse("steps:run", args=(plan.job_id, plan.letter, "band"))
    if 'id="start-band"' in store:
        assert f'data-run-start="{address}"' in store
    assert "Nine years of ten" in whole(page, address)
    assert "Nine years of ten" in page.get(address).content.decode(), "what is kept is shown at once"
    assert page.get(reverse("steps:run", args=(plan.job_id, plan.letter, "nothing"))).status_code == 404


@pytest.mark.django_db
def test_a_changed_plan_is_another_run(plan: Plan, page: Client) -> None:
    address = reverse("steps:run", args=(plan.job_id, plan.letter, "systems"))
    first = whole(page, address)
    post(page, plan, "set", path="collector.count", value="4")
    assert whole(page, address) != first


@pytest.mark.django_db
def test_a_change_ends_the_short_runs_of_the_state_before_and_no_other(plan: Plan, page: Client) -> None:
    many = [Variant(str(n), plan_b(), n) for n in range(480, 680)]  # more than a change and its page leave time for
    short = WORKSHOP.begin(key="short", place=f"{plan.pk}:candidates", variants=many, measured=None)
    long = WORKSHOP.begin(key="long", place=f"{plan.pk}:sizes", variants=many, measured=None)
    post(page, plan, "set", path="collector.count", value=str(plan.head.design["collector"]["count"]["value"]))
    assert not short.stop.is_set(), "nothing has changed"
    post(page, plan, "set", path="collector.count", value="4")
    assert short.stop.is_set()
    assert not long.stop.is_set(), "what somebody asked for goes on"
    WORKSHOP.give_up()


def test_a_run_begins_by_its_button_or_by_itself() -> None:
    for wrong in ({}, {"button": "Run it", "count": lambda _: 1}):
        with pytest.raises(TypeError, match="one of the two"):
            RunKind("odd", "Odd", candidates.variants, candidates.tell, **wrong)


@pytest.mark.django_db
def test_the_day_is_chosen_and_kept(plan: Plan, page: Client) -> None:
    assert "12 June" in read(page.get(bench_url(plan, "store"), {"day": "162"})).text
    assert "12 June" in read(page.get(bench_url(plan, "store"))).text
    for odd in ("-1", "365", "x", "9999"):
        assert "12 June" in read(page.get(bench_url(plan, "store"), {"day": odd})).text


def test_the_verdict_waits_for_all_of_them() -> None:
    one = sheet(plan_b())
    variants = candidates.variants(one)
    outcomes: list[Outcome | None] = [run_one(variants[0], None), *[None] * (len(variants) - 1)]
    assert candidates.tell(one, outcomes).verdict is None
