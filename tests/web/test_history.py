"""The history: what was changed, what it moved, and the way back."""

from __future__ import annotations

import re

import pytest
from django.test import Client
from django.urls import reverse

from rowan.core.design.changes import changed
from rowan.core.reckon import reckon
from rowan.core.studies.moved_figures import difference
from rowan.core.terms.finding import Change
from rowan.web.accounts.models import User
from rowan.web.history.revisions import A_PAGE, history
from rowan.web.plans import services
from rowan.web.plans.models import Job, Plan
from tests.core.designs import altered, plan_a, plan_b

pytestmark = pytest.mark.django_db


def edit(plan: Plan, person: User, path: str, value: object) -> None:
    services.change_plan(
        plan=plan,
        author=person,
        based_on=plan.head.number,
        edit=services.Edit([Change(path, value)], path, "typed", "measured"),
    )


def test_a_difference_names_the_figures_that_print_differently() -> None:
    before, after = reckon(plan_a()), reckon(altered(plan_a(), survey__gauge_to_top_m=10.5))
    found = difference(before, after)
    keys = [moved.key for moved in found.moved]
    assert {"static", "precharge", "fill"} <= set(keys)
    assert "contents" in keys, "a higher top is a longer loop"
    assert "frost_point" not in keys
    assert difference(before, before).moved == ()
    weights = [moved.weight for moved in found.moved]
    assert weights == sorted(weights, reverse=True)


def test_a_difference_names_findings_that_came_and_went() -> None:
    found = difference(reckon(plan_b()), reckon(altered(plan_b(), charge__share=0.25)))
    assert [f.key for f in found.came] == ["freezes"]
    back = difference(reckon(altered(plan_b(), charge__share=0.25)), reckon(plan_b()))
    assert [f.key for f in back.went] == ["freezes"]


def test_a_figure_that_is_no_longer_there_counts_as_moved() -> None:
    impossible = altered(plan_b(), charge__school="typed", charge__typed_fill_gauge_pa=50e3)
    moved = {m.key: m for m in difference(reckon(plan_b()), reckon(impossible)).moved}
    assert moved["fill"].after is None


def test_each_entry_tells_its_input_its_figures_and_its_author(plan: Plan, person: User, page: Client) -> None:
    edit(plan, person, "survey.gauge_to_top_m", 10.5)
    text = page.get(reverse("history:revisions", args=(plan.job_id, "A"))).content.decode()
    plain = re.sub(r"\s+", " ", re.sub(r"<[^>]+>", " ", text)).replace("\N{NO-BREAK SPACE}", " ")
    assert "gauge to top: 9.50 m to 10.50 m" in plain
    assert "Mara Hollin" in plain
    assert re.search(r"Static 0\.97 bar 1\.07 bar", plain)


def test_the_history_speaks_the_reader_s_units(plan: Plan, person: User, page: Client) -> None:
    edit(plan, person, "survey.gauge_to_top_m", 10.5)
    person.units = "us"
    person.save()
    text = page.get(reverse("history:revisions", args=(plan.job_id, "A"))).content.decode()
    assert "psi" in text
    assert "31\N{NO-BREAK SPACE}ft\N{NO-BREAK SPACE}2\N{NO-BREAK SPACE}in" in text
    assert " bar" not in re.sub(
        r"<[^>]+>", " ", text[text.index('class="history"') : text.index("</ol>", text.index('class="history"'))]
    )


def test_going_back_saves_the_older_state_anew_and_can_be_undone(plan: Plan, person: User, page: Client) -> None:
    edit(plan, person, "charge.vessel_l", 25.0)
    edit(plan, person, "run.bends", 31)
    page.post(reverse("history:restore", args=(plan.job_id, "A")), {"revision": 3, "number": 1})
    assert services.design_of(plan.head) == plan_a()
    assert (plan.head.number, plan.head.kind) == (4, "restore")
    services.undo(plan=plan, author=person, based_on=4)
    assert services.design_of(plan.head).run.bends.value == 31


@pytest.mark.parametrize(("number", "status"), [("2", 422), ("99", 422), ("x", 404), ("", 404)])
def test_there_is_no_way_back_to_what_is_not_there(
    plan: Plan, person: User, page: Client, number: str, status: int
) -> None:
    edit(plan, person, "charge.vessel_l", 25.0)
    answer = page.post(reverse("history:restore", args=(plan.job_id, "A")), {"revision": 2, "number": number})
    assert answer.status_code == status
    assert plan.head.number == 2


def test_going_back_on_an_old_page_is_refused(plan: Plan, person: User, page: Client) -> None:
    edit(plan, person, "charge.vessel_l", 25.0)
    answer = page.post(reverse("history:restore", args=(plan.job_id, "A")), {"revision": 1, "number": 1})
    assert answer.status_code == 409
    assert plan.head.number == 2


def test_a_long_history_is_shown_a_page_at_a_time(plan: Plan, person: User) -> None:
    for number in range(A_PAGE + 4):
        edit(plan, person, "run.bends", 30 + number)
    first = history(plan, "metric")
    assert len(first["entries"]) == A_PAGE
    rest = history(plan, "metric", first["older_from"])
    assert [e.revision.number for e in rest["entries"]] == [5, 4, 3, 2, 1]
    assert rest["older_from"] is None


def test_the_demo_s_plan_b_tells_how_it_was_built(demo_person: User) -> None:
    plan = Job.objects.visible(demo_person).get(title__startswith="Kvist").plans.get(letter="B")
    built = services.design_of(plan.head)
    assert [entry.share for entry in built.charge.log] == [0.362, 0.402, 0.40]
    assert changed(built, [Change("charge.log", [])]) == plan_b()
    words = [entry.words for entry in history(plan, "metric")["entries"]]
    assert "tie beam bored, the pipe laid straight through" in words
