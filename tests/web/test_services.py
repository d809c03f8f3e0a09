from __future__ import annotations

from datetime import timedelta
from threading import Barrier, Thread

import pytest
from django.core.management import call_command
from django.db import IntegrityError, connection, transaction
from django.test import Client
from django.utils import timezone
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from hypothesis.extra.django import TestCase

from rowan.core.reckon import ENGINE_VERSION
from rowan.core.terms.errors import JobFileError
from rowan.core.terms.finding import Change
from rowan.demo.kvist import kvist_plan_a
from rowan.demo.load import load_world
from rowan.web.accounts.models import Firm, User
from rowan.web.customers.models import Customer
from rowan.web.dates.week import week_of
from rowan.web.plans import services
from rowan.web.plans.models import Job, Plan, Revision

pytestmark = pytest.mark.django_db


def gap(value: float) -> services.Edit:
    return services.Edit([Change("charge.gap_pa", value)], "charge.gap_pa", "gap", "agreed")


def gap_of(plan: Plan) -> float:
    return services.design_of(plan.head).charge.gap_pa.value


def _age(revision: Revision) -> None:
    Revision.objects.filter(pk=revision.pk).update(created=timezone.now() - timedelta(seconds=60))


def test_a_change_is_a_new_revision_and_the_old_one_stays(plan: Plan, person: User) -> None:
    before = plan.head.design
    revision = services.change_plan(plan=plan, author=person, based_on=1, edit=gap(40e3))
    assert (revision.number, revision.author, gap_of(plan)) == (2, person, 40e3)
    assert plan.revisions.get(number=1).design == before


def test_undo_and_redo_are_revisions_too(plan: Plan, person: User) -> None:
    for number, value in enumerate((40e3, 50e3), 1):
        _age(services.change_plan(plan=plan, author=person, based_on=number, edit=gap(value)))
    assert gap_of(plan) == 50e3
    for expected in (40e3, 30e3):
        services.undo(plan=plan, author=person, based_on=plan.head.number)
        assert gap_of(plan) == expected
    with pytest.raises(services.NoSuchStepError):
        services.undo(plan=plan, author=person, based_on=plan.head.number)
    for expected in (40e3, 50e3):
        services.redo(plan=plan, author=person, based_on=plan.head.number)
        assert gap_of(plan) == expected
    with pytest.raises(services.NoSuchStepError):
        services.redo(plan=plan, author=person, based_on=plan.head.number)
    assert plan.head.number == 7


def test_a_change_after_undo_forgets_redo(plan: Plan, person: User) -> None:
    services.change_plan(plan=plan, author=person, based_on=1, edit=gap(40e3))
    services.undo(plan=plan, author=person, based_on=2)
    services.change_plan(plan=plan, author=person, based_on=3, edit=gap(60e3))
    with pytest.raises(services.NoSuchStepError):
        services.redo(plan=plan, author=person, based_on=4)


def test_one_input_within_ten_seconds_is_one_step_back(plan: Plan, person: User) -> None:
    for number, value in enumerate((35e3, 40e3, 45e3), 1):
        services.change_plan(plan=plan, author=person, based_on=number, edit=gap(value))
    services.undo(plan=plan, author=person, based_on=4)
    assert gap_of(plan) == 30e3


def test_two_people_are_two_steps_back(plan: Plan, person: User, colleague: User) -> None:
    services.change_plan(plan=plan, author=person, based_on=1, edit=gap(35e3))
    services.change_plan(plan=plan, author=colleague, based_on=2, edit=gap(45e3))
    services.undo(plan=plan, author=person, based_on=3)
    assert gap_of(plan) == 35e3


def test_an_old_base_is_refused_and_nothing_is_saved(plan: Plan, person: User, colleague: User) -> None:
    services.change_plan(plan=plan, author=colleague, based_on=1, edit=gap(40e3))
    with pytest.raises(services.StaleRevisionError) as caught:
        services.change_plan(plan=plan, author=person, based_on=1, edit=gap(60e3))
    assert caught.value.head.author == colleague
    assert gap_of(plan) == 40e3


@pytest.mark.django_db(transaction=True)
def test_of_two_saves_at_once_one_is_refused(plan: Plan, person: User) -> None:
    """Two threads with connections of their own, both based on the first revision."""
    start, outcomes = Barrier(2), list[str]()

    def save(value: float) -> None:
        start.wait()
        try:
            services.change_plan(plan=plan, author=person, based_on=1, edit=gap(value))
            outcomes.append("saved")
        except services.StaleRevisionError:
            outcomes.append("refused")
        finally:
            connection.close()

    threads = [Thread(target=save, args=(value,)) for value in (40e3, 60e3)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(outcomes) == ["refused", "saved"]
    assert plan.head.number == 2


def test_a_change_that_cannot_be_taken_saves_nothing(plan: Plan, person: User) -> None:
    with pytest.raises(JobFileError):
        services.change_plan(plan=plan, author=person, based_on=1, edit=gap(9e9))
    assert plan.head.number == 1


def test_a_change_to_the_same_value_is_no_revision(plan: Plan, person: User) -> None:
    edit = services.Edit([Change("charge.gap_pa", 30e3)], "charge.gap_pa", "gap")
    assert services.change_plan(plan=plan, author=person, based_on=1, edit=edit).number == 1


def test_a_cure_is_tried_and_undone(plan: Plan, person: User) -> None:
    services.apply_cure(plan=plan, author=person, based_on=1, finding_key="vent_steam", cure_index=0)
    assert services.design_of(plan.head).run.vent_shut_off.value is True
    services.undo(plan=plan, author=person, based_on=2)
    assert services.design_of(plan.head) == kvist_plan_a()


@pytest.mark.parametrize(("key", "index"), [("no_such_rule", 0), ("vent_steam", 5), ("vent_steam", -1)])
def test_a_cure_that_is_not_there_is_refused(plan: Plan, person: User, key: str, index: int) -> None:
    with pytest.raises(services.NoSuchStepError):
        services.apply_cure(plan=plan, author=person, based_on=1, finding_key=key, cure_index=index)


def test_a_job_has_up_to_four_plans(plan: Plan, person: User) -> None:
    letters = [services.copy_plan(plan=plan, author=person).letter for _ in range(3)]
    assert letters == ["B", "C", "D"]
    with pytest.raises(services.NoSuchStepError):
        services.copy_plan(plan=plan, author=person)


def test_a_revision_keeps_what_the_ledger_lists(plan: Plan) -> None:
    head = plan.head
    assert (head.engine_version, head.assumed_count) == (ENGINE_VERSION, 11)


def test_the_ledger_is_reckoned_anew_for_an_older_engine(plan: Plan, capsys: pytest.CaptureFixture[str]) -> None:
    Revision.objects.update(engine_version="0.0.1", assumed_count=0)
    design = plan.head.design
    call_command("rebuild_ledger")
    assert "1 plans" in capsys.readouterr().out
    head = plan.head
    assert (head.engine_version, head.assumed_count, head.design) == (ENGINE_VERSION, 11, design)
    call_command("rebuild_ledger")
    assert "0 plans" in capsys.readouterr().out


def test_a_revision_number_is_given_once(plan: Plan) -> None:
    head = plan.head
    with pytest.raises(IntegrityError), transaction.atomic():
        Revision.objects.create(plan=plan, number=head.number, kind="edit", design={}, engine_version="0")


@pytest.mark.sqlite
def test_foreign_keys_are_held(plan: Plan) -> None:
    with connection.cursor() as cursor:
        assert cursor.execute("PRAGMA foreign_keys").fetchone() == (1,)


@pytest.mark.sqlite
def test_the_log_is_written_ahead() -> None:
    with connection.cursor() as cursor:
        assert cursor.execute("PRAGMA journal_mode").fetchone() == ("wal",)
        assert cursor.execute("PRAGMA busy_timeout").fetchone()[0] >= 10_000


def test_the_demo_world_is_whole_and_loads_once() -> None:
    person = load_world()
    load_world()
    assert (Firm.objects.count(), User.objects.count(), Customer.objects.count()) == (1, 3, 5)
    assert len(week_of(person.firm, timezone.localdate()).advice()) == 1
    jobs = {job.title: [p.letter for p in job.plans.all()] for job in Job.objects.visible(person)}
    assert jobs == {
        "Kvist house, 4 Ropewalk": ["A", "B"],
        "Sandreef guesthouse": ["A", "B"],
        "Tolliver bungalow": ["A"],
        "Corrim hostel": ["A"],
        "Pipwater pool": ["A", "B"],
    }


class UndoProperty(TestCase):
    """Whatever is changed, undoing it all gives the first design back, and redoing it all the last."""

    @settings(max_examples=12, deadline=None, suppress_health_check=list(HealthCheck))
    @given(values=st.lists(st.integers(31, 70), min_size=1, max_size=5))
    def test_undo_all_redo_all(self, values: list[int]) -> None:
        firm, _ = Firm.objects.get_or_create(name="Property firm")
        person, _ = User.objects.get_or_create(email="p@property.example", defaults={"name": "P", "firm": firm})
        plan = services.start_job(firm=firm, author=person, title="p", design=kvist_plan_a())
        for value in values:
            services.change_plan(plan=plan, author=person, based_on=plan.head.number, edit=gap(value * 1e3))
            _age(plan.head)
        first, last, steps = plan.revisions.get(number=1).design, plan.head.design, 0
        while plan.head.undo_to is not None:
            services.undo(plan=plan, author=person, based_on=plan.head.number)
            steps += 1
        assert plan.head.design == first
        for _ in range(steps):
            services.redo(plan=plan, author=person, based_on=plan.head.number)
        assert plan.head.design == last


def test_a_change_that_is_sent_again_is_saved_once(plan: Plan, page: Client) -> None:
    sent = "0b7c9c1e-7a53-4d0e-9a3e-1f2a3b4c5d6e"
    address, before = f"/jobs/{plan.job_id}/A/set/", plan.head.number
    post = {"path": "control.start_k", "value": "9 K", "revision": before, "bench": "control", "sent": sent}
    first, again = page.post(address, post), page.post(address, post)
    assert (first.status_code, again.status_code) == (302, 302)
    plan.refresh_from_db()
    assert plan.head.number == before + 1
    assert plan.head.sent == sent
    # another id on top of the old revision is another change, and overtaken
    other = page.post(address, {**post, "sent": sent.replace("0b7c", "1b7c")})
    assert other.status_code == 409
    # what is no id is none
    nonsense = page.post(address, {**post, "value": "10 K", "revision": before + 1, "sent": "x" * 500})
    assert nonsense.status_code == 302
    plan.refresh_from_db()
    assert plan.head.sent is None
