"""Checks in the light of what the model runs on now: it runs, so it bears that, and nobody need refuse it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.discharge.batch import Floats
from coldstack.core.packs.kinds import CandidateKind
from coldstack.core.packs.measured import SIGMAS
from coldstack.core.packs.pack import Pack
from coldstack.core.trial.candidates import Bools, Candidates
from coldstack.core.trial.checks.bay import IN_THE_BAY
from coldstack.core.trial.checks.spec import CheckColumn
from coldstack.core.trial.checks.wants import DELIVERS, DRIVE, FULL, LANDING, MINUTES
from coldstack.core.trial.job import Job, RunsOn
from coldstack.core.trial.now import NOW_ID, SO_ALIKE
from coldstack.core.trial.unknowns import NINE_IN_TEN

BORNE_SHARE = 1.02
"""What loads a link by no more than so many times what it bears today, it bears too. House figure."""


@dataclass(frozen=True, slots=True)
class RunsNow:
    """What the pack of now asks of the model: loadings of links and bay by the id of their check, and its
    full-stick watts over those for which the draw was told."""

    loadings: Mapping[str, float]
    punch: float
    minutes: float | None = None
    """To its landing point. [min]"""
    burst_a: float | None = None
    printed_a: float | None = None
    """What it gives for ten seconds, and what its label promises all the time. [A]"""


def in_the_light_of(
    now: RunsNow, job: Job, c: Candidates, found: list[CheckColumn], loading: Floats
) -> list[CheckColumn]:
    """The columns, with what the pack of now bears today borne by it and by what asks no more."""
    if job.now is None:
        return found
    itself = _two_alike(job.now, c)
    for wanted in {NOW_ID, job.now.pack}.intersection(c.ids):
        itself[c.ids.index(wanted)] = True
    if job.is_assumed("draw.average_a") and itself.any():
        most = math.exp(NINE_IN_TEN * math.log1p(job.duty.spread) / SIGMAS)
        found = [_unless_longer(x, itself, most) if x.id == MINUTES.id else x for x in found]
    rows = zip(found, loading, strict=True)
    return [_in_its_light(job.now, c, x, now, itself, of) if may_be_borne(x) else x for x, of in rows]


ANOTHER = 1.5
"""Times the capacity told of it: so far off, the pack under the tag is another one by now. House figure."""


def as_linked(job: Job, packs: Sequence[Pack]) -> Job:
    """The job without its link to a pack that is not among these any more, or under whose tag another one
    lies."""
    now = job.now
    if now is None or not now.pack:
        return job
    pack = next((p for p in packs if p.id == now.pack), None)
    if pack is not None and (pack.chemistry, pack.series) == (now.chemistry, now.series):
        ratio = pack.capacity_ah / now.capacity_ah
        if 1 / ANOTHER < ratio < ANOTHER:
            return job
    return replace(job, now=replace(now, pack=""))


def _two_alike(now: RunsOn, c: Candidates) -> Bools:
    """Pairs of the box that are as the two packs which the model runs on: the same cells and capacity, joined
    the same way; shape (N,)."""
    if not now.joined:
        return np.zeros(len(c), bool)
    alike = (c.series == now.series) & (np.abs(c.capacity_ah / now.capacity_ah - 1) < SO_ALIKE)
    for k in np.flatnonzero(alike).tolist():
        pack = c.packs[k]
        alike[k] = pack is not None and pack.owned and _joined_as(now, c.kind(k))
    return np.asarray(alike)


def _joined_as(now: RunsOn, kind: CandidateKind) -> bool:
    return kind.joined and kind.beside == (now.joined == "parallel")


def _unless_longer(check: CheckColumn, itself: Bools, most: float) -> CheckColumn:
    """The minutes of what it runs on now are its owner's to tell: by a draw that nobody gave it is not known
    to be too short while it may run up to ``most`` times as long."""
    return replace(check, usual=itself & (check.value * most >= check.limit), bears=BY_A_GUESS)


BY_A_GUESS = "by a draw that nobody gave: how long does it run?"


def _in_its_light(
    runs_on: RunsOn, c: Candidates, check: CheckColumn, now: RunsNow, itself: Bools, loading: Floats
) -> CheckColumn:
    """A check of a link, the bay or the controller's volts beside what the model bears today: no worse than
    that, or that itself. Volts over the controller's are borne of packs at hand alone, and of the same
    chemistry: nobody buys more of them, and fresh NiMH gives its high ones for seconds."""
    no_worse = loading <= BORNE_SHARE * now.loadings.get(check.id, math.nan)
    if check.id in (DELIVERS.id, DRIVE.id):
        no_worse &= itself
    if check.id == FULL.id:
        alike = c.chemistry_index == CHEMISTRY_IDS.index(runs_on.chemistry)
        for k in np.flatnonzero(no_worse & alike & ~itself).tolist():
            p = c.packs[k]
            alike[k] = p is not None and p.owned
        no_worse &= alike
    return replace(check, usual=itself | no_worse)


def may_be_borne(check: CheckColumn) -> bool:
    """Whether the pack of now, doing it today, speaks against this check."""
    return check.is_link or check.id in BORNE or check.id in IN_THE_BAY


BORNE = (FULL.id, LANDING.id, DELIVERS.id, DRIVE.id)
"""Beside the links and the bay: what the pack of now itself does, it does."""
