"""A pack's ways to storage from where it is now."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.charging.cell_readings import check_reading, typed_cells
from coldstack.core.keeping.storage import reading_of_state
from coldstack.server.bench.actions import kept_layout
from coldstack.server.bench.assemble import on_bench
from coldstack.server.bench.views import ways_to_storage
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.assemble import known_of
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
    known, rules = known_of(tag, now), rules_or_house(None)
    if cells.strip():
        reading, reckoned = check_reading(known.pack.chemistry, known.pack.series, typed_cells(cells)), "by its cells as read"  # fmt: skip
    else:
        found = reading_of_state(known.pack, known.state, rules=rules)
        if found is None:
            return r.ToStorageOut(reckoned="", state=known.state, ways=[], run_down="", target_cell_v=None)
        reading, reckoned = found, f"by its being {known.state}, {found.mean_v:.2f} V a cell"
    ways = ways_to_storage(on_bench(kept_layout()), known.pack, reading, model)
    return r.ToStorageOut(reckoned=reckoned, state=known.state, ways=ways.ways, run_down=ways.run_down, target_cell_v=ways.target_cell_v)  # fmt: skip
