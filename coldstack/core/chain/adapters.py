"""Adapters, charge leads and boards between a pack and what it feeds or is fed by: chains of them, and what
one would buy or make."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import lru_cache, partial
from typing import Annotated, Literal

from coldstack.core.cells.counts import MOST_SERIES
from coldstack.core.chain.own_plugs import depends_on_plugs
from coldstack.core.chain.plugs import PlugEnd, pair_family, plug_family
from coldstack.core.chain.wire import (
    lead_pair_resistance_mohm,
    usual_awg,
    wire_burst_a,
    wire_continuous_a,
)
from coldstack.core.errors import faults, refuse
from coldstack.core.fields import common as ask
from coldstack.core.fields.quantity import Choice, Quantity
from coldstack.core.fields.table import bounds

AdapterKind = Literal["adapter", "lead", "board", "splitter"]
PIECE_KINDS: dict[str, str] = {
    "adapter": "adapter",
    "lead": "charge lead",
    "board": "parallel board",
    "splitter": "splitter for integrated plugs",
    "balance": "balance adapter",
}
"""What goes between plugs, in words; a balance adapter has no main plugs."""
WIRE = Quantity(
    "Wire",
    words="gauge",
    hint="it stands on the insulation; left empty, a thin one is assumed",
    unit="AWG",
    high=40,
    usual=(8, 22),
)
LONGEST_CHAIN = 3
"""More than three adapters in a row is no fix."""
MADE_LENGTH_MM = 60.0
"""Length of an adapter that one would buy or make."""


@dataclass(frozen=True, slots=True)
class Adapter:
    """A piece with a plug at each end.

    ``ends`` are the halves it shows: the first towards the pack, the second towards the device.
    ``continuous_a`` is the maker's rating of the whole piece (of a board: of one socket), None where none
    is given. ``balance_from`` and ``balance_out`` are the balance families that a board or splitter takes
    and brings out, up to ``balance_cells``.
    """

    id: str
    name: Annotated[str, ask.NAME]
    ends: tuple[PlugEnd, PlugEnd]
    awg: Annotated[float, WIRE] = 14
    length_mm: Annotated[float, replace(ask.LENGTH, low=0, high=5000, step=10, usual=(10, 500))] = (
        MADE_LENGTH_MM
    )
    continuous_a: Annotated[
        float | None,
        Quantity("Maker’s rating", "current amps", "of a board: of one socket", "A", 0.1, 1000),
    ] = None
    kind: AdapterKind = "adapter"
    owned: bool = True
    balance_from: Annotated[tuple[str, ...], Choice("Takes balance plugs", of="balance_plugs", most=5)] = ()
    balance_out: Annotated[str, Choice("Brings them out as", of="balance_plugs", empty="none")] = ""
    balance_cells: Annotated[int, Quantity("Up to", unit="cells", high=MOST_SERIES)] = 0
    sockets: Annotated[int, Quantity("Sockets", low=1, high=32, usual=(1, 8))] = 1
    """Packs that a board takes."""
    assumed: frozenset[str] = frozenset()
    """``awg`` where nobody gave the gauge."""
    count: Annotated[
        int | None,
        Quantity("How many there are", hint="left empty: enough; of a board: one", low=1, high=99),
    ] = None
    """How many of it there are; None where nobody said."""

    @property
    def at_once(self) -> int | None:
        """How many charges can use it at once: a board that nobody counted is one, of leads and adapters
        there are enough until somebody says how many."""
        return 1 if self.count is None and self.kind == "board" else self.count

    @property
    def wire_assumed(self) -> bool:
        """Whether what its wire carries rests on a gauge that nobody gave."""
        return "awg" in self.assumed and self.continuous_a is None

    @property
    def wire_a(self) -> float:
        """What its wire carries, or the maker's rating if that is less. [A]"""
        by_wire = wire_continuous_a(self.awg)
        return by_wire if self.continuous_a is None else min(by_wire, self.continuous_a)

    @property
    def wire_burst_a(self) -> float:
        """What its wire carries for ten seconds; a rating given by the maker is not exceeded. [A]"""
        by_wire = wire_burst_a(self.awg)
        return by_wire if self.continuous_a is None else min(by_wire, self.continuous_a)

    @property
    def wire_mohm(self) -> float:
        """Both wires together, without the plugs. [mΩ]"""
        return lead_pair_resistance_mohm(self.awg, self.length_mm)


@dataclass(frozen=True, slots=True)
class BalanceAdapter:
    """A short lead from one balance family to another."""

    id: str
    name: str
    from_plug: str
    to_plug: str
    cells: int


@dataclass(frozen=True, slots=True)
class Path:
    """A way from the pack's plug to a device: pieces in order, and the families of the mated pairs, one more
    than pieces."""

    pieces: tuple[Adapter, ...]
    pairs: tuple[str, ...]

    @property
    def extra_mohm(self) -> float:
        """Resistance beyond one mated pair at the pack: wires and the further pairs. [mΩ]"""
        wires = sum(p.wire_mohm for p in self.pieces)
        return wires + sum(plug_family(f).resistance_mohm for f in self.pairs[1:])

    @property
    def continuous_a(self) -> float:
        """What all of it carries without end. [A]"""
        return min([plug_family(f).continuous_a for f in self.pairs] + [p.wire_a for p in self.pieces])

    @property
    def burst_a(self) -> float:
        """What all of it carries for ten seconds. [A]"""
        return min([plug_family(f).burst_a for f in self.pairs] + [p.wire_burst_a for p in self.pieces])

    def loading(self, rms_a: float, peak_a: float) -> float:
        """Loading of its worst part: RMS amps against continuous limits, the peak against burst limits."""
        return max(rms_a / self.continuous_a, peak_a / self.burst_a)

    @property
    def names(self) -> str:
        """The pieces' names, joined."""
        return " and ".join(p.name for p in self.pieces)

    def ends(self, start: PlugEnd, goal: PlugEnd) -> tuple[tuple[PlugEnd, PlugEnd], ...]:
        """Which way round each piece lies: its end towards the pack's ``start``, and the one that goes on;
        the last meets ``goal``."""
        ways: list[tuple[PlugEnd, tuple[tuple[PlugEnd, PlugEnd], ...]]] = [(start, ())]
        for piece in self.pieces:
            ways = [
                (loose, (*before, (met, loose))) for at, before in ways for met, loose in _ways_in(piece, at)
            ]
        return next(found for loose, found in ways if loose.mates(goal))


def assumed_awg(families: Iterable[str]) -> float:
    """A gauge to go on with where nobody gave it: one that takes half of what the lesser plug does, since
    leads are often thinner than their plugs would let them be. House figure. [AWG]"""
    least = min((plug_family(f).continuous_a for f in families), default=20.0)
    return usual_awg(least / 2)


def check_adapter(adapter: Adapter) -> Adapter:
    """The adapter itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming the field.
    """
    refuse(
        faults(
            *(partial(plug_family, end.family) for end in adapter.ends),
            *bounds(adapter),
        )
    )
    return adapter


@lru_cache(maxsize=512)
def paths(start: PlugEnd, goal: PlugEnd, pieces: tuple[Adapter, ...]) -> tuple[Path, ...]:
    """Every shortest way from a pack's loose end to a device's, each piece used once; empty if there is none.

    A piece joins in when one of its ends mates with what is loose; its other end is loose then. Pieces may
    be used either way round where their halves allow it. A breadth-first search: all results have the
    fewest pieces.
    """
    if start.mates(goal):
        return (Path((), (pair_family(start, goal),)),)
    reached: list[_Way] = [(start, (), (), frozenset({start.family}))]
    for _ in range(LONGEST_CHAIN):
        longer: list[_Way] = [
            (loose, (*used, piece), (*pairs, pair_family(at, met)), seen | {loose.family})
            for at, used, pairs, seen in reached
            for piece in pieces
            if piece not in used
            for met, loose in _ways_in(piece, at)
            if loose.family not in seen
        ]
        found = tuple(
            Path(used, (*pairs, pair_family(loose, goal)))
            for loose, used, pairs, _ in longer
            if loose.mates(goal)
        )
        if found:
            return found
        reached = longer
    return ()


depends_on_plugs(paths.cache_clear)


def coolest(found: Iterable[Path], *, rms_a: float, peak_a: float) -> Path | None:
    """The way whose worst part is least loaded; of equals that of least resistance. None of none."""
    return min(found, key=lambda p: (p.loading(rms_a, peak_a), p.extra_mohm), default=None)


def made_adapter(start: PlugEnd, goal: PlugEnd) -> Adapter:
    """The one piece that would do it: bought, or soldered from two plugs and the thickest wire the smaller
    plug usually takes."""
    smaller = min(plug_family(start.family).continuous_a, plug_family(goal.family).continuous_a)
    awg = usual_awg(smaller)
    name = f"{plug_family(start.family).name} to {plug_family(goal.family).name} adapter"
    return Adapter("to_get", name, (start.mate, goal.mate), awg=awg, owned=False)


_Way = tuple[PlugEnd, tuple[Adapter, ...], tuple[str, ...], frozenset[str]]
"""What is loose, the pieces so far, the families of their mated pairs, and the families passed."""


def _ways_in(piece: Adapter, loose: PlugEnd) -> list[tuple[PlugEnd, PlugEnd]]:
    """The end by which a piece joins in, and the one that is loose then."""
    a, b = piece.ends
    return [(this, other) for this, other in ((a, b), (b, a)) if this.mates(loose)]
