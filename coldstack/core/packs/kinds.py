"""Kinds of candidate packs, each with what sets it apart: one line here, and where it is made."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from coldstack.core.safety.cautions import BUILD_FROM_CELLS, PARALLEL_PAIR, SERIES_PAIR, Caution


@dataclass(frozen=True, slots=True)
class CandidateKind:
    """How a candidate comes to be.

    ``effort``: how much less it is worth for the work of joining or building. ``made_up``: of the grid, not
    to be had. ``at_hand``: looked at however heavy it is. ``seen``: the best of it always stands in the list.
    ``sold``: one can have two. ``offered``: a shop's, until it is bought. ``leads``: before the words of its
    leads. ``joined``: of two packs, ``beside`` each other or in series.
    """

    id: str
    plural: str
    effort: float = 0.0
    made_up: bool = False
    at_hand: bool = False
    seen: bool = False
    sold: bool = False
    offered: bool = False
    joined: bool = False
    beside: bool = False
    from_cells: bool = False
    leads: str = ""
    caution: Caution | None = None


KINDS = {
    kind.id: kind
    for kind in (
        CandidateKind("catalogue", "packs to buy", sold=True),
        CandidateKind("on offer", "packs on offer", at_hand=True, seen=True, sold=True, offered=True),
        CandidateKind("typical", "typical packs"),
        CandidateKind("owned", "packs owned", at_hand=True, seen=True),
        CandidateKind("now", "pack it runs on now", at_hand=True),
        CandidateKind("series pair", "pairs in series", effort=0.05, joined=True, caution=SERIES_PAIR),
        CandidateKind(
            "parallel pair",
            "pairs in parallel",
            effort=0.05,
            joined=True,
            beside=True,
            leads="2 × ",
            caution=PARALLEL_PAIR,
        ),
        CandidateKind(
            "cell build", "packs built from cells", effort=0.10, from_cells=True, caution=BUILD_FROM_CELLS
        ),
        CandidateKind("generic", "made-up packs", made_up=True),
    )
}
_ALL = tuple(KINDS.values())
_INDEX = {kind.id: k for k, kind in enumerate(_ALL)}


def kind_index(kind_id: str) -> int:
    """Its place among the kinds, for columns."""
    return _INDEX[kind_id]


def kind_at(index: int) -> CandidateKind:
    """The kind at this place."""
    return _ALL[index]


def kind_ids(index: NDArray[np.int64]) -> list[str]:
    """The ids of many."""
    return [_ALL[i].id for i in index.tolist()]


@cache
def kind_column(field: str) -> NDArray[np.float64]:
    """One figure of every kind (1 or 0 for what holds or does not): index it by a batch's kind indices."""
    return np.array([getattr(k, field) for k in _ALL], dtype=float)
