"""What is done with people and firms: each through the policy, in one transaction, with a line in the firm's log."""

from __future__ import annotations

import hashlib
import secrets
from datetime import timedelta

from django.contrib.sessions.models import Session
from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.utils import timezone

from rowan.core.terms.language import tr
from rowan.web.accounts import policy
from rowan.web.accounts.forms import FirmForm
from rowan.web.accounts.models import Deed, Firm, Invitation, SignedIn, User
from rowan.web.accounts.roles import Role
from rowan.web.ui.errors import NoSuchStepError

INVITED_FOR = timedelta(days=14)
MOST_OPEN = 50  # invitations that wait at once


def note(firm: Firm, person: User | None, words: str) -> None:
    """A line in the firm's log: who did what."""
    Deed.objects.create(firm=firm, person=person, words=words[:300])


def digest_of(secret: str) -> str:
    """What is kept of a secret in a link."""
    return hashlib.sha256(secret.encode()).hexdigest()


def found_firm(*, name: str, person_name: str, email: str, password: str) -> User:
    """A new firm and its lead. Raises NoSuchStepError where the firm or the mail address is there already."""
    try:
        with transaction.atomic():
            firm = Firm.objects.create(name=name.strip())
            person = User.objects.create_user(email, password, name=person_name.strip(), firm=firm, role=Role.LEAD)
            note(firm, person, "founded the firm here")
    except IntegrityError as error:
        taken = "a firm of this name" if Firm.objects.filter(name=name.strip()).exists() else "this mail address"
        raise NoSuchStepError(tr("{taken} is here already", taken=taken)) from error
    return person


def invite(*, firm: Firm, person: User, email: str, role: str) -> tuple[Invitation, str]:
    """A place in the firm and the secret of its link, which is shown once.

    An older invitation of the same address is withdrawn. Raises NotAllowedError, NoSuchStepError for who is in a firm already.
    """
    if User.objects.filter(email__iexact=email, is_active=True).exists():
        raise NoSuchStepError(tr("{email} signs in already", email=email))
    secret = secrets.token_urlsafe(32)
    with transaction.atomic():
        policy.check(person, firm, "lead")
        waiting = open_invitations(firm)
        waiting.filter(email__iexact=email).update(withdrawn=timezone.now())
        if waiting.count() >= MOST_OPEN:
            raise NoSuchStepError(tr("{most} invitations wait already; withdraw some", most=MOST_OPEN))
        made = Invitation.objects.create(
            firm=firm,
            email=email,
            role=Role(role),
            by=person,
            digest=digest_of(secret),
            ends=timezone.now() + INVITED_FOR,
        )
        note(firm, person, f"invited {email} as {made.role}")
    return made, secret


def open_invitations(firm: Firm) -> QuerySet[Invitation]:
    """Invitations that still open the door."""
    return firm.invitations.filter(taken=None, withdrawn=None, ends__gt=timezone.now())


def invitation_of(secret: str) -> Invitation | None:
    """The invitation that a link opens; None for one that was used, withdrawn, or is over."""
    found = Invitation.objects.select_related("firm", "by").filter(digest=digest_of(secret), taken=None, withdrawn=None)
    return found.filter(ends__gt=timezone.now()).first()


def withdraw(*, invitation: Invitation, person: User) -> None:
    """Its link opens nothing any more. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, invitation.firm, "lead")
        Invitation.objects.filter(pk=invitation.pk, taken=None).update(withdrawn=timezone.now())
        note(invitation.firm, person, f"withdrew the invitation of {invitation.email}")


def accept(*, secret: str, name: str, password: str) -> User:
    """The person that an invitation makes. Raises NoSuchStepError for a link that opens nothing, or an address that signs in already."""
    with transaction.atomic():
        found = invitation_of(secret)
        # in one statement: a link that is used twice at once makes one person
        if found is None or not Invitation.objects.filter(pk=found.pk, taken=None).update(taken=timezone.now()):
            raise NoSuchStepError("this invitation is used, withdrawn or over; ask for a new one")
        former = User.objects.filter(email__iexact=found.email).first()
        if former is not None and (former.is_active or former.firm_id != found.firm_id):
            raise NoSuchStepError(tr("{email} signs in already", email=found.email))
        person = former or User(email=User.objects.normalize_email(found.email))
        person.firm, person.role, person.name, person.is_active = found.firm, found.role, name.strip(), True
        person.units = found.firm.units
        person.set_password(password)
        person.save()
        note(found.firm, person, f"came in as {person.role}, invited by {found.by}")
    return person


def set_role(*, who: User, role: str, person: User) -> None:
    """What somebody may do from now on. Raises NotAllowedError, NoSuchStepError for the last lead."""
    with transaction.atomic():
        _keep_a_lead(who, person, leaves=role != Role.LEAD)
        User.objects.filter(pk=who.pk).update(role=Role(role))
        note(_firm_of(who), person, f"made {who} {Role(role)}")


def part_with(*, who: User, person: User) -> None:
    """Somebody leaves: they sign in no more, what they did stays with their name. Raises as `set_role` does."""
    with transaction.atomic():
        _keep_a_lead(who, person, leaves=True)
        User.objects.filter(pk=who.pk).update(is_active=False, feed="")
        end_sessions(who)
        note(_firm_of(who), person, f"ended the sign-in of {who}")


def _firm_of(who: User) -> Firm:
    if who.firm is None:
        raise NoSuchStepError("this person is in no firm")
    return who.firm


def _keep_a_lead(who: User, person: User, *, leaves: bool) -> None:
    """The right to it, and that somebody still leads afterwards; under a lock, so that two leads cannot go at once."""
    firm = _firm_of(who)
    Firm.objects.select_for_update().get(pk=firm.pk)
    policy.check(person, firm, "lead")
    others = firm.people.filter(role=Role.LEAD, is_active=True).exclude(pk=who.pk)
    if leaves and not others.exists():
        raise NoSuchStepError("a firm needs a lead: make somebody else lead first")


def end_sessions(who: User, session: str | None = None, *, but: str | None = None) -> None:
    """Sign somebody out everywhere, in one browser, or everywhere but in one."""
    rows = who.signed_in.all()
    if session is not None:
        rows = rows.filter(session=session)
    keys = [key for key in rows.values_list("session", flat=True) if key != but]
    Session.objects.filter(session_key__in=keys).delete()
    who.signed_in.filter(session__in=keys).delete()


def signed_in_at(who: User) -> list[SignedIn]:
    """Browsers in which somebody is signed in; those whose session is over are forgotten."""
    alive = Session.objects.filter(expire_date__gt=timezone.now()).values("session_key")
    who.signed_in.exclude(session__in=alive).delete()
    return list(who.signed_in.all())


def set_firm(*, firm: Firm, person: User, form: FirmForm) -> None:
    """What a valid form says of the firm. Raises NotAllowedError."""
    with transaction.atomic():
        policy.check(person, firm, "lead")
        share = form.cleaned_data["fluid_share"]
        firm.fluid_share = None if share is None else share / 100
        if form.cleaned_data["no_logo"]:
            firm.logo, firm.logo_kind = b"", ""
        elif form.cleaned_data["logo_file"]:
            firm.logo_kind, firm.logo = form.cleaned_data["logo_file"]
        firm.save()
        note(firm, person, "changed what stands on the firm's papers: " + (", ".join(form.changed_data) or "nothing"))
