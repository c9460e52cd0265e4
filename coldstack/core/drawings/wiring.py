"""The wiring as it would lie on the bench: its parts, their plugs, what is plugged into what.

Each part brings what is drawn (`WiredPart`) and what it is to the circuit. Columns go from where the current
comes from to where it goes; rows are packs beside each other.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.balance import balance_plug_name
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.drawings.circuit import Cell, Circuit, Half, Pole, Wire

WiredKind = Literal["pack", "series_lead", "parallel_lead", "piece", "board", "model", "charger", "supply"]
LEADS_FOR_TWO: tuple[WiredKind, ...] = ("series_lead", "parallel_lead")
Side = Literal["left", "right"]
What = Literal["main", "balance", "feed"]


@dataclass(frozen=True, slots=True)
class Plug:
    """One half of a plug of a part. ``family`` is the main plug's or the balance plug's, empty of what feeds
    a charger; ``poles`` are its contacts from plus to minus. ``half`` is the pack's or the device's."""

    id: str
    what: What
    family: str
    name: str
    half: str
    side: Side
    poles: tuple[Pole, ...]
    bare: bool = False
    """Metal that stands in the open when it is not plugged in."""
    assumed: bool = False
    """Nobody said which family it is."""


@dataclass(frozen=True, slots=True)
class Inner:
    """One wire within a part, from a contact of one of its plugs to one of another."""

    from_plug: str
    from_pole: Pole
    to_plug: str
    to_pole: Pole
    thin: bool = False

    @property
    def wire(self) -> Wire:
        """The same in the circuit."""
        return Wire(node_of(self.from_plug, self.from_pole), node_of(self.to_plug, self.to_pole), self.thin)


@dataclass(frozen=True, slots=True)
class WiredPart:
    """One thing on the bench. ``cells`` of a pack, 0 of what has none, each of ``strings`` beside each other;
    ``awg`` and ``length_mm`` of its main wires, None where nobody said."""

    id: str
    kind: WiredKind
    name: str
    detail: str
    column: int
    row: int
    plugs: tuple[Plug, ...]
    inner: tuple[Inner, ...] = ()
    cells: int = 0
    awg: float | None = None
    length_mm: float | None = None
    strings: int = 1


@dataclass(frozen=True, slots=True)
class WiredBench:
    """Parts with the circuit they are."""

    parts: tuple[WiredPart, ...] = ()
    circuit: Circuit = field(default_factory=Circuit)

    def __add__(self, other: WiredBench) -> WiredBench:
        return WiredBench(self.parts + other.parts, self.circuit + other.circuit)

    def plug(self, plug_id: str) -> Plug:
        """One of its plugs."""
        return next(p for part in self.parts for p in part.plugs if p.id == plug_id)

    def owner(self, plug_id: str) -> WiredPart:
        """The part that one of its plugs is of."""
        return next(part for part in self.parts if any(p.id == plug_id for p in part.plugs))

    def part(self, kind: WiredKind) -> WiredPart | None:
        """The first of its parts of a kind; None if there is none."""
        return next((part for part in self.parts if part.kind == kind), None)


def laid(parts: Sequence[WiredBench]) -> WiredBench:
    """All of them on one bench."""
    return sum(parts, WiredBench())


def main_plug(
    part: str, name: str, end: PlugEnd, side: Side, *, loose_metal: bool = True, assumed: bool = False
) -> Plug:
    """A main plug of a part. A family that goes in either way round is bare metal; a pack's own is as it was
    sold, and not to be helped here."""
    family = plug_family(end.family)
    bare = not family.keyed and loose_metal
    poles = ("plus", "minus")
    return Plug(f"{part}.{name}", "main", family.id, family.name, end.half, side, poles, bare, assumed)


def balance_plug(part: str, name: str, family: str, taps: int, half: str, side: Side) -> Plug:
    """A balance plug of a part, with so many wires."""
    return Plug(f"{part}.{name}", "balance", family, balance_plug_name(family), half, side, _taps(taps))


def node_of(plug: str, pole: Pole) -> str:
    """The node that a contact of a plug is."""
    return f"{plug}:{pole}"


def _taps(count: int) -> tuple[Pole, ...]:
    """Contacts of a balance plug, the highest first."""
    return tuple(f"tap {k}" for k in reversed(range(count)))


def _half(plug: Plug, *, fed: bool = False) -> Half:
    """The plug in the circuit: each contact a node of its own."""
    contacts = tuple((pole, node_of(plug.id, pole)) for pole in plug.poles)
    return Half(plug.id, contacts, bare=plug.bare, thin=plug.what == "balance", fed=fed)


def _halves(plugs: Sequence[Plug], fed: Sequence[Plug] = ()) -> dict[str, Half]:
    return {p.id: _half(p, fed=p in fed) for p in plugs}


def _through(a: Plug, b: Plug) -> tuple[Inner, ...]:
    """Plus to plus and minus to minus, or each balance wire to its own."""
    thin = a.what == "balance"
    return tuple(Inner(a.id, pole, b.id, pole, thin) for pole in a.poles if pole in b.poles)


def _made(part: WiredPart, fed: Sequence[Plug] = ()) -> WiredBench:
    """A part that is wires between plugs, with its circuit."""
    return WiredBench((part,), Circuit((), tuple(x.wire for x in part.inner), _halves(part.plugs, fed)))


def pack_laid(
    part: str,
    name: str,
    detail: str,
    *,
    cell_v: Sequence[float],
    end: PlugEnd,
    awg: float,
    lead_mm: float,
    balance: str | None = None,
    column: int = 0,
    row: int = 0,
    side: Side = "right",
    assumed: bool = False,
    strings: int = 1,
) -> WiredBench:
    """A pack of so many cells in series at these volts, ``strings`` of them side by side at each place, with
    its main plug and its balance plug."""
    n = len(cell_v)
    taps = [f"{part}:{k}" for k in range(n + 1)]
    cells = tuple(Cell(taps[k], taps[k + 1], v, part) for k, v in enumerate(cell_v) for _ in range(strings))
    main = main_plug(part, "main", end, side, loose_metal=False, assumed=assumed)
    plugs = [main]
    wires = [Wire(taps[n], node_of(main.id, "plus")), Wire(taps[0], node_of(main.id, "minus"))]
    if balance is not None:
        thin = balance_plug(part, "balance", balance, n + 1, "pack", side)
        plugs.append(thin)
        wires += [Wire(tap, node_of(thin.id, f"tap {k}"), thin=True) for k, tap in enumerate(taps)]
    drawn = WiredPart(part, "pack", name, detail, column, row, tuple(plugs), (), n, awg, lead_mm, strings)
    return WiredBench((drawn,), Circuit(cells, tuple(wires), _halves(plugs)))


def lead_for_two(
    part: str,
    joined: Literal["series", "parallel"],
    end: PlugEnd,
    *,
    awg: float,
    column: int,
    packs_at: Side = "left",
) -> WiredBench:
    """The lead that joins two packs of one plug, in series or in parallel, and ends in that plug again."""
    away: Side = "right" if packs_at == "left" else "left"
    first, second = (main_plug(part, f"in {k}", end.mate, packs_at) for k in (0, 1))
    out = main_plug(part, "out", end, away)
    if joined == "parallel":
        inner = (*_through(first, out), *_through(second, out))
    else:
        # plus of the first goes on, its minus meets the second's plus
        inner = (
            Inner(first.id, "plus", out.id, "plus"),
            Inner(first.id, "minus", second.id, "plus"),
            Inner(second.id, "minus", out.id, "minus"),
        )
    kind: WiredKind = "series_lead" if joined == "series" else "parallel_lead"
    return _made(WiredPart(part, kind, f"{joined} lead", "", column, 0, (first, second, out), inner, awg=awg))


def piece_laid(
    part: str,
    piece: Adapter,
    ends: tuple[PlugEnd, PlugEnd],
    *,
    column: int,
    packs_at: Side,
    row: int = 0,
    balance: tuple[str, str] | None = None,
    taps: int = 0,
) -> WiredBench:
    """An adapter or a lead, its first end towards the packs; a splitter or a board takes so many balance
    wires by a plug of one family and brings them out by another."""
    away: Side = "right" if packs_at == "left" else "left"
    near, far = main_plug(part, "near", ends[0], packs_at), main_plug(part, "far", ends[1], away)
    plugs: tuple[Plug, ...] = near, far
    wires = _through(near, far)
    if balance is not None:
        takes = balance_plug(part, "balance near", balance[0], taps, "device", packs_at)
        brings = balance_plug(part, "balance far", balance[1], taps, "pack", away)
        plugs, wires = (*plugs, takes, brings), (*wires, *_through(takes, brings))
    return _made(
        WiredPart(part, "piece", piece.name, "", column, row, plugs, wires, 0, piece.awg, piece.length_mm)
    )


def balance_piece_laid(part: str, name: str, family: str, to: str, taps: int, *, column: int) -> WiredBench:
    """A balance adapter between a pack on its right and a charger."""
    near = balance_plug(part, "near", family, taps, "device", "right")
    far = balance_plug(part, "far", to, taps, "pack", "left")
    return _made(WiredPart(part, "piece", name, "", column, 1, (near, far), _through(near, far)))


def board_laid(
    part: str, board: Adapter, packs: int, *, cells: int, column: int, balanced: bool
) -> WiredBench:
    """A parallel board: all sockets on one pair of rails, and the balance wires likewise."""
    socket, out_end = board.ends
    out = main_plug(part, "out", out_end, "left")
    sockets = [main_plug(part, f"in {k}", socket, "right") for k in range(packs)]
    inner = [w for s in sockets for w in _through(s, out)]
    plugs = [out, *sockets]
    if balanced:
        family = board.balance_out or board.balance_from[0]
        thin_out = balance_plug(part, "balance out", family, cells + 1, "pack", "left")
        for k in range(packs):
            thin = balance_plug(part, f"balance {k}", board.balance_from[0], cells + 1, "device", "right")
            inner += _through(thin, thin_out)
            plugs.append(thin)
        plugs.append(thin_out)
    words = f"{packs} of {board.sockets} sockets"
    drawn = WiredPart(part, "board", board.name, words, column, 0, tuple(plugs), tuple(inner), awg=board.awg)
    return _made(drawn, sockets)


def model_laid(
    part: str,
    name: str,
    detail: str,
    end: PlugEnd,
    *,
    awg: float,
    lead_mm: float,
    column: int,
    assumed: bool = False,
) -> WiredBench:
    """A model: its plug, its leads, its controller."""
    plug = main_plug(part, "main", end, "left", loose_metal=False, assumed=assumed)
    drawn = WiredPart(part, "model", name, detail, column, 0, (plug,), (), 0, awg, lead_mm)
    return _made(drawn, (plug,))


def charger_laid(
    part: str,
    name: str,
    detail: str,
    output: PlugEnd | None,
    *,
    balance: str | None,
    cells: int,
    column: int,
    feed: str = "",
) -> WiredBench:
    """A charger's port: its output, and the balance port that fits; an output of None where it charges by the
    balance plug alone. ``feed`` is what feeds it, in words."""
    plugs = [] if output is None else [main_plug(part, "out", output, "right", loose_metal=False)]
    if balance is not None:
        plugs.append(balance_plug(part, "balance", balance, cells + 1, "device", "right"))
    if feed:
        plugs.append(_feed_plug(part, feed, "device", "left"))
    drawn = WiredPart(part, "charger", name, detail, column, 0, tuple(plugs))
    return _made(drawn, [p for p in plugs if p.what != "balance"])


def supply_laid(
    part: str, name: str, detail: str, *, volts: float | None, feed: str, column: int
) -> WiredBench:
    """What feeds a charger: its volts, or None of the mains and of what nobody named."""
    out = _feed_plug(part, feed, "pack", "right")
    cells = () if volts is None else (Cell(node_of(out.id, "minus"), node_of(out.id, "plus"), volts, part),)
    return WiredBench(
        (WiredPart(part, "supply", name, detail, column, 0, (out,)),), Circuit(cells, (), _halves([out]))
    )


def _feed_plug(part: str, name: str, half: str, side: Side) -> Plug:
    return Plug(f"{part}.feed", "feed", "", name, half, side, ("plus", "minus"))
