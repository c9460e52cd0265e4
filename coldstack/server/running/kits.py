"""Field kits: what a phone without a line takes along of each pack in a model."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Adapter
from coldstack.core.errors import DomainError
from coldstack.core.life.endures import worse_when_read
from coldstack.core.life.now import permitted_cool
from coldstack.core.life.told import PackHistory
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import pack_reading
from coldstack.core.running.kit import Kit, TakenAlong, fingerprint, kits_of
from coldstack.core.running.since import said_since
from coldstack.core.trial.job import Job
from coldstack.server.api.versions import version_of
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.life.now import Standing, at_hand, standings
from coldstack.server.running import replies as r
from coldstack.server.running.go import known_of, with_cells
from coldstack.server.running.packs import run_packs_out
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

KITS_AT_ONCE = 30
"""So many packs are taken along at most in a model, the readiest first."""


def kit_marks(slug: str, now: datetime) -> r.KitMarksOut:
    """Which kits hold now; raises RcModel.DoesNotExist for an unknown model."""
    model = RcModel.live.get(slug=slug)
    job, pieces = job_of(JobIn(**model.job)), gear.bench().pieces
    fitting = [p.tag for p in run_packs_out(slug, now) if p.runs and not p.pair][:KITS_AT_ONCE]
    marks = [
        r.KitMark(tag=s.tag, fingerprint=fingerprint(job, _taken_along(slug, s, now), pieces))
        for s in _in_order(fitting, now)
    ]
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
    job, found = job_of(JobIn(**model.job)), _in_order(tags, now)
    if not found:
        raise DomainError("pack", f"There is no pack {tags[0]} in the box.")
    along = [_taken_along(slug, s, now) for s in found]
    kits = _kept_or_made(job, along, gear.bench().pieces)
    version = version_of(model.job)
    return r.KitsOut(
        kits=[
            r.KitOut(kit=kit, tag=s.tag, name=a.pack.name, made=now, job=version)
            for s, a, kit in zip(found, along, kits, strict=True)
        ]
    )


def _in_order(tags: Sequence[str], now: datetime) -> list[Standing]:
    order = {tag: k for k, tag in enumerate(tags)}
    found = sorted(standings(tags=list(order), now=now), key=lambda s: order[s.tag])
    at_hand(found)
    return found


_along: dict[tuple[str, str], tuple[PackHistory, Pack, int, TakenAlong]] = {}
"""Packs as they were taken along last, by model and tag, with what that was made of and in which hour."""
MOST_ALONG = 4000


def _taken_along(slug: str, before: Standing, now: datetime) -> TakenAlong:
    """The same as `_as_taken_along`, which asks health much; within an hour asked anew only where something
    was said of the pack or it was changed: a kit holds for hours anyway."""
    life, hour = before.now.told, int(now.timestamp() // 3600)
    known = _along.get((slug, before.tag))
    if known is not None and known[0] is life and known[1:3] == (before.pack, hour):
        return known[3]
    found = _as_taken_along(slug, before, now)
    if len(_along) >= MOST_ALONG:
        _along.clear()
    _along[(slug, before.tag)] = life, before.pack, hour, found
    return found


def _as_taken_along(slug: str, before: Standing, now: datetime) -> TakenAlong:
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


_made: OrderedDict[str, Kit] = OrderedDict()
"""Kits made last, by their fingerprints: asked for again by every device that takes them along."""
MOST_MADE = 1000


def _kept_or_made(job: Job, along: Sequence[TakenAlong], pieces: tuple[Adapter, ...]) -> list[Kit]:
    """The kit of each; those that no fingerprint finds are made together."""
    marks = [fingerprint(job, a, pieces) for a in along]
    found = {mark: kit for mark in marks if (kit := _made.get(mark)) is not None}
    new = {mark: a for mark, a in zip(marks, along, strict=True) if mark not in found}
    made = dict(zip(new, kits_of(job, list(new.values()), pieces), strict=True)) if new else {}
    _made.update(made)
    while len(_made) > MOST_MADE:
        _made.popitem(last=False)
    return [(found | made)[mark] for mark in marks]


def forget_kits() -> None:
    """As after a restart."""
    _along.clear()
    _made.clear()
