"""Rows to the core's values: the stock that sizing chooses from."""

from __future__ import annotations

from functools import lru_cache
from threading import local
from typing import Any

from django.db import connection
from django.db.models import Count, Max

from coldstack.core.packs.pack import CellType as CellTypeValue
from coldstack.core.packs.pack import Pack
from coldstack.core.sizing.plan import Stock
from coldstack.server.gear.models import CataloguePack, CellType, OwnedPack

_FIGURES = (
    "chemistry", "series", "parallel", "capacity_ah", "mass_g", "length_mm", "width_mm", "height_mm", "label_c",
    "label_burst_c", "charge_c", "cell_resistance_mohm", "plug", "lead_awg", "lead_length_mm", "price",
)  # fmt: skip
_CELL = ("name", "chemistry", "capacity_ah", "mass_g", "diameter_mm", "length_mm", "continuous_a", "burst_a", "resistance_mohm", "price")  # fmt: skip


def stock() -> Stock:
    """Fit owned packs, catalogue packs and cell types, kept until something in the database has changed.

    SQLite tells cheaply whether anything changed: by others (its data version) or through this connection (its count of
    changes). Only then three small queries see whether it was the stock.
    """
    connection.ensure_connection()
    with connection.cursor() as cursor:
        version = cursor.execute("PRAGMA data_version").fetchone()[0]
    link = connection.connection
    seen = (id(link), version, link.total_changes)
    if getattr(_last, "seen", None) != seen:
        _last.seen, _last.stock = seen, _stock_at(_stamps())
    found: Stock = _last.stock
    return found


_last = local()


def _stamps() -> tuple[Any, ...]:
    tables = (OwnedPack.objects.filter(fit=True), CataloguePack.objects.all(), CellType.objects.all())
    return tuple(tuple(t.aggregate(n=Count("pk"), latest=Max("updated")).values()) for t in tables)


@lru_cache(maxsize=2)
def _stock_at(stamps: tuple[Any, ...]) -> Stock:
    owned = [
        Pack(id=f"owned:{row.pop('tag')}", owned=True, **row)
        for row in OwnedPack.objects.filter(fit=True).values("tag", "name", *_FIGURES)
    ]
    bought = [
        Pack(id=f"pack:{row.pop('id')}", **row)
        for row in CataloguePack.objects.values("id", "name", *_FIGURES)
    ]
    cells = [CellTypeValue(id=str(row.pop("id")), **row) for row in CellType.objects.values("id", *_CELL)]
    return Stock(packs=tuple(owned + bought), cells=tuple(cells))
