"""A model's draw by estimate, whatever its job says: what a meter or the log can be held against."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from coldstack.core.describing.answers import Answers, LimitAnswers
from coldstack.core.describing.evidence import LEAST_PEAK, RAREST_PEAK_S, Drawn, drawn_by
from coldstack.core.describing.model_classes import MODEL_CLASSES
from coldstack.core.describing.model_kinds import MODEL_KINDS
from coldstack.core.draw.duty import MOST_SPREAD, Figures, TrueFor
from coldstack.core.draw.motion import MotionId
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.trial.job import Job
from coldstack.core.units import written

USUAL_KIND: dict[MotionId, str] = {
    "level_flight": "plane",
    "hover": "multirotor",
    "wheels": "car",
    "tracks": "tracked",
    "hull": "boat",
    "steady_load": "",
}
"""What a model is taken to be by how it moves, where nobody said."""
LEAST_OFF = 0.05
"""Less than this apart, an estimate and the log agree."""


@dataclass(frozen=True, slots=True)
class Against:
    """An estimate held against what was measured or logged: ``factor`` is that over the estimate's median;
    ``inside``: between its ends."""

    measured_a: float
    factor: float
    inside: bool
    sentence: str


def kind_of(job: Job) -> str:
    """What the model is: as told, else by how it moves."""
    told = job.propulsion.kind
    return told if told in MODEL_KINDS else USUAL_KIND[job.motion.id]


def answers_of(job: Job) -> Answers | None:
    """What an owner would have answered of a model without knowing its draw; None without what it runs on."""
    if job.now is None or job.equipment is not None:
        return None
    e, told = job.electronics, job.propulsion
    kind = kind_of(job)
    chosen = MODEL_CLASSES.get(told.model_class)
    known = {f for f in ("controller_continuous_a", "plug") if not job.is_assumed(f"electronics.{f}")}
    label_c = None if job.is_assumed("now.label_c") else job.now.label_c
    return Answers(
        name=job.name,
        kind=kind,
        mass_g=job.mass_g,
        now=replace(job.now, label_c=label_c),
        model_class=chosen.id if chosen is not None and chosen.kind == kind else None,
        rotors=e.motors if MODEL_KINDS[kind].motors > 1 and e.motors > 1 else None,
        limits=LimitAnswers(
            controller_a=e.controller_continuous_a if "controller_continuous_a" in known else None,
            controllers=e.controllers,
            ratings=e.controller_ratings,
            brushed=e.brushed,
            motor_kv=e.motor_kv,
            plug=e.plug if "plug" in known else None,
        ),
        propulsion=told,
        mass_told=not job.is_assumed("mass_g"),
        capacity_told=not job.is_assumed("now.capacity_ah"),
    )


def estimated_draw(job: Job, *, corrected: bool = True) -> Drawn | None:
    """Average and peak by class, pack, controller and physics alone, for what it runs on now; None without
    that. ``corrected``: from what its runs drew over an earlier one, where that is kept."""
    a = answers_of(job)
    if a is None:
        return None
    if not corrected:
        a = replace(a, propulsion=replace(a.propulsion, off_by=None))
    return drawn_by(a, usable_ah=a.now.capacity_ah * for_chemistry(job.rules, a.now.chemistry).usable)


def estimated_figures(job: Job, drawn: Drawn) -> tuple[Figures, TrueFor]:
    """The estimate as a job holds it: as people write figures, true for what the model runs on now."""
    assert job.now is not None and drawn.peak is not None
    average_a = float(written(drawn.average.median_a))
    peak_a = max(float(written(drawn.peak.median_a)), LEAST_PEAK * average_a)
    every_s = float(math.ceil(min(drawn.comes_every_s(average_a, peak_a), RAREST_PEAK_S)))
    return (
        Figures(average_a, float(f"{peak_a:.3g}"), drawn.peak_s, every_s),
        TrueFor(job.now.nominal_v, job.mass_g + job.now.mass_g, min(drawn.average.spread, MOST_SPREAD)),
    )


def off_by(job: Job, average_a: float) -> float | None:
    """What a model's runs drew over its estimate, for later estimates to start from; None without one."""
    drawn = estimated_draw(job, corrected=False)
    return None if drawn is None else float(f"{average_a / drawn.average.median_a:.3g}")


def against(drawn: Drawn, measured_a: float, by: str) -> Against:
    """How far off the estimate of the average was from what runs or a meter say (``by``: "its 14 runs")."""
    factor = measured_a / drawn.average.median_a
    inside = drawn.average.low_a <= measured_a <= drawn.average.high_a
    if abs(factor - 1) < LEAST_OFF:
        how = "as estimated"
    elif 0.5 < factor < 2:
        how = f"{100 * abs(factor - 1):.0f} % {'more' if factor > 1 else 'less'} than estimated"
    else:
        how = f"{written(factor)} times the estimate"
    outside = "" if inside else ", outside of its range"
    return Against(measured_a, factor, inside, f"{written(measured_a)} A by {by}: {how}{outside}.")
