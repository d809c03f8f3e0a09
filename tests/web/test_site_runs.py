"""Runs on site: what is written stays as it was written, from whatever phone, in whatever unit; and what follows from it."""

from __future__ import annotations

import io
import json
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse
from django.utils import timezone
from icalendar import Calendar
from PIL import ExifTags, Image

from rowan.core.reckon import reckon
from rowan.core.records.run import RunState, digest, kinds_for, run_steps
from rowan.web.accounts.models import User
from rowan.web.care.models import LoopHealth
from rowan.web.commissioning.dates import reminders
from rowan.web.commissioning.models import Entry, Run
from rowan.web.commissioning.payload import dimensions_of, units_data
from rowan.web.commissioning.photos import MOST_PIXELS, photograph
from rowan.web.commissioning.record import lines_of
from rowan.web.commissioning.refused import EntryRefusedError, RunClosedError
from rowan.web.commissioning.services import POSSIBLE, Told, start_run, state_of, write
from rowan.web.commissioning.timeline import timeline
from rowan.web.commissioning.water_curve import water_curve
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import Reckoned
from rowan.web.plans.services import Edit, change_plan, design_of
from rowan.web.ui.errors import NotAllowedError

SENT = "0b5e1f7a-0000-4000-8000-{:012d}"


@pytest.fixture
def run(plan: Plan, person: User) -> Run:
    return start_run(plan=plan, kind="first", person=person)


def read(run: Run, person: User, step: str, field: str, typed: str, **more: Any) -> Entry:
    told = Told(
        more.pop("kind", "read"), step, field, typed, more.pop("text", ""), more.pop("at", None), more.pop("sent", "")
    )
    return write(run=run, told=told, person=person, units=more.pop("units", "metric"))


def say(run: Run, person: User, kind: str, text: str = "", step: str = "") -> Entry:
    return write(run=run, told=Told(kind, step, text=text), person=person, units="metric")


def step_of(state: RunState, key: str) -> Any:
    return next(one for one in state.steps if one.step.key == key)


# --- writing


def test_a_run_keeps_the_revision_it_was_begun_on(run: Run, plan: Plan, person: User) -> None:
    before = state_of(run).symbols["plan_fill"]
    edit = Edit(
        [__import__("rowan.core.terms.finding", fromlist=["Change"]).Change("charge.gap_pa", 5e4)],
        "charge.gap_pa",
        "gap",
    )
    change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    assert run.revision.number == 1
    assert state_of(run).symbols["plan_fill"] == before


def test_the_plan_s_change_meanwhile_is_shown_on_the_phone(run: Run, plan: Plan, person: User, page: Client) -> None:
    address = reverse("commissioning:work", args=(plan.job_id, plan.letter, run.pk))
    assert "was changed since" not in page.get(address).content.decode()
    from rowan.core.terms.finding import Change

    change_plan(plan=plan, author=person, based_on=1, edit=Edit([Change("charge.gap_pa", 5e4)], "charge.gap_pa", "gap"))
    assert "was changed since this run began (1 revision)" in page.get(address).content.decode()


@pytest.mark.parametrize(("typed", "units", "pascal"), [
    ("1.47", "metric", 147e3), ("1,47 bar", "metric", 147e3), ("21.3 psi", "metric", 21.3 * 6894.757), ("21.3", "us", 21.3 * 6894.757),
    ("1.47 bar", "us", 147e3), ("147 kPa", "metric", 147e3),
])  # fmt: skip
def test_a_reading_is_taken_in_any_unit(run: Run, person: User, typed: str, units: str, pascal: float) -> None:
    entry = read(run, person, "vessel", "vessel_set", typed, units=units)
    assert entry.value == pytest.approx(pascal, rel=1e-6)
    assert entry.text == typed


@pytest.mark.parametrize(("step", "field", "typed", "why"), [
    ("vessel", "vessel_set", "45", "45.00.bar cannot be"),
    ("vessel", "vessel_set", "many", "is not a number"),
    ("vessel", "colour_s", "4", "nothing of that name"),
    ("inspect", "store_full", "4", "nothing of that name"),
    ("falls", "fall_least", "2", "no such step"),
])  # fmt: skip
def test_what_cannot_be_read_is_asked_back(run: Run, person: User, step: str, field: str, typed: str, why: str) -> None:
    with pytest.raises(EntryRefusedError, match=why):
        read(run, person, step, field, typed)
    assert run.entries.count() == 0


def test_the_same_entry_sent_twice_is_one(run: Run, person: User) -> None:
    first = read(run, person, "inspect", "field_c", "14", sent=SENT.format(1))
    again = read(run, person, "inspect", "field_c", "14", sent=SENT.format(1))
    assert first.pk == again.pk
    assert run.entries.count() == 1


def test_two_phones_never_lose_each_other_s_entries(run: Run, person: User, colleague: User) -> None:
    for number in range(6):
        who, browser = (person, "aaaaaaaa") if number % 2 else (colleague, "bbbbbbbb")
        read(run, who, "inspect", "field_c", str(10 + number), sent=f"{browser}-{number:04d}-4000-8000-000000000000")
    assert [entry.number for entry in run.entries.all()] == [1, 2, 3, 4, 5, 6]
    assert {str(entry.person) for entry in run.entries.all()} == {"Mara Hollin", "Ives Wray"}


def test_a_clock_that_runs_backwards_is_put_right_and_told(run: Run, person: User) -> None:
    now = timezone.now()
    read(run, person, "inspect", "field_c", "14", at=now - timedelta(minutes=5), sent=SENT.format(1))
    later = read(run, person, "inspect", "gauge_zero", "0", at=now - timedelta(hours=3), sent=SENT.format(2))
    assert later.clock_off
    assert later.at == now - timedelta(minutes=5)
    future = read(run, person, "inspect", "gauge_zero", "0", at=datetime(2150, 1, 1, tzinfo=UTC), sent=SENT.format(3))
    assert future.clock_off
    assert future.at.year < 2150


def test_an_entry_that_lay_in_a_phone_keeps_its_time_and_its_place(run: Run, person: User, colleague: User) -> None:
    now = timezone.now()
    read(
        run,
        person,
        "fill",
        "colour_s",
        "88",
        at=now - timedelta(minutes=1),
        sent="aaaaaaaa-0000-4000-8000-000000000001",
    )
    read(
        run,
        colleague,
        "fill",
        "colour_s",
        "4",
        at=now - timedelta(hours=2),
        sent="bbbbbbbb-0000-4000-8000-000000000001",
    )
    state = state_of(run)
    assert state.symbols["colour_s"] == 88.0, "what was read last counts, not what came last"
    assert [was.key for was in state.deviations] == ["short_circuit"]
    assert state.deviations[0].cured


def test_a_correction_is_a_new_entry_with_its_reason(run: Run, person: User) -> None:
    first = read(run, person, "fill", "colour_s", "4 s")
    told = Told("read", "fill", "colour_s", "88 s", reason="cured, done again")
    again = write(run=run, told=told, person=person, units="metric")
    third = read(run, person, "fill", "colour_s", "89 s")
    assert [entry.reason for entry in (first, again, third)] == ["", "cured, done again", "read again"]
    state = state_of(run)
    line = lines_of(step_of(state, "fill"), state, "metric")[0]
    assert line.read == "89\N{NO-BREAK SPACE}s"
    assert line.before == "before: 4\N{NO-BREAK SPACE}s, 88\N{NO-BREAK SPACE}s; read again"
    other = [replace(entry, reason="mistyped") for entry in state.entries]
    assert digest({}, other) != digest({}, state.entries), "the hash holds the reason too"


def test_what_is_due_is_read_without_playing_a_run(
    run: Run, person: User, django_assert_num_queries: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    say(run, person, "close", "Mara Hollin")
    monkeypatch.setattr("rowan.web.commissioning.services.run_of", None)
    with django_assert_num_queries(1):
        assert len(reminders(person)) == 1


def test_a_closed_run_takes_nothing_but_the_day_to_come_back(run: Run, person: User) -> None:
    say(run, person, "close", "Mara Hollin")
    with pytest.raises(RunClosedError, match="goes into a further one"):
        read(run, person, "inspect", "field_c", "14")
    say(run, person, "due", "2026-06-05")
    assert state_of(run).revisit == date(2026, 6, 5)


@pytest.mark.parametrize(("kind", "text", "why"), [
    ("left", "", "say why"), ("close", " ", "say who"), ("due", "soon", "no date"), ("sign", "Mara|<script>", "lines of a hand"),
    ("party", "", "nobody knows"), ("note", "x" * 2001, "longer than"),
])  # fmt: skip
def test_words_that_say_nothing_are_refused(run: Run, person: User, kind: str, text: str, why: str) -> None:
    with pytest.raises(EntryRefusedError, match=why):
        say(run, person, kind, text)


def test_a_stranger_writes_nothing(run: Run, stranger: User) -> None:
    with pytest.raises(NotAllowedError):
        read(run, stranger, "inspect", "field_c", "14")


def test_the_form_that_starts_a_run_sent_twice_starts_one(plan: Plan, page: Client) -> None:
    address = reverse("commissioning:runs", args=(plan.job_id, plan.letter))
    for _ in range(2):
        assert page.post(address, {"kind": "service", "sent": SENT.format(7)}).status_code == 302
    assert plan.runs.count() == 1
    refused = page.post(address, {"kind": "bench"})
    assert refused.status_code == 422
    assert "no such kind of run" in refused.content.decode()


# --- pages


def test_the_phone_s_page_brings_all_it_judges_by(run: Run, plan: Plan, person: User, page: Client) -> None:
    read(run, person, "inspect", "field_c", "14")
    answer = page.get(reverse("commissioning:work", args=(plan.job_id, plan.letter, run.pk)))
    data = answer.context["data"]
    assert [step["key"] for step in data["steps"]] == [one.step.key for one in state_of(run).steps]
    assert data["constants"]["plan_contents"] == pytest.approx(0.0211, rel=0.01)
    assert data["entries"][0]["value"] == 14.0
    fill = next(step for step in data["steps"] if step["key"] == "fill")
    table = data["tables"][fill["handles"]]
    # valves in the order of their tags, each by its first letter: the one between the ports open while it is filled
    drawn = answer.context["rows"][[step["key"] for step in data["steps"]].index("fill")]["step"].valves
    order = [v for v in ("supply", "between", "outlet", "vessel", "check", "vent") if v in drawn]
    key = "".join({**drawn, "between": "open"}[v][0] for v in order)
    assert any("straight to the drain" in table["said"][place][1] for place in table["states"][key])
    assert "".join(drawn[v][0] for v in order) not in table["states"]


@pytest.mark.parametrize("kind", ["sealed", "direct", "drainback", "thermosiphon"])
@pytest.mark.parametrize("medium", ["water", "air"])
def test_the_phone_can_print_and_bound_whatever_is_read(kind: str, medium: str) -> None:
    from tests.core.test_valve_states import design_of

    design = design_of(kind, commission__test=medium)
    found = Reckoned(design, reckon(design))
    for run_kind in kinds_for(found):
        steps = run_steps(run_kind, found)
        data = units_data("us", steps)
        assert dimensions_of(steps) <= set(data)
        for step in steps:
            for field in step.fields:
                assert field.tick or field.dimension in POSSIBLE, field.key
                assert len(field.key) <= 30, field.key
            assert len(step.key) <= 20, step.key


def test_a_rehearsal_writes_nothing(plan: Plan, page: Client) -> None:
    text = page.get(reverse("commissioning:rehearsal", args=(plan.job_id, plan.letter))).content.decode()
    assert "nothing is written" in text
    assert "data-address" not in text
    assert Run.objects.count() == 0


def test_an_entry_over_http_answers_with_what_was_kept(run: Run, plan: Plan, page: Client) -> None:
    address = reverse("commissioning:entries", args=(plan.job_id, plan.letter, run.pk))
    kept = page.post(
        address, {"kind": "read", "step": "vessel", "field": "vessel_set", "typed": "21.3 psi", "units": "metric"}
    )
    assert json.loads(kept.content)["entry"]["value"] == pytest.approx(146858, rel=1e-4)
    refused = page.post(address, {"kind": "read", "step": "vessel", "field": "vessel_set", "typed": "45"})
    assert refused.status_code == 422
    assert "Read it again" in json.loads(refused.content)["reason"]


def test_the_desk_tells_what_it_came_to(run: Run, plan: Plan, person: User, page: Client) -> None:
    read(run, person, "fill", "colour_s", "4 s")
    say(run, person, "left", "refractometer broken", "fluid")
    text = page.get(reverse("commissioning:run", args=(plan.job_id, plan.letter, run.pk))).content.decode()
    assert "not right: fill" in text
    assert "left out: prove the fluid" in text
    assert "refractometer broken" in text
    assert "short way through" in text


# --- as built


def test_what_was_found_becomes_the_plan_s_and_can_be_undone(run: Run, plan: Plan, person: User, page: Client) -> None:
    read(run, person, "prepare", "bucket_s", "21")
    read(run, person, "fill", "tub_fell", "158 mm")
    read(run, person, "vessel", "vessel_set", "1.50")
    read(run, person, "open", "open_fill", "1.79")
    read(run, person, "fluid", "frost_c", "-20")
    answer = page.post(reverse("commissioning:as_built", args=(plan.job_id, plan.letter, run.pk)), {"revision": "1"})
    assert answer.status_code == 302
    design = design_of(plan.head)
    assert design.commission.station_flow_l_h.value == pytest.approx(857.1, abs=0.1)
    assert design.commission.station_flow_l_h.origin == "as built"
    assert (design.charge.typed_charge_gauge_pa.value, design.charge.typed_fill_gauge_pa.value) == (150e3, 179e3)
    assert design.charge.log[-1].share == pytest.approx(0.385, abs=0.02)
    from rowan.web.plans.reckoned import reckoned

    result = reckoned(plan.head).result
    assert result.charge.contents.total == pytest.approx(0.158 * 0.13, abs=1e-5)
    assert result.setting is not None
    assert (result.setting.precharge, result.setting.fill) == (150e3, 179e3)
    assert plan.head.undo_to is not None


def test_a_run_that_found_nothing_else_offers_no_change(run: Run, plan: Plan, page: Client) -> None:
    answer = page.post(reverse("commissioning:as_built", args=(plan.job_id, plan.letter, run.pk)), {"revision": "1"})
    assert answer.status_code == 422
    assert "nothing was read that differs" in answer.content.decode()


# --- dates


def test_the_day_to_come_back_is_one_entry_in_the_calendar_however_often_it_moves(
    run: Run, plan: Plan, person: User, page: Client
) -> None:
    say(run, person, "close", "Mara Hollin")
    address = reverse("commissioning:calendar", args=(plan.job_id, plan.letter, run.pk))

    def event() -> Any:
        return Calendar.from_ical(page.get(address).content).walk("VEVENT")[0]

    first = event()
    assert first.decoded("dtstart") == timezone.now().date() + timedelta(weeks=3)
    page.post(reverse("commissioning:due", args=(plan.job_id, plan.letter, run.pk)), {"day": "2031-06-05"})
    moved = event()
    assert moved["uid"] == first["uid"]
    assert moved.decoded("dtstart") == date(2031, 6, 5)
    assert int(moved["sequence"]) == int(first["sequence"]) + 1


def test_what_is_due_is_on_the_jobs_page_until_somebody_went(
    run: Run, plan: Plan, person: User, stranger: User, page: Client
) -> None:
    read(run, person, "test", "wept", "1", kind="tick")
    assert {one.what for one in reminders(person)} == {
        "second look at a joint that wept",
        "goes on with “Look it over”",
    }
    read(run, person, "test", "looked_again", "1", kind="tick")
    say(run, person, "close", "Mara Hollin")
    assert [one.what for one in reminders(person)] == ["bleed again, read the gauge at dawn"]
    assert "bleed again" in page.get(reverse("jobs:list")).content.decode()
    start_run(plan=plan, kind="rebleed", person=person)
    assert "bleed again, read the gauge at dawn" not in {one.what for one in reminders(person)}
    assert reminders(stranger) == []


def closed_service(plan: Plan, person: User, note: str) -> Run:
    run = start_run(plan=plan, kind="service", person=person)
    say(run, person, "note", note, step="next")
    say(run, person, "part", "2 L of mix")
    say(run, person, "close", "Mara Hollin")
    run.refresh_from_db()
    return run


def test_a_service_begins_with_what_the_last_one_left_and_what_the_log_says(
    plan: Plan, person: User, page: Client
) -> None:
    closed_service(plan, person, "bring an anode")
    LoopHealth.objects.create(plan=plan, key="k", level="fix", words="Check valve leaks since 14 May")
    run = start_run(plan=Plan.objects.get(pk=plan.pk), kind="service", person=person)
    noted = [note.text for note in step_of(state_of(run), "found").notes]
    assert noted[0].endswith("bring an anode")
    assert noted[0].startswith("From the visit of ")
    assert noted[1] == "The log says: Check valve leaks since 14 May"
    text = page.get(reverse("commissioning:work", args=(plan.job_id, plan.letter, run.pk))).content.decode()
    assert "bring an anode" in text
    assert "As it is found" in text


def test_a_service_is_due_a_year_on_in_list_page_and_calendar(plan: Plan, person: User, page: Client) -> None:
    run = closed_service(plan, person, "bring an anode")
    assert run.closed_at is not None
    due = run.closed_at.date() + timedelta(days=365)
    assert [(one.what, one.on) for one in reminders(person)] == [("yearly service", due)]
    # somebody who bleeds again in between has not serviced it
    say(start_run(plan=plan, kind="rebleed", person=person), person, "close", "Mara Hollin")
    assert ("yearly service", due) in {(one.what, one.on) for one in reminders(person)}
    event = Calendar.from_ical(
        page.get(reverse("commissioning:calendar", args=(plan.job_id, plan.letter, run.pk))).content
    ).walk("VEVENT")[0]
    assert str(event["summary"]).startswith("Yearly service")
    assert "bring an anode" in str(event["description"])
    care = page.get(reverse("care:bench", args=(plan.job_id, plan.letter))).content.decode()
    assert "bring an anode" in care
    assert "Yearly service" in care
    start_run(plan=plan, kind="service", person=person)
    assert "yearly service" not in {one.what for one in reminders(person)}


def test_what_was_put_in_is_on_the_page_and_has_to_be_said(plan: Plan, person: User, page: Client) -> None:
    run = closed_service(plan, person, "nothing")
    assert (
        "Put in: 2 L of mix"
        in page.get(reverse("commissioning:run", args=(plan.job_id, plan.letter, run.pk))).content.decode()
    )
    with pytest.raises(EntryRefusedError, match="what was put in"):
        say(start_run(plan=plan, kind="repair", person=person), person, "part", "  ")


# --- photographs


def _picture(size: tuple[int, int] = (800, 600), kind: str = "JPEG", *, placed: bool = False) -> bytes:
    picture, out = Image.new("RGB", size, "#8f8a80"), io.BytesIO()
    exif = picture.getexif()
    if placed:
        exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.DateTimeOriginal] = "2026:05:12 08:15:00"
        place = exif.get_ifd(ExifTags.IFD.GPSInfo)
        place[ExifTags.GPS.GPSLatitude], place[ExifTags.GPS.GPSImgDirection] = (57.0, 12.0, 0.0), 157.5
    picture.save(out, kind, exif=exif)
    return out.getvalue()


def test_a_photograph_keeps_bearing_and_time_and_not_the_place() -> None:
    taken = photograph(_picture(placed=True))
    assert taken.bearing == pytest.approx(157.5)
    assert taken.taken == datetime(2026, 5, 12, 8, 15, tzinfo=UTC)
    for kept in (taken.content, taken.small):
        assert not dict(Image.open(io.BytesIO(kept)).getexif())
    assert max(Image.open(io.BytesIO(taken.small)).size) == 240


@pytest.mark.parametrize(("content", "why"), [
    (b"<svg/>", "no photograph"), (b"", "no photograph"), (_picture()[:200], "no photograph"), (b"x" * 12_000_001, "may have 12 MB"),
])  # fmt: skip
def test_what_is_no_photograph_is_refused(content: bytes, why: str) -> None:
    with pytest.raises(EntryRefusedError, match=why):
        photograph(content)


def test_a_bomb_of_pixels_is_refused_before_it_is_unpacked(monkeypatch: pytest.MonkeyPatch) -> None:
    bomb = _picture((300, 200), "PNG")
    monkeypatch.setattr("rowan.web.commissioning.photos.MOST_PIXELS", 59_999)
    with pytest.raises(EntryRefusedError, match="more pixels"):
        photograph(bomb)
    assert MOST_PIXELS < 90_000_000


def test_a_photograph_is_kept_once_shown_to_its_firm_and_named_in_the_record(
    run: Run, plan: Plan, page: Client, stranger: User
) -> None:
    address = reverse("commissioning:photos", args=(plan.job_id, plan.letter, run.pk))
    for _ in range(2):
        sent = {"step": "test", "sent": SENT.format(3), "photo": SimpleUploadedFile("x.exe", _picture())}
        assert page.post(address, sent).status_code == 200
    entry = run.entries.get()
    assert run.photos.count() == 1
    shown = page.get(reverse("commissioning:photo", args=(plan.job_id, plan.letter, run.pk, entry.text)))
    assert shown["Content-Type"] == "image/jpeg"
    other = Client()
    other.force_login(stranger)
    assert other.get(shown.request["PATH_INFO"]).status_code == 404
    record = json.loads(page.get(reverse("commissioning:record", args=(plan.job_id, plan.letter, run.pk))).content)
    assert record["entries"][0]["text"] == entry.text
    assert len(record["hash"]) == 19


def test_a_photograph_of_60_mb_is_refused_unread(run: Run, plan: Plan, page: Client) -> None:
    address = reverse("commissioning:photos", args=(plan.job_id, plan.letter, run.pk))
    assert page.post(address, CONTENT_LENGTH="60000000").status_code == 413


# --- drawings of the desk


def test_the_curve_of_a_water_test_falls_by_what_was_re_pumped(run: Run, person: User) -> None:
    assert water_curve(state_of(run), "metric") is None
    for field, typed in (
        ("test_p1", "5.4"),
        ("test_t1", "12"),
        ("test_ml10", "0.35"),
        ("test_ml20", "0.18"),
        ("test_ml50", "0.08"),
    ):
        read(run, person, "test", field, typed)
    drawing = water_curve(state_of(run), "metric")
    assert drawing is not None
    falls = [
        node.attributes["y2"] - node.attributes["y1"]
        for node in drawing.walk()
        if node.attributes.get("class") == "curve"
    ]
    assert falls == pytest.approx([falls[0], falls[0] * 0.18 / 0.35, falls[0] * 0.08 / 0.35])
    assert "0.35" in drawing.svg()
    us = water_curve(state_of(run), "us")
    assert us is not None
    assert "fl oz" in us.svg()


def test_the_clock_hangs_every_step_and_rings_what_was_cured(run: Run, person: User) -> None:
    read(run, person, "fill", "colour_s", "4 s")
    read(run, person, "fill", "colour_s", "88 s")
    read(run, person, "fill", "tub_fell", "160 mm")
    say(run, person, "done", step="fill")
    say(run, person, "left", "no strips", "fluid")
    svg = timeline(state_of(run), "metric").svg()
    for one in state_of(run).steps:
        assert one.step.name in svg
    assert "Back after 4" in svg
    assert "passed" in svg
    assert "left out" in svg
