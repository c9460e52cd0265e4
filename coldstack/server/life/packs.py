"""The packs of the box for those who choose among packs, as they are now: what is condemned, quarantined or
retired is not fit for anybody."""

from __future__ import annotations

from threading import local

from coldstack.core.packs.keys import tag_of
from coldstack.core.packs.pack import Pack
from coldstack.core.sizing.plan import Stock
from coldstack.server.gear.assemble import bench, bought_pack, bought_stock
from coldstack.server.gear.changes import mark_now
from coldstack.server.life.now import standings

_last = local()


def owned_packs(*, fit_only: bool = False) -> list[Pack]:
    """Every pack in the box, in the order of their tags."""
    packs = [s.pack for s in standings()]
    return [p for p in packs if p.fit] if fit_only else packs


def pack_by_id(pack_id: str) -> Pack | None:
    """An owned ("owned:07") or catalogue ("pack:31") pack; None for any other id."""
    tag = tag_of(pack_id)
    if tag is not None:
        return next((s.pack for s in standings(tags=[tag])), None)
    return bought_pack(pack_id)


def stock() -> Stock:
    """Packs of one's own that are fit, packs and cells to buy, adapters that are owned, kept until something
    in the database has changed."""
    seen = mark_now()
    if getattr(_last, "seen", None) != seen:
        owned, pieces = tuple(owned_packs(fit_only=True)), bench().pieces
        had = getattr(_last, "owned", None), getattr(_last, "pieces", None)
        if had != (owned, pieces) or getattr(_last, "bought", None) is not bought_stock():
            _last.owned, _last.pieces, _last.bought = owned, pieces, bought_stock()
            packs = (*owned, *_last.bought.packs)
            _last.stock = Stock(packs=packs, cells=_last.bought.cells, pieces=pieces)
        _last.seen = seen
    found: Stock = _last.stock
    return found
