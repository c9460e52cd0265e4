"""Rows to the core's values: the stock that sizing chooses from, and the bench that matching looks at."""

from __future__ import annotations

from dataclasses import fields
from functools import lru_cache
from typing import Any

from django.db.models import Count, Max

from coldstack.core.chain.adapters import Adapter, BalanceAdapter
from coldstack.core.chain.own_plugs import own_plugs
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.charging.charger import Charger as ChargerValue
from coldstack.core.charging.charger import Supply as SupplyValue
from coldstack.core.matching.charge import Bench
from coldstack.core.packs.keys import catalogue_key, catalogue_row, tag_of
from coldstack.core.packs.masses import Weighed, weighed
from coldstack.core.packs.pack import CellType as CellTypeValue
from coldstack.core.packs.pack import LogFindings, Pack
from coldstack.core.packs.typical import as_weighed, stand_ins, typical_cells
from coldstack.core.sizing.plan import Stock
from coldstack.server.gear.models import CataloguePack, CellType, Charger, OwnedPack, Piece, Supply
from coldstack.server.gear.schemas import OF_ONE
from coldstack.server.rules.assemble import house


def _names(value: type[Any], *without: str) -> tuple[str, ...]:
    return tuple(f.name for f in fields(value) if f.name not in without)


PACK_FIGURES = _names(Pack, *OF_ONE)
OWNED_FIGURES = (*PACK_FIGURES, "fit", "unknown_past", "note", "learnt")
_CELL, _CHARGER, _SUPPLY = (_names(x, "id") for x in (CellTypeValue, ChargerValue, SupplyValue))
Row = dict[str, Any]


def bought_stock() -> Stock:
    """Packs and cells that can be bought, offers too, and where the house wants it typical ones; the same
    object until one of them changed."""
    return _stock_at(_stamps())


def _stamps() -> tuple[Any, ...]:
    tables = (CataloguePack.live.all(), CellType.live.all())
    counts = tuple(
        tuple(t.aggregate(n=Count("pk"), latest=Max("updated"), ids=Max("pk")).values()) for t in tables
    )
    return (*counts, house().typical_packs, tuple(own_plugs()), _weighed())


def _weighed() -> tuple[Weighed, ...]:
    """What the packs of the box say that somebody put on a scale."""
    fields = ("chemistry", "series", "capacity_ah", "mass_g", "label_c", "assumed")
    rows = OwnedPack.live.values(*fields)
    known = (
        weighed(r["chemistry"], r["series"], r["capacity_ah"], r["mass_g"], r["label_c"])
        for r in rows
        if "mass_g" not in (r["assumed"] or ()) and r["mass_g"]
    )
    return tuple(w for w in known if w is not None)


@lru_cache(maxsize=2)
def _stock_at(stamps: tuple[Any, ...]) -> Stock:
    bought = [
        pack_of(row, catalogue_key(row["id"]))
        for row in CataloguePack.live.values("id", "offer", *PACK_FIGURES)
    ]
    cells = [CellTypeValue(id=str(row.pop("id")), **row) for row in CellType.live.values("id", *_CELL)]
    if house().typical_packs:
        bought += stand_ins(bought, stamps[-1])
        cells = cells or list(typical_cells())
    return Stock(packs=tuple(bought), cells=tuple(cells))


def bought_pack(pack_id: str) -> Pack | None:
    """A catalogue ("pack:31") or typical pack; None for any other id."""
    bought = catalogue_row(pack_id)
    if bought is None:
        return as_weighed(_weighed()).get(pack_id)
    row = CataloguePack.live.filter(pk=bought).values("id", "offer", *PACK_FIGURES).first()
    return pack_of(row, pack_id) if row else None


def pack_of(row: Row, pack_id: str) -> Pack:
    """A stored row, or an API's input, as a pack."""
    more = {k: row[k] for k in ("fit", "unknown_past", "note") if k in row}
    figures = {k: row[k] for k in PACK_FIGURES if k != "assumed"}
    learnt = row.get("learnt")
    return Pack(
        id=pack_id,
        owned=tag_of(pack_id) is not None,
        offered=row.get("offer", False),
        assumed=frozenset(row["assumed"] or ()),
        learnt=LogFindings(**learnt) if learnt else None,
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
        sockets=row["sockets"],
        count=row["count"],
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
