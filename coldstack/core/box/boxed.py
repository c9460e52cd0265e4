"""The box as a whole: all models × all packs and what is sold, by the verdicts that every stage gives."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from coldstack.core.box.buying import Box, Purchase
from coldstack.core.box.demand import Demand
from coldstack.core.box.one_plug import ModelPlug
from coldstack.core.box.served_solver import Floats
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.warmth import Warming
from coldstack.core.fit.fit import verdicts
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate, warming_of
from coldstack.core.trial.job import Job

SERVES: tuple[FitVerdict, ...] = ("does", "care")


@dataclass(frozen=True, slots=True)
class BoxModel:
    """A model with how often it is run."""

    job: Job
    demand: Demand


@dataclass(frozen=True, slots=True)
class Boxed:
    """Verdicts of owned packs, a list a model; the box as figures; what is sold; each model’s plug."""

    verdicts: tuple[tuple[FitVerdict, ...], ...]
    box: Box
    shop: tuple[Purchase, ...]
    plugs: tuple[ModelPlug, ...]

    @property
    def wanted_minutes(self) -> float:
        """Minutes a month if every run had a pack as good as the best for it, owned or else on sale. [min]"""
        wanted = 0.0
        for m, (runs, days) in enumerate(zip(self.box.runs_a_day, self.box.days_a_month, strict=True)):
            mine = self.box.minutes[:, m].max(initial=0.0)
            wanted += days * runs * (mine or max((p.minutes[m] for p in self.shop), default=0.0))
        return max(float(wanted), self.box.served().minutes)


def boxed(
    models: Sequence[BoxModel], owned: Sequence[Pack], sold: Sequence[Pack], pieces: tuple[Adapter, ...]
) -> Boxed:
    """All owned packs and all that is sold in every model, each in one pass.

    An owned pack serves where it does the job, or goes with care; what is bought has to do it, unless nothing
    on sale does it better than with care.
    """
    found, columns, shop, plugs = [], [], [], []
    for m in models:
        said, minutes, warm = _in_model(m.job, [*owned, *sold], pieces)
        mine, others = said[: len(owned)], said[len(owned) :]
        wanted: tuple[FitVerdict, ...] = ("does",) if "does" in others else SERVES
        found.append(tuple(mine))
        counts = [_used_minutes(m.job, t) for t in minutes]
        columns.append([t if v in SERVES else 0.0 for v, t in zip(mine, counts, strict=False)])
        on_sale = zip(others, counts[len(owned) :], strict=True)
        shop.append([t if v in wanted else 0.0 for v, t in on_sale])
        plugs.append(
            ModelPlug(
                m.job.name,
                m.job.electronics.plug,
                m.job.is_assumed("electronics.plug"),
                0 if m.job.now is None else m.job.now.series,
                warm,
            )
        )
    grid: Floats = np.array(columns, float).reshape(len(models), len(owned)).T
    box = Box(grid, tuple(m.demand.runs_a_day for m in models), tuple(m.demand.days_a_month for m in models))
    bought = [
        Purchase(p.id, p.name, tuple(shop[m][k] for m in range(len(models))), p.price)
        for k, p in enumerate(sold)
    ]
    return Boxed(tuple(found), box, tuple(bought), tuple(plugs))


def _used_minutes(job: Job, minutes: float) -> float:
    """What of a pack's minutes is run: all to its landing point; of equipment the hours that are wanted."""
    if job.equipment is None:
        return minutes
    return min(job.used_share * minutes, 60 * job.equipment.hours)


def _in_model(
    job: Job, packs: Sequence[Pack], pieces: tuple[Adapter, ...]
) -> tuple[list[FitVerdict], list[float], Warming | None]:
    """Verdicts and minutes of packs in one model, and what the longest of those that run asks of a plug."""
    if not packs:
        return [], [], None
    e = evaluate(job, job_candidates(job, packs, pieces))
    said = verdicts(e)
    able = [k for k, v in enumerate(said) if v in SERVES]
    warm = warming_of(e, max(able, key=lambda k: e.minutes[k])) if able else None
    return said, e.minutes.tolist(), warm
