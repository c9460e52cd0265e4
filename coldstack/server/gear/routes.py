"""Models with their jobs, for the stages; labels; changes that can be undone."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from coldstack.core.asking.question import Question
from coldstack.core.errors import DomainError
from coldstack.core.labels.guesses import Guess, guesses
from coldstack.core.labels.reader import read_label
from coldstack.core.sizing.front import Aim
from coldstack.server.api.errors import Problem
from coldstack.server.api.values import figures
from coldstack.server.api.versions import ANY, MadeFrom, version_of
from coldstack.server.gear import actions
from coldstack.server.gear import describing as d
from coldstack.server.gear import owning as o
from coldstack.server.gear import schemas as s
from coldstack.server.gear import serving as e
from coldstack.server.gear.asking import AskedIn
from coldstack.server.gear.asking import questions as asked
from coldstack.server.gear.models import Change, RcModel
from coldstack.server.sizing.planned import planned
from coldstack.server.sizing.schemas import JobIn, PlanIn

router = Router(tags=["gear"])
REFUSALS = frozenset({400, 403, 404, 422})


@router.get("/models", response=list[s.ModelLine], summary="The models one owns")
def models(request: HttpRequest) -> list[s.ModelLine]:
    """In the order of their owner."""
    rows = RcModel.live.values("slug", "name", "description")
    return [s.ModelLine(**row) for row in rows]


@router.get("/models/{slug}", response={200: s.ModelOut, 404: Problem}, summary="One model with its job")
def model(request: HttpRequest, slug: str) -> s.ModelOut:
    """404 for an unknown model."""
    return _out(RcModel.live.get(slug=slug))


@router.get(
    "/models/{slug}/plan",
    response={200: s.ModelPlanOut, REFUSALS: Problem},
    summary="One model with its plan, and a candidate in full",
)
def model_plan(
    request: HttpRequest, slug: str, aim: Aim = "all_round", pick: str | None = None
) -> s.ModelPlanOut:
    """All that the first look at a model needs, at once; 404 for an unknown one."""
    found = _out(RcModel.live.get(slug=slug))
    try:
        plan = planned(PlanIn(job=found.job, aim=aim, pick=pick, in_full=True))
    except DomainError:
        # told at its fields to whoever asks for the plan alone
        plan = None
    return s.ModelPlanOut.model_construct(model=found, plan=plan)


@router.put(
    "/models/{slug}/job",
    response={200: s.ModelOut, REFUSALS | {412}: Problem},
    summary="Keep a model’s job",
)
def keep_job(request: HttpRequest, slug: str, data: JobIn, if_match: MadeFrom = ANY) -> s.ModelOut:
    """The whole job is replaced, in one transaction; nothing is kept if a figure cannot be, or if it was made
    from another version than the one that is kept."""
    return _out(actions.save_job(slug, data, if_match))


@router.get("/model-kinds", response=list[d.ModelKindOut], summary="What a model can be")
def model_kinds(request: HttpRequest) -> list[d.ModelKindOut]:
    """Kinds of models, in the order in which they are offered."""
    return d.model_kinds_out()


@router.post(
    "/describe-model",
    auth=None,
    response={200: d.DescribedOut, 400: Problem, 422: Problem},
    summary="A job from a few answers",
)
def describe(request: HttpRequest, data: d.AnswersIn) -> d.DescribedOut:
    """Draw, what it is true for, cell window and limits from what an owner tells; what was assumed is
    named. Nothing is kept."""
    return d.described_out(data)


@router.get("/equipment-kinds", response=list[e.EquipmentKindOut], summary="What else a pack can serve")
def equipment_kinds(request: HttpRequest) -> list[e.EquipmentKindOut]:
    """Kinds of equipment with usual figures, in the order in which they are offered."""
    return e.equipment_kinds_out()


@router.post(
    "/describe-equipment",
    auth=None,
    response={200: e.ServedOut, 400: Problem, 422: Problem},
    summary="A job from what equipment takes",
)
def describe_equipment(request: HttpRequest, data: e.EquipmentAnswersIn) -> e.ServedOut:
    """Load, hours and volts to a job, and which packs at hand do it. Nothing is kept."""
    return e.served_out(data)


@router.post(
    "/new-model", response={200: o.NewModelOut, REFUSALS: Problem}, summary="A model from a few answers, kept"
)
def new_model(request: HttpRequest, data: o.NewModelIn) -> o.NewModelOut:
    """The model and, where they are here, the packs that it runs on, linked to it: one change."""
    return o.add_described(data)


@router.get(
    "/models/{slug}/runs-on", response={200: o.RunsOnOut, 404: Problem}, summary="What a model runs on now"
)
def runs_on(request: HttpRequest, slug: str) -> o.RunsOnOut:
    """Whether that is in the box, and what there looks like it."""
    return o.runs_on(slug)


@router.post(
    "/models/{slug}/runs-on",
    response={200: o.OwnedOut, REFUSALS: Problem},
    summary="Put what a model runs on into the box",
)
def own_now(request: HttpRequest, slug: str, data: o.HaveIn) -> o.OwnedOut:
    """So many packs, as full as told, linked to the model: one change."""
    return o.own_now(slug, data)


@router.put(
    "/models/{slug}/runs-on",
    response={200: o.RunsOnOut, REFUSALS: Problem},
    summary="Say which pack a model runs on",
)
def link_now(request: HttpRequest, slug: str, data: o.LinkIn) -> o.RunsOnOut:
    """A pack of the box is the one for which its draw is true."""
    o.link(slug, data.pack)
    return o.runs_on(slug)


@router.post(
    "/gear/questions",
    auth=None,
    response={200: list[Question], 400: Problem, 422: Problem},
    summary="Slips in gear",
)
def questions(request: HttpRequest, data: AskedIn) -> list[Question]:
    """What to ask back of gear as it is typed, with the figure that was likely meant. Nothing is kept."""
    return asked(data)


@router.get("/models-on", response=list[s.ModelLine], summary="Models that may run on a pack")
def models_on(request: HttpRequest, pack: str) -> list[s.ModelLine]:
    """Those told to run on such a one, of which nobody said that it is in the box."""
    return o.who_runs_on(pack)


@router.post(
    "/labels/read",
    auth=None,
    response={200: s.LabelOut, 400: Problem, 422: Problem},
    summary="Read a pack’s label",
)
def label(request: HttpRequest, data: s.LabelIn) -> s.LabelOut:
    """One line into fields; contradictions are reported, what is missing is named and guessed where that is
    harmless."""
    reading = read_label(data.line, balance_wires=data.balance_wires, measured_v=data.measured_v)
    return s.LabelOut(
        **figures(reading),
        guesses={name: Guess(value=g.value, words=g.words) for name, g in guesses(reading).items()},
    )


@router.get("/gear/changes", response=list[s.ChangeOut], summary="The latest changes that can be undone")
def changes(request: HttpRequest) -> list[s.ChangeOut]:
    """Newest first, at most twenty."""
    return [s.ChangeOut.of(made) for made in Change.objects.filter(undone=False)[:20]]


@router.post(
    "/gear/changes/{change_id}/undo",
    response={200: s.RemovedOut, REFUSALS: Problem},
    summary="Undo a change",
)
def undo(request: HttpRequest, change_id: int) -> s.RemovedOut:
    """Rows it made go, values it changed come back; refused where something newer touched the same rows."""
    made = actions.undo(change_id)
    return s.RemovedOut(change=s.ChangeOut.of(made))


@router.post(
    "/gear/changes/{change_id}/redo",
    response={200: s.RemovedOut, REFUSALS: Problem},
    summary="Do a change again that was undone",
)
def redo(request: HttpRequest, change_id: int) -> s.RemovedOut:
    """What stood there when it was undone stands there again; refused where something newer touched it."""
    return s.RemovedOut(change=s.ChangeOut.of(actions.redo(change_id)))


def _out(row: RcModel) -> s.ModelOut:
    return s.ModelOut(
        slug=row.slug,
        name=row.name,
        description=row.description,
        job=JobIn(**row.job),
        version=version_of(row.job),
    )
