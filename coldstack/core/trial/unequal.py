"""Cells of a pack that differ, as the groups of cells alike that the simulation takes."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from coldstack.core.discharge.batch import CellColumns, Floats


def cell_groups(
    socs: Sequence[Floats],
    ratios: Sequence[tuple[float, ...]],
    *,
    capacity_ah: Floats,
    cell_mohm: Floats,
) -> CellColumns:
    """The cells of N packs in groups of cells alike.

    ``socs`` are each cell's charge, 0 to 1, ``ratios`` its resistance over the pack's middle one; empty, or
    of another number of cells, for cells that resist alike. ``capacity_ah`` and ``cell_mohm`` are of a
    middle cell of each pack, shape (N,). Rows are as wide as the widest: a group of none repeats another.
    """
    groups = [_alike(s, r) for s, r in zip(socs, ratios, strict=True)]
    shape = len(groups), max((len(count) for _, count in groups), default=1)
    soc, of_cell, count = (np.zeros(shape) for _ in range(3))
    for row, (kinds, counts) in enumerate(groups):
        rest = shape[1] - len(counts)
        soc[row], of_cell[row] = np.pad(kinds, ((0, 0), (0, rest)), "edge")
        count[row] = np.pad(counts, (0, rest))
    ah = np.repeat(capacity_ah[:, None], shape[1], axis=1)
    return CellColumns(count, ah, of_cell * cell_mohm[:, None], soc)


def groups_by_ratio(
    series: Floats,
    soc: Floats,
    ratios: Sequence[tuple[float, ...]],
    *,
    capacity_ah: Floats,
    cell_mohm: Floats,
) -> CellColumns:
    """`cell_groups` of N packs whose cells hold alike, most of which resist alike: one group each, and only
    the others by their ratios. ``series`` cells, each with the charge ``soc``; shape (N,)."""
    cells = np.maximum(series, 1.0)
    uneven = {row: _by_ratio(r) for row, r in enumerate(ratios) if r and len(r) == cells[row]}
    width = max((len(count) for _, count in uneven.values()), default=1)
    charge = np.repeat(soc[:, None], width, axis=1)
    of_cell, count = np.ones_like(charge), np.zeros_like(charge)
    count[:, 0] = cells
    for row, (kinds, counts) in uneven.items():
        rest = width - len(kinds)
        of_cell[row] = (*kinds, *kinds[-1:] * rest)
        count[row] = (*counts, *(0,) * rest)
    ah = np.repeat(capacity_ah[:, None], width, axis=1)
    return CellColumns(count, ah, of_cell * cell_mohm[:, None], charge)


@lru_cache(maxsize=4096)
def _by_ratio(ratios: tuple[float, ...]) -> tuple[tuple[float, ...], tuple[int, ...]]:
    """Each ratio once, rising, and how many cells have it."""
    found = Counter(ratios)
    kinds = tuple(sorted(found))
    return kinds, tuple(found[k] for k in kinds)


def _alike(socs: Floats, ratios: tuple[float, ...]) -> tuple[Floats, Floats]:
    """Cells that read alike run alike: the kinds, charge over resistance, shape (2, G), and how many of
    each."""
    of_cell = np.array(ratios) if len(ratios) == len(socs) else np.ones_like(socs)
    kinds, count = np.unique(np.stack([socs, of_cell]), axis=1, return_counts=True)
    return kinds, count.astype(float)
