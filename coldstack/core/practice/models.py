"""Models to practise on: one's own, or those of the demo world, described as an owner would."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache
from itertools import product

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Adapter
from coldstack.core.describing.answers import Answers, LimitAnswers, UsageAnswers
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.fit.fit import fit_of
from coldstack.core.packs.pack import Pack
from coldstack.core.practice.chance import Chance
from coldstack.core.practice.task import Given, Shelf, Thing
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import Job, RunsOn
from coldstack.core.units import GRAMS, plain_number

_TOLD: dict[str, Answers] = {
    a.name: a
    for a in (
        Answers(
            name="Ptarmigan",
            kind="sailplane",
            mass_g=1450.0,
            now=RunsOn("lipo", 3, 2.2, 185.0, 30.0),
            now_plug="xt60",
            usage=UsageAnswers(minutes=12.0, peak_a=32.0),
            limits=LimitAnswers(cells_min=2, cells_max=3, controller_a=60.0, plug="xt60"),
        ),
        Answers(
            name="Stoat",
            kind="car",
            mass_g=1500.0,
            now=RunsOn("lipo", 2, 5.0, 290.0, 50.0),
            now_plug="ec3",
            usage=UsageAnswers(minutes=18.0, peak_a=55.0),
            limits=LimitAnswers(cells_min=2, cells_max=2, controller_a=60.0, plug="ec3"),
        ),
        Answers(
            name="Grebe",
            kind="boat",
            mass_g=3200.0,
            now=RunsOn("lipo", 3, 5.0, 380.0, 30.0),
            now_plug="xt60",
            usage=UsageAnswers(minutes=30.0, peak_a=24.0),
            limits=LimitAnswers(cells_min=2, cells_max=3, controller_a=40.0, plug="xt60"),
        ),
    )
}
MODELS = tuple(_TOLD)
_TRIES = 12


@cache
def model(name: str, rules: HouseRules) -> Job:
    """One of the models by its name."""
    return described_job(_TOLD[name], rules).job


def runs_on(name: str) -> Pack:
    """The pack for which its figures are true, fresh from the shop."""
    told = _TOLD[name]
    now = told.now
    return Pack(
        id=f"practice:{name}",
        name=f"its {now.series}S {1000 * now.capacity_ah:.0f}",
        chemistry=now.chemistry,
        series=now.series,
        capacity_ah=now.capacity_ah,
        mass_g=now.mass_g,
        label_c=now.label_c,
        plug=told.now_plug or "xt60",
    )


def model_sheet(name: str) -> Thing:
    """What one knows of it."""
    told = _TOLD[name]
    now, limits = told.now, told.limits
    cells = f"{limits.cells_min} to {limits.cells_max}"
    if limits.cells_min == limits.cells_max:
        cells = f"{limits.cells_max}"
    lines = (
        f"{told.kind}, {plain_number(told.mass_g, 4)}{GRAMS} without its pack",
        f"takes {cells} LiPo cells, {told.now_plug and told.now_plug.upper()} plug",
        f"runs {told.usage.minutes:.0f} min on a full {now.series}S {1000 * now.capacity_ah:.0f} mAh",
        f"peaks of {told.usage.peak_a:.0f} A",
    )
    return Thing("sheet", name, lines)


@dataclass(frozen=True, slots=True)
class ToRun:
    """A pack that runs in a model, with what one knows of that."""

    job: Job
    pack: Pack
    sheet: Thing
    pieces: tuple[Adapter, ...] = ()
    own: bool = False


def to_run(by: Chance, given: Given) -> ToRun:
    """One's own pack in one's own model, by the rules of that, where some go together; else made up."""
    own = own_to_run(by, given.shelf) if given.shelf else None
    if own is not None:
        return own
    name = by.one_of(MODELS)
    return ToRun(model(name, given.rules), runs_on(name), model_sheet(name))


def own_to_run(by: Chance, shelf: Shelf) -> ToRun | None:
    """The first pair, in any order, that goes: of packs that nothing is known against."""
    known = [p for p in shelf.packs if _plain(p)]
    pairs = by.mixed(list(product(shelf.jobs, known)))
    for job, pack in pairs[:_TRIES]:
        found = evaluate(job, job_candidates(job, [pack], shelf.bench.pieces))
        fit = fit_of(found, 0)
        if fit.runs and fit.verdict in ("does", "care"):
            lines = (
                f"with {pack.called}: {pack.series}S {1000 * pack.capacity_ah:.0f} mAh",
                f"runs about {float(found.minutes[0]):.0f} min when that is full",
            )
            return ToRun(job, pack, Thing("sheet", job.name, lines), shelf.bench.pieces, own=True)
    return None


def _plain(pack: Pack) -> bool:
    today = pack.today
    known = today is None or (today.level == "fine" and not today.stranger and not today.records_wanted)
    return known and chemistry(pack.chemistry).volts_tell and chemistry(pack.chemistry).balanced
