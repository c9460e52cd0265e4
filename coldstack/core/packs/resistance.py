"""What a cell of a pack resists: what its label, size and chemistry let one expect, joined with what was
measured of it. Size, boards, charging and watching all ask here."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import CHEMISTRY_IDS, chemistry_column
from coldstack.core.cells.resistance import (
    LabelTrust,
    resistance_from_c_mohm,
    slow_mohm,
    trusted_c,
    typical_cell_mohm,
)
from coldstack.core.packs.measured import EXPECTED_SPREAD, Measured, with_expected
from coldstack.core.packs.pack import Pack

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


def expected_mohm(chemistry_index: Ints, capacity_ah: Floats, label_c: Floats, trust: LabelTrust) -> Floats:
    """What label, size and chemistry let one expect of a cell position's resistance, shape (N,); NaN for a
    label without a C. [mΩ at 25 °C and mid charge]

    ``6250 ÷ (C²·Ah)`` of the C that the trust takes the label for, or of the chemistry's usual one; where a
    label is set by more than heat (Li-ion and others) at most the chemistry's typical R·Ah.
    """
    usual_c = chemistry_column("typical_label_c")[chemistry_index]
    trusted = trusted_c(np.where(np.isnan(label_c), usual_c, label_c), trust)
    by_label = resistance_from_c_mohm(trusted, capacity_ah)
    typical = chemistry_column("typical_resistance_mohm_ah")[chemistry_index] / capacity_ah
    return np.where(np.isnan(typical), by_label, np.minimum(typical, by_label))


def expected_slow_mohm(
    chemistry_index: Ints, capacity_ah: Floats, expected: Floats, found: Floats | None = None
) -> Floats:
    """What label, size and chemistry let one expect of the slow part's R1, shape (N,); ``expected`` is what
    they say of R0, ``found`` what it was found to be. [mΩ at 25 °C and mid charge]

    The chemistry's; less in proportion for cells that are made for more current than usual, whose electrodes
    are thinner. Of high-energy cells, whose reactions a meter sees but in part, what R0 was found lower is in
    the slow part: the sum is what minutes show. It is never less for what a meter read.
    """
    usual = np.array([typical_cell_mohm(c, 1.0) for c in CHEMISTRY_IDS])[chemistry_index] / capacity_ah
    slow = slow_mohm(chemistry_index, capacity_ah) * np.minimum(1.0, expected / usual)
    if found is None:
        return slow
    unseen = np.where(chemistry_column("eases")[chemistry_index] < 1, np.maximum(expected - found, 0.0), 0.0)
    return slow + unseen


def cell_resistances(packs: Sequence[Pack], trust: LabelTrust) -> tuple[Floats, Floats, Floats]:
    """Resistance of a cell position of N packs, ± of it, and what was to be expected of it before anybody
    measured; shape (N,). [mΩ at 25 °C and mid charge], share"""
    index = np.array([CHEMISTRY_IDS.index(p.chemistry) for p in packs], dtype=np.int64)
    ah = np.array([p.capacity_ah for p in packs], dtype=float)
    label_c = np.array([math.nan if p.label_c is None else p.label_c for p in packs], dtype=float)
    expected = expected_mohm(index, ah, label_c, trust)
    found = [p.measured_resistance for p in packs]
    value, spread = (
        np.array([math.nan if m is None else getattr(m, of) for m in found], dtype=float)
        for of in ("value", "spread")
    )
    return *with_expected(expected, EXPECTED_SPREAD[0], value, spread), expected


def cell_resistance(pack: Pack, trust: LabelTrust = "cautious") -> Measured:
    """The same of one pack. [mΩ at 25 °C and mid charge]"""
    value, spread, _ = cell_resistances([pack], trust)
    return Measured(float(value[0]), float(spread[0]))
