"""The settings card in its kinds and units, slips and their words, sign-in and the commands."""

from __future__ import annotations

import json
import re
import shutil
from html import unescape
from pathlib import Path

import pytest
from django.template.loader import render_to_string
from django.test import Client, override_settings
from django.urls import reverse

from rowan.command import vendor
from rowan.core.design.changes import inputs, locate
from rowan.core.design.design import Design
from rowan.core.reckon import reckon
from rowan.core.terms.finding import Change
from rowan.core.terms.units import SYSTEMS, System
from rowan.web.accounts.models import User
from rowan.web.benches.bench import Sheet
from rowan.web.editing.blanks import Blank, RefusedInputError, Slot, blank, changes_from_text, limits_text, sentence
from rowan.web.jobs.forms import FactsForm
from rowan.web.papers.settings_card import card_context, control_settings, pressure_settings
from rowan.web.papers.wiring import wiring_paper_context, wiring_pdf
from rowan.web.plans import services
from rowan.web.plans.models import Plan
from rowan.web.steps.registry import PAGES
from tests.core.designs import altered, plan_a, plan_b, proposed
from tests.web.text import printed


def plain(text: str) -> str:
    return text.replace("\N{NO-BREAK SPACE}", " ")


def sheet(design: Design, units: System = "metric") -> Sheet:
    return Sheet(design, reckon(design), units)


# the card


def test_the_card_s_pressures_are_the_reckoning_s() -> None:
    rows = {row.name: plain(row.value) for row in pressure_settings(sheet(plan_b()))}
    assert rows["Vessel, gas side"] == "1.47 bar"
    assert rows["Cold fill at the gauge"] == "1.77 bar"
    assert rows["Gauge through the year"] == "1.74 bar to 1.94 bar"
    assert rows["Fluid"] == "40 % propylene glycol"
    assert rows["Relief valve"] == "6.00 bar"


def test_the_card_of_a_direct_loop_speaks_of_the_main() -> None:
    rows = {row.name for row in pressure_settings(sheet(proposed("maravel-8-gas")))}
    assert "Cold main" in rows
    assert "Vessel, gas side" not in rows


def test_every_line_of_the_card_has_a_reason() -> None:
    for design in (plan_a(), plan_b(), proposed("maravel-8-gas")):
        for row in (*pressure_settings(sheet(design)), *control_settings(sheet(design))):
            assert row.value
            assert len(row.reason) > 8, row.name


def test_what_is_missing_shouts_on_the_card() -> None:
    text = " ".join(
        row.reason + row.value for row in control_settings(sheet(altered(plan_b(), store__tempering_valve=False)))
    )
    assert "MISSING" in text
    wrong = " ".join(row.value for row in pressure_settings(sheet(altered(plan_b(), charge__fluid="ethylene"))))
    assert "ETHYLENE" in wrong


@pytest.mark.django_db
def test_the_card_warns_only_while_something_is_to_be_mended(plan: Plan, person: User) -> None:
    warning = "Not to be commissioned"
    assert warning in render_to_string("papers/settings_card.html", card_context(plan, "metric"))
    for key in ("vent_steam", "high_point_hot_h4", "hunting"):
        services.apply_cure(plan=plan, author=person, based_on=plan.head.number, finding_key=key, cure_index=0)
    assert warning not in render_to_string("papers/settings_card.html", card_context(plan, "metric"))


@pytest.mark.django_db
def test_the_card_lists_guesses_and_counts_the_rest(direct_plan: Plan) -> None:
    context = card_context(direct_plan, "metric")
    assert len(context["guesses"]) + context["more_guesses"] == direct_plan.head.assumed_count


# slips


@pytest.mark.parametrize("units", SYSTEMS)
def test_every_input_can_be_typed_back_as_it_is_shown(units: System) -> None:
    design = plan_a()
    for found in inputs(design):
        if found.spec.kind == "item" and found.path == "survey.normals":
            continue
        shown = blank(design, found.path, units)
        text = getattr(found.value, "name", None) or shown.typed
        changes = changes_from_text(design, found.path, text, units)
        assert changes[0].value == found.value, found.path
        if found.spec.kind == "number" and found.value is not None:
            # and with its unit behind it, as somebody would type it anew
            again = changes_from_text(design, found.path, f"{text} {shown.unit}", units)[0].value
            assert again == pytest.approx(found.value, rel=1e-5, abs=1e-4), found.path


@pytest.mark.parametrize("units", SYSTEMS)
def test_the_ends_of_an_input_are_taken_and_what_lies_beyond_is_not(units: System) -> None:
    design = plan_a()
    for path in (
        "charge.relief_gauge_pa",
        "survey.gauge_to_top_m",
        "control.start_k",
        "collector.working_c",
        "charge.gap_pa",
    ):
        spec = locate(design, path).spec
        assert " to " in limits_text(spec, units)
        for end, text in zip((spec.low, spec.high), limits_text(spec, units).split(" to "), strict=True):
            assert changes_from_text(design, path, text, units)[0].value == pytest.approx(end, rel=0.02)  # as printed
        with pytest.raises(RefusedInputError, match="Allowed"):
            changes_from_text(design, path, "999999", units)


def test_a_sentence_keeps_its_marks_with_its_blanks() -> None:
    parts = sentence(
        ("Vessel ", Slot("charge.vessel_l"), ", relief ", Slot("charge.relief_gauge_pa"), "."), plan_a(), "metric"
    )
    blanks = [part for part in parts if isinstance(part, Blank)]
    assert [b.tail for b in blanks] == [",", "."]
    assert plain(blanks[0].shown) == "18 L"


@pytest.mark.parametrize("bench", PAGES.values(), ids=lambda b: b.key)
def test_a_bench_is_a_verdict_with_numbers_a_sentence_and_a_drawing(bench: object) -> None:
    for design in (plan_a(), proposed("maravel-8-gas")):
        one = sheet(design)
        assert re.search(r"\d", bench.verdict(one).text())  # type: ignore[attr-defined]
        slots = [part for part in bench.line(one) if isinstance(part, Slot)]  # type: ignore[attr-defined]
        assert len(slots) >= 2
        assert all(locate(design, slot.path) for slot in slots)
        assert bench.blocks(one)  # type: ignore[attr-defined]
        assert all(locate(design, path) for path in bench.more)  # type: ignore[attr-defined]


def test_pages_speak_calmly() -> None:
    """No exclamation, no empty courtesy, in any template or sentence of the core."""
    root = Path(__file__).resolve().parents[2] / "rowan"
    for path in [*root.rglob("*.html"), *(root / "core").rglob("*.py")]:
        text = path.read_text(encoding="utf-8")
        sentences = (
            re.findall(r'say\(\s*f?"([^"]*)"', text) if path.suffix == ".py" else re.findall(r">([^<{}]+)<", text)
        )
        for words in sentences:
            assert "!" not in words, (path.name, words)
            assert "please" not in words.lower(), (path.name, words)


# the facts


@pytest.mark.parametrize(
    ("typed", "angle"), [("SSE", 157.5), ("s", 180), ("157°", 157), ("157,5", 157.5), ("0", 0), ("360", 360)]
)
def test_bearings_are_understood(typed: str, angle: float) -> None:
    form = FactsForm({**FactsForm.START, "azimuth": typed})
    assert form.is_valid(), form.errors
    assert form.facts().roof_azimuth_deg == angle


def test_a_job_without_a_name_gets_one() -> None:
    form = FactsForm({**FactsForm.START, "title": "  "})
    assert form.is_valid()
    assert form.job_title() == "House in Aldersund, 4 people"


# signing in


@pytest.mark.django_db
def test_signing_out_ends_it(page: Client) -> None:
    page.post(reverse("accounts:sign_out"))
    assert page.get(reverse("jobs:list")).status_code == 302


@pytest.mark.django_db
@override_settings(AXES_ENABLED=True, AXES_FAILURE_LIMIT=3)
def test_too_many_wrong_passwords_lock_the_door(person: User) -> None:
    client = Client()
    wrong = {"username": person.email, "password": "guess"}
    statuses = [client.post(reverse("accounts:sign_in"), wrong).status_code for _ in range(4)]
    assert statuses[0] == 200
    assert statuses[-1] == 429
    right = client.post(reverse("accounts:sign_in"), {"username": person.email, "password": "rope-walk-40"})
    assert right.status_code == 429
    assert "Too many tries" in right.content.decode()


@pytest.mark.django_db
def test_a_person_signs_in_by_any_case_of_the_host_and_only_with_a_password(firm: object) -> None:
    person = User.objects.create_user("Wren@HOLLINWRAY.example", "quiet-loop-7", name="Wren", firm=firm)
    assert person.email == "Wren@hollinwray.example"
    assert person.check_password("quiet-loop-7")
    assert str(person) == "Wren"


# the shipped files


def test_a_changed_or_missing_or_stray_file_is_found(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    copy = tmp_path / "vendor"
    shutil.copytree(vendor.FOLDER, copy)
    monkeypatch.setattr(vendor, "FOLDER", copy)
    monkeypatch.setattr(vendor, "MANIFEST", copy / "manifest.json")
    assert vendor.check() == 0
    (copy / "alpine-csp.min.js").write_text("changed", encoding="utf-8")
    (copy / "bulma.min.css").unlink()
    (copy / "stray.js").write_text("x", encoding="utf-8")
    (copy / "licences" / "bulma.txt").unlink()
    found = " ".join(vendor.problems())
    for words in (
        "alpine-csp.min.js is not the file",
        "bulma.min.css is missing",
        "stray.js is not in the manifest",
        "licence text",
    ):
        assert words in found
    assert vendor.check() == 1


def test_the_manifest_names_version_and_licence() -> None:
    for package in json.loads(vendor.MANIFEST.read_text(encoding="utf-8"))["packages"]:
        assert package["version"]
        assert package["licence"] in ("MIT", "OFL-1.1")
        assert all(len(checksum) == 64 for checksum in package["files"].values())


# the wiring on paper


@pytest.mark.django_db
@pytest.mark.parametrize("kind", ["coil", "element", "second", "none"])
def test_the_wiring_paper_has_every_conductor_and_its_caution(plan: Plan, person: User, kind: str) -> None:
    edit = services.Edit([Change("store.backup", kind)], "store.backup", "another backup")
    services.change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    context = wiring_paper_context(plan, "metric")
    html = unescape(render_to_string("papers/wiring.html", context))
    assert "licensed electrician" in html
    if kind == "none":
        assert "nothing to draw" in html
        return
    one = context["wirings"][0]
    assert html.count("▢") == len(one["schedule"]) + len(one["truth"])
    for conductor in one["put_in"]:
        assert conductor.start in html
        assert conductor.end in html
    assert "high limit" in html
    for danger, device, _ in context["dangers"]:
        assert danger in html
        assert device in html


@pytest.mark.django_db
def test_the_wiring_paper_is_a_pdf_of_few_pages(plan: Plan) -> None:
    pages = printed(wiring_pdf(plan, "metric"))
    assert 1 <= len(pages) <= 3
    assert "Every combination" in " ".join(pages)
