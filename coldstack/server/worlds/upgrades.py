"""Before an upgrade: a dated copy of the database, the last five of them; what a newer program has made."""

from __future__ import annotations

import os
import sqlite3
from contextlib import closing
from datetime import datetime
from pathlib import Path

from django.apps import apps
from django.conf import settings
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.db.migrations.loader import MigrationLoader
from django.db.models import Model

from coldstack.server.api.stored import VERSION, DocumentField

COPIES = 5
FOLDER = "before-upgrades"


def copy_before_upgrade(now: datetime) -> Path | None:
    """Copy the database aside if it is about to be brought up to date; None where it is not, or is empty.

    Everything is in it, paired phones too: it stays in the same folder, for the same person.
    """
    executor = MigrationExecutor(connection)
    due = executor.migration_plan(executor.loader.graph.leaf_nodes())
    if not due or not executor.loader.applied_migrations:
        return None
    folder = Path(settings.DATA_DIR) / FOLDER
    folder.mkdir(exist_ok=True)
    target = folder / f"{now:%Y-%m-%d-%H%M%S}.sqlite3"
    beside = target.with_suffix(".new")
    connection.ensure_connection()
    with closing(sqlite3.connect(beside)) as copy:
        connection.connection.backup(copy)
        copy.execute("PRAGMA journal_mode=DELETE")
    with beside.open("rb+") as whole:  # on the disk before anything is changed
        os.fsync(whole.fileno())
    beside.replace(target)
    for old in sorted(folder.glob("*.sqlite3"))[:-COPIES]:
        old.unlink()
    return target


def newer_in(link: sqlite3.Connection) -> bool:
    """Whether a newer program than this one has written here: migrations that this one has not, of any app,
    or a document of a later version than it knows."""
    known = {(m.app_label, m.name) for m in MigrationLoader(None).disk_migrations.values()}
    theirs = set(link.execute("SELECT app, name FROM django_migrations"))
    if theirs - known:
        return True
    tables = {name for (name,) in link.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    return any(
        _latest(link, model, field) > field.stored.version
        for model in apps.get_models()
        if model._meta.db_table in tables
        for field in model._meta.concrete_fields
        if isinstance(field, DocumentField) and field.stored
    )


def _latest(link: sqlite3.Connection, model: type[Model], field: DocumentField) -> int:
    """The highest version of a column's documents; 0 where a database of before has not got it."""
    table = model._meta.db_table
    if field.column not in {row[1] for row in link.execute(f"PRAGMA table_info({table})")}:
        return 0
    column, version = field.column, f"'$.{VERSION}'"
    # what is no document, or has no number for its version, says nothing
    whole = f"json_valid({column}) AND json_type({column}, {version}) = 'integer'"
    latest = f"max(CASE WHEN {whole} THEN json_extract({column}, {version}) END)"
    asked = f"SELECT {latest} FROM {table}"  # noqa: S608  # names of our own
    return int(link.execute(asked).fetchone()[0] or 0)
