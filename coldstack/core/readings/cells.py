"""Readings at rest, of each cell or of the whole pack: volts to charge and state."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.errors import DomainError
from coldstack.core.readings.tolerance import damaged
from coldstack.core.readings.typed_volts import impossible_cell, not_so_many, typed_volts
from coldstack.core.rules.house_rules import STEADY, HouseRules, for_chemistry

State = Literal["full", "part", "stored", "spent", "too_low"]

FULL_WITHIN = 0.05
"""So near below the rules' own end of charge a pack is full, as a share of its capacity. House figure."""
LEAST_SHARE = 0.15
"""With less than this of a full run left above the landing point it is spent: not worth a start.
House figure."""
MOST_IN_EXAMPLE = 6
IMPOSSIBLY_FULL = 1.15
"""Times the volts of a full cell. House figure."""


@dataclass(frozen=True, slots=True)
class PackReading:
    """What the cells of one pack say at rest: volts as read, charges from 0 to 1, shape (S,).

    ``whole`` if only all of them together were read: each cell then stands at the middle, and nobody knows
    how far they are apart.
    """

    cell_v: tuple[float, ...]
    socs: tuple[float, ...]
    state: State
    whole: bool = False

    @property
    def pack_v(self) -> float:
        """All cells together. [V]"""
        return sum(self.cell_v)

    @property
    def mean_v(self) -> float:
        """Volts per cell. [V]"""
        return self.pack_v / len(self.cell_v)

    @property
    def spread_v(self) -> float | None:
        """Highest less lowest cell; None where only the whole was read. [V]"""
        return None if self.whole else max(self.cell_v) - min(self.cell_v)

    @property
    def lowest_soc(self) -> float:
        """Charge of the emptiest cell: the last one to be full."""
        return min(self.socs)


def example_cells(chemistry_id: str, series: int) -> str:
    """How the volts of a charged pack could be typed: its cells, or the whole where they are many or cannot
    be got at."""
    cell = chemistry(chemistry_id)
    if series > (MOST_IN_EXAMPLE if cell.balanced else 1):
        return f"{series * (cell.full_v - 0.01):.1f}"
    return " ".join(f"{cell.full_v - 0.01 * (1 + k % 2):.2f}" for k in range(series))


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


def whole_reading(chemistry_id: str, series: int, pack_v: float, rules: HouseRules = STEADY) -> PackReading:
    """The reading of a pack of which only the volts at its plug are known; of one cell they are all."""
    one = pack_reading(chemistry_id, (pack_v / series,) * series, rules)
    return replace(one, whole=series > 1)


def as_cells_may_be(chemistry_id: str, reading: PackReading, rules: HouseRules = STEADY) -> PackReading:
    """A reading to run by: where only the whole is known, one cell is taken to lie as far below the others as
    the house rules let pass without a word. Cells that nobody can balance are taken as alike."""
    if not reading.whole or not chemistry(chemistry_id).balanced:
        return reading
    low = reading.mean_v - below_the_middle_v(len(reading.cell_v), rules)
    cells = (low, *(low + rules.spread_watch_v,) * (len(reading.cell_v) - 1))
    return pack_reading(chemistry_id, cells, rules)


def below_the_middle_v(series: int, rules: HouseRules) -> float:
    """So far below the middle the lowest cell is taken to be where only the whole was read. [V]"""
    return rules.spread_watch_v * (series - 1) / series


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
    if len(cell_v) != series:
        raise DomainError("cell_v", not_so_many(series, len(cell_v)))
    highest = highest_possible_v(chemistry_id)
    for volts in cell_v:
        if not 0 < volts <= highest:
            raise DomainError("cell_v", impossible_cell(volts, highest))
    return pack_reading(chemistry_id, cell_v, rules)


def typed_reading(chemistry_id: str, series: int, text: str, rules: HouseRules = STEADY) -> PackReading:
    """The reading that a typed line tells of a pack: each cell, all together, or in steps.

    Raises
    ------
    DomainError
        As `typed_volts`, or for volts that no cell of this chemistry has.
    """
    said = typed_volts(text, series, highest_possible_v(chemistry_id))
    if said.pack_v is not None:
        return whole_reading(chemistry_id, series, said.pack_v, rules)
    return check_reading(chemistry_id, series, said.cell_v, rules)


def landed_cell_v(chemistry_id: str, series: int, text: str) -> float:
    """Volts of a cell at rest after a run, from a typed line: one cell's, each cell's (their middle), or the
    whole pack's. [V]

    Raises
    ------
    DomainError
        As `typed_reading`.
    """
    highest = highest_possible_v(chemistry_id)
    with suppress(DomainError):
        (one,) = typed_volts(text, 1, highest).cell_v
        if one >= highest / 2:
            return one
    return typed_reading(chemistry_id, series, text).mean_v


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
