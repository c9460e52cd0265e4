"""A plan in two sentences, and the working behind its count."""

from __future__ import annotations

import numpy as np

from coldstack.core.sizing.plan import Plan
from coldstack.core.trial.spread import turning_mass_g
from coldstack.core.units import about_number, plain_number
from coldstack.core.working import Step, Working


def able_count(plan: Plan) -> int:
    """How many packs that one can have meet every want and limit: to buy, owned, joined from such, or
    built."""
    return int((plan.evaluation.feasible & plan.evaluation.real).sum())


def headline(plan: Plan) -> str:
    """How many packs do the job: "23 packs fly 18 minutes within 420 g."."""
    e = plan.evaluation
    wants = e.job.wants
    one, many = e.job.motion.verbs
    count = able_count(plan)
    minutes = f" {plain_number(wants.minutes)} minutes" if wants.minutes else ""
    within = f" within {plain_number(wants.mass_g, 4)} g" if wants.mass_g else ""
    if count == 0:
        return f"No pack at hand can {many}{minutes}{within}."
    return f"{count} {f'pack {one}' if count == 1 else f'packs {many}'}{minutes}{within}."


def subline(plan: Plan) -> str:
    """What to know next: the lightest that does it, and where more pack runs shorter; or what is in the
    way."""
    e = plan.evaluation
    if plan.conflict is not None:
        return "Not everything wanted can be had at once: below the plot is what nearest would do."
    rows = np.flatnonzero(e.feasible & e.real)
    verb = e.job.motion.verbs[0]
    if not len(rows):
        return "Only made-up packs would do: the shopping line says what to look for."
    parts = [f"The lightest weighs {plain_number(float(e.candidates.mass_g[rows].min()))} g"]
    turning = field_turning_mass_g(plan)
    if turning:
        parts.append(f"past about {about_number(turning)} g a bigger pack {verb} shorter")
    return "; ".join(parts) + "."


def field_turning_mass_g(plan: Plan) -> float | None:
    """Mass on the front beyond which minutes fall, if the candidates reach that far and fall by 1 % or more.
    [g]"""
    e = plan.evaluation
    real = e.real
    mass, minutes = e.candidates.mass_g[real], e.minutes[real]
    if len(mass) < 8 or e.job.motion.mass_exponent <= 1:
        return None  # with watts in proportion to mass or less, more pack always runs longer
    edges = np.geomspace(mass.min(), mass.max() * 1.001, 25)
    bins = np.clip(np.searchsorted(edges, mass, side="right") - 1, 0, 23)
    best = np.full(24, -np.inf)
    np.maximum.at(best, bins, minutes)
    filled = np.flatnonzero(np.isfinite(best))
    middle = np.sqrt(edges[:-1] * edges[1:])
    top = turning_mass_g(middle[filled], best[filled])
    if top is None or best[filled][-1] > 0.99 * best[filled].max():
        return None
    return float(mass[np.argmax(minutes)])


def plan_working(plan: Plan) -> Working:
    """How the count came about: candidates by kind, and how many each want or limit leaves out."""
    e = plan.evaluation
    first, counts = np.unique(e.candidates.kind_index, return_index=True, return_counts=True)[1:]
    made = ", ".join(f"{counts[k]} {e.candidates.kind(first[k]).plural}" for k in np.argsort(first))
    steps = [Step("Looked at", "all that the controller’s volts allow", made or "nothing")]
    for column, loading in zip(e.checks, e.binding, strict=True):
        out = int(np.count_nonzero(loading > 1))
        if out:
            steps.append(Step(column.spec.title, f"limit from: {column.source}", f"leaves out {out}"))
    steps.append(
        Step(
            "Left",
            "meet every want and limit",
            f"{int((e.feasible & e.real).sum())} to buy, own or build, {int((e.feasible & ~e.real).sum())} "
            "made up",
        )
    )
    return Working(
        "How many packs do it",
        tuple(steps),
        "Made-up packs on a grid give the shopping line; they are not counted.",
    )
