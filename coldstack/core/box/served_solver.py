"""Which pack runs which model on a day, so that most minutes are run: a flow of least cost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from ortools.graph.python.min_cost_flow import SimpleMinCostFlow  # type: ignore[import-untyped]  # has none

Floats = NDArray[np.float64]
HUNDREDTHS = 100
"""Minutes are weighed in hundredths: a flow counts in whole numbers."""


@dataclass(frozen=True, slots=True)
class Served:
    """Minutes a month that a box runs of its models, with the model of each pack on a day (−1 for none)."""

    minutes: float
    model_of: tuple[int, ...]

    def packs_of(self, model: int) -> int:
        """How many packs run one model on a day."""
        return self.model_of.count(model)


def served(minutes: Floats, runs_a_day: Sequence[int], days_a_month: Sequence[float]) -> Served:
    """The most minutes a month, each pack being charged once a day.

    ``minutes`` of each pack in each model, shape (packs, models); 0 where it does not run. A pack that could
    run two models runs one of them on a day: all are taken to be out on the same day. A pack may also stay at
    home, so that the flow is always whole and its least cost is the most minutes.
    """
    packs, models = minutes.shape
    if packs == 0 or models == 0:
        return Served(0.0, (-1,) * packs)
    worth = np.rint(HUNDREDTHS * minutes * np.asarray(days_a_month)[None, :]).astype(np.int64)
    at, of = np.nonzero(minutes > 0)
    source, sink = packs + models, packs + models + 1
    each, many = np.arange(packs), np.arange(models)
    flow = SimpleMinCostFlow()
    tails = np.concatenate([np.full(packs, source), at, packs + many, each])
    heads = np.concatenate([each, packs + of, np.full(models, sink), np.full(packs, sink)])
    room = np.concatenate(
        [np.ones(packs), np.ones(len(at)), np.asarray(runs_a_day, float), np.ones(packs)]
    ).astype(np.int64)
    cost = np.concatenate([np.zeros(packs), -worth[at, of], np.zeros(models), np.zeros(packs)]).astype(
        np.int64
    )
    arcs = flow.add_arcs_with_capacity_and_unit_cost(tails, heads, room, cost)
    flow.set_node_supply(source, packs)
    flow.set_node_supply(sink, -packs)
    if flow.solve() != flow.OPTIMAL:
        raise ValueError("A box that has no plan: every pack can stay at home.")
    used = flow.flows(arcs[packs : packs + len(at)]) > 0
    model_of = np.full(packs, -1)
    model_of[at[used]] = of[used]
    rows = np.flatnonzero(model_of >= 0)
    total = float((minutes * np.asarray(days_a_month)[None, :])[rows, model_of[rows]].sum())
    return Served(total, tuple(model_of.tolist()))
