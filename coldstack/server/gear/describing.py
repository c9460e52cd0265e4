"""A new model from its owner's answers: what they are, and what follows from them."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field

from coldstack.core.asking.answers import slips_in_answers
from coldstack.core.asking.question import Question
from coldstack.core.cells.chemistry import ChemistryId
from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES
from coldstack.core.describing.answers import (
    Answers,
    GoalAnswers,
    LimitAnswers,
    UsageAnswers,
    check_answers,
)
from coldstack.core.describing.job_from_answers import Described, described_job
from coldstack.core.describing.model_classes import Likely, classes_of, model_class
from coldstack.core.describing.model_kinds import MODEL_KINDS, model_kind
from coldstack.core.describing.narrowing import Narrowing, narrowing
from coldstack.core.describing.supposed import supposed
from coldstack.core.errors import DomainError, refuse, require_between
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.packs.pack import Pack
from coldstack.core.propulsion.told import Propulsion
from coldstack.core.sizing.detail import details
from coldstack.core.sizing.plates import Plate
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.job import Electronics, Joined, RunsOn, two_of
from coldstack.core.trial.now import NOW_ID, now_pack, now_words, true_for
from coldstack.core.units import GRAMS, plain_number
from coldstack.core.working import Working
from coldstack.server.api.shapes import asks, value_of
from coldstack.server.life.packs import pack_by_id
from coldstack.server.rules.assemble import house, rules_of
from coldstack.server.sizing import schemas as s

Name = Annotated[str, Field(max_length=80)]
NOBODY_SAID_G, NOBODY_SAID_AH = 1000.0, 1.0
"""Stand in until core supposes them (`describing.supposed`)."""


class NowIn(s.In):
    """What it runs on now: an owned pack by its id ("owned:07"), or cells and capacity; without a mass
    such packs' usual one. ``joined``: two of these, in series or side by side; all figures are of one."""

    pack: Annotated[str, Field(max_length=60)] | None = None
    joined: Joined = ""
    chemistry: ChemistryId = "lipo"
    series: int | None = None
    capacity_ah: float | None = None
    mass_g: float | None = None
    label_c: float | None = None


@asks(UsageAnswers)
class UsageIn(s.In):
    """How it goes on that, as far as one knows: the minutes to landing, or of the run after which so much
    went back, the amps of a meter."""


@asks(LimitAnswers)
class LimitsIn(s.In):
    """What electronics and room may see; null where one does not know."""


@asks(GoalAnswers)
class GoalsIn(s.In):
    """What is wanted; ``chemistry`` and ``cells`` only where another pack than now's is."""


class AnswersIn(s.In):
    """All that is told of a new model."""

    name: Name = ""
    kind: str
    model_class: Annotated[str, Field(max_length=30)] | None = None
    mass_g: float | None = None
    rotors: int | None = None
    now: NowIn = NowIn()
    propulsion: s.PropulsionIn = s.PropulsionIn()
    usage: UsageIn = UsageIn()
    limits: LimitsIn = LimitsIn()
    goals: GoalsIn = GoalsIn()
    house_rules: str | None = None
    sure: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=20)] = []
    """Fields that were asked back, and are so."""


class AssumedOut(BaseModel):
    """A figure that nobody gave: its field in the job, and what stands in, in words."""

    field: str
    words: str


class LikelyOut(BaseModel):
    """Its class ("a trainer"): chosen, or guessed from what was told; whether it is worth asking, since
    another one would make another answer."""

    id: str
    name: str
    chosen: bool
    ask: bool


class DescribedOut(BaseModel):
    """What follows: the job to keep, what was assumed for it, and its pack of now, judged. ``pick`` is
    that pack's id in Size; ``average`` and ``peak`` in words with their range, nine in ten; ``narrow`` the
    one figure that would narrow the answer most, and how to get it."""

    job: s.JobIn
    description: str
    assumed: list[AssumedOut]
    true_for: str
    average_a: float
    average_low_a: float
    average_high_a: float
    peak_a: float
    peak_low_a: float
    peak_high_a: float
    minutes: float
    minutes_low: float
    minutes_high: float
    model_class: LikelyOut
    narrow: Narrowing | None
    questions: list[Question]
    """What looks like a slip: the model is kept once each is mended, or said to be so."""
    now: str
    pick: str
    plates: list[Plate]
    working: Working


class ModelClassOut(BaseModel):
    """A class within a kind."""

    id: str
    name: str


class ModelKindOut(BaseModel):
    """What a model can be, and the classes of that."""

    id: str
    name: str
    example: str
    motors: int
    classes: list[ModelClassOut]


def model_kinds_out() -> list[ModelKindOut]:
    """The kinds, in the order in which they are offered."""
    return [
        ModelKindOut(
            id=k.id,
            name=k.name,
            example=k.example,
            motors=k.motors,
            classes=[ModelClassOut(id=c.id, name=c.name) for c in classes_of(k.id)],
        )
        for k in MODEL_KINDS.values()
    ]


def described_out(data: AnswersIn) -> DescribedOut:
    """The job that follows from answers, and how the pack it runs on now fares in it.

    Raises
    ------
    DomainError
        For answers that are missing or cannot be, naming the question.
    """
    rules = rules_of(data.house_rules or house().house_rules)
    answers, pack = _answers(data)
    answers = supposed(answers, rules)
    asked = slips_in_answers(check_answers(answers))
    try:
        found = described_job(answers, rules)
    except DomainError:
        # what cannot be is most likely a slip: told where that was made
        refuse([DomainError(q.field, q.sentence) for q in asked])
        raise
    job = found.job
    assert job.now is not None
    mine = details(job, job_candidates(job, [pack or now_pack(job.now)]))[0]
    return DescribedOut(
        job=_job_out(found),
        description=_description(data, answers),
        assumed=[AssumedOut(field=k, words=v) for k, v in found.assumed.items()],
        true_for=true_for(job),
        average_a=job.duty.average_current_a,
        average_low_a=found.drawn.average.low_a,
        average_high_a=found.drawn.average.high_a,
        peak_a=job.duty.peak_current_a,
        peak_low_a=min(found.peak_range_a[0], job.duty.peak_current_a),
        peak_high_a=max(found.peak_range_a[1], job.duty.peak_current_a),
        minutes=mine.minutes,
        minutes_low=mine.minutes_low,
        minutes_high=mine.minutes_high,
        model_class=_likely_out(found.drawn.likely),
        narrow=narrowing(job),
        questions=asked,
        now=pack.name if pack else now_words(job.now),
        pick=pack.id if pack else NOW_ID,
        plates=mine.plates,
        working=mine.workings["minutes"],
    )


def _likely_out(likely: Likely) -> LikelyOut:
    best = likely.best
    return LikelyOut(id=best.id, name=best.a_name, chosen=likely.chosen, ask=likely.decides)


def _answers(data: AnswersIn) -> tuple[Answers, Pack | None]:
    limits, propulsion = LimitAnswers(**data.limits.model_dump()), value_of(Propulsion, data.propulsion)
    if data.mass_g is None and (limits.motor_kv is None or propulsion.turns is None):
        words = "What does it weigh, without the pack? Or tell its motor’s kV and its propeller."
        raise DomainError("mass_g", words)
    now, pack, plug, told = _now(data.now)
    return Answers(
        name=data.name.strip(),
        kind=data.kind,
        model_class=data.model_class,
        mass_g=NOBODY_SAID_G if data.mass_g is None else data.mass_g,
        mass_told=data.mass_g is not None,
        capacity_told=data.now.pack is not None or data.now.capacity_ah is not None,
        now=now,
        now_mass_told=told,
        now_plug=plug,
        rotors=data.rotors,
        usage=UsageAnswers(**data.usage.model_dump()),
        limits=limits,
        goals=GoalAnswers(**data.goals.model_dump()),
        propulsion=propulsion,
        sure=tuple(data.sure),
    ), pack


def _now(data: NowIn) -> tuple[RunsOn, Pack | None, str | None, bool]:
    """What it runs on now, the owned pack that this is (None for two), its plug where that is known, and
    whether its mass was told."""
    if data.pack:
        pack = pack_by_id(data.pack)
        if pack is None:
            raise DomainError("now.pack", "There is no such pack in the box any more.")
        plug = None if "plug" in pack.assumed else pack.plug
        figures = {
            f: getattr(pack, f)
            for f in ("chemistry", "series", "capacity_ah", "mass_g", "label_c", "cell_mohm")
        }
        if data.joined:
            return two_of(RunsOn(**figures), data.joined), None, plug, "mass_g" not in pack.assumed
        return RunsOn(**figures, pack=pack.id), pack, plug, True
    if data.series is None:
        raise DomainError("now.series", "How many cells in series?")
    require_between("now.series", "Cells in series", data.series, low=LEAST_SERIES, high=MOST_SERIES)
    capacity_ah = NOBODY_SAID_AH if data.capacity_ah is None else data.capacity_ah
    require_between("now.capacity_ah", "Capacity", capacity_ah, low=0.01, high=200, unit="Ah")
    usual_g = float(f"{typical_mass_g(data.chemistry, data.series, capacity_ah, data.label_c):.2g}")
    mass_g = usual_g if data.mass_g is None else data.mass_g
    now = RunsOn(data.chemistry, data.series, capacity_ah, mass_g, data.label_c)
    return two_of(now, data.joined), None, None, data.mass_g is not None


def _job_out(found: Described) -> s.JobIn:
    """The job in the API's shape, with what was assumed; figures rounded as one would type them."""
    job = found.job
    duty, source = job.duty, "estimate" if "draw.average_a" in found.assumed else "typed"
    stick = job.duty.phases[-1]
    return s.JobIn(
        name=job.name,
        motion=job.motion.id,
        mass_g=job.mass_g,
        drive=job.drive,
        house_rules=job.rules.id,
        draw=s.DrawIn(
            source=source,
            source_note="from what was told of it" if source == "typed" else "typical for such a model",
            average_a=duty.average_current_a,
            peak_a=duty.peak_current_a,
            peak_s=stick.duration_s,
            peak_every_s=duty.cycle_s,
            reference_voltage_v=duty.reference_voltage_v,
            reference_mass_g=duty.reference_mass_g,
            peak_voltage_v=duty.peak_voltage_v,
            spread=duty.spread,
        ),
        wants=s.WantsIn.model_validate(job.wants, from_attributes=True),
        electronics=_electronics_out(job.electronics),
        bay=s.BayIn.model_validate(job.bay, from_attributes=True),
        now=s.RunsOnIn.model_validate(job.now, from_attributes=True),
        propulsion=s.PropulsionIn.model_validate(job.propulsion, from_attributes=True),
        assumed=sorted(found.assumed),
    )


def _electronics_out(e: Electronics) -> s.ElectronicsIn:
    """Volts are left to the cells where they were told in cells."""
    out = s.ElectronicsIn.model_validate(e, from_attributes=True)
    out.max_v = None if e.rated_cells is not None else e.max_v
    out.min_v = None if e.rated_from is not None else e.min_v
    return out


def _description(data: AnswersIn, answers: Answers) -> str:
    kind = model_kind(answers.kind)
    rotors = f", {data.rotors} rotors" if data.rotors and kind.motors > 1 else ""
    chosen = model_class(data.model_class, kind.id).name if data.model_class else kind.name
    return f"{chosen}{rotors}, {plain_number(answers.mass_g, 4)}{GRAMS} without pack"
