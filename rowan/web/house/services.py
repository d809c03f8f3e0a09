"""Links given and taken back, looks taken, settings read again; each with its right, the diary with a line of each."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from datetime import timedelta

from django.core import signing
from django.db import transaction
from django.db.models import F
from django.http import HttpRequest
from django.urls import reverse
from django.utils import timezone

from rowan.core.records.house_look import Look, gauge_months, judge_look
from rowan.core.terms.units import System
from rowan.web.accounts.models import User
from rowan.web.accounts.services import note
from rowan.web.house.models import DiaryEntry, HouseLink
from rowan.web.plans import policy
from rowan.web.plans.models import Plan
from rowan.web.plans.reckoned import reckoned
from rowan.web.ui.errors import NoSuchStepError

SENT_FOR = timedelta(days=60)
MOST_LOOKS = 6  # by one link within a day
MOST_LINKS = 40  # of one plan that are alive
SIGNER = signing.Signer(salt="rowan.house", sep=".")


def token_of(link: HouseLink) -> str:
    """What stands in the address: its number, signed."""
    return SIGNER.sign(f"{link.pk}")


def link_of(token: str) -> HouseLink | None:
    """The link that an address opens; None for one that is tampered with, revoked, or over."""
    try:
        number = int(SIGNER.unsign(token))
    except (signing.BadSignature, ValueError):
        return None
    found = HouseLink.objects.select_related("plan__job__firm").filter(pk=number, revoked=None).first()
    if found is None or (found.ends is not None and found.ends < timezone.localdate()):
        return None
    return found


def give_link(*, plan: Plan, person: User, kind: str) -> HouseLink:
    """A new link: sent with an end, or for the card without one, of which there is one at a time. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, plan.job.firm, "work")
        alive = plan.house_links.select_for_update().filter(revoked=None)
        if kind == HouseLink.Kind.CARD and (card := alive.filter(kind=kind).first()) is not None:
            return card
        if alive.count() >= MOST_LINKS:
            raise NoSuchStepError("too many links are alive; end some first")
        ends = None if kind == HouseLink.Kind.CARD else timezone.localdate() + SENT_FOR
        made = HouseLink.objects.create(plan=plan, kind=HouseLink.Kind(kind), made_by=person, ends=ends)
        note(plan.job.firm, person, f"gave link {made.pk} to the page of job {plan.job_id}")
    return made


def take_back_link(*, link: HouseLink, person: User) -> None:
    """Its address opens nothing any more. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, link.plan.job.firm, "work")
        HouseLink.objects.filter(pk=link.pk, revoked=None).update(revoked=timezone.now())
        note(link.plan.job.firm, person, f"ended link {link.pk} to the page of job {link.plan.job_id}")


def opened(link: HouseLink) -> None:
    """Counts that it was opened."""
    HouseLink.objects.filter(pk=link.pk).update(opened=F("opened") + 1, last_opened=timezone.now())


def take_look(*, link: HouseLink, look: Look, units: System) -> DiaryEntry:
    """What somebody saw, judged against the month's window, into the diary. Raises NoSuchStepError for nothing, or too often."""
    if all(value is None for value in asdict(look).values()):
        raise NoSuchStepError("nothing was looked at")
    if link.looks.filter(at__gt=timezone.now() - timedelta(days=1)).count() >= MOST_LOOKS:
        raise NoSuchStepError("that is enough for one day; ring us")
    found = reckoned(link.plan.head)
    told = judge_look(found.design, gauge_months(found.design, found.result), look, timezone.localdate().month)
    return DiaryEntry.objects.create(
        job=link.plan.job,
        kind=DiaryEntry.Kind.LOOK,
        link=link,
        level=told[0].level or "",
        words=" ".join(one.words.text(units) for one in told),
        data={key: value for key, value in asdict(look).items() if value is not None},
    )


def read_again(*, plan: Plan, person: User, same: int, of: int, differ: Mapping[str, str]) -> DiaryEntry:
    """The controller's settings read again after a reset, against the card. Raises NoSuchStepError for none, NotAllowedError."""
    if not of:
        raise NoSuchStepError("nothing was read")
    words = f"{same} of {of} settings as on the card"
    if differ:
        words += ": " + ", ".join(f"{name} shows {value}" for name, value in differ.items())
    with transaction.atomic():
        policy.check(person, plan.job.firm, "propose")
        return DiaryEntry.objects.create(
            job=plan.job,
            kind=DiaryEntry.Kind.DRILL,
            person=person,
            level="fix" if differ else "",
            words=words,
            data={"same": same, "of": of, "plan": plan.letter},
        )


def card_address(request: HttpRequest, plan: Plan) -> str:
    """What the square on the card opens: the house's page where a link without an end was given, else the plan, with a sign-in."""
    link = plan.house_links.filter(kind=HouseLink.Kind.CARD, revoked=None).first()
    if link is not None:
        return house_address(request, link)
    return request.build_absolute_uri(reverse("steps:bench", args=(plan.job_id, plan.letter, "control")))


def house_address(request: HttpRequest, link: HouseLink) -> str:
    """Where the page of whoever lives there stands."""
    return request.build_absolute_uri(reverse("handover:house", args=(token_of(link),)))
