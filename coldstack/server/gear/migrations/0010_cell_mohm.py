"""A cell's resistance is called `cell_mohm` everywhere: columns, what a log taught, what was before a change."""

from django.db import migrations

from coldstack.server.gear.older import with_cell_mohm


def carry(apps, schema_editor):
    for name in ("OwnedPack", "CataloguePack"):
        for row in apps.get_model("gear", name).objects.iterator():
            fields = [f for f in ("learnt", "assumed") if hasattr(row, f)]
            whole = with_cell_mohm({f: getattr(row, f) for f in fields})
            changed = [f for f in fields if whole[f] != getattr(row, f)]
            for field in changed:
                setattr(row, field, whole[field])
            if changed:
                row.save(update_fields=changed)
    for change in apps.get_model("gear", "Change").objects.iterator():
        entries = with_cell_mohm(change.entries)
        if entries != change.entries:
            change.entries = entries
            change.save(update_fields=["entries"])


class Migration(migrations.Migration):
    dependencies = [("gear", "0009_hands")]

    operations = [
        migrations.RenameField("cataloguepack", "cell_resistance_mohm", "cell_mohm"),
        migrations.RenameField("ownedpack", "cell_resistance_mohm", "cell_mohm"),
        migrations.RunPython(carry, migrations.RunPython.noop),
    ]
