"""Between stored records and the core's values of keeping."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import asdict, dataclass
from datetime import datetime, timedelta
from statistics import median
from typing import Any

from django.db.models import OuterRef, Q, Subquery

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import honest_c_of
from coldstack.core.charging.cell_readings import State, check_reading, typed_cells
from coldstack.core.errors import DomainError
from coldstack.core.keeping.health import LEVELS, Evidence, evidence_of, health
from coldstack.core.keeping.records import Record, resistance_at_25_c
from coldstack.core.keeping.retire import drain_resistor, retire_steps
from coldstack.core.keeping.storage import DOING, Due, storage_due
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.cautions import RUN_CAUTIONS
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.running.go import Learned, go_check, learned_draw, mah_by_landing
from coldstack.server.gear.assemble import PACK_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.models import PackNote, PackRecord, RunLog
from coldstack.server.rules.assemble import rules_of
from coldstack.server.sizing.assemble import job_of, working_out
from coldstack.server.sizing.replies import CautionOut
from coldstack.server.sizing.schemas import JobIn

RUNS_SHOWN = 12
FIRST_ROWS, LATEST_ROWS, PACKS_A_QUERY = 8, 8, 100
"""Records of each end that the shelf looks at: enough for the first and latest five that can be compared."""
_FIELDS = ("cycle", "temperature_c", "soc", "cell_mohm", "rest_cell_v", "capacity_ah", "balance_min", "run_minutes")  # fmt: skip


@dataclass(frozen=True, slots=True)
class Known:
    """A pack with its records, and the state it was last left in."""

    pack: Pack
    tag: str
    records: list[Record]
    state: State | None
    since: datetime | None


def shelf_out(rules: HouseRules, now: datetime) -> r.ShelfOut:
    """Every pack by what to do now, due soonest first; two queries for every hundred packs, however many records."""
    lines = [_line(k, rules, now) for k in every_known(now)]
    groups = []
    for doing in DOING:
        here = sorted((x for x in lines if x.doing == doing), key=lambda x: (x.in_h is None, x.in_h or 0, -LEVELS.index(x.level), x.tag))  # fmt: skip
        if here:
            groups.append(r.GroupOut(doing=doing, packs=here))
    return r.ShelfOut(groups=groups, count=len(lines), rules=rules.name, rules_id=rules.id)


def page_out(tag: str, rules: HouseRules, now: datetime) -> r.PageOut:
    """All of one pack.

    Raises
    ------
    OwnedPack.DoesNotExist
        For a tag that no pack bears.
    """
    row = OwnedPack.live.values("id", "tag", "fit", "note", *PACK_FIGURES).get(tag=tag)
    stored = list(PackRecord.objects.filter(pack_id=row["id"]))
    known = _know(pack_of(row, f"owned:{tag}"), tag, stored, now)
    found = health(known.pack, known.records, rules=rules)
    drain = drain_resistor(known.pack)
    comparable = [(x, cells) for x, rec in zip(stored, known.records, strict=True) if (cells := resistance_at_25_c(rec))]  # fmt: skip
    held = [(x, x.capacity_ah) for x in stored if x.capacity_ah]
    first = [median(c) for _, c in comparable[:5]]
    apart = [(x, max(x.rest_cell_v) - min(x.rest_cell_v)) for x in stored if x.rest_cell_v and known.pack.series > 1]  # fmt: skip
    return r.PageOut(
        line=_line(known, rules, now),
        chemistry_name=chemistry(known.pack.chemistry).name,
        series=known.pack.series,
        capacity_ah=known.pack.capacity_ah,
        label_c=known.pack.label_c,
        note=known.pack.note,
        cycles=max((x.cycle for x in stored), default=0),
        evidence=[_evidence(e) for e in found.evidence],
        too_early=list(found.too_early),
        honest_c=found.honest_c,
        capacity_share=found.capacity_share,
        forecast=found.forecast,
        resistance=r.SeriesOut(
            at=[x.at for x, _ in comparable],
            cells=[list(c) for c in zip(*(c for _, c in comparable), strict=True)],
            first=median(first) if first else None,
        ),
        capacity=r.SeriesOut(
            at=[x.at for x, _ in held],
            cells=[[a for _, a in held]] if held else [],
            first=known.pack.capacity_ah,
        ),
        honest=r.SeriesOut(
            at=[x.at for x, _ in comparable],
            cells=[[honest_c_of(median(c), known.pack.capacity_ah) for _, c in comparable]]
            if comparable
            else [],
            first=known.pack.label_c,
        ),
        spread_mv=r.SeriesOut(
            at=[x.at for x, _ in apart],
            cells=[[1000 * v for _, v in apart]] if apart else [],
            first=1000 * rules.spread_watch_v,
        ),
        **_runs_of(row["id"]),
        left_out=sum(1 for x in stored if x.cell_mohm) - len(comparable),
        drain=drain.sentence,
        drain_working=working_out(drain.working),
        retire=[r.RetireStepOut(**asdict(s)) for s in retire_steps(known.pack, drain)],
        notes=[note_out(n) for n in PackNote.objects.filter(pack_id=row["id"], removed=None)],
    )


def _runs_of(pack_pk: int) -> dict[str, Any]:
    """A pack's latest runs, how many there were, and their minutes."""
    runs = list(RunLog.standing.filter(pack_id=pack_pk))
    names = dict(RcModel.objects.values_list("slug", "name")) if runs else {}
    latest = [
        r.PackRunOut(at=x.at, model=names.get(x.model_slug, x.model_slug), minutes=x.minutes, put_back_mah=x.put_back_mah, landing_cell_v=x.landing_cell_v, note=x.note)
        for x in runs[:RUNS_SHOWN]
    ]  # fmt: skip
    return {"runs": latest, "run_count": len(runs), "run_minutes": sum(x.minutes for x in runs)}


def note_out(note: PackNote) -> r.NoteOut:
    """A note."""
    return r.NoteOut(id=note.pk, at=note.at, text=note.text)


def go_out(data: r.GoIn, now: datetime) -> r.GoOut:
    """Go or no go.

    Raises
    ------
    DomainError
        For a pack that is not there, or cells that cannot be understood.
    RcModel.DoesNotExist
        For an unknown model.
    """
    job = job_of(JobIn(**RcModel.live.get(slug=data.model).job))
    row = OwnedPack.live.filter(tag=data.pack).values("id", "tag", "fit", "note", *PACK_FIGURES).first()
    if row is None:
        raise DomainError("pack", f"There is no pack {data.pack} in the box.")
    rows = list(
        PackRecord.objects.filter(pack_id=row["id"]).order_by("-at", "-id")[: FIRST_ROWS + LATEST_ROWS]
    )
    known = _know(pack_of(row, f"owned:{data.pack}"), data.pack, rows[::-1], now)
    found = health(known.pack, known.records, rules=job.rules)
    reading = check_reading(known.pack.chemistry, known.pack.series, typed_cells(data.cells))
    read = [median(c) for x in known.records if (c := resistance_at_25_c(x))][-5:]
    g = go_check(job, known.pack, reading, level=found.level, temperature_c=data.temperature_c, resistance_mohm=median(read) if read else None, capacity_share=found.capacity_share)  # fmt: skip
    return r.GoOut(
        verdict=g.verdict, reasons=[r.GoReasonOut(**asdict(x)) for x in g.reasons], timer_s=g.timer_s, minutes=g.minutes, minutes_low=g.minutes_low,
        minutes_high=g.minutes_high, budget_mah=g.budget_mah, alarm_cell_v=g.alarm_cell_v, alarm_v=g.alarm_cell_v * known.pack.series, working=working_out(g.working),
        cautions=[CautionOut(**asdict(c)) for c in RUN_CAUTIONS],
    )  # fmt: skip


def runs_out(slug: str) -> r.RunsOut:
    """A model's runs; raises RcModel.DoesNotExist for an unknown one."""
    model = RcModel.live.get(slug=slug)
    rows = list(RunLog.standing.filter(model_slug=slug).select_related("pack")[:50])
    found = learned_of(slug)
    return r.RunsOut(runs=[run_out(x) for x in rows], learned=r.LearnedOut(**asdict(found)) if found else None, now_a=model.job["draw"]["average_a"])  # fmt: skip


def learned_of(slug: str) -> Learned | None:
    """What all runs of a model teach of its average draw."""
    model = RcModel.live.filter(slug=slug).first()
    if model is None:
        return None
    rules = rules_of(JobIn(**model.job).house_rules)
    rows = list(RunLog.standing.filter(model_slug=slug).select_related("pack"))
    landed = []
    for row in rows:
        if not row.put_back_mah and row.landing_cell_v:
            pack = pack_of({f: getattr(row.pack, f) for f in ("fit", "note", *PACK_FIGURES)}, f"owned:{row.pack.tag}")  # fmt: skip
            if mah := mah_by_landing(pack, row.landing_cell_v, rules=rules):
                landed.append((row.minutes, mah))
    return learned_draw([(x.minutes, x.put_back_mah) for x in rows if x.put_back_mah], landed)


def run_out(row: RunLog) -> r.RunOut:
    """A logged run."""
    return r.RunOut(id=row.pk, key=row.key, pack=row.pack.tag, at=row.at, minutes=row.minutes, put_back_mah=row.put_back_mah, landing_cell_v=row.landing_cell_v, note=row.note)  # fmt: skip


def known_of(tag: str, now: datetime) -> Known:
    """A pack with the latest of its records; raises OwnedPack.DoesNotExist for an unknown tag."""
    row = OwnedPack.live.values("id", "tag", "fit", "note", *PACK_FIGURES).get(tag=tag)
    rows = list(PackRecord.objects.filter(pack_id=row["id"]).order_by("-at", "-id")[: FIRST_ROWS + LATEST_ROWS])  # fmt: skip
    return _know(pack_of(row, f"owned:{tag}"), tag, rows[::-1], now)


def every_known(now: datetime) -> Iterable[Known]:
    """Every pack with the first and the latest few of its records: where those end is looked up in the index, pack by pack, in one query."""
    of_pack = PackRecord.objects.filter(pack_id=OuterRef("pk"))
    bounds = {
        "first_to": Subquery(of_pack.order_by("at").values("at")[FIRST_ROWS - 1 : FIRST_ROWS]),
        "latest_from": Subquery(of_pack.order_by("-at").values("at")[LATEST_ROWS - 1 : LATEST_ROWS]),
    }
    packs = list(OwnedPack.live.annotate(**bounds).values("id", "tag", "fit", "note", *bounds, *PACK_FIGURES))
    by_pack: dict[int, list[Any]] = {}
    for start in range(0, len(packs), PACKS_A_QUERY):
        wanted = Q()
        for p in packs[start : start + PACKS_A_QUERY]:
            ends = Q() if p["first_to"] is None else Q(at__lte=p["first_to"]) | Q(at__gte=p["latest_from"])
            wanted |= Q(pack_id=p["id"]) & ends
        for row in PackRecord.objects.filter(wanted).order_by("pack_id", "at", "id").values_list("pack_id", "at", "state", "source", *_FIELDS, named=True):  # fmt: skip
            by_pack.setdefault(row.pack_id, []).append(row)
    for p in packs:
        yield _know(pack_of(p, f"owned:{p['tag']}"), p["tag"], by_pack.get(p["id"], []), now)


def _know(pack: Pack, tag: str, rows: Sequence[Any], now: datetime) -> Known:
    records = [_record(x, now) for x in rows]
    left = next((x for x in reversed(rows) if x.state), None)
    since = None
    for row in reversed(
        rows
    ):  # noted again and again, a state holds since it was first noted, or since the charge that made it
        if left is not None and (row.source in ("charge", "run") or row.state):
            if row.state != left.state:
                break
            since = row.at
            if row.source in ("charge", "run"):
                break
    return Known(pack, tag, records, left.state if left else None, since)


def _record(row: Any, now: datetime) -> Record:
    data = {name: getattr(row, name) for name in _FIELDS}
    for name in ("cell_mohm", "rest_cell_v"):
        data[name] = tuple(data[name]) if data[name] else None
    return Record(day=(row.at - now) / timedelta(days=1), **data)


def _line(k: Known, rules: HouseRules, now: datetime) -> r.LineOut:
    evidence, _ = evidence_of(k.pack, k.records, rules=rules)
    level = evidence[0].level if evidence else "fine"
    since_h = (now - k.since) / timedelta(hours=1) if k.since else 0.0
    due: Due = storage_due(k.pack, state=k.state, since_h=since_h, level=level, rules=rules)
    worst = next((e for e in evidence if e.level != "fine"), None)
    return r.LineOut(
        tag=k.tag, name=k.pack.name, state=k.state, since=k.since, level=level, doing=due.doing, in_h=due.in_h, due=due.sentence,
        sign=worst.sentence if worst else "",
    )  # fmt: skip


def _evidence(e: Evidence) -> r.EvidenceOut:
    return r.EvidenceOut(id=e.id, level=e.level, sentence=e.sentence, working=working_out(e.working))


def packs_by_tag(tags: list[str]) -> dict[str, int]:
    """Ids of packs by tag; raises DomainError for a tag that is not there."""
    found = dict(OwnedPack.live.filter(tag__in=tags).values_list("tag", "pk"))
    missing = [t for t in tags if t not in found]
    if missing:
        raise DomainError("packs", f"There is no pack {missing[0]} in the box.")
    return found
