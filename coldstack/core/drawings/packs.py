"""A pack of one's own, or one to build, as a part of a wiring."""

from __future__ import annotations

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.drawings.wiring import Side, WiredBench, pack_laid
from coldstack.core.packs.pack import Pack


def pack_on_bench(
    pack: Pack,
    part: str,
    *,
    cell_v: float,
    side: Side,
    column: int = 0,
    row: int = 0,
    name: str = "",
    end: PlugEnd | None = None,
    awg: float | None = None,
    balance: bool = False,
) -> WiredBench:
    """The pack with all cells at the same volts. ``end`` and ``awg`` are its own unless the model's stand in;
    ``balance``: with its balance wires."""
    cell = chemistry(pack.chemistry)
    strings = f"{pack.parallel}P" if pack.parallel > 1 else ""
    return pack_laid(
        part,
        name or pack.called,
        f"{pack.series}S{strings} {cell.name}, {1000 * pack.capacity_ah:.0f} mAh",
        cell_v=[cell_v] * pack.series,
        end=end or pack.plug_end,
        awg=pack.lead_awg if awg is None else awg,
        lead_mm=pack.lead_length_mm,
        balance=pack.balance_family if balance else None,
        column=column,
        row=row,
        side=side,
        assumed="plug" in pack.assumed,
        strings=pack.parallel,
    )
