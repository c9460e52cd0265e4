"""Who may share a parallel board, and why not: what must never be joined, the house rule on volts, and the currents by physics."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import LabelTrust, soc_factor
from coldstack.core.chain.adapters import Adapter, Path, coolest, paths
from coldstack.core.chain.balance import balance_plug_name
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import lead_pair_resistance_mohm
from coldstack.core.charging.amps import label_charge_c
from coldstack.core.charging.cell_readings import PackReading
from coldstack.core.charging.inspection import Inspection
from coldstack.core.charging.joined import balance_wire_currents, settling_currents, settling_seconds
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.sizing.candidates import from_packs
from coldstack.core.units import plain_number

Floats = NDArray[np.float64]

BALANCE_WIRE_A = 3.0
"""What a balance wire and its pin take for a while. Typical."""
BALANCE_WIRE_MOHM = lead_pair_resistance_mohm(24, 150) / 2 + 10
"""One balance wire with its pins: 150 mm of 24 AWG, 10 mΩ of contacts. Typical."""
TRACK_MOHM = 1.0
"""A board's tracks and fuse to one socket. Typical."""


@dataclass(frozen=True, slots=True)
class Board:
    """A parallel board or harness: the piece that joins the main plugs, how many sockets, and what one of them takes."""

    piece: Adapter
    sockets: int

    @property
    def socket_a(self) -> float:
        """Fuse or rating of one socket, the plug's own where none is given. [A]"""
        own = plug_family(self.piece.ends[0].family).continuous_a
        return own if self.piece.continuous_a is None else min(own, self.piece.continuous_a)


@dataclass(frozen=True, slots=True)
class Laid:
    """A pack laid out on the bench: inspected, its cells read, its resistance known or worked back from the label."""

    pack: Pack
    reading: PackReading | None
    inspection: Inspection
    cell_mohm: float
    outside_mohm: float
    way: Path | None = None
    """Through which pieces it gets into the board's socket; None if it does not."""


@dataclass(frozen=True, slots=True)
class Reason:
    """Why packs may not be joined. ``id`` names the rule."""

    id: str
    sentence: str


@dataclass(frozen=True, slots=True)
class Sharing:
    """The outcome for packs on one board; currents at the moment of joining, positive into a pack, shape (N,).

    ``wire_a`` is the worst balance wire if those are joined first; ``calm_s`` the seconds until every main current is under 1 A.
    Without readings there are no currents.
    """

    reasons: tuple[Reason, ...]
    spread_v: float | None = None
    common_v: float | None = None
    currents_a: tuple[float, ...] = ()
    wire_a: float | None = None
    calm_s: float | None = None

    @property
    def allowed(self) -> bool:
        """Whether nothing forbids it."""
        return not self.reasons


def laid_packs(packs: Sequence[Pack], readings: Sequence[PackReading | None], inspections: Sequence[Inspection], *, trust: LabelTrust, board: Board | None, pieces: tuple[Adapter, ...] = ()) -> list[Laid]:  # fmt: skip
    """Packs with what is needed to judge them; resistances as sizing takes them."""
    if not packs:
        return []
    known = from_packs(packs, trust)
    return [
        Laid(p, readings[i], inspections[i], float(known.resistance_mohm[i]), float(known.outside_mohm[i]), _way(p, board, pieces))
        for i, p in enumerate(packs)
    ]  # fmt: skip


def sharing(members: Sequence[Laid], *, rules: HouseRules, board: Board, balance_first: bool = False, timed: bool = True) -> Sharing:  # fmt: skip
    """Whether these packs may be joined on this board, with every reason why not and the currents.

    ``balance_first``: the balance plugs go in before the main plugs, so their wires take the first rush. ``timed`` false leaves
    out the seconds, which take the longest to find.
    """
    reasons = [*_each(members, rules), *_alike(members), *_board(members, board)]
    if any(r.id in ("chemistry", "series", "unread") for r in reasons) or len(members) < 2:
        return Sharing(tuple(reasons))
    cell_v = np.array([m.reading.cell_v for m in members if m.reading])
    spread = float((cell_v.max(axis=0) - cell_v.min(axis=0)).max())
    common, currents = settling_currents(cell_v.sum(axis=1), _pack_ohm(members))
    wires = _balance_wires(members, cell_v) if members[0].pack.series > 1 else 0.0
    reasons += _house_rule(members, cell_v, spread, rules)
    reasons += _rush(members, currents, board)
    if balance_first and wires > BALANCE_WIRE_A:
        reasons.append(Reason("balance_wire", f"With the balance plugs in first, {wires:.1f} A rush through a wire that takes {plain_number(BALANCE_WIRE_A)} A. Join the main plugs first."))  # fmt: skip
    calm = _calm_s(members) if timed else None
    return Sharing(tuple(reasons), spread, common, tuple(float(a) for a in currents), wires, calm)


def governing_c(members: Sequence[Laid], rules: HouseRules) -> tuple[float, Laid]:
    """The charge C for packs joined in parallel, and the pack that sets it: the lowest label rate, or the house rule's.

    Joined packs share the current about by their capacities, so every one of them is charged at the same C.
    """
    lowest = min(members, key=lambda m: label_charge_c(m.pack))
    return min(label_charge_c(lowest.pack), rules.charge_c_limit), lowest


def _way(pack: Pack, board: Board | None, pieces: tuple[Adapter, ...]) -> Path | None:
    if board is None:
        return None
    found = paths(pack.plug_end, board.piece.ends[0], pieces)
    return coolest(found, rms_a=pack.capacity_ah, peak_a=pack.capacity_ah)


def _each(members: Sequence[Laid], rules: HouseRules) -> list[Reason]:
    out = []
    for m in members:
        if m.reading is None:
            out.append(Reason("unread", f"{m.pack.name} was not read."))
        elif not m.inspection.passed:
            out.append(Reason("unfit", f"{m.pack.name} did not pass: {m.inspection.findings[0].sentence}"))
        elif len(members) > 1 and m.pack.series > 1 and m.reading.spread_v >= rules.spread_act_v - 1e-9:
            out.append(Reason("outlier", f"The cells of {_tag(m.pack)} differ by {m.reading.spread_v:.3f} V among themselves: it charges alone."))  # fmt: skip
    return out


def _alike(members: Sequence[Laid]) -> list[Reason]:
    first = members[0].pack
    out = []
    for m in members[1:]:
        p = m.pack
        if p.chemistry != first.chemistry:
            out.append(Reason("chemistry", f"{chemistry(p.chemistry).name} is never joined with {chemistry(first.chemistry).name}: they are full at different volts."))  # fmt: skip
        if p.series != first.series:
            out.append(Reason("series", f"A {p.series}S pack is never joined with a {first.series}S pack, under any house rules: {_rush_words(first, p)}"))  # fmt: skip
    if chemistry(first.chemistry).charge_method == "peak" and len(members) > 1:
        out.append(Reason("peak", f"{chemistry(first.chemistry).name} is not charged in parallel: the end of each pack is its own peak, which the others hide."))  # fmt: skip
    return list({(r.id, r.sentence): r for r in out}.values())


def _rush_words(a: Pack, b: Pack) -> str:
    more, less = (a, b) if a.series > b.series else (b, a)
    full = chemistry(more.chemistry).full_v
    return f"{more.series * full:.1f} V against {less.series * full:.1f} V would overcharge the smaller one at once."


def _board(members: Sequence[Laid], board: Board) -> list[Reason]:
    out = []
    if len(members) > board.sockets:
        out.append(Reason("sockets", f"{board.piece.name} has {board.sockets} sockets; these are {len(members)} packs."))  # fmt: skip
    used: set[str] = set()
    for m in members:
        socket = plug_family(board.piece.ends[0].family).name
        if m.way is None:
            out.append(Reason("plug", f"{m.pack.name} has {plug_family(m.pack.plug).name}; the board’s sockets are {socket}, and no adapter here joins them."))  # fmt: skip
            continue
        twice = next((p for p in m.way.pieces if p.id in used), None)
        if twice is not None:
            out.append(Reason("plug", f"{m.pack.name} needs the {twice.name} too, and there is one."))
        used |= {p.id for p in m.way.pieces}
        if m.pack.series > 1 and m.pack.balance_family not in board.piece.balance_from:
            out.append(Reason("balance", f"{m.pack.name} has {balance_plug_name(m.pack.balance_family)} balance plug, which {board.piece.name} does not take."))  # fmt: skip
        elif m.pack.series > board.piece.balance_cells:
            out.append(Reason("balance", f"{board.piece.name} balances {board.piece.balance_cells} cells; {m.pack.name} has {m.pack.series}."))  # fmt: skip
    return out


def _house_rule(members: Sequence[Laid], cell_v: Floats, spread_v: float, rules: HouseRules) -> list[Reason]:
    if spread_v <= rules.parallel_spread_v + 1e-9:
        return []
    k = int((cell_v.max(axis=0) - cell_v.min(axis=0)).argmax())
    low, high = members[int(cell_v[:, k].argmin())].pack, members[int(cell_v[:, k].argmax())].pack
    return [Reason("spread", f"Cell {k + 1} differs by {spread_v:.3f} V between {_tag(low)} and {_tag(high)}; {rules.cited} allow {plain_number(rules.parallel_spread_v)} V a cell.")]  # fmt: skip


def _rush(members: Sequence[Laid], currents: Floats, board: Board) -> list[Reason]:
    out = []
    for m, amps in zip(members, currents, strict=True):
        charge_a = label_charge_c(m.pack) * m.pack.capacity_ah
        plugs = math.inf if m.way is None else m.way.continuous_a
        limits = [(board.socket_a, f"the board’s socket takes {plain_number(board.socket_a)} A"), (plugs, f"its plugs take {plain_number(plugs)} A")]  # fmt: skip
        if amps > 0:
            limits.append((charge_a, f"it may be charged at {plain_number(charge_a)} A"))
        limit, words = min(limits)
        if abs(amps) > limit + 1e-9:
            out.append(Reason("rush", f"{abs(amps):.1f} A rush {'into' if amps > 0 else 'out of'} {_tag(m.pack)} when joined; {words}."))  # fmt: skip
    return out


def _tag(pack: Pack) -> str:
    return pack.id.removeprefix("owned:") if pack.owned else pack.name


def _pack_ohm(members: Sequence[Laid]) -> Floats:
    def one(m: Laid) -> float:
        assert m.reading is not None
        cells = sum(m.cell_mohm * soc_factor(z) for z in m.reading.socs)
        return (cells + m.outside_mohm + TRACK_MOHM + (m.way.extra_mohm if m.way else 0.0)) / 1000

    return np.array([one(m) for m in members])


def _balance_wires(members: Sequence[Laid], cell_v: Floats) -> float:
    ohm = np.array([[m.cell_mohm * soc_factor(z) / 1000 for z in m.reading.socs] for m in members if m.reading])  # fmt: skip
    _, wires = balance_wire_currents(cell_v, ohm, BALANCE_WIRE_MOHM / 1000)
    return float(np.abs(wires).max())


def _calm_s(members: Sequence[Laid]) -> float:
    first = members[0].pack
    socs = np.array([np.mean(m.reading.socs) for m in members if m.reading])
    outside = np.array([m.outside_mohm + TRACK_MOHM + (m.way.extra_mohm if m.way else 0.0) for m in members])
    return settling_seconds(
        first.chemistry, first.series, socs, np.array([m.pack.capacity_ah for m in members]),
        np.array([m.cell_mohm for m in members]) / 1000, outside / 1000,
    )  # fmt: skip
