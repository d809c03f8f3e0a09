"""What a plan's pack holds: facts gathered from runs, settings and photographs, papers with what they lack, the words of each."""

from __future__ import annotations

from functools import cached_property
from typing import Any

from rowan.core.records.handover import (
    HandoverFacts,
    Paper,
    discharge,
    hidden_legs,
    holiday,
    how_it_works,
    modes,
    normal_and_not,
    not_to_touch,
    papers,
    safety_devices,
)
from rowan.core.records.house_look import Month, gauge_months
from rowan.core.steps.commission.valves import TAGS
from rowan.core.terms.caution import caution
from rowan.core.terms.dates import day_said
from rowan.core.terms.errors import RowanError
from rowan.core.terms.language import tr
from rowan.core.terms.record import record
from rowan.core.terms.units import KWH, System
from rowan.web.benches.bench import Sheet
from rowan.web.benches.sheet import sheet_of
from rowan.web.care.settings_left import LeftRow, left_rows
from rowan.web.commissioning.models import Entry, Photo, Run
from rowan.web.customers.models import JobCard
from rowan.web.customers.services import card_of
from rowan.web.handover.models import Handover
from rowan.web.house.models import DiaryEntry
from rowan.web.papers.settings_card import Setting, pressure_settings
from rowan.web.plans.models import Plan

# fields of a run by which settings are entered and read again
ENTERED = {"set_start", "set_stop", "set_limit"}
# steps of a survey or a roof run whose pictures show where the pipes are
ROUTE_STEPS = ("route", "pipes", "trench", "bench")


@record
class Pack:
    """A plan with what is handed over of it."""

    plan: Plan
    units: System

    @cached_property
    def sheet(self) -> Sheet:
        """The plan as built."""
        return sheet_of(self.plan, self.units)

    @cached_property
    def card(self) -> JobCard:
        """Whose it is."""
        return card_of(self.plan.job)

    @cached_property
    def handover(self) -> Handover:
        """When, and which papers; one that nobody has written yet where there is none."""
        return Handover.objects.filter(plan=self.plan).first() or Handover(plan=self.plan)

    @cached_property
    def left(self) -> list[LeftRow]:
        """The controller's settings with what was left."""
        return left_rows(self.plan, self.sheet)

    @cached_property
    def runs(self) -> list[Run]:
        """Closed runs of the plan, the oldest first."""
        return list(
            self.plan.runs.exclude(closed_at=None).select_related("revision", "started_by").order_by("closed_at")
        )

    @cached_property
    def readings(self) -> dict[str, Entry]:
        """The last reading of each field over all runs of the plan."""
        rows = Entry.objects.filter(run__plan=self.plan, kind="read").select_related("person").order_by("at", "number")
        return {entry.field: entry for entry in rows}

    @cached_property
    def facts(self) -> HandoverFacts:
        """What is known."""
        drill = self.plan.job.diary.filter(kind=DiaryEntry.Kind.DRILL, data__plan=self.plan.letter).first()
        again = drill.data["same"] if drill else len(ENTERED & self.readings.keys())
        shot = Photo.objects.filter(run__plan=self.plan).values_list("sha256", flat=True)
        hidden = hidden_legs(self.sheet.design)
        pictured = bool(shot) and Entry.objects.filter(
            run__plan=self.plan, kind="photo", step__in=ROUTE_STEPS, text__in=list(shot)
        ).exists()  # fmt: skip
        return HandoverFacts(
            settings_left=sum(bool(row.left) for row in self.left),
            settings_read_again=again,
            settings=len(self.left),
            first_closed=any(run.kind == "first" for run in self.runs),
            frost_point_read="frost_c" in self.readings,
            hidden_legs=tuple(leg.name or leg.id for leg in hidden),
            without_offset=tuple(leg.name or leg.id for leg in hidden if leg.id not in self.handover.offsets),
            hidden_photos=pictured,
            customer=self.card.customer_id is not None,
            telephone=bool(self.plan.job.firm.telephone),
        )

    @cached_property
    def papers(self) -> tuple[Paper, ...]:
        """The papers in their order."""
        return papers(self.sheet.design, self.facts)

    @property
    def chosen(self) -> list[Paper]:
        """Those that go into the pack."""
        return [paper for paper in self.papers if paper.key not in self.handover.left_out]

    @cached_property
    def months(self) -> tuple[Month, ...]:
        """What the gauge should show."""
        return gauge_months(self.sheet.design, self.sheet.result)

    @cached_property
    def heat(self) -> list[float]:
        """Heat of each month [kWh], as on every page; none where the year cannot be run."""
        try:
            return [float(value) / KWH for value in self.sheet.year().months("coil")]
        except RowanError:
            return []

    def words(self) -> dict[str, Any]:
        """What the papers say."""
        design, result = self.sheet.design, self.sheet.result
        normal, faults = normal_and_not(design)
        graph = result.commission.graph
        hidden = {leg.id for leg in hidden_legs(design)}
        return {
            "how": how_it_works(design, result),
            "normal": normal,
            "faults": faults,
            "not_to_touch": not_to_touch(design),
            "holiday": holiday(design),
            "devices": [(device, self._proof(device.proof)) for device in safety_devices(design, result)],
            "discharge": discharge(design, result),
            "modes": modes(graph),
            "valves": [(name, TAGS[name], graph.name(name)) for name in graph.valves],
            "legs": [(leg, leg.id in hidden, self.handover.offsets.get(leg.id, "")) for leg in result.run.route.legs()],
            "has_hidden": bool(hidden),
            "pressures": pressure_settings(self.sheet),
            "controls": [
                Setting(row.name, row.plan, row.reason.text(self.units), row.left, row.differs) for row in self.left
            ],
            "deference": caution("deference"),
        }

    def _proof(self, step: str) -> str:
        """By which run a device was proved: its step passed, in words; empty where none was."""
        rows = Entry.objects.filter(run__in=self.runs, step=step, kind="done").select_related("run", "person")
        found = rows.order_by("-at").first()
        if found is None:
            return ""
        return f"{tr(found.run.get_kind_display())}, {day_said(found.at, year=True, short=True).text()}, {found.person}"
