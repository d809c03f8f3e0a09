"""The ledger of jobs: found by words, a page at a time, each with its drawing, heat, place on the tape and next thing."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import replace
from typing import Any
from urllib.parse import urlencode

from django.core.paginator import Paginator
from django.db.models import Case, Q, When
from django.db.models.functions import Lower

from rowan.core.design.design import Design
from rowan.core.design.own_store import contents_of
from rowan.core.records.job_state import DECLINED, STATES
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Finding
from rowan.core.terms.language import Message, tr
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH, LITRE, System, number_text, shown_number, unit_label
from rowan.web.accounts.models import User
from rowan.web.benches.bench import STEPS
from rowan.web.benches.loop import small_loop, small_tape
from rowan.web.benches.sheet import sheet_of
from rowan.web.jobs.map_drawing import Spot
from rowan.web.plans.models import Job, JobQuerySet, Plan
from rowan.web.plans.weather import places_of
from rowan.web.steps.registry import BENCHES

A_PAGE = 20
ALL_STATES = (*STATES, DECLINED)
FIRST_STATE = "enquiry"  # of a job nobody has said more of
ORDERS = {
    "newest": Message("newest first"),
    "oldest": Message("oldest first"),
    "name": Message("name"),
    "state": Message("state"),
}
NUMBER = re.compile(r"-?\d{1,3}(?:\.\d{1,6})?")
BOX_LIMITS = ("south", "west", "north", "east")
ROUNDING_DEG = 1e-5  # an address has a box to a metre
MOST_LETTERS = 80


@record
class Ask:
    """What somebody looks for in the ledger."""

    words: str = ""
    archived: bool = False
    page: int = 1
    state: str = ""  # of the job's card; all without
    order: str = "newest"
    box: tuple[float, float, float, float] | None = None  # a part of the map: south, west, north, east [°]

    @classmethod
    def of(cls, query: dict[str, str]) -> Ask:
        """From a query string's values; odd ones are left out."""
        page = query.get("page", "1")
        return cls(
            query.get("q", "").replace("\x00", "").strip()[:MOST_LETTERS],
            query.get("show") == "archived",
            int(page) if page.isdecimal() and len(page) < 7 else 1,
            query.get("state", "") if query.get("state") in ALL_STATES else "",
            query.get("order", "") if query.get("order") in ORDERS else "newest",
            _box(query.get("in", "")),
        )

    def query(self) -> str:
        """As a query string."""
        values = {
            "q": self.words,
            "show": "archived" if self.archived else "",
            "state": self.state,
            "order": self.order if self.order != "newest" else "",
            "in": ",".join(f"{one:.5f}" for one in self.box) if self.box else "",
            "page": str(self.page) if self.page > 1 else "",
        }
        return "?" + urlencode({name: value for name, value in values.items() if value})


def _box(text: str) -> tuple[float, float, float, float] | None:
    """A part of the map as it stands in an address; odd ones are none."""
    parts = text.split(",")
    if len(parts) != len(BOX_LIMITS) or any(not NUMBER.fullmatch(part) for part in parts):
        return None
    south, west, north, east = (float(part) for part in parts)
    return (south, west, north, east) if south <= north and west <= east else None


def sizes(design: Design, units: System) -> dict[str, tuple[str, str]]:
    """Aperture of one collector, store and vessel as number and unit."""
    wanted = {
        "each": (design.collector.item.value.aperture_m2, "area"),
        "store": (contents_of(design), "tank"),
        "vessel": (design.charge.vessel_l.value * design.charge.vessels.value * LITRE, "tank"),
    }
    return {
        name: (shown_number(value, dimension, units), unit_label(dimension, units))
        for name, (value, dimension) in wanted.items()
    }


def loop_words(design: Design) -> str:
    """The kind of loop in a word or two."""
    kind = design.charge.kind.value
    return f"sealed, {100 * design.glycol_share:.0f} % glycol" if design.sealed else kind


def whom(design: Design) -> str:
    """Who or what the heat is for."""
    people = design.duty.persons.value
    words = {
        "pool": "a pool",
        "heating": "space heating",
        "process": "process heat",
        "slab": "a floor slab",
        "bath": "a process bath",
    }
    return words.get(design.duty.kind.value, tr("{people} people", people=people) if people > 1 else "one person")


def stands_at(findings: tuple[Finding, ...]) -> int:
    """The step a job stands at: the first with something to stop or mend, else the last that is built."""
    keys = [key for key, _ in STEPS]
    open_steps = [keys.index(f.stage) for f in findings if f.level != "mind"]
    return min(open_steps, default=max(keys.index(key) for key in BENCHES))


def found_jobs(person: User, ask: Ask) -> JobQuerySet:
    """The person's jobs with every word in their name, their place, their customer, site or notes."""
    jobs = Job.objects.visible(person).filter(archived=ask.archived)
    for word in ask.words.split():
        in_book = Q(card__customer__name__icontains=word, card__customer__deleted=None)
        at_site = Q(card__site__address__icontains=word) | Q(card__site__town__icontains=word)
        of_job = Q(title__icontains=word) | Q(plans__place__icontains=word) | Q(notes__text__icontains=word)
        jobs = jobs.filter(of_job | in_book | at_site)
    if ask.state:
        stands = Q(card__state=ask.state)
        jobs = jobs.filter(stands | Q(card=None) if ask.state == FIRST_STATE else stands)
    if ask.box is not None:
        jobs = jobs.filter(pk__in=[spot.job for spot in spots_of(person, jobs) if _inside(spot, ask.box)])
    return _ordered(jobs.distinct(), ask.order).select_related("card__customer", "card__site").prefetch_related("plans")


def _inside(spot: Spot, box: tuple[float, float, float, float]) -> bool:
    south, west, north, east = box
    is_between = south - ROUNDING_DEG <= spot.latitude <= north + ROUNDING_DEG
    return is_between and west - ROUNDING_DEG <= spot.longitude <= east + ROUNDING_DEG


def _ordered(jobs: JobQuerySet, order: str) -> JobQuerySet:
    if order == "name":
        return jobs.order_by(Lower("title"), "pk")
    if order == "state":
        places = [When(card__state=state, then=n) for n, state in enumerate(ALL_STATES)]
        return jobs.order_by(Case(*places, default=0), "-created", "-pk")
    return jobs.order_by("created", "pk") if order == "oldest" else jobs.order_by("-created", "-pk")


def spots_of(person: User, jobs: JobQuerySet) -> list[Spot]:
    """Where jobs are: by their site's coordinates, else by the place their first plan was made for; those of neither are left out."""
    places = places_of(person.firm)
    made_for: dict[int, str] = {}
    for job, place in Plan.objects.filter(job__in=jobs.order_by()).order_by("-letter").values_list("job_id", "place"):
        made_for[job] = place
    found = []
    rows = jobs.order_by("pk").values_list("pk", "title", "card__site__latitude", "card__site__longitude")
    for pk, title, latitude, longitude in rows:
        name = made_for.get(pk, "")
        climate = places.get(name)
        if latitude is not None and longitude is not None:
            found.append(Spot(latitude, longitude, pk, title, name or title, own=True))
        elif climate is not None:
            found.append(Spot(climate.latitude_deg, climate.longitude_deg, pk, title, name, own=False))
    return found


def counted_states(person: User, ask: Ask) -> list[tuple[str, str, int]]:
    """Every state that a job which is asked for is in, whichever state is: its key, its name, how many."""
    jobs = found_jobs(person, replace(ask, state=""))
    counts = Counter(state or FIRST_STATE for _, state in jobs.order_by().values_list("pk", "card__state"))
    names: dict[str, str] = {str(key): name for key, name in STATES.items()} | {DECLINED: Message("declined")}
    return [(state, names[state], counts[state]) for state in ALL_STATES if counts[state]]


def _row(job: Job, units: System) -> dict[str, Any] | None:
    plans = list(job.plans.all())
    if not plans:
        return None
    plan, head = plans[0], plans[0].head
    row: dict[str, Any] = {"job": job, "plan": plan, "plans": plans, "head": head}
    try:
        sheet = sheet_of(plan, units, head=head)
    except RowanError as error:
        return {**row, "problem": error.text(units)}
    finding = next(iter(sheet.findings), None)
    title = finding.title.text(units) if finding else ""
    return {
        **row,
        "design": sheet.design,
        "heat": number_text(sheet.appraisal.year.solar_heat / KWH, 0) if sheet.appraisal.year else "",
        "finding": finding,
        "step": dict(STEPS)[finding.stage] if finding else "",
        "sizes": sizes(sheet.design, units),
        "loop": loop_words(sheet.design),
        "whom": whom(sheet.design),
        "next": title[:1].upper() + title[1:],
        "tape": small_tape(stands_at(sheet.findings), tuple(name for _, name in STEPS), f"tape-{job.pk}").svg(),
        "drawing": small_loop(sheet, 48, 64, f"job-{job.pk}").svg(),
    }


def ledger(person: User, ask: Ask, units: System) -> dict[str, Any]:
    """The context of the ledger."""
    page = Paginator(found_jobs(person, ask), A_PAGE).get_page(ask.page)
    mine = Job.objects.visible(person)
    states = counted_states(person, ask)
    return {
        "ask": ask,
        "states": [
            (replace(ask, page=1, state=key).query(), name, count, ask.state == key) for key, name, count in states
        ],
        "all_states": replace(ask, page=1, state="").query(),
        "orders": [(replace(ask, page=1, order=key).query(), name, ask.order == key) for key, name in ORDERS.items()],
        "everywhere": replace(ask, page=1, box=None).query(),
        "all_asked": replace(ask, page=1, box=None).query(),
        "page_before": replace(ask, page=page.number - 1).query(),
        "page_after": replace(ask, page=page.number + 1).query(),
        "rows": [row for row in (_row(job, units) for job in page) if row],
        "ledger_page": page,
        "open_count": mine.filter(archived=False).count(),
        "archived_count": mine.filter(archived=True).count(),
    }
