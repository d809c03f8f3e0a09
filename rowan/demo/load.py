"""Puts the invented world into the database: the firm, its people, the Kvist house in two plans."""

from __future__ import annotations

from django.db import transaction

from rowan.demo import sandreef
from rowan.demo.kvist import TITLE, kvist_plan_a, kvist_plan_b
from rowan.web.accounts.models import Firm, User
from rowan.web.jobs.models import Job
from rowan.web.jobs.services import add_plan, start_job

FIRM = "Hollin & Wray Solar Heat"
EMAIL, PASSWORD, NAME = "mara@hollinwray.example", "rope-walk-40", "Mara Hollin"  # printed by bin/demo


@transaction.atomic
def load_world() -> User:
    """The demo firm with its jobs; does nothing where they are already."""
    firm, _ = Firm.objects.get_or_create(name=FIRM)
    person = User.objects.filter(email=EMAIL).first()
    if person is None:
        person = User.objects.create_user(EMAIL, PASSWORD, name=NAME, firm=firm)
    if not Job.objects.filter(firm=firm, title=sandreef.TITLE).exists():
        start_job(firm=firm, author=person, title=sandreef.TITLE, design=sandreef.sandreef())
    if not Job.objects.filter(firm=firm, title=TITLE).exists():
        plan = start_job(firm=firm, author=person, title=TITLE, design=kvist_plan_a())
        add_plan(job=plan.job, author=person, design=kvist_plan_b(), letter="B")
    return person
