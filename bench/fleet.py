"""A simulated fleet with known truth: how many bad packs the health signs find within five charges, and how
many good ones they accuse."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from coldstack.core.keeping.health import evidence_of
from coldstack.core.keeping.records import Record
from coldstack.core.packs.pack import Pack

PACKS, CHARGES, WITHIN = 500, 40, 5


@dataclass
class Outcome:
    """Counts of the fleet."""

    bad: int = 0
    found: int = 0
    good: int = 0
    accused: int = 0

    @property
    def found_share(self) -> float:
        """Bad packs found in time."""
        return self.found / self.bad

    @property
    def accused_share(self) -> float:
        """Good packs that were ever suspected."""
        return self.accused / self.good


def fleet(seed: int = 1, packs: int = PACKS) -> Outcome:
    """Half the packs stay good, a quarter get one bad cell, a quarter fade; every reading is noisy, the room
    between 5 and 28 °C."""
    rng, out = np.random.default_rng(seed), Outcome()
    for k in range(packs):
        kind = ("good", "cell", "good", "fading")[k % 4]
        pack, records, turned = _life(rng, kind)
        levels = [evidence_of(pack, records[: n + 1])[0] for n in range(CHARGES)]
        suspected = [bool(found) and found[0].level != "fine" for found in levels]
        if kind == "good":
            out.good += 1
            out.accused += any(suspected)
        else:
            out.bad += 1
            out.found += any(suspected[: turned + WITHIN])
    return out


def _life(rng: np.random.Generator, kind: str) -> tuple[Pack, list[Record], int]:
    """A pack, its records, and the charge at which it truly turned bad (its number from 0)."""
    series = int(rng.integers(3, 7))
    pack = Pack("x", "x", "lipo", series, 4.0, 100.0 * series)
    base = rng.uniform(2.0, 6.0) * (1 + 0.03 * rng.standard_normal(series))
    b = rng.normal(2600, 200)
    onset, cell = int(rng.integers(12, 28)), int(rng.integers(0, series))
    jump, sag = rng.uniform(1.7, 2.5), rng.uniform(0.04, 0.1)
    fade = rng.uniform(0.008, 0.02)
    records, turned = [], CHARGES
    for n in range(CHARGES):
        r, capacity = base * (1 + 0.002 * n), 1 - 0.0008 * n
        rest = 3.82 + 0.003 * rng.standard_normal(series)
        if kind == "cell" and n >= onset:
            r = r.copy()
            r[cell] *= jump
            rest[cell] -= sag
            turned = onset
        if kind == "fading" and n >= onset:
            capacity -= fade * (n - onset)
            r = r * (1 + 1.5 * fade * (n - onset))
            if capacity < 0.8 and turned == CHARGES:
                turned = n
        records.append(_record(rng, n, b, r, rest, capacity))
    if kind == "fading" and turned == CHARGES:
        turned = CHARGES - WITHIN  # it had not gone below 80 % yet: by the end it must be seen to fade
    return pack, records, turned


def _record(
    rng: np.random.Generator, n: int, b: float, r: np.ndarray, rest: np.ndarray, capacity: float
) -> Record:
    """What a charge shows of the truth: resistances off by the day's warmth and by hand."""
    t = rng.uniform(5, 28)
    warm = np.exp(b * (1 / (t + 273.15) - 1 / 298.15))
    seen = r * warm * (1 + 0.05 * rng.standard_normal()) * (1 + 0.06 * rng.standard_normal(len(r)))
    return Record(
        day=4.0 * n,
        cycle=n,
        temperature_c=t + rng.normal(0, 1.5),
        soc=rng.uniform(0.4, 0.8),
        cell_mohm=tuple(seen),
        rest_cell_v=tuple(rest),
        capacity_ah=4.0 * capacity * (1 + 0.03 * rng.standard_normal()),
        balance_min=rng.uniform(2, 7),
        run_minutes=10 * capacity * (1 + 0.06 * rng.standard_normal()),
    )


def fleet_lines() -> list[str]:
    """The measured shares."""
    o = fleet()
    return [
        f"fleet of {PACKS} packs, {CHARGES} charges each: {o.found} of {o.bad} bad ones found "
        f"within {WITHIN} charges ({o.found_share:.1%}), "
        f"{o.accused} of {o.good} good ones accused ({o.accused_share:.1%})"
    ]
