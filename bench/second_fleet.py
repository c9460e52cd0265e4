"""Another simulated fleet, of another build: crashes, leaking and shrinking cells, contacts, batches, rare
use.

Unlike the first one's, its packs begin with unequal labels and contacts, resistances follow another law of
temperature, and a charge tells only what its kind of charge tells. A bad pack counts as found if it is under
suspicion, or asked to be read again, within five charges of the one at which it truly was bad; where fewer
than five were recorded it is counted apart.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.keeping.evidence import LEVELS
from coldstack.core.keeping.health import evidence_of
from coldstack.core.keeping.records import Record
from coldstack.core.packs.pack import Pack

WITHIN = 5
KINDS = ("crash", "shrinking cell", "leaking cell", "fading", "joined, shrinking cell", "rare, crash")
GOOD = ("good", "good, contact", "good, joined", "good, rare")
EACH = 60


@dataclass
class Life:
    """A pack, its records, and the number of the charge at which it truly was bad; None if it stays good."""

    kind: str
    pack: Pack
    records: list[Record]
    bad_from: int | None


@dataclass
class Counts:
    """Of one kind: packs, those found or accused, those asked to be read again; and how it was of those with
    too few records."""

    packs: int = 0
    found: int = 0
    asked: int = 0
    few: int = 0
    few_found: int = 0
    signs: dict[str, int] = field(default_factory=lambda: defaultdict(int))


def second_fleet(
    seed: int = 2, each: int = EACH, kinds: Sequence[str] = (*KINDS, *GOOD)
) -> dict[str, Counts]:
    """Counts by kind."""
    rng, out = np.random.default_rng(seed), defaultdict(Counts)
    for kind in kinds:
        for _ in range(each):
            _count(out[kind], life_of(rng, kind))
    return out


def _count(counts: Counts, life: Life) -> None:
    first = 0 if life.bad_from is None else life.bad_from
    last = len(life.records) if life.bad_from is None else _within(life)
    worst = "fine"
    for n in range(first, last):
        found = evidence_of(life.pack, life.records[: n + 1])[0]
        if found and LEVELS.index(found[0].level) > LEVELS.index(worst):
            worst = found[0].level
            counts.signs[found[0].id] += 1
    # a good pack is accused by a verdict; a bad one is found by the question too
    hit = worst not in ("fine", "again") or (worst == "again" and life.bad_from is not None)
    if life.bad_from is not None and _charges_after(life) < WITHIN:
        counts.few += 1
        counts.few_found += hit
        return
    counts.packs += 1
    counts.found += hit
    counts.asked += worst == "again"


def _within(life: Life) -> int:
    """Records up to the fifth charge after it turned bad, that one included."""
    assert life.bad_from is not None
    seen = 0
    for n in range(life.bad_from, len(life.records)):
        seen += life.records[n].cycle > life.records[n - 1].cycle if n else 1
        if seen == WITHIN:
            return n + 1
    return len(life.records)


def _charges_after(life: Life) -> int:
    assert life.bad_from is not None
    cycles = {r.cycle for r in life.records[life.bad_from :]}
    return len(cycles)


def life_of(rng: np.random.Generator, kind: str) -> Life:
    """One pack's life: before each charge its cells are read in storage, twice where it lies long."""
    rare, joined = "rare" in kind, "joined" in kind
    series, ah = int(rng.integers(2, 7)), float(rng.choice([1.3, 2.2, 4.0, 5.0]))
    pack = Pack("x", "x", "lipo", series, ah, 100.0 * series)
    charges = int(rng.integers(9, 14)) if rare else 40
    onset = int(rng.integers(4, charges - 4)) if rare else int(rng.integers(10, 30))
    base = rng.uniform(6, 20) / ah * np.exp(0.05 * rng.standard_normal(series))
    contact = np.zeros(series)
    if "contact" in kind:
        contact[rng.integers(series)] = rng.uniform(1.0, 2.0)
    cell, label = int(rng.integers(series)), rng.uniform(0.93, 1.02)
    jump = rng.uniform(1.45, 2.4)
    hit = slice(None) if rng.random() < 0.6 else cell
    shrink, leak = rng.uniform(0.015, 0.03), rng.uniform(0.004, 0.012)
    fade = rng.uniform(0.01, 0.025)
    b, records, day, bad_from = rng.normal(2500, 300), list[Record](), 0.0, None
    for n in range(charges):
        lay = float(rng.uniform(25, 60) if rare else rng.uniform(5, 15))
        since, day = day, day + lay
        held, r = np.full(series, label), base * (1 + 0.002 * n)
        late = max(n - onset, 0)
        drift = np.zeros(series)
        if "crash" in kind and n >= onset:
            r = r.copy()
            r[hit] *= jump
        if "shrinking" in kind:
            held[cell] *= 1 - min(shrink * late, 0.5)
        if "fading" in kind:
            held *= 1 - fade * late
            r = r * (1 + 2 * fade * late)
        if "leaking" in kind and n >= onset:
            drift[cell] = leak
        if bad_from is None and n >= onset and _truly_bad(kind, held / label, r / base):
            bad_from = len(records)
        records += _lying(rng, n, since, lay, drift, _landed(rng, held, ah))
        alone = not joined or n % 4 == 3
        records.append(_charge(rng, n, day, b, (r, contact), held, ah, alone=alone))
    return Life(kind, pack, records, bad_from)


def _truly_bad(kind: str, held: np.ndarray, r: np.ndarray) -> bool:
    """A crash and a leak are bad at once; what shrinks or fades is at a tenth less."""
    return "crash" in kind or "leaking" in kind or bool(held.min() <= 0.9)


def _landed(rng: np.random.Generator, held: np.ndarray, ah: float) -> np.ndarray:
    """Each cell's charge in storage: what the least cell lets the pilot use, and a top-up for all alike."""
    used = float(rng.uniform(0.45, 0.5)) * float(np.median(held))
    return 1 - used / held


def _lying(
    rng: np.random.Generator, n: int, since: float, lay: float, drift: np.ndarray, soc: np.ndarray
) -> list[Record]:
    """Readings in storage: soon after it came there, and before the next charge."""
    out = []
    for day in (since + 0.3, since + lay - 0.1):
        lost = (0.0007 + drift) * (day - since)
        volts = np.array([float(resting_voltage("lipo", max(z, 0.01))) for z in soc - lost])
        seen = np.round(volts + 0.002 * rng.standard_normal(len(volts)), 3)
        out.append(Record(day, n, rest_cell_v=tuple(map(float, seen)), since=since))
    return out


def _charge(
    rng: np.random.Generator,
    n: int,
    day: float,
    b: float,
    r: tuple[np.ndarray, np.ndarray],
    held: np.ndarray,
    ah: float,
    *,
    alone: bool,
) -> Record:
    """What a charge tells: nothing of a pack's own where it was charged with others."""
    room = rng.uniform(3, 30)
    minutes = 9 * float(np.min(held)) * (1 + 0.08 * rng.standard_normal())
    if not alone:
        return Record(day, n + 1, run_minutes=minutes)
    warm = np.exp(b * (1 / (room + 273.15) - 1 / 298.15))
    cells, contact = r  # no warmth changes a contact
    seen = (cells * warm + contact) * (1 + 0.05 * rng.standard_normal())
    seen = seen * (1 + 0.05 * rng.standard_normal(len(cells)))
    return Record(
        day,
        n + 1,
        temperature_c=room + float(rng.normal(0, 1.5)),
        soc=float(rng.uniform(0.4, 0.8)),
        cell_mohm=tuple(map(float, seen)),
        capacity_ah=ah * float(np.min(held)) * (1 + 0.03 * rng.standard_normal()),
        balance_min=float(rng.uniform(2, 7)),
        run_minutes=minutes,
    )


def second_fleet_lines() -> list[str]:
    """The measured shares, by kind."""
    out = []
    for kind, c in second_fleet().items():
        what = "accused" if kind in GOOD else f"found within {WITHIN} charges"
        few = f"; of {c.few} with fewer records {c.few_found}" if c.few else ""
        share = f" ({c.found / c.packs:.0%})" if c.packs else ""
        out.append(f"second fleet, {kind}: {c.found} of {c.packs} {what}{share}, {c.asked} read again{few}")
    return out


if __name__ == "__main__":
    print("\n".join(second_fleet_lines()))
