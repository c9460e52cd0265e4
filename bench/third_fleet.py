"""A third simulated fleet, of households: contacts and common offsets through the seasons, cells that were
bad when bought, packs that fade or leak, charges that tell mAh or none.

Unlike the other two's, its resistances are read at any charge from 15 to 100 % and from a garage in winter to
a field in summer; every reading has the plug's milliohms in it, which no warmth changes. Runs end by a timer
or an alarm, and tell their minutes and the volts they landed with. A bad pack counts as found if it is under
suspicion, or asked to be read again, within five charges of the one at which it truly was bad (fifteen where
no mAh are known); a good one is accused by a verdict, and condemned by *retire*.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np

from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.keeping.evidence import LEVELS
from coldstack.core.keeping.health import evidence_of
from coldstack.core.keeping.records import Record
from coldstack.core.packs.pack import Pack

BAD = (
    "crash, contact",
    "bought at 1.6",
    "bought at 2",
    "fading",
    "fading, no mAh",
    "leaking cell",
    "leaking pack",
)
GOOD = ("good", "good, contact", "good, offset", "good, no mAh")
EACH, CHARGES = 60, 45
WITHIN, WITHIN_BLIND = 5, 15


@dataclass
class Counts:
    """Of one kind: packs; found or accused; condemned; asked to be read again; by which sign."""

    packs: int = 0
    found: int = 0
    condemned: int = 0
    asked: int = 0
    signs: dict[str, int] = field(default_factory=lambda: defaultdict(int))


@dataclass(frozen=True)
class House:
    """How one household keeps: whether it knows mAh, reads cells at the end of a charge, flies by a timer."""

    mah: bool
    reads_full: bool
    timer: bool
    thermometer: bool
    first_day: float


def third_fleet(seed: int = 3, each: int = EACH, kinds: Sequence[str] = (*BAD, *GOOD)) -> dict[str, Counts]:
    """Counts by kind."""
    rng, out = np.random.default_rng(seed), defaultdict(Counts)
    for kind in kinds:
        for _ in range(each):
            _count(out[kind], kind, *life_of(rng, kind))
    return out


def _count(counts: Counts, kind: str, pack: Pack, records: list[Record], bad_from: int | None) -> None:
    within = WITHIN_BLIND if "no mAh" in kind else WITHIN
    first = 0 if bad_from is None else next(k for k, r in enumerate(records) if r.cycle > bad_from)
    worst = "fine"
    for n in range(first, len(records)):
        if bad_from is not None and records[n].cycle > bad_from + within:
            break
        found = evidence_of(pack, records[: n + 1])[0]
        if found and LEVELS.index(found[0].level) > LEVELS.index(worst):
            worst = found[0].level
            counts.signs[found[0].id] += 1
    counts.packs += 1
    counts.found += worst not in ("fine", "again") or (worst == "again" and bad_from is not None)
    counts.condemned += worst == "retire"
    counts.asked += worst == "again"


def life_of(rng: np.random.Generator, kind: str) -> tuple[Pack, list[Record], int | None]:
    """A pack, its records, and the number of charges after which it truly was bad."""
    series, ah = int(rng.integers(3, 7)), float(rng.choice([1.3, 2.2, 4.0, 5.0]))
    house = House(
        "no mAh" not in kind, rng.random() < 0.6, rng.random() < 0.5, rng.random() < 0.9, rng.uniform(0, 365)
    )
    base = rng.uniform(5, 16) / ah * np.exp(0.05 * rng.standard_normal(series))
    pin, common, cell = np.zeros(series), float(rng.uniform(0, 0.3)), int(rng.integers(series))
    if "contact" in kind:
        pin[int(rng.integers(series))] = rng.uniform(0.8, 2.0)
    if "offset" in kind:
        common = float(rng.uniform(0.5, 2.0))
    if "bought" in kind:
        base[cell] *= 2.0 if kind.endswith("2") else 1.6
    onset = 0 if "bought" in kind else int(rng.integers(9, CHARGES - 18))
    jump, fade = rng.uniform(1.6, 2.4), rng.uniform(0.012, 0.025)
    leak = rng.uniform(0.005, 0.012)
    label, b = rng.uniform(0.96, 1.02), rng.normal(2600, 250)
    draw = 0.75 * ah * label / 8.0  # Ah a minute: three quarters in eight
    records, day, bad_from = list[Record](), house.first_day, 0 if "bought" in kind else None
    soc = np.full(series, 0.5)
    for n in range(CHARGES):
        late = max(n - onset, 0)
        held = ah * label * (1 - 0.0008 * n) * np.ones(series)
        r = base * (1 + 0.003 * n)
        if "fading" in kind:
            held, r = held * (1 - fade * late), r * (1 + fade * late)
        if "crash" in kind and n >= onset:
            r = r.copy()
            r[cell] *= jump
        drain = np.full(series, 0.0006)
        if "leaking" in kind and n >= onset:
            drain = drain + (leak if "pack" in kind else leak * (np.arange(series) == cell))
        truly = n >= onset and kind in BAD and ("fading" not in kind or fade * late >= 0.1)
        if bad_from is None and truly:
            bad_from = n
        came, lay = day, float(rng.uniform(4, 14))
        day += lay
        soc = np.clip(soc - drain * lay, 0.02, 1.0)
        records.append(_charge(rng, house, n + 1, day, came, soc, r, pin + common, b, held))
        soc = np.ones(series)
        # it is flown the same day or some days later, and lands some hours after
        waits = float(rng.uniform(0.1, 6))
        soc = np.clip(soc - drain * waits, 0.02, 1.0)
        run, soc = _run(rng, house, n + 1, day + waits, soc, held, draw)
        records.append(run)
        day += waits
    return Pack("x", "x", "lipo", series, ah, 100.0 * series), records, bad_from


def _volts(rng: np.random.Generator, soc: np.ndarray) -> tuple[float, ...]:
    at = np.array([float(resting_voltage("lipo", float(z))) for z in soc])
    return tuple(map(float, np.round(at + 0.003 * rng.standard_normal(len(at)), 3)))


def _charge(
    rng: np.random.Generator,
    house: House,
    cycle: int,
    day: float,
    since: float,
    soc: np.ndarray,
    r: np.ndarray,
    contact: np.ndarray,
    b: float,
    held: np.ndarray,
) -> Record:
    """What is read before a charge, what the charger reads in it, and what it put in."""
    room = 15 - 9 * np.cos(2 * np.pi * day / 365) + rng.normal(0, 3)
    at = float(rng.uniform(0.15, 1.0))
    warm = np.exp(b * (1 / (room + 273.15) - 1 / 298.15))
    charge = 1.0 if at > 0.3 else 1.15
    seen = (
        (r * warm * charge + contact)
        * (1 + 0.05 * rng.standard_normal())
        * (1 + 0.05 * rng.standard_normal(len(r)))
    )
    share = 1.0 - float(np.mean(soc))
    told = house.mah and share >= 0.5
    full = np.full(len(r), 1.0)
    return Record(
        day,
        cycle,
        temperature_c=float(room + rng.normal(0, 1.5)) if house.thermometer else None,
        soc=at,
        cell_mohm=tuple(map(float, seen)) if rng.random() < 0.8 else None,
        rest_cell_v=_volts(rng, soc),
        end_cell_v=_volts(rng, full) if house.reads_full else None,
        capacity_ah=float(np.mean(held)) * (1 + 0.04 * float(rng.standard_normal())) if told else None,
        balance_min=float(rng.uniform(2, 7)) if house.mah else None,
        since=since,
    )


def _run(
    rng: np.random.Generator,
    house: House,
    cycle: int,
    day: float,
    soc: np.ndarray,
    held: np.ndarray,
    draw: float,
) -> tuple[Record, np.ndarray]:
    """A run to a timer, or to an alarm: its minutes, and the charge that its landing volts tell."""
    wants = 8.0 if house.timer else 8.0 * float(np.min(held)) / float(np.max(held))
    share = float(rng.normal(0.75, 0.04))
    amps = draw * (1 + 0.08 * float(rng.standard_normal()))
    minutes = wants * (1 + 0.03 * float(rng.standard_normal()))
    if not house.timer:
        minutes = share * float(np.min(held)) / amps
    left = np.clip(soc - amps * minutes / held, 0.03, 1.0)
    volts = float(resting_voltage("lipo", float(np.mean(left)))) + 0.008 * float(rng.standard_normal())
    landed = soc_at_rest("lipo", min(max(volts, 3.0), 4.2))
    told = {"landing_soc": landed, "run_share": 1.0 - landed}
    return Record(day, cycle, run_minutes=float(minutes), since=day, **told), left


def third_fleet_lines() -> list[str]:
    """The measured shares, by kind."""
    out = []
    for kind, c in third_fleet().items():
        within = WITHIN_BLIND if "no mAh" in kind else WITHIN
        what = "accused" if kind in GOOD else f"found within {within} charges"
        out.append(
            f"third fleet, {kind}: {c.found} of {c.packs} {what} ({c.found / c.packs:.0%}), {c.condemned} "
            f"condemned, {c.asked} read again; {dict(c.signs)}"
        )
    return out


if __name__ == "__main__":
    print("\n".join(third_fleet_lines()))
