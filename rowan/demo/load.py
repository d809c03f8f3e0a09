"""Puts the invented world into the database: the firm, its people, its five jobs, its book."""

from __future__ import annotations

from datetime import UTC, datetime
from functools import lru_cache
from typing import Any

from django.conf import settings
from django.db import transaction

from rowan.command.standin import pair_of, plant_of
from rowan.core.design.changes import inputs, locate
from rowan.core.design.inputs.charge import FluidEntry
from rowan.core.records.readings import Reading, reading_of
from rowan.core.terms.finding import Change
from rowan.demo import corrim, pipwater, sandreef, tolliver
from rowan.demo.book import load_book
from rowan.demo.kvist import AS_BUILT, TITLE, kvist_plan_a, kvist_plan_b
from rowan.demo.logs import CORRIM, KVIST, KVIST_SHORT, PIPWATER, SANDREEF, take_log
from rowan.demo.person import EMAIL, NAME, PASSWORD
from rowan.demo.site import corrim_run, kvist_run, lawn_run
from rowan.standin.controller import Standin
from rowan.web.accounts.models import Firm, User
from rowan.web.care.services import leave_settings, make_device, take_in
from rowan.web.plans.models import Job, Plan
from rowan.web.plans.services import Edit, add_plan, change_plan, start_job

FIRM = "Hollin & Wray Solar Heat"

# what the refractometer said on the day the house was filled, and a year later
FLUID_LOG: tuple[dict[str, Any], ...] = (
    {"id": "r1", "date": "2025-05-12", "share": 0.362, "ph": 8.3, "exchanged_l": 1.3, "note": "after twenty minutes"},
    {"id": "r2", "date": "2025-05-12", "share": 0.402, "note": "gone round once more"},
    {"id": "r3", "date": "2026-05-04", "share": 0.40, "ph": 8.2},
)


DEVICE = "controller in the cellar"
LISTENED_FROM, LISTENED_S, LISTENED_EVERY_S, LISTENED_SEED = datetime(2026, 5, 4, tzinfo=UTC), 15 * 3600.0, 120.0, 1
LEFT = ("control.start_k", "control.stop_k", "control.least_collector_c", "store.maximum_c", "control.cut_out_c")

# loops that are listened to beside the house
LOGS = {corrim.TITLE: CORRIM, sandreef.TITLE: SANDREEF, pipwater.TITLE: PIPWATER}
# jobs with another place for the field as plan B
SECOND = {sandreef.TITLE: sandreef.sandreef_annexe, pipwater.TITLE: pipwater.pipwater_lawn}


@transaction.atomic
def load_world() -> User:
    """The demo firm with its jobs; does nothing where they are already."""
    firm, _ = Firm.objects.get_or_create(name=FIRM)
    person = User.objects.filter(email=EMAIL).first()
    if person is None:
        person = User.objects.create_user(EMAIL, PASSWORD, name=NAME, firm=firm, role="lead")
    others = (
        (sandreef.TITLE, sandreef.sandreef),
        (tolliver.TITLE, tolliver.tolliver),
        (corrim.TITLE, corrim.corrim),
        (pipwater.TITLE, pipwater.pipwater),
    )
    for title, make in others:
        if not Job.objects.filter(firm=firm, title=title).exists():
            first = start_job(firm=firm, author=person, title=title, design=make())
            second = (
                add_plan(job=first.job, author=person, design=SECOND[title](), letter="B") if title in SECOND else None
            )
            if title in LOGS:
                take_log(first, person, make(), LOGS[title])
            if title == corrim.TITLE:
                corrim_run(first, person)
            if title == pipwater.TITLE and second is not None:
                lawn_run(second, person)
    if not Job.objects.filter(firm=firm, title=TITLE).exists():
        plan = start_job(firm=firm, author=person, title=TITLE, design=kvist_plan_a())
        _build(add_plan(job=plan.job, author=person, design=kvist_plan_a(), letter="B"), person)
    load_book(firm, person)
    return person


def _build(plan: Plan, person: User) -> None:
    """Plan B becomes the house as built, step by step, so that its history tells how."""
    built = kvist_plan_b()
    steps = [
        (words, [Change(c.path, c.value, locate(built, c.path).origin) for c in changes]) for words, changes in AS_BUILT
    ]
    proved = [Change(found.path, found.value, found.origin) for found in inputs(built)]
    for number, (words, changes) in enumerate((*steps, ("data sheets read, prices agreed", proved)), 1):
        edit = Edit(changes, changes[0].path if number <= len(steps) else "", words)
        change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    log = [FluidEntry(**line) for line in FLUID_LOG]
    edit = Edit([Change("charge.log", log)], "", "mix read, corrected and read again")
    change_plan(plan=plan, author=person, based_on=plan.head.number, edit=edit)
    kvist_run(plan, person)
    _listen(plan, person)


@lru_cache
def _heard() -> tuple[Reading, ...]:
    """What the controller said; the same every time."""
    built = kvist_plan_b()
    standin = Standin(plant_of(built), pair_of(built), LISTENED_FROM, seed=LISTENED_SEED)
    return tuple(reading_of(reading) for reading in standin.run(LISTENED_S, LISTENED_EVERY_S))


def _listen(plan: Plan, person: User) -> None:
    """A day of readings from the controller in the cellar, which the stand-in imitates, its log, and what was left set."""
    built = kvist_plan_b()
    device, _ = make_device(plan=plan, name=DEVICE, person=person)
    take_in(device, list(_heard()))
    left = {path: float(locate(built, path).value) for path in LEFT}
    take_log(plan, person, built, KVIST if settings.DEMO_YEAR_OF_MINUTES else KVIST_SHORT)
    leave_settings(plan=plan, person=person, numbers=dict(left), words={"store.hygiene": "backup"})
