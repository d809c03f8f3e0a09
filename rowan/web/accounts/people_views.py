"""The firm: its people and what they may do, what stands on its papers, who did what."""

from __future__ import annotations

from django.conf import settings
from django.core.mail import send_mail
from django.core.paginator import Paginator
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.urls import reverse
from django.utils.cache import patch_cache_control

from rowan.core.terms.dates import day_said
from rowan.core.terms.language import tr
from rowan.web.accounts import services
from rowan.web.accounts.forms import FirmForm, InviteForm
from rowan.web.accounts.logo import SVG
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.roles import ABOUT, Role
from rowan.web.accounts.views import UNPROCESSABLE, person_of
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import forms_only, takes_forms

LOG_PAGE = 60


def firm_of(request: HttpRequest) -> Firm:
    """The firm of who is signed in; 404 for somebody without one."""
    found = person_of(request).firm
    if found is None:
        raise Http404
    return found


def _people(request: HttpRequest, status: int = 200, **more: object) -> HttpResponse:
    firm = firm_of(request)
    context = {
        "people": firm.people.filter(is_active=True).order_by("name"),
        "gone": firm.people.filter(is_active=False).order_by("name"),
        "roles": [(role, role.label, ABOUT[role]) for role in Role],
        "waiting": services.open_invitations(firm),
        "form": InviteForm(),
        "mail_set": "smtp" in settings.EMAIL_BACKEND,
        **more,
    }
    return render(request, "accounts/people.html", context, status=status)


@takes_forms
def people(request: HttpRequest) -> HttpResponse:
    """Who is in the firm; a lead invites."""
    if request.method != "POST":
        return _people(request)
    form = InviteForm(request.POST)
    if not form.is_valid():
        return _people(request, UNPROCESSABLE, form=form)
    firm, person = firm_of(request), person_of(request)
    try:
        made, secret = services.invite(firm=firm, person=person, **form.cleaned_data)
    except WebError as error:
        return _people(request, UNPROCESSABLE, form=form, problem=tr("Not invited: {error}.", error=error))
    link = request.build_absolute_uri(reverse("accounts:invitation", args=(secret,)))
    text = render_to_string(
        "accounts/invitation.txt", {"invitation": made, "link": link, "ends": day_said(made.ends, year=True).text()}
    )
    sent = bool(request.POST.get("mail")) and send_mail(
        tr("A place at {name}", name=firm.name), text, None, [made.email], fail_silently=True
    )
    return _people(request, invited=made, link=link, sent=bool(sent))


def _colleague(request: HttpRequest, number: str) -> User:
    return get_object_or_404(firm_of(request).people, pk=int(number))


@forms_only
def role(request: HttpRequest, number: str) -> HttpResponse:
    """What somebody may do from now on."""
    wanted = request.POST.get("role", "")
    if wanted not in Role.values:
        return _people(request, UNPROCESSABLE, problem="No such role.")
    try:
        services.set_role(who=_colleague(request, number), role=wanted, person=person_of(request))
    except WebError as error:
        return _people(request, UNPROCESSABLE, problem=tr("Not changed: {error}.", error=error))
    return redirect("accounts:people")


@forms_only
def leave(request: HttpRequest, number: str) -> HttpResponse:
    """Somebody signs in no more."""
    try:
        services.part_with(who=_colleague(request, number), person=person_of(request))
    except WebError as error:
        return _people(request, UNPROCESSABLE, problem=tr("Not done: {error}.", error=error))
    return redirect("accounts:people")


@forms_only
def withdraw(request: HttpRequest, number: str) -> HttpResponse:
    """An invitation's link opens nothing any more."""
    services.withdraw(
        invitation=get_object_or_404(firm_of(request).invitations, pk=int(number)), person=person_of(request)
    )
    return redirect("accounts:people")


@takes_forms
def firm(request: HttpRequest) -> HttpResponse:
    """What stands on papers, and what is usual."""
    found = firm_of(request)
    share = None if found.fluid_share is None else round(100 * found.fluid_share, 1)
    if request.method != "POST":
        return render(request, "accounts/firm.html", {"form": FirmForm(instance=found, initial={"fluid_share": share})})
    form = FirmForm(request.POST, request.FILES, instance=found)
    if not form.is_valid():
        found.refresh_from_db()
        return render(request, "accounts/firm.html", {"form": form}, status=UNPROCESSABLE)
    services.set_firm(firm=found, person=person_of(request), form=form)
    return redirect("accounts:firm")


def logo(request: HttpRequest) -> HttpResponse:
    """The head of its papers."""
    found = firm_of(request)
    if not found.logo:
        raise Http404
    answer = HttpResponse(bytes(found.logo), content_type=found.logo_kind)
    # opened by itself it is a picture too, whatever it holds
    answer["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox"
    answer["Content-Disposition"] = f'inline; filename="head.{"svg" if found.logo_kind == SVG else "png"}"'
    patch_cache_control(answer, private=True, no_cache=True)
    return answer


def log(request: HttpRequest) -> HttpResponse:
    """Who did what, the newest first."""
    page = Paginator(firm_of(request).deeds.select_related("person"), LOG_PAGE).get_page(request.GET.get("page", "1"))
    return render(request, "accounts/log.html", {"deeds": page})
