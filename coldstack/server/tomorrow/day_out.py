"""The planned day as the API says it: flights, charges, what is missing and the ways out, what is packed."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from datetime import datetime, timedelta
from typing import Literal

from django.utils import timezone

from coldstack.core.matching.refusals import suits
from coldstack.core.packs.keys import said_of
from coldstack.core.running.tomorrow.packing import PackingItem, packing
from coldstack.core.running.tomorrow.ready import flight_packs
from coldstack.core.running.tomorrow.tomorrow import places_of, supply_wh
from coldstack.core.running.tomorrow.ways_out import ways_out
from coldstack.core.running.tomorrow.words import headline, way_out_words
from coldstack.core.safety.cautions import RUN_CAUTIONS
from coldstack.server.bench.assemble import as_written
from coldstack.server.charges.levels import levels, supplies_now
from coldstack.server.gear import assemble as gear
from coldstack.server.rules.assemble import rules_of
from coldstack.server.tomorrow import replies as r
from coldstack.server.tomorrow.assemble import Planned, needed, planned_day


def tomorrow_out(data: r.TomorrowIn, now: datetime) -> r.TomorrowOut:
    """The day as the API says it; raises as `planned_day`."""
    p = planned_day(data, now)
    plan, start = p.plan, as_written(data.start)
    opens = max(start, p.at)
    flights = _flights(p, opens)
    return r.TomorrowOut(
        headline=headline(plan, p.names),
        begun=p.asked.begun,
        start=start,
        end=start + timedelta(hours=data.hours),
        lands_at=max((f.end_at for f in flights), default=None),
        models=_models(p),
        flights=flights,
        packs=_packs(p),
        before=_charges_before(p),
        there=[
            r.DayChargeOut(
                tag=said_of(c.pack),
                charger=_charger(p, c.way.place),
                start_at=opens + timedelta(minutes=c.start_min),
                end_at=opens + timedelta(minutes=c.end_min),
                current_a=None,
                wh=c.way.wh,
            )
            for c in plan.flights.charges
        ],
        not_filled=[r.NotFilledOut(tag=said_of(x), why=why) for x, why in plan.not_filled],
        left_out=[r.NotFilledOut(tag=said_of(x), why=why) for x, why in p.left_out.items()],
        supplies=_supplies(p),
        ways_out=_ways_out(p),
        packing=_packing(p),
        along=_choices(p),
        supply_names={x.id: x.name for x in supplies_now()},
        attended=p.attended,
        cautions=list(RUN_CAUTIONS),
    )


def _how(p: Planned, pack_id: str, flight: int) -> Literal["full", "before", "there"]:
    """How a pack is full for its flight, the first or a later one."""
    pack = p.plan.day.pack(pack_id)
    if flight > 0 or pack.ready_min is None:
        return "there"
    return "before" if pack.before else "full"


def _flights(p: Planned, opens: datetime) -> list[r.DayFlightOut]:
    times, out = Counter[str](), []
    for k, f in enumerate(p.plan.flights.flights):
        out.append(
            r.DayFlightOut(
                order=k + 1,
                model=f.model,
                tag=said_of(f.pack),
                start_at=opens + timedelta(minutes=f.start_min),
                end_at=opens + timedelta(minutes=f.end_min),
                minutes=f.end_min - f.start_min,
                how=_how(p, f.pack, times[f.pack]),
                care=f.model in p.plan.day.pack(f.pack).care,
            )
        )
        times[f.pack] += 1
    return out


def _models(p: Planned) -> list[r.DayModelOut]:
    out = []
    planned = Counter(f.model for f in p.plan.flights.flights)
    for wish in p.asked.wishes:
        flown, serving = p.flown.get(wish.model, (0, 0.0))[0], _serving(p, wish.model)
        missing = p.plan.short.get(wish.model, 0)
        why = "" if serving else f"No pack of yours can be run in {wish.name} now."
        out.append(
            r.DayModelOut(
                model=wish.model,
                name=wish.name,
                wanted=flown + planned[wish.model] + missing,
                flown=flown,
                planned=planned[wish.model],
                missing=missing,
                packs=serving,
                why=why,
            )
        )
    return out


def _serving(p: Planned, model: str) -> int:
    return sum(model in a.minutes for a in p.asked.along)


def _packs(p: Planned) -> list[r.DayPackOut]:
    along, models = {a.pack.id: a for a in p.asked.along}, dict[str, list[str]]()
    for f in p.plan.flights.flights:
        models.setdefault(f.pack, []).append(p.names[f.model])
    return [
        r.DayPackOut(
            tag=said_of(x),
            name=along[x].pack.name,
            state=p.standings[x].now.state or "",
            models=list(dict.fromkeys(names)),
            how=_how(p, x, 0),
            unread=along[x].unread,
        )
        for x, names in sorted(models.items())
    ]


def _charges_before(p: Planned) -> list[r.DayChargeOut]:
    found = p.plan.evening
    if found is None:
        return []
    unread = {a.pack.id: a.unread for a in p.asked.along}
    out = []
    for slot in found.schedule.slots:
        batch = next(x for x in found.planned if x.batch.id == slot.task)
        way = next(w for w in batch.ways if w.option == slot.option)
        for m in batch.batch.members:
            out.append(
                r.DayChargeOut(
                    tag=said_of(m.pack.id),
                    charger=way.fit.charger.name,
                    start_at=p.at + timedelta(minutes=slot.start_min),
                    end_at=p.at + timedelta(minutes=slot.end_min),
                    current_a=slot.option.current_a,
                    wh=None,
                    unread=unread[m.pack.id],
                )
            )
    return out


def _charger(p: Planned, place: str) -> str:
    return next(c.charger.name for c in p.there if c.charger.id == place)


def _supplies(p: Planned) -> list[r.DaySupplyOut]:
    used, known = p.plan.flights.used_wh(p.plan.day), levels()
    supplies = {c.supply.id: c.supply for c in (*p.there, *p.spare) if c.supply}
    sheets = {x.id: x.energy_wh for x in gear.supplies()}
    return [
        r.DaySupplyOut(
            supply=k,
            name=x.name,
            used_wh=used.get(f"supply:{k}", 0.0),
            holds_wh=sheets.get(k),
            left_wh=x.energy_wh,
            told=known[k].at if k in known else None,
            by_volts=k in known and known[k].by_volts,
        )
        for k, x in supplies.items()
        if x.energy_wh is not None
    ]


def _ways_out(p: Planned) -> list[str]:
    plan, spare = p.plan, None
    if p.spare and plan.short:
        everything = [*p.there, *p.spare]
        along = [a for a in p.asked.along if a.pack.id in {x.id for x in plan.day.packs}]
        packs = flight_packs(
            along,
            everything,
            rules=rules_of(p.layout.house_rules),
            trust=p.layout.label_trust,
            bench=gear.bench(),
            at_s=timezone.now().timestamp(),
            start_min=p.asked.start_min,
            tonight=frozenset(x.id for x in plan.day.packs if x.before),
        )
        wanted = {x.id: x.minutes for x in plan.day.packs}
        packs = tuple(replace(x, minutes=wanted[x.id]) for x in packs)
        spare = replace(
            plan.day,
            packs=packs,
            places=places_of(everything),
            supply_wh=supply_wh(everything),
        )
    tags = {x.id: said_of(x.id) for x in plan.day.packs}
    places = {c.charger.id: c.charger.name for c in (*p.there, *p.spare)}
    return [way_out_words(w, p.names, tags, places) for w in ways_out(plan.day, plan.flights, spare)]


def _packing(p: Planned) -> list[PackingItem]:
    used = needed(p)
    charged = frozenset((c.pack, c.way.place) for c in p.plan.flights.charges)
    flown = {(f.pack, f.model) for f in p.plan.flights.flights}
    links = [
        (piece, f"{said_of(pack)} in {p.names[model]}")
        for (pack, model), pieces in p.links.items()
        if (pack, model) in flown
        for piece in pieces
    ]
    along = [
        replace(a, minutes={m: x for m, x in a.minutes.items() if (a.pack.id, m) in flown})
        for a in p.asked.along
        if a.pack.id in used
    ]
    return packing(
        along,
        links,
        [c for c in p.there if c.charger.id in {place for _, place in charged}],
        charged=charged,
        names=p.names,
        rules=rules_of(p.layout.house_rules),
        bench=gear.bench(),
    )


def _choices(p: Planned) -> list[r.AlongChoice]:
    """Every charger that could come along."""
    supplies, here = supplies_now(), {c.charger.id: c for c in p.there}
    out = []
    for c in gear.chargers():
        fed = here.get(c.id) or next((x for x in p.spare if x.charger.id == c.id), None)
        out.append(
            r.AlongChoice(
                charger=c.id,
                name=c.name,
                ports=c.ports,
                along=c.id in here,
                source=fed.source if fed else c.inputs[0] if c.inputs else "mains",
                supply=fed.supply.id if fed and fed.supply else None,
                inputs=list(c.inputs),
                supplies=[x.id for x in supplies if suits(c, x)] if c.dc_w is not None else [],
            )
        )
    return out
