"""What one does with the log of runs: keep one once, take it away, let it teach the model."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from coldstack.core.asking.hours import odd_hour
from coldstack.core.charging.inspection import known_sign
from coldstack.core.describing.estimated import off_by
from coldstack.core.errors import DomainError
from coldstack.core.readings.cells import landed_cell_v, typed_reading
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.running.learned import RunFindings
from coldstack.core.running.pairs import SIGN, in_series, typed_pair
from coldstack.server.api.clocks import by_this_clock
from coldstack.server.gear.actions import save_job
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.life.log import packs_by_tag, retold, say, set_withdrawn, was
from coldstack.server.life.models import Event
from coldstack.server.life.now import standing_of
from coldstack.server.life.values import events_of_kinds
from coldstack.server.life.volts import Volts, volts_said
from coldstack.server.running.go import OF_THE_OTHER, learned_of
from coldstack.server.running.pairs import tags_of
from coldstack.server.running.replies import RunIn, RunMendIn, RunMoreIn
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

AS_IT_LANDED = "+seen"
"""Ends the key of what was seen of a pack as it landed."""
AS_WARM = "+warm"
"""Ends the key of how warm it was then, told later."""
JUST_AFTER = timedelta(milliseconds=1)
"""A look comes after the run that it follows."""


@transaction.atomic
def log_run(data: RunIn) -> Event:
    """Keep a run once.

    Raises
    ------
    DomainError
        For a pack or a model that is not there, two packs that are not run together, cells or signs that
        cannot be understood, or an hour that can hardly be.
    """
    known = Event.objects.filter(key=data.key, kind="run").select_related("pack").first()
    if known is not None:
        return known
    if not RcModel.live.filter(slug=data.model).exists():
        raise DomainError("model", "There is no such model any more.")
    tags = tags_of(data.pack)
    pks = packs_by_tag(tags, "pack")
    rows = OwnedPack.objects.in_bulk(pks.values())
    packs = [rows[pks[tag]] for tag in tags]
    if len(packs) == 2:
        in_series(*(standing_of(tag).pack for tag in tags))
    read, ended = _read(packs, data.cells), _landed(packs, data.landed, data.landing_cell_v)
    signs = [known_sign(s).id for s in dict.fromkeys(data.signs)]
    if data.hour_told and not data.sure:
        _ask_the_hour(tags, data.at)
    at = was(data.at)
    assert at is not None
    told = [
        say(
            pack.pk,
            "run",
            key=f"{data.key}{OF_THE_OTHER if k else ''}",
            at=at,
            minutes=data.minutes,
            mah=data.put_back_mah,
            landing_cell_v=landed,
            model=data.model,
            text=data.note,
            **volts,
        )
        for k, (pack, volts, landed) in enumerate(zip(packs, read, ended, strict=True))
    ]
    if signs or data.temperature_c is not None:
        for k, pack in enumerate(packs):
            say(
                pack.pk,
                "inspection" if signs else "reading",
                key=f"{data.key}{OF_THE_OTHER if k else ''}{AS_IT_LANDED}",
                at=at + JUST_AFTER,
                signs=signs,
                temperature_c=data.temperature_c,
            )
    return told[0]


@transaction.atomic
def add_to_run(key: str, data: RunMoreIn) -> Event:
    """What is known of a run besides: told anew with it, of both packs of two.

    Raises
    ------
    DomainError
        For volts that cannot be understood, or an hour that can hardly be.
    Event.DoesNotExist
        For a run that is not there.
    """
    run = Event.standing.select_related("pack").get(key=key, kind="run")
    rows = [run, *Event.standing.filter(key=f"{key}{OF_THE_OTHER}", kind="run").select_related("pack")]
    packs = [row.pack for row in rows]
    landed = _landed(packs, data.landed)
    if data.at is not None and not data.sure:
        _ask_the_hour([p.tag for p in packs], data.at)
    at = was(data.at) or run.at
    for row, volts in zip(rows, landed, strict=True):
        better = {
            "at": at,
            "minutes": row.minutes if data.minutes is None else data.minutes,
            "mah": row.mah if data.put_back_mah is None else data.put_back_mah,
            "landing_cell_v": row.landing_cell_v if volts is None else volts,
            "text": data.note or row.text,
        }
        pack_pk, own_key = row.pack_id, row.key
        _better_told(row, **better)
        for seen in Event.standing.filter(key=f"{own_key}{AS_IT_LANDED}"):
            _better_told(seen, at=at + JUST_AFTER)
        warm_at, warm_key = at + 2 * JUST_AFTER, f"{own_key}{AS_WARM}"
        warm = Event.standing.filter(key=warm_key).first()
        if warm is not None:
            told_c = warm.temperature_c if data.temperature_c is None else data.temperature_c
            _better_told(warm, at=warm_at, temperature_c=told_c)
        elif data.temperature_c is not None:
            say(pack_pk, "reading", key=warm_key, at=warm_at, temperature_c=data.temperature_c)
    return Event.standing.select_related("pack").get(key=key, kind="run")


def _with_it(key: str) -> list[str]:
    """The keys of all else that a run told: of the other pack, and of how they were as they landed."""
    own = [f"{k}{end}" for k in (key, f"{key}{OF_THE_OTHER}") for end in (AS_IT_LANDED, AS_WARM)]
    return [f"{key}{OF_THE_OTHER}", *own]


def _ask_the_hour(tags: Sequence[str], told: datetime) -> None:
    """Raises DomainError with what to ask of an hour that can hardly be."""
    at, now = by_this_clock(told).timestamp(), timezone.now().timestamp()
    for tag in tags:
        events = events_of_kinds(standing_of(tag).pk, ("charging", "charge"))
        if asked := odd_hour(events, at, now):
            raise DomainError("at", asked)


@transaction.atomic
def set_run_removed(key: str, *, removed: bool) -> Event:
    """Take a run back with what it said of its pack, or bring both back; raises Event.DoesNotExist for an
    unknown key."""
    run = Event.objects.get(key=key, kind="run")
    other = Event.objects.filter(key__in=_with_it(key)).values_list("pk", flat=True)
    set_withdrawn([run.pk, *other], withdrawn=removed)
    return Event.objects.select_related("pack").get(pk=run.pk)


@transaction.atomic
def mend_run(run_id: int, data: RunMendIn) -> Event:
    """What is better known of a run: told anew with it, in the place of what was told before; raises
    Event.DoesNotExist for an unknown one."""
    run = Event.standing.select_related("pack").get(pk=run_id, kind="run")
    better = {
        "mah": run.mah if data.put_back_mah is None else data.put_back_mah,
        "minutes": run.minutes if data.minutes is None else data.minutes,
        "sure": data.sure,
    }
    other = Event.standing.filter(key=f"{run.key}{OF_THE_OTHER}", kind="run").first()
    if other is not None:
        _better_told(other, **better)
    return _better_told(run, **better)


def _better_told(event: Event, **better: Any) -> Event:
    """The event told anew where anything is known better; else as it was."""
    if all(getattr(event, name) == value for name, value in better.items()):
        return event
    return retold(event, **better)


def _landed(packs: Sequence[OwnedPack], typed: str, known: float | None = None) -> list[float | None]:
    """What each landed at, or what was known: of two in series each its own, or both alike by what all read
    together."""
    if not typed.strip():
        return [known] * len(packs)
    kind, series = packs[0].chemistry, packs[0].series
    try:
        if len(packs) == 2 and SIGN in typed:
            return [landed_cell_v(kind, series, x) for x in typed.split(SIGN, 1)]
        return [landed_cell_v(kind, len(packs) * series, typed)] * len(packs)
    except DomainError as error:
        raise DomainError("landed", error.sentence) from None


def _read(packs: list[OwnedPack], typed: str) -> list[Volts]:
    kind, series = packs[0].chemistry, packs[0].series
    if not typed.strip():
        return [{} for _ in packs]
    if len(packs) == 2:
        return [volts_said(x) for x in typed_pair(kind, series, typed, STEADY)]
    return [volts_said(typed_reading(kind, series, typed))]


@transaction.atomic
def learn(slug: str) -> RunFindings:
    """Put what the runs teach into the model's job; its peak stays, and is never below the average.

    Raises
    ------
    DomainError
        While it is too early.
    """
    model = RcModel.live.get(slug=slug)
    found = learned_of(model)
    if found is None:
        raise DomainError(
            "model", "Too early: three runs with what was put back, or their landing volts, are needed."
        )
    draw = {
        **model.job["draw"],
        "phases": None,
        "source": "log",
        "source_note": f"{found.count} runs logged",
        "spread": round(min(found.spread, 0.5), 3),
    }
    draw["average_a"] = float(f"{found.average_a:.3g}")
    draw["peak_a"] = max(draw["peak_a"], draw["average_a"])
    told = {**model.job["propulsion"], "off_by": off_by(job_of(JobIn(**model.job)), found.average_a)}
    save_job(slug, JobIn(**{**model.job, "draw": draw, "propulsion": told}))
    return found
