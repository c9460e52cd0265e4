"""The day over the API: packs like one, or one's own as they lie there, in turn."""

from __future__ import annotations

from datetime import datetime

from coldstack.core.errors import DomainError
from coldstack.core.fit.fit import fit_of
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.running.day.charging import DayCharge, day_charge
from coldstack.core.running.day.faster import ways_on
from coldstack.core.running.day.own import own_pack
from coldstack.core.running.day.rotation import (
    Day,
    enough_of_both,
    fewest_packs,
    fewest_ports,
    headline,
    rotation,
)
from coldstack.core.running.day.usual import usual_day
from coldstack.core.running.day.working import day_working
from coldstack.core.running.tomorrow.words import served_for_hours
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import Job
from coldstack.core.units import lower_first
from coldstack.server.gear import assemble as gear
from coldstack.server.gear.models import RcModel
from coldstack.server.life.now import Standing, standings
from coldstack.server.life.packs import owned_packs
from coldstack.server.running import replies as r
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn


def day_out(data: r.DayIn, now: datetime) -> r.DayOut:
    """A day; raises DomainError for figures that cannot be, RcModel.DoesNotExist for an unknown model."""
    job = job_of(JobIn(**RcModel.live.get(slug=data.model).job))
    if job.equipment is not None:
        raise DomainError("model", served_for_hours(job.name))
    known = {s.tag: s for s in standings(tags=[data.pack, *data.own], now=now)}
    like = _of(known, data.pack, "pack").pack
    along = [_of(known, tag, "own") for tag in dict.fromkeys(data.own)]
    usual = usual_day(
        like,
        owned_packs(fit_only=True),
        gear.chargers(),
        supplies=gear.supplies(),
        bench=gear.bench(),
        rules=job.rules,
        trust=job.label_trust,
    )
    packs = usual.packs if data.packs is None else data.packs
    ports = usual.ports if data.ports is None else data.ports
    port_w = usual.port_w if data.port_w is None else data.port_w
    minutes = _minutes(job, [known[data.pack], *along], like_it=packs > 0)
    charge = day_charge(like, port_w=port_w, rules=job.rules, trust=job.label_trust)
    own = [
        own_pack(
            k.pack,
            k.now,
            run_min=data.run_min or m,
            port_w=port_w,
            rules=job.rules,
            trust=job.label_trust,
        )
        for k, m in zip(along, minutes[1:], strict=True)
    ]
    day = Day(
        packs,
        ports,
        data.run_min or minutes[0],
        charge.minutes,
        data.hours,
        data.swap_min,
        job.rules.cool_min if data.cool_min is None else data.cool_min,
        charge.wh,
        data.supply_wh,
        tuple(own),
    )
    found = rotation(day)
    both = enough_of_both(day)

    def charged(by: HouseRules) -> DayCharge:
        return day_charge(like, port_w=port_w, rules=by, trust=job.label_trust)

    return r.DayOut(
        packs=packs,
        ports=ports,
        port_w=port_w,
        charger=usual.charger,
        headline=headline(day, found),
        lanes=[*(k.tag for k in along), *(str(n + 1) for n in range(packs))],
        spans=list(found.spans),
        runs=found.runs,
        minutes_an_hour=found.minutes_an_hour,
        first_wait_min=found.first_wait_min,
        waited_min=found.waited_min,
        used_wh=found.used_wh,
        uncharged=found.uncharged,
        run_min=day.run_min,
        charge_min=charge.minutes,
        charge_a=charge.current_a,
        charge_limit=charge.binding,
        charge_wh=charge.wh,
        fewest_packs=fewest_packs(day),
        fewest_ports=fewest_ports(day),
        both_packs=both.packs if both else None,
        both_ports=both.ports if both else None,
        both_wh=both.used_wh if both else None,
        ways=ways_on(day, like, rules=job.rules, charge=charge, charged=charged),
        working=day_working(day, charge),
    )


def _minutes(job: Job, known: list[Standing], *, like_it: bool) -> list[float]:
    """How long each runs, as it is today; each must do it. ``like_it``: there are some like the first."""
    e = evaluate(job, job_candidates(job, [s.pack for s in known], gear.bench().pieces))
    for row, k in enumerate(known):
        if (row > 0 or like_it) and not (found := fit_of(e, row)).runs:
            words = f"{k.tag} in {job.name}: {lower_first(found.sentence)}"
            raise DomainError("own" if row > 0 else "pack", words)
    return [float(m) for m in e.minutes]


def _of(known: dict[str, Standing], tag: str, field: str) -> Standing:
    if tag not in known:
        raise DomainError(field, f"There is no pack {tag} in the box.")
    pack = known[tag].pack
    if not pack.fit:
        raise DomainError(
            field, f"Pack {tag} is not to be run any more{f': {pack.note}' if pack.note else ''}."
        )
    return known[tag]
