"""The book of the invented firm: its people, customers and sites, where each job stands, a week of visits with one clash in it, and what
the apprentice proposes."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta

from django.utils import timezone

from rowan.core.records.house_look import Look
from rowan.core.records.job_state import STATES
from rowan.core.terms.finding import Change
from rowan.demo import corrim, pipwater, sandreef, tolliver
from rowan.demo.kvist import TITLE
from rowan.demo.person import PASSWORD
from rowan.demo.practice import load_practice
from rowan.demo.site import KVIST_BEGAN
from rowan.web.accounts.models import Firm, User
from rowan.web.care.hand import asked_by_hand, keep_reading
from rowan.web.customers.models import Customer, JobCard, Site, Stood
from rowan.web.customers.services import set_card, write_note
from rowan.web.dates.services import Wish, save_visit
from rowan.web.dates.week import monday_of
from rowan.web.goods.services import keep_of_plan, set_good, set_prices
from rowan.web.house.services import give_link, take_look
from rowan.web.plans.models import Job
from rowan.web.plans.proposals import hand_in, open_proposal, proposals_of
from rowan.web.plans.reckoned import reckoned
from rowan.web.plans.services import Edit, change_plan

ADDRESS = "Ropery Yard 3\nAldersund"
PEOPLE = (
    ("tom@hollinwray.example", "Tom Wray", "installer", 40),
    ("isa@hollinwray.example", "Isa Brand", "apprentice", 32),
)
# job: customer, telephone, mail, street, town, how to get in; the states it came to, with days before today
KVIST = (
    ("enquiry", 99),
    ("surveyed", 90),
    ("quoted", 81),
    ("agreed", 70),
    ("goods", 14),
    ("roof", 8),
    ("commissioned", 0),
)
Stand = Sequence[tuple[str, int | date]]
BOOK: dict[str, tuple[tuple[str, ...], tuple[str, ...], Stand]] = {
    TITLE: (
        ("Ebba Kvist", "0555 010 014", "ebba@kvist.example"),
        ("4 Ropewalk", "Aldersund", "Key with number 6. The dog stays in the kitchen; shut the cellar hatch behind you."),
        # before the day on which it was filled
        tuple((state, KVIST_BEGAN.date() - timedelta(days=days)) for state, days in KVIST),
    ),
    corrim.TITLE: (
        ("Carrow Range Hostels", "0555 010 022", "office@carrow.example"),
        ("Corrim hostel, upper road", "Carrow Range", "Warden Oda Finch opens at six. Chains from November on."),
        (("enquiry", 200), ("surveyed", 180), ("quoted", 160), ("agreed", 120), ("goods", 60), ("roof", 20)),
    ),
    sandreef.TITLE: (
        ("Nils Amaro", "0555 010 031", "nils@sandreef.example"),
        ("Shore Road 11", "Port Maravel", "Ring at the kitchen; guests sleep until nine."),
        (("enquiry", 30), ("surveyed", 16)),
    ),
    pipwater.TITLE: (
        ("Pipwater Parish", "0555 010 040", "clerk@pipwater.example"),
        ("Bath Lane 1", "Pipwater", "The plant room's key is at the ticket desk."),
        (("enquiry", 90), ("surveyed", 80), ("quoted", 60), ("agreed", 40)),
    ),
    tolliver.TITLE: (
        ("June Tolliver", "0555 010 052", ""),
        ("9 Fir Close", "Aldersund", "Hens run loose; shut the gate."),
        (("enquiry", 50), ("surveyed", 41), ("declined", 40)),
    ),
}  # fmt: skip
# kind, people, day of the week, from, to [h], job, words
WEEK: tuple[tuple[str, tuple[str, ...], int, float, float, str, str], ...] = (
    ("survey", ("Mara", "Isa"), 0, 9.0, 11.0, sandreef.TITLE, "bring the horizon stick"),
    ("commissioning", ("Tom",), 0, 7.0, 17.0, pipwater.TITLE, "covered by half past six in the evening"),
    ("service", ("Mara",), 1, 8.5, 11.0, TITLE, "refractometer, pH strips"),
    ("roof", ("Tom", "Isa"), 2, 8.0, 17.0, corrim.TITLE, "gusts under 10 m/s"),
    ("roof", ("Tom", "Isa"), 3, 8.0, 17.0, corrim.TITLE, ""),
    ("commissioning", ("Tom",), 3, 6.5, 11.0, pipwater.TITLE, "second look"),
    ("scaffold", (), 1, 15.0, 90.0, corrim.TITLE, "Ropery Hire, 9 m"),
    ("revisit", ("Mara",), 4, 9.0, 11.0, TITLE, "bring the refractometer, 2 L of mix, the one gauge"),
    ("away", ("Isa",), 4, 7.0, 17.0, "", "trade school"),
)  # fmt: skip
# after the log ends: gauge before sunrise [bar], heat meter [kWh]
BY_HAND = (("2026-09-05", 1.81, 4812), ("2026-10-06", 1.79, 4931), ("2026-11-05", 1.78, 4986))


def load_book(firm: Firm, person: User) -> None:
    """People, customers, states and visits; does nothing where they are already."""
    firm.address, firm.telephone, firm.emergency = ADDRESS, "0555 010 000", "0555 010 009"
    firm.mail, firm.licences = "yard@hollinwray.example", "Roof work 1187 · Pressure 440-2"
    firm.hourly_rate = 48.0
    firm.save()
    people = {person.name.split()[0]: person}
    for mail, name, role, hours in PEOPLE:
        found = User.objects.filter(email=mail).first()
        people[name.split()[0]] = found or User.objects.create_user(
            mail, PASSWORD, name=name, firm=firm, role=role, week_hours=hours
        )
    jobs = {job.title: job for job in Job.objects.filter(firm=firm)}
    for title, (customer, site, stood) in BOOK.items():
        if title in jobs and not JobCard.objects.filter(job=jobs[title]).exists():
            _card(jobs[title], person, customer, site, stood)
    if not firm.visits.exists():
        _visits(firm, person, people, jobs)
    if TITLE in jobs:
        _proposal(jobs[TITLE], people["Isa"])
        _house(jobs[TITLE], person)
        _goods(firm, person, jobs[TITLE])
        load_practice(people["Isa"], person, jobs[TITLE].plans.get(letter="B"))


def _card(job: Job, person: User, customer: tuple[str, ...], site: tuple[str, ...], stood: Stand) -> None:
    name, telephone, mail = customer
    street, town, access = site
    who = Customer.objects.create(firm=job.firm, name=name, telephone=telephone, mail=mail)
    where = Site.objects.create(firm=job.firm, address=street, town=town, access=access)
    card = set_card(job=job, person=person, customer=who, site=where)
    today = timezone.localdate()
    days = [(state, when if isinstance(when, date) else today - timedelta(days=when)) for state, when in stood]
    for state, on in days:
        Stood.objects.create(job=job, state=state, on=on, person=person)
    card.state, card.since = days[-1]
    card.save()
    if stood[-1][0] not in STATES:
        write_note(
            job=job,
            person=person,
            text="Shaded from October to March by the firs opposite: it would not pay. Told by letter.",
        )


def _visits(firm: Firm, person: User, people: dict[str, User], jobs: dict[str, Job]) -> None:
    monday: date = monday_of(timezone.localdate())
    for kind, names, day, start, end, title, words in WEEK:
        first = datetime.combine(monday, time()) + timedelta(days=day)
        wish = Wish(
            kind,
            first + timedelta(hours=start),
            first + timedelta(hours=end),
            [people[name] for name in names],
            jobs.get(title),
            words,
        )
        save_visit(firm=firm, person=person, wish=wish)


def _proposal(job: Job, isa: User) -> None:
    """A larger vessel that is on the van."""
    plan = job.plans.get(letter="B")
    if proposals_of(plan):
        return
    found = open_proposal(plan, isa)
    edit = Edit([Change("charge.vessel_l", 25.0, "agreed")], "charge.vessel_l", "vessel")
    change_plan(plan=found, author=isa, based_on=found.head.number, edit=edit)
    hand_in(proposal=found, person=isa, said="The 25 L vessel is on the van, and the 18 L one is two weeks away.")


def _house(job: Job, person: User) -> None:
    """A square on the card, and what the house sent."""
    plan = job.plans.get(letter="B")
    if plan.house_links.exists():
        return
    link = give_link(plan=plan, person=person, kind="card")
    take_look(link=link, look=Look(gauge=1.77e5, pump_ran=True, drips=False), units="metric")
    asked = asked_by_hand(reckoned(plan.head).design)
    for day, gauge, heat in BY_HAND:
        typed = {"day": day, "gauge": f"{gauge} bar", "heat": f"{heat} kWh"}
        keep_reading(plan=plan, person=person, typed=typed, asked=asked, units="metric")


def _goods(firm: Firm, person: User, job: Job) -> None:
    """A catalogue of two, and some prices of the firm's own."""
    if firm.goods.exists():
        return
    plan = job.plans.get(letter="B")
    for kind, price, merchant in (("collector", 612.5, "solar supplier"), ("pump", 168.0, "plumbing merchant")):
        good = keep_of_plan(plan=plan, person=person, kind=kind)
        set_good(good=good, person=person, price=price, merchant=merchant, withdrawn=None)
    prices = {
        "controller": (210.0, "electrical merchant"),
        "fluid": (39.0, "solar supplier"),
        "scaffold": (340.0, "Ropery Hire"),
    }
    set_prices(firm=firm, person=person, rows=prices)
