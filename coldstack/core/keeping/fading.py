"""A pack that holds less than it did: what its charges put back and what its runs took, read together.

Each tells its capacity over its own first: a charge by mAh over the share of charge put in, a run by its
minutes over the share of charge that it took. One alone scatters by more than a pack fades in a month;
together they show when it began, and how much is gone.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

import numpy as np

from coldstack.core.keeping.evidence import FEWEST, FIRST, Evidence, limits
from coldstack.core.keeping.records import Record
from coldstack.core.packs.health import Level
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.working import Step, Working

CHARGE_SCATTER, RUN_SCATTER = 0.04, 0.09
"""One standard deviation of a capacity by one charge, and by one run: meters, and how one flies. House
figures."""
LEAST_RUN_SHARE = 0.3
"""A run that took less of the charge says too little. House figure."""
CLEAR = 24.0
"""So much less misfit (twice the logarithm of how much likelier) with a decline than without one is no
chance, wherever it began. House figure."""
SOME = 0.3
"""Of its error, what a loss must stand out by to be worth watching. House figure."""
LATEST_KNOWN = 60
"""So many of the latest figures are looked at."""
BEGAN_WITH = 3
"""A decline shows in so many figures at least."""


@dataclass(frozen=True, slots=True)
class HeldShare:
    """What one record tells: how much the pack held over its own first, as a logarithm, and its error."""

    cycle: int
    value: float
    sigma: float


@dataclass(frozen=True, slots=True)
class Decline:
    """The likeliest decline: since which cycle, the share lost by now with its error, and how clear it is."""

    since: int
    lost: float
    error: float
    clear: float


def fading(records: Sequence[Record], rules: HouseRules) -> Evidence | str:
    """Whether charges and runs together say that it holds less than it did."""
    known = told_by(records)
    if len(known) < 2 * FEWEST:
        return f"fading ({len(known)} of {2 * FEWEST} charges or runs)"
    found = decline(known)
    level, lost = _level(found, rules), 0.0 if found is None else found.lost
    words = (
        f"Holds {100 * lost:.0f} % less than at first, by its charges and runs together."
        if level != "fine"
        else "No fading that its charges and runs together would show."
    )
    charges, runs = (sum(k.sigma == s for k in known) for s in (CHARGE_SCATTER, RUN_SCATTER))
    steps = [
        Step(
            "Charges",
            "mAh ÷ share of charge put in, over the first",
            f"{charges}, each ± {CHARGE_SCATTER:.0%}",
        ),
        Step("Runs", "minutes ÷ share of charge taken, over the first", f"{runs}, each ± {RUN_SCATTER:.0%}"),
    ]
    if found is not None:
        steps += [
            Step("Likeliest decline", "steady, from one charge on", f"since charge {found.since}"),
            Step("Lost by now", "with one error", f"{100 * found.lost:.0f} % ± {100 * found.error:.0f} %"),
            Step("Less misfit than without one", f"{CLEAR:g} is no chance", f"{found.clear:.0f}"),
        ]
    steps.append(
        limits("watch, light duty", f"{rules.capacity_watch:.0%}, {rules.capacity_end:.0%} left", rules)
    )
    return Evidence("fading", level, words, Working("Fading", tuple(steps)))


def fading_level(records: Sequence[Record], rules: HouseRules) -> Level:
    """The level of `fading`, without its words."""
    known = told_by(records)
    return "fine" if len(known) < 2 * FEWEST else _level(decline(known), rules)


def _level(found: Decline | None, rules: HouseRules) -> Level:
    if found is None or found.clear < CLEAR:
        return "fine"
    left = 1 - found.lost
    if left + found.error < rules.capacity_end:
        return "light"
    return "watch" if left + SOME * found.error < rules.capacity_watch else "fine"


def told_by(records: Sequence[Record]) -> list[HeldShare]:
    """What charges and runs tell of what it holds, over the first of their kind."""
    charges = [(r.cycle, r.capacity_ah) for r in records if r.capacity_ah]
    runs = [
        (r.cycle, r.run_minutes / r.run_share)
        for r in records
        if r.run_minutes and r.run_share and r.run_share >= LEAST_RUN_SHARE
    ]
    out = []
    for found, sigma in ((charges, CHARGE_SCATTER), (runs, RUN_SCATTER)):
        if len(found) < FEWEST:
            continue
        first = median(value for _, value in found[:FIRST])
        out += [(cycle, value / first, sigma) for cycle, value in found[-LATEST_KNOWN:]]
    latest = sorted(out, key=lambda k: k[0])[-LATEST_KNOWN:]
    return [HeldShare(cycle, math.log(share), sigma) for cycle, share, sigma in latest]


def decline(known: Sequence[HeldShare]) -> Decline | None:
    """The likeliest steady decline from some cycle on, by weighed least squares: a level before it, a slope
    after it. None where all stay level or rise."""
    cycle, y, sigma = (np.array([getattr(k, of) for k in known], float) for of in ("cycle", "value", "sigma"))
    w, since = 1 / sigma**2, np.unique(cycle)
    since = since[(cycle[None, :] > since[:, None]).sum(axis=1) >= BEGAN_WITH]
    if not len(since):
        return None
    late = np.maximum(cycle[None, :] - since[:, None], 0.0)
    h, hh, hy = (w * late).sum(axis=1), (w * late**2).sum(axis=1), (w * late * y).sum(axis=1)
    det = w.sum() * hh - h**2
    det[det <= 1e-9 * w.sum() * hh] = np.inf  # all of it lies after: level and slope are one
    slope = (w.sum() * hy - h * (w * y).sum()) / det
    base = ((w * y).sum() - slope * h) / w.sum()
    level = (w * (y - (w * y).sum() / w.sum()) ** 2).sum()
    clear = level - (w * (y - base[:, None] - slope[:, None] * late) ** 2).sum(axis=1)
    clear[slope >= 0] = -np.inf
    k = int(np.argmax(clear))
    if not np.isfinite(clear[k]):
        return None
    length = float(cycle.max() - since[k])
    error = float(np.sqrt(w.sum() / det[k])) * length
    return Decline(int(since[k]), -math.expm1(float(slope[k]) * length), error, float(clear[k]))
