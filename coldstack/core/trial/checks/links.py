"""The chain from cells to motor: each link with its limits beside the current that it carries."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from coldstack.core.cells.resistance import BURST_DURATION_S
from coldstack.core.chain.joints import ROOMY_LOADING
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.wire import WIRE_BURST_FACTOR, wire_continuous_a
from coldstack.core.checks import CAUTION_FROM, Check
from coldstack.core.discharge.batch import Discharge, Floats
from coldstack.core.trial.candidates import Bools, Candidates
from coldstack.core.trial.checks.spec import CheckColumn, Miss, PlatePart, Spec, every
from coldstack.core.trial.job import Job
from coldstack.core.units import percent, plain_number
from coldstack.core.working import Step

HOTTEST_CELL_C = 60.0
WARM_CELL_C = 50.0


@dataclass(frozen=True, slots=True)
class LinkSpec:
    """One link of the chain: its name, what relieves it (``cure``, of the amps it should be good for), and
    what would have to give."""

    key: str
    cure: str
    gives: str

    @property
    def name(self) -> str:
        """As its plate is called."""
        return self.key.capitalize()


LINKS = {
    spec.key: spec
    for spec in (
        LinkSpec("cells", "Cells good for {need} A would bring it to {then}.", "the current from the cells"),
        LinkSpec("leads", "Thicker leads, good for {need} A, would bring it to {then}.", "the leads"),
        LinkSpec("plug", "A plug good for {need} A would bring it to {then}.", "the plug"),
        LinkSpec("controller", "One of {need} A would bring it to {then}.", "the controller’s amps"),
        LinkSpec(
            "motor",
            "A motor good for {need} A, or less propeller, would bring it to {then}.",
            "the motor’s amps",
        ),
    )
}
"""From the cells to the motor."""


@dataclass(frozen=True, slots=True)
class Moment:
    """When a link's current counts: all the time by its heat, or at the peak.

    ``when``: as in "leads 112 % continuous"; ``words``: as in "the weakest link all the time".
    """

    key: str
    when: str
    words: str
    amps: Callable[[Discharge], Floats]
    step: Callable[[float], Step]


CONTINUOUS = Moment(
    "continuous",
    "continuous",
    "all the time",
    lambda d: d.rms_current_a,
    lambda amps: Step(
        "Current that heats",
        "√(mean of I²) over the run",
        f"{plain_number(amps)} A",
        "RMS, because heat goes with the square of the current",
    ),
)
BURST = Moment(
    "burst",
    "at the peak",
    "at the peak",
    lambda d: d.peak_current_a,
    lambda amps: Step(
        "Largest current", "peak phase at the pack’s own volts under load", f"{plain_number(amps)} A"
    ),
)


def _cooler(check: Check) -> str:
    value = plain_number(check.value or 0.0)
    return f": {value} °C of {HOTTEST_CELL_C:g} °C. More capacity, more C or moving air keeps it cooler."


def _heat_steps(d: Discharge, row: int) -> tuple[Step, ...]:
    wh = f"{plain_number(float(d.heat_wh[row]))} Wh over the run"
    return (Step("Heat", "I²·R0 + v²/R1, less what the bay sheds", wh),)


HOT = Spec(
    "cells.temperature",
    "Cells when landing",
    "°C",
    lambda m: f"cells at {plain_number(m.value, 3)} °C when landing",
    LINKS["cells"].gives,
    caution_from=WARM_CELL_C / HOTTEST_CELL_C,
    plate=PlatePart(
        "cells", "by temperature", "when landing", WARM_CELL_C / HOTTEST_CELL_C, _cooler, _heat_steps
    ),
)


@dataclass(frozen=True, slots=True)
class _Part:
    """One of the things that limit a link: amps continuous and in bursts, and for which candidates nobody
    gave them."""

    continuous_a: Floats
    burst_a: Floats
    assumed: Bools


@dataclass(frozen=True, slots=True)
class _Link:
    """A link with all that limits it, where that comes from, and what to ask where it is assumed."""

    spec: LinkSpec
    parts: list[_Part]
    source: str
    question: str = ""
    sharing: int = 1


def link_columns(job: Job, c: Candidates, d: Discharge) -> Iterator[CheckColumn]:
    """Continuous limit against RMS amps, burst limit against the peak; the cells' heat.

    Of several controllers or motors the amps of one are compared with the rating of one.
    """
    for link in _links(job, c):
        yield _column(job, d, link, CONTINUOUS, by_burst=False)
        yield _column(job, d, link, BURST, by_burst=job.duty.longest_peak_s <= BURST_DURATION_S)
    hottest = every(len(c), HOTTEST_CELL_C)
    yield CheckColumn(HOT, d.end_temperature_c, hottest, "60 °C, beyond which lithium cells age fast")


def _column(job: Job, d: Discharge, link: _Link, moment: Moment, *, by_burst: bool) -> CheckColumn:
    value = moment.amps(d) / link.sharing
    limits = [p.burst_a if by_burst else p.continuous_a for p in link.parts]
    limit, assumed = _least(value, limits, [p.assumed for p in link.parts])
    source, question = link.source, link.question
    if moment is BURST:
        tail = "burst limit" if by_burst else "continuous limit, since the peak lasts over 10 s"
        source = f"{source}, {tail}"
        if unsure := peak_question(job):
            # a peak that nobody gave says nothing against a limit, whoever gave that
            assumed, question = np.ones(len(value), bool), unsure
    return CheckColumn(_spec(link, moment), value, limit, source, assumed, question)


def _spec(link: _Link, moment: Moment) -> Spec:
    key = link.spec.key

    def lacks(m: Miss) -> str:
        return f"{key} {percent(m.loading)} {moment.when}"

    def relief(check: Check) -> str:
        value = check.value or 0.0
        need = math.ceil(value / ROOMY_LOADING)
        cure = link.spec.cure.format(need=plain_number(need), then=percent(value / need))
        return f", {percent(check.loading or 0.0)}. {cure}"

    def steps(d: Discharge, row: int) -> tuple[Step, ...]:
        found = moment.step(float(moment.amps(d)[row]))
        if link.sharing <= 1:
            return (found,)
        return found, Step("Shared", "÷ number", f"÷ {link.sharing}", "each is taken to carry the same")

    return Spec(
        f"{key}.{moment.key}",
        f"{of_several(link.spec.name, link.sharing)}, {moment.when}",
        "A",
        lacks,
        link.spec.gives,
        caution_from=CAUTION_FROM,
        plate=PlatePart(key, moment.when, moment.words, ROOMY_LOADING, relief, steps),
    )


def _links(job: Job, c: Candidates) -> Iterator[_Link]:
    """From the cells on; the model's own leads and plug beside the pack's."""
    many = len(c)
    yield _Link(
        LINKS["cells"],
        [_Part(c.continuous_a, c.burst_a, np.zeros(many, bool))],
        "measured, or label as trusted",
    )
    yield _leads(job, c)
    yield _plug(job, c)
    e = job.electronics
    amps = plain_number(e.controller_continuous_a or 0.0)
    asks = f"{amps} A assumed: {{loading}}; what is your controller rated for?"
    yield _rated(job, many, "controller", e.controller_continuous_a, e.controller_burst_a, asks)
    if e.motor_continuous_a is not None or e.motor_burst_a is not None:
        asks = "Motor assumed: {loading}; what is yours rated for?"
        yield _rated(job, many, "motor", e.motor_continuous_a, e.motor_burst_a, asks)


def _leads(job: Job, c: Candidates) -> _Link:
    e, many = job.electronics, len(c)

    def wire(continuous_a: Floats, assumed: Bools) -> _Part:
        return _Part(continuous_a, continuous_a * WIRE_BURST_FACTOR, assumed)

    model_a, guessed = wire_continuous_a(e.lead_awg), job.is_assumed("electronics.lead_awg")
    return _Link(
        LINKS["leads"],
        [wire(c.lead_continuous_a, c.leads_assumed), wire(every(many, model_a), np.full(many, guessed))],
        "copper wire, 60 K warmer than still air",
        f"{e.lead_awg:g} AWG assumed: {{loading}}; what are your leads?",
    )


def _plug(job: Job, c: Candidates) -> _Link:
    plug, many = plug_family(job.electronics.plug), len(c)
    guessed = np.full(many, job.is_assumed("electronics.plug"))
    return _Link(
        LINKS["plug"],
        [
            _Part(c.plug_continuous_a, c.plug_burst_a, c.plug_assumed),
            _Part(every(many, plug.continuous_a), every(many, plug.burst_a), guessed),
        ],
        "typical for the family",
        f"{plug.name} assumed: {{loading}}; what is your plug?",
    )


def _rated(
    job: Job, many: int, key: str, continuous: float | None, burst: float | None, question: str
) -> _Link:
    """A link with a maker's figure, shared among several alike; without a burst figure the continuous one
    holds."""
    assumed = np.full(many, job.is_assumed(f"electronics.{key}_continuous_a"))
    part = _Part(every(many, continuous), every(many, continuous if burst is None else burst), assumed)
    return _Link(LINKS[key], [part], "maker’s figure", question, job.electronics.sharing(key))


def peak_question(job: Job) -> str:
    """What to ask at a limit that the peak would pass, where nobody gave the peak; empty where somebody
    did."""
    if not job.is_assumed("draw.peak_a"):
        return ""
    return f"A peak of {plain_number(job.duty.peak_current_a)} A is assumed: {{loading}}; what is it really?"


def _least(value: Floats, limits: list[Floats], assumed: list[Bools]) -> tuple[Floats, Bools]:
    """The limit that counts for each candidate, and whether nobody gave it.

    The least of those given, where the value is over it; else the least of all, for what is assumed may be
    less.
    """
    known = np.min([np.where(a, np.inf, x) for x, a in zip(limits, assumed, strict=True)], axis=0)
    least = np.min(limits, axis=0)
    refused = value > known
    return np.where(refused, known, least), ~refused & (least < known)


def of_several(name: str, count: int) -> str:
    """The name of one link of several alike."""
    return f"{name}, each of {count}" if count > 1 else name
