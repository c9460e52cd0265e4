"""Backup: the whole database as one file, consistent while the program is in use; and back from it into an
empty place."""

from __future__ import annotations

import os
import sqlite3
import tempfile
from pathlib import Path
from urllib.parse import quote

from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.db.models import Model

from coldstack.core.errors import DomainError
from coldstack.server.charges.models import Layout
from coldstack.server.gear.kinds import KINDS
from coldstack.server.worlds.upgrades import newer_in

DOORS = {"django_session", "pairing_invitation", "pairing_phone"}


def backup_bytes() -> bytes:
    """A copy by SQLite's own backup: one moment of the database, whatever is being written."""
    connection.ensure_connection()
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "copy.sqlite3"
        copy = sqlite3.connect(path)
        try:
            connection.connection.backup(copy)
            _leave_out_doors(copy)
            # one file, without a log beside it
            copy.execute("PRAGMA journal_mode=DELETE")
        finally:
            copy.close()
        return path.read_bytes()


def _leave_out_doors(copy: sqlite3.Connection) -> None:
    """Who may come in stays with this machine: a copy that is put elsewhere, or lost, opens no door."""
    there = {name for (name,) in copy.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    for table in DOORS & there:
        copy.execute(f"DELETE FROM {table}")  # noqa: S608  # one of our own names
    copy.commit()
    copy.execute("VACUUM")


def restore(source: Path, database: Path | None = None) -> None:
    """Put a backup into an empty place.

    Raises
    ------
    DomainError
        If there is a database already, or the file is no whole backup of this program.
    """
    target = database or Path(str(settings.DATABASES["default"]["NAME"]))
    if target.exists() and target.stat().st_size > 0:
        raise DomainError(
            "file", f"There is a database at {target} already. Move it away first; nothing was changed."
        )
    _check(source)
    target.parent.mkdir(parents=True, exist_ok=True)
    beside = target.with_suffix(".restoring")
    with beside.open("wb") as out:
        out.write(source.read_bytes())
        out.flush()
        os.fsync(out.fileno())
    _move_aside(target)
    beside.replace(target)
    _check(target)


def files_of(database: Path) -> list[Path]:
    """The three files of one database: itself, its write-ahead log and the log's index. They go
    together or not at all."""
    return [database.with_name(database.name + tail) for tail in ("", "-wal", "-shm")]


def _move_aside(database: Path) -> None:
    """What a database that was here left behind, under names that SQLite does not look at: a restored
    one must not replay its log."""
    there = [f for f in files_of(database) if f.exists()]
    if not there:
        return
    k = next(k for k in range(1, 10_000) if not any(_aside(f, k).exists() for f in files_of(database)))
    for file in there:
        file.replace(_aside(file, k))


def _aside(file: Path, k: int) -> Path:
    return file.with_name(f"{file.name}.aside-{k}")


def is_empty() -> bool:
    """Whether nothing was kept yet: no gear, removed pieces included, and no bench."""
    kept: list[type[Model]] = [*(k.model for k in KINDS.values()), Layout]
    return not any(model._default_manager.exists() for model in kept)


def restore_here(content: bytes) -> None:
    """Put a backup into the database that is in use, which must be empty; it is brought up to date then.

    Raises
    ------
    DomainError
        If something was kept already, or the file is no whole backup of this program or of an older one.
    """
    if not is_empty():
        raise DomainError(
            "file", "Something was kept here already. A backup goes into an empty program only."
        )
    with tempfile.TemporaryDirectory() as folder:
        source = Path(folder) / "backup.sqlite3"
        source.write_bytes(content)
        _check(source)
        link = sqlite3.connect(source)
        try:
            _require_known(link)
            connection.ensure_connection()
            link.backup(connection.connection)
        finally:
            link.close()
    call_command("migrate", verbosity=0, interactive=False)


def made_by_newer() -> bool:
    """Whether a newer program than this one has written into the database in use."""
    connection.ensure_connection()
    there = connection.introspection.table_names()
    return "django_migrations" in there and newer_in(connection.connection)


def _require_known(link: sqlite3.Connection) -> None:
    """Refuse what a newer program wrote: its tables mean something that this one does not know."""
    if newer_in(link):
        raise DomainError(
            "file", "This backup was made by a newer Cold Stack. Use that, or a newer one, to read it."
        )


def _check(source: Path) -> None:
    try:
        link = sqlite3.connect(f"file:{quote(str(source))}?mode=ro", uri=True)
        try:
            whole = link.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            # a table of that name alone is no backup: what brought it up to date is told in another
            ours = (
                link.execute("SELECT count(*) FROM gear_ownedpack").fetchone()
                and link.execute("SELECT count(*) FROM django_migrations WHERE app = 'gear'").fetchone()[0]
            )
        finally:
            link.close()
    except sqlite3.Error:
        whole, ours = False, 0
    if not (whole and ours):
        raise DomainError("file", f"{source.name} is no whole backup of Cold Stack.")
