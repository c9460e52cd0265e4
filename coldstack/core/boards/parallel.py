"""Who may share a parallel board, and why not: what must never be joined, the house rule on volts, and the
currents by physics."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from coldstack.core.boards.balance_wires import balance_wire_currents
from coldstack.core.boards.laid import BenchPack, Board
from coldstack.core.boards.rush import Reason, rush_of, rush_reasons
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import soc_factor
from coldstack.core.chain.balance import BALANCE_WIRE_A, balance_plug_name
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import lead_pair_resistance_mohm
from coldstack.core.charging.amps import pack_charge_c
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import apart, too_far_apart_to_join
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import plain_number

Floats = NDArray[np.float64]

BALANCE_WIRE_MOHM = lead_pair_resistance_mohm(24, 150) / 2 + 10
"""One balance wire with its pins: 150 mm of 24 AWG, 10 mΩ of contacts. Typical."""


@dataclass(frozen=True, slots=True)
class Sharing:
    """The outcome for packs on one board; currents at the moment of joining, positive into a pack, and the
    seconds for which they are above what it may be charged at, shape (N,).

    ``wire_a`` is the worst balance wire if those are joined first; ``calm_s`` the seconds until every main
    current is calm. Without readings there are no currents.
    """

    reasons: tuple[Reason, ...]
    spread_v: float | None = None
    currents_a: tuple[float, ...] = ()
    over_s: tuple[float, ...] = ()
    wire_a: float | None = None
    calm_s: float | None = None

    @property
    def allowed(self) -> bool:
        """Whether nothing forbids it."""
        return not self.reasons


def sharing(
    members: Sequence[BenchPack],
    *,
    rules: HouseRules,
    board: Board,
    balance_first: bool = False,
) -> Sharing:
    """Whether these packs may be joined on this board, with every reason why not and the currents.

    ``balance_first``: the balance plugs go in before the main plugs, so their wires take the first rush.
    """
    reasons = [*_each(members, rules), *_alike(members), *_board(members, board)]
    if any(r.id in ("chemistry", "series", "unread", "cells_unknown") for r in reasons) or len(members) < 2:
        return Sharing(tuple(reasons))
    cell_v = np.array([m.reading.cell_v for m in members if m.reading])
    spread = float((cell_v.max(axis=0) - cell_v.min(axis=0)).max())
    rush = rush_of(members, rules)
    wires = _balance_wires(members, cell_v) if members[0].pack.series > 1 else 0.0
    reasons += _house_rule(members, cell_v, spread, rules)
    reasons += rush_reasons(members, rush, board)
    if balance_first and wires > BALANCE_WIRE_A:
        reasons.append(
            Reason(
                "balance_wire",
                f"With the balance plugs in first, {wires:.1f} A rush through a wire that takes "
                f"{plain_number(BALANCE_WIRE_A)} A. Join the main plugs first.",
            )
        )
    return Sharing(tuple(reasons), spread, rush.first_a, rush.over_s, wires, rush.calm_s)


def governing(members: Sequence[BenchPack], rules: HouseRules) -> BenchPack:
    """The pack that sets the charge C of packs joined in parallel: the one that may be charged the slowest.

    Joined packs share the current about by their capacities, so every one of them is charged at the same C.
    """
    return min(members, key=lambda m: pack_charge_c(m.pack, rules))


def _each(members: Sequence[BenchPack], rules: HouseRules) -> list[Reason]:
    out = []
    for m in members:
        if m.reading is None:
            out.append(Reason("unread", f"{m.pack.name} was not read."))
        elif not m.inspection.passed:
            out.append(Reason("unfit", f"{m.pack.name} did not pass: {m.inspection.findings[0].sentence}"))
        elif len(members) > 1 and m.pack.series > 1:
            out += _among_themselves(m, m.reading.spread_v, rules)
    return out


def _among_themselves(m: BenchPack, spread_v: float | None, rules: HouseRules) -> list[Reason]:
    far = apart(m.pack.chemistry, spread_v, rules)
    if far == "unknown":
        words = f"The cells of {m.tag} were not read one by one: it charges alone."
        return [Reason("cells_unknown", words)]
    if far != "act":
        return []
    words = f"The cells of {m.tag} differ by {spread_v:.3f} V among themselves: it charges alone."
    return [Reason("outlier", words)]


def _alike(members: Sequence[BenchPack]) -> list[Reason]:
    first = members[0].pack
    out = []
    for m in members[1:]:
        p = m.pack
        if p.chemistry != first.chemistry:
            out.append(
                Reason(
                    "chemistry",
                    f"{chemistry(p.chemistry).name} is never joined with "
                    f"{chemistry(first.chemistry).name}: they are full at different volts.",
                )
            )
        if p.series != first.series:
            out.append(
                Reason(
                    "series",
                    f"A {p.series}S pack is never joined with a {first.series}S pack, under any house "
                    f"rules: {_rush_words(first, p)}",
                )
            )
    if chemistry(first.chemistry).charge_method == "peak" and len(members) > 1:
        out.append(
            Reason(
                "peak",
                f"{chemistry(first.chemistry).name} is not charged in parallel: the end of each pack is "
                "its own peak, which the others hide.",
            )
        )
    return list({(r.id, r.sentence): r for r in out}.values())


def _rush_words(a: Pack, b: Pack) -> str:
    more, less = (a, b) if a.series > b.series else (b, a)
    full = chemistry(more.chemistry).full_v
    return (
        f"{more.series * full:.1f} V against {less.series * full:.1f} V would overcharge the smaller "
        "one at once."
    )


def _board(members: Sequence[BenchPack], board: Board) -> list[Reason]:
    out = []
    name, count = board.piece.name, len(members)
    if count > board.sockets:
        words = f"{name} has {board.sockets} sockets; these are {count} packs."
        out.append(Reason("sockets", words))
    used: set[str] = set()
    for m in members:
        if m.way is None:
            socket = plug_family(board.piece.ends[0].family).name
            words = (
                f"{m.pack.name} has {plug_family(m.pack.plug).name}; the board’s sockets are {socket}, "
                "and no adapter here joins them."
            )
            out.append(Reason("plug", words))
            continue
        twice = next((p for p in m.way.pieces if p.id in used), None)
        if twice is not None:
            out.append(Reason("plug", f"{m.pack.name} needs the {twice.name} too, and there is one."))
        used |= {p.id for p in m.way.pieces}
        out += _balance_of(m.pack, board)
    return out


def _balance_of(pack: Pack, board: Board) -> list[Reason]:
    piece = board.piece
    if pack.series > 1 and pack.balance_family not in piece.balance_from:
        plug = balance_plug_name(pack.balance_family)
        words = f"{pack.name} has {plug} balance plug, which {piece.name} does not take."
    elif pack.series > piece.balance_cells:
        words = f"{piece.name} balances {piece.balance_cells} cells; {pack.name} has {pack.series}."
    else:
        return []
    return [Reason("balance", words)]


def _house_rule(
    members: Sequence[BenchPack], cell_v: Floats, spread_v: float, rules: HouseRules
) -> list[Reason]:
    if not too_far_apart_to_join(spread_v, rules):
        return []
    k = int((cell_v.max(axis=0) - cell_v.min(axis=0)).argmax())
    low, high = members[int(cell_v[:, k].argmin())], members[int(cell_v[:, k].argmax())]
    return [
        Reason(
            "spread",
            f"Cell {k + 1} differs by {spread_v:.3f} V between {low.tag} and {high.tag}; {rules.cited} "
            f"allow {plain_number(rules.parallel_spread_v)} V a cell.",
        )
    ]


def _balance_wires(members: Sequence[BenchPack], cell_v: Floats) -> float:
    ohm = np.array(
        [[m.cell_mohm * soc_factor(z) / 1000 for z in m.reading.socs] for m in members if m.reading]
    )
    _, wires = balance_wire_currents(cell_v, ohm, BALANCE_WIRE_MOHM / 1000)
    return float(np.abs(wires).max())
