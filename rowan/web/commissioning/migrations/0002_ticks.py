"""Work on the roof that was ticked before there were runs becomes runs: nothing of it is lost, who and when stay."""

import uuid

from django.db import migrations


def to_runs(apps, schema_editor):
    base = schema_editor.connection.alias
    tick_model, run_model = apps.get_model("site", "Tick"), apps.get_model("commissioning", "Run")
    entry_model, revision_model = apps.get_model("commissioning", "Entry"), apps.get_model("jobs", "Revision")
    for plan_id in tick_model.objects.using(base).order_by("plan_id").values_list("plan_id", flat=True).distinct():
        ticks = list(tick_model.objects.using(base).filter(plan_id=plan_id).order_by("at", "pk"))
        for kind, delivered in (("delivery", True), ("roof", False)):
            own = [tick for tick in ticks if tick.key.startswith("delivered-") == delivered]
            if not own:
                continue
            revision = revision_model.objects.using(base).filter(plan_id=plan_id, number__lte=own[0].revision).order_by("-number").first()
            run = run_model.objects.using(base).create(
                plan_id=plan_id, revision=revision, kind=kind, started_by_id=own[0].person_id, started=own[0].at, sent=str(uuid.uuid4())
            )
            number = 0
            for tick in own:
                key = tick.key.removeprefix("delivered-")
                field = f"came_{key}" if delivered else f"done_{key}"
                kinds = ["tick", "done"] if tick.done and not delivered else ["tick"]
                for entry_kind in kinds:
                    number += 1
                    entry_model.objects.using(base).create(
                        run=run, number=number, kind=entry_kind, step="" if delivered else key, field=field if entry_kind == "tick" else "",
                        value=(1.0 if tick.done else 0.0) if entry_kind == "tick" else None, person_id=tick.person_id, at=tick.at,
                        sent=str(uuid.uuid4()),
                    )


class Migration(migrations.Migration):
    dependencies = [("commissioning", "0001_initial"), ("site", "0001_initial")]
    operations = [migrations.RunPython(to_runs, migrations.RunPython.noop)]
