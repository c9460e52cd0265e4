"""A pack's page: all that is known of it."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from datetime import UTC, datetime, timedelta
from statistics import median
from typing import Any

from django.db.models import Count, Sum

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.resistance import honest_c_of
from coldstack.core.equipment.second_life import bench_uses
from coldstack.core.fit.fit import fit_of
from coldstack.core.keeping.changes import changes
from coldstack.core.keeping.health import Health, cycles_left
from coldstack.core.keeping.records import resistance_at_25_c
from coldstack.core.keeping.retire import drain_resistor, retire_steps
from coldstack.core.keeping.workings import due_working
from coldstack.core.life.events import Event as EventValue
from coldstack.core.life.events import in_order
from coldstack.core.life.told import DAY_S, PackHistory, doubted
from coldstack.core.life.wording import records_more, sentence_of
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.wear.so_far import cost_of_lying, cost_so_far
from coldstack.core.working import Working
from coldstack.server.api.values import figures
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.keeping import replies as r
from coldstack.server.keeping.shelf import line_out
from coldstack.server.life.models import Event
from coldstack.server.life.now import Standing, moment, standing_of
from coldstack.server.life.replies import EventOut, run_told
from coldstack.server.life.values import latest_values
from coldstack.server.logs.teaching import stored_learnt
from coldstack.server.rules.assemble import all_rules
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn
from coldstack.server.tomorrow.wanted import wanted_packs

RUNS_SHOWN, EVENTS_SHOWN = 12, 60
AHEAD = "Dated ahead: it does not count until then. If the date is wrong, take it back."
LATE = "Told after what happened later."
MORE_THAN_IT_HOLDS = "More than the pack can hold: it tells of no capacity. If it was a slip, take it back."


def page_out(tag: str, rules: HouseRules, now: datetime) -> r.PageOut:
    """All of one pack.

    Raises
    ------
    OwnedPack.DoesNotExist
        For a tag that no pack bears.
    """
    s = standing_of(tag, rules=rules, now=now)
    life, pack = s.now.told, s.pack
    found = life.health
    drain = drain_resistor(pack)
    notes = Event.standing.filter(pack_id=s.pk, kind="note").order_by("-at", "-id")
    runs, lying = _runs_of(s.pk), _lying(s, rules, now)
    return r.PageOut(
        line=line_out(s, now, wanted_packs(now)),
        chemistry_name=chemistry(pack.chemistry).name,
        has_storage=chemistry(pack.chemistry).storage_v is not None,
        series=pack.series,
        capacity_ah=pack.capacity_ah,
        label_c=pack.label_c,
        lent=pack.unknown_past,
        records_wanted=life.records_wanted,
        past=f"Until {records_more(life.records_wanted)}." if life.records_wanted else "",
        note=pack.note,
        learnt=stored_learnt(OwnedPack.live.values_list("learnt", flat=True).get(pk=s.pk)),
        cycles=life.cycles,
        evidence=list(found.evidence),
        too_early=list(found.too_early),
        changes=_changes(life, found),
        honest_c=found.honest_c,
        capacity_share=found.capacity_share,
        forecast=found.forecast,
        workings={**_workings(found, _due(s, now)), **({"left_full": lying[1]} if lying else {})},
        **_series_of(s, rules, found.first_mohm),
        **runs,
        drain=drain.sentence,
        drain_working=drain.working,
        retire=list(retire_steps(pack, drain)),
        ticked=list(life.steps),
        retired=moment(life.retired_at),
        notes=[note_out(n) for n in notes],
        **_life_of(s.pk, life, now.timestamp()),
        models=_in_models(pack),
        bench=bench_uses(pack, found.level, rules),
        cost=cost_so_far(pack, life.cycles, runs["run_minutes"], cycles_left(found, rules), rules),
        left_full=lying[0] if lying else "",
    )


def _lying(s: Standing, rules: HouseRules, now: datetime) -> tuple[str, Working] | None:
    """What lying full as it does now has cost it."""
    if s.since is None or s.now.charge not in ("full", "part"):
        return None
    if s.now.charge == "full":
        lies_v = None
    elif s.now.reading is None:
        return None
    else:
        lies_v = s.now.reading.mean_v
    return cost_of_lying(s.pack, (now - s.since) / timedelta(days=1), rules, cell_v=lies_v)


def _in_models(pack: Pack) -> list[r.InModelOut]:
    """The pack in each of the models."""
    pieces, out, sets = gear.bench().pieces, [], all_rules()
    for model in RcModel.live.all():
        job = job_of(JobIn(**model.job), sets)
        fit = fit_of(evaluate(job, job_candidates(job, [pack], pieces)), 0)
        out.append(
            r.InModelOut(
                slug=model.slug,
                name=model.name,
                fit=fit.verdict,
                sentence=fit.sentence,
                runs=fit.runs,
                minutes=fit.minutes,
            )
        )
    return out


def _life_of(pk: int, life: PackHistory, now: float) -> dict[str, Any]:
    """The latest events in sentences, the newest first, and how many there are."""
    order = in_order([*latest_values(pk, EVENTS_SHOWN), *life.ahead], now)
    ahead = {e.key for e in order.ahead}
    newest = [*reversed(order.ahead), *reversed(order.events)]
    return {
        "life_count": life.count + len(life.ahead),
        "life": [
            EventOut(
                id=e.number,
                at=datetime.fromtimestamp(e.at, UTC),
                kind=e.kind,
                by=e.by,
                ended=e.ended,
                sentence=sentence_of(e),
                flag=_flag(e, life.pack, order.late, ahead),
                mine=e.by != "charger",
                hands=e.hands,
            )
            for e in newest[:EVENTS_SHOWN]
        ],
    }


def _changes(life: PackHistory, found: Health) -> list[r.ChangedOut]:
    return [
        r.ChangedOut(
            **figures(c, without=("first_day", "since_day")),
            first_at=_day(c.first_day),
            since=None if c.since_day is None else _day(c.since_day),
        )
        for c in changes(life.pack, life.records, found.evidence, rules=life.rules)
    ]


def _workings(found: Health, due: Working | None) -> dict[str, Working]:
    all_three = {"honest_c": found.honest_working, "forecast": found.forecast_working, "due": due}
    return {name: working for name, working in all_three.items() if working}


def _series_of(s: Standing, rules: HouseRules, first_mohm: float | None) -> dict[str, Any]:
    """Resistance, capacity, honest C and spread over time; and how many resistances were left out, since
    they cannot be brought to 25 °C."""
    pack, records = s.pack, [(_day(x.day), x) for x in s.now.told.records]
    comparable = [(at, cells) for at, x in records if (cells := resistance_at_25_c(x))]
    held = [(at, [x.capacity_ah]) for at, x in records if x.capacity_ah]
    honest = [(at, [honest_c_of(median(cells), pack.capacity_ah)]) for at, cells in comparable]
    apart = [
        (at, [1000 * (max(x.rest_cell_v) - min(x.rest_cell_v))])
        for at, x in records
        if x.rest_cell_v and pack.series > 1
    ]
    return {
        "resistance": _series(comparable, first_mohm),
        "capacity": _series(held, pack.capacity_ah),
        "honest": _series(honest, pack.label_c),
        "spread_mv": _series(apart, 1000 * rules.spread_watch_v),
        "left_out": sum(1 for _, x in records if x.cell_mohm) - len(comparable),
    }


def _day(day: float) -> datetime:
    return datetime.fromtimestamp(day * DAY_S, UTC)


def _series(points: Sequence[tuple[datetime, Sequence[float]]], first: float | None) -> r.SeriesOut:
    """Points in time, each with a value a cell or one alone."""
    cells = [list(c) for c in zip(*(values for _, values in points), strict=True)]
    return r.SeriesOut(at=[at for at, _ in points], cells=cells, first=first)


def _flag(e: EventValue, pack: Pack, late: Collection[str], ahead: Collection[str]) -> str:
    """What does not fit about an event."""
    if e.key in ahead:
        return AHEAD
    if e.kind == "charge" and doubted(pack, e):
        return MORE_THAN_IT_HOLDS
    return LATE if e.key in late else ""


def _due(s: Standing, now: datetime) -> Working | None:
    if s.since is None or s.now.charge is None:
        return None
    hours = max((now - s.since) / timedelta(hours=1), 0.0)
    return due_working(s.pack, s.now.charge, hours, s.now.told.rules)


def _runs_of(pack_pk: int) -> dict[str, Any]:
    """A pack's latest runs, how many there were, and their minutes."""
    runs = Event.standing.filter(pack_id=pack_pk, kind="run").order_by("-at", "-id").select_related("pack")
    known = RcModel.objects.values_list("slug", "name", "job")
    models = {slug: (name, job["draw"]["average_a"]) for slug, name, job in known}
    latest = [
        r.PackRunOut(
            model=models.get(x.model, (x.model, None))[0],
            **run_told(x, models.get(x.model, (x.model, None))[1]),
        )
        for x in runs[:RUNS_SHOWN]
    ]
    counted = runs.aggregate(n=Count("pk"), minutes=Sum("minutes"))
    return {"runs": latest, "run_count": counted["n"], "run_minutes": counted["minutes"] or 0.0}


def note_out(note: Event) -> r.NoteOut:
    """A note."""
    return r.NoteOut(id=note.pk, at=note.at, text=note.text, hands=note.hands)
