"""The ledger of jobs: found by words, a page at a time, each with its drawing, heat, place on the tape and next thing."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.core.paginator import Paginator
from django.db.models import Q

from rowan.core.design.design import Design
from rowan.core.design.own_store import contents_of
from rowan.core.terms.errors import RowanError
from rowan.core.terms.finding import Finding
from rowan.core.terms.language import tr
from rowan.core.terms.units import KWH, LITRE, System, number_text, shown_number, unit_label
from rowan.web.accounts.models import User
from rowan.web.benches.bench import STEPS
from rowan.web.benches.loop import small_loop, small_tape
from rowan.web.benches.sheet import sheet_of
from rowan.web.plans.models import Job, JobQuerySet
from rowan.web.steps.registry import BENCHES

A_PAGE = 20
MOST_LETTERS = 80


@dataclass(frozen=True)
class Ask:
    """What somebody looks for in the ledger."""

    words: str = ""
    archived: bool = False
    page: int = 1

    @classmethod
    def of(cls, query: dict[str, str]) -> Ask:
        """From a query string's values; odd ones are left out."""
        page = query.get("page", "1")
        return cls(
            query.get("q", "").replace("\x00", "").strip()[:MOST_LETTERS],
            query.get("show") == "archived",
            int(page) if page.isdecimal() and len(page) < 7 else 1,
        )


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
    return jobs.distinct().select_related("card__customer", "card__site").prefetch_related("plans")


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
    return {
        "ask": ask,
        "rows": [row for row in (_row(job, units) for job in page) if row],
        "ledger_page": page,
        "open_count": mine.filter(archived=False).count(),
        "archived_count": mine.filter(archived=True).count(),
    }
