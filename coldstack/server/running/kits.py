"""Field kits: what a phone without a line takes along of each pack in a model."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from hashlib import sha256

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Adapter
from coldstack.core.chain.own_plugs import own_plugs
from coldstack.core.errors import DomainError
from coldstack.core.life.endures import worse_when_read
from coldstack.core.life.kept import MADE
from coldstack.core.life.now import permitted_cool
from coldstack.core.readings.cells import pack_reading
from coldstack.core.running.kit import Kit, TakenAlong, kits_of
from coldstack.core.running.since import said_since
from coldstack.core.trial.job import Job
from coldstack.server.api.versions import version_of
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.life.kept import marked
from coldstack.server.life.now import Standing, at_hand, standings
from coldstack.server.rules.assemble import rules_or_house
from coldstack.server.running import replies as r
from coldstack.server.running.go import known_of, with_cells
from coldstack.server.running.packs import run_packs_out
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

KITS_AT_ONCE = 30
"""So many packs are taken along at most in a model, the readiest first."""
MADE_ANEW_S = 3600
"""A kit is made anew after an hour, though nothing was said: time alone tells of a pack."""


def kit_marks(slug: str, now: datetime) -> r.KitMarksOut:
    """Which kits hold now; raises RcModel.DoesNotExist for an unknown model."""
    model = RcModel.live.get(slug=slug)
    fitting = [p.tag for p in run_packs_out(slug, now) if p.runs and not p.pair][:KITS_AT_ONCE]
    found = _fingerprints(model, _fixed(model), fitting, now)
    marks = [r.KitMark(tag=tag, fingerprint=mark) for tag, mark in found.items()]
    return r.KitMarksOut(made=now, job=version_of(model.job), kits=marks)


def kits_out(slug: str, tags: Sequence[str], now: datetime) -> r.KitsOut:
    """The kits of packs in a model, as of now; of several, what is not in the box is left out.

    Raises
    ------
    DomainError
        For packs of which none is there.
    RcModel.DoesNotExist
        For an unknown model.
    """
    model = RcModel.live.get(slug=slug)
    fixed = _fixed(model)
    marks = _fingerprints(model, fixed, tags, now)
    if not marks:
        raise DomainError("pack", f"There is no pack {tags[0]} in the box.")
    kits, version = _kept_or_made(model.slug, fixed, marks, now), version_of(model.job)
    return r.KitsOut(
        kits=[
            r.KitOut(kit=kit, tag=tag, name=name, fingerprint=marks[tag], made=now, job=version)
            for tag, (name, kit) in kits.items()
        ]
    )


def _fixed(model: RcModel) -> tuple[Job, tuple[Adapter, ...]]:
    """What all kits of a model share: its job, and the adapters that are owned."""
    return job_of(JobIn(**model.job)), gear.bench().pieces


def _fingerprints(
    model: RcModel, fixed: tuple[Job, tuple[Adapter, ...]], tags: Sequence[str], now: datetime
) -> dict[str, str]:
    """Of each of these packs that is there, in their order, twelve signs that change with anything its kit
    hangs on: the model's job, the house's rules, adapters, plugs of one's own, the pack, what was said of it
    last, the hour."""
    hour = int(now.timestamp() // MADE_ANEW_S)
    of_all = _signs((MADE, model.slug, *fixed, own_plugs(), rules_or_house(None), hour))
    packs = marked(OwnedPack.live.filter(tag__in=tags))
    known = {tag: _signs((of_all, mark, pack))[:12] for mark, _, tag, pack in packs}
    return {tag: known[tag] for tag in tags if tag in known}


def _signs(of: tuple[object, ...]) -> str:
    return sha256(repr(of).encode()).hexdigest()


def _taken_along(slug: str, before: Standing, now: datetime) -> TakenAlong:
    """The pack as it will be taken along: full, and cool. What bars it then is asked of it so."""
    cells, life = (chemistry(before.pack.chemistry).full_v,) * before.pack.series, before.now.told
    after = with_cells(before, pack_reading(before.pack.chemistry, cells), None, now)
    known = known_of(before, after)
    if after.now.state == "cooling" and after.now.usable:
        # when it was run is told beside: it will have cooled
        known = replace(known, barred=permitted_cool(after.now).why)
    return TakenAlong(
        after.pack,
        known,
        said_since(after.pack, life, slug, now.timestamp()),
        worse_when_read(life, now.timestamp()),
    )


_made: OrderedDict[str, tuple[str, Kit]] = OrderedDict()
"""Kits made last, each with its pack's name, by their fingerprints: asked for by every device that takes them
along."""
MOST_MADE = 1000


def _kept_or_made(
    slug: str, fixed: tuple[Job, tuple[Adapter, ...]], marks: Mapping[str, str], now: datetime
) -> dict[str, tuple[str, Kit]]:
    """Each pack's name and kit; those that no fingerprint finds are made together."""
    found = {tag: known for tag, mark in marks.items() if (known := _made.get(mark)) is not None}
    new = standings(tags=[tag for tag in marks if tag not in found], now=now)
    at_hand(new)
    along = [_taken_along(slug, s, now) for s in new]
    for standing, a, kit in zip(new, along, kits_of(fixed[0], along, fixed[1]), strict=True):
        found[standing.tag] = _made[marks[standing.tag]] = a.pack.name, kit
    while len(_made) > MOST_MADE:
        _made.popitem(last=False)
    return {tag: found[tag] for tag in marks if tag in found}


def forget_kits() -> None:
    """As after a restart."""
    _made.clear()
