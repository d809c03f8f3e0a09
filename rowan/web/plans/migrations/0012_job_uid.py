import uuid

from django.db import migrations, models


def name_each(apps, schema_editor):
    """A name of its own for each job there is."""
    jobs = apps.get_model('jobs', 'Job').objects.using(schema_editor.connection.alias)
    for job in jobs.all().only('pk').iterator():
        jobs.filter(pk=job.pk).update(uid=uuid.uuid4())


class Migration(migrations.Migration):

    dependencies = [
        ('jobs', '0011_places'),
    ]

    operations = [
        migrations.AddField('job', 'uid', models.UUIDField(default=uuid.uuid4, editable=False, null=True)),
        migrations.RunPython(name_each, migrations.RunPython.noop),
        migrations.AlterField('job', 'uid', models.UUIDField(default=uuid.uuid4, editable=False, unique=True)),
    ]
