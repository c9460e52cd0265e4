"""Charges know their packs and not only tags; what was seen and read on the bench is in the packs' lives."""

import json
from datetime import UTC, datetime

from django.db import migrations, models
from django.utils import timezone

from coldstack.server.gear.changes import stamp


def carry(apps, schema_editor):
    owned = apps.get_model("gear", "OwnedPack").objects.all()
    # of two that bore a tag, the one in the box
    by_tag = {p.tag: p.pk for p in sorted(owned, key=lambda p: (p.removed is None, p.pk))}
    for charge in apps.get_model("bench", "Charge").objects.all():
        pks = [by_tag[t] for x in charge.packs if (t := x.removeprefix("owned:")) in by_tag]
        charge.members.set(pks)
        if charge.state == "charging":
            for pk in pks:
                _say(
                    apps, pk, "charging", f"charging-{charge.pk}-{pk}-{charge.run}", charge.started,
                    by="charger", charge=charge.pk,
                )
    _laid(apps, schema_editor, by_tag)


def _laid(apps, schema_editor, by_tag):
    """Signs that were ticked on the bench: what was seen is not forgotten. Nothing ticked was no look. What
    is typed there is as old as the layout: it must not pass for read just now."""
    with schema_editor.connection.cursor() as cursor:
        cursor.execute("SELECT id, document, updated FROM bench_layout")
        rows = cursor.fetchall()
        for row, text, updated in rows:
            document = json.loads(text)
            at = datetime.fromisoformat(str(updated)).replace(tzinfo=UTC).isoformat()
            for line in document.get("laid", []):
                if line.get("cells") or line.get("temperature_c") is not None:
                    line["read_at"] = at
            words = json.dumps(document)
            cursor.execute("UPDATE bench_layout SET document = %s WHERE id = %s", [words, row])
    for _, text, _ in rows:
        for line in json.loads(text).get("laid", []):
            pk = by_tag.get(str(line.get("pack", "")).removeprefix("owned:"))
            if pk is not None and line.get("signs"):
                _say(apps, pk, "inspection", f"bench-signs-{pk}", timezone.now(), signs=line["signs"])


def _say(apps, pack_pk, kind, key, at, **told):
    apps.get_model("life", "Event").objects.create(
        key=key[:80], pack_id=pack_pk, kind=kind, at=at, said=at, changed=stamp(), **told
    )


class Migration(migrations.Migration):
    dependencies = [
        ("bench", "0001_initial"),
        ("life", "0002_lives_of_before"),
    ]

    operations = [
        migrations.AddField(
            model_name="charge",
            name="members",
            field=models.ManyToManyField(related_name="charges", to="gear.ownedpack"),
        ),
        migrations.RunPython(carry, migrations.RunPython.noop),
        migrations.RemoveField(model_name="charge", name="packs"),
        migrations.DeleteModel(name="Reading"),
    ]
