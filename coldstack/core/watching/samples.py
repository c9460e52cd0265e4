"""What a charger measured, as the watch has it: believed whole, or what could be read of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

HELD_S = 4.0
"""What one wobble of a contact can show must hold for so long, in two samples at least. House figure."""


@dataclass(frozen=True, slots=True)
class Sample:
    """One report of a charger that was believed: every figure of it can be.

    ``seq`` counts from 1 without a gap, ``time_s`` from the start of the charge. Amps into the pack are
    positive.
    """

    seq: int
    time_s: float
    cell_v: tuple[float, ...]
    current_a: float
    temperature_c: float | None
    mah: float
    supply_v: float | None = None
    cell_mohm: tuple[float, ...] | None = None


@dataclass(frozen=True, slots=True)
class Glimpse:
    """What could be read of a sample that was not believed: each figure is a reading or nothing. Nobody knows
    which cell is which where their number is wrong."""

    time_s: float
    cell_v: tuple[float, ...]
    current_a: float | None
    temperature_c: float | None
    mah: float | None


Reading = Sample | Glimpse


def holds(samples: Sequence[Sample], wrong: Callable[[Sample], bool]) -> bool:
    """Whether it is wrong in the latest samples, two at least, for `HELD_S`."""
    if not samples or not wrong(samples[-1]):
        return False
    last_s = samples[-1].time_s
    for one in reversed(samples[:-1]):
        if not wrong(one):
            return False
        if last_s - one.time_s >= HELD_S:
            return True
    return False
