"""Rows to the core's values: the stock that sizing chooses from, and the bench that matching looks at."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import lru_cache
from threading import local
from typing import Any

from django.db import connection
from django.db.models import Count, Max

from coldstack.core.chain.adapters import Adapter, BalanceAdapter
from coldstack.core.chain.own_plugs import own_plugs
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.charger import Charger as ChargerValue
from coldstack.core.charging.charger import Supply as SupplyValue
from coldstack.core.matching.charge import Bench
from coldstack.core.packs.pack import CellType as CellTypeValue
from coldstack.core.packs.pack import Pack
from coldstack.core.packs.typical import stand_ins, typical_cells, typical_packs
from coldstack.core.sizing.plan import Stock
from coldstack.server.gear.models import CataloguePack, CellType, Charger, OwnedPack, Piece, Supply
from coldstack.server.rules.assemble import house

PACK_FIGURES = (
    "name",
    "chemistry",
    "series",
    "parallel",
    "capacity_ah",
    "mass_g",
    "length_mm",
    "width_mm",
    "height_mm",
    "label_c",
    "label_burst_c",
    "charge_c",
    "cell_resistance_mohm",
    "plug",
    "lead_awg",
    "lead_length_mm",
    "price",
    "plug_half",
    "balance_plug",
    "assumed",
)
_CELL = ("name", "chemistry", "capacity_ah", "mass_g", "diameter_mm", "length_mm", "continuous_a", "burst_a", "resistance_mohm", "price")  # fmt: skip
_CHARGER = (
    "name",
    "chemistries",
    "series_min",
    "series_max",
    "nimh_cells_max",
    "ports",
    "port_a",
    "port_w",
    "step_a",
    "mains_w",
    "dc_w",
    "dc_min_v",
    "dc_max_v",
    "balance_families",
    "balance_a",
    "output_plug",
    "discharge_w",
    "storage_cap_a",
    "assumed",
)
_SUPPLY = ("name", "kind", "voltage_v", "power_w", "energy_wh")
Row = dict[str, Any]
Condemned = Mapping[str, str]
condemners: list[Callable[[], Condemned]] = []
"""Who knows of packs that are to be retired, by tag with the sign in words: the logbook, which hangs
itself in here."""


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
    tables = (OwnedPack.live.filter(fit=True), CataloguePack.live.all(), CellType.live.all())
    counts = tuple(
        tuple(t.aggregate(n=Count("pk"), latest=Max("updated"), ids=Max("pk")).values()) for t in tables
    )
    return (*counts, tuple(sorted(condemned())), house().typical_packs, tuple(own_plugs()))


@lru_cache(maxsize=2)
def _stock_at(stamps: tuple[Any, ...]) -> Stock:
    bought = [
        pack_of(row, f"pack:{row['id']}") for row in CataloguePack.live.values("id", "offer", *PACK_FIGURES)
    ]
    cells = [CellTypeValue(id=str(row.pop("id")), **row) for row in CellType.live.values("id", *_CELL)]
    if house().typical_packs:
        bought += stand_ins(bought)
        cells = cells or list(typical_cells())
    return Stock(packs=(*owned_packs(fit_only=True), *bought), cells=tuple(cells))


def condemned() -> Condemned:
    """Packs that are to be retired by what is known of them, by tag, with the sign in words."""
    return {tag: sign for source in condemners for tag, sign in source().items()}


def owned_packs(*, fit_only: bool = False) -> list[Pack]:
    """Every pack in the box, in the order of their tags; one that is to be retired is not fit."""
    rows = OwnedPack.live.filter(fit=True) if fit_only else OwnedPack.live.all()
    bad = condemned()
    packs = [_owned(row, bad) for row in rows.values("tag", "fit", "note", *PACK_FIGURES)]
    return [p for p in packs if p.fit or not fit_only]


def _owned(row: Row, bad: Condemned) -> Pack:
    pack = pack_of(row, f"owned:{row['tag']}")
    sign = bad.get(row["tag"])
    return replace(pack, fit=False, note=f"to be retired: {sign}") if sign and pack.fit else pack


def pack_by_id(pack_id: str) -> Pack | None:
    """An owned ("owned:07") or catalogue ("pack:31") pack; None for any other id."""
    kind, _, key = pack_id.partition(":")
    if kind == "owned":
        row = OwnedPack.live.filter(tag=key).values("tag", "fit", "note", *PACK_FIGURES).first()
        return _owned(row, condemned()) if row else None
    bought = catalogue_id(pack_id)
    if bought is not None:
        row = CataloguePack.live.filter(pk=bought).values("id", "offer", *PACK_FIGURES).first()
    else:
        return next((p for p in typical_packs() if p.id == pack_id), None)
    return pack_of(row, pack_id) if row else None


def catalogue_id(candidate_id: str) -> int | None:
    """The catalogue's row behind a candidate; None for what is not in it."""
    kind, _, key = candidate_id.partition(":")
    return int(key) if kind == "pack" and key.isdigit() and len(key) < 12 else None


def pack_of(row: Row, pack_id: str) -> Pack:
    """A stored row, or an API's input, as a pack."""
    more = {k: row[k] for k in ("fit", "note") if k in row}
    figures = {k: row[k] for k in PACK_FIGURES if k != "assumed"}
    return Pack(
        id=pack_id,
        owned=pack_id.startswith("owned:"),
        offered=row.get("offer", False),
        assumed=frozenset(row["assumed"] or ()),
        **figures,
        **more,
    )


def cell_of(row: Row, cell_id: str = "") -> CellTypeValue:
    """A stored row, or an API's input, as a cell type."""
    return CellTypeValue(id=cell_id, **{k: row[k] for k in _CELL})


def charger_of(row: Row, charger_id: str = "") -> ChargerValue:
    """A stored row, or an API's input, as a charger."""
    lists = {k: tuple(row[k]) for k in ("chemistries", "balance_families")}
    assumed = frozenset(row["assumed"] or ())
    return ChargerValue(id=charger_id, **{**{k: row[k] for k in _CHARGER}, **lists, "assumed": assumed})


def supply_of(row: Row, supply_id: str = "") -> SupplyValue:
    """A stored row, or an API's input, as a supply."""
    return SupplyValue(id=supply_id, **{k: row[k] for k in _SUPPLY})


def adapter_of(row: Row, piece_id: str = "") -> Adapter:
    """A stored row, or an API's input, as a piece with two main plugs."""
    return Adapter(
        id=piece_id,
        name=row["name"],
        ends=(PlugEnd(row["pack_plug"], row["pack_half"]), PlugEnd(row["device_plug"], row["device_half"])),
        awg=row["awg"],
        length_mm=row["length_mm"],
        continuous_a=row["continuous_a"],
        kind=row["kind"],
        balance_from=tuple(row["balance_from"]),
        balance_out=row["balance_out"],
        balance_cells=row["balance_cells"],
        assumed=frozenset(row["assumed"] or ()),
    )


def balance_adapters_of(row: Row, piece_id: str = "") -> list[BalanceAdapter]:
    """A balance adapter takes one family or several."""
    return [
        BalanceAdapter(piece_id, row["name"], family, row["balance_out"], row["balance_cells"])
        for family in row["balance_from"]
    ]


def chargers() -> list[ChargerValue]:
    """Every charger, by name; one query."""
    return [charger_of(row, str(row["id"])) for row in Charger.live.values("id", *_CHARGER)]


def supplies() -> list[SupplyValue]:
    """Every supply, by name; one query."""
    return [supply_of(row, str(row["id"])) for row in Supply.live.values("id", *_SUPPLY)]


def bench() -> Bench:
    """Everything that goes between plugs; one query."""
    rows: list[Row] = list(Piece.live.values())  # type: ignore[arg-type]
    main = [adapter_of(r, str(r["id"])) for r in rows if r["kind"] != "balance"]
    balance = tuple(b for r in rows if r["kind"] == "balance" for b in balance_adapters_of(r, str(r["id"])))
    boards = tuple(a for a in main if a.kind == "board")
    return Bench(tuple(a for a in main if a.kind != "board"), boards, balance)
