"""Discharge of thousands of packs at once: circuit, heat, and a named ending for each.

One resistance and one slow RC pair per cell position, heat with one temperature per pack. All packs step together as
NumPy vectors (`lanes`, `stepping`, `running`). Errors against very short steps are in docs/model.md.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from coldstack.core.discharge.batch import Discharge, Floats, PackColumns, Surroundings
from coldstack.core.discharge.outcome import Outcome
from coldstack.core.discharge.running import Run
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.errors import DomainError
from coldstack.core.units import SECONDS_PER_HOUR

CHUNK_PACKS = 2048
"""Packs stepped together: their columns then stay in the processor's second-level cache."""
LONGEST_RUN_S = 6 * SECONDS_PER_HOUR
STRETCHES_PER_RUN = 25.0
BLOCK_S = 40.0
"""Longest stretch of steady load over which temperature and resistance are held."""


@dataclass(slots=True)
class Trace:
    """Samples of every step, for a few packs: times (T,) and columns of shape (T, N). NaN after a pack's end."""

    time_s: list[float] = field(default_factory=list)
    voltage_v: list[Floats] = field(default_factory=list)
    current_a: list[Floats] = field(default_factory=list)
    soc: list[Floats] = field(default_factory=list)
    temperature_c: list[Floats] = field(default_factory=list)


def simulate(
    packs: PackColumns,
    loads: list[PhaseLoad],
    surroundings: Surroundings,
    *,
    longest_step_s: float | None = None,
    longest_run_s: float = LONGEST_RUN_S,
    stretches_per_run: float = STRETCHES_PER_RUN,
    trace: Trace | None = None,
) -> Discharge:
    """Run every pack from its start to its landing point, or to what ends it before.

    Parameters
    ----------
    packs : PackColumns
        N packs.
    loads : list of PhaseLoad
        The duty, one value per pack and phase; repeated until the last pack has ended.
    longest_step_s : float, optional
        Step limit; chosen from the duty and the shortest runs if not given. [s]
    longest_run_s : float
        Packs that run longer end so, named `RAN_TOO_LONG`. [s]
    stretches_per_run : float
        Once the slow part has settled, a cycle counts for as many as fit into this fraction of the time run so far.
    trace : Trace, optional
        Receives every step; only for batches of at most CHUNK_PACKS.

    Raises
    ------
    DomainError
        No phases, a phase without length, or columns out of range.
    """
    packs.check()
    if not loads or not all(p.duration_s > 0 for p in loads):
        raise DomainError("draw", "A duty needs at least one phase, each longer than zero.")
    n = len(packs)
    usual_s = step_length_s(packs, loads)
    step_s = longest_step_s or usual_s
    out = Outcome.empty(n)
    for start in range(0, n, CHUNK_PACKS):
        rows = np.arange(start, min(start + CHUNK_PACKS, n))
        blocks = [b for p in loads for b in _blocks(p, rows, min(3 * step_s, 2 * usual_s))]
        run = Run(packs.take(rows), blocks, surroundings, rows, out)
        run.run(step_s, longest_run_s, stretches_per_run, trace)
    return out.discharge(packs)


def _blocks(load: PhaseLoad, rows: np.ndarray, longest_s: float) -> list[PhaseLoad]:
    """A phase cut into equal blocks, each short enough to hold the temperature."""
    count = max(1, int(np.ceil(load.duration_s / max(BLOCK_S, longest_s) - 1e-9)))
    block = PhaseLoad(load.duration_s / count, load.law, load.value[rows])
    return [block] * count


def step_length_s(packs: PackColumns, loads: list[PhaseLoad], *, shortest_s: float = 8.0) -> float:
    """Steps of ``shortest_s`` for quick runs, up to 40 s for packs that run for hours, where nothing changes fast. [s]"""
    cycle_s = sum(p.duration_s for p in loads)
    nominal = 3.7 * packs.series
    volts: dict[str, Floats | float] = {
        "amps": 1.0,
        "power": 1 / nominal,
        "throttle1": nominal,
        "throttle2": nominal**2,
    }
    amps = sum(p.value * volts[p.law] * (p.duration_s / cycle_s) for p in loads)
    runs_s = packs.capacity_ah * SECONDS_PER_HOUR / np.maximum(amps, 1e-9)
    return float(np.clip(np.quantile(runs_s, 0.25) / 60, shortest_s, 40.0)) if len(packs) else shortest_s
