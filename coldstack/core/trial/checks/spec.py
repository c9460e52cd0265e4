"""What a check of sizing is: its spec, said once, and the spec beside its figures for all candidates."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from coldstack.core.checks import (
    Check,
    Verdict,
    asked,
    borne_today,
    check_at_least,
    check_at_most,
    check_statement,
)
from coldstack.core.discharge.batch import Discharge, Floats
from coldstack.core.trial.candidates import Bools, Candidates
from coldstack.core.trial.job import Job
from coldstack.core.working import Step

NEVER = 1.0001
"""For limits that are met or not: being near one is no cause for caution."""


@dataclass(frozen=True, slots=True)
class Miss:
    """By what one candidate misses a limit."""

    value: float
    limit: float
    loading: float
    job: Job
    candidates: Candidates
    row: int


@dataclass(frozen=True, slots=True)
class PlatePart:
    """What a check says on the plate of its link.

    ``when`` and ``moment`` tell when it counts, as in "controller, continuous" and "the weakest link all the
    time". Up to ``roomy`` it is not strained; above that ``relief`` tells how far it goes and what helps.
    ``steps``, of the run and a row, lead to its value.
    """

    link: str
    when: str
    moment: str
    roomy: float
    relief: Callable[[Check], str]
    steps: Callable[[Discharge, int], tuple[Step, ...]]


@dataclass(frozen=True, slots=True)
class Spec:
    """One rule: what is compared, which way it holds, and its words.

    ``lacks`` tells a miss ("92 g too heavy"), ``short`` the same without its figure for a small cell.
    ``gives`` names what would have to give where nothing meets all.
    ``wish``: what the owner wants, not what the model forbids. ``required``: who is over is out.
    ``in_sight``: it is shown, and judges nothing. ``care_from``: the loading from which it goes with care.
    ``where``: the field of the job in which the limit stands. ``grave``: while its limit is only assumed, who
    is over is not run. ``fact``: it holds or not, without a number. ``plate``: what it says on the plate of
    its link, if it speaks of one.
    """

    id: str
    title: str
    unit: str
    lacks: Callable[[Miss], str]
    gives: str
    at_most: bool = True
    short: str = ""
    wish: bool = False
    required: bool = True
    caution_from: float = NEVER
    plate: PlatePart | None = None
    in_sight: bool = False
    care_from: float | None = None
    where: str = ""
    grave: bool = False
    fact: bool = False


HOLDS_AGAINST = 1.2
"""Loading that stands for a fact that speaks against a candidate: near enough to be told among the misses."""


@dataclass(frozen=True, slots=True)
class CheckColumn:
    """One rule for N candidates: value and limit, shape (N,), and where the limit comes from.

    ``assumed``: for which candidates nobody gave the limit; there it refuses nothing, and asks ``question``.
    """

    spec: Spec
    value: Floats
    limit: Floats
    source: str
    assumed: Bools | None = None
    question: str = ""
    told: Callable[[int], str] | None = None
    """What a fact that speaks against a candidate says, by its row."""
    usual: Bools | None = None
    """For which candidates it is no worse than on what the model runs on now, or which are that."""
    bears: str = ""
    """What to say where that holds; empty for what to look at."""

    @property
    def id(self) -> str:
        """The check's id."""
        return self.spec.id

    @property
    def link(self) -> str:
        """The link of the chain that the check speaks of; empty for none."""
        return self.spec.plate.link if self.spec.plate else ""

    @property
    def is_link(self) -> bool:
        """Whether the check speaks of a link of the chain."""
        return self.spec.plate is not None

    @property
    def known(self) -> Bools:
        """For which candidates somebody gave the limit, shape (N,)."""
        return np.ones(len(self.value), bool) if self.assumed is None else ~self.assumed

    @property
    def borne(self) -> Bools:
        """For which candidates the model bears today what this check says, shape (N,)."""
        return np.zeros(len(self.value), bool) if self.usual is None else self.usual

    @property
    def counts(self) -> Bools:
        """For which candidates being over the limit rules them out, shape (N,)."""
        return self.known & (self.spec.required or self.spec.wish) & ~self.borne

    @property
    def loading(self) -> Floats:
        """Value over limit, or limit over value: above 1 is bad. NaN where one is missing."""
        at_most = self.spec.at_most
        with np.errstate(divide="ignore", invalid="ignore"):
            ratio = self.value / self.limit if at_most else self.limit / self.value
        bad = np.isinf(ratio) | ((self.limit <= 0) & at_most & (self.value > 0))
        return np.where(bad, np.inf, ratio)

    def check(self, row: int, steps: tuple[Step, ...] = ()) -> Check:
        """The check of one candidate, with its sentence and working."""
        if self.spec.fact:
            return self._statement(row)
        make = check_at_most if self.spec.at_most else check_at_least
        made = make(
            self.id,
            self.spec.title,
            value=float(self.value[row]),
            limit=float(self.limit[row]),
            unit=self.spec.unit,
            limit_source=self.source,
            caution_from=self.spec.caution_from,
            steps=steps,
        )
        if self.borne[row] and made.verdict == "over":
            return borne_today(made, self.spec.plate.link if self.spec.plate else "", self.bears)
        return made if self.known[row] else asked(made, self.question)

    def _statement(self, row: int) -> Check:
        verdict: Verdict = "ok"
        if self.loading[row] > 1:
            verdict = "over" if self.counts[row] else "caution"
        words = self.told(row) if self.told is not None and verdict != "ok" else "Nothing speaks against it"
        return check_statement(
            self.id, self.spec.title, verdict=verdict, sentence=f"{words}.", limit_source=self.source
        )


def every(n: int, value: float | None) -> Floats:
    """One figure for all candidates; NaN where it is not known."""
    return np.full(n, np.nan if value is None else float(value))
