"""Events for files: read as they lie in the database, without an object for each, some hundred at a time."""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence
from datetime import UTC, datetime
from typing import Any

from django.db import connection
from django.db.models import QuerySet

from coldstack.server.life.models import Event

PART = 500
_LISTS = {"cell_v", "end_cell_v", "cell_mohm", "signs", "steps"}
_YES = {"at_room", "sure"}


def raw_rows(rows: QuerySet[Event], names: Sequence[str]) -> Iterator[list[Any]]:
    """These columns of each row: lists, numbers, words, yes and no, and moments as text with a Z."""
    read = [_READ.get(name) for name in (n.rsplit("__", 1)[-1] for n in names)]
    sql, params = rows.values_list(*names).query.sql_with_params()
    with connection.cursor() as cursor:
        cursor.execute(sql, params)
        while part := cursor.fetchmany(PART):
            for row in part:
                yield [v if f is None or v is None else f(v) for f, v in zip(read, row, strict=True)]


def zulu(at: datetime | str) -> str:
    """A moment as files have it."""
    if isinstance(at, str):
        at = datetime.fromisoformat(at)
    at = at.replace(tzinfo=UTC) if at.tzinfo is None else at.astimezone(UTC)
    return at.isoformat().replace("+00:00", "Z")


_READ: dict[str, Any] = dict.fromkeys(_LISTS, json.loads) | dict.fromkeys(_YES, bool) | {"at": zulu}
