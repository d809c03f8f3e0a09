from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0006_typed")]

    operations = [
        migrations.AddField("revision", "sent", models.CharField(default=None, max_length=36, null=True)),
        migrations.AddConstraint(
            "revision", models.UniqueConstraint(fields=["plan", "sent"], name="revision_sent_once")
        ),
    ]
