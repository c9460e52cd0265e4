"""The packs for a run in one model, each with its verdict: what does the job first, the readiest of them
first."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.fit.fit import fit_of
from coldstack.core.fit.verdict import FIT_VERDICTS
from coldstack.core.running.reckoned import first_runs
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.life.now import standings
from coldstack.server.life.replies import now_fields
from coldstack.server.running import replies as r
from coldstack.server.running.pairs import pairs_out
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

READINESS = ("full", "part", "stored", "spent", "too_low")


def run_packs_out(slug: str, now: datetime) -> list[r.RunPackOut]:
    """Every pack that may be run, with its verdict in this model; raises RcModel.DoesNotExist for an unknown
    one."""
    job = job_of(JobIn(**RcModel.live.get(slug=slug).job))
    along = [s for s in standings(now=now) if s.pack.fit]
    if not along:
        return []
    pieces = gear.bench().pieces
    e = evaluate(job, job_candidates(job, [s.pack for s in along], pieces))
    fits = [fit_of(e, row) for row in range(len(along))]
    out = [
        r.RunPackOut(
            **now_fields(s),
            tag=s.tag,
            name=s.pack.name,
            fit=fit.verdict,
            runs=fit.runs,
            minutes=fit.minutes * first_runs(s.pack) if fit.runs else None,
            why=fit.reasons[0].sentence if fit.reasons else "",
            waits=s.now.may["run"].why,
        )
        for s, fit in zip(along, fits, strict=True)
    ]
    return sorted([*pairs_out(job, along, pieces), *out], key=_readiness)


def _readiness(p: r.RunPackOut) -> tuple[int, int, str]:
    """By their verdict, of each the fullest that may be run."""
    busy = p.state != p.charge
    ready = READINESS.index(p.charge) if p.charge else len(READINESS)
    return FIT_VERDICTS.index(p.fit), len(READINESS) + 1 if busy else ready, p.tag
