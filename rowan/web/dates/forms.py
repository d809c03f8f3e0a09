"""A visit as a form: day, times, who comes."""

from __future__ import annotations

from datetime import datetime, timedelta
from typing import Any

from django import forms

from rowan.core.records.visits import KINDS, USUAL_H, VisitKind
from rowan.web.accounts.models import Firm, User
from rowan.web.accounts.roles import Role
from rowan.web.dates.models import Visit
from rowan.web.dates.services import Wish
from rowan.web.plans.models import Job

MOST_HOURS = 24 * 120


class VisitForm(forms.Form):
    """What, at which job, when, how long, who."""

    kind = forms.ChoiceField(label="What", choices=list(KINDS.items()))
    job = forms.ModelChoiceField(label="Job", queryset=Job.objects.none(), required=False, empty_label="none")
    day = forms.DateField(label="Day", widget=forms.DateInput(attrs={"type": "date"}, format="%Y-%m-%d"))
    start = forms.TimeField(label="From", widget=forms.TimeInput(attrs={"type": "time"}, format="%H:%M"))
    hours = forms.FloatField(label="Hours", min_value=0.25, max_value=MOST_HOURS)
    people = forms.ModelMultipleChoiceField(
        label="Who comes", queryset=User.objects.none(), required=False, widget=forms.CheckboxSelectMultiple
    )
    words = forms.CharField(label="What to bring, what was agreed", max_length=200, required=False)

    def __init__(self, firm: Firm, *args: Any, **more: Any) -> None:
        super().__init__(*args, **more)
        people = firm.people.filter(is_active=True).exclude(role=Role.VIEWER).order_by("name")
        self.fields["job"].queryset = firm.jobs.filter(archived=False)  # type: ignore[attr-defined]
        self.fields["people"].queryset = people  # type: ignore[attr-defined]

    def wish(self) -> Wish:
        """The visit of a valid form."""
        data = self.cleaned_data
        start = datetime.combine(data["day"], data["start"])
        return Wish(
            data["kind"],
            start,
            start + timedelta(hours=data["hours"]),
            list(data["people"]),
            data["job"],
            data["words"],
        )


def initial_of(visit: Visit) -> dict[str, Any]:
    """What its form shows of a visit."""
    return {
        "kind": visit.kind, "job": visit.job_id, "day": visit.start.date(), "start": visit.start.time(),
        "hours": round((visit.end - visit.start).total_seconds() / 3600, 2), "people": list(visit.people.all()), "words": visit.words,
    }  # fmt: skip


def usual_hours(kind: str) -> float:
    """How long a kind of visit takes, to begin with."""
    found: VisitKind | None = next((key for key in KINDS if key == kind), None)
    return USUAL_H[found] if found else 2.0
