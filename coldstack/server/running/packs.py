"""The packs for a run in one model: those that fit first, the readiest of them first."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.matching.grid import drive_column
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.life.now import standings
from coldstack.server.life.replies import now_fields
from coldstack.server.running import replies as r
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

READINESS = ("full", "part", "stored", "spent", "too_low")


def run_packs_out(slug: str, now: datetime) -> list[r.RunPackOut]:
    """Every pack that may be run, with whether it fits; raises RcModel.DoesNotExist for an unknown model."""
    job = job_of(JobIn(**RcModel.live.get(slug=slug).job))
    along = [s for s in standings(now=now) if s.as_it_is.fit]
    cells = drive_column(job, tuple(s.pack for s in along), gear.bench().pieces)
    out = [
        r.RunPackOut(
            **now_fields(s),
            tag=s.tag,
            name=s.pack.name,
            fits=cell.verdict != "no",
            minutes=cell.minutes if cell.verdict != "no" else None,
            why=cell.short if cell.verdict == "no" else s.now.may["run"].why or s.now.sign,
        )
        for s, cell in zip(along, cells, strict=True)
    ]
    return sorted(out, key=_readiness)


def _readiness(p: r.RunPackOut) -> tuple[bool, int, str]:
    """Those that fit, of them the fullest that may be run."""
    busy = p.state != p.charge
    ready = READINESS.index(p.charge) if p.charge else len(READINESS)
    return not p.fits, len(READINESS) + 1 if busy else ready, p.tag
