"""Customers, sites, where a job stands, visits: kept, found, moved, forgotten; nothing of another firm's."""

from __future__ import annotations

import io
import json
import zipfile
from datetime import UTC, date, datetime, timedelta

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from icalendar import Calendar

from rowan.core.terms.finding import Change
from rowan.web.accounts.models import Firm, User
from rowan.web.commissioning.models import Run
from rowan.web.commissioning.services import Told, start_run, write
from rowan.web.customers import services
from rowan.web.customers.models import GRACE, Customer, JobCard, Site
from rowan.web.dates.models import Visit
from rowan.web.dates.services import Wish, cancel_visit, move_visit, save_visit, set_feed
from rowan.web.dates.week import week_of
from rowan.web.plans.models import Job, Plan
from rowan.web.plans.services import Edit, add_plan, change_plan, design_of, start_job
from rowan.web.ui.errors import NoSuchStepError, NotAllowedError
from tests.core.designs import plan_a

MONDAY = date(2026, 6, 1)


def at(day: int, hour: float) -> datetime:
    return datetime.combine(MONDAY, datetime.min.time()) + timedelta(days=day, hours=hour)


@pytest.fixture
def kvist(plan: Plan, firm: Firm, person: User) -> Customer:
    found = services.save_customer(firm=firm, person=person, values={"name": "Ebba Kvist", "telephone": "0555 010 014"})
    site = services.save_site(
        firm=firm,
        person=person,
        values={"address": "4 Ropewalk", "town": "Aldersund", "access": "Key with number 6. The dog stays in."},
    )
    services.set_card(job=plan.job, person=person, customer=found, site=site)
    return found


@pytest.fixture
def roof(plan: Plan, firm: Firm, person: User, colleague: User) -> Visit:
    wish = Wish("roof", at(2, 8), at(2, 17), [person, colleague], plan.job)
    return save_visit(firm=firm, person=person, wish=wish)


def test_a_customer_and_a_site_come_in_by_name_and_street(plan: Plan, page: Client) -> None:
    address = reverse("customers:set_card", args=(plan.job_id,))
    page.post(address, {"new_customer": "Ebba Kvist", "new_site": "4 Ropewalk, Aldersund"})
    card = JobCard.objects.get(job=plan.job)
    assert (str(card.customer), str(card.site), card.site.town) == ("Ebba Kvist", "4 Ropewalk, Aldersund", "Aldersund")
    page.post(address, {"customer": card.customer_id, "site": ""})
    card.refresh_from_db()
    assert (str(card.customer), card.site) == ("Ebba Kvist", None)


def test_a_customer_without_a_name_is_refused_and_nothing_typed_is_lost(page: Client, firm: Firm, person: User) -> None:
    answer = page.post(reverse("customers:customers"), {"name": " ", "telephone": "0555 010 014"})
    assert answer.status_code == 422
    assert "A customer needs a name." in answer.content.decode()
    assert 'value="0555 010 014"' in answer.content.decode()
    with pytest.raises(NoSuchStepError):
        services.save_customer(firm=firm, person=person, values={"name": ""})


def test_the_sheet_calls_and_leads_there(page: Client, kvist: Customer) -> None:
    html = page.get(reverse("customers:customer", args=(kvist.pk,))).content.decode()
    assert 'href="tel:0555010014"' in html
    assert 'href="geo:0,0?q=4%20Ropewalk%2C%20Aldersund"' in html
    assert "The dog stays in." in html
    Site.objects.update(latitude=57.2, longitude=-3.1)
    assert (
        'href="geo:57.200000,-3.100000"' in page.get(reverse("customers:customer", args=(kvist.pk,))).content.decode()
    )


def test_a_job_is_found_by_customer_street_and_note(page: Client, plan: Plan, kvist: Customer, person: User) -> None:
    Job.objects.update(title="Job 17")
    services.write_note(job=plan.job, person=person, text="The boiler is behind the larder.")
    for words in ("ebba", "ropewalk", "larder", "ebba larder"):
        assert "Job 17" in page.get(reverse("jobs:list"), {"q": words}).content.decode()
    assert "Job 17" not in page.get(reverse("jobs:list"), {"q": "ebba cellar"}).content.decode()


def test_another_firm_s_customer_and_job_cannot_be_tied(
    plan: Plan, kvist: Customer, stranger: User, page: Client
) -> None:
    theirs = Customer.objects.create(firm=stranger.firm, name="Odd's")
    assert page.post(reverse("customers:set_card", args=(plan.job_id,)), {"customer": theirs.pk}).status_code == 404
    with pytest.raises(NoSuchStepError):
        services.set_card(job=plan.job, person=stranger, customer=theirs, site=None)
    with pytest.raises(NotAllowedError):
        services.save_customer(firm=kvist.firm, person=stranger, values={"name": "x"}, customer=kvist)


# --- where a job stands


def test_states_are_set_by_somebody_and_keep_their_days(plan: Plan, page: Client, person: User) -> None:
    address = reverse("customers:set_state", args=(plan.job_id,))
    assert page.post(address, {"state": "surveyed", "on": "2026-02-11"}).status_code == 302
    assert page.post(address, {"state": "quoted", "on": "2026-02-20"}).status_code == 302
    assert [(row.state, row.on.isoformat()) for row in plan.job.stood.all()] == [
        ("surveyed", "2026-02-11"),
        ("quoted", "2026-02-20"),
    ]
    html = page.get(reverse("dates:job", args=(plan.job_id,))).content.decode()
    assert "11 Feb 2026" in html
    assert "no customer" in html  # what the next state wants
    tomorrow = timezone.localdate() + timedelta(days=1)
    for wrong in ({"state": "quoted", "on": f"{tomorrow}"}, {"state": "sold"}, {"state": "quoted", "on": "2026-02-31"}):
        assert page.post(address, wrong).status_code == 422


def test_what_is_missing_comes_from_plan_runs_and_days(plan: Plan, page: Client, kvist: Customer, person: User) -> None:
    services.set_state(job=plan.job, person=person, state="commissioned", on=date(2026, 5, 12))
    page_address = reverse("dates:job", args=(plan.job_id,))
    missing = [one.words for one in page.get(page_address).context["missing"]]
    assert missing == ["no first commissioning is closed", "frost point not read", "settings not read again"]
    run = start_run(plan=plan, kind="first", person=person)
    for field, step, typed in (("frost_c", "fluid", "-22 °C"), ("set_start", "settings", "8 K")):
        write(run=run, told=Told(kind="read", step=step, field=field, typed=typed), person=person, units="metric")
    Run.objects.filter(pk=run.pk).update(closed_at=timezone.now())
    assert [one.words for one in page.get(page_address).context["missing"]] == []


# --- deleted, kept, forgotten, given away


def test_deleting_has_days_of_grace_and_then_forgets_the_person_and_keeps_the_work(
    plan: Plan, page: Client, kvist: Customer, person: User
) -> None:
    services.write_note(job=plan.job, person=person, text="Ebba's key is with number 6")
    page.post(reverse("customers:delete", args=(kvist.pk,)))
    assert services.forget_due() == 0
    assert "Keep" in page.get(reverse("customers:customers")).content.decode()
    page.post(reverse("customers:delete", args=(kvist.pk,)), {"keep": "yes"})
    kvist.refresh_from_db()
    assert kvist.deleted is None
    services.delete_customer(customer=kvist, person=person)
    Customer.objects.update(deleted=timezone.now() - GRACE - timedelta(seconds=1))
    assert services.forget_due() == 1
    assert not Customer.objects.exists()
    assert not Site.objects.exists()
    assert not plan.job.notes.exists()
    plan.job.refresh_from_db()
    assert plan.job.title == f"E. K., Aldersund, job {plan.job_id}"
    assert plan.revisions.count() == 1
    assert "Kvist" not in json.dumps(plan.head.design)
    log = page.get(reverse("accounts:log")).content.decode()
    assert "forgot customer" in log
    assert "Ebba" not in log


def test_the_name_goes_out_of_every_state_and_nothing_else_does(plan: Plan, person: User, kvist: Customer) -> None:
    design = design_of(plan.head).model_copy(update={"title": "Ebba Kvist, 4 Ropewalk"})
    named = add_plan(job=plan.job, author=person, design=design, letter="B")
    for value in (9.0, 8.0, 7.0):
        edit = Edit([Change("control.start_k", value, "agreed")], "control.start_k", "start")
        change_plan(plan=named, author=person, based_on=named.head.number, edit=edit)
    before = [state.design for state in named.revisions.order_by("number")]
    assert any("Ebba" in one["title"] for one in before)
    services.delete_customer(customer=kvist, person=person)
    Customer.objects.update(deleted=timezone.now() - GRACE * 2)
    services.forget_due()
    after = [state.design for state in Plan.objects.get(pk=named.pk).revisions.order_by("number")]
    assert not any("Ebba" in one["title"] for one in after)
    assert [{**one, "title": ""} for one in after] == [{**one, "title": ""} for one in before]
    assert [one["control"]["start_k"]["value"] for one in after[1:]] == [9.0, 8.0, 7.0]


def test_a_landlord_s_other_house_keeps_its_site(plan: Plan, firm: Firm, person: User, kvist: Customer) -> None:
    second = start_job(firm=firm, author=person, title="Flat above", design=plan_a())
    other = services.save_customer(firm=firm, person=person, values={"name": "Tenant"})
    site = plan.job.card.site
    services.set_card(job=second.job, person=person, customer=other, site=site)
    services.delete_customer(customer=kvist, person=person)
    Customer.objects.filter(pk=kvist.pk).update(deleted=timezone.now() - GRACE * 2)
    services.forget_due()
    assert Site.objects.get() == site


def test_all_that_is_kept_of_a_customer_is_one_file(plan: Plan, page: Client, kvist: Customer, person: User) -> None:
    services.write_note(job=plan.job, person=person, text="The boiler is behind the larder.")
    page.post(
        reverse("customers:write_note", args=(plan.job_id,)),
        {"file": SimpleUploadedFile("../../evil/plan.dxf", b"\x00\x01")},
    )
    file = plan.job.files.get()
    assert file.name == ".._.._evil_plan.dxf" or file.name == "plan.dxf"
    got = page.get(reverse("customers:file", args=(plan.job_id, file.pk)))
    assert bytes(got.content) == b"\x00\x01"
    assert got["Content-Type"] == "application/octet-stream"
    assert got["Content-Disposition"].startswith("attachment")
    archive = zipfile.ZipFile(io.BytesIO(page.get(reverse("customers:export", args=(kvist.pk,))).content))
    words = json.loads(archive.read("customer.json"))
    assert (words["name"], words["telephone"]) == ("Ebba Kvist", "0555 010 014")
    assert words["jobs"][0]["site"]["access"].startswith("Key with")
    assert words["jobs"][0]["notes"][0]["text"].startswith("The boiler")
    assert archive.read(f"job-{plan.job_id}/files/{file.pk}-{file.name}") == b"\x00\x01"


def test_a_file_that_is_too_large_is_refused_in_words(plan: Plan, person: User) -> None:
    with pytest.raises(NoSuchStepError, match="a file may have 8 MB, this has 9"):
        services.add_file(job=plan.job, person=person, name="x", content=b"0" * 9_000_000)


# --- visits


def test_a_visit_is_put_on_the_week_moved_and_called_off(
    page: Client, plan: Plan, person: User, colleague: User
) -> None:
    form = {
        "kind": "roof", "job": plan.job_id, "day": "2026-06-03", "start": "08:00", "hours": "9", "people": [person.pk, colleague.pk],
        "words": "gusts under 10 m/s",
    }  # fmt: skip
    answer = page.post(reverse("dates:new_visit"), form)
    found = Visit.objects.get()
    assert answer["Location"] == f"{reverse('dates:week')}?day=2026-06-03&visit={found.pk}"
    html = page.get(answer["Location"]).content.decode()
    assert "Week 23: 1 visit" in html
    assert "gusts under 10 m/s" in html
    page.post(reverse("dates:move", args=(found.pk,)), {"to": "2026-06-04T08:30"})
    found.refresh_from_db()
    assert (found.start, found.end) == (at(3, 8.5).replace(tzinfo=UTC), at(3, 17.5).replace(tzinfo=UTC))
    page.post(reverse("dates:cancel", args=(found.pk,)))
    assert week_of(person.firm, MONDAY).visits == []
    assert "called off" in page.get(reverse("dates:job", args=(plan.job_id,))).content.decode()


@pytest.mark.parametrize(("wrong", "words"), [
    ({"hours": "0"}, "greater than or equal to 0.25"), ({"people": []}, "Who comes?"), ({"day": "2026-02-31"}, "valid date"),
    ({"kind": "party"}, "valid choice"), ({"hours": "1e9"}, "less than or equal"), ({"job": "999"}, "valid choice"),
])  # fmt: skip
def test_a_visit_that_cannot_be_is_refused_with_what_was_typed(
    page: Client, person: User, wrong: dict[str, object], words: str
) -> None:
    form = {
        "kind": "survey",
        "day": "2026-06-03",
        "start": "08:00",
        "hours": "2",
        "people": [person.pk],
        "words": "ladder",
    }
    answer = page.post(reverse("dates:new_visit"), {**form, **wrong})
    assert answer.status_code == 422
    assert words in answer.content.decode()
    assert 'value="ladder"' in answer.content.decode()
    assert not Visit.objects.exists()


def test_a_clash_is_said_and_its_cure_cures(
    page: Client, roof: Visit, firm: Firm, person: User, colleague: User, plan: Plan
) -> None:
    wish = Wish("commissioning", at(2, 6.5), at(2, 12), [colleague], plan.job)
    save_visit(firm=firm, person=person, wish=wish)
    html = page.get(reverse("dates:week"), {"day": "2026-06-01"}).content.decode()
    assert "Ives stands in two places on Wednesday" in html
    one = week_of(firm, MONDAY).advice()[0]
    assert one.to == at(3, 6.5)
    page.post(reverse("dates:move", args=(one.visit.pk,)), {"to": one.to.isoformat()})
    assert [advice.trouble.key for advice in week_of(firm, MONDAY).advice()] == ["no_scaffold"]


def test_who_is_of_another_firm_cannot_be_sent(firm: Firm, person: User, stranger: User, roof: Visit) -> None:
    with pytest.raises(NoSuchStepError, match="no such person"):
        save_visit(firm=firm, person=person, wish=Wish("survey", at(0, 8), at(0, 9), [stranger]))
    for act in (
        lambda: move_visit(visit=roof, person=stranger, start=at(0, 8)),
        lambda: cancel_visit(visit=roof, person=stranger),
    ):
        with pytest.raises(NotAllowedError):
            act()


def test_a_calendar_link_follows_what_is_moved_and_ends(
    page: Client, person: User, colleague: User, firm: Firm, plan: Plan, kvist: Customer
) -> None:
    start = datetime.combine(timezone.localdate() + timedelta(days=1), datetime.min.time()) + timedelta(hours=6.5)
    visit = save_visit(
        firm=firm,
        person=person,
        wish=Wish("revisit", start, start + timedelta(hours=2), [person], plan.job, "refractometer"),
    )
    save_visit(firm=firm, person=person, wish=Wish("survey", start, start + timedelta(hours=1), [colleague]))
    page.post(reverse("dates:set_feed"), {"wanted": "yes"})
    person.refresh_from_db()
    link, nobody = reverse("dates:feed", args=(person.feed,)), Client()

    def events() -> list[tuple[str, int, datetime, str]]:
        answer = nobody.get(link)
        assert answer["Content-Type"].startswith("text/calendar")
        found = Calendar.from_ical(answer.content).walk("VEVENT")
        return [(str(one["uid"]), int(one["sequence"]), one["dtstart"].dt, str(one["status"])) for one in found]

    uid = f"visit-{visit.uid}@rowan"
    assert events() == [(uid, 0, start, "CONFIRMED")]
    assert "LOCATION:4 Ropewalk\\, Aldersund" in nobody.get(link).content.decode()
    assert "Ebba" not in nobody.get(link).content.decode()
    moved = start + timedelta(days=1)
    move_visit(visit=visit, person=person, start=moved)
    assert events() == [(uid, 1, moved, "CONFIRMED")]
    cancel_visit(visit=visit, person=person)
    assert events() == [(uid, 2, moved, "CANCELLED")]
    old = link
    page.post(reverse("dates:set_feed"), {"wanted": "yes"})
    assert nobody.get(old).status_code == 404
    set_feed(person=person, wanted=False)
    assert nobody.get(reverse("dates:feed", args=("x",))).status_code == 404


def test_the_week_asks_the_same_number_of_questions_for_many_visits(
    page: Client, firm: Firm, person: User, colleague: User, plan: Plan, django_assert_max_num_queries: object
) -> None:
    from django.db import connection
    from django.test.utils import CaptureQueriesContext

    def asked() -> int:
        with CaptureQueriesContext(connection) as found:
            page.get(reverse("dates:week"), {"day": "2026-06-01"})
        return len(found)

    save_visit(firm=firm, person=person, wish=Wish("survey", at(0, 8), at(0, 9), [person], plan.job))
    few = asked()
    for number in range(30):
        day, hour = number % 5, 8 + number % 8
        save_visit(
            firm=firm,
            person=person,
            wish=Wish("survey", at(day, hour), at(day, hour + 1), [person, colleague], plan.job),
        )
    assert asked() == few
