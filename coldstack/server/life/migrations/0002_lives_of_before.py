"""Records, runs, notes, readings and steps of retiring of before become events; nothing is left out."""

from django.db import migrations
from django.utils import timezone

from coldstack.server.gear.changes import stamp
from coldstack.server.life.older import events_of

RECORD = (
    "at",
    "cycle",
    "temperature_c",
    "soc",
    "cell_mohm",
    "rest_cell_v",
    "capacity_ah",
    "balance_min",
    "run_minutes",
    "state",
    "source",
)


def carry(apps, schema_editor):
    event, now = apps.get_model("life", "Event"), timezone.now()
    for pack in apps.get_model("gear", "OwnedPack").objects.order_by("pk"):
        rows, taken = [], set()
        for told in [*_told(apps, pack), *_read(apps, pack), *_retired(apps, pack)]:
            key, again = told.pop("key")[:70], 2
            told["key"] = key
            while told["key"] in taken:  # two records of one moment are two
                told["key"], again = f"{key}#{again}", again + 1
            taken.add(told["key"])
            rows.append(event(pack_id=pack.pk, said=min(told["at"], now), changed=stamp(), **told))
        event.objects.bulk_create(rows, batch_size=500)


def _told(apps, pack):
    runs = apps.get_model("logbook", "RunLog").objects.filter(pack_id=pack.pk).values(
        "key", "at", "minutes", "put_back_mah", "landing_cell_v", "note", "removed", "model_slug"
    )
    return events_of(
        f"{pack.tag}|{pack.pk}" if pack.removed else pack.tag,
        list(apps.get_model("logbook", "PackRecord").objects.filter(pack_id=pack.pk).values(*RECORD)),
        [{**r, "model": r["model_slug"]} for r in runs],
        list(
            apps.get_model("logbook", "PackNote")
            .objects.filter(pack_id=pack.pk)
            .values("at", "text", "removed")
        ),
    )


def _read(apps, pack):
    logged = set(
        apps.get_model("logbook", "PackRecord")
        .objects.filter(pack_id=pack.pk, source="reading")
        .values_list("at", flat=True)
    )
    for r in apps.get_model("bench", "Reading").objects.filter(pack_id=pack.pk).exclude(at__in=logged):
        yield {
            "key": f"bench-reading-{r.pk}",
            "at": r.at,
            "kind": "reading",
            "by": "checker" if r.source == "checker" else "charger" if r.source == "charger" else "hand",
            "cell_v": r.cell_v,
            "temperature_c": r.temperature_c,
        }


def _retired(apps, pack):
    leaving = apps.get_model("logbook", "Retirement").objects.filter(pack_id=pack.pk).first()
    if leaving is not None and leaving.ticked:
        yield {
            "key": f"retirement-{leaving.pk}",
            "at": leaving.done or timezone.now(),
            "kind": "retirement",
            "steps": leaving.ticked,
        }


class Migration(migrations.Migration):
    dependencies = [
        ("life", "0001_initial"),
        ("gear", "0006_learnt"),
        ("logbook", "0005_retirement"),
        ("bench", "0001_initial"),
    ]

    operations = [migrations.RunPython(carry, migrations.RunPython.noop)]
