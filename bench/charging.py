"""Time of a charging plan: all owned packs, read as spent, on all chargers."""

from __future__ import annotations

import time

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.server.bench.plan_out import plan_out
from coldstack.server.bench.schemas import BenchIn, BenchPackIn
from coldstack.server.gear.models import Charger
from coldstack.server.keeping.actions import inspect
from coldstack.server.keeping.replies import VisualCheckIn
from coldstack.server.life.packs import owned_packs


def charging_lines() -> list[str]:
    """The plan's seconds, its finish, and what the solver made of the greedy plan."""
    packs = [p for p in owned_packs() if p.fit][:24]
    laid = [
        BenchPackIn(
            pack=p.id,
            cells=" ".join(
                f"{resting_voltage(p.chemistry, 0.2 + 0.01 * (i % 7)):.3f}" for _ in range(p.series)
            ),
        )
        for i, p in enumerate(packs)
    ]
    for p in packs:
        inspect(p.id.removeprefix("owned:"), VisualCheckIn(at_room=True))
    data = BenchIn(laid=laid)
    plan_out(data)
    start = time.perf_counter()
    plan = plan_out(data)
    seconds = time.perf_counter() - start
    return [
        (
            f"charging plan, {len(packs)} packs on {Charger.live.count()} chargers: {seconds:.1f} s, "
            f"{len(plan.batches)} batches"
        )
    ]
