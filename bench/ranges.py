"""How often the range of the minutes holds the truth, and how wide it is, over models and packs of the
demo world.

The truth is drawn by itself, not with the program's draws: each figure that nobody knows from its own
distribution, and where cells differ every cell of the pack on its own, all of them simulated.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.resistance import slow_time_constant_s
from coldstack.core.discharge.batch import CellColumns, PackColumns
from coldstack.core.discharge.simulate import simulate
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.sizing.plan import Fineness, Stock, gather
from coldstack.core.trial.evaluate import evaluate, loads, pack_columns, surroundings
from coldstack.core.trial.spread import minutes_range

TRUTHS = 200
PACKS_A_MODEL = 10


@dataclass(frozen=True)
class Population:
    """How the truth scatters: ± as so many standard deviations, or evenly within; single cells' capacity and
    R (one sd)."""

    name: str
    sigmas: float = 2.0
    even: bool = False
    cell_ah: float = 0.0
    cell_ohm: float = 0.0


POPULATIONS = (
    Population("± as two standard deviations, cells alike"),
    Population("± as two standard deviations, cells ± 2 % (two sd)", cell_ah=0.01, cell_ohm=0.04),
    Population("± as two standard deviations, cells ± 2 % (one sd)", cell_ah=0.02, cell_ohm=0.08),
    Population(
        "± as the ends of an even spread, cells ± 2 % (two sd)", even=True, cell_ah=0.01, cell_ohm=0.04
    ),
    Population("± as nine in ten, cells ± 2 % (two sd)", sigmas=1.645, cell_ah=0.01, cell_ohm=0.04),
)


def truths(job, candidate, how: Population, rng) -> np.ndarray:
    """Minutes of TRUTHS packs that the program would take for this one."""
    known, n = pack_columns(job, candidate), TRUTHS

    def scatter():
        return rng.uniform(-1, 1, n) if how.even else rng.normal(0, 1 / how.sigmas, n)

    def factor(spread):
        return np.exp(np.log1p(spread) * scatter())

    series, rows = int(known.series[0]), np.zeros(n, int)
    lost = rng.uniform(0, float(candidate.ageing[0]), n) if candidate.ageing[0] > 0 else np.zeros(n)
    ah = known.capacity_ah[0] * (1 + candidate.capacity_spread[0] * scatter()) * (1 - lost)
    ohm = known.cell_mohm[0] * factor(candidate.resistance_spread[0])
    cells = CellColumns(
        np.ones((n, series)),
        ah[:, None] * (1 + how.cell_ah * rng.normal(0, 1, (n, series))),
        ohm[:, None] * np.exp(how.cell_ohm * rng.normal(0, 1, (n, series))),
        np.full((n, series), known.start_soc[0]),
    )
    usual_s = slow_time_constant_s(CHEMISTRY_IDS[int(known.chemistry_index[0])])
    many: PackColumns = replace(
        known.take(rows),
        cells=cells,
        slow_mohm=known.take(rows).slow_mohm * factor(0.4),
        slow_s=usual_s * factor(0.5),
        ocv_shift_v=0.010 * scatter(),
        warmer_k=4.0 * scatter(),
    )
    draw = 1 + job.duty.spread * scatter()
    phases = [PhaseLoad(p.duration_s, p.law, np.repeat(p.value, n) * draw) for p in loads(job, candidate)]
    return simulate(many, phases, surroundings(job)).duration_s / 60


def pairs(jobs, stock: Stock):
    """Models and packs that run at least half the wanted minutes, some of each model."""
    for job in jobs:
        c = gather(job, stock, Fineness(4, 2))
        e = evaluate(job, c)
        rows = np.flatnonzero(
            (e.minutes > 0.5 * (job.wants.minutes or 10)) & (e.discharge.ending == 0) & e.real
        )
        step = max(1, len(rows) // PACKS_A_MODEL)
        for row in rows[::step][:PACKS_A_MODEL]:
            yield job, c.take([int(row)]), float(e.minutes[row])


def range_lines(jobs, stock: Stock) -> list[str]:
    """The measurements as lines of text."""
    rng = np.random.default_rng(7)
    found = [(j, c, minutes_range(j, c, np.array([m]), np.zeros(1, bool))) for j, c, m in pairs(jobs, stock)]
    widths = [float((r.high[0] - r.low[0]) / r.minutes[0]) for _, _, r in found]
    width = f"{100 * np.median(widths):.1f} %"
    lines = [f"ranges of {len(found)} pairs of model and pack: median width {width} of the minutes"]
    for how in POPULATIONS:
        held = [
            float(np.mean((t >= r.low[0]) & (t <= r.high[0])))
            for j, c, r in found
            for t in (truths(j, c, how, rng),)
        ]
        each = f"{100 * np.quantile(held, 0.1):.0f} to {100 * np.quantile(held, 0.9):.0f} % of a pair’s"
        lines.append(f"  {how.name}: holds {100 * np.mean(held):.1f} % of the truths ({each})")
    return lines
