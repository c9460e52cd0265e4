"""The pack on which a model runs, put into the box: as many as there are, as full as told, known to be it."""

from __future__ import annotations

from typing import Annotated

from django.db import transaction
from pydantic import BaseModel, Field

from coldstack.core.errors import DomainError, refuse
from coldstack.core.packs.keys import owned_key, said_of, tag_of
from coldstack.core.readings.cells import State
from coldstack.core.trial.now import each_as_told, looks_like, now_words
from coldstack.core.trial.today import as_linked
from coldstack.server.gear import actions
from coldstack.server.gear.describing import AnswersIn, described_out
from coldstack.server.gear.kinds import KINDS
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.gear.schemas import ChangeOut, ModelIn, ModelLine, PackIn
from coldstack.server.life.log import new_key, say
from coldstack.server.life.packs import owned_packs, pack_by_id
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import In, JobIn

MOST_AT_ONCE = 20


class HaveIn(In):
    """How many of the pack that it runs on are here, and how full they are; empty where nobody says. Of a
    model on two packs all are counted singly."""

    count: Annotated[int, Field(ge=0, le=MOST_AT_ONCE)] = 0
    state: State | Annotated[str, Field(max_length=0)] = ""


class NewModelIn(In):
    """A new model by what was told of it, and which of its packs are here."""

    answers: AnswersIn
    have: HaveIn = HaveIn()


class NewModelOut(BaseModel):
    """The model's address, the pack to look at first, the tags that its packs were given."""

    slug: str
    pick: str
    tags: list[str]
    change: ChangeOut


class OwnedOut(BaseModel):
    """The tags under which its packs are in the box now."""

    tags: list[str]
    change: ChangeOut


class LinkIn(In):
    """A pack of the box that is the one it runs on ("owned:07"); empty for none."""

    pack: Annotated[str, Field(max_length=60)]


class AlikeOut(BaseModel):
    """A pack of the box that looks like it."""

    id: str
    tag: str
    name: str


class RunsOnOut(BaseModel):
    """What a model runs on now, in words; whether that is in the box, and what there looks like it.
    ``words`` are empty where nobody told."""

    name: str
    words: str
    joined: bool
    tag: str | None
    alike: list[AlikeOut]


def add_described(data: NewModelIn) -> NewModelOut:
    """A model from its owner's answers, with its packs: all or nothing, and undone in one step.

    Raises
    ------
    DomainError
        For answers that are missing, cannot be, or look like a slip, naming the question.
    """
    told = described_out(data.answers)
    refuse([DomainError(q.field, q.sentence) for q in told.questions])
    job, pick = told.job, told.pick
    with transaction.atomic():
        packs = [] if data.answers.now.pack else _put_in_the_box(job, data.have)
        if packs and not _on_two(job):
            pick = owned_key(packs[0].tag)
            job = _linked(job, pick)
        data_in = ModelIn(name=job.name, description=told.description, job=job)
        model = actions.store(KINDS["models"], data_in)
        assert isinstance(model, RcModel)
        made = [{"kind": "packs", "id": p.pk, "before": None} for p in packs]
        label = f"Added model {model.name}" + (f", with {_tags(packs)}" if packs else "")
        change = actions.record(label, [*made, {"kind": "models", "id": model.pk, "before": None}])
    return NewModelOut(slug=model.slug, pick=pick, tags=[p.tag for p in packs], change=ChangeOut.of(change))


@transaction.atomic
def own_now(slug: str, have: HaveIn) -> OwnedOut:
    """What a model runs on now, put into the box.

    Raises
    ------
    DomainError
        If nobody told what it runs on, or none of it is here.
    RcModel.DoesNotExist
        For an unknown model.
    """
    job = JobIn(**RcModel.live.get(slug=slug).job)
    if job.now is None:
        raise DomainError("now", "What does it run on now? Say so in Size first.")
    if have.count < 1:
        raise DomainError("count", "How many of them are here?")
    packs = _put_in_the_box(job, have)
    if not _on_two(job):
        actions.save_job(slug, _linked(job, owned_key(packs[0].tag)))
    change = actions.record(
        f"Added {_tags(packs)}", [{"kind": "packs", "id": p.pk, "before": None} for p in packs]
    )
    return OwnedOut(tags=[p.tag for p in packs], change=ChangeOut.of(change))


@transaction.atomic
def link(slug: str, pack: str) -> None:
    """Say that a pack of the box is the one that a model runs on, or with an empty id that none is.

    Raises
    ------
    DomainError
        For a pack that is not there, or a model of which nobody told what it runs on.
    RcModel.DoesNotExist
        For an unknown model.
    """
    job = JobIn(**RcModel.live.get(slug=slug).job)
    if pack and (tag_of(pack) is None or pack_by_id(pack) is None):
        raise DomainError("pack", "There is no such pack in the box any more.")
    if job.now is None or _on_two(job):
        raise DomainError("now", "It is not told to run on one pack.")
    actions.save_job(slug, _linked(job, pack))


def runs_on(slug: str) -> RunsOnOut:
    """What a model runs on now, and what of the box is it or looks like it; raises RcModel.DoesNotExist for
    an unknown one."""
    model = RcModel.live.get(slug=slug)
    job = job_of(JobIn(**model.job))
    now = job.now
    if now is None:
        return RunsOnOut(name=model.name, words="", joined=False, tag=None, alike=[])
    packs = owned_packs()
    linked = as_linked(job, packs).now
    itself = linked.pack if linked else ""
    each = each_as_told(job)
    alike = [p for p in packs if each and looks_like(each, p)]
    return RunsOnOut(
        name=model.name,
        words=now_words(now),
        joined=now.joined != "",
        tag=said_of(itself) if itself else None,
        alike=[AlikeOut(id=p.id, tag=said_of(p.id), name=p.name) for p in alike],
    )


def who_runs_on(pack_id: str) -> list[ModelLine]:
    """Models that are told to run on a pack like this one, of which nobody said that it is in the box."""
    pack = pack_by_id(pack_id)
    if pack is None:
        return []
    found = []
    for model in RcModel.live.all():
        job = job_of(JobIn(**model.job))
        each, now = each_as_told(job), job.now
        if each and now and not now.joined and not now.pack and looks_like(each, pack):
            found.append(ModelLine(slug=model.slug, name=model.name, description=model.description))
    return found


def _put_in_the_box(job: JobIn, have: HaveIn) -> list[OwnedPack]:
    """So many packs as the one it runs on, with what is not known of them taken as usual, and said."""
    whole = job_of(job)
    if whole.now is None or not have.count:
        return []
    one, assumed = whole.now.each, ["lead_awg", *(["plug"] if whole.is_assumed("electronics.plug") else [])]
    figures = {
        "name": now_words(one),
        "chemistry": one.chemistry,
        "series": one.series,
        "capacity_ah": one.capacity_ah,
        "mass_g": None if whole.is_assumed("now.mass_g") else one.mass_g,
        "label_c": None if whole.is_assumed("now.label_c") else one.label_c,
        "plug": whole.electronics.plug,
        "lead_awg": whole.electronics.lead_awg,
        "assumed": assumed,
    }
    data = PackIn.model_validate(figures)
    packs = [_one_pack(data) for _ in range(have.count)]
    for pack in packs if have.state else ():
        say(pack.pk, "state", key=new_key(), state=have.state)
    return packs


def _one_pack(data: PackIn) -> OwnedPack:
    item = actions.store(KINDS["packs"], data)
    assert isinstance(item, OwnedPack)
    return item


def _linked(job: JobIn, pack: str) -> JobIn:
    """The job with this pack as the one it runs on."""
    assert job.now is not None
    return job.model_copy(update={"now": job.now.model_copy(update={"pack": pack})})


def _on_two(job: JobIn) -> bool:
    now = job_of(job).now
    return now is not None and now.joined != ""


def _tags(packs: list[OwnedPack]) -> str:
    tags = [p.tag for p in packs]
    return f"pack {tags[0]}" if len(tags) == 1 else f"packs {', '.join(tags[:-1])} and {tags[-1]}"
