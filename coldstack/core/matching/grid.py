"""My packs against my models and chargers: a verdict for every pair, in one run a model and one pass over
all chargers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.adapters import Adapter, Path
from coldstack.core.chain.plugs import mating
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.matching.charge import Bench, ChargeFit, best_feed, charge_fit, fit_minutes
from coldstack.core.matching.drive import brief_peak, device_end, owned_path, pack_end_in, path_to_get
from coldstack.core.matching.verdict import (
    FitVerdict,
    fit_verdict,
    forbidden_by,
    lacks_and_wishes,
    unfit_words,
    unknown_words,
    window_question,
)
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import Evaluation, evaluate
from coldstack.core.trial.job import Job
from coldstack.core.trial.wording import hottest_link, lack
from coldstack.core.units import lower_first, plain_number


@dataclass(frozen=True, slots=True)
class GridCell:
    """One pack in one model or on one charger. ``short`` is for the cell itself, ``sentence`` explains it."""

    verdict: FitVerdict
    short: str
    sentence: str
    minutes: float | None = None
    current_a: float | None = None
    loading: float | None = None


def drive_column(job: Job, packs: tuple[Pack, ...], pieces: tuple[Adapter, ...]) -> list[GridCell]:
    """Every pack in one model. Only those that the volts allow are run, all in one pass."""
    cells = [_at_once(job, pack) for pack in packs]
    rows = [i for i, cell in enumerate(cells) if cell is None]
    if rows:
        ends = {i: pack_end_in(job, packs[i]) for i in rows}
        owned = {end: owned_path(job, end, pieces) for end in set(ends.values())}
        extra = {end: (way or path_to_get(job, end)).extra_mohm for end, way in owned.items()}
        candidates = job_candidates(job, [packs[i] for i in rows])
        outside = candidates.outside_mohm + np.array([extra[ends[i]] for i in rows])
        e = evaluate(job, replace(candidates, outside_mohm=outside))
        for row, i in enumerate(rows):
            cells[i] = _run_cell(e, row, owned[ends[i]], packs[i])
    return [cell for cell in cells if cell is not None]


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


def _at_once(job: Job, pack: Pack) -> GridCell | None:
    """Verdicts that need no run: an unfit pack, and volts outside the electronics' window."""
    if not pack.fit:
        return GridCell("no", "unfit", f"Not to be used: {unfit_words(pack)}.")
    cell, e, n = chemistry(pack.chemistry), job.electronics, plain_number
    full_v = cell.full_v * pack.series
    if asks := window_question(job, pack.chemistry, pack.series):
        return GridCell("no", "controller?", f"{asks}.")
    if round(full_v, 6) > e.max_v:
        return GridCell(
            "no",
            "too many volts",
            f"{n(full_v)} V fresh off the charger; {job.name} takes {n(e.max_v)} V at most.",
        )
    if full_v <= e.min_v:
        return GridCell(
            "no",
            "too few volts",
            f"{n(full_v)} V when full; {job.name} needs more than {n(e.min_v)} V under load.",
        )
    return None


def _run_cell(e: Evaluation, row: int, path: Path | None, pack: Pack) -> GridCell:
    rms, peak = float(e.discharge.rms_current_a[row]), float(e.discharge.peak_current_a[row])
    minutes, (loading, name) = float(e.minutes[row]), hottest_link(e, row)
    if path is not None and path.pieces:
        through = path.loading(rms, peak, brief_peak=brief_peak(e.job))
        loading, name = max((loading, name), (through, "adapter"))
    lacks, short_of = lacks_and_wishes(e, row)
    end = pack_end_in(e.job, pack)
    meeting = mating(end, device_end(e.job, end))
    over = (loading, name) if loading > 1 else None
    unknown = unknown_words(e.job, e.candidates, pack, row)
    verdict, sentence = fit_verdict(path, over, lacks, short_of, meeting.sentence, unknown)
    if path is None:
        short = "look-alike plug" if meeting.look_alike else "other plug"
    elif lacks:
        short = _forbidden(e, row)
    else:
        short = {
            "no": f"{name.split(',')[0]} {loading * 100:.0f} %",
            "with": "with adapter",
            "fits": unknown or "fits",
        }[verdict]
    return GridCell(verdict, short, sentence, minutes, None, min(loading, 99.0))


def _forbidden(e: Evaluation, row: int) -> str:
    worst = forbidden_by(e, row)[0]
    return e.checks[worst].spec.short or lack(e, worst, row)


def _charge_cell(fit: ChargeFit, minutes: float | None) -> GridCell:
    if not fit.possible or fit.amps is None or minutes is None:
        return GridCell("no", fit.refusals[0].short, " ".join(r.sentence for r in fit.refusals))
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
        "with" if aids else "fits", f"{n(amps.current_a)} A", sentence, float(minutes), amps.current_a
    )
