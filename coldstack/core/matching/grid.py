"""My packs against my models and chargers: a verdict for every pair, in one run a model and one pass over all chargers."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.adapters import Adapter, Path
from coldstack.core.chain.own_plugs import depends_on_plugs
from coldstack.core.chain.plugs import mating
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.matching.charge import Bench, ChargeFit, best_feed, charge_fit, fit_minutes
from coldstack.core.matching.drive import (
    brief_peak,
    device_end,
    fit_verdict,
    forbidden_by,
    lacks_and_wishes,
    owned_path,
    pack_end_in,
    path_to_get,
    unfit_words,
    unknown_words,
    window_question,
)
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.sizing.candidates import job_candidates
from coldstack.core.sizing.evaluate import Evaluation, evaluate
from coldstack.core.sizing.job import Job
from coldstack.core.sizing.wording import hottest_link, lack
from coldstack.core.units import lower_first, plain_number

CellVerdict = Literal["fits", "with", "no"]

MOST_KEPT = 1000
"""Results kept of one model; each edit of a pack adds one."""


@dataclass(frozen=True, slots=True)
class GridCell:
    """One pack in one model or on one charger. ``short`` is for the cell itself, ``sentence`` explains it."""

    verdict: CellVerdict
    short: str
    sentence: str
    minutes: float | None = None
    current_a: float | None = None
    loading: float | None = None


def drive_column(job: Job, packs: tuple[Pack, ...], pieces: tuple[Adapter, ...]) -> list[GridCell]:
    """Every pack in one model. Only those that the volts allow are run, all in one pass, and kept: a new pack is run alone."""
    known = dict(_kept(job))
    ends = [pack_end_in(job, pack) for pack in packs]
    ways = {end: owned_path(job, end, pieces) for end in set(ends)}
    keys = [(pack, ways[end]) for pack, end in zip(packs, ends, strict=True)]
    known |= {key: cell for key in keys if key not in known and (cell := _at_once(job, key[0]))}
    to_run = [key for key in dict.fromkeys(keys) if key not in known]
    if to_run:
        candidates = job_candidates(job, [pack for pack, _ in to_run])
        extra = [(way or path_to_get(job, pack_end_in(job, pack))).extra_mohm for pack, way in to_run]
        e = evaluate(job, replace(candidates, outside_mohm=candidates.outside_mohm + np.array(extra)))
        known |= {(pack, way): _run_cell(e, i, way, pack) for i, (pack, way) in enumerate(to_run)}
    if len(known) > MOST_KEPT:
        _kept(job).clear()
    else:
        _kept(job).update(known)
    return [known[key] for key in keys]


@lru_cache(maxsize=64)
def _kept(job: Job) -> dict[tuple[Pack, Path | None], GridCell]:
    """What packs were found to do in this model, by pack and by the way of its plug."""
    return {}


depends_on_plugs(_kept.cache_clear)


def charge_cells(packs: Sequence[Pack], chargers: Sequence[Charger], *, rules: HouseRules, trust: LabelTrust, bench: Bench, supplies: Sequence[Supply]) -> list[list[GridCell]]:  # fmt: skip
    """Every pack on every charger, alone on it and with its best input: rows of packs."""
    feeds = {c.id: best_feed(c, supplies) for c in chargers}
    fits = [[charge_fit(p, c, rules=rules, feed=feeds[c.id], bench=bench) for c in chargers] for p in packs]
    possible = [f for row in fits for f in row if f.possible]
    minutes = dict(zip(map(id, possible), fit_minutes(possible, rules=rules, trust=trust), strict=True)) if possible else {}  # fmt: skip
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
        return GridCell("no", "too many volts", f"{n(full_v)} V fresh off the charger; {job.name} takes {n(e.max_v)} V at most.")  # fmt: skip
    if full_v <= e.min_v:
        return GridCell("no", "too few volts", f"{n(full_v)} V when full; {job.name} needs more than {n(e.min_v)} V under load.")  # fmt: skip
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


_SHORT = {
    "window.full": "too many volts",
    "window.landing": "volts sag too low",
    "run.delivers": "stops early",
    "drive.watts": "too few volts",
}
"""A cell's words for what the model forbids; bay checks say their millimetres."""


def _forbidden(e: Evaluation, row: int) -> str:
    worst = forbidden_by(e, row)[0]
    return _SHORT.get(e.checks[worst].id) or lack(e, worst, row)


def _charge_cell(fit: ChargeFit, minutes: float | None) -> GridCell:
    if not fit.possible or fit.amps is None or minutes is None:
        return GridCell("no", fit.refusals[0].short, " ".join(r.sentence for r in fit.refusals))
    amps, n = fit.amps, plain_number
    aids = [*(p.name for p in fit.path.pieces if p.kind != "lead")] if fit.path else []
    if fit.balance and fit.balance.adapter and fit.balance.adapter not in aids:
        aids.append(fit.balance.adapter)
    tail = f" With {' and '.join(aids)}." if aids else ""
    sentence = f"{n(amps.current_a)} A, about {minutes:.0f} min from the landing point. Limit: {lower_first(amps.binding.name)}.{tail}"  # fmt: skip
    return GridCell(
        "with" if aids else "fits", f"{n(amps.current_a)} A", sentence, float(minutes), amps.current_a
    )
