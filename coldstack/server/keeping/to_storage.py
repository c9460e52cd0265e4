"""A pack's ways to storage from where it is now."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.keeping.storage import cells_expected
from coldstack.core.readings.cells import PackReading, typed_reading
from coldstack.server.bench.actions import kept_layout
from coldstack.server.bench.assemble import on_bench
from coldstack.server.bench.views import ways_to_storage
from coldstack.server.keeping import replies as r
from coldstack.server.life.now import standing_of
from coldstack.server.rules.assemble import rules_or_house


def to_storage_out(tag: str, cells: str, model: str, now: datetime) -> r.ToStorageOut:
    """By its cells as typed, else by the state it was left in.

    Raises
    ------
    DomainError
        For cells that cannot be understood.
    OwnedPack.DoesNotExist
        For an unknown tag.
    """
    s, rules = standing_of(tag, now=now), rules_or_house(None)
    may = s.now.may["store"]
    if cells.strip():
        reading: PackReading | None = typed_reading(s.pack.chemistry, s.pack.series, cells, rules)
        reckoned = "by its cells as read"
    else:
        reading = cells_expected(s.now)
        known = f"by its being {s.now.charge}, {reading.mean_v:.2f} V a cell" if reading else ""
        reckoned = "by its cells as read" if s.now.reading else known
    if reading is None or s.now.bars:
        return r.ToStorageOut(
            reckoned="", state=s.now.state, why=may.why, ways=[], run_down="", target_cell_v=None
        )
    ways = ways_to_storage(on_bench(kept_layout()), s.pack, reading, model)
    return r.ToStorageOut(
        reckoned=reckoned,
        state=s.now.state,
        why="",
        ways=ways.ways,
        run_down=ways.run_down,
        target_cell_v=ways.target_cell_v,
    )
