"""Between the API's shapes, the stored gear and the core's day of several models."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta

from coldstack.core.chain.adapters import Adapter
from coldstack.core.errors import DomainError
from coldstack.core.fit.fit import fit_of
from coldstack.core.matching.refusals import suits
from coldstack.core.running.reckoned import first_runs
from coldstack.core.running.tomorrow.ready import PackAlong, stays, strongest
from coldstack.core.running.tomorrow.tomorrow import (
    EARLY_MIN,
    Evening,
    ModelWish,
    Tomorrow,
    TomorrowPlan,
    tomorrow_plan,
)
from coldstack.core.running.tomorrow.words import on_two_packs, served_for_hours
from coldstack.core.scheduling.bench import ChargerInUse
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import Job
from coldstack.server.bench.actions import kept_layout
from coldstack.server.bench.assemble import as_written, feds_of
from coldstack.server.bench.plan_out import spans_of
from coldstack.server.bench.schemas import BenchIn, SpanIn
from coldstack.server.charges.levels import supplies_now
from coldstack.server.charges.models import Charge
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.life.models import Event
from coldstack.server.life.now import Standing, standings
from coldstack.server.rules.assemble import rules_of
from coldstack.server.running.go import OF_THE_OTHER
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn
from coldstack.server.tomorrow import replies as r

A_DAY_MIN = 1440.0


@dataclass(frozen=True, slots=True)
class Planned:
    """A day with all that was needed to plan it: what was asked, the answer, the packs, the pieces between
    packs and models."""

    asked: Tomorrow
    plan: TomorrowPlan
    standings: dict[str, Standing]
    links: dict[tuple[str, str], tuple[str, ...]]
    names: dict[str, str]
    flown: dict[str, tuple[int, float]]
    """Runs of the day by model, and their minutes."""
    attended: list[SpanIn]
    there: list[ChargerInUse]
    spare: list[ChargerInUse]
    at: datetime
    layout: BenchIn
    left_out: dict[str, str]
    """Packs that would serve one of the models and are not to be counted on, and why."""


def planned_day(data: r.TomorrowIn, now: datetime) -> Planned:
    """The day, planned.

    Raises
    ------
    DomainError
        For a model or a charger that is not there, or a day that cannot be.
    """
    at = as_written(data.at or now.astimezone())
    start = as_written(data.start)
    start_min = int((start - at).total_seconds() // 60)
    end_min = start_min + round(60 * data.hours)
    layout = kept_layout()
    rules, trust, bench = rules_of(layout.house_rules), layout.label_trust, gear.bench()
    models = {m.slug: m for m in RcModel.live.filter(slug__in=[w.model for w in data.wishes])}
    jobs = {slug: job_of(JobIn(**m.job)) for slug, m in models.items()}
    for k, wish in enumerate(data.wishes):
        if wish.model not in models:
            raise DomainError(f"wishes.{k}.model", "There is no such model any more.")
        if jobs[wish.model].runs_on_two:
            raise DomainError(f"wishes.{k}.model", on_two_packs(models[wish.model].name))
        if jobs[wish.model].equipment is not None:
            raise DomainError(f"wishes.{k}.model", served_for_hours(models[wish.model].name))
    flown = _flown(list(models), now + (start - at) - timedelta(minutes=EARLY_MIN))
    box = standings(now=now)
    found = [s for s in box if s.pack.fit and not stays(s.now)]
    along, links = _along(found, jobs, bench.pieces)
    there, spare = _there(data)
    attended = data.attended or layout.attended
    asked = Tomorrow(
        wishes=tuple(
            ModelWish(
                w.model,
                models[w.model].name,
                None if w.flights is None else max(w.flights - flown.get(w.model, (0, 0.0))[0], 0),
                None if w.minutes is None else max(w.minutes - flown.get(w.model, (0, 0.0))[1], 0.0),
            )
            for w in data.wishes
        ),
        along=tuple(along),
        start_min=start_min,
        end_min=end_min,
        there=tuple(there),
        evening=Evening(tuple(feds_of(layout)[0]), tuple(_before(spans_of(at, attended), start_min))),
    )
    if end_min <= 0:
        raise DomainError("start", "That day is over.")
    plan = tomorrow_plan(asked, rules=rules, trust=trust, bench=bench, at_s=now.timestamp())
    names = {m.slug: m.name for m in models.values()}
    known = {s.pack.id: s for s in found}
    left_out = _left_out(box, jobs, bench.pieces)
    return Planned(asked, plan, known, links, names, flown, attended, there, spare, at, layout, left_out)


def _flown(models: Sequence[str], since: datetime) -> dict[str, tuple[int, float]]:
    """Runs of each model since then, and their minutes; one query."""
    rows = Event.standing.filter(kind="run", model__in=models, at__gte=since)
    out: dict[str, tuple[int, float]] = {}
    for model, minutes in rows.exclude(key__endswith=OF_THE_OTHER).values_list("model", "minutes"):
        n, ran = out.get(model, (0, 0.0))
        out[model] = n + 1, ran + (minutes or 0.0)
    return out


def _along(
    found: Sequence[Standing], jobs: Mapping[str, Job], pieces: tuple[Adapter, ...]
) -> tuple[list[PackAlong], dict[tuple[str, str], tuple[str, ...]]]:
    """Each pack with the minutes it runs each model that it may run in, and the pieces between them."""
    minutes: dict[str, dict[str, float]] = {s.pack.id: {} for s in found}
    care: dict[str, set[str]] = {s.pack.id: set() for s in found}
    links: dict[tuple[str, str], tuple[str, ...]] = {}
    for model, job in jobs.items() if found else ():
        e = evaluate(job, job_candidates(job, [s.pack for s in found], pieces))
        for row, s in enumerate(found):
            fit, way = fit_of(e, row), e.candidates.ways[row]
            if not fit.runs:
                continue
            minutes[s.pack.id][model] = fit.minutes * first_runs(s.pack)
            care[s.pack.id] |= {model} if fit.verdict != "does" else set()
            links[s.pack.id, model] = tuple(x.name for x in way.shown.pieces) if way else ()
    full_in = _full_in(found)
    along = [
        PackAlong(s.pack, s.now, minutes[s.pack.id], frozenset(care[s.pack.id]), full_in.get(s.pack.id, 0.0))
        for s in found
        if minutes[s.pack.id]
    ]
    return along, links


def _full_in(found: Sequence[Standing]) -> dict[str, float]:
    """Until the packs that are on a charger are full, by id; a day for one of which that is not known.
    [min]"""
    charging = {s.pack.id: s.now.told.charging for s in found if s.now.state == "charging"}
    if not charging:
        return {}
    rows = {c.pk: c for c in Charge.objects.filter(pk__in=[k for k in charging.values() if k is not None])}
    return {
        pack: max(float(c.settings.get("minutes", A_DAY_MIN)) - c.time_s / 60, 1.0)
        if k is not None and (c := rows.get(k))
        else A_DAY_MIN
        for pack, k in charging.items()
    }


def _left_out(
    box: Sequence[Standing], jobs: Mapping[str, Job], pieces: tuple[Adapter, ...]
) -> dict[str, str]:
    """Those that are not retired, would serve one of the models, and stay at home for what was found."""
    out = [s for s in box if (s.now.usable or s.now.level != "retire") and stays(s.now)]
    out = [s for s in out if s.now.state != "retired"]
    sound = [replace(s.pack, fit=True, note="") for s in out]
    serving: set[str] = set()
    for job in jobs.values() if out else ():
        e = evaluate(job, job_candidates(job, sound, pieces))
        serving |= {p.id for row, p in enumerate(sound) if fit_of(e, row).runs}
    return {s.pack.id: stays(s.now) for s in out if s.pack.id in serving}


def _there(data: r.TomorrowIn) -> tuple[list[ChargerInUse], list[ChargerInUse]]:
    """Chargers along as they are fed there, and those that could come too."""
    supplies, chargers = supplies_now(), gear.chargers()
    batteries = [x for x in supplies if x.energy_wh is not None]
    known = {c.id: c for c in chargers}
    could = [
        ChargerInUse(c, "dc", best)
        for c in chargers
        if c.dc_w is not None
        and (best := max((x for x in batteries if suits(c, x)), key=lambda x: x.energy_wh or 0, default=None))
    ]
    if data.there is None:
        first = strongest(could)
        return first, [f for f in could if f not in first]
    used = []
    for k, line in enumerate(data.there):
        if line.charger not in known:
            raise DomainError(f"there.{k}.charger", "There is no such charger any more.")
        charger = known[line.charger]
        if line.source not in charger.inputs:
            raise DomainError(f"there.{k}.source", f"{charger.name} cannot be fed so.")
        supply = next((x for x in supplies if x.id == line.supply), None)
        if line.source == "dc" and supply is None:
            supply = next((f.supply for f in could if f.charger.id == charger.id), None)
        if line.source == "dc" and supply is None:
            raise DomainError(f"there.{k}.supply", f"What feeds {charger.name} there?")
        used.append(ChargerInUse(charger, line.source, supply if line.source == "dc" else None))
    here = {f.charger.id for f in used}
    return used, [f for f in could if f.charger.id not in here]


def _before(spans: Sequence[tuple[int, int]], start_min: int) -> list[tuple[int, int]]:
    """The hours at the bench until the day begins. [min]"""
    return [(a, min(b, start_min)) for a, b in spans if a < start_min]


def needed(p: Planned) -> set[str]:
    """The packs that the day counts on, by id."""
    return {f.pack for f in p.plan.flights.flights}
