"""Cells of a pack that differ, as the groups of cells alike that the simulation takes."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from functools import lru_cache

import numpy as np

from coldstack.core.discharge.batch import CellColumns, Floats


def cell_groups(
    socs: Sequence[tuple[float, ...]],
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
    width = max(map(len, groups), default=1)
    # a group of none repeats the last
    rows = [g + [(*g[-1][:2], 0)] * (width - len(g)) for g in groups]
    soc, of_cell, count = np.moveaxis(np.array(rows, float).reshape(len(groups), width, 3), 2, 0)
    ah = np.repeat(capacity_ah[:, None], width, axis=1)
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


def _alike(socs: tuple[float, ...], ratios: tuple[float, ...]) -> list[tuple[float, float, int]]:
    """Cells that read alike run alike: each kind's charge and resistance, rising, and how many it has."""
    of_cell = ratios if len(ratios) == len(socs) else (1.0,) * len(socs)
    return [(*kind, many) for kind, many in sorted(Counter(zip(socs, of_cell, strict=True)).items())]
