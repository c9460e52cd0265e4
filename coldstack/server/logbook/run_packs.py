"""The packs for a run in one model: those that fit first, the readiest of them first."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.matching.grid import drive_column
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.shelf import shelf_out
from coldstack.server.rules.assemble import rules_or_house
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

READINESS = ("full", "part", "stored", "spent", "too_low")


def run_packs_out(slug: str, now: datetime) -> list[r.RunPackOut]:
    """Every pack that may be run, with whether it fits; raises RcModel.DoesNotExist for an unknown model."""
    job = job_of(JobIn(**RcModel.live.get(slug=slug).job))
    lines = {x.tag: x for g in shelf_out(rules_or_house(None), now).groups for x in g.packs}
    packs = tuple(gear.owned_packs(fit_only=True))
    cells = drive_column(job, packs, gear.bench().pieces)
    out = []
    for pack, cell in zip(packs, cells, strict=True):
        line = lines[pack.id.removeprefix("owned:")]
        out.append(r.RunPackOut(
            tag=line.tag, name=line.name, state=line.state, level=line.level, fits=cell.verdict != "no", minutes=cell.minutes if cell.verdict != "no" else None,
            why=cell.short if cell.verdict == "no" else line.sign,
        ))  # fmt: skip
    return sorted(out, key=lambda x: (not x.fits, READINESS.index(x.state) if x.state else len(READINESS), x.tag))  # fmt: skip
