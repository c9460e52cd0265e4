"""One way to compare a value with a limit, for every rule of the job."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Literal

from coldstack.core.units import percent, plain_number, upper_first, with_unit
from coldstack.core.working import Step, Working

Verdict = Literal["ok", "caution", "over", "unknown"]

CAUTION_FROM = 0.85
"""Loading from which a link is near its limit. House figure: it leaves 15 % for labels that flatter."""

_RANK: dict[Verdict, int] = {"over": 0, "unknown": 1, "caution": 2, "ok": 3}


@dataclass(frozen=True, slots=True)
class Check:
    """A value against its limit. ``loading`` above 1 is always bad; a missing number gives ``unknown``."""

    id: str
    title: str
    value: float | None
    limit: float | None
    unit: str
    loading: float | None
    verdict: Verdict
    sentence: str
    limit_source: str
    working: Working
    assumed: bool = False
    """Nobody gave the limit: it is a question to the owner, never a refusal."""


def check_at_most(
    check_id: str,
    title: str,
    *,
    value: float | None,
    limit: float | None,
    unit: str,
    limit_source: str,
    caution_from: float = CAUTION_FROM,
    steps: tuple[Step, ...] = (),
) -> Check:
    """A check that holds while ``value ≤ limit``; loading is value ÷ limit."""
    known = _known(value) and _known(limit)
    loading = value / limit if known and limit > 0 else (math.inf if known and value > 0 else None)  # type: ignore[operator]
    relation = "at most"
    return _check(check_id, title, value, limit, unit, loading, relation, limit_source, caution_from, steps)


def check_at_least(
    check_id: str,
    title: str,
    *,
    value: float | None,
    limit: float | None,
    unit: str,
    limit_source: str,
    caution_from: float = 1.0,
    steps: tuple[Step, ...] = (),
) -> Check:
    """A check that holds while ``value ≥ limit``; loading is limit ÷ value."""
    known = _known(value) and _known(limit)
    loading = limit / value if known and value > 0 else (math.inf if known and limit > 0 else None)  # type: ignore[operator]
    relation = "at least"
    return _check(check_id, title, value, limit, unit, loading, relation, limit_source, caution_from, steps)


def check_statement(
    check_id: str, title: str, *, verdict: Verdict, sentence: str, limit_source: str
) -> Check:
    """A check without a number: a fact about the electronics or the chemistry that holds or does not."""
    working = Working(title, (Step(title, "", sentence, limit_source),))
    return Check(check_id, title, None, None, "", None, verdict, sentence, limit_source, working)


def asked(check: Check, question: str) -> Check:
    """A check whose limit nobody gave: where it would be over it asks, and is not known; else it says
    that it is assumed."""
    if check.verdict == "over" and check.loading is not None:
        sentence = question.format(loading=percent(check.loading))
        return replace(check, verdict="unknown", sentence=sentence, assumed=True)
    return replace(check, sentence=f"{check.sentence} The limit is assumed.", assumed=True)


def borne_today(check: Check, link: str, bears: str = "") -> Check:
    """A check that is over, of what the model runs on every day: it warns, with what to look at, or what
    there is to say of it (``bears``)."""
    sentence = f"{check.sentence} {upper_first(bears)}" if bears else ""
    sentence = sentence or f"{check.sentence} It runs so today: {look_at(check.id, link)}."
    return replace(check, verdict="caution", sentence=sentence)


def look_at(check_id: str, link: str) -> str:
    """What to look at where a model bears today what a check refuses, in words within a sentence."""
    if link:
        return f"look at {'these' if link.endswith('s') else 'this'} {link} after a run"
    return (
        "look up what the controller is rated for" if check_id == "window.full" else "measure the bay again"
    )


def worst_first(checks: Iterable[Check]) -> list[Check]:
    """Over before unknown before caution before ok; within each, the higher loading first."""

    def key(check: Check) -> tuple[int, float]:
        return _RANK[check.verdict], -(check.loading if check.loading is not None else 0.0)

    return sorted(checks, key=key)


def loading_verdict(loading: float | None, *, caution_from: float = CAUTION_FROM) -> Verdict:
    """over above 1, caution from ``caution_from``, unknown for a missing number or NaN."""
    if loading is None or math.isnan(loading):
        return "unknown"
    if loading > 1:
        return "over"
    return "caution" if loading >= caution_from else "ok"


def _known(value: float | None) -> bool:
    return value is not None and not math.isnan(value)


def _check(
    check_id: str,
    title: str,
    value: float | None,
    limit: float | None,
    unit: str,
    loading: float | None,
    relation: str,
    limit_source: str,
    caution_from: float,
    steps: tuple[Step, ...],
) -> Check:
    verdict = loading_verdict(loading, caution_from=caution_from)
    if verdict == "unknown" or value is None or limit is None or loading is None:
        sentence = (
            f"{title}: not known, because {'the limit' if not _known(limit) else 'the value'} is missing."
        )
        comparison = "value or limit missing"
    else:
        carried, allowed = (with_unit(plain_number(x), unit) for x in (value, limit))
        share = f", {percent(loading)}" if relation == "at most" else ""
        sentence = f"{title}: {carried} of {relation} {allowed}{share}."
        ratio = "value ÷ limit" if relation == "at most" else "limit ÷ value"
        top, bottom = (value, limit) if relation == "at most" else (limit, value)
        comparison = f"{ratio} = {plain_number(top, 4)} ÷ {plain_number(bottom, 4)} = {percent(loading)}"
    last = Step("Loading", f"{relation} {unit}".strip(), comparison, limit_source)
    return Check(
        id=check_id,
        title=title,
        value=value if _known(value) else None,
        limit=limit if _known(limit) else None,
        unit=unit,
        loading=loading,
        verdict=verdict,
        sentence=sentence,
        limit_source=limit_source,
        working=Working(title, (*steps, last)),
    )
