"""What may be said of a pack while nobody can ask, and what follows: as data, beside the field kit.

Whoever is without a line goes on noting what he sees, reads, runs and charges. The kit was made before that;
here stands by which of it a verdict changes, so that it is never more lenient than one that knows all of it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.charging.amps import HOTTEST_CHARGE_C
from coldstack.core.charging.inspection import SIGNS
from coldstack.core.keeping.records import LEAST_SHARE_PUT_IN
from coldstack.core.life.endures import endures
from coldstack.core.life.told import LOW_CELL, PackHistory
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import highest_possible_v
from coldstack.core.readings.tolerance import act_above_v, damaged_below_v, watch_above_v
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.running.limits import GoReason

FILL_STEP_V = 0.02
"""What a charge puts in is known from cells in such steps."""
MORE_THAN_ANY, LONGER_THAN_ANY = 1e9, 1e6
"""What no charge puts in, and no run takes. [mAh], [min]"""
COOLING = GoReason("barred", "no_go", "It was just run: let it cool.")


@dataclass(frozen=True, slots=True)
class SeenSign:
    """A sign of looks: no go while it stands. One that does not ``last`` is over with the next look, and one
    that is ``read`` with the next reading of each cell."""

    id: str
    lasts: bool
    read: bool
    reason: GoReason


@dataclass(frozen=True, slots=True)
class Fill:
    """From this lowest cell on a charge to full puts in so much at least, if the pack holds what the kit
    reckons with. [V], [mAh]"""

    from_v: float
    mah: float


@dataclass(frozen=True, slots=True)
class SaidSince:
    """By what a verdict changes that was made before.

    After a run it must cool for ``cool_min``, unless it was measured to be at most ``cool_c`` or felt to be
    cool. Before the kit it was run at ``ran_at``, measured at ``measured_c`` since then, felt cool if
    ``felt_cool``; ``read_v`` its lowest cell, where that still holds. A run shorter than ``run_min``, cells
    further apart than ``apart_v`` or below ``damaged_v``, and a charge that put in less than ``fills`` says,
    tell of its health what only a reckoning knows.
    [min], [°C], [s since 1970], [V]
    """

    signs: tuple[SeenSign, ...]
    cooling: GoReason
    cool_min: float
    cool_c: float
    ran_at: float | None
    measured_c: float | None
    felt_cool: bool
    read_v: float | None
    run_min: float
    apart_v: float
    damaged_v: float
    damaged: GoReason
    fills: tuple[Fill, ...]


def said_since(pack: Pack, life: PackHistory, model: str, now: float) -> SaidSince:
    """Of a pack as it runs in this model, by its life until ``now``. [s since 1970]"""
    takes = endures(life, model, now)
    signs = (
        SeenSign(s.id, s.outcome == "retire", s.id == LOW_CELL, GoReason(s.id, "no_go", s.sentence))
        for s in SIGNS.values()
        if s.outcome in ("retire", "mend")
    )
    low = f"A cell rested below {damaged_below_v(pack.chemistry):.2f} V: damaged. Quarantine it."
    return SaidSince(
        signs=tuple(signs),
        cooling=COOLING,
        cool_min=life.rules.cool_min,
        cool_c=HOTTEST_CHARGE_C,
        ran_at=life.ran_at,
        measured_c=life.temperature_c,
        felt_cool=life.at_room,
        read_v=min(life.cells.cell_v) if life.cells else None,
        run_min=min(takes.run_min, LONGER_THAN_ANY),
        apart_v=min(watch_above_v(life.rules), act_above_v(life.rules)),
        damaged_v=damaged_below_v(pack.chemistry),
        damaged=GoReason("damaged", "no_go", low),
        fills=tuple(_fills(pack, life, takes.capacity_ah)),
    )


def _fills(pack: Pack, life: PackHistory, least_ah: float) -> list[Fill]:
    """What a charge puts in, from each lowest cell, where that says something of what the pack holds."""
    if not math.isfinite(least_ah):
        return [Fill(0.0, MORE_THAN_ANY)]
    full = for_chemistry(life.rules, pack.chemistry).start_soc
    out = [Fill(0.0, math.ceil(1000 * least_ah * full))]
    for v, soc in _lowest_cells(pack.chemistry):
        share = full - soc
        mah = 0 if share < LEAST_SHARE_PUT_IN else math.ceil(1000 * least_ah * share)
        if mah < out[-1].mah:
            out.append(Fill(v, mah))
    return out


@cache
def _lowest_cells(chemistry_id: str) -> list[tuple[float, float]]:
    """What a lowest cell may read, and what it holds then. [V], 0 to 1"""
    steps = range(1, int(highest_possible_v(chemistry_id) / FILL_STEP_V) + 1)
    return [(v, soc_at_rest(chemistry_id, v)) for v in (round(k * FILL_STEP_V, 2) for k in steps)]
