"""How packs lie in the bay: on which side, and two of them on top of, beside or behind each other."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from coldstack.core.discharge.batch import Floats
from coldstack.core.trial.candidates import Candidates
from coldstack.core.trial.job import BAY_CLEARANCE_MM, Bay, Job

Lie = Literal["stacked", "side_by_side", "end_to_end"]
_TWO: dict[Lie, tuple[int, int, int]] = {
    "stacked": (1, 1, 2),
    "side_by_side": (1, 2, 1),
    "end_to_end": (2, 1, 1),
}
"""How many lie along the bay, across it and up, before they are turned on their side."""


@dataclass(frozen=True, slots=True)
class Lying:
    """The box that each of N candidates takes: along the bay, across it and up; shape (N, 3). [mm]

    ``count`` says of how many packs it is made along each of the three; one and one and one for a pack alone.
    """

    box_mm: Floats
    count: NDArray[np.int64]

    @property
    def length_mm(self) -> Floats:
        """Along the bay; shape (N,). [mm]"""
        return self.box_mm[:, 0]

    @property
    def width_mm(self) -> Floats:
        """Across the bay; shape (N,). [mm]"""
        return self.box_mm[:, 1]

    @property
    def height_mm(self) -> Floats:
        """Up; shape (N,). [mm]"""
        return self.box_mm[:, 2]


def inside_mm(room_mm: float) -> float:
    """What may lie in so much room, with a clearance at both sides. [mm]"""
    return max(room_mm - 2 * BAY_CLEARANCE_MM, 0.0)


def lying(job: Job, c: Candidates) -> Lying:
    """How each lies: on the side that suits the bay, and two of them in the way that leaves most room.

    Two that are joined come as a stack (`sizing.pairs`), and are tried beside and behind each other too: the
    way whose tightest side is filled least counts, the stack among equals. As they come where the bay was not
    measured; NaN where the pack was not.
    """
    boxes = np.column_stack([c.length_mm, c.width_mm, c.height_mm])
    alone = _turned(job.bay, boxes, np.ones((len(c), 3), np.int64))
    two = c.is_kind("joined")
    if not two.any():
        return alone
    of_one = np.where(two[:, None], boxes / _TWO["stacked"], boxes)
    laid = [_turned(job.bay, of_one * n, np.tile(n, (len(c), 1))) for n in map(np.array, _TWO.values())]
    best = np.argmin([_fullest(job.bay, way.box_mm) for way in laid], axis=0)
    rows = np.arange(len(c))
    box = np.array([way.box_mm for way in laid])[best, rows]
    count = np.array([way.count for way in laid])[best, rows]
    return Lying(
        np.where(two[:, None], box, alone.box_mm),
        np.where(two[:, None], count, alone.count),
    )


def _turned(bay: Bay, box_mm: Floats, count: NDArray[np.int64]) -> Lying:
    """On the side that suits the bay: its wider side along the bay's."""
    if not (bay.width_mm and bay.height_mm):
        return Lying(box_mm, count)
    wider = box_mm[:, 1] > box_mm[:, 2] if bay.width_mm < bay.height_mm else box_mm[:, 1] < box_mm[:, 2]
    order = np.where(wider[:, None], (0, 2, 1), (0, 1, 2))
    return Lying(np.take_along_axis(box_mm, order, 1), np.take_along_axis(count, order, 1))


def _fullest(bay: Bay, box_mm: Floats) -> Floats:
    """How much of its tightest measured side is taken; 0 where none was measured, or the pack was not."""
    rooms = np.array([max(inside_mm(room), 0.1) if room else np.inf for room in bay.sides_mm])
    return np.asarray(np.nan_to_num(np.max(box_mm / rooms, axis=1), nan=0.0))
