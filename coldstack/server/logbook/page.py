"""A pack's page: all that is known of it."""

from __future__ import annotations

from dataclasses import asdict, replace
from datetime import datetime, timedelta
from statistics import median
from typing import Any

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import honest_c_of
from coldstack.core.keeping.health import Evidence, health
from coldstack.core.keeping.records import resistance_at_25_c
from coldstack.core.keeping.retire import drain_resistor, retire_steps
from coldstack.core.keeping.workings import due_working
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.working import Working
from coldstack.server.gear.assemble import PACK_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.assemble import Known, know
from coldstack.server.logbook.models import PackNote, PackRecord, Retirement, RunLog
from coldstack.server.logbook.shelf import line_out
from coldstack.server.sizing.assemble import working_out

RUNS_SHOWN = 12


def page_out(tag: str, rules: HouseRules, now: datetime) -> r.PageOut:
    """All of one pack.

    Raises
    ------
    OwnedPack.DoesNotExist
        For a tag that no pack bears.
    """
    row = OwnedPack.live.values("id", "tag", "fit", "note", *PACK_FIGURES).get(tag=tag)
    stored = list(PackRecord.objects.filter(pack_id=row["id"]))
    leaving = Retirement.objects.filter(pack_id=row["id"]).first() or Retirement()
    known = replace(know(pack_of(row, f"owned:{tag}"), tag, stored, now), retired=leaving.done)
    found = health(known.pack, known.records, rules=rules)
    drain = drain_resistor(known.pack)
    comparable = [(x, cells) for x, rec in zip(stored, known.records, strict=True) if (cells := resistance_at_25_c(rec))]  # fmt: skip
    held = [(x, x.capacity_ah) for x in stored if x.capacity_ah]
    apart = [(x, max(x.rest_cell_v) - min(x.rest_cell_v)) for x in stored if x.rest_cell_v and known.pack.series > 1]  # fmt: skip
    return r.PageOut(
        line=line_out(known, rules, now),
        chemistry_name=chemistry(known.pack.chemistry).name,
        has_storage=chemistry(known.pack.chemistry).storage_v is not None,
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
        workings={
            name: working_out(w)
            for name, w in (
                ("honest_c", found.honest_working),
                ("forecast", found.forecast_working),
                ("due", _due(known, rules, now)),
            )
            if w
        },
        resistance=r.SeriesOut(
            at=[x.at for x, _ in comparable],
            cells=[list(c) for c in zip(*(c for _, c in comparable), strict=True)],
            first=found.first_mohm,
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
        ticked=leaving.ticked,
        retired=leaving.done,
        notes=[note_out(n) for n in PackNote.objects.filter(pack_id=row["id"], removed=None)],
    )


def _due(k: Known, rules: HouseRules, now: datetime) -> Working | None:
    return due_working(k.pack, k.state, (now - k.since) / timedelta(hours=1), rules) if k.since else None


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


def _evidence(e: Evidence) -> r.EvidenceOut:
    return r.EvidenceOut(id=e.id, level=e.level, sentence=e.sentence, working=working_out(e.working))
