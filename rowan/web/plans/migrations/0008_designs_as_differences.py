"""Every revision's design packed over an earlier one of its plan; none is dropped, none loses a letter."""

from django.db import migrations, models

from rowan.web.plans.packing import packed, smaller, text_of, unpacked

AT_ONCE = 200  # revisions in memory


def pack(apps, schema_editor):
    revisions = apps.get_model("jobs", "Revision").objects.using(schema_editor.connection.alias)
    plan = base = text = None
    for revision in revisions.order_by("plan", "number").iterator(chunk_size=AT_ONCE):
        if revision.plan_id != plan:
            plan, base = revision.plan_id, None
        whole = text_of(revision.design)
        revision.packed = smaller(whole, text) if base is not None else None
        if revision.packed is None:
            revision.packed, base, text = packed(whole), revision, whole
        else:
            revision.base_id = base.pk
        revision.save(update_fields=["packed", "base"])


def unpack(apps, schema_editor):
    import json

    revisions = apps.get_model("jobs", "Revision").objects.using(schema_editor.connection.alias)
    for revision in revisions.select_related("base").order_by("plan", "number").iterator(chunk_size=AT_ONCE):
        under = unpacked(bytes(revision.base.packed)) if revision.base_id else None
        revision.design = json.loads(unpacked(bytes(revision.packed), under))
        revision.save(update_fields=["design"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0007_sent_once")]

    operations = [
        migrations.AddField("revision", "packed", models.BinaryField(null=True)),
        migrations.AddField(
            "revision",
            "base",
            models.ForeignKey("jobs.revision", models.PROTECT, null=True, related_name="+"),
        ),
        migrations.AlterField("revision", "design", models.JSONField(null=True)),
        migrations.RunPython(pack, unpack),
        migrations.RemoveField("revision", "design"),
        migrations.AlterField("revision", "packed", models.BinaryField()),
    ]
