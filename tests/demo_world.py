"""The demo world for tests: loaded once in a process, then written again row by row, or its whole database
put back by a copy, which is quicker still."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import timedelta
from typing import Any

from django.db import connection, transaction

from coldstack.demo.load import load_if_empty
from tests.clock import CLOCK

BEFORE = timedelta(minutes=10)
"""The bench was laid out so long before the hour of the tests."""
_rows: dict[str, list[tuple[Any, ...]]] = {}
_copies: dict[str, sqlite3.Connection] = {}
"""Whole databases in memory: of the empty program, of the demo's world."""


def database_path() -> str:
    """The file of this process's database."""
    return str(connection.settings_dict["NAME"])


def put_back(world: str) -> None:
    """The whole database as it is in a world, "empty" or "demo": for tests whose server writes in threads.
    The first one finds it empty."""
    if "empty" not in _copies:
        _keep("empty")
    if world not in _copies:
        put_back("empty")
        demo_world()
        _keep(world)
        return
    with closing(sqlite3.connect(database_path(), timeout=60)) as here:
        _copies[world].backup(here)


def _keep(world: str) -> None:
    _copies[world] = sqlite3.connect(":memory:", check_same_thread=False)
    with closing(sqlite3.connect(database_path(), timeout=60)) as here:
        here.backup(_copies[world])


def demo_world() -> None:
    """Fill an empty database with the demo world, as it is at the hour of the tests."""
    with transaction.atomic():
        if _rows:
            _write()
        else:
            with CLOCK.earlier(BEFORE):
                load_if_empty()
            _read()


def _read() -> None:
    # what is looked up by words follows from the rest, by triggers
    derived = ("django_", "life_search")
    own = [t for t in connection.introspection.table_names() if not t.startswith(derived)]
    with connection.cursor() as cursor:
        for table in own:
            cursor.execute(f"SELECT * FROM {connection.ops.quote_name(table)}")
            _rows[table] = cursor.fetchall()


def _write() -> None:
    with connection.cursor() as cursor:
        for table, rows in _rows.items():
            if rows:
                places = ", ".join(["%s"] * len(rows[0]))
                cursor.executemany(f"INSERT INTO {connection.ops.quote_name(table)} VALUES ({places})", rows)
