"""The bench's plan as the API says it: batches, slots, what each supply gives, what is kept back."""

from __future__ import annotations

from datetime import datetime, timedelta
from itertools import pairwise

from coldstack.core.boards.batches import Batch, as_usual, at_most, split
from coldstack.core.boards.laid import BenchPack
from coldstack.core.boards.rush import FirstMinutes, first_minutes
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.errors import DomainError
from coldstack.core.packs.keys import said_of
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.safety.cautions import BENCH_CAUTIONS
from coldstack.core.scheduling.bench import BenchPlan, Planned, Way, When, bench_plan, place_words
from coldstack.core.scheduling.schedule import Slot, Source, Station, option_at, supply_wh, use_over_time
from coldstack.core.units import minutes_words
from coldstack.core.watching.expected import left_ah
from coldstack.server.bench import replies as r
from coldstack.server.bench import schemas as s
from coldstack.server.bench.assemble import (
    DAYS_AHEAD,
    OnBench,
    as_written,
    board_sharing,
    on_bench,
    sharing_out,
)
from coldstack.server.charges.seen import expected_of
from coldstack.server.devices.asking import linked
from coldstack.server.gear import assemble as gear
from coldstack.server.life.replies import now_fields
from coldstack.server.rules.assemble import all_rules


def planned(b: OnBench) -> tuple[BenchPlan, int | None, list[tuple[int, int]]]:
    """The plan of a bench, the minutes until it is to be ready, and the spans at the bench."""
    at = as_written(b.data.at or datetime(2000, 1, 3, 9, 0))  # noqa: DTZ001  (local times have no zone)
    ready_by = b.data.ready_by
    due = None if ready_by is None else int((as_written(ready_by) - at).total_seconds() // 60)
    if due is not None and due <= 0:
        raise DomainError("ready_by", "The ready-by time lies in the past.")
    spans = spans_of(at, b.data.attended)
    free = b.free
    aside = {*b.busy, *b.problems}
    groups = [[x for x in g if x not in aside] for g in b.data.groups]
    found = bench_plan(
        free,
        rules=b.rules,
        trust=b.data.label_trust,
        feds=b.feds,
        bench=b.bench,
        board=b.board,
        groups=[g for g in groups if g],
        when=When(due, b.data.pace, spans, _taken(b)),
    )
    return found, due, spans


def plan_out(data: s.BenchIn) -> r.BenchPlanOut:
    """The whole bench, computed."""
    b = on_bench(data)
    plan, due, spans = planned(b)
    at = b.data.at or datetime(2000, 1, 3, 9, 0)  # noqa: DTZ001
    return r.BenchPlanOut(
        headline=_headline(b, plan, due),
        laid=[_laid_out(b, m) for m in b.laid],
        batches=[_batch_out(b, p, plan) for p in plan.planned],
        apart=_apart(b, [p.batch for p in plan.planned if not p.after_cooling]),
        schools=[_school(b, rules) for rules in all_rules().values()],
        slots=_slots(plan, at),
        held=_held(b, plan),
        uses=_uses(b, plan),
        undone=[r.UndoneOut(batch=i, tags=_tags(_by_id(plan, i).batch), why=why) for i, why in plan.undone],
        stations=_stations(b),
        boards=[r.ChoiceOut(id=x.piece.id, name=f"{x.piece.name}, {x.sockets} sockets") for x in b.boards],
        board=b.board.piece.id if b.board else "",
        supplies=[r.ChoiceOut(id=x.id, name=x.name) for x in gear.supplies()],
        due_min=due,
        pace=plan.pace,
        costs=_costs(plan, at),
        spans=[r.SpanOut(start_min=a, end_min=b) for a, b in spans],
        cautions=list(BENCH_CAUTIONS),
        checker=bool(linked().get("checker")),
    )


def _costs(plan: BenchPlan, at: datetime) -> list[r.PaceOut]:
    return [
        r.PaceOut(
            pace=pace,
            start_at=None if c.start_min is None else at + timedelta(minutes=c.start_min),
            end_at=None if c.end_min is None else at + timedelta(minutes=c.end_min),
            cost=c,
            saves_cycles=plan.costs["soonest"].cycles - c.cycles,
        )
        for pace, c in plan.costs.items()
    ]


def _taken(b: OnBench) -> list[Slot]:
    """Running charges as slots that began at minute zero, for as long as they are expected to last."""
    out = []
    for c in b.running:
        fed = next((f for f in b.feds if f.charger.name == c.charger_name), None)
        if fed is None:
            continue
        e = expected_of(c)
        option = option_at(
            fed.charger.id,
            current_a=e.current_a,
            capacity_ah=e.capacity_ah,
            minutes=max(1, round(float(c.settings.get("minutes", e.timer_s / 60)) - c.time_s / 60)),
            full_v=e.series * e.full_cell_v,
            put_in_ah=left_ah(e, c.time_s),
            supplied=fed.supply is not None,
            pieces=tuple(c.expected.get("pieces", ())),
        )
        out.append(Slot(f"running {c.pk}", option, c.port, 0))
    return out


def spans_of(at: datetime, attended: list[s.SpanIn]) -> list[tuple[int, int]]:
    """The hours at the bench from now on, for some days. [min]"""
    midnight = at.replace(hour=0, minute=0, second=0, microsecond=0)
    out = []
    for day in range(DAYS_AHEAD):
        for span in attended:
            a, b = (midnight + timedelta(days=day, minutes=_clock_min(x)) for x in (span.start, span.end))
            if a >= b:
                raise DomainError(
                    "attended", f"From {span.start} to {span.end} is no span: it ends before it begins."
                )
            start, end = int((a - at).total_seconds() // 60), int((b - at).total_seconds() // 60)
            if end > 0:
                out.append((max(start, 0), end))
    return sorted(out)


def _clock_min(clock: str) -> int:
    hours, minutes = clock.split(":")
    return 60 * int(hours) + int(minutes)


def _laid_out(b: OnBench, m: BenchPack) -> r.BenchPackOut:
    pack, standing = m.pack, b.standings[m.pack.id]
    return r.BenchPackOut(
        **now_fields(standing),
        pack=pack.id,
        tag=said_of(pack.id),
        name=pack.name,
        chemistry_name=chemistry(pack.chemistry).name,
        capacity_ah=pack.capacity_ah,
        spread_v=m.reading.spread_v if m.reading else None,
        outcome=m.inspection.outcome,
        findings=[f for f in m.inspection.findings if not (f.id == "unread" and pack.id in b.problems)],
        problem=b.problems.get(pack.id, ""),
        at_room=standing.now.told.at_room,
    )


def _tags(batch: Batch) -> list[str]:
    return [said_of(m.pack.id) for m in batch.members]


def _batch_out(b: OnBench, p: Planned, plan: BenchPlan) -> r.BatchOut:
    batch, members = p.batch, list(p.batch.members)
    shared = board_sharing(b, members) if batch.on_board else batch.sharing
    most_a, words = at_most(batch, b.rules, b.board)
    return r.BatchOut(
        id=batch.id,
        packs=[m.pack.id for m in members],
        tags=_tags(batch),
        series=members[0].pack.series,
        chemistry_name=chemistry(members[0].pack.chemistry).name,
        capacity_ah=batch.capacity_ah,
        charge_c=batch.charge_c,
        most_a=most_a,
        sentence=words,
        usual=as_usual(batch, most_a, b.rules),
        sharing=sharing_out(members, shared),
        ways=[_way_out(w) for w in p.ways if not w.slowed],
        place=place_words(p, plan.schedule),
        refusals=list(p.refusals),
        after_cooling=p.after_cooling,
        first_minutes=_first_minutes(b, p, plan),
    )


def _first_minutes(b: OnBench, p: Planned, plan: BenchPlan) -> FirstMinutes | None:
    """How a board divides the current, at the amps of the plan; None for a pack alone."""
    at = next((s.option for s in plan.schedule.slots if s.task == p.batch.id), None)
    at = at or next((w.option for w in p.ways), None)
    return first_minutes(p.batch.members, at.current_a, b.rules) if at and p.batch.on_board else None


def _way_out(way: Way) -> r.WayOut:
    o, fit = way.option, way.fit
    return r.WayOut(
        charger=o.station,
        charger_name=fit.charger.name,
        current_a=o.current_a,
        charge_c=o.charge_c,
        minutes=o.minutes,
        low_min=way.low_min,
        high_min=way.high_min,
        watts=o.watts,
        binding=fit.amps.binding.name if fit.amps else "",
        through=[x.name for x in fit.path.pieces] if fit.path else [],
    )


def _apart(b: OnBench, batches: list[Batch]) -> list[r.ApartOut]:
    """Between neighbouring batches of one kind: the two packs nearest to each other, and why not they."""
    out = []
    for first, second in pairwise(batches):
        one, two = first.members[-1], second.members[0]
        alike = (one.pack.chemistry, one.pack.series) == (two.pack.chemistry, two.pack.series)
        if alike and b.board is not None and chemistry(one.pack.chemistry).charge_method == "cc_cv":
            found = board_sharing(b, [one, two])
            if not found.allowed:
                out.append(
                    r.ApartOut(first=first.id, second=second.id, sharing=sharing_out([one, two], found))
                )
    return out


def _school(b: OnBench, rules: HouseRules) -> r.SchoolOut:
    batches, _ = split(b.free, rules=rules, board=b.board)
    return r.SchoolOut(id=rules.id, name=rules.name, batches=[_tags(x) for x in batches])


def _by_id(plan: BenchPlan, batch_id: str) -> Planned:
    return next(p for p in plan.planned if p.batch.id == batch_id)


def _slots(plan: BenchPlan, at: datetime) -> list[r.SlotOut]:
    out = []
    for i, slot in enumerate(plan.schedule.slots):
        p = _by_id(plan, slot.task)
        way = next(w for w in p.ways if w.option == slot.option)
        out.append(
            r.SlotOut(
                order=i + 1,
                batch=slot.task,
                tags=_tags(p.batch),
                charger=slot.option.station,
                charger_name=way.fit.charger.name,
                port=slot.port,
                start_min=slot.start_min,
                end_min=slot.end_min,
                start_at=at + timedelta(minutes=slot.start_min),
                end_at=at + timedelta(minutes=slot.end_min),
                current_a=slot.option.current_a,
                watts=slot.option.watts,
                binding=way.fit.amps.binding.name if way.fit.amps else "",
                late_min=slot.late_min,
                put_in_mah=1000 * way.put_in_ah,
            )
        )
    return out


def _held(b: OnBench, plan: BenchPlan) -> list[r.HeldOut]:
    labels, names = (
        {f"running {c.pk}": c.label for c in b.running},
        {f.charger.id: f.charger.name for f in b.feds},
    )
    return [
        r.HeldOut(
            label=labels[x.task],
            charger=x.option.station,
            charger_name=names[x.option.station],
            port=x.port,
            end_min=x.end_min,
        )
        for x in plan.problem.taken
    ]


def _uses(b: OnBench, plan: BenchPlan) -> list[r.UseOut]:
    steps, used = use_over_time(plan.problem, plan.schedule), supply_wh(plan.problem, plan.schedule)
    names = {f.charger.id: f.charger.name for f in b.feds} | {
        f"supply:{f.supply.id}": f.supply.name for f in b.feds if f.supply
    }
    things: list[Station | Source] = [*plan.problem.stations, *plan.problem.sources]
    out = []
    for thing in things:
        thing_id, watts = thing.id, thing.watts
        if steps[thing_id]:
            out.append(
                r.UseOut(
                    id=thing_id,
                    name=names[thing_id],
                    limit_w=watts,
                    minutes=[m for m, _ in steps[thing_id]],
                    watts=[w for _, w in steps[thing_id]],
                    used_wh=used.get(thing_id),
                    limit_wh=getattr(thing, "wh", None),
                )
            )
    return out


def _stations(b: OnBench) -> list[r.StationOut]:
    devices = linked().get("chargers") or {}
    return [
        r.StationOut(
            charger=f.charger.id,
            name=f.charger.name,
            ports=f.charger.ports,
            use=f in b.feds,
            source=f.source,
            supply=f.supply.id if f.supply else None,
            inputs=list(f.charger.inputs),
            linked=f.charger.name in devices,
        )
        for f in sorted((*b.feds, *b.unused), key=lambda f: f.charger.name)
    ]


def _nothing(b: OnBench) -> str:
    """Why no batch is planned."""
    if all(b.standings[m.pack.id].now.charge == "full" for m in b.laid):
        return "What lies here is full." if len(b.laid) > 1 else f"{b.laid[0].tag} is full."
    if any(not m.reading for m in b.laid):
        return "Nothing can be charged yet: read the packs."
    return "Nothing here can be charged."


def _headline(b: OnBench, plan: BenchPlan, due: int | None) -> str:
    if not b.laid:
        return "Lay out the packs that you want to charge."
    slots, done = plan.schedule.slots, len(plan.schedule.slots)
    if not slots and b.busy:
        return "Charging. Nothing else is waiting."
    if not slots:
        return _nothing(b)
    packs = sum(len(_by_id(plan, s.task).batch.members) for s in slots)
    late = [s for s in slots if s.late_min]
    words = (
        f"{packs} pack{'s' * (packs > 1)} in {done} batch{'es' * (done > 1)}, all full in "
        f"{minutes_words(plan.schedule.finish_min)}"
    )
    if due is not None:
        words += f"; {len(late)} of them late" if late else "; in time"
    return words + "."
