"""What follows a set of rules here and now, so that a change is seen as it is made: a run, the bench, the
shelf."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from coldstack.core.boards.batches import split
from coldstack.core.cells.chemistry import chemistry
from coldstack.core.errors import DomainError
from coldstack.core.packs.health import LEVELS
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import pack_reading
from coldstack.core.rules.house_rules import HouseRules, for_chemistry, house_rules
from coldstack.core.running.go import Go, go_check
from coldstack.core.trial.job import Job
from coldstack.core.units import clock
from coldstack.server.bench.actions import kept_layout
from coldstack.server.bench.assemble import OnBench, on_bench
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.keeping.shelf import shelf_out
from coldstack.server.life.packs import pack_by_id
from coldstack.server.matching.assemble import best_owned
from coldstack.server.rules import schemas as s
from coldstack.server.rules.assemble import bases, rules_of
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn


def effects_out(rules_id: str, model: str, now: datetime, pack_id: str = "") -> s.EffectsOut:
    """With the set as it is, and as it came; for the pack with this id, or the best owned one where there
    is none.

    Raises
    ------
    DomainError
        For an unknown set.
    RcModel.DoesNotExist
        For an unknown model.
    """
    rules = rules_of(rules_id)
    starting = replace(house_rules(bases().get(rules_id, rules_id)), name="as it came")
    row = RcModel.live.get(slug=model)
    job, layout = job_of(JobIn(**row.job)), kept_layout()
    pack = (pack_by_id(pack_id) if pack_id else None) or _pack(job)
    made = [_effect(x, job, pack, on_bench(layout, x), now) for x in (rules, starting)]
    return s.EffectsOut(model=row.name, pack=_called(pack), now=made[0], starting=made[1])


def _called(pack: Pack | None) -> str:
    return "" if pack is None else pack.called


def _pack(job: Job) -> Pack | None:
    try:
        pack_id = best_owned(job, gear.bench())
        return pack_by_id(pack_id)
    except DomainError:
        return None


def _effect(rules: HouseRules, job: Job, pack: Pack | None, bench: OnBench, now: datetime) -> s.EffectOut:
    go = _full_run(replace(job, rules=rules), pack) if pack else None
    batches, _ = split(bench.free, rules=rules, board=bench.board)
    lines = [x for g in shelf_out(rules, now).groups for x in g.packs if x.doing != "retired"]
    due = [x for x in lines if x.doing == "storage"]
    return s.EffectOut(
        timer=clock(go.timer_s) if go else "",
        timer_working=go.working if go else None,
        alarm_cell_v=go.alarm_cell_v if go else None,
        budget_mah=go.budget_mah if go else None,
        batches=[" + ".join(m.pack.called for m in b.members) for b in batches],
        due=[x.tag for x in due],
        overdue=[x.tag for x in due if x.in_h is not None and x.in_h < 0],
        verdicts={level: [x.tag for x in lines if x.level == level] for level in LEVELS},
    )


def _full_run(job: Job, pack: Pack) -> Go:
    """The pack as the rules charge it: full, its cells alike."""
    rules = for_chemistry(job.rules, pack.chemistry)
    volts = min(rules.full_v, chemistry(pack.chemistry).full_v)
    return go_check(job, pack, pack_reading(pack.chemistry, (volts,) * pack.series))
