"""My packs against my models and chargers: a verdict for every pair, in one run a model and one pass over
all chargers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.adapters import Adapter
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.fit.fit import fit_of
from coldstack.core.fit.verdict import FitVerdict
from coldstack.core.matching.charge import Bench, ChargeFit, best_feed, charge_fit, fit_minutes
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import Evaluation, evaluate
from coldstack.core.trial.job import Job
from coldstack.core.units import lower_first, plain_number


@dataclass(frozen=True, slots=True)
class GridCell:
    """One pack in one model or on one charger. ``short`` is for the cell itself, ``sentence`` explains it;
    ``adapters`` that it goes through one."""

    verdict: FitVerdict
    short: str
    sentence: str
    minutes: float | None = None
    current_a: float | None = None
    loading: float | None = None
    adapters: bool = False


def drive_column(job: Job, packs: tuple[Pack, ...], pieces: tuple[Adapter, ...]) -> list[GridCell]:
    """Every pack in one model, in one pass."""
    if not packs:
        return []
    e = evaluate(job, job_candidates(job, packs, pieces))
    return [_run_cell(e, row) for row in range(len(packs))]


def charge_cells(
    packs: Sequence[Pack],
    chargers: Sequence[Charger],
    *,
    rules: HouseRules,
    trust: LabelTrust,
    bench: Bench,
    supplies: Sequence[Supply],
) -> list[list[GridCell]]:
    """Every pack on every charger, alone on it and with its best input: rows of packs."""
    feeds = {c.id: best_feed(c, supplies) for c in chargers}
    fits = [[charge_fit(p, c, rules=rules, feed=feeds[c.id], bench=bench) for c in chargers] for p in packs]
    possible = [f for row in fits for f in row if f.possible]
    minutes = (
        dict(zip(map(id, possible), fit_minutes(possible, rules=rules, trust=trust), strict=True))
        if possible
        else {}
    )
    return [[_charge_cell(f, minutes.get(id(f))) for f in row] for row in fits]


def _run_cell(e: Evaluation, row: int) -> GridCell:
    found, way = fit_of(e, row), e.candidates.ways[row]
    through = way is not None and way.path is not None and bool(way.path.pieces)
    return GridCell(
        found.verdict,
        found.short,
        found.sentence,
        found.minutes,
        None,
        min(found.loading, 99.0),
        through,
    )


def _charge_cell(fit: ChargeFit, minutes: float | None) -> GridCell:
    if not fit.possible or fit.amps is None or minutes is None:
        return GridCell("wont", fit.refusals[0].short, " ".join(r.sentence for r in fit.refusals))
    amps, n = fit.amps, plain_number
    aids = [*(p.name for p in fit.path.pieces if p.kind != "lead")] if fit.path else []
    if fit.balance and fit.balance.adapter and fit.balance.adapter not in aids:
        aids.append(fit.balance.adapter)
    tail = f" With {' and '.join(aids)}." if aids else ""
    sentence = (
        f"{n(amps.current_a)} A, about {minutes:.0f} min from the landing point. Limit: "
        f"{lower_first(amps.binding.name)}.{tail}"
    )
    return GridCell(
        "does", f"{n(amps.current_a)} A", sentence, float(minutes), amps.current_a, adapters=bool(aids)
    )
