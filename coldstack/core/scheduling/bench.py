"""The bench as a whole: laid-out packs to batches, each batch's ways to be charged, and the schedule on the
ports."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.boards.batches import (
    Batch,
    batch_of,
    batch_pack,
    shared_limit,
    split,
    wants_charge,
)
from coldstack.core.boards.laid import BenchPack, Board
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.amps import Amps, AmpsLimit, Feed, charging_cell_v, with_limit
from coldstack.core.charging.charge_time import charge_time
from coldstack.core.charging.charger import Charger, Input, Supply
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import Bench, ChargeFit, charge_columns, charge_fit, lowest_soc
from coldstack.core.matching.refusals import Refusal, is_useful
from coldstack.core.packs.keys import said_of
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.scheduling.gently import Cost, Pace, cost, gentle_schedule
from coldstack.core.scheduling.schedule import (
    Option,
    Piece,
    Schedule,
    SchedulingProblem,
    Slot,
    Source,
    Station,
    Task,
    option_at,
    why_undone,
)
from coldstack.core.scheduling.schedule_solver import best_schedule
from coldstack.core.units import minutes_words, plain_number

MOST_PACKS = 60
GENTLE_STEP_C = 0.1
"""Gentler rates are looked for in such steps. House figure."""
PACE = "pace"
"""The limit of a charge that is slower than it must be."""


@dataclass(frozen=True, slots=True)
class ChargerInUse:
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
    slowed: bool = False
    """Below what charger and pack would take, to be gentle."""


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
    """Everything: batches, packs kept back, the schedule's problem and answer, and why some batches have no
    place; the pace of it, and what each pace that there is would cost."""

    planned: tuple[Planned, ...]
    kept_back: tuple[BenchPack, ...]
    problem: SchedulingProblem
    schedule: Schedule
    undone: tuple[tuple[str, str], ...]
    pace: Pace
    costs: dict[Pace, Cost]


@dataclass(frozen=True, slots=True)
class When:
    """Until when, how hurried, when somebody is there, and which charges run already. Minutes from now."""

    due_min: int | None = None
    pace: Pace = "gently"
    attended: Sequence[tuple[int, int]] = ((0, 7 * 24 * 60),)
    taken: Sequence[Slot] = ()


def bench_plan(
    laid: Sequence[BenchPack],
    *,
    rules: HouseRules,
    trust: LabelTrust,
    feds: Sequence[ChargerInUse],
    bench: Bench,
    board: Board | None,
    groups: Sequence[Sequence[str]] | None = None,
    when: When | None = None,
) -> BenchPlan:
    """Batches and their schedule.

    ``groups`` are batches by hand, as pack ids; packs that they leave out are split by the program. A group
    that is not allowed is refused: its members are charged alone. Without ``when`` somebody is always there.

    Raises
    ------
    DomainError
        For more packs than a bench holds, or a group with an unknown or unfit pack.
    """
    when = when or When()
    if len(laid) > MOST_PACKS:
        raise DomainError("packs", f"At most {MOST_PACKS} packs can be laid out at once, not {len(laid)}.")
    batches, kept_back = _batches(laid, groups, rules, board)
    alone = [batch_of([m], rules=rules, board=None) for m in kept_back if _only_warm(m)]
    cool_or_warm = [*((b, False) for b in batches), *((b, True) for b in alone)]
    planned = _planned(cool_or_warm, rules, trust, feds, bench, board, slower=when.due_min is not None)
    problem = SchedulingProblem(
        tasks=tuple(_task(p, rules, when.due_min) for p in planned),
        stations=tuple(map(_station, feds)),
        sources=_sources(feds),
        attended=tuple(when.attended),
        taken=tuple(s for s in when.taken if any(f.charger.id == s.option.station for f in feds)),
        pieces=_pieces(bench, board),
    )
    schedules = _schedules(problem, planned)
    used: Pace = when.pace if when.pace in schedules else "soonest"
    schedule = schedules[used]
    undone = tuple(_undone(problem, schedule))
    held = tuple(m for m in kept_back if not _only_warm(m))
    costs = {name: cost(problem, found) for name, found in schedules.items()}
    return BenchPlan(tuple(planned), held, problem, schedule, undone, used, costs)


def _schedules(problem: SchedulingProblem, planned: Sequence[Planned]) -> dict[Pace, Schedule]:
    """At each pace that there is: soonest, by the fastest ways; gently, where there is a time to be ready
    by."""
    soonest = best_schedule(in_haste(problem, planned))
    if all(t.due_min is None for t in problem.tasks):
        return {"soonest": soonest}
    return {"soonest": soonest, "gently": gentle_schedule(problem, soonest)}


def in_haste(problem: SchedulingProblem, planned: Sequence[Planned]) -> SchedulingProblem:
    """The same without the ways that are slower than they must be."""
    quick = {p.batch.id: tuple(w.option for w in p.ways if not w.slowed) for p in planned}
    return replace(problem, tasks=tuple(replace(t, options=quick[t.id]) for t in problem.tasks))


def _undone(problem: SchedulingProblem, schedule: Schedule) -> Iterator[tuple[str, str]]:
    tasks = {t.id: t for t in problem.tasks}
    for task_id in schedule.undone:
        yield task_id, why_undone(problem, tasks[task_id], schedule)


def _task(p: Planned, rules: HouseRules, due_min: int | None) -> Task:
    return Task(
        p.batch.id,
        tuple(w.option for w in p.ways),
        math.ceil(rules.cool_min) if p.after_cooling else 0,
        due_min,
        len(p.batch.members),
    )


def _pieces(bench: Bench, board: Board | None) -> tuple[Piece, ...]:
    """What there are only so many of."""
    here = (*bench.pieces, *((board.piece,) if board else ()))
    return tuple(Piece(a.id, a.name, a.at_once) for a in here if a.at_once is not None)


def needed_pieces(batch: Batch, fit: ChargeFit, board: Board | None) -> tuple[str, ...]:
    """The pieces that a batch on this charger holds: those between charger and pack, or the board with what
    each pack needs to get into it."""
    through = tuple(a.id for a in fit.path.pieces) if fit.path else ()
    if not batch.on_board or board is None:
        return through
    into = tuple(a.id for m in batch.members if m.way for a in m.way.pieces)
    return (board.piece.id, *into, *through)


def _station(fed: ChargerInUse) -> Station:
    charger, source = fed.charger, f"supply:{fed.supply.id}" if fed.supply else ""
    return Station(charger.id, charger.ports, charger.total_w(fed.source), source)


def _sources(feds: Sequence[ChargerInUse]) -> tuple[Source, ...]:
    supplies = {f.supply.id: f.supply for f in feds if f.supply}.values()
    return tuple(Source(f"supply:{s.id}", s.power_w, s.energy_wh) for s in supplies)


def _batches(
    laid: Sequence[BenchPack], groups: Sequence[Sequence[str]] | None, rules: HouseRules, board: Board | None
) -> tuple[list[Batch], list[BenchPack]]:
    by_id = {m.pack.id: m for m in laid}
    grouped, taken = [], set()
    for ids in groups or ():
        members = [_member(by_id, pack_id) for pack_id in ids]
        if any(m.pack.id in taken for m in members) or len({m.pack.id for m in members}) < len(members):
            raise DomainError("groups", "A pack can be in one batch only.")
        # whoever was found warm, or is full by now, leaves its batch
        members = [m for m in members if wants_charge(m, rules)]
        batch = batch_of(members, rules=rules, board=board) if members else None
        if batch is None or (batch.on_board and (board is None or not batch.sharing.allowed)):
            continue
        grouped.append(batch)
        taken |= {m.pack.id for m in members}
    rest, kept_back = split([m for m in laid if m.pack.id not in taken], rules=rules, board=board)
    return [*grouped, *rest], kept_back


def _member(by_id: dict[str, BenchPack], pack_id: str) -> BenchPack:
    if pack_id not in by_id:
        raise DomainError("groups", f"{said_of(pack_id)} is not laid out.")
    return by_id[pack_id]


def _only_warm(m: BenchPack) -> bool:
    return (
        m.reading is not None
        and m.inspection.outcome == "wait"
        and all(f.id in ("warm", "hot", "spread", "apart", "cells_unknown") for f in m.inspection.findings)
    )


def _planned(
    batches: Sequence[tuple[Batch, bool]],
    rules: HouseRules,
    trust: LabelTrust,
    feds: Sequence[ChargerInUse],
    bench: Bench,
    board: Board | None,
    *,
    slower: bool,
) -> list[Planned]:
    """Every batch with its ways, the slower ones if they are asked for; all charge times in one pass."""
    found: list[tuple[int, ChargeFit]] = []
    packs = [batch_pack(b, board) for b, _ in batches]
    refusals: list[list[str]] = [[] for _ in batches]
    for k, (batch, _) in enumerate(batches):
        for fed in feds:
            fits = _fits(batch, packs[k], fed, rules, bench, board)
            found += [(k, f) for f in fits if f.possible]
            if slower:
                found += [(k, f) for f in _slower(fits[0])]
            if not any(f.possible for f in fits):
                refusals[k].append(fits[0].refusals[0].sentence)
    ways = _ways(found, batches, rules, trust, board)
    return [
        Planned(batch, packs[k], tuple(w for j, w in ways if j == k), tuple(refusals[k]), cooling)
        for k, (batch, cooling) in enumerate(batches)
    ]


def _fits(
    batch: Batch, pack: Pack, fed: ChargerInUse, rules: HouseRules, bench: Bench, board: Board | None
) -> list[ChargeFit]:
    """One fit for each number of ports that gives other amps, the most amps first."""
    out: list[ChargeFit] = []
    for ports in range(1, fed.charger.ports + 1):
        fit = charge_fit(
            pack,
            fed.charger,
            rules=rules,
            feed=Feed(fed.source, fed.supply, ports),
            bench=replace(bench, boards=()),
        )
        if fit.amps is not None and batch.on_board and board is not None:
            amps = with_limit(fit.amps, shared_limit(batch, rules, board), fed.charger.step_a)
            refused = fit.refusals or (() if is_useful(pack, amps) else (_too_few(amps),))
            fit = replace(fit, amps=amps, refusals=refused)
        if batch.on_board and fed.charger.by_balance:
            words = f"{fed.charger.name} charges one pack by its balance plug: no board goes to it."
            fit = replace(fit, refusals=(Refusal("board", "no board", words),))
        if not out or (
            fit.possible and fit.amps and out[-1].amps and fit.amps.current_a < out[-1].amps.current_a
        ):
            out.append(fit)
    return out


def _slower(fit: ChargeFit) -> list[ChargeFit]:
    """The same charger at lower rates, a step apart, down to the lowest that counts as charging."""
    if not fit.possible or fit.amps is None:
        return []
    out, ah = [], fit.pack.capacity_ah
    for k in range(math.ceil(fit.amps.current_a / ah / GENTLE_STEP_C) - 1, 0, -1):
        pace = AmpsLimit(
            PACE, "The pace, gently", round(k * GENTLE_STEP_C, 9) * ah, "as slow as there is time for"
        )
        amps = with_limit(fit.amps, pace, fit.charger.step_a)
        if is_useful(fit.pack, amps):
            out.append(replace(fit, amps=amps))
    return out


def _too_few(amps: Amps) -> Refusal:
    return Refusal(
        "slow", "too slow", f"The board lets {amps.current_a:g} A through, too few for this batch."
    )


def _ways(
    found: Sequence[tuple[int, ChargeFit]],
    batches: Sequence[tuple[Batch, bool]],
    rules: HouseRules,
    trust: LabelTrust,
    board: Board | None,
) -> list[tuple[int, Way]]:
    if not found:
        return []
    columns = charge_columns([f for _, f in found], rules=rules, trust=trust)
    starts = [_start(batches[k][0]) for k, _ in found]
    time = charge_time(
        replace(
            columns,
            start_soc=np.array([s for s, _ in starts]),
            lowest_soc=np.array(
                [lowest_soc(f.pack, s) for (s, _), (_, f) in zip(starts, found, strict=True)]
            ),
            balance_ah=np.array(
                [max(b, 0.005 * f.pack.held_ah) for (_, b), (_, f) in zip(starts, found, strict=True)]
            ),
        )
    )
    out = []
    for i, (k, fit) in enumerate(found):
        assert fit.amps is not None
        put_in = float(time.put_in_ah[i])
        option = option_at(
            fit.charger.id,
            current_a=fit.amps.current_a,
            capacity_ah=fit.pack.capacity_ah,
            minutes=max(1, math.ceil(float(time.minutes[i]))),
            full_v=fit.pack.series * charging_cell_v(fit.pack),
            put_in_ah=put_in,
            supplied=fit.feed.supply is not None,
            pieces=needed_pieces(batches[k][0], fit, board),
        )
        slowed = fit.amps.binding.id == PACE
        out.append((k, Way(fit, option, float(time.low[i]), float(time.high[i]), put_in, slowed)))
    return out


def place_words(p: Planned, schedule: Schedule) -> str:
    """Where a batch is charged by the plan, at how many amps, in how many minutes; where it has no place, how
    it could be charged. Empty where no charger here can."""
    n, slot = plain_number, next((s for s in schedule.slots if s.task == p.batch.id), None)
    if slot is not None:
        way = next(w for w in p.ways if w.option == slot.option)
        took = minutes_words(slot.end_min - slot.start_min)
        return f"Planned on {way.fit.charger.name}: {n(slot.option.current_a)} A, about {took}."
    quick = min((w for w in p.ways if not w.slowed), key=lambda w: w.option.minutes, default=None)
    if quick is None:
        return ""
    o = quick.option
    return (
        f"No place in the plan. Alone, {quick.fit.charger.name} would do it at {n(o.current_a)} A in about "
        f"{minutes_words(o.minutes)}."
    )


def _start(batch: Batch) -> tuple[float, float]:
    """Charge of the emptiest cell position once the packs have evened out, and the positions' imbalance.

    [0 to 1], [Ah]
    """
    socs = np.array([m.reading.socs for m in batch.members if m.reading])
    ah = np.array([m.pack.held_ah for m in batch.members])
    positions = (socs * ah[:, None]).sum(axis=0) / ah.sum()
    return float(positions.min()), float(positions.max() - positions.min()) * float(ah.sum())
