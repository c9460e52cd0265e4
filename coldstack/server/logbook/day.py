"""The day over the API: packs like one, or one's own as they lie there, in turn."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from datetime import datetime

from coldstack.core.day.charging import day_charge
from coldstack.core.day.own import own_pack
from coldstack.core.day.rotation import Day, enough_of_both, fewest_packs, fewest_ports, headline, rotation
from coldstack.core.day.working import day_working
from coldstack.core.errors import DomainError
from coldstack.core.matching.drive import lacks_and_wishes
from coldstack.core.sizing.candidates import job_candidates
from coldstack.core.sizing.evaluate import evaluate
from coldstack.server.gear.models import RcModel
from coldstack.server.logbook import replies as r
from coldstack.server.logbook.assemble import Known, condemned, every_known
from coldstack.server.sizing.assemble import job_of, working_out
from coldstack.server.sizing.schemas import JobIn


def day_out(data: r.DayIn, now: datetime) -> r.DayOut:
    """A day; raises DomainError for figures that cannot be, RcModel.DoesNotExist for an unknown model."""
    job = job_of(JobIn(**RcModel.live.get(slug=data.model).job))
    known = {k.tag: k for k in every_known(now, tags=[data.pack, *data.own])}
    bad = condemned()
    like = _of(known, bad, data.pack, "pack").pack
    along = [_of(known, bad, tag, "own") for tag in dict.fromkeys(data.own)]
    e = evaluate(job, job_candidates(job, [like, *(k.pack for k in along)]))
    for row, k in enumerate(along, start=1):
        if lacks := lacks_and_wishes(e, row)[0]:
            raise DomainError("own", f"{k.tag} does not go in {job.name}: {lacks[0]}.")
    minutes = e.minutes
    run_min = data.run_min or float(minutes[0])
    charge = day_charge(like, port_w=data.port_w, rules=job.rules, trust=job.label_trust)
    own = tuple(own_pack(k.pack, k.state, run_min=data.run_min or float(m), port_w=data.port_w, rules=job.rules, trust=job.label_trust) for k, m in zip(along, minutes[1:], strict=True))  # fmt: skip
    cool_min = job.rules.cool_min if data.cool_min is None else data.cool_min
    day = Day(data.packs, data.ports, run_min, charge.minutes, data.hours, data.swap_min, cool_min, charge.wh, data.supply_wh, own)  # fmt: skip
    found = rotation(day)
    both = enough_of_both(day)
    return r.DayOut(
        headline=headline(day, found),
        lanes=[*(k.tag for k in along), *(str(n + 1) for n in range(data.packs))],
        spans=[r.DaySpanOut(**asdict(s)) for s in found.spans],
        runs=found.runs,
        minutes_an_hour=found.minutes_an_hour,
        first_wait_min=found.first_wait_min,
        waited_min=found.waited_min,
        used_wh=found.used_wh,
        uncharged=found.uncharged,
        run_min=run_min,
        charge_min=charge.minutes,
        charge_a=charge.current_a,
        charge_limit=charge.binding,
        charge_wh=charge.wh,
        fewest_packs=fewest_packs(day),
        fewest_ports=fewest_ports(day),
        both_packs=both.packs if both else None,
        both_ports=both.ports if both else None,
        both_wh=both.used_wh if both else None,
        working=working_out(day_working(day, charge)),
    )


def _of(known: dict[str, Known], bad: Mapping[str, str], tag: str, field: str) -> Known:
    if tag not in known:
        raise DomainError(field, f"There is no pack {tag} in the box.")
    found = known[tag]
    if not found.pack.fit or tag in bad:
        sign = bad.get(tag) or found.pack.note
        raise DomainError(field, f"Pack {tag} is not to be run any more{f': {sign}' if sign else '.'}")
    return found
