"""Notes and packs by their words: SQLite's own full-text search, kept up by triggers, whoever writes."""

from django.db import migrations

TABLE = """CREATE VIRTUAL TABLE life_search USING fts5(
    words, prefix = '2 3', tokenize = 'unicode61 remove_diacritics 2')"""
# even rows are events, odd ones packs
EVENT = (
    "INSERT INTO life_search(rowid, words) SELECT 2 * new.id, new.text "
    "WHERE new.text <> '' AND new.withdrawn IS NULL"
)
PACK = (
    "INSERT INTO life_search(rowid, words) "
    "SELECT 2 * new.id + 1, new.tag || ' ' || new.name || ' ' || new.note WHERE new.removed IS NULL"
)
TRIGGERS = [
    f"CREATE TRIGGER life_search_said AFTER INSERT ON life_event BEGIN {EVENT}; END",
    "CREATE TRIGGER life_search_changed AFTER UPDATE OF text, withdrawn ON life_event BEGIN "
    f"DELETE FROM life_search WHERE rowid = 2 * old.id; {EVENT}; END",
    "CREATE TRIGGER life_search_gone AFTER DELETE ON life_event BEGIN "
    "DELETE FROM life_search WHERE rowid = 2 * old.id; END",
    f"CREATE TRIGGER life_search_pack AFTER INSERT ON gear_ownedpack BEGIN {PACK}; END",
    "CREATE TRIGGER life_search_pack_changed AFTER UPDATE OF tag, name, note, removed ON gear_ownedpack BEGIN "
    f"DELETE FROM life_search WHERE rowid = 2 * old.id + 1; {PACK}; END",
    "CREATE TRIGGER life_search_pack_gone AFTER DELETE ON gear_ownedpack BEGIN "
    "DELETE FROM life_search WHERE rowid = 2 * old.id + 1; END",
]
FILL = [
    "INSERT INTO life_search(rowid, words) SELECT 2 * id, text FROM life_event "
    "WHERE text <> '' AND withdrawn IS NULL",
    "INSERT INTO life_search(rowid, words) SELECT 2 * id + 1, tag || ' ' || name || ' ' || note "
    "FROM gear_ownedpack WHERE removed IS NULL",
]


def make(apps, schema_editor):
    """Where this SQLite has no full-text search, words are looked for one by one instead."""
    with schema_editor.connection.cursor() as cursor:
        options = {row[0] for row in cursor.execute("PRAGMA compile_options").fetchall()}
        if "ENABLE_FTS5" not in options:
            return
        for statement in (TABLE, *TRIGGERS, *FILL):
            cursor.execute(statement)


class Migration(migrations.Migration):
    dependencies = [("life", "0005_kept_lives"), ("gear", "0013_unknown_past")]

    operations = [migrations.RunPython(make, migrations.RunPython.noop)]
