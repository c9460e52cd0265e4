"""What was kept here is in the packs' lives since ``life.0002``."""

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [
        ("logbook", "0005_retirement"),
        ("life", "0002_lives_of_before"),
    ]

    operations = [migrations.DeleteModel(name=n) for n in ("PackRecord", "RunLog", "PackNote", "Retirement")]
