"""The place of each plan's newest state, beside the plan: jobs are searched by it without opening a design."""

import json

from django.db import migrations, models

from rowan.web.plans.packing import unpacked


def fill(apps, schema_editor):
    revisions = apps.get_model("jobs", "Revision").objects.using(schema_editor.connection.alias)
    for plan in apps.get_model("jobs", "Plan").objects.using(schema_editor.connection.alias).iterator():
        newest = revisions.filter(plan=plan).select_related("base").order_by("-number").first()
        if newest is None:
            continue
        under = unpacked(bytes(newest.base.packed)) if newest.base_id else None
        design = json.loads(unpacked(bytes(newest.packed), under))
        plan.place = str(design["survey"]["place"]["value"])[:120]
        plan.save(update_fields=["place"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0008_designs_as_differences")]

    operations = [
        migrations.AddField("plan", "place", models.CharField(blank=True, default="", max_length=120), preserve_default=False),
        migrations.RunPython(fill, migrations.RunPython.noop),
    ]
