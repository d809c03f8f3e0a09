"""What was ticked is in the runs now."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("site", "0001_initial"), ("commissioning", "0002_ticks")]
    operations = [migrations.DeleteModel(name="Tick")]
