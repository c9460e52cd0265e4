"""The bench as a whole: laid-out packs to batches, each batch's ways to be charged, and the schedule on the ports."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.amps import Amps, Feed, charging_cell_v, with_limit
from coldstack.core.charging.batches import (
    Batch,
    batch_of,
    batch_pack,
    socket_limit,
    split,
    wants_charge,
)
from coldstack.core.charging.charge_time import charge_time
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY, Charger, Input, Supply
from coldstack.core.charging.parallel import Board, Laid
from coldstack.core.charging.schedule import (
    Option,
    Problem,
    Schedule,
    Slot,
    Source,
    Station,
    Task,
    why_undone,
)
from coldstack.core.charging.schedule_solver import best_schedule
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import (
    Bench,
    ChargeFit,
    Refusal,
    charge_columns,
    charge_fit,
    is_useful,
)
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules

MOST_PACKS = 60


@dataclass(frozen=True, slots=True)
class Fed:
    """A charger in use, and what it is fed by."""

    charger: Charger
    source: Input
    supply: Supply | None = None


@dataclass(frozen=True, slots=True)
class Way:
    """One way to charge a batch: the fit with its amps, and minutes with their range."""

    fit: ChargeFit
    option: Option
    low_min: float
    high_min: float
    put_in_ah: float


@dataclass(frozen=True, slots=True)
class Planned:
    """A batch with its ways, or with why no charger here can charge it."""

    batch: Batch
    pack: Pack
    ways: tuple[Way, ...]
    refusals: tuple[str, ...]
    after_cooling: bool = False


@dataclass(frozen=True, slots=True)
class BenchPlan:
    """Everything: batches, packs kept back, the schedule's problem and answer, and why some batches have no place."""

    planned: tuple[Planned, ...]
    kept_back: tuple[Laid, ...]
    problem: Problem
    schedule: Schedule
    undone: tuple[tuple[str, str], ...]


def bench_plan(laid: Sequence[Laid], *, rules: HouseRules, trust: LabelTrust, feds: Sequence[Fed], bench: Bench, board: Board | None, groups: Sequence[Sequence[str]] | None = None, due_min: int | None = None, attended: Sequence[tuple[int, int]] = ((0, 7 * 24 * 60),), taken: Sequence[Slot] = ()) -> BenchPlan:  # fmt: skip
    """Batches and their schedule.

    ``groups`` are batches by hand, as pack ids; packs that they leave out are split by the program. A group that is not
    allowed is refused: its members are charged alone. ``taken`` are charges that run already.

    Raises
    ------
    DomainError
        For more packs than a bench holds, or a group with an unknown or unfit pack.
    """
    if len(laid) > MOST_PACKS:
        raise DomainError("packs", f"At most {MOST_PACKS} packs can be laid out at once, not {len(laid)}.")
    batches, kept_back = _batches(laid, groups, rules, board)
    planned = _planned([(b, False) for b in batches] + [(batch_of([m], rules=rules, board=None), True) for m in kept_back if _only_warm(m)], rules, trust, feds, bench, board)  # fmt: skip
    problem = Problem(
        tasks=tuple(Task(p.batch.id, tuple(w.option for w in p.ways), math.ceil(rules.cool_min) if p.after_cooling else 0, due_min, board.piece.id if p.batch.on_board and board else "") for p in planned),
        stations=tuple(Station(f.charger.id, f.charger.ports, f.charger.total_w(f.source), f"supply:{f.supply.id}" if f.supply else "") for f in feds),
        sources=tuple(Source(f"supply:{s.id}", s.power_w, s.energy_wh) for s in {f.supply.id: f.supply for f in feds if f.supply}.values()),
        attended=tuple(attended),
        taken=tuple(s for s in taken if any(f.charger.id == s.option.station for f in feds)),
    )  # fmt: skip
    schedule = best_schedule(problem)
    tasks = {t.id: t for t in problem.tasks}
    undone = tuple((i, why_undone(problem, tasks[i], schedule)) for i in schedule.undone)
    return BenchPlan(tuple(planned), tuple(m for m in kept_back if not _only_warm(m)), problem, schedule, undone)  # fmt: skip


def _batches(laid: Sequence[Laid], groups: Sequence[Sequence[str]] | None, rules: HouseRules, board: Board | None) -> tuple[list[Batch], list[Laid]]:  # fmt: skip
    by_id = {m.pack.id: m for m in laid}
    grouped, taken = [], set()
    for ids in groups or ():
        members = [_member(by_id, pack_id) for pack_id in ids]
        if any(m.pack.id in taken for m in members) or len({m.pack.id for m in members}) < len(members):
            raise DomainError("groups", "A pack can be in one batch only.")
        # whoever was found warm, or is full by now, leaves its batch
        members = [m for m in members if wants_charge(m)]
        batch = batch_of(members, rules=rules, board=board) if members else None
        if batch is None or (batch.on_board and (board is None or not batch.sharing.allowed)):
            continue
        grouped.append(batch)
        taken |= {m.pack.id for m in members}
    rest, kept_back = split([m for m in laid if m.pack.id not in taken], rules=rules, board=board)
    return [*grouped, *rest], kept_back


def _member(by_id: dict[str, Laid], pack_id: str) -> Laid:
    if pack_id not in by_id:
        raise DomainError("groups", f"{pack_id.removeprefix('owned:')} is not laid out.")
    return by_id[pack_id]


def _only_warm(m: Laid) -> bool:
    return m.reading is not None and m.inspection.outcome == "wait" and all(f.id in ("warm", "hot", "spread") for f in m.inspection.findings)  # fmt: skip


def _planned(batches: Sequence[tuple[Batch, bool]], rules: HouseRules, trust: LabelTrust, feds: Sequence[Fed], bench: Bench, board: Board | None) -> list[Planned]:  # fmt: skip
    """Every batch with its ways; all charge times in one pass."""
    found: list[tuple[int, ChargeFit]] = []
    packs = [batch_pack(b, board) for b, _ in batches]
    refusals: list[list[str]] = [[] for _ in batches]
    for k, (batch, _) in enumerate(batches):
        for fed in feds:
            fits = _fits(batch, packs[k], fed, rules, bench, board)
            found += [(k, f) for f in fits if f.possible]
            if not any(f.possible for f in fits):
                refusals[k].append(fits[0].refusals[0].sentence)
    ways = _ways(found, batches, rules, trust)
    return [
        Planned(batch, packs[k], tuple(w for j, w in ways if j == k), tuple(refusals[k]), cooling)
        for k, (batch, cooling) in enumerate(batches)
    ]


def _fits(batch: Batch, pack: Pack, fed: Fed, rules: HouseRules, bench: Bench, board: Board | None) -> list[ChargeFit]:  # fmt: skip
    """One fit for each number of ports that gives other amps, the most amps first."""
    out: list[ChargeFit] = []
    for ports in range(1, fed.charger.ports + 1):
        fit = charge_fit(pack, fed.charger, rules=rules, feed=Feed(fed.source, fed.supply, ports), bench=replace(bench, boards=()))  # fmt: skip
        if fit.amps is not None and batch.on_board and board is not None:
            amps = with_limit(fit.amps, socket_limit(batch, board), fed.charger.step_a)
            refused = fit.refusals or (() if is_useful(pack, amps) else (_too_few(amps),))
            fit = replace(fit, amps=amps, refusals=refused)
        if not out or (fit.possible and fit.amps and out[-1].amps and fit.amps.current_a < out[-1].amps.current_a):  # fmt: skip
            out.append(fit)
    return out


def _too_few(amps: Amps) -> Refusal:
    return Refusal(
        "slow", "too slow", f"The board lets {amps.current_a:g} A through, too few for this batch."
    )


def _ways(found: Sequence[tuple[int, ChargeFit]], batches: Sequence[tuple[Batch, bool]], rules: HouseRules, trust: LabelTrust) -> list[tuple[int, Way]]:  # fmt: skip
    if not found:
        return []
    columns = charge_columns([f for _, f in found], rules=rules, trust=trust)
    starts = [_start(batches[k][0]) for k, _ in found]
    time = charge_time(replace(columns, start_soc=np.array([s for s, _ in starts]), balance_ah=np.array([max(b, 0.005 * f.pack.capacity_ah) for (_, b), (_, f) in zip(starts, found, strict=True)])))  # fmt: skip
    out = []
    for i, (k, fit) in enumerate(found):
        assert fit.amps is not None
        put_in = float(time.put_in_ah[i])
        full_v = fit.pack.series * charging_cell_v(fit.pack)
        watts = fit.amps.current_a * full_v
        supplied = fit.feed.supply is not None
        option = Option(
            fit.charger.id, fit.amps.current_a, fit.amps.current_a / fit.pack.capacity_ah, max(1, math.ceil(float(time.minutes[i]))), watts,
            watts / SUPPLY_EFFICIENCY if supplied else 0.0, put_in * full_v / SUPPLY_EFFICIENCY if supplied else 0.0,
        )  # fmt: skip
        out.append((k, Way(fit, option, float(time.low[i]), float(time.high[i]), put_in)))
    return out


def _start(batch: Batch) -> tuple[float, float]:
    """Charge of the emptiest cell position once the packs have evened out, and the positions' imbalance. [0 to 1], [Ah]"""
    socs = np.array([m.reading.socs for m in batch.members if m.reading])
    ah = np.array([m.pack.capacity_ah for m in batch.members])
    positions = (socs * ah[:, None]).sum(axis=0) / ah.sum()
    return float(positions.min()), float(positions.max() - positions.min()) * float(ah.sum())
