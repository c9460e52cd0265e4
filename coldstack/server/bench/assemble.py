"""Between the API's shapes, the stored gear and the core's values of the bench."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from itertools import pairwise

from django.utils import timezone

from coldstack.core.bench.plan import BenchPlan, Fed, Planned, Way, bench_plan
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.charging.batches import Batch, amps_sentence, batch_of, split
from coldstack.core.charging.cell_readings import PackReading, check_reading, typed_cells
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY
from coldstack.core.charging.inspection import SIGNS, inspection
from coldstack.core.charging.parallel import Board, Laid, Sharing, laid_packs, sharing
from coldstack.core.charging.schedule import Option, Slot, Source, Station, supply_wh, use_over_time
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import Bench, best_feed
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.cautions import BENCH_CAUTIONS
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import minutes_words
from coldstack.server.bench import replies as r
from coldstack.server.bench import schemas as s
from coldstack.server.bench.devices import linked
from coldstack.server.bench.models import Charge
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import Piece
from coldstack.server.logbook.models import PackRecord
from coldstack.server.rules.assemble import all_rules, rules_of
from coldstack.server.sizing.replies import CautionOut

DAYS_AHEAD = 4


@dataclass(frozen=True, slots=True)
class OnBench:
    """A bench as the core knows it; ``problems`` are faults of what was typed, by pack id."""

    laid: list[Laid]
    problems: dict[str, str]
    rules: HouseRules
    bench: Bench
    board: Board | None
    boards: list[Board]
    feds: list[Fed]
    unused: list[Fed]
    running: list[Charge]
    data: s.BenchIn

    @property
    def busy(self) -> set[str]:
        """Ids of the packs that are charging now."""
        return {x for c in self.running for x in c.packs}

    def member(self, pack_id: str) -> Laid:
        """The laid-out pack with this id; raises DomainError for another."""
        for m in self.laid:
            if m.pack.id == pack_id:
                return m
        raise DomainError("pack", f"{pack_id.removeprefix('owned:')} is not laid out.")

    def fed(self, charger_id: str) -> Fed:
        """A charger as it is fed, used now or not; raises DomainError for an unknown one."""
        for f in (*self.feds, *self.unused):
            if f.charger.id == charger_id:
                return f
        raise DomainError("charger", "There is no such charger any more.")


def on_bench(data: s.BenchIn, rules: HouseRules | None = None) -> OnBench:
    """Rows and typed readings as the core's values; ``rules`` for others than those the bench goes by. Six queries however many packs.

    Raises
    ------
    DomainError
        For unknown packs, signs, boards or rules.
    """
    rules, bench = rules or rules_of(data.house_rules), gear.bench()
    boards = _boards(bench)
    board = _board(data.board, boards)
    owned = {p.id: p for p in gear.owned_packs()}
    packs = [_owned(owned, line.pack, i) for i, line in enumerate(data.laid)]
    if len({p.id for p in packs}) < len(packs):
        raise DomainError("laid", "A pack is laid out twice.")
    problems: dict[str, str] = {}
    readings = [_reading(p, line, problems) for p, line in zip(packs, data.laid, strict=True)]
    run_ago = _minutes_since_run([pack_tag(p.id) for p in packs])
    inspections = [
        inspection(
            p,
            signs=line.signs,
            reading=reading,
            temperature_c=line.temperature_c,
            rules=rules,
            run_ago_min=run_ago.get(pack_tag(p.id)),
        )
        for p, line, reading in zip(packs, data.laid, readings, strict=True)
    ]
    laid = laid_packs(packs, readings, inspections, trust=data.label_trust, board=board, pieces=bench.pieces)
    feds, unused = _feds(data)
    running = list(Charge.objects.filter(state="charging"))
    return OnBench(laid, problems, rules, bench, board, boards, feds, unused, running, data)


def planned(b: OnBench) -> tuple[BenchPlan, int | None, list[tuple[int, int]]]:
    """The plan of a bench, the minutes until it is to be ready, and the spans at the bench."""
    at = b.data.at or datetime(2000, 1, 3, 9, 0)  # noqa: DTZ001  (local times have no zone)
    due = None if b.data.ready_by is None else int((b.data.ready_by - at).total_seconds() // 60)
    if due is not None and due <= 0:
        raise DomainError("ready_by", "The ready-by time lies in the past.")
    spans = _spans(at, b.data.attended)
    free = [m for m in b.laid if m.pack.id not in b.busy]
    groups = [[x for x in g if x not in b.busy] for g in b.data.groups]
    found = bench_plan(free, rules=b.rules, trust=b.data.label_trust, feds=b.feds, bench=b.bench, board=b.board, groups=[g for g in groups if g], due_min=due, attended=spans, taken=_taken(b))  # fmt: skip
    return found, due, spans


def plan_out(data: s.BenchIn) -> r.BenchPlanOut:
    """The whole bench, computed."""
    b = on_bench(data)
    plan, due, spans = planned(b)
    at = b.data.at or datetime(2000, 1, 3, 9, 0)  # noqa: DTZ001
    return r.BenchPlanOut(
        headline=_headline(b, plan, due),
        laid=[_laid_out(b, m) for m in b.laid],
        batches=[_batch_out(b, p) for p in plan.planned],
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
        signs=[r.ChoiceOut(id=x.id, name=x.name) for x in SIGNS.values()],
        due_min=due,
        spans=[r.SpanOut(start_min=a, end_min=b) for a, b in spans],
        cautions=[CautionOut(**asdict(c)) for c in BENCH_CAUTIONS],
        checker=bool(linked().get("checker")),
    )


def sharing_out(members: list[Laid], found: Sharing) -> r.SharingOut:
    """A sharing as the API says it."""
    calm = found.calm_s
    return r.SharingOut(
        packs=[m.pack.id for m in members],
        allowed=found.allowed,
        reasons=[r.ReasonOut(**asdict(x)) for x in found.reasons],
        spread_v=found.spread_v,
        currents_a=list(found.currents_a),
        wire_a=found.wire_a,
        calm_s=calm if calm is not None and calm < float("inf") else None,
    )


def board_sharing(b: OnBench, members: list[Laid], *, balance_first: bool = False) -> Sharing:
    """May these share the board in use?

    Raises
    ------
    DomainError
        Without a board.
    """
    if b.board is None:
        raise DomainError("bench.board", "There is no parallel board on this bench.")
    return sharing(members, rules=b.rules, board=b.board, balance_first=balance_first)


def pack_tag(pack_id: str) -> str:
    """What stands on the pack."""
    return pack_id.removeprefix("owned:")


def _owned(owned: dict[str, Pack], pack_id: str, index: int) -> Pack:
    if pack_id not in owned:
        raise DomainError(f"laid.{index}.pack", f"There is no pack {pack_tag(pack_id)} in the box any more.")
    return owned[pack_id]


def _reading(pack: Pack, line: s.LaidIn, problems: dict[str, str]) -> PackReading | None:
    if not line.cells.strip():
        return None
    try:
        return check_reading(pack.chemistry, pack.series, typed_cells(line.cells))
    except DomainError as error:
        problems[pack.id] = error.sentence
        return None


def _minutes_since_run(tags: list[str]) -> dict[str, float]:
    """Minutes since each pack was run in the last day, by its tag; one query."""
    now = timezone.now()
    runs = PackRecord.objects.filter(
        pack__tag__in=tags, pack__removed=None, source="run", at__gt=now - timedelta(days=1)
    )
    return {
        tag: (now - at).total_seconds() / 60 for tag, at in runs.order_by("at").values_list("pack__tag", "at")
    }


def _boards(bench: Bench) -> list[Board]:
    sockets = {str(row["id"]): row["sockets"] for row in Piece.live.filter(kind="board").values("id", "sockets")}  # fmt: skip
    return [Board(piece, sockets[piece.id]) for piece in bench.boards]


def _board(board_id: str | None, boards: list[Board]) -> Board | None:
    if board_id is None:
        return boards[0] if boards else None
    if board_id == "":
        return None
    found = next((x for x in boards if x.piece.id == board_id), None)
    if found is None:
        raise DomainError("board", "There is no such board any more.")
    return found


def _feds(data: s.BenchIn) -> tuple[list[Fed], list[Fed]]:
    asked = {f.charger: f for f in data.feds}
    supplies = gear.supplies()
    used: list[Fed] = []
    unused: list[Fed] = []
    for charger in gear.chargers():
        wish = asked.get(charger.id)
        best = best_feed(charger, supplies)
        fed = Fed(charger, best.source, best.supply)
        if wish is not None and wish.source == "mains" and charger.mains_w is not None:
            fed = Fed(charger, "mains")
        if wish is not None and wish.source == "dc" and charger.dc_w is not None:
            fed = Fed(charger, "dc", next((x for x in supplies if x.id == wish.supply), None))
        (used if wish is None or wish.use else unused).append(fed)
    return used, unused


def _taken(b: OnBench) -> list[Slot]:
    """Running charges as slots that began at minute zero, for as long as they are expected to last."""
    out = []
    for c in b.running:
        fed = next((f for f in b.feds if f.charger.name == c.charger_name), None)
        if fed is None:
            continue
        amps, minutes = (
            float(c.settings["current_a"]),
            max(1, round(float(c.settings["minutes"]) - c.time_s / 60)),
        )
        e = c.expected
        watts = amps * e["series"] * e["full_cell_v"]
        drawn = watts / SUPPLY_EFFICIENCY if fed.supply else 0.0
        left_wh = max(e["cutoff_mah"] / 1150 - (c.time_s / 3600) * amps, 0.0) * e["series"] * e["full_cell_v"] / SUPPLY_EFFICIENCY if fed.supply else 0.0  # fmt: skip
        board = b.board.piece.id if b.board and len(c.packs) > 1 else ""
        out.append(Slot(f"running {c.pk}", Option(fed.charger.id, amps, amps / e["capacity_ah"], minutes, watts, drawn, left_wh), c.port, 0, None, board))  # fmt: skip
    return out


def _spans(at: datetime, attended: list[s.SpanIn]) -> list[tuple[int, int]]:
    midnight = at.replace(hour=0, minute=0, second=0, microsecond=0)
    out = []
    for day in range(DAYS_AHEAD):
        for span in attended:
            a, b = (midnight + timedelta(days=day, minutes=_clock_min(x)) for x in (span.start, span.end))
            if a >= b:
                raise DomainError("attended", f"From {span.start} to {span.end} is no span: it ends before it begins.")  # fmt: skip
            start, end = int((a - at).total_seconds() // 60), int((b - at).total_seconds() // 60)
            if end > 0:
                out.append((max(start, 0), end))
    return sorted(out)


def _clock_min(clock: str) -> int:
    hours, minutes = clock.split(":")
    return 60 * int(hours) + int(minutes)


def _laid_out(b: OnBench, m: Laid) -> r.LaidOut:
    pack, read = m.pack, m.reading
    return r.LaidOut(
        pack=pack.id,
        tag=pack_tag(pack.id),
        name=pack.name,
        chemistry_name=chemistry(pack.chemistry).name,
        series=pack.series,
        capacity_ah=pack.capacity_ah,
        reading=None if read is None else r.ReadingOut(
            cell_v=list(read.cell_v), pack_v=read.pack_v, mean_v=read.mean_v, spread_v=read.spread_v,
            lowest_soc=read.lowest_soc, state=read.state,
        ),
        outcome=m.inspection.outcome,
        findings=[r.FindingOut(**asdict(f)) for f in m.inspection.findings if not (f.id == "unread" and pack.id in b.problems)],
        problem=b.problems.get(pack.id, ""),
        charging=pack.id in b.busy,
    )  # fmt: skip


def _tags(batch: Batch) -> list[str]:
    return [pack_tag(m.pack.id) for m in batch.members]


def _batch_out(b: OnBench, p: Planned) -> r.BatchOut:
    batch, members = p.batch, list(p.batch.members)
    shared = board_sharing(b, members) if batch.on_board else batch.sharing
    return r.BatchOut(
        id=batch.id,
        packs=[m.pack.id for m in members],
        tags=_tags(batch),
        series=members[0].pack.series,
        chemistry_name=chemistry(members[0].pack.chemistry).name,
        capacity_ah=batch.capacity_ah,
        charge_c=batch.charge_c,
        rule_a=batch.rule_a,
        sentence=amps_sentence(batch),
        sharing=sharing_out(members, shared),
        ways=[_way_out(w) for w in p.ways],
        refusals=list(p.refusals),
        after_cooling=p.after_cooling,
    )


def _way_out(way: Way) -> r.WayOut:
    o, fit = way.option, way.fit
    return r.WayOut(
        charger=o.station, charger_name=fit.charger.name, current_a=o.current_a, charge_c=o.charge_c, minutes=o.minutes,
        low_min=way.low_min, high_min=way.high_min, watts=o.watts, binding=fit.amps.binding.name if fit.amps else "",
        through=[x.name for x in fit.path.pieces] if fit.path else [],
    )  # fmt: skip


def _apart(b: OnBench, batches: list[Batch]) -> list[r.ApartOut]:
    """Between neighbouring batches of one kind: the two packs nearest to each other, and why not they."""
    out = []
    for first, second in pairwise(batches):
        one, two = first.members[-1], second.members[0]
        alike = (one.pack.chemistry, one.pack.series) == (two.pack.chemistry, two.pack.series)
        if alike and b.board is not None and chemistry(one.pack.chemistry).charge_method == "cc_cv":
            found = board_sharing(b, [one, two])
            if not found.allowed:
                out.append(r.ApartOut(first=first.id, second=second.id, sharing=sharing_out([one, two], found)))  # fmt: skip
    return out


def _school(b: OnBench, rules: HouseRules) -> r.SchoolOut:
    batches, _ = split([m for m in b.laid if m.pack.id not in b.busy], rules=rules, board=b.board)
    return r.SchoolOut(id=rules.id, name=rules.name, batches=[_tags(x) for x in batches])


def _by_id(plan: BenchPlan, batch_id: str) -> Planned:
    return next(p for p in plan.planned if p.batch.id == batch_id)


def _slots(plan: BenchPlan, at: datetime) -> list[r.SlotOut]:
    out = []
    for i, slot in enumerate(plan.schedule.slots):
        p = _by_id(plan, slot.task)
        way = next(w for w in p.ways if w.option == slot.option)
        out.append(r.SlotOut(
            order=i + 1, batch=slot.task, tags=_tags(p.batch), charger=slot.option.station, charger_name=way.fit.charger.name, port=slot.port,
            start_min=slot.start_min, end_min=slot.end_min, start_at=at + timedelta(minutes=slot.start_min), end_at=at + timedelta(minutes=slot.end_min),
            current_a=slot.option.current_a, watts=slot.option.watts, binding=way.fit.amps.binding.name if way.fit.amps else "",
            late_min=slot.late_min, put_in_mah=1000 * way.put_in_ah,
        ))  # fmt: skip
    return out


def _held(b: OnBench, plan: BenchPlan) -> list[r.HeldOut]:
    labels, names = (
        {f"running {c.pk}": c.label for c in b.running},
        {f.charger.id: f.charger.name for f in b.feds},
    )
    return [
        r.HeldOut(label=labels[x.task], charger=x.option.station, charger_name=names[x.option.station], port=x.port, end_min=x.end_min)
        for x in plan.problem.taken
    ]  # fmt: skip


def _uses(b: OnBench, plan: BenchPlan) -> list[r.UseOut]:
    steps, used = use_over_time(plan.problem, plan.schedule), supply_wh(plan.problem, plan.schedule)
    names = {f.charger.id: f.charger.name for f in b.feds} | {f"supply:{f.supply.id}": f.supply.name for f in b.feds if f.supply}  # fmt: skip
    things: list[Station | Source] = [*plan.problem.stations, *plan.problem.sources]
    out = []
    for thing in things:
        thing_id, watts = thing.id, thing.watts
        if steps[thing_id]:
            out.append(r.UseOut(
                id=thing_id, name=names[thing_id], limit_w=watts, minutes=[m for m, _ in steps[thing_id]], watts=[w for _, w in steps[thing_id]],
                used_wh=used.get(thing_id), limit_wh=getattr(thing, "wh", None),
            ))  # fmt: skip
    return out


def _stations(b: OnBench) -> list[r.StationOut]:
    devices = linked().get("chargers") or {}
    return [
        r.StationOut(
            charger=f.charger.id, name=f.charger.name, ports=f.charger.ports, use=f in b.feds, source=f.source,
            supply=f.supply.id if f.supply else None, inputs=list(f.charger.inputs), linked=f.charger.name in devices,
        )
        for f in sorted((*b.feds, *b.unused), key=lambda f: f.charger.name)
    ]  # fmt: skip


def _headline(b: OnBench, plan: BenchPlan, due: int | None) -> str:
    if not b.laid:
        return "Lay out the packs that you want to charge."
    slots, done = plan.schedule.slots, len(plan.schedule.slots)
    if not slots and b.busy:
        return "Charging. Nothing else is waiting."
    if not slots:
        return "Nothing can be charged yet: read the cells." if any(not m.reading for m in b.laid) else "Nothing here can be charged."  # fmt: skip
    packs = sum(len(_by_id(plan, s.task).batch.members) for s in slots)
    late = [s for s in slots if s.late_min]
    words = f"{packs} pack{'s' * (packs > 1)} in {done} batch{'es' * (done > 1)}, all full in {minutes_words(plan.schedule.finish_min)}"  # fmt: skip
    if due is not None:
        words += f"; {len(late)} of them late" if late else "; in time"
    return words + "."


def batch_on(b: OnBench, pack_ids: list[str]) -> Batch:
    """These packs as one batch that may be charged.

    Raises
    ------
    DomainError
        If one did not pass the inspection, or they may not share a board: the first reason.
    """
    members = [b.member(x) for x in pack_ids]
    for m in members:
        if m.pack.id in b.problems:
            raise DomainError("packs", f"{pack_tag(m.pack.id)}: {b.problems[m.pack.id]}")
        if not m.inspection.passed:
            raise DomainError("packs", f"{pack_tag(m.pack.id)} may not be charged. {m.inspection.findings[0].sentence}")  # fmt: skip
    if len(members) > 1:
        found = board_sharing(b, members)
        if not found.allowed:
            raise DomainError("packs", found.reasons[0].sentence)
    return batch_of(members, rules=b.rules, board=b.board)
