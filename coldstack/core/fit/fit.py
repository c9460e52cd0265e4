"""Whether a pack does the job in a model: asked by Size, Match, the grid, the run list, go or no go, the day,
the field kit and Keep, and decided here alone.

It is read off the checks of the pack's run: what a check refuses will not do, a wish that is missed or a
figure near its limit is care, a limit that nobody gave is not known. What the model runs on now flies: what
it bears today is care, with what to look at, and never a refusal.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from coldstack.core.checks import look_at
from coldstack.core.fit.verdict import FIT_VERDICTS, FitReason, FitVerdict, worst_verdict
from coldstack.core.trial.candidates import Bools
from coldstack.core.trial.checks.bay import SIDES_OF_THE_BAY
from coldstack.core.trial.checks.facts import PLUGS, UNFIT
from coldstack.core.trial.checks.flight import HEAVIER, PUNCH
from coldstack.core.trial.checks.spec import CheckColumn, Spec
from coldstack.core.trial.checks.wants import FULL, LIVELY
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.wording import hottest_link, lack
from coldstack.core.units import sentence, upper_first

Severity = NDArray[np.int64]
NOTHING, CARE, UNKNOWN, REFUSED = range(len(FIT_VERDICTS))


MOST_SAID = 3
"""So many reasons are told in a sentence."""


@dataclass(frozen=True, slots=True)
class Fit:
    """The verdict with every reason, the worst first, in a sentence and in a word or two; minutes to the
    landing point, and the loading of the hottest link."""

    verdict: FitVerdict
    reasons: tuple[FitReason, ...]
    opening: str
    """The verdict in words, without its reasons."""
    sentence: str
    short: str
    minutes: float
    loading: float
    link: str

    @property
    def runs(self) -> bool:
        """Whether it may be run in this model at all."""
        return not any(r.bars for r in self.reasons)

    @property
    def destroys(self) -> bool:
        """Whether it destroys something once it is plugged in and used: more volts than the electronics may
        see, or a link over what it carries."""
        return self.loading > 1 or any(r.id == FULL.id and r.bars for r in self.reasons)


def verdicts(e: Evaluation, rows: Sequence[int] | None = None) -> list[FitVerdict]:
    """The verdict of each candidate, or of these."""
    at = np.arange(len(e.candidates)) if rows is None else np.array(rows, np.int64)
    found = reduce(np.maximum, _severities(e, at), np.zeros(len(at), np.int64))
    return [FIT_VERDICTS[k] for k in found.tolist()]


def fit_of(e: Evaluation, row: int) -> Fit:
    """All about one candidate."""
    reasons = tuple(_reasons(e, row))
    verdict, (loading, link) = worst_verdict(reasons), hottest_link(e, row)
    return Fit(
        verdict=verdict,
        reasons=reasons,
        opening=_opening(e, row, verdict),
        sentence=_sentence(e, row, verdict, reasons),
        short=reasons[0].short if reasons else "with adapter" if _adapters(e, row) else "does the job",
        minutes=float(e.minutes[row]),
        loading=loading,
        link=link,
    )


def _severities(e: Evaluation, at: NDArray[np.int64]) -> list[Severity]:
    pairs = zip(e.checks, e.loading, strict=True)
    found = [severity(column.spec, x[at], column.known[at], column.borne[at]) for column, x in pairs]
    by_id = {column.id: k for k, column in enumerate(e.checks)}
    if PUNCH.id in by_id and LIVELY.id in by_id:
        # one lack of punch is told once: as what it takes to fly, or as what is wanted
        told = found[by_id[PUNCH.id]] >= found[by_id[LIVELY.id]]
        found[by_id[LIVELY.id]] = np.where(told, NOTHING, found[by_id[LIVELY.id]])
    return found


def severity(spec: Spec, loading: NDArray[np.float64], known: Bools, borne: Bools) -> Severity:
    """What one check says of N candidates: by how much they load it, whether somebody gave its limit, and
    whether the model bears it today; shape (N,)."""
    out = np.zeros(len(loading), np.int64)
    if spec.in_sight:
        return out
    if spec.id in SIDES_OF_THE_BAY:
        out[np.isnan(loading)] = UNKNOWN
    over = loading > 1
    if spec.care_from is not None:
        out[(loading >= spec.care_from) & known & ~borne] = CARE
    if spec.wish or not spec.required:
        out[over] = CARE
    out[over & ~known & ~borne] = UNKNOWN
    if spec.required and not spec.wish:
        out[over & known] = REFUSED
    out[over & borne] = CARE
    return out


def _reasons(e: Evaluation, row: int) -> list[FitReason]:
    found, unmeasured = [], False
    for k, (column, (said,)) in enumerate(zip(e.checks, _severities(e, np.array([row])), strict=True)):
        if said == NOTHING:
            continue
        if math.isnan(e.loading[k, row]):
            # one measure that is missing or three: it has to be measured
            if not unmeasured:
                found.append(_unmeasured(column))
            unmeasured = True
            continue
        found.append(_reason(e, k, row, FIT_VERDICTS[int(said)]))
    return sorted(found, key=_worst_first)


FIRST = (UNFIT.id, FULL.id, PLUGS.id, PUNCH.id, HEAVIER.id)
"""What one wants to hear first, of equal verdict; the others by how far they are over."""


def _worst_first(reason: FitReason) -> tuple[int, int, float]:
    place = FIRST.index(reason.id) if reason.id in FIRST else len(FIRST)
    return -FIT_VERDICTS.index(reason.verdict), place, -reason.loading


def _reason(e: Evaluation, k: int, row: int, verdict: FitVerdict) -> FitReason:
    column = e.checks[k]
    spec, loading = column.spec, float(e.loading[k, row])
    words = column.check(row).sentence.rstrip(".") if verdict == "unknown" else lack(e, k, row)
    if loading > 1 and column.borne[row]:
        words = f"{words}, {column.bears or f'and it runs so today: {look_at(column.id, column.link)}'}"
    way = e.candidates.ways[row]
    alike = spec.id == "plug.mates" and way is not None and way.meeting.look_alike
    return FitReason(
        id=spec.id,
        verdict=verdict,
        sentence=sentence(upper_first(words)),
        words=words,
        short="look-alike plug" if alike else spec.short or lack(e, k, row),
        value=None if spec.fact else float(column.value[row]),
        limit=None if spec.fact else float(column.limit[row]),
        unit=spec.unit,
        loading=min(loading, 99.0),
        where=spec.where,
        grave=spec.grave,
    )


def _unmeasured(column: CheckColumn) -> FitReason:
    return FitReason(
        id="bay.unknown",
        verdict="unknown",
        sentence="Size unknown: measure the pack, nobody can say whether it goes in.",
        words="size unknown, nobody can say whether it goes in",
        short="size unknown",
        value=None,
        limit=None,
        unit=column.spec.unit,
        loading=1.0,
        where="pack.length_mm",
    )


def _adapters(e: Evaluation, row: int) -> str:
    way = e.candidates.ways[row]
    return way.path.names if way is not None and way.path is not None and way.path.pieces else ""


def _sentence(e: Evaluation, row: int, verdict: FitVerdict, reasons: tuple[FitReason, ...]) -> str:
    """The verdict in words: with which adapters, and why not without more."""
    said = [r.words for r in reasons if r.verdict == verdict]
    more = f"; and {len(said) - MOST_SAID} more" if len(said) > MOST_SAID else ""
    why = "; ".join(said[:MOST_SAID]) + more
    opening = _opening(e, row, verdict)
    return sentence(f"{opening}: {why}" if why else opening)


def _opening(e: Evaluation, row: int, verdict: FitVerdict) -> str:
    by = _adapters(e, row)
    with_it = f" with {by}" if by else ""
    return {
        "does": f"Does the job{with_it or ' as it is'}{_assumed(e, row)}",
        "care": f"Goes{with_it}, with care",
        "unknown": "Not known",
        "wont": "Will not do",
    }[verdict]


def _assumed(e: Evaluation, row: int) -> str:
    pack = e.candidates.packs[row]
    unsaid = pack is not None and "plug" in pack.assumed
    return ", plug assumed" if unsaid or e.job.is_assumed("electronics.plug") else ""
