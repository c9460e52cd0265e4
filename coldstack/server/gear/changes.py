"""Whether anything in the database has changed since somebody last looked, which SQLite tells cheaply."""

from __future__ import annotations

import sqlite3
from datetime import UTC, datetime, timedelta
from secrets import token_hex
from threading import Lock
from typing import Any

from django.db import connection, models
from django.utils import timezone

Mark = tuple[sqlite3.Connection, int, int]
"""The connection, what others have changed, what it has changed itself. The connection and not its id: one
that was closed gives its id to the next."""


def mark_now() -> Mark:
    """The mark of this thread's connection. Two that are equal have no change between them; never counted
    as a query."""
    connection.ensure_connection()
    return mark_of(connection.connection)


def mark_of(link: sqlite3.Connection) -> Mark:
    """The mark of a connection."""
    return link, link.execute("PRAGMA data_version").fetchone()[0], link.total_changes


_watching: dict[str, tuple[str, sqlite3.Connection]] = {}
"""By the database's path: what tells this looking from another process's, and the connection."""
_looking = Lock()


def world_mark() -> str:
    """A mark of everything that is stored, the same for all who ask: another one after any write, by whom it
    may be. One connection a database does nothing but look; it tells what others have written."""
    path = str(connection.settings_dict["NAME"])
    with _looking:
        if path not in _watching:
            _watching[path] = token_hex(4), sqlite3.connect(path, check_same_thread=False)
        began, link = _watching[path]
        return f"{began}-{link.execute('PRAGMA data_version').fetchone()[0]}"


_LEAST = timedelta(microseconds=1)
_lock, _latest = Lock(), [datetime.min.replace(tzinfo=UTC)]


def stamp() -> datetime:
    """The time of a change: now, but always later than the stamp before, also where the clock was set back:
    what is kept goes by the latest stamp of a table."""
    with _lock:
        _latest[0] = max(timezone.now(), _latest[0] + _LEAST)
        return _latest[0]


class StampField(models.DateTimeField):  # type: ignore[type-arg]
    """When a row was last written; to the database a time like any other."""

    def pre_save(self, model_instance: models.Model, add: bool) -> Any:
        """A stamp at each writing."""
        setattr(model_instance, self.attname, value := stamp())
        return value

    def deconstruct(self) -> Any:
        """No field of its own in a migration."""
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.DateTimeField", args, kwargs
