"""The chain from cells to motor: each link with its limits beside the current that it carries."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator

import numpy as np

from coldstack.core.cells.resistance import held_for_a, less_for
from coldstack.core.chain.joints import ROOMY_LOADING
from coldstack.core.chain.warmth import HOT_RISE_K, STREAM_SHARE, peak_rise_k
from coldstack.core.checks import CAUTION_FROM, Check
from coldstack.core.discharge.batch import Discharge, Floats
from coldstack.core.draw.scaling import Law, phase_loads
from coldstack.core.trial.candidates import Bools, Candidates
from coldstack.core.trial.checks.link_parts import LinkPart, Part, links_of
from coldstack.core.trial.checks.link_specs import (
    BURST,
    CONTINUOUS,
    HOT,
    HOTTEST_CELL_C,
    WARMTHS,
    Moment,
    of_several,
)
from coldstack.core.trial.checks.spec import CheckColumn, Miss, PlatePart, Spec, every
from coldstack.core.trial.job import Job
from coldstack.core.units import DEG, WARMER, percent, plain_number
from coldstack.core.working import Step


def link_columns(job: Job, c: Candidates, d: Discharge, *, ratings: bool = True) -> Iterator[CheckColumn]:
    """Continuous limit against RMS amps, burst limit against the peak; warmth over the duty, which judges
    plugs and leads; the cells' heat.

    Of several controllers or motors the amps of one are compared with the rating of one. Without ``ratings``
    the printed amps of what its warmth judges are left out: they are looked at one by one.
    """
    amps = phase_currents(job, c, d)
    for link in links_of(job, c):
        if link.spec.key in WARMTHS:
            yield _warmth_column(job, d, link, amps)
            if not ratings:
                continue
        yield _column(job, d, link, CONTINUOUS)
        yield _column(job, d, link, BURST)
    hottest = every(len(c), HOTTEST_CELL_C)
    yield CheckColumn(HOT, d.end_temperature_c, hottest, f"60{DEG}, beyond which lithium cells age fast")


def phase_currents(job: Job, c: Candidates, d: Discharge) -> Floats:
    """Current of each phase of the duty on each candidate, shape (P, N): at its mean volts, brought to the
    RMS current of its run, which is what heats. [A]"""
    volts = np.maximum(d.mean_voltage_v, 0.1)
    of_law: dict[Law, Callable[[Floats], Floats]] = {
        "amps": lambda x: x,
        "power": lambda x: x / volts,
        "throttle1": lambda x: x * volts,
        "throttle2": lambda x: x * volts**2,
    }
    loads = phase_loads(job.duty, all_up_mass_g=job.mass_g + c.mass_g, motion=job.motion, drive=job.drive)
    amps = np.array([of_law[p.law](p.value) for p in loads])
    seconds = np.array([p.duration_s for p in loads])
    rms = np.sqrt((seconds[:, None] * amps**2).sum(axis=0) / seconds.sum())
    return np.asarray(amps * (d.rms_current_a / np.maximum(rms, 1e-9)))


def stream_share(job: Job) -> float:
    """Of the rise in still air, what is left in this bay's air."""
    return STREAM_SHARE if job.bay.airflow == "stream" else 1.0


def _warmth_column(job: Job, d: Discharge, link: LinkPart, amps: Floats) -> CheckColumn:
    many = len(d.rms_current_a)
    seconds = [p.duration_s for p in job.duty.phases]
    share = stream_share(job)

    def rise(part: Part) -> Floats:
        return peak_rise_k(
            amps,
            seconds,
            rating_a=part.warming_a,
            rise_at_rating_k=part.at_rating_k,
            time_constant_s=part.warms_s,
            run_s=d.duration_s,
            share=share,
        )

    rises = [rise(p) for p in link.parts]
    known = np.max([np.where(p.assumed, 0.0, k) for p, k in zip(link.parts, rises, strict=True)], axis=0)
    highest = np.max(rises, axis=0)
    refused = known > HOT_RISE_K
    value, assumed, question = np.where(refused, known, highest), ~refused & (known < highest), link.question
    if unsure := peak_question(job):
        # what the average alone warms it to, however it peaks, is no matter of a peak that nobody gave
        share_of = [share * p.at_rating_k * (d.average_current_a / p.warming_a) ** 2 for p in link.parts]
        sure = np.max(
            [np.where(p.assumed, 0.0, k) for p, k in zip(link.parts, share_of, strict=True)], axis=0
        )
        assumed, question = sure <= HOT_RISE_K, unsure
    source = f"{HOT_RISE_K:g}{WARMER} over the air, from {link.source}"
    return CheckColumn(WARMTHS[link.spec.key], value, every(many, HOT_RISE_K), source, assumed, question)


def _column(job: Job, d: Discharge, link: LinkPart, moment: Moment) -> CheckColumn:
    value, peak_s = moment.amps(d) / link.sharing, job.duty.longest_peak_s
    at_peak = moment is BURST
    limits = [
        held_for_a(p.continuous_a, p.burst_a, peak_s) if at_peak else p.continuous_a for p in link.parts
    ]
    limit, assumed = _least(value, limits, [p.assumed for p in link.parts])
    source, question = link.source, link.question
    if moment is CONTINUOUS and (unsure := peak_question(job)):
        # what heats is the average and the peaks: nobody gave these, so that the other alone is sure
        sure = d.average_current_a / link.sharing <= limit
        assumed, question = assumed | sure, unsure if sure.any() else question
    if moment is BURST:
        source = f"{source}, {link.burst_source}{less_for(peak_s)}"
        if unsure := peak_question(job):
            # a peak that nobody gave says nothing against a limit, whoever gave that
            assumed, question = np.ones(len(value), bool), unsure
    return CheckColumn(_spec(link, moment), value, limit, source, assumed, question)


def _spec(link: LinkPart, moment: Moment) -> Spec:
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
        required=key not in WARMTHS,
        in_sight=key in WARMTHS,
        where=link.spec.where,
        plate=PlatePart(key, moment.when, moment.words, ROOMY_LOADING, relief, steps),
    )


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
