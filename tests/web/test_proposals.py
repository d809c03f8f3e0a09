"""What an apprentice changes is a proposal beside the plan: handed in, looked at with its figures, taken in part or not at all."""

from __future__ import annotations

import pytest
from django.test import Client
from django.urls import reverse
from hypothesis import given
from hypothesis import strategies as st

from rowan.core.design.changes import changed
from rowan.core.design.merge import changed_paths, merged
from rowan.core.terms.finding import Change
from rowan.web.accounts.models import User
from rowan.web.plans import proposals
from rowan.web.plans.models import Plan
from rowan.web.plans.services import Edit, StaleRevisionError, change_plan, design_of
from rowan.web.ui.errors import NoSuchStepError, NotAllowedError
from tests.core.designs import plan_a


@pytest.fixture
def learner(apprentice: User) -> Client:
    client = Client()
    client.force_login(apprentice)
    return client


def _set(client: Client, plan: Plan, path: str, value: str, revision: int = 1) -> int:
    form = {"path": path, "value": value, "origin": "agreed", "revision": revision, "bench": "charge"}
    return client.post(reverse("steps:set", args=(plan.job_id, plan.letter)), form).status_code


def _change(plan: Plan, person: User, path: str, value: object) -> None:
    edit = Edit([Change(path, value, "agreed")], path, path)
    change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)


def test_an_apprentice_s_edit_leaves_the_plan_alone(
    plan: Plan, learner: Client, apprentice: User, page: Client
) -> None:
    assert _set(learner, plan, "charge.relief_gauge_pa", "5 bar") == 302
    assert plan.head.number == 1
    found = proposals.own_proposal(plan, apprentice)
    assert found is not None
    assert design_of(found.head).charge.relief_gauge_pa.value == pytest.approx(5e5)
    bench = reverse("steps:bench", args=(plan.job_id, plan.letter, "charge"))
    assert "Your proposal on state 1" in learner.get(bench).content.decode()
    assert "proposes changes" not in page.get(bench).content.decode()  # not before it is handed in
    assert (
        learner.post(
            reverse("steps:step", args=(plan.job_id, plan.letter, "undo")), {"revision": 2, "bench": "charge"}
        ).status_code
        == 302
    )
    assert proposals.change_count(found) == 0


def test_it_is_handed_in_and_taken_in_part(
    plan: Plan, learner: Client, page: Client, apprentice: User, person: User
) -> None:
    _set(learner, plan, "charge.relief_gauge_pa", "5 bar")
    _set(learner, plan, "control.start_k", "9 K", 2)
    found = proposals.open_proposal(plan, apprentice)
    address = reverse("history:answer", args=(plan.job_id, plan.letter, found.pk))
    assert learner.post(address, {"act": "hand in", "said": "as on the valve"}).status_code == 302
    look = page.get(reverse("history:proposal", args=(plan.job_id, plan.letter, found.pk)))
    assert [row.proposed.replace("\N{NO-BREAK SPACE}", " ") for row in look.context["rows"]] == ["5.00 bar", "9.0 K"]
    assert len(look.context["moved"]) > 2
    bench = page.get(reverse("steps:bench", args=(plan.job_id, plan.letter, "charge"))).content.decode()
    assert "Isa Brand</b> proposes changes" in bench
    form = {
        "act": "take",
        "revision": 1,
        "path": ["charge.relief_gauge_pa", "control.start_k"],
        "pick": ["control.start_k"],
    }
    assert learner.post(address, form).status_code == 422  # an apprentice takes nothing
    assert page.post(address, form).status_code == 302
    head = plan.head
    assert (head.number, head.author, head.kind, head.summary) == (2, person, "proposed", "proposed by Isa Brand")
    assert design_of(head).control.start_k.value == 9
    assert design_of(head).charge.relief_gauge_pa.value == pytest.approx(6e5)
    found.refresh_from_db()
    assert found.answer == "taken"
    assert proposals.own_proposal(plan, apprentice) is None
    assert page.post(address, form).status_code in (409, 422)
    assert plan.head.number == 2


def test_what_others_changed_meanwhile_stays_and_a_clash_is_named(
    plan: Plan, apprentice: User, person: User, page: Client
) -> None:
    found = proposals.open_proposal(plan, apprentice)
    _change(found, apprentice, "control.start_k", 9.0)
    _change(found, apprentice, "charge.relief_gauge_pa", 5e5)
    _change(plan, person, "charge.relief_gauge_pa", 4e5)
    _change(plan, person, "control.stop_k", 3.0)
    merge = proposals.merge_of(found)
    assert merge.both == ("charge.relief_gauge_pa",)
    assert (
        "changed by both"
        in page.get(reverse("history:proposal", args=(plan.job_id, plan.letter, found.pk))).content.decode()
    )
    with pytest.raises(StaleRevisionError):
        proposals.take(proposal=found, person=person, based_on=1)
    found.refresh_from_db()
    assert found.answer == "draft"  # nothing of it was done
    proposals.take(proposal=found, person=person, based_on=plan.head.number, leave={"charge.relief_gauge_pa"})
    design = design_of(plan.head)
    assert (design.control.start_k.value, design.control.stop_k.value) == (9, 3)
    assert design.charge.relief_gauge_pa.value == pytest.approx(4e5)


def test_it_is_declined_with_a_reason_alone(plan: Plan, apprentice: User, person: User) -> None:
    found = proposals.open_proposal(plan, apprentice)
    with pytest.raises(NoSuchStepError, match="nothing is changed"):
        proposals.hand_in(proposal=found, person=apprentice, said="")
    _change(found, apprentice, "control.start_k", 9.0)
    with pytest.raises(NoSuchStepError, match="say why"):
        proposals.decline(proposal=found, person=person, said=" ")
    proposals.decline(proposal=found, person=person, said="9 K loses the mornings")
    with pytest.raises(NoSuchStepError, match="answered this proposal already"):
        proposals.take(proposal=found, person=person, based_on=1)
    assert plan.head.number == 1
    again = proposals.open_proposal(plan, apprentice)
    assert again.pk != found.pk


def test_a_proposal_is_its_maker_s_alone(
    plan: Plan, apprentice: User, colleague: User, stranger: User, viewer: User
) -> None:
    found = proposals.open_proposal(plan, apprentice)
    for other in (colleague, stranger, viewer):
        with pytest.raises(NotAllowedError):
            _change(found, other, "control.start_k", 9.0)
    with pytest.raises(NotAllowedError, match="you can propose"):
        _change(plan, apprentice, "control.start_k", 9.0)
    with pytest.raises(NotAllowedError):
        proposals.open_proposal(plan, viewer)


def test_proposals_are_on_no_list_of_plans(plan: Plan, apprentice: User, page: Client) -> None:
    proposals.open_proposal(plan, apprentice)
    assert list(plan.job.plans.all()) == [plan]
    assert page.post(reverse("steps:copy", args=(plan.job_id, "A")), {"bench": "charge"}).status_code == 302
    assert sorted(plan.job.plans.values_list("letter", flat=True)) == ["A", "B"]


CHOICES = [
    ("control.start_k", 9.0),
    ("control.stop_k", 3.0),
    ("charge.relief_gauge_pa", 5e5),
    ("duty.persons", 3),
    ("survey.storeys", 3),
]


@given(st.sets(st.integers(0, 4)), st.sets(st.integers(0, 4)))
def test_two_hands_lose_nothing_of_either(mine: set[int], theirs: set[int]) -> None:
    """What only one changed stands as that one left it, whoever it was."""
    base = plan_a()
    ours = changed(base, [Change(*CHOICES[at]) for at in mine])
    other = changed(base, [Change(*CHOICES[at]) for at in theirs])
    found = merged(base, ours, other)
    assert found.design == changed(other, [Change(*CHOICES[at]) for at in mine])
    assert found.both == ()
    assert merged(base, ours, other, found.mine).design == other
    assert changed_paths(base, base) == ()
