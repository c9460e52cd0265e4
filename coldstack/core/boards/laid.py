"""Packs as they lie on the bench, and the board that joins them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.resistance import BEST_HONEST_C, LabelTrust, resistance_from_c_mohm
from coldstack.core.chain.adapters import Adapter, Path, coolest, paths
from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.inspection import Inspection
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading
from coldstack.core.trial.candidates import from_packs


@dataclass(frozen=True, slots=True)
class Board:
    """A parallel board or harness, a piece that joins main plugs: how many sockets, and what one takes."""

    piece: Adapter

    @property
    def sockets(self) -> int:
        """How many packs it takes."""
        return self.piece.sockets

    @property
    def socket_a(self) -> float:
        """Fuse or rating of one socket, the plug's own where none is given. [A]"""
        own = plug_family(self.piece.ends[0].family).continuous_a
        return own if self.piece.continuous_a is None else min(own, self.piece.continuous_a)

    @property
    def socket_rush_a(self) -> float:
        """What a socket takes for a moment: its fuse or rating, or the plug's burst where none is given.
        [A]"""
        own = plug_family(self.piece.ends[0].family).burst_a
        return own if self.piece.continuous_a is None else min(own, self.piece.continuous_a)


@dataclass(frozen=True, slots=True)
class BenchPack:
    """A pack laid out on the bench: inspected, its cells read, its resistance known or worked back from the
    label."""

    pack: Pack
    reading: PackReading | None
    inspection: Inspection
    cell_mohm: float
    outside_mohm: float
    way: Path | None = None
    """Through which pieces it gets into the board's socket; None if it does not."""

    @property
    def tag(self) -> str:
        """What it is called in a sentence."""
        return self.pack.called


def laid_packs(
    packs: Sequence[Pack],
    readings: Sequence[PackReading | None],
    inspections: Sequence[Inspection],
    *,
    trust: LabelTrust,
    board: Board | None,
    pieces: tuple[Adapter, ...] = (),
) -> list[BenchPack]:
    """Packs with what is needed to judge them.

    Resistances as sizing takes them; where nobody measured one, that of the best cells that are met at least:
    a label that promises more would make the rush greater than it is.
    """
    if not packs:
        return []
    known = from_packs(packs, trust)
    best = resistance_from_c_mohm(BEST_HONEST_C, known.capacity_ah)
    measured = np.array([p.measured_resistance is not None for p in packs])
    cell_mohm = np.where(measured, known.cell_mohm, np.maximum(known.cell_mohm, best)).tolist()
    return [
        BenchPack(
            p,
            readings[i],
            inspections[i],
            cell_mohm[i],
            float(known.outside_mohm[i]),
            _way(p, board, pieces),
        )
        for i, p in enumerate(packs)
    ]


def _way(pack: Pack, board: Board | None, pieces: tuple[Adapter, ...]) -> Path | None:
    if board is None:
        return None
    found = paths(pack.plug_end, board.piece.ends[0], pieces)
    return coolest(found, rms_a=pack.capacity_ah, peak_a=pack.capacity_ah)
