"""Go or no go, a model's runs, and what they teach."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from coldstack.core.errors import DomainError
from coldstack.core.keeping.storage import cells_expected
from coldstack.core.life.events import Event
from coldstack.core.life.wording import STATE_WORDS
from coldstack.core.packs.keys import owned_key
from coldstack.core.readings.cells import PackReading, State, typed_reading
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.running.go import RunContext, go_check
from coldstack.core.running.learned import RunFindings, learned_draw, mah_by_landing
from coldstack.core.running.pairs import (
    SIGN,
    in_series,
    known_together,
    pair_candidate,
    read_together,
    typed_pair,
)
from coldstack.core.safety.cautions import RUN_CAUTIONS
from coldstack.server.api.values import figures
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.assemble import OWNED_FIGURES, pack_of
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.life.models import Event as EventRow
from coldstack.server.life.now import Standing, standing_of, standing_with
from coldstack.server.life.replies import averages, now_fields, question_of, run_told
from coldstack.server.life.volts import volts_said
from coldstack.server.rules.assemble import rules_of
from coldstack.server.running import replies as r
from coldstack.server.running.pairs import both_now, tags_of
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

RUNS_SHOWN = 50
RUNS_TEACH = 200
"""So many of the latest runs teach what a model draws: it is flown by who flies it now."""
OF_THE_OTHER = "+2"
"""Ends the key of the second pack's telling of a run of two."""


def go_out(data: r.GoIn, now: datetime) -> r.GoOut:
    """Go or no go.

    Raises
    ------
    DomainError
        For a pack that is not there, or cells that cannot be understood.
    RcModel.DoesNotExist
        For an unknown model.
    """
    job = job_of(JobIn(**RcModel.live.get(slug=data.model).job))
    tags = tags_of(data.pack)
    befores = [standing_at(tag, now) for tag in tags]
    read = _readings(befores, data.cells, job.rules)
    afters = [_as_typed(b, x, data.temperature_c, now) for b, x in zip(befores, read, strict=True)]
    known = [
        known_of(b, a, _as_noted(b, x.noted, now)) for b, a, x in zip(befores, afters, read, strict=True)
    ]
    pieces, packs = gear.bench().pieces, [a.pack for a in afters]
    first, reading = afters[0], read[0].reading
    if len(afters) == 2:
        reading = read_together([x.reading for x in read], first.pack.chemistry, job.rules)
        g = go_check(
            job,
            in_series(*packs),
            reading,
            pieces=pieces,
            temperature_c=data.temperature_c,
            known=known_together(packs[0], packs[1], known),
            candidate=pair_candidate(job, packs[0], packs[1], pieces),
        )
    else:
        g = go_check(
            job, first.pack, reading, pieces=pieces, temperature_c=data.temperature_c, known=known[0]
        )
    noted = next((x.noted for x in read if x.noted), None)
    fields = now_fields(first) if len(afters) == 1 else both_now(afters[0], afters[1])
    name = first.pack.name if len(afters) == 1 else in_series(*packs).name
    return r.GoOut(
        **figures(g),
        alarm_v=g.alarm_cell_v * len(reading.cell_v),
        cautions=list(RUN_CAUTIONS),
        cells=[] if reading.whole or noted else list(reading.cell_v),
        pack_v=reading.pack_v if reading.whole and not noted else None,
        noted=noted,
        pack=r.RunPackNow(**fields, tag=data.pack if len(tags) == 2 else first.tag, name=name),
    )


@dataclass(frozen=True, slots=True)
class _Read:
    """What a pack reads: as it was typed now, as it was read before, or as it was noted."""

    reading: PackReading
    typed: bool = False
    noted: State | None = None


def _readings(packs: Sequence[Standing], cells: str, rules: HouseRules) -> list[_Read]:
    """Of one pack, or of two together, by what is typed, else by what is known of each."""
    kind, series = packs[0].pack.chemistry, packs[0].pack.series
    if cells.strip() and len(packs) == 2:
        return [_Read(x, typed=True) for x in typed_pair(kind, series, cells, rules)]
    return [_reading_of(p, cells, rules) for p in packs]


def _reading_of(found: Standing, cells: str, rules: HouseRules) -> _Read:
    if not cells.strip() and found.now.reading is not None:
        return _Read(found.now.reading)
    if not cells.strip() and (expected := cells_expected(found.now)) is not None:
        return _Read(expected, noted=found.now.charge)
    return _Read(typed_reading(found.pack.chemistry, found.pack.series, cells, rules), typed=True)


def _as_typed(before: Standing, read: _Read, temperature_c: float | None, now: datetime) -> Standing:
    return with_cells(before, read.reading, temperature_c, now) if read.typed else before


def standing_at(tag: str, now: datetime) -> Standing:
    try:
        return standing_of(tag, now=now)
    except OwnedPack.DoesNotExist:
        raise DomainError("pack", f"There is no pack {tag} in the box.") from None


def with_cells(
    before: Standing, reading: PackReading, temperature_c: float | None, now: datetime
) -> Standing:
    """The pack as if it read so now."""
    typed = Event("typed", now.timestamp(), "reading", temperature_c=temperature_c, **volts_said(reading))
    return standing_with(before, [typed], now=now)


def _as_noted(found: Standing, state: State | None, now: datetime) -> tuple[str, float]:
    """As what it was noted, in words, and for how many hours that has stood."""
    if state is None or found.since is None:
        return "", 0.0
    words = "in storage" if state == "stored" else STATE_WORDS[state]
    return words, (now - found.since).total_seconds() / 3600


def known_of(before: Standing, after: Standing, noted: tuple[str, float] = ("", 0.0)) -> RunContext:
    """What is known of a pack beside the cells that it reads now: why it may not be run, whether anything
    was noted of it before them, and as what it was noted if that is all there is."""
    may_say = after.now.charge in ("spent", "too_low") and after.now.usable
    known = before.now.told.handled
    barred = "" if may_say else after.now.may["run"].why
    return RunContext(barred, not known, *noted)


def runs_out(slug: str) -> r.RunsOut:
    """A model's runs; raises RcModel.DoesNotExist for an unknown one."""
    model = RcModel.live.get(slug=slug)
    rows = _runs_of(slug)
    found = _learned(model, rows)
    others = other_tags(rows[:RUNS_SHOWN])
    return r.RunsOut(
        runs=[run_out(x, model.job["draw"]["average_a"], others) for x in rows[:RUNS_SHOWN]],
        learned=found if found else None,
        now_a=model.job["draw"]["average_a"],
    )


def learned_of(model: RcModel) -> RunFindings | None:
    """What all runs of a model teach of its average draw."""
    return _learned(model, _runs_of(model.slug))


def _runs_of(slug: str) -> list[EventRow]:
    runs = EventRow.standing.filter(model=slug, kind="run").exclude(key__endswith=OF_THE_OTHER)
    return list(runs.select_related("pack").order_by("-at", "-id")[:RUNS_TEACH])


def _learned(model: RcModel, rows: list[EventRow]) -> RunFindings | None:
    if model.job["equipment"]:  # its load is told, and no run teaches another
        return None
    rules, average_a = rules_of(JobIn(**model.job).house_rules), model.job["draw"]["average_a"]
    landed = []
    for row in rows:
        if question_of(row, average_a):
            continue
        if not row.mah and row.landing_cell_v and row.minutes:
            pack = pack_of({f: getattr(row.pack, f) for f in OWNED_FIGURES}, owned_key(row.pack.tag))
            if mah := mah_by_landing(pack, row.landing_cell_v, rules=rules):
                landed.append((row.minutes, mah))
    return learned_draw(
        [(x.minutes, x.mah) for x in rows if x.mah and x.minutes and not question_of(x, average_a)], landed
    )


def other_tags(rows: Sequence[EventRow]) -> dict[str, str]:
    """The other pack's tag of runs of two, by the run's key; one query."""
    keys = [f"{x.key}{OF_THE_OTHER}" for x in rows]
    told = EventRow.standing.filter(key__in=keys).values_list("key", "pack__tag")
    return {key.removesuffix(OF_THE_OTHER): tag for key, tag in told}


def run_out(
    row: EventRow, average_a: float | None = None, others: Mapping[str, str] | None = None
) -> r.RunOut:
    """A logged run, in a model that draws so much on average, with the other packs' tags of runs of two;
    asked where they are not given. [A]"""
    if average_a is None:
        average_a = averages().get(row.model)
    other = (other_tags([row]) if others is None else others).get(row.key)
    tag = row.pack.tag if other is None else f"{row.pack.tag}{SIGN}{other}"
    return r.RunOut(id=row.pk, key=row.key, pack=tag, **run_told(row, average_a))
