"""Rows to the core's values: the stock that sizing chooses from."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

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
    """Fit owned packs, catalogue packs and cell types. Built anew only when a row has changed: three small queries otherwise."""
    stamps = tuple(
        tuple(rows.aggregate(n=Count("pk"), latest=Max("updated")).values())
        for rows in (OwnedPack.objects.filter(fit=True), CataloguePack.objects.all(), CellType.objects.all())
    )
    return _stock_at(stamps)


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
