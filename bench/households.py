"""How often the range of the minutes holds the truth over random households, and how wide it is: labels that
flatter, packs of any age, meters that err, cells that differ, air that is not as told.

``python -m bench.households [HOUSEHOLDS]``. The truth is drawn by itself: what a label promises, what age
took, what a meter adds, each from its own distribution; and every cell of the pack is run on its own.
"""

from __future__ import annotations

import sys
from dataclasses import replace

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.cells.resistance import slow_mohm, slow_time_constant_s, typical_cell_mohm
from coldstack.core.discharge.batch import CellColumns
from coldstack.core.discharge.simulate import simulate
from coldstack.core.draw.scaling import PhaseLoad
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.measured import METER_SPREAD
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import loads, pack_columns, surroundings
from coldstack.core.trial.spread import minutes_range
from tests.core.trial.jobs import job

HOUSEHOLDS = 1000
KNOWN = ("label", "reading", "reading and charges")
"""What a household knows of its pack: the label alone; what a meter read; and what its charges put in."""


def household(rng: np.random.Generator, known: str) -> tuple[float, float, float] | None:
    """Low and high end of the range over the truth's minutes, and its width over the middle; None for a pack
    that does not run the model at all."""
    kind = "liion" if rng.random() < 0.2 else "lipo"
    series, ah = 4, float(rng.choice([2.2, 3.3, 4.0, 5.0]))
    label_c = None if kind == "liion" else float(rng.choice([20, 25, 30, 45, 60, 75]))
    age = float(rng.uniform(0, 1))  # new, to as old as people fly them
    best = 3.9 if label_c is None else max(6250 / (20 + 0.5 * max(label_c - 20, 0)) ** 2, 3.9)
    mohm_ah = (typical_cell_mohm(kind, 1.0) if kind == "liion" else best) * float(
        np.exp(rng.normal(0.05, 0.25))
    )
    true_mohm = mohm_ah / ah * (1 + 0.5 * age)
    true_ah = ah * float(rng.normal(0.99, 0.02)) * (1 - 0.12 * age)
    by = str(rng.choice(["charger", "checker", "hand"]))
    error = float(np.exp(np.log1p(METER_SPREAD[by]) / 2 * rng.standard_normal()))
    read = (true_mohm / CHEMISTRIES[kind].eases + float(rng.uniform(0, 0.3))) * error
    today = StateOfHealth(
        cell_mohm=None if known == "label" else read,
        resistance_spread=METER_SPREAD[by],
        capacity_ah=min(true_ah * float(np.exp(rng.normal(0, 0.015))), ah) if "charges" in known else None,
    )
    mass = 90.0 * ah if kind == "lipo" else 75.0 * ah
    pack = Pack("owned:1", "x", kind, series, ah, mass, label_c=label_c, owned=True, today=today)
    spread = float(rng.choice([0.05, 0.1, 0.15]))
    told = job(draw={"spread": spread}, wants={"chemistries": ("lipo", "liion")})
    c = from_packs([pack], "cautious")
    columns = pack_columns(told, c)
    run = simulate(columns, loads(told, c), surroundings(told))
    if run.ending[0] != 0:
        return None
    found = minutes_range(told, c, run.duration_s / 60, np.zeros(1, bool))
    one = np.ones(1)
    usual = slow_mohm(c.chemistry_index, one * ah) * min(1.0, best / typical_cell_mohm(kind, 1.0))
    if kind == "liion":
        usual = slow_mohm(c.chemistry_index, one * ah)
    truth = replace(
        columns,
        cells=CellColumns(
            np.ones((1, series)),
            true_ah * (1 + 0.008 * rng.standard_normal((1, series))),
            true_mohm * np.exp(0.04 * rng.standard_normal((1, series))),
            np.full((1, series), columns.start_soc[0]),
        ),
        slow_mohm=usual * np.exp(0.17 * rng.standard_normal()),
        slow_s=slow_time_constant_s(kind) * np.exp(0.2 * rng.standard_normal(1)),
        ocv_shift_v=0.005 * rng.standard_normal(1),
        warmer_k=2.0 * rng.standard_normal(1),
    )
    drawn = float(np.exp(np.log1p(spread) / 2 * rng.standard_normal()))
    phases = [PhaseLoad(p.duration_s, p.law, p.value * drawn) for p in loads(told, c)]
    minutes = float(simulate(truth, phases, surroundings(told)).duration_s[0]) / 60
    low, high = float(found.low[0]), float(found.high[0])
    return low / minutes, high / minutes, (high - low) / float(found.minutes[0])


def household_lines(count: int = HOUSEHOLDS) -> list[str]:
    """The measurements as lines of text."""
    rng, out = np.random.default_rng(29), []
    for known in KNOWN:
        found = [x for _ in range(count // len(KNOWN)) if (x := household(rng, known)) is not None]
        held = sum(low <= 1 <= high for low, high, _ in found) / len(found)
        below = sum(low > 1 for low, _, _ in found) / len(found)
        width = float(np.median([w for *_, w in found]))
        out.append(
            f"{len(found)} households that know {known}: the range holds {held:.1%} of the truths "
            f"({below:.1%} ran shorter), median width {width:.1%}"
        )
    return out


if __name__ == "__main__":
    print("\n".join(household_lines(int(sys.argv[1]) if len(sys.argv) > 1 else HOUSEHOLDS)))
