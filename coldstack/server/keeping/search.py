"""Notes and packs by their words."""

from __future__ import annotations

import re
from functools import reduce
from operator import and_

from django.db import connection
from django.db.models import Q

from coldstack.server.gear.models import OwnedPack
from coldstack.server.keeping import replies as r
from coldstack.server.life.models import Event

MOST = 30
MOST_WORDS = 8


def search_out(asked: str) -> r.SearchOut:
    """What holds all of these words, or their beginnings: packs by tag, what was said newest first. Three
    queries."""
    words = re.findall(r"\w+", asked)[:MOST_WORDS]
    if not words:
        return r.SearchOut(packs=[], said=[])
    events, packs = _found(words)
    lines = Event.standing.filter(pk__in=events).select_related("pack").order_by("-at", "-id")
    return r.SearchOut(
        packs=[
            r.FoundPack(tag=p.tag, name=p.name, note=p.note)
            for p in OwnedPack.live.filter(pk__in=packs).order_by("tag")
        ],
        said=[
            r.FoundWords(id=e.pk, tag=e.pack.tag, at=e.at, kind=e.kind, text=e.text)
            for e in lines
            if e.pack.removed is None
        ],
    )


def _found(words: list[str]) -> tuple[list[int], list[int]]:
    """Keys of events and of packs."""
    if "life_search" not in connection.introspection.table_names():
        return _one_by_one(words)
    query = " ".join(f'"{w}"*' for w in words)
    sql = (
        "SELECT rowid FROM life_search WHERE life_search MATCH %s AND rowid %% 2 = %s "
        "ORDER BY rowid DESC LIMIT %s"
    )
    with connection.cursor() as cursor:
        rows = [cursor.execute(sql, [query, odd, MOST]).fetchall() for odd in (0, 1)]
    events, packs = ([int(row[0]) // 2 for row in part] for part in rows)
    return events, packs


def _one_by_one(words: list[str]) -> tuple[list[int], list[int]]:
    """The same where SQLite has no full-text search."""
    said = reduce(and_, (Q(text__icontains=w) for w in words))
    called = reduce(and_, (Q(tag__icontains=w) | Q(name__icontains=w) | Q(note__icontains=w) for w in words))
    events = Event.standing.filter(said).order_by("-id").values_list("pk", flat=True)[:MOST]
    return list(events), list(OwnedPack.live.filter(called).values_list("pk", flat=True)[:MOST])
