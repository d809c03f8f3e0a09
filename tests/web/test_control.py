"""The race of two pairs, the map of them, and a pair taken, on the Control bench."""

from __future__ import annotations

import json
import re

import numpy as np
import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.reckon import reckon
from rowan.core.simulation.day import KINDS, run_day
from rowan.core.simulation.plan_day import Lens, made_ready, usual_day, usual_pair
from rowan.core.steps.control.wiring import Arrangement, alive, truth_table, wiring_of
from rowan.core.studies.pairs import pair_map
from rowan.core.terms.units import System
from rowan.demo.pipwater import pipwater
from rowan.web.accounts.models import Firm, User
from rowan.web.benches.bench import Look, Sheet
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.plans.services import start_job
from rowan.web.steps.control.day import _thin
from rowan.web.steps.control.pairs import map_drawing
from rowan.web.steps.control.race import HABIT, race_context, rival_of
from rowan.web.steps.control.wiring import rungs_drawing
from rowan.web.ui.svg import Drawing
from tests.core.designs import altered, plan_b
from tests.web.test_pages import bench_url
from tests.web.text import one_line

pytestmark = pytest.mark.django_db

PIECE = {"X-Requested-With": "fetch"}  # as a script asks, for a piece of its page


def address(plan: Plan, name: str) -> str:
    return reverse(f"steps:{name}", args=(plan.job_id, plan.letter))


def starts(text: str) -> list[int]:
    row = re.search(r"pump starts</th><td[^>]*>(\d+).*?<td[^>]*>(\d+)", text, re.S)
    assert row is not None
    return [int(row[1]), int(row[2])]


def test_the_bench_races_the_plan_against_another_pair(plan: Plan, page: Client) -> None:
    text = page.get(bench_url(plan, "control")).content.decode()
    design = services.design_of(plan.head)
    made = made_ready(design, reckon(design), Lens("broken", usual_day(design)))
    control = design.control
    own = run_day(made, start=control.start_k.value, stop=control.stop_k.value, watch=False)
    assert starts(text)[0] == own.starts
    assert 'id="lens-cross"' in text
    elsewhere = page.get(bench_url(plan, "control"), {"day": "211"}).content.decode()
    assert 'data-run="' in elsewhere, "a map that was not run yet is fetched beside the page"


def test_a_typed_rival_is_kept_and_another_sky_too(plan: Plan, page: Client) -> None:
    answer = page.get(bench_url(plan, "control"), {"b_start": "12", "b_stop": "1.5 K"})
    assert "B 12 / 1.5 K" in one_line(answer)
    text = one_line(page.get(bench_url(plan, "control"), {"sky": "dull", "day": "20"}))
    assert "B 12 / 1.5 K" in text
    assert "21 January, dull" in text
    page.post(reverse("accounts:units"), {"units": "us"})
    assert "B 21.6 / 2.7 F°" in one_line(page.get(bench_url(plan, "control")))
    text = one_line(page.get(bench_url(plan, "control"), {"b_start": "18", "b_stop": "9"}))
    assert "B 18 / 9 F°" in text, "a bare number is in the units shown"


@pytest.mark.parametrize(
    ("start", "stop", "words"),
    [("4", "4", "must lie below"), ("5", "9", "must lie below"), ("many", "2", "number"), ("8", "", "")],
)
def test_a_rival_that_cannot_be_is_refused_where_it_was_typed(
    plan: Plan, page: Client, start: str, stop: str, words: str
) -> None:
    answer = page.get(bench_url(plan, "control"), {"b_start": start, "b_stop": stop})
    assert answer.status_code == 422
    text = answer.content.decode()
    assert f'value="{start}"' in text, "what was typed stays"
    assert words in text
    assert 'role="alert"' in text


@pytest.mark.parametrize(
    "asked", [{"start": "nan", "stop": "2"}, {"start": "1e9", "stop": "2"}, {"from": "-3", "to": "4"}]
)
def test_a_race_of_nonsense_is_not_there(plan: Plan, page: Client, asked: dict[str, str]) -> None:
    assert page.get(address(plan, "race"), asked, headers=PIECE).status_code == 404


def test_the_race_is_looked_at_closer(plan: Plan, page: Client) -> None:
    text = one_line(
        page.get(address(plan, "race"), {"start": "6", "stop": "4", "from": "9", "to": "11"}, headers=PIECE)
    )
    assert "B 6 / 4 K" in text
    assert ">09:00<" in text
    assert ">10:30<" in text
    assert ">16:00<" not in text
    crossed = one_line(page.get(address(plan, "race"), {"start": "3", "stop": "5"}, headers=PIECE))
    assert "B 6 / 4 K" in crossed, "a pair that crosses is passed over"


def test_b_is_taken_and_undone(plan: Plan, page: Client) -> None:
    revision = plan.head.number
    answer = page.post(address(plan, "take"), {"start": "9", "stop": "2.5", "revision": revision, "bench": "control"})
    assert answer.status_code == 302
    control = services.design_of(plan.head).control
    assert (control.start_k.value, control.stop_k.value) == (9.0, 2.5)
    assert control.start_k.origin == "agreed"
    assert (
        page.post(
            address(plan, "take"), {"start": "7", "stop": "2", "revision": revision, "bench": "control"}
        ).status_code
        == 409
    )
    assert page.post(address(plan, "take"), {"start": "7", "revision": plan.head.number}).status_code == 404
    services.undo(plan=plan, author=plan.head.author, based_on=plan.head.number)  # type: ignore[arg-type]
    assert services.design_of(plan.head).control.start_k.value != 9.0


def test_the_map_names_the_advice_and_keeps_what_it_ran(plan: Plan, page: Client) -> None:
    text = page.get(address(plan, "pairs"), headers=PIECE).content.decode()
    assert "never more than" in text
    assert "advised" in text
    assert 'id="rival"' in text
    again = page.get(bench_url(plan, "control")).content.decode()
    assert 'id="rival"' in again, "kept runs are drawn with the page"
    whole = page.get(address(plan, "pairs"), {"whole": "1", "map": "broken"})
    assert whole.status_code == 200
    assert "Back to the Control bench" in whole.content.decode()
    assert 'aria-current="true">on a broken day' in whole.content.decode()
    us = page.post(reverse("accounts:units"), {"units": "us"})
    assert us.status_code == 302
    assert "start difference, F°" in page.get(address(plan, "pairs"), headers=PIECE).content.decode()


def test_a_loop_that_chatters_has_no_race_and_says_why(plan: Plan, page: Client) -> None:
    post = {
        "path": "control.stop_k",
        "value": "9 K",
        "origin": "measured",
        "revision": plan.head.number,
        "bench": "control",
    }
    assert page.post(address(plan, "set"), post).status_code == 302
    answer = page.get(bench_url(plan, "control"))
    assert answer.status_code == 200
    assert "must be below the start difference" in answer.content.decode()


def test_a_pool_is_raced_in_its_season(firm: Firm, person: User, page: Client) -> None:
    pool = start_job(firm=firm, author=person, title="pool", design=pipwater())
    text = page.get(bench_url(pool, "control")).content.decode()
    assert "15 May, broken cloud" in text
    assert max(starts(text)) > 0


def test_the_habit_races_where_the_plan_has_the_usual_pair() -> None:
    design = plan_b()
    usual = usual_pair(reckon(design))
    other = altered(design, control__start_k=usual[0] + 3)
    assert rival_of(Sheet(other, reckon(other), "metric")) == usual
    same = altered(design, control__start_k=usual[0], control__stop_k=usual[1])
    assert rival_of(Sheet(same, reckon(same), "metric")) == HABIT


@pytest.mark.parametrize("rival", [(6.0, 4.0), (8.0, 3.0), (14.0, 1.0)])
def test_the_words_say_what_the_table_says(rival: tuple[float, float]) -> None:
    design = plan_b()
    sheet = Sheet(design, reckon(design), "metric", look=Look(rival=rival, sky="clear"))
    context = race_context(sheet)
    words = context["race_words"].text("metric")
    rows = {row.name: row for row in context["race_rows"]}
    by = int(rows["pump starts"].b) - int(rows["pump starts"].a)
    said = "as many" if by == 0 else f"{abs(by)} {'more' if by > 0 else 'fewer'}"
    assert said in words
    better = rows["heat to the store"].better
    assert {"a": " less", "b": " more", "": "as much heat"}[better] in words
    under = rival[1] < sheet.result.differences.floor
    assert ("under the least" in words) == under


# sensors


def sensors(page: Client, plan: Plan, **typed: str) -> tuple[int, str]:
    answer = page.get(address(plan, "sensors"), typed)
    return answer.status_code, " ".join(re.sub(r"<[^>]+>", " ", answer.content.decode()).split())


def test_ohms_become_a_temperature_and_a_kind(plan: Plan, page: Client) -> None:
    status, text = sensors(page, plan, ohm="12.5k", held="20")
    assert status == 200
    assert "Thermistor, 10 kilohms at 25 °C, B 3977, at 20.1 °C" in text
    assert "Platinum, 1,000 ohms at 0 °C, at 20.0 °C" in sensors(page, plan, ohm="1077.9 ohm")[1]
    page.post(reverse("accounts:units"), {"units": "us"})
    assert "at 68 °F" in sensors(page, plan, ohm="1077.9")[1]


@pytest.mark.parametrize(
    ("typed", "status", "words"),
    [
        ({"ohm": "2000k"}, 200, "open"),
        ({"ohm": "0"}, 200, "two wires touch"),
        ({"ohm": "450000"}, 200, "No sensor known here"),
        ({"ohm": "many"}, 422, "many"),
        ({"ohm": "-5"}, 422, "Ohms are between"),
        ({"ohm": "9000", "points": "0; 32650\n25; 10000"}, 200, "your curve"),
        ({"ohm": "12000", "points": "0; 32650\n25; 10000"}, 200, "your curve"),
        ({"points": "0 32650"}, 422, "is no point"),
        ({"points": "0; 100\n5; 90\n9; 95"}, 422, "rise or fall all the way"),
        ({"a1": "900"}, 422, "outside what can be read"),
        ({"a1": "20", "b1": "20.3"}, 200, "read alike"),
        ({"a1": "26", "b1": "20"}, 200, "reads 6.0 K higher"),
        ({"a1": "20", "b1": "20", "a2": "60", "b2": "20.4"}, 200, "store sensor hardly moved"),
        ({"on": "8", "off": "3"}, 200, "It starts at 8.0 K"),
        ({"on": "12", "off": "3"}, 200, "8.0 K is set"),
        ({"hand_a": "0.2", "hand_b": "7"}, 200, "are swapped"),
        ({"hand_a": "7", "hand_b": "0"}, 200, "not swapped"),
    ],
)
def test_the_page_of_sensors_says_what_it_means(
    plan: Plan, page: Client, typed: dict[str, str], status: int, words: str
) -> None:
    found, text = sensors(page, plan, **typed)
    assert found == status, text[:400]
    assert words in text


def test_the_table_of_faults_follows_the_kind(plan: Plan, page: Client) -> None:
    platinum = sensors(page, plan)[1]
    ntc = sensors(page, plan, kind="ntc-10k")[1]
    row = "collector open far too {} "
    assert row.format("hot") in platinum
    assert row.format("cold") in ntc
    assert "licensed electrician" in platinum


# wiring


def wiring(page: Client, plan: Plan, **typed: str) -> str:
    answer = page.get(address(plan, "wiring"), typed)
    assert answer.status_code == 200
    return answer.content.decode()


def test_the_wiring_is_turned_by_its_switches(plan: Plan, page: Client) -> None:
    text = wiring(page, plan)
    assert "Now: boiler and its pump on" in text
    link = re.search(r'href="(\?[^"#]+)#rungs"\s+id="switch-high_limit"', text)
    assert link is not None
    turned = page.get(address(plan, "wiring") + link[1].replace("&amp;", "&")).content.decode()
    assert "it ends at the independent high limit" in turned
    assert len(re.findall(r'<tr\s+class="chosen"', turned)) == 1, "the row of the truth table that stands now"
    assert "isolate, lock off" in turned
    assert "solar controller" in turned.split("<h3>New</h3>")[1]


def test_every_row_of_the_truth_table_leads_to_itself(plan: Plan, page: Client) -> None:
    links = re.findall(r'href="(\?[^"#]+)#truth"', wiring(page, plan))
    assert len(links) == 16
    for link in links:
        text = page.get(address(plan, "wiring") + link.replace("&amp;", "&")).content.decode()
        row = re.split(r'<tr\s+class="chosen"', text)[1].split("</tr>")[0]
        assert ("<b>on</b>" in row) == ("Now: boiler" in text)


def test_a_store_without_a_wired_backup_has_no_rungs(plan: Plan, page: Client) -> None:
    post = {
        "path": "store.backup",
        "value": "instant",
        "origin": "agreed",
        "revision": plan.head.number,
        "bench": "store",
    }
    assert page.post(address(plan, "set"), post).status_code == 302
    assert "Nothing is wired" in wiring(page, plan)


# the drawings


def words_of(drawing: Drawing) -> str:
    return " ".join(node.text for node in drawing.walk() if node.text)


@pytest.mark.parametrize("kind", KINDS)
@pytest.mark.parametrize("units", ["metric", "us"])
def test_every_sky_is_drawn_within_its_frame(kind: str, units: System) -> None:
    design = plan_b()
    drawing = race_context(Sheet(design, reckon(design), units, look=Look(sky=kind)))["race"]
    width, height = (float(part) for part in str(drawing.attributes["viewBox"]).split()[2:])
    for node in drawing.walk():
        if node.tag in ("rect", "text"):
            assert -1 <= float(node.attributes["x"]) <= width
            assert -1 <= float(node.attributes["y"]) <= height
    assert ("°F" if units == "us" else "°C") in words_of(drawing)
    read = json.loads(drawing.attributes["data-lens"])["read"]
    assert len(read) == 145
    assert all("A " in line and "B " in line for line in read)


def test_no_start_is_lost_between_two_points() -> None:
    """A spike of one step in a whole day is still in the path."""
    values = np.zeros(8640, dtype=np.float32)
    values[5000] = 90.0
    hours = np.arange(8640) / 360.0
    at, thinned = _thin(hours, values, 0.1)
    assert thinned.max() == 90.0
    assert len(at) == len(thinned) <= 2 * 270
    assert (np.diff(at) > 0).all()
    few, same = _thin(hours[:10], values[:10], 0.1)
    assert (few == hours[:10]).all()
    assert (same == 0).all()


@pytest.mark.parametrize("hair", [0.0, 0.5, 2.0])
def test_a_line_of_fewer_points_strays_by_two_hairs_at_most(hair: float) -> None:
    hours = np.arange(8640) / 360.0
    values = (40 + 20 * np.sin(hours / 3) + 3 * np.sin(hours * 5)).astype(np.float32)
    at, thinned = _thin(hours, values, hair)
    inside = hours <= at[-1]
    assert np.abs(np.interp(hours[inside], at, thinned) - values[inside]).max() <= max(2 * hair, 0.2)
    assert len(at) == 540 if hair == 0 else len(at) < 500


@pytest.mark.parametrize("arrangement", ["coil", "element", "second", "winter", "summer"])
def test_every_switch_of_every_wiring_is_drawn_as_it_stands(arrangement: Arrangement) -> None:
    wiring = wiring_of(arrangement)
    for row in truth_table(wiring):
        drawing = rungs_drawing(wiring, row.closed, alive(wiring, row.closed))
        shut = sum(node.attributes.get("class") == "blade-live" for node in drawing.walk())
        # contacts that stand on several rungs or places are drawn at each
        drawn = [c.key for rung in wiring.rungs for place in rung.places for c in place]
        closed = sum(row.closed.get(key, "valve" in row.works) for key in drawn)
        assert shut == closed
        loads = [node.text for node in drawing.walk() if node.text in ("on", "off")]
        assert loads == ["on" if rung.load.key in row.works else "off" for rung in wiring.rungs]
        ids = [
            str(node.attributes["id"])
            for node in drawing.walk()
            if str(node.attributes.get("id", "")).startswith("turn-")
        ]
        assert len(set(ids)) == len(ids), "an id stands once in a page"


def test_every_shade_of_the_map_has_its_word() -> None:
    design = plan_b()
    result = reckon(design)
    found = pair_map(design, result, day=usual_day(design))
    assert found is not None
    for kind in (None, "clear", "broken", "dull"):
        lacks = found.lacks(kind)  # type: ignore[arg-type]
        assert min(lacks) >= 0
        if kind is not None:
            assert min(lacks) == 0, "the best of a day lacks nothing"
        drawing = map_drawing(Sheet(design, result, "metric"), found, kind, (6.0, 4.0))  # type: ignore[arg-type]
        shades = [n for n in drawing.walk() if str(n.attributes.get("class", "")).startswith("band-")]
        assert len(shades) == len(found.pairs) + 5, "a cell for each pair, and the key"
    assert max(found.lacks(None)) >= found.advice.regret


# inputs of a page that was swapped in


def test_a_swapped_page_brings_its_inputs_and_each_slip_when_it_is_asked_for(plan: Plan, page: Client) -> None:
    post = {
        "path": "control.start_k",
        "value": "9 K",
        "origin": "measured",
        "revision": plan.head.number,
        "bench": "control",
    }
    swapped = page.post(address(plan, "set"), post, headers={"X-Alpine-Request": "true"}).content.decode()
    whole = page.get(bench_url(plan, "control")).content.decode()
    assert 'data-blank="control.stop_k"' in swapped
    assert 'class="slip"' in whole, "without a script every input has its form"
    assert whole.count('<noscript><form class="slip') == whole.count('class="slip"'), (
        "and with one it is no element yet"
    )
    assert 'class="slip' not in swapped
    assert "<script" not in swapped, "nothing stands around what is swapped in"
    assert swapped.count("<form") < whole.count("<form")
    number = plan.head.number
    slip = page.get(
        address(plan, "slip"), {"path": "control.stop_k", "revision": number, "bench": "control"}, headers=PIECE
    ).content.decode()
    assert f'name="revision" value="{number}"' in slip
    assert 'name="path" value="control.stop_k"' in slip
    assert "csrfmiddlewaretoken" in slip


@pytest.mark.parametrize(
    "asked", [{"path": "no.such"}, {"path": "control.stop_k", "revision": "x"}, {"path": "", "revision": "1"}]
)
def test_a_slip_of_nothing_is_not_there(plan: Plan, page: Client, asked: dict[str, str]) -> None:
    assert page.get(address(plan, "slip"), {"revision": "1", **asked}, headers=PIECE).status_code == 404
