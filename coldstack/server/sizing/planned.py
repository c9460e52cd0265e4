"""Plans as they are asked for, over everything there is to choose from now."""

from __future__ import annotations

from coldstack.core.sizing.detail import details
from coldstack.core.sizing.plan import pick, plan
from coldstack.server.life.packs import stock
from coldstack.server.sizing import replies as r
from coldstack.server.sizing.assemble import fineness_of, job_of, plan_out
from coldstack.server.sizing.schemas import PlanIn


def planned(data: PlanIn) -> r.PlanOut:
    """A plan, made and as the API says it; with the picked candidate in full where that is asked for."""
    job, stocked, fineness = job_of(data.job), stock(), fineness_of(data.fineness)
    made = plan(job, stocked, aim=data.aim, rows=data.rows, fineness=fineness)
    if not data.in_full:
        return plan_out(made)
    candidates = made.evaluation.candidates
    id_ = data.pick or (None if made.best is None else candidates.ids[made.best])
    if id_ in candidates.ids:
        chosen = candidates.take([candidates.ids.index(id_)])
    else:
        chosen = pick(job, stocked, [id_] if id_ else [], fineness)
    return plan_out(made, details(job, chosen)[0] if len(chosen) else None)
