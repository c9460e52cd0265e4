"""Batches: laid-out packs split into the fewest groups that may share a board, of these the soonest ready;
and each batch as one pack."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from coldstack.core.boards.laid import BenchPack, Board
from coldstack.core.boards.parallel import Sharing, governing, sharing
from coldstack.core.boards.rush import own_a, shared_charge_a
from coldstack.core.charging.amps import AmpsLimit, pack_charge_c, pack_limit
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import state_at
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.units import lower_first, plain_number

LEAST_C = 0.05
"""No batch is compared at less: what is too cold to be charged is kept back elsewhere. House figure."""


@dataclass(frozen=True, slots=True)
class Batch:
    """Packs charged together: alone or on a board.

    ``charge_c`` goes with the summed Ah; ``governed_by`` says whose rate it is.
    """

    id: str
    members: tuple[BenchPack, ...]
    sharing: Sharing
    charge_c: float
    governed_by: str

    @property
    def capacity_ah(self) -> float:
        """All members together. [Ah]"""
        return sum(m.pack.capacity_ah for m in self.members)

    @property
    def on_board(self) -> bool:
        """Whether it needs the board."""
        return len(self.members) > 1

    @property
    def rule_a(self) -> float:
        """Amps that label and house rules allow on the summed capacity. [A]"""
        return self.charge_c * self.capacity_ah


def split(
    laid: Sequence[BenchPack], *, rules: HouseRules, board: Board | None
) -> tuple[list[Batch], list[BenchPack]]:
    """Batches of all packs that passed and are not full, and the others.

    Packs of one kind are sorted by their volts; only neighbours share a board, so the best split is a
    shortest path over the cuts between them: fewest batches first, then the least sum of minutes until each
    pack is full.
    """
    passed = [m for m in laid if wants_charge(m, rules)]
    kinds: dict[tuple[str, int], list[BenchPack]] = {}
    for m in passed:
        kinds.setdefault((m.pack.chemistry, m.pack.series), []).append(m)
    groups: list[list[BenchPack]] = []
    for members in kinds.values():
        members.sort(key=lambda m: (-_mean_v(m), m.pack.id))
        groups += _split_kind(members, rules, board)
    return [batch_of(g, rules=rules, board=board) for g in groups], [m for m in laid if m not in passed]


def wants_charge(m: BenchPack, rules: HouseRules) -> bool:
    """Whether it passed the inspection, was read, and is not as full as these rules charge it."""
    if not m.inspection.passed or m.reading is None:
        return False
    socs = m.reading.socs
    return state_at(m.pack.chemistry, sum(socs) / len(socs), rules) != "full"


def batch_of(members: Sequence[BenchPack], *, rules: HouseRules, board: Board | None) -> Batch:
    """These packs as one batch, allowed or not: `Sharing.reasons` tells why not."""
    lowest = governing(members, rules)
    shared = _shared(tuple(members), rules, board)
    name = "+".join(m.pack.called for m in members)
    return Batch(
        name,
        tuple(members),
        shared,
        pack_charge_c(lowest.pack, rules),
        _governed_by(lowest, rules),
    )


def as_usual(batch: Batch, most_a: float, rules: HouseRules) -> bool:
    """Whether the house's rate alone governs it, and nothing lowers that."""
    by_rules = pack_limit(governing(batch.members, rules).pack, rules).id == "rules"
    return by_rules and most_a >= batch.charge_c * batch.capacity_ah * (1 - 1e-9)


def _governed_by(m: BenchPack, rules: HouseRules) -> str:
    """Whose charge rate it is, and by what."""
    limit = pack_limit(m.pack, rules)
    if limit.id == "rules":
        return rules.cited
    if limit.id != "label":
        return f"{m.tag}: {lower_first(limit.name)}"
    if m.pack.charge_c is None:
        return f"common practice, since the label of {m.tag} gives no charge rate"
    return f"the label of {m.tag}"


def batch_pack(batch: Batch, board: Board | None) -> Pack:
    """The batch as one pack for charger, plugs and charge time: summed Ah, resistances in parallel, the
    board's plug."""
    first = batch.members[0].pack
    if not batch.on_board or board is None:
        return first
    cell_mohm = 1 / sum(1 / m.cell_mohm for m in batch.members)
    held_ah = sum(m.pack.held_ah for m in batch.members)
    loose = board.piece.ends[1]
    return replace(
        first,
        id=f"batch:{batch.id}",
        name=f"{len(batch.members)} packs on the board",
        capacity_ah=batch.capacity_ah,
        mass_g=sum(m.pack.mass_g for m in batch.members),
        parallel=sum(m.pack.parallel for m in batch.members),
        charge_c=batch.charge_c,
        cell_mohm=cell_mohm,
        today=StateOfHealth(capacity_ah=held_ah),
        learnt=None,
        plug=loose.family,
        plug_half=loose.half,
        balance_plug=board.piece.balance_out,
        lead_awg=board.piece.awg,
        lead_length_mm=board.piece.length_mm,
        note="",
        fit=True,
        owned=False,
    )


def shared_limit(batch: Batch, rules: HouseRules, board: Board) -> AmpsLimit:
    """The batch's amps at which no pack, and no socket, gets more than it may have, however they divide it.
    [A]"""
    amps, binds = _shared_a(batch.members, rules, board, batch.rule_a)
    return AmpsLimit(
        "shared",
        f"How {board.piece.name} divides it",
        amps,
        "simulated: nobody gets more than it may",
        ("of ", batch.rule_a, f" A together, as {binds.tag} gets the most for its size"),
    )


def at_most(batch: Batch, rules: HouseRules, board: Board | None) -> tuple[float, str]:
    """The amps that the batch itself takes, and in words what they follow from."""
    n = plain_number
    together = " + ".join(n(m.pack.capacity_ah) for m in batch.members)
    words = f"{together} Ah at {n(batch.charge_c)}C, by {batch.governed_by}"
    if not batch.on_board or board is None or not batch.sharing.allowed:
        return batch.rule_a, words
    amps, binds = _shared_a(batch.members, rules, board, batch.rule_a)
    if amps < 0.99 * batch.rule_a:
        own = plain_number(own_a(binds, rules))
        words += f", less what {binds.tag} would get of it beyond its own {own} A"
    return amps, words


def _split_kind(members: list[BenchPack], rules: HouseRules, board: Board | None) -> list[list[BenchPack]]:
    count = len(members)
    best: list[tuple[float, float]] = [(0, 0.0)] + [(math.inf, math.inf)] * count
    cut = [0] * (count + 1)
    for end in range(1, count + 1):
        for start in range(end - 1, -1, -1):
            part = tuple(members[start:end])
            if len(part) > 1 and (board is None or len(part) > board.sockets):
                break
            if len(part) > 1 and not _shared(part, rules, board).allowed:
                continue
            cost = (best[start][0] + 1, best[start][1] + len(part) * _minutes(part, rules))
            if cost < best[end]:
                best[end], cut[end] = cost, start
    groups, end = [], count
    while end:
        groups.append(members[cut[end] : end])
        end = cut[end]
    return groups[::-1]


@lru_cache(maxsize=1024)
def _shared_a(
    members: tuple[BenchPack, ...], rules: HouseRules, board: Board, most_a: float
) -> tuple[float, BenchPack]:
    return shared_charge_a(members, rules, board, most_a)


@lru_cache(maxsize=4096)
def _shared(members: tuple[BenchPack, ...], rules: HouseRules, board: Board | None) -> Sharing:
    if len(members) < 2 or board is None:
        return Sharing(())
    return sharing(members, rules=rules, board=board)


def _minutes(members: Sequence[BenchPack], rules: HouseRules) -> float:
    c = max(pack_charge_c(governing(members, rules).pack, rules), LEAST_C)
    full = for_chemistry(rules, members[0].pack.chemistry).start_soc
    lowest = min(m.reading.lowest_soc for m in members if m.reading)
    return 60 * max(full - lowest, 0.0) / c


def _mean_v(m: BenchPack) -> float:
    return m.reading.mean_v if m.reading else 0.0
