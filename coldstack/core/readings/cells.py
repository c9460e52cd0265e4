"""Cell readings: one typed line to volts, volts to charge and state."""

from __future__ import annotations

import re
import unicodedata
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.errors import DomainError
from coldstack.core.readings.tolerance import damaged
from coldstack.core.rules.house_rules import STEADY, HouseRules, for_chemistry

State = Literal["full", "part", "stored", "spent", "too_low"]

FULL_WITHIN = 0.05
"""So near below the rules' own end of charge a pack is full, as a share of its capacity. House figure."""
LEAST_SHARE = 0.15
"""With less than this of a full run left above the landing point it is spent: not worth a start. House
figure. House figure."""
HIGHEST_TYPED_V = 5.0
IMPOSSIBLY_FULL = 1.15
"""Times the volts of a full cell. House figure."""


@dataclass(frozen=True, slots=True)
class PackReading:
    """What the cells of one pack say at rest: volts as read, charges from 0 to 1, shape (S,)."""

    cell_v: tuple[float, ...]
    socs: tuple[float, ...]
    state: State

    @property
    def pack_v(self) -> float:
        """All cells together. [V]"""
        return sum(self.cell_v)

    @property
    def mean_v(self) -> float:
        """Volts per cell. [V]"""
        return self.pack_v / len(self.cell_v)

    @property
    def spread_v(self) -> float:
        """Highest less lowest cell. [V]"""
        return max(self.cell_v) - min(self.cell_v)

    @property
    def lowest_soc(self) -> float:
        """Charge of the emptiest cell: the last one to be full."""
        return min(self.socs)


def typed_cells(text: str) -> tuple[float, ...]:
    """Cell volts from one typed line: "3.82 3.83 3.79", "3,82 3,83", "3,82, 3,83", "3.82V 3.83V", "382 383",
    "3820 3830". [V]

    Three digits without a point are hundredths, four are thousandths of a volt; nobody has a cell of 382 V.
    The screens read the same lines (`format/cells.ts`); both are held by ``tests/data/cells.json``.

    Raises
    ------
    DomainError
        Naming the first word that is no cell's voltage.
    """
    line = unicodedata.normalize("NFKC", text).lower()
    # units say nothing here, and a comma before a blank stands between two cells
    line = re.sub(r"(?<=[\d.,]) ?v(?:olts?)?(?![a-z])", " ", line)
    line = re.sub(r",(?=\s|$)", " ", line).strip()
    words = re.split(r"[\s;/]+", line)
    each = len(words) > 1 and all(re.fullmatch(r"\d*[.,]?\d+", word) for word in words)
    if not each and ("." in line or len(words) == 1):
        # with points about, or without any other space, commas stand between the cells
        line = line if re.fullmatch(r"\d,\d+", line) else line.replace(",", " ")
    return tuple(_typed_volts(word) for word in re.split(r"[\s;/]+", line) if word)


def example_cells(chemistry_id: str, series: int) -> str:
    """How the cells of a charged pack could be typed, six at most."""
    full_v = chemistry(chemistry_id).full_v
    return " ".join(f"{full_v - 0.01 * (1 + k % 2):.2f}" for k in range(min(series, 6)))


def pack_reading(chemistry_id: str, cell_v: tuple[float, ...], rules: HouseRules = STEADY) -> PackReading:
    """The reading of a pack of this chemistry; full and spent by the house rules.

    Raises
    ------
    DomainError
        Without a cell, or for volts that are not above zero.
    """
    if not cell_v:
        raise DomainError("cell_v", "Read at least one cell.")
    socs = tuple(soc_at_rest(chemistry_id, v) for v in cell_v)
    return PackReading(cell_v, socs, _state(chemistry_id, cell_v, socs, rules))


def highest_possible_v(chemistry_id: str) -> float:
    """What no cell of this chemistry reads, however wrongly it was charged. [V]"""
    return chemistry(chemistry_id).full_v * IMPOSSIBLY_FULL


def check_reading(
    chemistry_id: str, series: int, cell_v: tuple[float, ...], rules: HouseRules = STEADY
) -> PackReading:
    """The reading of a pack with so many cells in series.

    Raises
    ------
    DomainError
        For another number of readings, or volts that no cell of this chemistry has.
    """
    cell = chemistry(chemistry_id)
    if len(cell_v) != series:
        raise DomainError(
            "cell_v",
            f"The pack has {series} cell{'s' * (series > 1)} in series; {len(cell_v)} "
            f"reading{'s were' if len(cell_v) != 1 else ' was'} given.",
        )
    highest = highest_possible_v(chemistry_id)
    for volts in cell_v:
        if not 0 < volts <= highest:
            raise DomainError(
                "cell_v",
                f"A {cell.name} cell does not read {volts:g} V: from 0 to {highest:.2f} V is possible.",
            )
    return pack_reading(chemistry_id, cell_v, rules)


MOST_C_OF_A_RUN = 40.0
"""No run empties a pack faster than this: the honest C of the best cells met with. House figure. [1/h]"""


def state_after_run(
    chemistry_id: str,
    landing_rest_v: float | None,
    rules: HouseRules = STEADY,
    *,
    before_soc: float | None = None,
    minutes: float | None = None,
) -> State:
    """What a run leaves a pack in: what a cell's volts at rest say. Without them, and for NiMH, whose volts
    say little, it is spent, unless so few ``minutes`` cannot have spent what it held ``before_soc``."""
    if landing_rest_v is not None and chemistry(chemistry_id).charge_method != "peak":
        return pack_reading(chemistry_id, (landing_rest_v,), rules).state
    left = least_left(before_soc, minutes)
    if left is None or not worth_a_run(chemistry_id, left, rules):
        return "spent"
    return state_at(chemistry_id, left, rules)


def least_left(before_soc: float | None, minutes: float | None) -> float | None:
    """Charge that is left at least after so many minutes of any run, 0 to 1; None where nobody knows."""
    if before_soc is None or minutes is None:
        return None
    return max(0.0, before_soc - MOST_C_OF_A_RUN * minutes / 60)


def share_of_a_run(chemistry_id: str, soc: float, rules: HouseRules = STEADY) -> float:
    """How much of a full run, by these rules, is left above the landing point: 0 and more."""
    by_rules = for_chemistry(rules, chemistry_id)
    return max(0.0, soc - by_rules.landing_soc) / (by_rules.start_soc - by_rules.landing_soc)


def worth_a_run(chemistry_id: str, lowest_soc: float, rules: HouseRules = STEADY) -> bool:
    """Whether the emptiest cell holds enough above the landing point to begin a run; asked by every stage."""
    return share_of_a_run(chemistry_id, lowest_soc, rules) >= LEAST_SHARE


@lru_cache
def storage_soc(chemistry_id: str) -> tuple[float, float]:
    """The charges between which a cell is stored; NiMH keeps at any, cool: 0 to 1."""
    band = chemistry(chemistry_id).storage_v
    return (
        (0.0, 1.0)
        if band is None
        else (soc_at_rest(chemistry_id, band[0]), soc_at_rest(chemistry_id, band[1]))
    )


def state_at(chemistry_id: str, soc: float, rules: HouseRules = STEADY) -> State:
    """What a pack at this charge is called, by the house rules' own end of charge and landing point."""
    cell, by_rules = chemistry(chemistry_id), for_chemistry(rules, chemistry_id)
    if soc >= by_rules.start_soc - FULL_WITHIN:
        return "full"
    low, high = storage_soc(chemistry_id)
    if cell.storage_v is not None and low - 0.05 <= soc <= high + 0.05:
        return "stored"
    return "part" if worth_a_run(chemistry_id, soc, rules) else "spent"


def _state(chemistry_id: str, cell_v: tuple[float, ...], socs: tuple[float, ...], rules: HouseRules) -> State:
    if damaged(chemistry_id, min(cell_v)):
        return "too_low"
    return state_at(chemistry_id, float(np.mean(socs)), rules)


def _typed_volts(word: str) -> float:
    if re.fullmatch(r"\d{4}", word):
        return int(word) / 1000
    if re.fullmatch(r"\d{3}", word):
        return int(word) / 100
    if not re.fullmatch(r"\d{1,2}(?:[.,]\d{0,4})?|[.,]\d{1,4}", word):
        raise DomainError(
            "cell_v", f"“{word[:20]}” is no cell’s voltage. Type each cell, like 3.82 3.83 3.79."
        )
    volts = float(word.replace(",", "."))
    if volts > HIGHEST_TYPED_V:
        meant = (
            f"Did you mean {volts / 10:g}?" if 30 <= volts <= 45 else "Type each cell, not the whole pack."
        )
        raise DomainError("cell_v", f"{volts:g} V is more than one cell can have. {meant}")
    return volts
