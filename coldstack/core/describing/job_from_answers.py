"""From the answers of an owner to a job: draw, what it is true for, cell window, limits; and what was
assumed on the way.

The draw is calibrated: simulated on what the model runs on now it lands after the minutes that were
told, and its full stick draws the amps that were told. Where nobody gave a limit, one that suits what
it runs on now stands in and is named in ``assumed``.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import BEST_HONEST_C, CELL_BURST_FACTOR, held_for_a, label_for_c
from coldstack.core.chain.cooling import cool_awg, plug_rise_k
from coldstack.core.chain.plugs import PLUGS, plug_family
from coldstack.core.chain.warmth import STREAM_SHARE, WARM_RISE_K, Warming
from coldstack.core.describing.answers import Answers, LimitAnswers, check_answers, controllers
from coldstack.core.describing.calibration import LEAST_AT_PEAK, calibrated_to
from coldstack.core.describing.evidence import LEAST_PEAK, RAREST_PEAK_S, Drawn, drawn_by
from coldstack.core.describing.model_kinds import ModelKind, model_kind
from coldstack.core.describing.pieces import strongest
from coldstack.core.describing.supposed import supposed
from coldstack.core.discharge.simulate import simulate
from coldstack.core.draw.duty import Duty, duty_from_figures
from coldstack.core.draw.motion import motion_of
from coldstack.core.errors import DomainError, require_between
from coldstack.core.labels.guesses import SIZE_PLUGS, size_plug
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.trial.candidates import from_packs, job_candidates, usual_lead_mm
from coldstack.core.trial.evaluate import loads, pack_columns, surroundings
from coldstack.core.trial.job import (
    LEAST_V_PER_CELL,
    Airflow,
    Bay,
    Electronics,
    Job,
    RunsOn,
    Wants,
    check_job,
    rated_window,
)
from coldstack.core.trial.now import now_pack
from coldstack.core.units import GRAMS, written

CONTROLLERS_A = (
    4,
    6,
    10,
    12,
    20,
    30,
    40,
    50,
    60,
    80,
    100,
    120,
    150,
    180,
    200,
    250,
    300,
    400,
    500,
    800,
    1200,
    2000,
)
"""Ratings that controllers are sold with. [A]"""
ROOMY = 0.8
"""Loading that what is assumed is given on what it runs on now. House figure."""
PLUG_MARGIN = 1.05
"""Over the told peak: a fresh pack may give a little more."""
THINNEST_AWG, THIN_AWG = ((0.5, 26.0), (1.0, 24.0)), 22.0
"""Up to which capacity leads are no thinner, however little they carry. [Ah], [AWG]"""
SMALL_AH = 1.0
"""Of one-cell models that are flown to where they get weak. [Ah]"""
SURELY = 1.25
"""Over the C that it must have since it carries its draw: fresh it draws more. House figure."""
ONE_TRY = 1
"""Without a cut-off a pack resists what was thought."""
PEAK_LEAN = 1.1
"""An assumed peak leans so far to the high side: too low a one asks too little of the cells. House figure."""
STRONG_ONE_CELL = "pin_1"
HOVERS_WITHOUT, LARGEST_ASSUMED = "rcy", "xt90"
"""A plug that no multirotor carries, and the largest that a warm one is assumed to be."""
HIGH_VOLTAGE_CELLS = 1.04
"""LiHV is flown on electronics rated in LiPo cells, 4.35 V for 4.2 V; what is further over is a slip. House
figure."""


@dataclass(frozen=True, slots=True)
class Described:
    """A model's job by its owner's answers, and each thing assumed in words, by its field."""

    job: Job
    assumed: dict[str, str]
    drawn: Drawn
    peak_range_a: tuple[float, float]
    """Of the peak, nine in ten; the told one where it was told. [A]"""


def described_job(answers: Answers, rules: HouseRules) -> Described:
    """The job that follows from the answers.

    Raises
    ------
    DomainError
        For figures that cannot be, naming the question.
    """
    a = check_answers(supposed(answers, rules))
    try:
        return _described(a, rules)
    except DomainError as refused:
        asked = _QUESTIONS.get(refused.field, refused.field)
        raise DomainError(_gave_the_draw(a) if asked == "told" else asked, refused.sentence) from None


def _gave_the_draw(a: Answers) -> str:
    """The question that gave the draw."""
    g = a.usage
    minutes = g.minutes if a.capacity_told else None
    told = {"average_a": g.average_a, "put_back_mah": g.put_back_mah, "minutes": minutes}
    return next((f"usage.{name}" for name, value in told.items() if value is not None), "now.capacity_ah")


_QUESTIONS = {
    "draw.average_a": "told",
    "draw.reference_mass_g": "mass_g",
    "draw.peak_a": "usage.peak_a",
    "draw.peak_s": "usage.peak_s",
    "draw.peak_every_s": "usage.peak_s",
    "now.cell_mohm": "told",
    "wants.cells": "goals.chemistry",
    "wants.minutes": "goals.minutes",
    "wants.mass_g": "goals.mass_g",
    "wants.lively": "goals.lively",
    "electronics.controller_continuous_a": "limits.controller_a",
    "electronics.controller_burst_a": "limits.controller_burst_a",
    "electronics.motor_kv": "limits.motor_kv",
    "plug": "limits.plug",
    "awg": "limits.lead_awg",
    "bay.length_mm": "limits.length_mm",
    "bay.width_mm": "limits.width_mm",
    "bay.height_mm": "limits.height_mm",
}
"""The question behind a field of the job that cannot be."""


def _described(a: Answers, rules: HouseRules) -> Described:
    kind = model_kind(a.kind)
    assumed: dict[str, str] = {}
    if not a.mass_told:
        assumed["mass_g"] = f"{a.mass_g:g}{GRAMS}, by what drives it and others of its class"
    if not a.capacity_told:
        assumed["now.capacity_ah"] = f"{1000 * a.now.capacity_ah:g} mAh, which such models mostly carry"
    if not a.now_mass_told:
        assumed["now.mass_g"] = f"{a.now.mass_g:.0f}{GRAMS}, what such packs weigh"
    usable_ah = _usable_ah(a.now, rules)
    drawn = drawn_by(a, usable_ah=usable_ah)
    exact_a = _average_a(a, drawn, usable_ah, assumed)
    average_a = float(written(exact_a)) if "draw.average_a" in assumed else float(f"{exact_a:.3g}")
    peak_a, peak_s, every_s = _peak(a, drawn, average_a, assumed)
    now = _carrying(a.now, average_a, peak_a, peak_s, assumed)
    motion, nominal_v = motion_of(kind.motion), now.nominal_v
    duty = duty_from_figures(
        average_a=average_a,
        peak_a=peak_a,
        peak_s=peak_s,
        peak_every_s=every_s,
        motion=motion,
        reference_voltage_v=nominal_v,
        reference_mass_g=a.mass_g + now.mass_g,
        spread=drawn.average.spread,
        peak_voltage_v=nominal_v,
    )
    job = Job(
        name=a.name or kind.name,
        motion=motion,
        mass_g=a.mass_g,
        duty=duty,
        wants=_wants(a, now),
        electronics=_electronics(a, kind, now, duty, assumed),
        bay=_bay(a.limits, kind),
        rules=rules,
        drive="refitted" if a.goals.refitted else "same",
        now=now,
        propulsion=replace(a.propulsion, kind=a.kind, model_class=drawn.likely.best.id),
        assumed=frozenset(assumed),
    )
    target_s = _target_s(now, exact_a, rules)
    try:
        made = calibrated_to(job, target_s)
    except DomainError:
        if a.limits.cutoff is not None or now.series > 1 or now.capacity_ah > SMALL_AH:
            raise
        # small one-cell models mostly have none, and this one does run to its landing point
        job = replace(job, electronics=replace(job.electronics, cutoff="none"))
        assumed["electronics.cutoff"] = "none, since it runs to its landing point"
        made = calibrated_to(job, target_s, tries=ONE_TRY)
    peak_seen = _peak_seen_a(made)
    if peak_seen > PLUG_MARGIN * peak_a:
        # fresh off the charger it draws more than was told: what is assumed must suit that too
        more = peak_seen / peak_a
        phases = tuple(replace(p, current_a=more * p.current_a) for p in duty.phases)
        suited = _electronics(a, kind, now, replace(duty, phases=phases), assumed)
        suited = replace(suited, cutoff=made.electronics.cutoff)
        made = calibrated_to(replace(job, electronics=suited), target_s)
    return Described(check_job(made), assumed, drawn, _peak_range_a(a, drawn))


def _peak_seen_a(job: Job) -> float:
    """Peak amps of the pack of now, simulated in its job. [A]"""
    assert job.now is not None
    one = job_candidates(job, [now_pack(job.now)])
    return float(simulate(pack_columns(job, one), loads(job, one), surroundings(job)).peak_current_a[0])


def _average_a(a: Answers, drawn: Drawn, usable_ah: float, assumed: dict[str, str]) -> float:
    """Average amps by what was told, else by all evidence. [A]"""
    found, told = drawn.average.median_a, _gave_the_draw(a).startswith("usage.")
    if not told:
        # a typical figure must not ask the impossible of a pack that does fly it
        found = min(found, usable_ah / (2.0 / 60))
        assumed["draw.average_a"] = f"{drawn.average.words}, by {strongest(drawn.average.pieces).words}"
    field = _gave_the_draw(a) if told else "mass_g"
    most_a = min(150 * a.now.capacity_ah, 2000)
    require_between(field, "The average that follows", found, low=0.01, high=most_a, unit="A")
    return found


def _peak(a: Answers, drawn: Drawn, average_a: float, assumed: dict[str, str]) -> tuple[float, float, float]:
    """Peak amps, how long, and how often: so seldom that they take no more than half of the charge."""
    g = a.usage
    if g.peak_a is not None and g.peak_a < average_a:
        raise DomainError(
            "usage.peak_a",
            f"The peak ({g.peak_a:.3g} A) cannot be below the average, which is {average_a:.3g} A.",
        )
    peak_a = g.peak_a
    if peak_a is None:
        assert drawn.peak is not None
        low_a, high_a = _peak_range_a(a, drawn)
        given_a = _most_given_a(a.now, drawn)
        likely_a = min(PEAK_LEAN * drawn.peak.median_a, given_a)
        # in figures as people write them: no more digits than are known
        peak_a = max(float(written(likely_a)), LEAST_PEAK * average_a)
        by = "what its pack can give" if likely_a == given_a else strongest(drawn.peak.pieces).words
        assumed["draw.peak_a"] = f"{written(peak_a)} A ({written(low_a)} to {written(high_a)}), by {by}"
    peak_s = drawn.peak_s
    if g.peak_s is None:
        assumed["draw.peak_s"] = f"{peak_s:g} s at a time"
    every_s = drawn.comes_every_s(average_a, peak_a)
    if every_s > RAREST_PEAK_S:
        words = (
            "So long a peak could come only once in hours at this average. Check peak, seconds and average."
        )
        raise DomainError("usage.peak_s", words)
    assumed["draw.peak_every_s"] = f"about every {every_s:.0f} s"
    return float(f"{peak_a:.4g}"), peak_s, float(math.ceil(every_s))


def _peak_range_a(a: Answers, drawn: Drawn) -> tuple[float, float]:
    if drawn.peak is None:
        told = a.usage.peak_a or 0.0
        return told, told
    given_a = _most_given_a(a.now, drawn)
    return min(drawn.peak.low_a, given_a), min(drawn.peak.high_a, given_a)


def _most_given_a(now: RunsOn, drawn: Drawn) -> float:
    """What the pack of now gives at LEAST_AT_PEAK of its volts: more it cannot be at a peak. [A]"""
    known = now if now.label_c is not None else replace(now, label_c=_class_label_c(now, drawn))
    one = from_packs([now_pack(known)], "cautious")
    ohm = now.series * float(one.cell_mohm[0]) / 1000
    return (1 - LEAST_AT_PEAK) * now.series * chemistry(now.chemistry).full_v / ohm


def _class_label_c(now: RunsOn, drawn: Drawn) -> float:
    """The C that packs of its class are mostly printed with, where their chemistry goes by C. [1/h]"""
    cell = chemistry(now.chemistry)
    return drawn.likely.usual(lambda c: c.label_c) if cell.polymer else cell.typical_label_c


def _carrying(now: RunsOn, average_a: float, peak_a: float, peak_s: float, assumed: dict[str, str]) -> RunsOn:
    """What it runs on now, with the C that it must have since it carries this draw, where its label was not
    told."""
    if now.label_c is not None or now.cell_mohm is not None:
        return now
    held = float(held_for_a(1.0, CELL_BURST_FACTOR, peak_s))
    need = max(average_a, peak_a / held) / now.capacity_ah
    usual = chemistry(now.chemistry).typical_label_c
    # more than the best cells give is in no label: its peaks are short
    label = float(label_for_c(min(need, BEST_HONEST_C), "cautious"))
    label_c = float(f"{max(usual, SURELY * label):.2g}")
    by = "as usual" if usual >= SURELY * label else "since it carries its peak"
    assumed["now.label_c"] = f"{label_c:g}C, {by}"
    return replace(now, label_c=label_c)


def _usable_ah(now: RunsOn, rules: HouseRules) -> float:
    return now.capacity_ah * for_chemistry(rules, now.chemistry).usable


def _target_s(now: RunsOn, average_a: float, rules: HouseRules) -> float:
    return 3600 * _usable_ah(now, rules) / average_a


def _wants(a: Answers, now: RunsOn) -> Wants:
    """The cells and chemistry of now, unless others are wanted; NiMH becomes as many LiPo cells as
    give its volts."""
    wished = a.goals.chemistry or now.chemistry
    nominal_v = now.nominal_v
    cells = a.goals.cells or max(1, round(nominal_v / chemistry(wished).nominal_v))
    lively = a.goals.lively
    return Wants(
        minutes=a.goals.minutes, mass_g=a.goals.mass_g, cells=(cells,), chemistries=(wished,), lively=lively
    )


def _electronics(
    a: Answers, kind: ModelKind, now: RunsOn, duty: Duty, assumed: dict[str, str]
) -> Electronics:
    t, rms_a, peak_a = a.limits, duty.rms_current_a, duty.peak_current_a
    warming = _warming(a, kind, duty)
    max_v, rated = _window(t, now, assumed)
    count = controllers(a)
    if t.controllers is None and count > 1:
        assumed["electronics.controllers"] = f"{count}, one a rotor"
    controller_a, burst_a = t.controller_a, t.controller_burst_a
    if controller_a is None:
        share = count if t.ratings == "each" else 1
        controller_a = _sold_rating(max(rms_a, peak_a / 1.25) / share / ROOMY)
        assumed["electronics.controller_continuous_a"] = f"{controller_a:g} A{' each' if share > 1 else ''}"
    plug, awg = t.plug, t.lead_awg
    if plug is None:
        plug = a.now_plug or _usual_plug(now, kind, warming)
        assumed["electronics.plug"] = f"{plug_family(plug).name}, as usual for such a pack"
    if awg is None:
        thinnest = next((g for below_ah, g in THINNEST_AWG if now.capacity_ah < below_ah), THIN_AWG)
        awg = min(cool_awg(warming), thinnest)
        assumed["electronics.lead_awg"] = f"{awg:g} AWG"
    if t.cutoff is None:
        assumed["electronics.cutoff"] = "a cut-off that can be set"
    return Electronics(
        max_v=max_v,
        rated_from=t.cells_min,
        min_v=min(rated_window(t.cells_min, None)[0] or 0.0, max_v),
        rated_cells=rated,
        controller_continuous_a=controller_a,
        controller_burst_a=burst_a,
        cutoff=t.cutoff or "programmable",
        brushed=t.brushed,
        motor_kv=t.motor_kv,
        plug=plug,
        lead_awg=awg,
        lead_length_mm=float(usual_lead_mm(now.capacity_ah)),
        controllers=count,
        controller_ratings=t.ratings,
        motors=count,
        motor_ratings=t.ratings,
    )


def _warming(a: Answers, kind: ModelKind, duty: Duty) -> Warming:
    """What the duty asks of plugs and leads, a little more than told, for as long as it may last."""
    share = STREAM_SHARE if _bay(a.limits, kind).airflow == "stream" else 1.0
    amps = tuple(PLUG_MARGIN * p.current_a for p in duty.phases)
    return Warming(amps, tuple(p.duration_s for p in duty.phases), math.inf, share)


def _usual_plug(now: RunsOn, kind: ModelKind, warming: Warming) -> str:
    """The plug that packs of this size mostly carry, or the next one up where this duty makes that warm, by
    the same heat that judges it; small one-cell packs have a stronger one of their own."""
    one = now.each
    usual = size_plug(one.series, one.capacity_ah)
    if kind.motion == "hover" and usual == HOVERS_WITHOUT:
        usual = SIZE_PLUGS[SIZE_PLUGS.index(usual) + 1]
    at, largest = SIZE_PLUGS.index(usual), SIZE_PLUGS.index(LARGEST_ASSUMED)
    warm = plug_rise_k(PLUGS[usual], warming) > WARM_RISE_K
    if not warm or at >= largest:
        return usual
    return STRONG_ONE_CELL if usual == SIZE_PLUGS[0] else SIZE_PLUGS[at + 1]


def _window(t: LimitAnswers, now: RunsOn, assumed: dict[str, str]) -> tuple[float, int | None]:
    """Highest volts and the LiPo cells they stand for; without a word of them, those of what it runs
    on now."""
    now_v = now.series * chemistry(now.chemistry).full_v
    if t.max_v is not None:
        max_v, rated = t.max_v, None
    elif t.cells_max is not None:
        max_v, rated = rated_window(None, t.cells_max)[1] or 0.0, t.cells_max
    else:
        assumed["electronics.max_v"] = f"{now_v:.1f} V, what it runs on now"
        return round(now_v, 2), None
    if now_v > HIGH_VOLTAGE_CELLS * max_v:
        field = "limits.max_v" if t.max_v is not None else "limits.cells_max"
        raise DomainError(
            field,
            f"It runs on {now.series}S {chemistry(now.chemistry).name} now, {now_v:.1f} V when full: "
            f"more than {max_v:.1f} V. One of the two is wrong.",
        )
    if t.cells_min is not None and now_v < t.cells_min * LEAST_V_PER_CELL:
        raise DomainError(
            "limits.cells_min",
            f"It runs on {now.series}S {chemistry(now.chemistry).name} now, {now_v:.1f} V when full: "
            f"less than {t.cells_min} LiPo cells have at the least. One of the two is wrong.",
        )
    return max_v, rated


def _bay(t: LimitAnswers, kind: ModelKind) -> Bay:
    usual: Airflow = "stream" if kind.motion == "hover" else "vented"
    return Bay(t.length_mm, t.width_mm, t.height_mm, airflow=t.airflow or usual)


def _sold_rating(amps: float) -> float:
    return float(next((r for r in CONTROLLERS_A if r >= amps), CONTROLLERS_A[-1]))
