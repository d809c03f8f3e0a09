"""All that is kept of a customer, as one file to give away: words as JSON, files as they are. Made for who asks what is known of them."""

from __future__ import annotations

import io
import json
import zipfile
from typing import Any

from rowan.web.commissioning.models import Photo, Run
from rowan.web.customers.models import Customer

FIELDS = ("name", "address", "telephone", "mail", "notes")
SITE_FIELDS = ("address", "town", "latitude", "longitude", "access", "contact", "contact_telephone")


def everything_of(customer: Customer) -> bytes:
    """A zip: customer.json, each job's files, each run's photographs."""
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        jobs = []
        for card in customer.cards.select_related("job", "site"):
            job = card.job
            for file in job.files.all():
                archive.writestr(f"job-{job.pk}/files/{file.pk}-{file.name}", bytes(file.content))
            for photo in Photo.objects.filter(run__plan__job=job):
                archive.writestr(f"job-{job.pk}/photos/{photo.sha256}.jpg", bytes(photo.content))
            jobs.append(
                {
                    "job": job.title,
                    "state": card.get_state_display(),
                    "stood": [{"state": row.state, "on": f"{row.on}"} for row in job.stood.all()],
                    "site": {name: getattr(card.site, name) for name in SITE_FIELDS} if card.site else None,
                    "notes": [{"at": f"{one.at:%Y-%m-%d %H:%M}", "text": one.text} for one in job.notes.all()],
                    "runs": [_run(run) for run in Run.objects.filter(plan__job=job)],
                }
            )
        words = {
            **{name: getattr(customer, name) for name in FIELDS},
            "since": f"{customer.created:%Y-%m-%d}",
            "jobs": jobs,
        }
        archive.writestr("customer.json", json.dumps(words, ensure_ascii=False, indent=2))
    return made.getvalue()


def _run(run: Run) -> dict[str, Any]:
    return {"kind": run.get_kind_display(), "started": f"{run.started:%Y-%m-%d}", "closed": f"{run.closed_at or ''}"}
