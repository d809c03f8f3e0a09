"""Customers, sites, and a job's own card: whose it is, where it stands, what is known about it."""

from __future__ import annotations

from urllib.parse import quote

from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.utils.dateparse import parse_date

from rowan.web.customers import services
from rowan.web.customers.export import everything_of
from rowan.web.customers.forms import CustomerForm, SiteForm
from rowan.web.customers.models import GRACE, Customer, JobFile, Site
from rowan.web.plans.selectors import actor, job_of
from rowan.web.ui.errors import WebError
from rowan.web.ui.methods import forms_only, takes_forms
from rowan.web.ui.problem import UNPROCESSABLE, problem

MOST_SHOWN = 200


def customer_of(request: HttpRequest, number: str) -> Customer:
    """A customer the person may see; 404 for a stranger's."""
    return get_object_or_404(Customer.objects.visible(actor(request)), pk=int(number))


@takes_forms
def customers(request: HttpRequest) -> HttpResponse:
    """Who is in the firm's book; a new one at the foot."""
    person = actor(request)
    if person.firm is None:
        raise Http404
    form = CustomerForm(request.POST if request.method == "POST" else None)
    if request.method == "POST" and form.is_valid():
        made = services.save_customer(firm=person.firm, person=person, values=form.cleaned_data)
        return redirect("customers:customer", made.pk)
    services.forget_due()
    words = request.GET.get("q", "").replace("\x00", "").strip()[:80]
    rows = Customer.objects.visible(person).prefetch_related("cards__job", "cards__site")
    for word in words.split():
        rows = rows.filter(name__icontains=word) | rows.filter(cards__site__address__icontains=word)
    context = {
        "form": form,
        "rows": rows.filter(deleted=None).distinct()[:MOST_SHOWN],
        "deleted": rows.exclude(deleted=None).distinct(),
        "words": words,
        "grace": GRACE.days,
    }
    return render(request, "customers/customers.html", context, status=UNPROCESSABLE if form.errors else 200)


@takes_forms
def customer(request: HttpRequest, number: str) -> HttpResponse:
    """The sheet: to call, to find, to write; and to change."""
    found, person = customer_of(request, number), actor(request)
    form = CustomerForm(request.POST if request.method == "POST" else None, instance=found)
    if request.method == "POST" and form.is_valid():
        services.save_customer(firm=found.firm, person=person, values=form.cleaned_data, customer=found)
        return redirect("customers:customer", found.pk)
    if form.errors:
        found.refresh_from_db()
    cards = found.cards.select_related("job", "site")
    context = {"customer": found, "cards": cards, "form": form, "grace": GRACE.days}
    return render(request, "customers/customer.html", context, status=UNPROCESSABLE if form.errors else 200)


@forms_only
def delete(request: HttpRequest, number: str) -> HttpResponse:
    """Delete, or keep after all."""
    found = customer_of(request, number)
    act = services.keep_customer if request.POST.get("keep") else services.delete_customer
    act(customer=found, person=actor(request))
    return redirect("customers:customers")


def export(request: HttpRequest, number: str) -> HttpResponse:
    """All that is kept of them."""
    found = customer_of(request, number)
    answer = HttpResponse(everything_of(found), content_type="application/zip")
    answer["Content-Disposition"] = f'attachment; filename="customer-{found.pk}.zip"'
    return answer


@takes_forms
def site(request: HttpRequest, number: str) -> HttpResponse:
    """A site: its address, how to get in, who is there."""
    person = actor(request)
    found = get_object_or_404(Site.objects.visible(person), pk=int(number))
    form = SiteForm(request.POST if request.method == "POST" else None, instance=found)
    if request.method == "POST" and form.is_valid():
        services.save_site(firm=found.firm, person=person, values=form.cleaned_data, site=found)
        return redirect("customers:site", found.pk)
    if form.errors:
        found.refresh_from_db()
    context = {"site": found, "cards": found.cards.select_related("job", "customer"), "form": form}
    return render(request, "customers/site.html", context, status=UNPROCESSABLE if form.errors else 200)


def _picked(request: HttpRequest, name: str) -> int:
    """What a list of the form says; 0 for nothing."""
    given = request.POST.get(name, "")
    return int(given) if given.isdecimal() and len(given) < 10 else 0


@forms_only
def set_card(request: HttpRequest, job: int) -> HttpResponse:
    """Whose job it is and where: picked, or new by name and address."""
    found, person = job_of(request, job), actor(request)
    picked, at = _picked(request, "customer"), _picked(request, "site")
    who = get_object_or_404(Customer.objects.visible(person), pk=picked) if picked else None
    where = get_object_or_404(Site.objects.visible(person), pk=at) if at else None
    try:
        if name := request.POST.get("new_customer", "").replace("\x00", "").strip():
            who = services.save_customer(firm=found.firm, person=person, values={"name": name[:120]})
        if address := request.POST.get("new_site", "").replace("\x00", "").strip():
            street, _, town = address.partition(",")
            values = {"address": street.strip()[:200], "town": town.strip()[:120]}
            where = services.save_site(firm=found.firm, person=person, values=values)
        services.set_card(job=found, person=person, customer=who, site=where)
    except WebError as error:
        return problem(request, "Not done", str(error))
    return redirect("dates:job", found.pk)


@forms_only
def set_state(request: HttpRequest, job: int) -> HttpResponse:
    """Where the job stands from a day on."""
    found = job_of(request, job)
    try:
        on = parse_date(request.POST.get("on", "")) or timezone.localdate()
        services.set_state(job=found, person=actor(request), state=request.POST.get("state", ""), on=on)
    except (WebError, ValueError) as error:
        return problem(request, "Not done", str(error))
    return redirect("dates:job", found.pk)


@forms_only
def write_note(request: HttpRequest, job: int) -> HttpResponse:
    """A note, a file, or both."""
    found, person = job_of(request, job), actor(request)
    text, file = request.POST.get("text", "").replace("\x00", ""), request.FILES.get("file")
    try:
        if file is not None:
            services.add_file(job=found, person=person, name=file.name or "file", content=file.read())
        if text.strip() or file is None:
            services.write_note(job=found, person=person, text=text)
    except WebError as error:
        return problem(request, "Not kept", str(error), typed=[("note", text)] if text else [])
    return redirect("dates:job", found.pk)


def _file(request: HttpRequest, job: int, number: str) -> JobFile:
    return get_object_or_404(job_of(request, job).files, pk=int(number))


def file(request: HttpRequest, job: int, number: str) -> HttpResponse:
    """A file as it was given: handed over to be saved, never shown as a page of ours."""
    found = _file(request, job, number)
    answer = HttpResponse(bytes(found.content), content_type="application/octet-stream")
    answer["Content-Disposition"] = f"attachment; filename*=UTF-8''{quote(found.name)}"
    answer["X-Content-Type-Options"] = "nosniff"
    return answer


@forms_only
def remove_file(request: HttpRequest, job: int, number: str) -> HttpResponse:
    """Take a file away."""
    services.remove_file(file=_file(request, job, number), person=actor(request))
    return redirect("dates:job", job)
