"""A plan in two sentences, and the working behind its count."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from coldstack.core.fit.fit import fit_of, verdicts
from coldstack.core.fit.verdict import FIT_VERDICTS
from coldstack.core.sizing.plan import Plan
from coldstack.core.trial.checks.wants import MINUTES
from coldstack.core.trial.evaluate import Evaluation
from coldstack.core.trial.spread import turning_mass_g
from coldstack.core.units import GRAMS, about_number, lasting_in_words, lower_first, plain_number, upper_first
from coldstack.core.working import Step, Working


def able_count(plan: Plan) -> int:
    """How many packs that one can have meet every want and limit: to buy, owned, joined from such, or
    built."""
    return int((plan.evaluation.feasible & plan.evaluation.real).sum())


def headline(plan: Plan) -> str:
    """To keep what it runs on now, where that does the job; else how many packs do: "23 packs fly 18 minutes
    within 420 g."."""
    return keep_it(plan) or how_many(plan)


def how_many(plan: Plan) -> str:
    """How many packs do the job."""
    e = plan.evaluation
    wants = e.job.wants
    one, many = e.job.motion.verbs
    # what runs so long only if its owner says so is listed, and not counted on
    count = able_count(plan) - _unsure(plan)
    minutes = f" {lasting_in_words(wants.minutes)}" if wants.minutes else ""
    within = f" within {plain_number(wants.mass_g, 4)}{GRAMS}" if wants.mass_g else ""
    if count == 0:
        return f"No pack at hand can {many}{minutes}{within}."
    return f"{count} {f'pack {one}' if count == 1 else f'packs {many}'}{minutes}{within}."


def _unsure(plan: Plan) -> int:
    """1 where the pack of now is listed, though by the assumed draw it runs too short."""
    e, row = plan.evaluation, plan.evaluation.now_row
    if row is None or not (e.feasible & e.real)[row]:
        return 0
    return int(any(x.id == MINUTES.id and e.loading[k, row] > 1 for k, x in enumerate(e.checks)))


def keep_it(plan: Plan) -> str:
    """That what it runs on now does the job; empty where it does not, or is not told."""
    e, row = plan.evaluation, plan.evaluation.now_row
    if row is None or not e.feasible[row]:
        return ""
    fit, verb = fit_of(e, row), e.job.motion.verbs[0]
    name = e.candidates.names[row]
    if any(r.id == MINUTES.id for r in fit.reasons):
        wanted = lasting_in_words(e.job.wants.minutes or 0.0)
        return (
            f"Keep what you have if it {verb} {wanted}: nobody told how long {name} {verb}, "
            f"{plain_number(fit.minutes, 2)} by an assumed draw."
        )
    care = {"does": "", "care": ", with care", "unknown": ", once you know more"}.get(fit.verdict, "")
    asked = f": {fit.reasons[0].short}" if fit.verdict == "unknown" and fit.reasons else ""
    return f"Keep what you have{care}: {name} {verb} {lasting_in_words(fit.minutes, 2)}{asked}."


LIGHTER, LONGER, MUCH_HEAVIER = 0.95, 1.08, 1.6
"""Less of its mass, or more of its minutes, is worth saying; a pack that is heavier by more is for another
model. House figures."""


def better_than_now(plan: Plan) -> list[str]:
    """What would be better than the pack of now, and at what: the lightest for its minutes, the longest."""
    e, now = plan.evaluation, plan.evaluation.now_row
    if now is None:
        return []
    c, minutes, grams = e.candidates, e.minutes, e.candidates.mass_g
    able = e.feasible & e.real & ~e.by_a_guess & ~c.is_kind("from_cells")
    able &= grams <= MUCH_HEAVIER * grams[now]
    able[able] = _no_worse_verdict(e, now, np.flatnonzero(able))
    found = []
    enough = able & (minutes >= (e.job.wants.minutes or 0.98 * minutes[now]))
    if (lighter := enough & (grams <= LIGHTER * grams[now])).any():
        row = int(np.argmin(np.where(lighter, grams, np.inf)))
        found.append(f"{c.names[row]} is {plain_number(float(grams[now] - grams[row]), 2)}{GRAMS} lighter")
    if (longer := able & (minutes >= LONGER * minutes[now])).any():
        row = int(np.argmax(np.where(longer, minutes, -np.inf)))
        verb, heavier = e.job.motion.verbs[0], float(grams[row] - grams[now])
        at = f" at {plain_number(heavier, 2)}{GRAMS} more" if heavier > 0 else ""
        found.append(f"{c.names[row]} {verb} {float(minutes[row] - minutes[now]):.1f} min longer{at}")
    return found


def _no_worse_verdict(e: Evaluation, now: int, rows: NDArray[np.int64]) -> list[bool]:
    """Of these rows, whether each does it as surely as the pack of now."""
    own, *others = (FIT_VERDICTS.index(v) for v in verdicts(e, [now, *rows.tolist()]))
    return [place <= own for place in others]


def subline(plan: Plan) -> str:
    """What to know next: what would be better than now, the lightest that does it, and where more pack runs
    shorter; or what is in the way."""
    e = plan.evaluation
    if plan.conflict is not None:
        return "Not everything wanted can be had at once: below the plot is what nearest would do."
    rows = np.flatnonzero(e.feasible & e.real)
    verb = e.job.motion.verbs[0]
    if not len(rows):
        return "Only made-up packs would do: the shopping line says what to look for."
    turning = field_turning_mass_g(plan)
    past = f"past about {about_number(turning)}{GRAMS} a bigger pack {verb} shorter" if turning else ""
    if keep_it(plan):
        parts = [
            lower_first(how_many(plan)).rstrip("."),
            *(better_than_now(plan) or ["nothing does it better"]),
        ]
    else:
        parts = [f"The lightest weighs {plain_number(float(e.candidates.mass_g[rows].min()))}{GRAMS}"]
    return upper_first("; ".join([*parts, *([past] if past else [])])) + "."


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
