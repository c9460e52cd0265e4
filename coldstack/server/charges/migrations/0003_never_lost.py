"""Charges have the key of the press that began them and hold their packs; alarms stay until they are
confirmed."""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import F


def carry(apps, schema_editor):
    charge, held = apps.get_model("bench", "Charge"), apps.get_model("bench", "OnCharger")
    for row in charge.objects.all():
        row.key = f"charge-{row.pk}"
        row.save(update_fields=["key"])
        if row.state == "charging":
            for pack in row.members.all():
                held.objects.get_or_create(pack=pack, defaults={"charge": row})
    # what was said before alarms waited for somebody is not said again
    alarms = apps.get_model("bench", "Alarm").objects.exclude(charge__state="charging")
    alarms.update(confirmed=F("at"), over=True)


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0002_members_and_lives"),
        ("gear", "0007_counts"),
    ]

    operations = [
        migrations.CreateModel(
            name="OnCharger",
            fields=[
                (
                    "id",
                    models.BigAutoField(
                        auto_created=True, primary_key=True, serialize=False, verbose_name="ID"
                    ),
                ),
                (
                    "charge",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="held", to="bench.charge"
                    ),
                ),
                (
                    "pack",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.PROTECT,
                        related_name="on_charger",
                        to="gear.ownedpack",
                    ),
                ),
            ],
        ),
        migrations.RemoveConstraint(model_name="charge", name="one_charge_a_port"),
        migrations.AddField(
            model_name="charge", name="key", field=models.CharField(max_length=64, default="")
        ),
        migrations.AddField(
            model_name="alarm", name="where", field=models.CharField(blank=True, default="", max_length=120)
        ),
        migrations.AddField(
            model_name="alarm", name="done", field=models.CharField(blank=True, default="", max_length=200)
        ),
        migrations.AddField(model_name="alarm", name="confirmed", field=models.DateTimeField(null=True)),
        migrations.AlterField(
            model_name="alarm",
            name="charge",
            field=models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="alarms",
                to="bench.charge",
            ),
        ),
        migrations.AlterField(
            model_name="charge", name="state", field=models.CharField(default="starting", max_length=10)
        ),
        migrations.RunPython(carry, migrations.RunPython.noop),
        migrations.AlterField(
            model_name="charge", name="key", field=models.CharField(max_length=64, unique=True)
        ),
        migrations.AddConstraint(
            model_name="charge",
            constraint=models.UniqueConstraint(
                condition=models.Q(("state__in", ("starting", "charging"))),
                fields=("charger_name", "port"),
                name="one_charge_a_port",
            ),
        ),
    ]
