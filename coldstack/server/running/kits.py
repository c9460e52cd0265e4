"""Field kits: what a phone without a line takes along of each pack in a model."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import datetime
from hashlib import sha256

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.own_plugs import own_plugs
from coldstack.core.errors import DomainError
from coldstack.core.life.endures import worse_when_read
from coldstack.core.life.kept import MADE
from coldstack.core.life.now import permitted_cool
from coldstack.core.readings.cells import pack_reading
from coldstack.core.running.kit import Kit, TakenAlong, kits_of
from coldstack.core.running.since import said_since
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
    found = _fingerprints(model, fitting, now)
    marks = [r.KitMark(tag=tag, fingerprint=found[tag]) for tag in fitting if tag in found]
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
    marks = _fingerprints(model, tags, now)
    if not marks:
        raise DomainError("pack", f"There is no pack {tags[0]} in the box.")
    kits, version = _kept_or_made(model, marks, now), version_of(model.job)
    return r.KitsOut(
        kits=[
            r.KitOut(kit=kit, tag=tag, name=name, fingerprint=marks[tag], made=now, job=version)
            for tag, (name, kit) in kits.items()
        ]
    )


def _fingerprints(model: RcModel, tags: Sequence[str], now: datetime) -> dict[str, str]:
    """Of each pack that is there twelve signs that change with anything its kit hangs on: the model's job,
    the house's rules, adapters, plugs of one's own, the pack, what was said of it last, the hour."""
    order = {tag: k for k, tag in enumerate(tags)}
    found = sorted(marked(OwnedPack.live.filter(tag__in=order)), key=lambda x: order[x[2]])
    job, hour = job_of(JobIn(**model.job)), int(now.timestamp() // MADE_ANEW_S)
    all_of_them = (MADE, model.slug, job, gear.bench().pieces, own_plugs(), rules_or_house(None), hour)
    of_all = sha256(repr(all_of_them).encode()).hexdigest()
    return {tag: sha256(repr((of_all, mark, pack)).encode()).hexdigest()[:12] for mark, _, tag, pack in found}


def _in_order(tags: Sequence[str], now: datetime) -> list[Standing]:
    order = {tag: k for k, tag in enumerate(tags)}
    found = sorted(standings(tags=list(order), now=now), key=lambda s: order[s.tag])
    at_hand(found)
    return found


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


def _kept_or_made(model: RcModel, marks: Mapping[str, str], now: datetime) -> dict[str, tuple[str, Kit]]:
    """Each pack's name and kit; those that no fingerprint finds are made together."""
    found = {tag: known for tag, mark in marks.items() if (known := _made.get(mark)) is not None}
    new = _in_order([tag for tag in marks if tag not in found], now)
    along = [_taken_along(model.slug, s, now) for s in new]
    kits = kits_of(job_of(JobIn(**model.job)), along, gear.bench().pieces)
    for standing, a, kit in zip(new, along, kits, strict=True):
        found[standing.tag] = _made[marks[standing.tag]] = a.pack.name, kit
    while len(_made) > MOST_MADE:
        _made.popitem(last=False)
    return {tag: found[tag] for tag in marks if tag in found}


def forget_kits() -> None:
    """As after a restart."""
    _made.clear()
