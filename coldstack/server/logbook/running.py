"""Go or no go, a model's runs, and what they teach."""

from __future__ import annotations

from dataclasses import asdict
from datetime import datetime

from coldstack.core.charging.cell_readings import check_reading, typed_cells
from coldstack.core.errors import DomainError
from coldstack.core.keeping.health import health
from coldstack.core.rules.cautions import RUN_CAUTIONS
from coldstack.core.running.go import Learned, go_check, learned_draw, mah_by_landing
from coldstack.server.gear.assemble import PACK_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.assemble import known_of
from coldstack.server.logbook.models import RunLog
from coldstack.server.rules.assemble import rules_of
from coldstack.server.sizing.assemble import job_of, working_out
from coldstack.server.sizing.replies import CautionOut
from coldstack.server.sizing.schemas import JobIn

RUNS_SHOWN = 50


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
    try:
        known = known_of(data.pack, now)
    except OwnedPack.DoesNotExist:
        raise DomainError("pack", f"There is no pack {data.pack} in the box.") from None
    found = health(known.pack, known.records, rules=job.rules)
    reading = check_reading(known.pack.chemistry, known.pack.series, typed_cells(data.cells))
    g = go_check(job, known.pack, reading, level=found.level, temperature_c=data.temperature_c, resistance_mohm=found.now_mohm, capacity_share=found.capacity_share)  # fmt: skip
    return r.GoOut(
        verdict=g.verdict, reasons=[r.GoReasonOut(**asdict(x)) for x in g.reasons], timer_s=g.timer_s, minutes=g.minutes, minutes_low=g.minutes_low,
        minutes_high=g.minutes_high, budget_mah=g.budget_mah, alarm_cell_v=g.alarm_cell_v, alarm_v=g.alarm_cell_v * known.pack.series, working=working_out(g.working), budget_working=working_out(g.budget_working), alarm_working=working_out(g.alarm_working),
        cautions=[CautionOut(**asdict(c)) for c in RUN_CAUTIONS],
    )  # fmt: skip


def runs_out(slug: str) -> r.RunsOut:
    """A model's runs; raises RcModel.DoesNotExist for an unknown one."""
    model = RcModel.live.get(slug=slug)
    rows = _runs_of(slug)
    found = _learned(model, rows)
    return r.RunsOut(runs=[run_out(x) for x in rows[:RUNS_SHOWN]], learned=r.LearnedOut(**asdict(found)) if found else None, now_a=model.job["draw"]["average_a"])  # fmt: skip


def learned_of(model: RcModel) -> Learned | None:
    """What all runs of a model teach of its average draw."""
    return _learned(model, _runs_of(model.slug))


def _runs_of(slug: str) -> list[RunLog]:
    return list(RunLog.standing.filter(model_slug=slug).select_related("pack"))


def _learned(model: RcModel, rows: list[RunLog]) -> Learned | None:
    rules = rules_of(JobIn(**model.job).house_rules)
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
