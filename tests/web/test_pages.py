from __future__ import annotations

import json
import re
import sys
from html import escape
from html.parser import HTMLParser
from typing import Any

import pytest
from django.conf import settings
from django.test import Client
from django.urls import reverse

from rowan.core.design.changes import asked, assumed
from rowan.core.design.design import SCHEMA_VERSION
from rowan.core.design.job_file import load
from rowan.core.goods.places import PLACES
from rowan.core.reckon import reckon
from rowan.core.simulation.simulate import simulate
from rowan.core.studies.propose import Facts, propose
from rowan.core.terms.units import KWH, number_text
from rowan.demo.kvist import kvist_plan_a
from rowan.web.accounts.models import User
from rowan.web.jobs.facts_band import COARSE_KWH
from rowan.web.papers.sheets import DRAWN
from rowan.web.plans import services
from rowan.web.plans.models import Job, Plan
from rowan.web.steps.registry import BENCHES, PAGES
from tests.web.text import one_line, printed

pytestmark = pytest.mark.django_db


class Reader(HTMLParser):
    """Collects what tests ask of a page: elements with their attributes, and the text."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.elements: list[tuple[str, dict[str, str | None]]] = []
        self.words: list[str] = []
        self.feed(text)

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self.elements.append((tag, dict(attrs)))

    def handle_data(self, data: str) -> None:
        self.words.append(data)

    @property
    def text(self) -> str:
        return re.sub(r"[ \n\t]+", " ", " ".join(self.words)).replace("\N{NO-BREAK SPACE}", " ")

    def with_attribute(self, name: str) -> list[dict[str, str | None]]:
        return [attributes for _, attributes in self.elements if name in attributes]


def bench_url(plan: Plan, key: str) -> str:
    return reverse("steps:bench", args=(plan.job_id, plan.letter, key))


def read(answer: Any, status: int = 200) -> Reader:
    assert answer.status_code == status
    return Reader(answer.content.decode())


def post(page: Client, plan: Plan, name: str, **data: Any) -> Any:
    data = {"revision": plan.head.number, "bench": "charge", "origin": "measured", **data}
    return page.post(reverse(f"steps:{name}", args=(plan.job_id, plan.letter)), data)


@pytest.mark.parametrize("units", ["metric", "us"])
@pytest.mark.parametrize("key", PAGES)
@pytest.mark.parametrize("kind", ["plan", "direct_plan", "roof_tank_plan"])
def test_every_bench_shows_its_figures(
    kind: str, key: str, units: str, request: pytest.FixtureRequest, page: Client, person: User
) -> None:
    plan: Plan = request.getfixturevalue(kind)
    person.units = units
    person.save()
    shown = read(page.get(bench_url(plan, key)))
    bench = PAGES[key]
    for figure in reckon(services.design_of(plan.head)).bench_figures(bench.of or key):
        if bench.figures and figure.key not in bench.figures:
            continue
        number = figure.number(units).replace("\N{NO-BREAK SPACE}", " ")  # type: ignore[arg-type]
        assert number in shown.text, figure.key
    ids = [a["id"] for a in shown.with_attribute("id") if a["id"]]
    assert len(ids) == len(set(ids)), [i for i in ids if ids.count(i) > 1]
    for attributes in shown.with_attribute("style"):
        pytest.fail(f"inline style breaks the content security policy: {attributes}")
    assert not any(name.startswith("on") for _, a in shown.elements for name in a), "inline handlers are not allowed"


def test_the_tape_names_twelve_steps_and_links_only_what_is_built(plan: Plan, page: Client) -> None:
    text = page.get(bench_url(plan, "charge")).content.decode()
    tape = text[text.index('class="tape"') : text.index("</nav>", text.index('class="tape"'))]
    for name in (
        "Survey",
        "Sun",
        "Collector",
        "Store",
        "Roof",
        "Run",
        "Charge",
        "Control",
        "Parts",
        "Commission",
        "Hand over",
        "Care",
    ):
        assert name in tape
    assert tape.count("<a ") == len(BENCHES) + 2 == 12


def test_a_bench_that_is_none_is_not_found(plan: Plan, page: Client) -> None:
    assert page.get(bench_url(plan, "moon")).status_code == 404


def test_assumed_inputs_are_dotted_and_counted(plan: Plan, page: Client) -> None:
    shown = read(page.get(bench_url(plan, "charge")))
    design = services.design_of(plan.head)
    assert len(assumed(design)) == 11
    assert f"11 of {len(asked(design))} inputs assumed" in shown.text
    height = next(a for t, a in shown.elements if a.get("id") == "in-survey-gauge_to_top_m")
    relief = next(a for t, a in shown.elements if a.get("id") == "in-charge-relief_gauge_pa")
    assert height["class"] == "assumed"
    assert relief["class"] == ""


def test_a_typed_value_is_saved_with_its_origin_and_moves_what_follows(plan: Plan, page: Client) -> None:
    before = reckon(services.design_of(plan.head)).figures["fill"].value
    assert post(page, plan, "set", path="survey.gauge_to_top_m", value="34 ft 6 in").status_code == 302
    design = services.design_of(plan.head)
    assert design.survey.gauge_to_top_m.value == pytest.approx(10.5156)
    assert design.survey.gauge_to_top_m.origin == "measured"
    assert reckon(design).figures["fill"].value > before
    assert f"10 of {len(asked(design))} inputs assumed" in read(page.get(bench_url(plan, "charge"))).text


@pytest.mark.parametrize(
    ("path", "value", "message"),
    [
        ("charge.relief_gauge_pa", "9 tonnes", "not a unit of this quantity in bar"),
        ("charge.relief_gauge_pa", "", "Type a number"),
        ("charge.relief_gauge_pa", "200 bar", "Allowed: 1.00 bar to 16.00 bar"),
        ("survey.gauge_to_top_m", "1,500", "two ways"),
        ("collector.count", "2.5", "whole number"),
        ("duty.persons", "-5", "outside what can be"),
        ("charge.share", "120 %", "Allowed: 0 % to 60 %"),
        ("charge.fluid", "beer", "Choose one of the list"),
        ("store.item", "Store of a neighbour", "Choose one of the catalogue"),
        ("run.non_return", "perhaps", "Choose one of the two"),
        ("run.hot.h9.length_m", "10 km", "outside what can be"),
    ],
)
def test_what_cannot_be_taken_is_refused_beside_its_field_and_kept(
    plan: Plan, page: Client, path: str, value: str, message: str
) -> None:
    shown = read(post(page, plan, "set", path=path, value=value), 422)
    assert message.lower() in shown.text.lower()
    field = (
        next(a for _, a in shown.elements if a.get("aria-invalid"))
        if "choose" not in message.lower()
        else {"value": value}
    )
    assert field["value"] == value
    assert plan.head.number == 1


def test_limits_are_worded_in_the_person_s_units(plan: Plan, page: Client, person: User) -> None:
    person.units = "us"
    person.save()
    assert "232.1 psi" in read(post(page, plan, "set", path="charge.relief_gauge_pa", value="900"), 422).text


def test_a_save_on_an_old_revision_keeps_what_was_typed(plan: Plan, page: Client, colleague: User) -> None:
    old = plan.head.number
    edit = services.Edit(
        services_changes("charge.relief_gauge_pa", 8e5), "charge.relief_gauge_pa", "relief to 8 bar", "measured"
    )
    services.change_plan(plan=plan, author=colleague, based_on=old, edit=edit)
    shown = read(post(page, plan, "set", path="survey.gauge_to_top_m", value="9.85", revision=old), 409)
    assert "Ives Wray changed this plan meanwhile" in shown.text
    field = next(a for _, a in shown.elements if a.get("aria-invalid"))
    assert field["value"] == "9.85"
    assert services.design_of(plan.head).survey.gauge_to_top_m.value == 9.5


def services_changes(path: str, value: float) -> list[Any]:
    from rowan.core.terms.finding import Change

    return [Change(path, value)]


def test_a_drag_sets_the_stored_value(plan: Plan, page: Client) -> None:
    assert post(page, plan, "drag", path="charge.gap_pa", value="45000").status_code == 302
    assert services.design_of(plan.head).charge.gap_pa.value == 45e3


@pytest.mark.parametrize(("path", "value"), [("charge.gap_pa", "9e9"), ("joint:hot.h4", "5"), ("charge.nothing", "1")])
def test_a_drag_beyond_what_can_be_is_refused(plan: Plan, page: Client, path: str, value: str) -> None:
    assert "Not moved" in read(post(page, plan, "drag", path=path, value=value), 422).text
    assert plan.head.number == 1


@pytest.mark.parametrize("data", [{"value": "x"}, {"revision": "later"}])
def test_broken_posts_are_not_found(plan: Plan, page: Client, data: dict[str, str]) -> None:
    assert post(page, plan, "drag", **{"path": "charge.gap_pa", "value": "40000", **data}).status_code == 404


def test_another_store_brings_its_own_ports(plan: Plan, page: Client) -> None:
    post(page, plan, "set", path="store.item", value="Store 500 twin coil")
    store = services.design_of(plan.head).store
    assert store.coil_top_m.value == store.item.value.coil_top_m
    assert store.coil_bottom_m.value < store.lower_sensor_m.value < store.coil_top_m.value


def test_a_cure_says_what_it_did_and_can_be_taken_back(plan: Plan, page: Client) -> None:
    shown = read(page.get(bench_url(plan, "charge")))
    assert "Put a valve under it" in shown.text
    post(page, plan, "cure", finding="vent_steam", cure="0")
    shown = read(page.get(bench_url(plan, "charge")))
    assert "Put a valve under it" in shown.text  # now in the note that it was tried
    assert "Fix: the vent" not in shown.text
    page.post(
        reverse("steps:step", args=(plan.job_id, plan.letter, "undo")),
        {"revision": plan.head.number, "bench": "charge"},
    )
    assert "Fix: the vent" in read(page.get(bench_url(plan, "charge"))).text


def test_four_facts_make_a_job(page: Client, person: User) -> None:
    facts = {
        "place": "Port Maravel",
        "azimuth": "N",
        "tilt": "25",
        "covering": "tile",
        "storeys": "1",
        "persons": "3",
        "heater": "electric",
        "title": "Quay house",
    }
    answer = page.post(reverse("jobs:start"), facts, follow=True)
    assert "Quay house" in read(answer).text
    design = services.design_of(Job.objects.visible(person).get(title="Quay house").plans.get().head)
    assert (design.survey.roof_azimuth_deg.value, design.duty.persons.value, design.charge.kind.value) == (
        0,
        3,
        "direct",
    )


@pytest.mark.parametrize(
    ("field", "value", "message"),
    [
        ("persons", "-5", "1 to 200 people"),
        ("tilt", "200", "0 to 90 degrees"),
        ("azimuth", "up", "Type degrees"),
        ("azimuth", "400", "0 to 360"),
        ("storeys", "", "Fill in: storeys"),
        ("persons", "lots", "whole number"),
        ("storeys", "99", "1 to 12 storeys"),
    ],
)
def test_facts_that_cannot_be_are_refused_and_kept(page: Client, field: str, value: str, message: str) -> None:
    facts = {
        "place": "Aldersund",
        "azimuth": "180",
        "tilt": "40",
        "covering": "slate",
        "storeys": "2",
        "persons": "4",
        "heater": "oil",
        field: value,
    }
    shown = read(page.post(reverse("jobs:start"), facts), 422)
    assert message in shown.text
    kept = next(a for _, a in shown.elements if a.get("name") == field)
    assert (kept.get("value") or "") == value
    assert Job.objects.count() == 0


PIECE = {"X-Requested-With": "fetch"}  # as a script asks, for a piece of its page


def test_a_piece_opened_by_itself_leads_to_its_page(plan: Plan, page: Client) -> None:
    beside = {"steps:race": "control", "steps:slip": "charge"}
    for name, bench in beside.items():
        address = reverse(name, args=(plan.job_id, plan.letter))
        answer = page.get(address, {"bench": bench, "path": "charge.vessel_l", "revision": "1"})
        assert answer["Location"] == reverse("steps:bench", args=(plan.job_id, plan.letter, bench))
    assert page.get(reverse("jobs:proposal"))["Location"] == reverse("jobs:list")
    for name in ("steps:pairs", "steps:calming"):
        assert "<html" in page.get(reverse(name, args=(plan.job_id, plan.letter))).content.decode()


def test_the_proposal_follows_the_facts(page: Client) -> None:
    facts = {
        "place": "Aldersund",
        "azimuth": "180",
        "tilt": "40",
        "covering": "slate",
        "storeys": "2",
        "persons": "8",
        "heater": "gas",
    }
    shown = read(page.get(reverse("jobs:proposal"), facts, headers=PIECE))
    assert "4 × 2.30" in shown.text
    assert "Fill the blanks" in read(page.get(reverse("jobs:proposal"), {}, headers=PIECE)).text


def test_one_heat_stands_on_proposal_list_and_bench(page: Client, person: User) -> None:
    facts = {
        "place": "Aldersund",
        "azimuth": "200",
        "tilt": "35",
        "covering": "slate",
        "storeys": "2",
        "persons": "3",
        "heater": "oil",
    }
    design = propose(Facts(PLACES["Aldersund"], 200, 35, "slate", 3, "oil", 2))
    year = simulate(design, reckon(design)).solar_heat / KWH
    heat = number_text(year, 0)
    # the same year, told as coarsely as it is known
    about = number_text(round(year / COARSE_KWH) * COARSE_KWH, 0)
    assert f"{about} kWh about" in read(page.get(reverse("jobs:proposal"), facts, headers=PIECE)).text
    bench = page.post(reverse("jobs:start"), facts | {"title": "Three of them"})["Location"]
    assert heat in read(page.get(reverse("jobs:list"))).text
    collector = read(page.get(bench.replace("/survey/", "/collector/"))).text
    assert f"bring {heat}" in collector


def test_the_jobs_page_speaks_both_systems(plan: Plan, page: Client, person: User) -> None:
    assert "300 L" in read(page.get(reverse("jobs:list"))).text
    person.units = "us"
    person.save()
    shown = read(page.get(reverse("jobs:list"))).text
    assert "79.3 gal" in shown
    assert "24.8 ft²" in shown.replace("\N{ZERO WIDTH SPACE}", "")
    assert not re.search(r"\d (L|m²|bar)\b", shown)


def test_the_ledger_says_where_a_job_stands(plan: Plan, page: Client) -> None:
    text = page.get(reverse("jobs:list")).content.decode()
    assert "stands at Run" in text
    for key in ("high_point_hot_h4", "vent_steam", "hunting"):
        post(page, plan, "cure", finding=key, cure="0")
    assert "stands at Commission" in page.get(reverse("jobs:list")).content.decode()


def test_the_exported_plan_is_a_job_file(plan: Plan, page: Client) -> None:
    answer = page.get(reverse("steps:export", args=(plan.job_id, plan.letter)))
    assert load(answer.content) == kvist_plan_a()
    assert json.loads(answer.content)["schema_version"] == SCHEMA_VERSION


def test_units_are_kept_per_person_and_switch_back(plan: Plan, page: Client, person: User) -> None:
    first = read(page.get(bench_url(plan, "charge"))).text
    for units in ("us", "metric"):
        page.post(reverse("accounts:units"), {"units": units, "next": bench_url(plan, "charge")})
        person.refresh_from_db()
        assert person.units == units
    assert read(page.get(bench_url(plan, "charge"))).text == first


def test_units_do_not_lead_elsewhere(page: Client) -> None:
    answer = page.post(reverse("accounts:units"), {"units": "us", "next": "https://elsewhere.example/"})
    assert answer["Location"] == reverse("jobs:list")


def test_plans_are_compared_by_their_differences(plan: Plan, page: Client, person: User) -> None:
    other = services.copy_plan(plan=plan, author=person)
    post(page, other, "set", path="charge.vessel_l", value="25")
    shown = read(page.get(reverse("history:compare", args=(plan.job_id,)))).text
    assert "1 input set these plans apart" in shown
    assert "18 L" in shown
    assert "25 L" in shown


def test_the_settings_card_is_one_page_with_the_settings_on_it(plan: Plan, page: Client) -> None:
    answer = page.get(reverse("papers:settings_card", args=(plan.job_id, plan.letter)))
    assert answer["Content-Type"] == "application/pdf"
    (text,) = printed(answer.content)
    for words in (
        "Settings card",
        "1.47 bar",
        "1.77 bar",
        "8.0 K",
        "3.0 K",
        "Still assumed",
        "gauge to top",
        "licensed electrician",
        "Not to be commissioned",
    ):
        assert words in text, words


def test_without_pango_papers_say_what_to_install(plan: Plan, page: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    class Blocker:
        def find_spec(self, name: str, path: object = None, target: object = None) -> None:
            if name == "weasyprint":
                raise OSError("cannot load library 'libpango-1.0-0'")

    DRAWN.forget()  # one that was drawn before is shown all the same
    for name in [n for n in sys.modules if n.split(".")[0] == "weasyprint"]:
        monkeypatch.delitem(sys.modules, name)
    monkeypatch.setattr(sys, "meta_path", [Blocker(), *sys.meta_path])
    shown = read(page.get(reverse("papers:settings_card", args=(plan.job_id, plan.letter))), 503)
    assert "apt-get install libpango-1.0-0" in shown.text


def test_the_policy_allows_nothing_inline(page: Client) -> None:
    policy = page.get(reverse("jobs:list"))["Content-Security-Policy"]
    assert "unsafe" not in policy
    assert "default-src 'self'" in policy
    assert "frame-ancestors 'none'" in policy


def test_passwords_are_kept_with_argon2_in_use() -> None:
    from rowan.web.config.settings import base

    assert base.PASSWORD_HASHERS == ["django.contrib.auth.hashers.Argon2PasswordHasher"]
    assert "axes" in settings.INSTALLED_APPS


def test_a_wrong_password_says_so_and_lets_nobody_in(client: Client, person: User) -> None:
    answer = client.post(reverse("accounts:sign_in"), {"username": person.email, "password": "wrong"})
    assert "do not belong together" in answer.content.decode()
    assert "_auth_user_id" not in client.session
    right = client.post(reverse("accounts:sign_in"), {"username": person.email, "password": "rope-walk-40"})
    assert right["Location"] == reverse("jobs:list")


def test_what_is_not_there_says_so(page: Client) -> None:
    assert "not yours to see" in read(page.get("/jobs/999/A/charge/"), 404).text


def test_a_bench_on_paper_says_whose_it_is_and_which_state(plan: Plan, page: Client, person: User) -> None:
    text = one_line(page.get(reverse("steps:bench", args=(plan.job_id, plan.letter, "charge"))))
    assert person.firm is not None
    assert f"{escape(person.firm.name)} · state {plan.head.number} of" in text


def test_the_chosen_school_is_said_where_it_stands(plan: Plan, page: Client) -> None:
    text = one_line(page.get(reverse("steps:bench", args=(plan.job_id, plan.letter, "charge"))))
    assert "Reserve: the gas 0.50 bar over the column" in text
    assert "set by “reserve”" in text
