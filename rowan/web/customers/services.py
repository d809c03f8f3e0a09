"""What is done with customers, sites and a job's card: each through the policy, with a line in the firm's log."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.db import transaction
from django.utils import timezone

from rowan.core.records.job_state import DECLINED, STATES
from rowan.core.terms.language import tr
from rowan.web.accounts import policy
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.services import note
from rowan.web.customers.models import GRACE, Customer, JobCard, JobFile, Note, Site, Stood
from rowan.web.plans.forgetting import retitle_states
from rowan.web.plans.models import Job
from rowan.web.ui.errors import NoSuchStepError

LARGEST_FILE = 8_000_000  # bytes
MOST_FILES = 60  # of a job


def card_of(job: Job) -> JobCard:
    """A job's card; one that nobody has written on yet, where there is none."""
    found = JobCard.objects.select_related("customer", "site").filter(job=job).first()
    return found or JobCard(job=job)


def save_customer(*, firm: Firm, person: User, values: dict[str, Any], customer: Customer | None = None) -> Customer:
    """A new customer, or other words about one. Raises NoSuchStepError without a name, NotAllowedError."""
    if not str(values.get("name", "")).strip():
        raise NoSuchStepError("a customer needs a name")
    with transaction.atomic():
        policy.check(person, firm, "work")
        found = customer or Customer(firm=firm)
        for name, value in values.items():
            setattr(found, name, value)
        found.save()
        note(firm, person, f"{'changed' if customer else 'took in'} customer {found.pk}")
    return found


def save_site(*, firm: Firm, person: User, values: dict[str, Any], site: Site | None = None) -> Site:
    """A new site, or other words about one. Raises NoSuchStepError without an address, NotAllowedError."""
    if not str(values.get("address", "")).strip():
        raise NoSuchStepError("a site needs an address")
    with transaction.atomic():
        policy.check(person, firm, "work")
        found = site or Site(firm=firm)
        for name, value in values.items():
            setattr(found, name, value)
        found.save()
    return found


def set_card(*, job: Job, person: User, customer: Customer | None, site: Site | None) -> JobCard:
    """Whose job it is and where. Raises NoSuchStepError for those of another firm, NotAllowedError."""
    for one in (customer, site):
        if one is not None and one.firm_id != job.firm_id:
            raise NoSuchStepError("there is no such customer or site")
    with transaction.atomic():
        policy.check(person, job.firm, "work")
        card, _ = JobCard.objects.select_for_update().get_or_create(job=job)
        card.customer, card.site = customer, site
        card.save()
        note(job.firm, person, f"set whose job {job.pk} is")
    return card


def set_state(*, job: Job, person: User, state: str, on: date) -> JobCard:
    """Where a job stands from a day on. Raises NoSuchStepError for a state nobody knows or a day to come, NotAllowedError."""
    if state not in STATES and state != DECLINED:
        raise NoSuchStepError("there is no such state of a job")
    if on > timezone.localdate():
        raise NoSuchStepError("this day is still to come")
    with transaction.atomic():
        policy.check(person, job.firm, "work")
        card, _ = JobCard.objects.select_for_update().get_or_create(job=job)
        if card.state != state or card.since is None:
            card.state, card.since = state, on
            card.save()
            Stood.objects.create(job=job, state=state, on=on, person=person)
            note(job.firm, person, f"set job {job.pk} to “{card.get_state_display()}”")
    return card


def write_note(*, job: Job, person: User, text: str) -> Note:
    """Something to know about a job; who is on site may write it too. Raises NoSuchStepError for nothing, NotAllowedError."""
    if not text.strip():
        raise NoSuchStepError("nothing was written")
    with transaction.atomic():
        policy.check(person, job.firm, "propose")
        return Note.objects.create(job=job, person=person, text=text.strip()[:4000])


def add_file(*, job: Job, person: User, name: str, content: bytes) -> JobFile:
    """A file to a job, kept as it is. Raises NoSuchStepError for what is too large or too many, NotAllowedError."""
    if len(content) > LARGEST_FILE:
        raise NoSuchStepError(
            tr(
                "a file may have {most} MB, this has {size}",
                most=LARGEST_FILE // 1_000_000,
                size=f"{len(content) / 1e6:.0f}",
            )
        )
    with transaction.atomic():
        policy.check(person, job.firm, "propose")
        if job.files.count() >= MOST_FILES:
            raise NoSuchStepError(tr("a job keeps {most} files; take some away first", most=MOST_FILES))
        clean = name.replace("\x00", "").replace("/", "_").replace("\\", "_").strip()[-120:] or "file"
        return JobFile.objects.create(job=job, person=person, name=clean, size=len(content), content=content)


def remove_file(*, file: JobFile, person: User) -> None:
    """Take a file away. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, file.job.firm, "work")
        note(file.job.firm, person, f"took a file of job {file.job_id} away")
        file.delete()


def delete_customer(*, customer: Customer, person: User) -> None:
    """Off every list; forgotten after the days of grace. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, customer.firm, "work")
        Customer.objects.filter(pk=customer.pk, deleted=None).update(deleted=timezone.now())
        note(customer.firm, person, f"deleted customer {customer.pk}: forgotten in {GRACE.days} days")


def keep_customer(*, customer: Customer, person: User) -> None:
    """Back from among the deleted. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, customer.firm, "work")
        Customer.objects.filter(pk=customer.pk).update(deleted=None)
        note(customer.firm, person, f"kept customer {customer.pk}")


def forget_due() -> int:
    """Forget whose days of grace are over: the customer, their sites that no other job has, notes and files of their jobs, and their
    name in the titles of jobs and of their states. What was built and measured stays. How many were forgotten."""
    due = Customer.objects.filter(deleted__lt=timezone.now() - GRACE).select_related("firm")
    for customer in due:
        with transaction.atomic():
            _forget(customer)
    return len(due)


def _forget(customer: Customer) -> None:
    for card in customer.cards.select_related("job", "site"):
        job, site = card.job, card.site
        town = f", {site.town}" if site is not None and site.town else ""
        title = f"{customer.initials}{town}, job {job.pk}"
        Job.objects.filter(pk=job.pk).update(title=title)
        retitle_states(job, title)
        job.notes.all().delete()
        job.files.all().delete()
        if site is not None and not site.cards.exclude(customer=customer).exists():
            site.delete()
    note(customer.firm, None, f"forgot customer {customer.pk}")
    customer.delete()
