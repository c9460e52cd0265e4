"""What limits each link of a chain, as columns: cells, leads, plug, adapters, controller, motor."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from coldstack.core.chain.adapters import Path
from coldstack.core.chain.own_plugs import plug_column
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.warmth import HOT_RISE_K, PLUG_RISE_AT_RATING_K
from coldstack.core.chain.wire import limit_words, wire_burst_a, wire_continuous_a, wire_time_constant_s
from coldstack.core.discharge.batch import Floats
from coldstack.core.trial.candidates import Bools, Candidates
from coldstack.core.trial.checks.link_specs import LINKS, LinkSpec
from coldstack.core.trial.checks.spec import every
from coldstack.core.trial.job import USUAL_BURST_SHARE, Job
from coldstack.core.units import plain_number


@dataclass(frozen=True, slots=True)
class Part:
    """One of the things that limit a link: amps continuous and in bursts, for which candidates nobody gave
    them; and of what warms, the rise at the continuous amps and its time constant. [A], [K], [s]"""

    continuous_a: Floats
    burst_a: Floats
    assumed: Bools
    at_rating_k: float = 0.0
    warms_s: Floats | float = 1.0
    warms_a: Floats | None = None
    """The amps that bring that rise, where those are not the continuous ones."""

    @property
    def warming_a(self) -> Floats:
        """Amps that bring the rise. [A]"""
        return self.continuous_a if self.warms_a is None else self.warms_a


@dataclass(frozen=True, slots=True)
class LinkPart:
    """A link with all that limits it, where that comes from, and what to ask where it is assumed."""

    spec: LinkSpec
    parts: list[Part]
    source: str
    question: str = ""
    sharing: int = 1
    burst_source: str = "burst limit"


def links_of(job: Job, c: Candidates) -> Iterator[LinkPart]:
    """From the cells on; the model's own leads and plug beside the pack's."""
    many = len(c)
    yield LinkPart(
        LINKS["cells"],
        [Part(c.continuous_a, c.burst_a, np.zeros(many, bool))],
        "measured, or label as trusted",
    )
    yield _leads(job, c)
    yield _plug(job, c)
    yield from _adapters(c)
    if job.equipment is not None:
        return
    e = job.electronics
    amps = plain_number(e.controller_continuous_a or 0.0)
    asks = f"{amps} A assumed: {{loading}}; what is your controller rated for?"
    yield _rated(job, many, "controller", e.controller_continuous_a, e.controller_burst_a, asks)
    if e.motor_continuous_a is not None or e.motor_burst_a is not None:
        asks = "Motor assumed: {loading}; what is yours rated for?"
        yield _rated(job, many, "motor", e.motor_continuous_a, e.motor_burst_a, asks)


def _leads(job: Job, c: Candidates) -> LinkPart:
    e, many = job.electronics, len(c)
    model_a, guessed = wire_continuous_a(e.lead_awg), job.is_assumed("electronics.lead_awg")

    def wire(continuous_a: Floats, awg: Floats, assumed: Bools) -> Part:
        gauges, at = np.unique(awg, return_inverse=True)
        factor, warms_s = (np.array([of(g) for g in gauges.tolist()])[at] for of in (_burst_factor, _warms_s))
        return Part(continuous_a, continuous_a * factor, assumed, HOT_RISE_K, warms_s)

    return LinkPart(
        LINKS["leads"],
        [
            wire(c.lead_continuous_a, c.lead_awg, c.leads_assumed),
            wire(every(many, model_a), every(many, e.lead_awg), np.full(many, guessed)),
        ],
        limit_words(e.lead_awg),
        f"{e.lead_awg:g} AWG assumed: {{loading}}; what are your leads?",
    )


_burst_factor = cache(lambda awg: wire_burst_a(awg) / wire_continuous_a(awg))
_warms_s = cache(wire_time_constant_s)


def _plug(job: Job, c: Candidates) -> LinkPart:
    """The pack's plug beside the model's; a model's that nobody gave is the pack's, where that is known."""
    plug, many = plug_family(job.electronics.plug), len(c)
    guessed = np.full(many, job.is_assumed("electronics.plug"))
    own_s = plug_column("time_constant_s")[c.plug_index]
    own = Part(c.plug_continuous_a, c.plug_burst_a, c.plug_assumed, PLUG_RISE_AT_RATING_K, own_s)
    as_own = guessed & ~c.plug_assumed
    model = Part(
        np.where(as_own, c.plug_continuous_a, plug.continuous_a),
        np.where(as_own, c.plug_burst_a, plug.burst_a),
        guessed & c.plug_assumed,
        PLUG_RISE_AT_RATING_K,
        np.where(as_own, own_s, plug.time_constant_s),
    )
    return LinkPart(
        LINKS["plug"],
        [own, model],
        "what is typical for the family",
        f"{plug.name} assumed: {{loading}}; what is your plug?",
    )


def _adapters(c: Candidates) -> Iterator[LinkPart]:
    """What lies between pack and model where their plugs need it: wires, and the further pairs of plugs."""
    through = [way.path if way is not None and way.path and way.path.pieces else None for way in c.ways]
    # many packs go one way: its limits are found once
    ways = {id(path): path for path in through if path is not None}
    if not ways:
        return
    place = {key: k + 1 for k, key in enumerate(ways)}
    at = np.array([0 if path is None else place[id(path)] for path in through])
    parts = [[_Limits()], *(_limits_of(path) for path in ways.values())]
    longest = max(map(len, parts))
    for row in parts:
        row.extend([_Limits()] * (longest - len(row)))
    yield LinkPart(
        LINKS["adapter"],
        [_as_part(column, at) for column in zip(*parts, strict=True)],
        "its wire and plugs",
        "The gauge of an adapter is assumed: {loading}; what is it?",
    )


@dataclass(frozen=True, slots=True)
class _Limits:
    """What one part of an adapter carries; without any for packs that need none."""

    continuous_a: float = math.inf
    burst_a: float = math.inf
    assumed: bool = False
    at_rating_k: float = 0.0
    warms_s: float = 1.0


def _limits_of(path: Path) -> list[_Limits]:
    wires = [
        _Limits(p.wire_a, p.wire_burst_a, p.wire_assumed, HOT_RISE_K, _warms_s(p.awg)) for p in path.pieces
    ]
    plugs = [plug_family(f) for f in path.pairs[1:]]
    return wires + [
        _Limits(f.continuous_a, f.burst_a, False, PLUG_RISE_AT_RATING_K, f.time_constant_s) for f in plugs
    ]


def _as_part(column: tuple[_Limits, ...], at: NDArray[np.int64]) -> Part:
    # amps are brought to those of one rise, so that wires and plugs can stand in one column
    scale = [math.sqrt(HOT_RISE_K / x.at_rating_k) if x.at_rating_k else 1.0 for x in column]
    return Part(
        np.array([x.continuous_a for x in column])[at],
        np.array([x.burst_a for x in column])[at],
        np.array([x.assumed for x in column], dtype=bool)[at],
        HOT_RISE_K,
        np.array([x.warms_s for x in column])[at],
        np.array([x.continuous_a * k for x, k in zip(column, scale, strict=True)])[at],
    )


def _rated(
    job: Job, many: int, key: str, continuous: float | None, burst: float | None, question: str
) -> LinkPart:
    """A link with a maker's figure, shared among several alike; without a burst figure it carries
    USUAL_BURST_SHARE of the continuous one for ten seconds."""
    assumed = np.full(many, job.is_assumed(f"electronics.{key}_continuous_a"))
    usual = burst is None and continuous is not None
    if usual and continuous is not None:
        burst = USUAL_BURST_SHARE * continuous
    part = Part(every(many, continuous), every(many, burst), assumed)
    tail = f"burst limit, {USUAL_BURST_SHARE:g} times its rating assumed" if usual else "burst limit"
    return LinkPart(
        LINKS[key], [part], "maker’s figure", question, job.electronics.sharing(key), burst_source=tail
    )
