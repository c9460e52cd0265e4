"""What one does with the log of runs: keep one once, take it away, let it teach the model."""

from __future__ import annotations

from django.db import transaction

from coldstack.core.errors import DomainError
from coldstack.core.readings.cells import landed_cell_v, typed_reading
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.running.learned import RunFindings
from coldstack.core.running.pairs import SIGN, in_series, typed_pair
from coldstack.server.gear.actions import save_job
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.life.log import packs_by_tag, retold, say, set_withdrawn
from coldstack.server.life.models import Event
from coldstack.server.life.now import standing_of
from coldstack.server.life.volts import Volts, volts_said
from coldstack.server.running.go import OF_THE_OTHER, learned_of
from coldstack.server.running.pairs import tags_of
from coldstack.server.running.replies import RunIn, RunMendIn
from coldstack.server.sizing.schemas import JobIn


@transaction.atomic
def log_run(data: RunIn) -> Event:
    """Keep a run once.

    Raises
    ------
    DomainError
        For a pack or a model that is not there, two packs that are not run together, or cells that cannot be
        understood.
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
    told = [
        say(
            pack.pk,
            "run",
            key=f"{data.key}{OF_THE_OTHER if k else ''}",
            at=data.at,
            minutes=data.minutes,
            mah=data.put_back_mah,
            landing_cell_v=landed,
            model=data.model,
            text=data.note,
            **volts,
        )
        for k, (pack, volts, landed) in enumerate(
            zip(packs, _read(packs, data.cells), _landed(packs, data), strict=True)
        )
    ]
    return told[0]


@transaction.atomic
def set_run_removed(key: str, *, removed: bool) -> Event:
    """Take a run back with what it said of its pack, or bring both back; raises Event.DoesNotExist for an
    unknown key."""
    run = Event.objects.get(key=key, kind="run")
    other = Event.objects.filter(key=f"{key}{OF_THE_OTHER}", kind="run").values_list("pk", flat=True)
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
    if all(getattr(run, name) == value for name, value in better.items()):
        return run
    other = Event.standing.filter(key=f"{run.key}{OF_THE_OTHER}", kind="run").first()
    if other is not None:
        retold(other, **better)
    return retold(run, **better)


def _landed(packs: list[OwnedPack], data: RunIn) -> list[float | None]:
    """What each landed at: of two in series each its own, or both alike by what all read together."""
    if not data.landed.strip():
        return [data.landing_cell_v] * len(packs)
    kind, series = packs[0].chemistry, packs[0].series
    try:
        if len(packs) == 2 and SIGN in data.landed:
            return [landed_cell_v(kind, series, x) for x in data.landed.split(SIGN, 1)]
        return [landed_cell_v(kind, len(packs) * series, data.landed)] * len(packs)
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
    save_job(slug, JobIn(**{**model.job, "draw": draw}))
    return found
