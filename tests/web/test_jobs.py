"""The list of jobs: found, put away, brought back, copied, taken in from files; nothing half done."""

from __future__ import annotations

import json
import re

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from rowan.core.design.design import SCHEMA_VERSION, Design
from rowan.core.design.job_file import dump, load
from rowan.demo.kvist import kvist_plan_a
from rowan.web.accounts.models import User
from rowan.web.jobs.ledger import A_PAGE, Ask, found_jobs, ledger
from rowan.web.plans import services
from rowan.web.plans.models import Job, Plan, Revision
from tests.core.designs import plan_b, proposed

pytestmark = pytest.mark.django_db


def names(page: Client, query: str = "") -> list[str]:
    html = page.get(reverse("jobs:list") + query).content.decode()
    return re.findall(r'class="job-name"[^>]*>([^<]*)<', html)


def file(text: str | bytes, name: str = "house.json") -> SimpleUploadedFile:
    return SimpleUploadedFile(name, text.encode() if isinstance(text, str) else text, "application/json")


def take_in(page: Client, *files: SimpleUploadedFile) -> object:
    return page.post(reverse("jobs:take_in"), {"file": list(files)})


# searching and putting away


def test_every_word_must_be_in_the_name_or_the_place(plan: Plan, direct_plan: Plan, page: Client) -> None:
    assert names(page) == ["Sandreef guesthouse", "Kvist house, 4 Ropewalk"]
    assert names(page, "?q=kvist") == ["Kvist house, 4 Ropewalk"]
    assert names(page, "?q=port+maravel") == ["Sandreef guesthouse"]
    assert names(page, "?q=aldersund+rope") == ["Kvist house, 4 Ropewalk"]
    assert names(page, "?q=kvist+maravel") == []


@pytest.mark.parametrize(
    "query", ["?q=%25", "?q=%00", "?q=" + "x" * 500, "?page=99", "?page=-1", "?page=x", "?show=nothing"]
)
def test_odd_searches_are_answered(plan: Plan, page: Client, query: str) -> None:
    assert page.get(reverse("jobs:list") + query).status_code == 200


def test_a_search_without_a_match_says_where_else_to_look(plan: Plan, page: Client, person: User) -> None:
    services.archive_job(job=plan.job, author=person, archived=True)
    html = page.get(reverse("jobs:list") + "?q=kvist").content.decode()
    assert "No open job has “kvist”" in html
    assert "look among the archived" in html


def test_an_archived_job_leaves_the_list_and_comes_back(plan: Plan, page: Client) -> None:
    archive = reverse("jobs:archive", args=(plan.job_id,))
    page.post(archive, {"archived": "yes"})
    assert names(page) == []
    assert names(page, "?show=archived") == ["Kvist house, 4 Ropewalk"]
    assert page.get(reverse("steps:bench", args=(plan.job_id, "A", "charge"))).status_code == 200
    page.post(archive, {"archived": "no"})
    assert names(page) == ["Kvist house, 4 Ropewalk"]


def test_empty_lists_teach(page: Client) -> None:
    empty = page.get(reverse("jobs:list")).content.decode()
    assert "No jobs yet" in empty
    assert "Start the plan" in empty
    assert "Nothing is archived" in page.get(reverse("jobs:list") + "?show=archived").content.decode()


def test_a_long_list_is_shown_a_page_at_a_time(person: User, page: Client) -> None:
    assert person.firm is not None
    for number in range(A_PAGE + 3):
        services.start_job(firm=person.firm, author=person, title=f"House {number}", design=kvist_plan_a())
    assert len(names(page)) == A_PAGE
    assert len(names(page, "?page=2")) == 3
    assert "page 1 of 2" in page.get(reverse("jobs:list")).content.decode()


def test_the_list_is_read_with_few_queries(person: User, plan: Plan, django_assert_max_num_queries: object) -> None:
    assert person.firm is not None
    for number in range(8):
        services.start_job(firm=person.firm, author=person, title=f"House {number}", design=kvist_plan_a())
    with django_assert_max_num_queries(6 + 9):  # type: ignore[operator]  # and one for the newest state of each job
        ledger(person, Ask(), "metric")


def test_a_stranger_finds_none_of_it(plan: Plan, stranger: User) -> None:
    assert list(found_jobs(stranger, Ask("kvist"))) == []


# renaming, copying


def test_a_job_is_renamed_and_an_empty_name_keeps_the_old_one(plan: Plan, page: Client) -> None:
    rename = reverse("jobs:rename", args=(plan.job_id,))
    page.post(rename, {"title": "  Kvist, finished ", "was": plan.job.title, "next": "/"})
    plan.job.refresh_from_db()
    assert plan.job.title == "Kvist, finished"
    refused = page.post(rename, {"title": "   ", "was": plan.job.title, "next": "/"})
    assert refused.status_code == 422
    assert "A job needs a name" in refused.content.decode()
    plan.job.refresh_from_db()
    assert plan.job.title == "Kvist, finished"


def test_papers_keep_the_units_of_the_job_whoever_prints(plan: Plan, page: Client, person: User) -> None:
    where = reverse("jobs:paper_units", args=(plan.job_id,))
    page.post(where, {"units": "us", "next": "/"})
    plan.job.refresh_from_db()
    assert plan.job.paper_units == "us"
    assert person.units == "metric"
    parts = page.get(reverse("papers:parts_csv", args=(plan.job_id, plan.letter))).content.decode()
    assert " ft" in parts
    page.post(where, {"units": "nonsense", "next": "/"})
    plan.job.refresh_from_db()
    assert plan.job.paper_units == "", "whoever prints, then"
    assert " ft" not in page.get(reverse("papers:parts_csv", args=(plan.job_id, plan.letter))).content.decode()


def test_whoever_renames_second_is_told_and_writes_over_nothing(plan: Plan, page: Client) -> None:
    rename, was = reverse("jobs:rename", args=(plan.job_id,)), plan.job.title
    page.post(rename, {"title": "Ropewalk 4", "was": was, "next": "/"})
    second = page.post(rename, {"title": "The Kvists", "was": was, "next": "/"})
    assert second.status_code == 422
    assert "Ropewalk 4" in second.content.decode()
    plan.job.refresh_from_db()
    assert plan.job.title == "Ropewalk 4"


def test_a_duplicate_has_all_plans_and_its_own_life(plan: Plan, page: Client, person: User) -> None:
    services.add_plan(job=plan.job, author=person, design=plan_b(), letter="B")
    page.post(reverse("jobs:duplicate", args=(plan.job_id,)))
    copy = Job.objects.visible(person).exclude(pk=plan.job_id).get()
    assert copy.title == "Kvist house, 4 Ropewalk, copy"
    assert {p.letter: services.design_of(p.head) for p in copy.plans.all()} == {"A": kvist_plan_a(), "B": plan_b()}
    mine = copy.plans.get(letter="A")
    services.rename_job(job=copy, author=person, title="Another", was=copy.title)
    assert plan.head.number == mine.head.number == 1


# job files in


@pytest.mark.parametrize("design", [kvist_plan_a(), plan_b(), proposed("maravel-8-gas")], ids=["a", "b", "direct"])
def test_a_job_file_goes_out_and_comes_in_the_same(page: Client, person: User, design: Design) -> None:
    answer = take_in(page, file(dump(design)))
    made = Plan.objects.get()
    assert answer.status_code == 302  # type: ignore[attr-defined]
    assert made.job.title == design.title
    assert made.head.kind == Revision.Kind.IMPORT
    out = page.get(reverse("steps:export", args=(made.job_id, made.letter)))
    assert load(out.content) == design


def test_an_older_file_is_brought_up_on_the_way_in(page: Client) -> None:
    with open("tests/core/samples/job-file-1.json", "rb") as old:
        take_in(page, file(old.read()))
    assert services.design_of(Plan.objects.get().head).schema_version == SCHEMA_VERSION


def test_a_file_without_a_title_is_named_after_itself(page: Client) -> None:
    take_in(page, file(dump(kvist_plan_a().model_copy(update={"title": ""})), "../../Mill Lane 7.json"))
    assert Job.objects.get().title == "Mill Lane 7"


def _broken(change: object) -> str:
    data = json.loads(dump(kvist_plan_a()))
    change(data)  # type: ignore[operator]
    return json.dumps(data)


BAD = {
    "truncated": (dump(kvist_plan_a())[:3000], "this is not a JSON job file"),
    "unknown key": (_broken(lambda d: d["charge"].update(colour="red")), "charge.colour: is not a key"),
    "newer": (_broken(lambda d: d.update(schema_version=99)), "newer Rowan (99)"),
    "NaN": (dump(kvist_plan_a()).replace("600000.0", "NaN"), "NaN is not a number"),
    "over its limit": (
        _broken(lambda d: d["charge"]["share"].update(value=1.2)),
        "1.2 is above the most that can be, 0.6",
    ),
    "deep": ("[" * 50_000, "nested too deeply"),
    "binary": (bytes(range(256)), "not a text file in UTF-8"),
    "markup": ("<script>alert(1)</script>", "this is not a JSON job file"),
}


@pytest.mark.parametrize(("text", "reason"), BAD.values(), ids=BAD)
def test_a_bad_file_is_refused_on_the_page_and_nothing_is_taken_in(
    page: Client, text: str | bytes, reason: str
) -> None:
    good = file(dump(kvist_plan_a()), "good.json")
    answer = take_in(page, good, file(text, "bad.json"))
    assert answer.status_code == 422  # type: ignore[attr-defined]
    html = answer.content.decode()  # type: ignore[attr-defined]
    assert "bad.json is not taken in" in html
    assert reason in html.replace("&quot;", '"')
    assert "<script>alert(1)" not in html
    assert Job.objects.count() == 0, "nothing half taken in"


def test_a_limit_in_a_refused_file_is_said_in_the_reader_s_units(page: Client, person: User) -> None:
    person.units = "us"
    person.save()
    text = _broken(lambda d: d["charge"]["relief_gauge_pa"].update(value=9e9))
    assert "232.1\N{NO-BREAK SPACE}psi" in take_in(page, file(text)).content.decode()  # type: ignore[attr-defined]


def test_fifty_megabytes_are_refused_unread(page: Client) -> None:
    answer = take_in(page, file(b" " * 50_000_000, "huge.json"))
    assert answer.status_code == 413  # type: ignore[attr-defined]
    assert "At most 13 MB are taken at once; this has 50 MB" in answer.content.decode()  # type: ignore[attr-defined]
    three = take_in(page, file(b" " * 3_000_000, "large.json"))
    assert three.status_code == 422  # type: ignore[attr-defined]
    assert "no job file has more than 2 MB" in three.content.decode()  # type: ignore[attr-defined]


def test_no_file_and_too_many_files_are_said(page: Client) -> None:
    assert "Choose a job file first" in page.post(reverse("jobs:take_in")).content.decode()
    many = [file(dump(kvist_plan_a()), f"{n}.json") for n in range(21)]
    assert "up to 20" in take_in(page, *many).content.decode()  # type: ignore[attr-defined]
    assert Job.objects.count() == 0
