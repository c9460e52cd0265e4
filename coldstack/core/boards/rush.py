"""What flows between packs on a board: when they are joined, and while they are charged together.

A rush counts by how much and how long: of the charge current for a second or two is nothing, minutes of it or
many times it is.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from coldstack.core.boards.board_circuit import FIRST_A, OVER_S, Joined, Until
from coldstack.core.boards.laid import BenchPack, Board
from coldstack.core.cells.open_circuit import ocv_curve
from coldstack.core.cells.resistance import SPREADING, slow_time_constant_s, soc_factor_curve
from coldstack.core.charging.amps import pack_limit
from coldstack.core.charging.charge_time import LOW, RESISTANCE_FACTORS
from coldstack.core.discharge.simulate import CURVE_STRIDE
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import SECONDS_PER_HOUR, plain_number

Floats = NDArray[np.float64]

TRACK_MOHM = 1.0
"""A board's tracks and fuse to one socket. Typical."""
RUSH_TIMES, RUSH_S = 3.0, 10.0
"""A rush may be three times a pack's own charge current at its first instant, and above it for ten seconds.
House figure."""
CALM_SHARE = 0.2
"""Calm: every current under a fifth of the smallest pack's charge current. House figure."""
OVER_SHARE = 1.04
"""Charged together a pack may pass its own charge current by so much for longer than ten seconds. The house
says 5 %; a hundredth is left to the steps."""
ESTIMATED_SHARE, ALIKE_SHARE = 1 - RESISTANCE_FACTORS[LOW], 0.1
"""By so much the resistance of a pack that nobody measured may be lower; beside others by the same label,
which are out by the same, by less. House figure."""
CLOSE_A = 0.001
"""How closely the amps of a batch are sought."""
LONGEST_S = 4 * SECONDS_PER_HOUR
LONGEST_CHARGE_S = 12 * SECONDS_PER_HOUR
SHOWN_S, SHOWN_ROWS = 300.0, 300
"""The first minutes, in which the currents change."""


@dataclass(frozen=True, slots=True)
class Reason:
    """Why packs may not be joined. ``id`` names the rule."""

    id: str
    sentence: str


@dataclass(frozen=True, slots=True)
class Rush:
    """Of each pack as it is joined: the current at the first instant, positive into it, and the seconds above
    its own charge current, in or out, shape (N,); seconds until all are calm. [A], [s]"""

    first_a: tuple[float, ...]
    over_s: tuple[float, ...]
    own_a: tuple[float, ...]
    calm_s: float


@dataclass(frozen=True, slots=True)
class FirstMinutes:
    """What each pack takes from the moment at which they are joined and charged at ``charge_a``: seconds
    (T,), amps (N, T); and what each may be charged at, (N,)."""

    charge_a: float
    time_s: tuple[float, ...]
    current_a: tuple[tuple[float, ...], ...]
    own_a: tuple[float, ...]


def own_a(m: BenchPack, rules: HouseRules) -> float:
    """What a pack may be charged at by its label and the house rules, whatever it is joined with. [A]"""
    return pack_limit(m.pack, rules).current_a


def rush_of(members: Sequence[BenchPack], rules: HouseRules) -> Rush:
    """What flows when these packs are joined and nothing charges them yet; all were read."""
    own = np.array([own_a(m, rules) for m in members])
    until = Until(0.0, math.inf, CALM_SHARE * float(own.min()), LONGEST_S)
    found, calm_s, _ = _exchange(_joined(members), until, own, _no_trace(len(members)))
    first, over = (tuple(map(float, found[:, x])) for x in (FIRST_A, OVER_S))
    return Rush(first, over, tuple(map(float, own)), calm_s)


def rush_reasons(members: Sequence[BenchPack], rush: Rush, board: Board) -> list[Reason]:
    """Why these packs may not be joined for what flows then, told in amps and seconds."""
    n, out = plain_number, []
    for m, amps, over_s, own in zip(members, rush.first_a, rush.over_s, rush.own_a, strict=True):
        plugs = math.inf if m.way is None else m.way.burst_a
        limits = [
            (RUSH_TIMES * own, f"{n(RUSH_TIMES * own)} A, {n(RUSH_TIMES)} times that, are the most"),
            (board.socket_rush_a, f"the board’s socket takes {n(board.socket_rush_a)} A"),
            (plugs, f"its plugs take {n(plugs)} A for a moment"),
        ]
        limit, words = min(limits)
        if abs(amps) <= limit + 1e-9:
            if over_s <= RUSH_S:
                continue
            words = f"{n(RUSH_S)} s are the most"
        flows = f"{abs(amps):.1f} A rush {'into' if amps > 0 else 'out of'} {m.tag} when joined"
        if over_s > 0:
            flows += f", and stay above the {n(own)} A that it may be charged at for {over_s:.0f} s"
        out.append(Reason("rush", f"{flows}; {words}."))
    return out


def shared_charge_a(
    members: Sequence[BenchPack], rules: HouseRules, board: Board, most_a: float
) -> tuple[float, BenchPack]:
    """The most amps, up to ``most_a``, at which no pack passes what it or its socket takes, and the pack that
    binds.

    Joined packs divide a current by their resistances at first and by their charge later, so the sum of what
    they may have each is too much for packs that are not alike. Sought by halving.
    """
    joined = _joined(members)
    takes = np.array([_takes_a(m, members, rules, board) for m in members])
    full_v = members[0].pack.series * for_chemistry(rules, members[0].pack.chemistry).full_v

    def over(amps: float) -> Floats:
        until = Until(amps, full_v, 0.0, LONGEST_CHARGE_S)
        found, _, _ = _exchange(joined, until, takes, _no_trace(len(members)))
        return np.asarray(found[:, OVER_S])

    last = over(most_a)
    if last.max() <= RUSH_S:
        return most_a, members[int(np.argmin(takes))]
    low, high = 0.0, most_a
    while high - low > CLOSE_A:
        middle = (low + high) / 2
        seconds = over(middle)
        if seconds.max() > RUSH_S:
            high, last = middle, seconds
        else:
            low = middle
    return low, members[int(last.argmax())]


def _takes_a(m: BenchPack, members: Sequence[BenchPack], rules: HouseRules, board: Board) -> float:
    """What a pack may get by the reckoned split: what it and its socket take; less where its resistance is
    only estimated, since one that is so much lower draws more, up to its part of the rest. [A]"""
    takes = min(OVER_SHARE * own_a(m, rules), _socket_a(m, board))
    if m.pack.measured_mohm is not None:
        return takes
    part = m.pack.held_ah / sum(x.pack.held_ah for x in members)
    same = len({(x.pack.capacity_ah, x.pack.label_c) for x in members}) == 1
    return takes * (1 - (ALIKE_SHARE if same else ESTIMATED_SHARE) * (1 - part))


def first_minutes(members: Sequence[BenchPack], charge_a: float, rules: HouseRules) -> FirstMinutes:
    """What each pack takes while the board charges them at so many amps."""
    trace = np.zeros((SHOWN_ROWS, len(members) + 1))
    full_v = members[0].pack.series * for_chemistry(rules, members[0].pack.chemistry).full_v
    until = Until(charge_a, full_v, 0.0, SHOWN_S)
    _, _, rows = _exchange(_joined(members), until, np.full(len(members), math.inf), trace)
    return FirstMinutes(
        charge_a,
        tuple(map(float, trace[:rows, 0])),
        tuple(tuple(map(float, x)) for x in trace[:rows, 1:].T),
        tuple(own_a(m, rules) for m in members),
    )


def warm_up() -> None:
    """Have the steps of a board compiled: seconds the first time, a moment after."""
    two, curves = np.ones(2), np.ones((2, 2))
    joined = Joined(np.full((2, 1), 0.5), two, two, two, two, curves, 1.0)
    _exchange(joined, Until(1.0, math.inf, 0.0, 1.0), two, _no_trace(2))


def _socket_a(m: BenchPack, board: Board) -> float:
    return min(board.socket_a, math.inf if m.way is None else m.way.continuous_a)


def _outside_mohm(m: BenchPack) -> float:
    return m.outside_mohm + TRACK_MOHM + (m.way.extra_mohm if m.way else 0.0)


def _joined(members: Sequence[BenchPack]) -> Joined:
    kind = members[0].pack.chemistry
    return Joined(
        np.array([m.reading.socs for m in members if m.reading]),
        np.array([m.pack.held_ah for m in members]),
        np.array([m.cell_mohm / 1000 for m in members]),
        np.array([SPREADING[kind].middle / 1000 / m.pack.held_ah for m in members]),
        np.array([_outside_mohm(m) / 1000 for m in members]),
        _curves(kind),
        slow_time_constant_s(kind),
    )


@cache
def _curves(chemistry_id: str) -> Floats:
    return np.array([ocv_curve(chemistry_id), soc_factor_curve()])[:, ::CURVE_STRIDE].copy()


def _exchange(joined: Joined, until: Until, limit_a: Floats, trace: Floats) -> tuple[Floats, float, int]:
    # Numba takes a second to import, which a bench without a board need not wait for
    from coldstack.core.boards.exchange import exchange

    found: tuple[Floats, float, int] = exchange(joined, until, limit_a, trace)
    return found


def _no_trace(packs: int) -> Floats:
    return np.zeros((0, packs + 1))
