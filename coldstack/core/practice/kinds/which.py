"""Which of three packs for this model."""

from __future__ import annotations

from dataclasses import replace

from coldstack.core.fit.fit import Fit, fit_of
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.models import MODELS, model, model_sheet, runs_on
from coldstack.core.practice.task import (
    AnswerOption,
    Answers,
    Came,
    Exercise,
    Given,
    JudgedAnswer,
    Outcome,
    Pick,
    PracticeTask,
    TaskQuestion,
    Thing,
    judged,
    one_of,
)
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.units import GRAMS
from coldstack.core.working import Step, Working

ID, NAME = "which", "Which pack for this model?"
TAGS = ("A", "B", "C")
WHICH = TaskQuestion(
    "which", "Which of them does the job?", Pick(tuple(AnswerOption(t, t) for t in TAGS), "one")
)
_TRIES = 80
_WRONG = ("cells_over", "cells_under", "small", "weak", "plug", "heavy")
_PLUGS = ("xt30", "xt60", "ec3", "t_plug")


def make(by: Chance, given: Given) -> Exercise:
    """A model and three packs, of which one does its job as it is."""
    name, rules = by.one_of(MODELS), given.rules
    job = model(name, rules)
    for _ in range(_TRIES):
        first, second = by.mixed(_WRONG)[:2]
        packs = by.mixed([_right(by, name), _wrong(by, name, first), _wrong(by, name, second)])
        found = evaluate(job, job_candidates(job, packs, ()))
        fits = {t: fit_of(found, k) for k, t in enumerate(TAGS)}
        do = [t for t, fit in fits.items() if fit.verdict == "does"]
        if len(do) == 1:
            break
    else:
        raise AssertionError(f"of no three packs one does the job of {name}")
    things = (model_sheet(name), *(_thing(t, p) for t, p in zip(TAGS, packs, strict=True)))
    task = PracticeTask(ID, given.level, given.seed, "Three packs lie on the shelf.", things, (WHICH,))

    def judge(answers: Answers) -> JudgedAnswer:
        return judged((_came(fits, do[0], one_of(answers, WHICH)),), _working(fits), rules.cited)

    return Exercise(task, judge)


def _right(by: Chance, name: str) -> Pack:
    """About what it runs on."""
    return _times(runs_on(name), ah=by.one_of((1.0, 1.04, 1.1)))


def _wrong(by: Chance, name: str, what: str) -> Pack:
    """What it runs on, but for one thing."""
    now = runs_on(name)
    if what == "plug":
        return replace(now, plug=by.one_of([p for p in _PLUGS if p != now.plug]))
    if what == "weak":
        return replace(now, label_c=5.0)
    cells = {"cells_over": 1, "cells_under": -1}.get(what, 0)
    return _times(now, ah={"small": 0.4, "heavy": 2.4}.get(what, 1.0), cells=cells)


def _times(now: Pack, *, ah: float = 1.0, cells: int = 0) -> Pack:
    """The same with more or less of it, as heavy as that makes it."""
    series, more = now.series + cells, ah * (now.series + cells) / now.series
    return replace(
        now, series=series, capacity_ah=round(ah * now.capacity_ah, 1), mass_g=round(more * now.mass_g)
    )


def _thing(tag: str, p: Pack) -> Thing:
    lines = (
        f"{p.series}S LiPo",
        f"{1000 * p.capacity_ah:.0f} mAh  {p.label_c:g}C",
        f"{p.mass_g:.0f}{GRAMS}, {p.plug.upper().replace('_', ' ')}",
    )
    return Thing("label", tag, lines)


def _came(fits: dict[str, Fit], right: str, said: str) -> Came:
    if said == right:
        return Came("which", "right", f"Right. {fits[right].sentence}", right)
    fit = fits[said]
    outcome: Outcome = "dangerous" if fit.destroys else "wasteful"
    return Came("which", outcome, f"{said}: {fit.sentence}", right)


def _working(fits: dict[str, Fit]) -> Working:
    steps = tuple(Step(tag, "every check of its run", fit.sentence) for tag, fit in fits.items())
    return Working("Which does the job", steps)
