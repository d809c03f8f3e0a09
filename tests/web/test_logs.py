"""Files of loggers on the Care bench: dropped, named, read, joined; the same again without asking; nothing of another firm's."""

from __future__ import annotations

import io
from collections.abc import Callable
from datetime import UTC, datetime
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from rowan.command.standin import pair_of, plant_of
from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.records.logs.deviations import deviations
from rowan.core.records.logs.log import Log, as_guessed, opened, read_log
from rowan.core.records.planned import planned_of
from rowan.core.terms.calendar import DAY_S
from rowan.demo import corrim, pipwater, sandreef
from rowan.standin.controller import Standin
from rowan.standin.send import write_csv
from rowan.web.accounts.models import User
from rowan.web.care.log_services import (
    LogRefusedError,
    checked_columns,
    log_of,
    name_columns,
    offered,
    open_again,
    packed,
    take_file,
    unpacked,
)
from rowan.web.care.models import LogFile
from rowan.web.plans.models import Plan
from tests.web.text import plain


def _text(answer: Any) -> str:
    return plain(answer.content.decode())


def rows(first_day: int, days: int = 3, *, air: str = "Aussen") -> bytes:
    """Days of May by the half hour, a field that swings, a pump on at noon."""
    lines = [f"Datum;Kollektor (°C);Speicher oben (°C);Speicher unten (°C);Pumpe;{air} (°C);Druck (bar)"]
    for number in range(days * 48):
        day, half = divmod(number, 48)
        sun = max(0.0, float(np.sin((half / 48 - 0.25) * 2 * np.pi)))
        values = f"{9 + 60 * sun:.1f};{50 + half / 20:.1f};{24 + half / 10:.1f};{int(sun > 0.4)};{8 + 9 * sun:.1f};{1.7 + sun / 9:.2f}"
        lines.append(f"{first_day + day:02}.05.2026 {half // 2:02}:{30 * (half % 2):02};" + values.replace(".", ","))
    return "\n".join(lines).encode()


def sent(page: Client, plan: Plan, *files: tuple[str, bytes]) -> str:
    """Sends files for a plan; gives where it leads, or the page's text."""
    uploads = [SimpleUploadedFile(name, data) for name, data in files]
    answer = page.post(reverse("care:take_log"), {"job": plan.job_id, "letter": plan.letter, "file": uploads})
    return answer.headers.get("Location", "") or _text(answer)


def named(page: Client, plan: Plan, address: str) -> str:
    """Names the columns of the plan's file as they were guessed; gives where it leads."""
    form = {"clock": "standard", "prefers": "dmy", "zone": "1"}
    for at, (key, unit) in offered(open_again(plan.logs.get()), {}).channels.items():
        form |= {f"channel-{at}": key, f"unit-{at}": unit}
    return page.post(address, form).headers["Location"]


@pytest.fixture
def page(client: Client, person: User) -> Client:
    client.force_login(person)
    return client


def test_a_file_is_named_once_and_the_next_is_read_without_asking(page: Client, plan: Plan) -> None:
    bench = reverse("care:bench", args=(plan.job_id, "A"))
    assert "No log of this loop yet" in _text(page.get(bench))
    to_name = sent(page, plan, ("may.csv", rows(4)))
    file = plan.logs.get()
    assert to_name == reverse("care:mapping", args=(plan.job_id, "A", file.pk))
    shown = page.get(to_name)
    text = " ".join(shown.content.decode().split())
    assert "6 of 7 columns" in _text(shown)
    assert '<option value="field_c" selected' in text
    assert "°C is written beside it" in text
    assert named(page, plan, to_name) == bench
    assert "4 May 2026 to 6 May 2026: the pump ran on 3 of 3 days" in _text(page.get(bench))
    # its winter clock was said to be an hour ahead: the first row was read before midnight, and so is the next file's
    log = log_of(plan)
    assert log is not None
    assert log.begins.isoformat() == "2026-05-03T23:00:00+00:00"
    assert log.columns["gauge_pa"].max() == pytest.approx(1.81e5, abs=200)
    assert sent(page, plan, ("later.csv", rows(7))) == bench
    assert "4 May 2026 to 9 May 2026: the pump ran on 6 of 6 days" in _text(page.get(bench))
    assert {file.mapping["zone_h"] for file in plan.logs.all()} == {1.0}
    page.post(reverse("accounts:units"), {"units": "us"})
    assert "°F" in _text(page.get(bench))


def test_what_is_no_log_is_refused_by_name_and_the_rest_is_kept(page: Client, plan: Plan) -> None:
    said = sent(
        page, plan, ("good.csv", rows(4)), ("sheet.csv", b"PK\x03\x04 and so on"), ("letter.txt", b"Dear house\n")
    )
    assert "sheet.csv: this is a spreadsheet" in said
    assert "letter.txt: its lines are not parted alike" in said
    assert plan.logs.count() == 1
    assert "the same file is here already" in sent(page, plan, ("again.csv", rows(4)))
    assert "Choose a file first" in sent(page, plan)


def test_a_choice_that_cannot_be_is_refused_and_what_was_chosen_stays(page: Client, plan: Plan, person: User) -> None:
    file = take_file(plan=plan, person=person, name="may.csv", data=rows(4), zone_h=1.0)
    address = reverse("care:mapping", args=(plan.job_id, "A", file.pk))
    twice = {
        "clock": "standard",
        "prefers": "dmy",
        "channel-1": "field_c",
        "unit-1": "°C",
        "channel-2": "field_c",
        "unit-2": "°C",
    }
    for form, words in (
        (twice, "two columns are given the same name"),
        ({**twice, "channel-2": "gauge_pa"}, "the gauge cannot be given in °C"),
        ({"clock": "standard", "prefers": "dmy"}, "no column is named"),
        ({**twice, "clock": "sundial"}, "choose how its clock is read"),
        ({**twice, "channel-2": "moon"}, "the moon cannot be given"),
        ({**twice, "zone": "noon"}, "is no number of hours"),
        ({**twice, "zone": "99"}, "no clock is 99 hours"),
    ):
        answer = page.post(address, form)
        assert answer.status_code == 422
        assert words in _text(answer)
    again = " ".join(page.post(address, twice).content.decode().split())
    assert again.count('<option value="field_c" selected') == 2
    assert not LogFile.objects.get().rows


def test_a_stretch_of_the_log_is_handed_out_in_the_reader_s_unit(page: Client, plan: Plan) -> None:
    address = reverse("care:window", args=(plan.job_id, plan.letter))
    assert page.get(address).status_code == 404
    named(page, plan, sent(page, plan, ("may.csv", rows(4))))
    whole = page.get(address).json()
    assert whole["rows"] == 3 * 48
    assert whole["every"] is True
    assert whole["series"][0]["key"] == "field_c"
    day = whole["at"][0] - whole["ahead"]
    part = page.get(address, {"from": day, "to": day + 6 * 3600}).json()
    assert 11 <= part["rows"] <= 13
    assert part["whole"] == whole["whole"]
    # what cannot be is taken for the whole log, and a stretch beyond it for its end
    assert page.get(address, {"from": "x", "to": "-"}).json()["rows"] == whole["rows"]
    assert page.get(address, {"from": 10**11, "to": 10**12 - 1}).json()["rows"] >= 0
    page.post(reverse("accounts:units"), {"units": "us", "next": "/"})
    first = page.get(address).json()["series"][0]
    assert first["unit"] == "°F"
    assert first["values"][0] == pytest.approx(whole["series"][0]["values"][0] * 9 / 5 + 32, abs=1e-3)


def test_a_file_thrown_away_is_out_of_the_sums(page: Client, plan: Plan, person: User) -> None:
    for first in (4, 7):
        file = take_file(plan=plan, person=person, name=f"{first}.csv", data=rows(first), zone_h=1.0)
        asked = offered(open_again(file), file.mapping)
        name_columns(
            file=file, person=person, channels=dict(asked.channels), clock=asked.clock, prefers="dmy", zone_h=1.0
        )
    page.post(reverse("care:delete_log", args=(plan.job_id, "A", file.pk)))
    assert "the pump ran on 3 of 3 days" in _text(page.get(reverse("care:bench", args=(plan.job_id, "A"))))


def test_nobody_takes_a_file_into_another_firm_s_plan(client: Client, plan: Plan, stranger: User, viewer: User) -> None:
    for who, status in ((stranger, 404), (viewer, 403)):
        client.force_login(who)
        upload = SimpleUploadedFile("may.csv", rows(4))
        answer = client.post(reverse("care:take_log"), {"job": plan.job_id, "letter": "A", "file": upload})
        assert answer.status_code == status
    assert not plan.logs.exists()


def test_columns_come_back_as_they_were_packed_and_nothing_else_is_taken_for_them(plan: Plan, person: User) -> None:
    file = take_file(plan=plan, person=person, name="may.csv", data=rows(4), zone_h=1.0)
    asked = offered(open_again(file), {})
    name_columns(file=file, person=person, channels=dict(asked.channels), clock="standard", prefers="dmy", zone_h=1.0)
    log = unpacked(file)
    assert packed(log) == bytes(file.columns) == checked_columns(bytes(file.columns))
    assert log.columns["field_c"][24] == pytest.approx(69.0, abs=0.01)
    log.columns["moon"] = log.columns.pop("field_c")
    for wrong in (packed(log), b"PK\x03\x04", bytes(file.columns)[:-60]):
        with pytest.raises(LogRefusedError):
            checked_columns(wrong)


def test_what_stands_against_the_plan_on_the_last_day_is_said_and_no_sensor_is_missed_that_was_never_logged(
    page: Client, plan: Plan, person: User
) -> None:
    # the pump runs on through the evening with a field that is colder than the store
    text = rows(4).decode().splitlines()
    late = [";".join((*row.split(";")[:4], "1", *row.split(";")[5:])) for row in text[-6:]]
    data = "\n".join([*text[:-6], *late]).encode()
    file = take_file(plan=plan, person=person, name="may.csv", data=data, zone_h=1.0)
    channels = dict(offered(open_again(file), {}).channels)
    bench = reverse("care:bench", args=(plan.job_id, "A"))
    for left_out in (None, "high_c"):
        kept = {at: pair for at, pair in channels.items() if pair[0] != left_out}
        name_columns(file=file, person=person, channels=kept, clock="standard", prefers="dmy", zone_h=1.0)
        said = _text(page.get(bench))
        assert "Fix: The pump runs with the field" in said
        assert "sensor reads nothing" not in said


@pytest.mark.parametrize(
    "make", [corrim.corrim, pipwater.pipwater, sandreef.sandreef], ids=["drainback", "pool", "direct"]
)
def test_a_healthy_log_of_other_kinds_has_nothing_against_it(make: Callable[[], Design]) -> None:
    """What the stand-in does, in whole degrees and ten minutes apart, at the end of each of its days."""
    design = make()
    planned = planned_of(design, reckon(design))
    standin = Standin(plant_of(design), pair_of(design), datetime(2026, 6, 4, tzinfo=UTC), 2)
    coarse = (
        {key: round(value) if key.endswith("_c") and value is not None else value for key, value in row.items()}
        for row in standin.run(6 * DAY_S, 600.0)
    )
    into = io.StringIO()
    write_csv(coarse, into)
    found = opened(into.getvalue().encode())
    log = read_log(found, as_guessed(found), zone_h=planned.zone_h, now=datetime(2026, 7, 1, tzinfo=UTC))
    for day in range(1, 7):
        part = Log(log.at[: 144 * day], {key: values[: 144 * day] for key, values in log.columns.items()}, log.step, ())
        assert deviations(part, planned) == []
    assert log.repairs == ()
