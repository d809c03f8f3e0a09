"""Every service × every role: who may not is refused where the change is made, whatever a page let through."""

from __future__ import annotations

import importlib
import inspect
import io
from collections.abc import Callable, Iterator
from datetime import date, datetime
from typing import Any

import pytest
from django.test import Client
from django.urls import reverse
from PIL import Image

from rowan.core.goods.catalogue import PIPES
from rowan.core.goods.places import PLACES
from rowan.core.studies.propose import Facts
from rowan.core.terms.finding import Change
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.services import invite
from rowan.web.care.hand import keep_reading
from rowan.web.care.log_services import take_file
from rowan.web.commissioning.services import Told, start_run
from rowan.web.customers.services import add_file, save_customer
from rowan.web.dates.services import Wish, save_visit
from rowan.web.goods.services import make_quote, save_good
from rowan.web.house.services import give_link
from rowan.web.plans.models import Plan
from rowan.web.plans.places import PlaceWish, save_place
from rowan.web.plans.proposals import open_proposal
from rowan.web.plans.services import Edit, change_plan, design_of
from rowan.web.ui.errors import NotAllowedError
from tests.core.designs import plan_a

MODULES = (
    "plans.services", "plans.proposals", "plans.places", "accounts.services", "commissioning.services", "care.services", "care.log_services", "care.hand", "customers.services", "dates.services",
    "goods.services", "house.services", "handover.services",
)  # fmt: skip
RANK = {"viewer": 0, "apprentice": 1, "installer": 2, "lead": 3}
NEEDS = {"propose": 1, "work": 2, "lead": 3}
World = dict[str, Any]
LOG = b"Date;Coll;Tank\n" + b"".join(b"2026-05-04 %02d:00;21.%d;30.%d\n" % (n, n % 9, n % 7) for n in range(24))
PLACE = PlaceWish("Brackwater", 57.0, -3.0, 10.0, -12.0, (1.0,) * 12, (5.0,) * 12)
EDIT = Edit([Change("control.start_k", 9.0, "agreed")], "control.start_k", "start")


def _png() -> bytes:
    made = io.BytesIO()
    Image.new("RGB", (30, 20)).save(made, "PNG")
    return made.getvalue()


def _told(kind: str) -> Told:
    return Told(kind=kind, step="inspect" if kind != "close" else "", text="seen")


# service: the right it needs, and how it is asked by somebody. Who proposes acts on a proposal of their own.
CALLS: dict[str, tuple[str, Callable[[World], dict[str, Any]]]] = {
    "plans.services.start_job": ("work", lambda w: {"firm": w["firm"], "title": "x", "design": plan_a()}),
    "plans.services.start_from_facts": (
        "work",
        lambda w: {"firm": w["firm"], "title": "x", "facts": Facts(PLACES["Aldersund"], 180, 40, "slate", 4, "oil", 2)},
    ),
    "plans.services.add_plan": ("work", lambda w: {"job": w["plan"].job, "design": plan_a(), "letter": "C"}),
    "plans.services.copy_plan": ("work", lambda w: {"plan": w["plan"]}),
    "plans.services.change_plan": ("work", lambda w: {"plan": w["plan"], "based_on": w["head"], "edit": EDIT}),
    "plans.services.put_in": (
        "work",
        lambda w: {"plan": w["plan"], "based_on": w["head"], "design": plan_a(), "edit": EDIT},
    ),
    "plans.services.undo": ("work", lambda w: {"plan": w["plan"], "based_on": w["head"]}),
    "plans.services.redo": ("work", lambda w: {"plan": w["undone"], "based_on": w["undone"].head.number}),
    "plans.services.restore": ("work", lambda w: {"plan": w["plan"], "based_on": w["head"], "number": 1}),
    "plans.services.apply_cure": (
        "work",
        lambda w: {"plan": w["plan"], "based_on": w["head"], "finding_key": "vent_steam", "cure_index": 0},
    ),
    "plans.services.take_in": ("work", lambda w: {"firm": w["firm"], "designs": [("x", plan_a())]}),
    "plans.services.rename_job": ("work", lambda w: {"job": w["plan"].job, "title": "y", "was": w["plan"].job.title}),
    "plans.services.set_paper_units": ("work", lambda w: {"job": w["plan"].job, "units": "us"}),
    "plans.services.duplicate_job": ("work", lambda w: {"job": w["plan"].job}),
    "plans.services.archive_job": ("work", lambda w: {"job": w["plan"].job, "archived": True}),
    "plans.services.begin_proposal": ("propose", lambda w: {"plan": w["plan"]}),
    "plans.proposals.open_proposal": ("propose", lambda w: {"plan": w["plan"]}),
    "plans.proposals.hand_in": ("own", lambda w: {"proposal": w["proposal"], "said": "x"}),
    "plans.proposals.take_back": ("own", lambda w: {"proposal": w["proposal"]}),
    "plans.proposals.decline": ("work", lambda w: {"proposal": w["proposal"], "said": "no"}),
    "plans.proposals.take": ("work", lambda w: {"proposal": w["proposal"], "based_on": w["head"]}),
    "accounts.services.invite": ("lead", lambda w: {"firm": w["firm"], "email": "new@x.example", "role": "viewer"}),
    "accounts.services.withdraw": ("lead", lambda w: {"invitation": w["invitation"]}),
    "accounts.services.set_role": ("lead", lambda w: {"who": w["apprentice"], "role": "viewer"}),
    "accounts.services.part_with": ("lead", lambda w: {"who": w["apprentice"]}),
    "accounts.services.set_firm": ("lead", lambda w: {"firm": w["firm"], "form": w["form"]}),
    "commissioning.services.start_run": ("propose", lambda w: {"plan": w["plan"], "kind": "first"}),
    "commissioning.services.write": ("propose", lambda w: {"run": w["run"], "told": _told("note"), "units": "metric"}),
    "commissioning.services.write_photo": (
        "propose",
        lambda w: {"run": w["run"], "told": _told("photo"), "content": _png()},
    ),
    "customers.services.save_customer": ("work", lambda w: {"firm": w["firm"], "values": {"name": "x"}}),
    "customers.services.save_site": ("work", lambda w: {"firm": w["firm"], "values": {"address": "x"}}),
    "customers.services.set_card": ("work", lambda w: {"job": w["plan"].job, "customer": None, "site": None}),
    "customers.services.set_state": (
        "work",
        lambda w: {"job": w["plan"].job, "state": "quoted", "on": date(2026, 2, 1)},
    ),
    "customers.services.write_note": ("propose", lambda w: {"job": w["plan"].job, "text": "x"}),
    "customers.services.add_file": ("propose", lambda w: {"job": w["plan"].job, "name": "x", "content": b"x"}),
    "customers.services.remove_file": ("work", lambda w: {"file": w["file"]}),
    "customers.services.delete_customer": ("work", lambda w: {"customer": w["customer"]}),
    "customers.services.keep_customer": ("work", lambda w: {"customer": w["customer"]}),
    "dates.services.save_visit": ("work", lambda w: {"firm": w["firm"], "wish": w["wish"]}),
    "dates.services.move_visit": ("work", lambda w: {"visit": w["visit"], "start": datetime(2026, 6, 2, 9)}),
    "dates.services.cancel_visit": ("work", lambda w: {"visit": w["visit"]}),
    "goods.services.save_good": (
        "lead",
        lambda w: {"firm": w["firm"], "kind": "pipe", "data": PIPES["Copper 22 × 1"].model_dump(mode="json")},
    ),
    "goods.services.keep_of_plan": ("lead", lambda w: {"plan": w["plan"], "kind": "pump"}),
    "goods.services.set_good": ("lead", lambda w: {"good": w["good"], "price": 9.0, "merchant": "", "withdrawn": None}),
    "goods.services.set_prices": ("lead", lambda w: {"firm": w["firm"], "rows": {"controller": (210.0, "")}}),
    "goods.services.use_in_plan": ("work", lambda w: {"good": w["good"], "plan": w["plan"]}),
    "goods.services.make_quote": ("work", lambda w: {"plan": w["plan"], "margin": 0.1, "tax": 0.2, "units": "metric"}),
    "goods.services.take_price": ("work", lambda w: {"quote": w["quote"]}),
    "house.services.give_link": ("work", lambda w: {"plan": w["plan"], "kind": "sent"}),
    "house.services.take_back_link": ("work", lambda w: {"link": w["link"]}),
    "house.services.read_again": ("propose", lambda w: {"plan": w["plan"], "same": 1, "of": 1, "differ": {}}),
    "handover.services.choose": ("work", lambda w: {"plan": w["plan"], "on": None, "left_out": []}),
    "handover.services.set_offsets": ("work", lambda w: {"plan": w["plan"], "offsets": {"c1": "by the wall"}}),
    "plans.places.save_place": ("work", lambda w: {"firm": w["firm"], "wish": PLACE}),
    "plans.places.remove_place": ("work", lambda w: {"place": w["place"]}),
    "care.services.make_device": ("work", lambda w: {"plan": w["plan"], "name": "cellar"}),
    "care.log_services.take_file": (
        "work",
        lambda w: {"plan": w["plan"], "name": "log.csv", "data": LOG.replace(b"21.", b"22."), "zone_h": 1.0},
    ),
    "care.hand.keep_reading": (
        "propose",
        lambda w: {"plan": w["plan"], "typed": {"gauge": "1.7"}, "asked": ("gauge",), "units": "metric"},
    ),
    "care.hand.strike_out": ("propose", lambda w: {"entry": w["read"]}),
    "care.log_services.use_sky": ("work", lambda w: {"plan": w["plan"], "digest": ""}),
    "care.log_services.name_columns": (
        "work",
        lambda w: {
            "file": w["log"],
            "channels": {1: ("field_c", "°C")},
            "clock": "utc",
            "prefers": "dmy",
            "zone_h": 1.0,
        },
    ),
    "care.log_services.delete_file": ("work", lambda w: {"file": w["log"]}),
    "care.services.leave_settings": ("work", lambda w: {"plan": w["plan"], "numbers": {}, "words": {}}),
}
# not asked by a person for the firm: a line in the log by the service itself, a question about one's own
ASIDE = {"accounts.services.note", "plans.proposals.own_proposal", "dates.services.set_feed"}


def _asked_by_a_person() -> Iterator[tuple[str, str]]:
    for module in MODULES:
        found = importlib.import_module(f"rowan.web.{module}")
        for name, function in inspect.getmembers(found, inspect.isfunction):
            asks = {"author", "person"} & set(inspect.signature(function).parameters)
            if function.__module__ == found.__name__ and not name.startswith("_") and asks:
                yield f"{module}.{name}", asks.pop()


SERVICES = dict(_asked_by_a_person())


def test_every_service_that_somebody_asks_is_in_the_table() -> None:
    assert set(SERVICES) - ASIDE == set(CALLS)


class _Form:
    """A valid form of the firm that says nothing new."""

    cleaned_data = {"fluid_share": None, "no_logo": False, "logo_file": None}
    changed_data: list[str] = []


@pytest.fixture
def world(plan: Plan, firm: Firm, person: User, apprentice: User) -> World:
    change_plan(
        plan=plan, author=person, based_on=1, edit=Edit([Change("control.stop_k", 3.5)], "control.stop_k", "stop")
    )
    proposal = open_proposal(plan, apprentice)
    change_plan(plan=proposal, author=apprentice, based_on=proposal.head.number, edit=EDIT)
    wish = Wish("survey", datetime(2026, 6, 1, 9), datetime(2026, 6, 1, 11), [person])
    return {
        "customer": save_customer(firm=firm, person=person, values={"name": "Ebba"}), "wish": wish,
        "file": add_file(job=plan.job, person=person, name="x", content=b"x"), "visit": save_visit(firm=firm, person=person, wish=wish),
        "place": save_place(firm=firm, person=person, wish=PLACE),
        "good": save_good(firm=firm, person=person, kind="pipe", data=PIPES["Copper 22 × 1"].model_dump(mode="json")),
        "quote": make_quote(plan=plan, person=person, margin=0.1, tax=0.2, units="metric"),
        "link": give_link(plan=plan, person=person, kind="sent"),
        "plan": plan, "firm": firm, "head": plan.head.number, "undone": plan, "proposal": proposal, "apprentice": apprentice,
        "invitation": invite(firm=firm, person=person, email="w@x.example", role="viewer")[0], "form": _Form(),
        "run": start_run(plan=plan, kind="first", person=person),
        "read": keep_reading(plan=plan, person=person, typed={"gauge": "1.7"}, asked=("gauge",), units="metric"),
        "log": take_file(plan=plan, person=person, name="log.csv", data=LOG, zone_h=1.0),
    }  # fmt: skip


def _allowed(right: str, who: User, world: World) -> bool:
    if who.firm != world["firm"] or not who.is_active:
        return False
    return who == world["apprentice"] if right == "own" else RANK[who.role] >= NEEDS[right]


@pytest.mark.parametrize("service", CALLS)
def test_who_may_not_is_refused_where_it_is_done(
    service: str, world: World, person: User, colleague: User, apprentice: User, viewer: User, stranger: User
) -> None:
    """Those who may not first, so that each finds the world untouched; then the least of those who may, who is not refused."""
    right, arguments = CALLS[service]
    module, _, name = service.rpartition(".")
    act = getattr(importlib.import_module(f"rowan.web.{module}"), name)
    gone = User.objects.create_user(
        "gone@hollinwray.example", name="Gone", firm=person.firm, role="lead", is_active=False
    )
    people = (viewer, apprentice, colleague, person, stranger, gone)
    if name == "redo":
        from rowan.web.plans.services import undo

        undo(plan=world["plan"], author=person, based_on=world["head"])
    for who in people:
        if not _allowed(right, who, world):
            with pytest.raises(NotAllowedError):
                act(**{SERVICES[service]: who}, **arguments(world))
    least = next(who for who in people if _allowed(right, who, world))
    act(**{SERVICES[service]: least}, **arguments(world))


def test_a_right_that_ended_meanwhile_counts(plan: Plan, person: User, colleague: User) -> None:
    """The page was opened as an installer; the role was changed before it was sent."""
    User.objects.filter(pk=colleague.pk).update(role="viewer")
    with pytest.raises(NotAllowedError, match="installer of your firm"):
        change_plan(plan=plan, author=colleague, based_on=1, edit=EDIT)
    assert design_of(plan.head) == design_of(plan.revisions.get(number=1))


def test_closing_a_run_is_an_installer_s(plan: Plan, apprentice: User, page: Client) -> None:
    from rowan.web.commissioning.services import write

    run = start_run(plan=plan, kind="first", person=apprentice)
    with pytest.raises(NotAllowedError):
        write(run=run, told=Told(kind="close", text="Isa"), person=apprentice, units="metric")
    assert page.get(reverse("commissioning:run", args=(plan.job_id, "A", run.pk))).status_code == 200
