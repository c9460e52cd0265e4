"""Go or no go, a model's runs, and what they teach."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.charging.cell_readings import check_reading, typed_cells
from coldstack.core.errors import DomainError
from coldstack.core.keeping.records import latest_ratios
from coldstack.core.life.events import Event
from coldstack.core.running.go import Learned, go_check, learned_draw, mah_by_landing
from coldstack.core.safety.cautions import RUN_CAUTIONS
from coldstack.server.api.values import figures
from coldstack.server.gear.assemble import OWNED_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.life.models import Event as EventRow
from coldstack.server.life.now import standing_of, standing_with
from coldstack.server.life.replies import now_fields
from coldstack.server.rules.assemble import rules_of
from coldstack.server.running import replies as r
from coldstack.server.sizing.assemble import job_of
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
        s = standing_of(data.pack, now=now)
        life = s.now.told
    except OwnedPack.DoesNotExist:
        raise DomainError("pack", f"There is no pack {data.pack} in the box.") from None
    if data.cells.strip() or s.now.reading is None:
        read = check_reading(s.pack.chemistry, s.pack.series, typed_cells(data.cells), job.rules)
        typed = Event(
            "typed", now.timestamp(), "reading", cell_v=read.cell_v, temperature_c=data.temperature_c
        )
        s = standing_with(s, [typed], now=now)
    assert s.now.reading is not None  # just read, or still holding
    may = s.now.may["run"]
    g = go_check(
        job,
        s.pack,
        s.now.reading,
        level=s.now.level,
        temperature_c=data.temperature_c,
        resistance_mohm=life.health.now_mohm,
        capacity_share=life.health.capacity_share,
        cell_ratios=latest_ratios(life.records),
        barred="" if s.now.charge in ("spent", "too_low") and s.now.usable else may.why,
    )
    return r.GoOut(
        **figures(g),
        alarm_v=g.alarm_cell_v * s.pack.series,
        cautions=list(RUN_CAUTIONS),
        cells=list(s.now.reading.cell_v),
        pack=r.RunPackNow(**now_fields(s), tag=s.tag, name=s.pack.name),
    )


def runs_out(slug: str) -> r.RunsOut:
    """A model's runs; raises RcModel.DoesNotExist for an unknown one."""
    model = RcModel.live.get(slug=slug)
    rows = _runs_of(slug)
    found = _learned(model, rows)
    return r.RunsOut(
        runs=[run_out(x) for x in rows[:RUNS_SHOWN]],
        learned=found if found else None,
        now_a=model.job["draw"]["average_a"],
    )


def learned_of(model: RcModel) -> Learned | None:
    """What all runs of a model teach of its average draw."""
    return _learned(model, _runs_of(model.slug))


def _runs_of(slug: str) -> list[EventRow]:
    runs = EventRow.standing.filter(model=slug, kind="run")
    return list(runs.select_related("pack").order_by("-at", "-id"))


def _learned(model: RcModel, rows: list[EventRow]) -> Learned | None:
    rules = rules_of(JobIn(**model.job).house_rules)
    landed = []
    for row in rows:
        if not row.mah and row.landing_cell_v and row.minutes:
            pack = pack_of({f: getattr(row.pack, f) for f in OWNED_FIGURES}, f"owned:{row.pack.tag}")
            if mah := mah_by_landing(pack, row.landing_cell_v, rules=rules):
                landed.append((row.minutes, mah))
    return learned_draw([(x.minutes, x.mah) for x in rows if x.mah and x.minutes], landed)


def run_out(row: EventRow) -> r.RunOut:
    """A logged run."""
    return r.RunOut(
        id=row.pk,
        key=row.key,
        pack=row.pack.tag,
        at=row.at,
        minutes=row.minutes or 0.0,
        put_back_mah=row.mah,
        landing_cell_v=row.landing_cell_v,
        note=row.text,
    )
