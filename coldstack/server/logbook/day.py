"""The day over the API: one pack's run and charge, and packs like it in turn."""

from __future__ import annotations

from dataclasses import asdict, replace

from coldstack.core.day.charging import day_charge
from coldstack.core.day.rotation import (
    MOST_PORTS,
    Day,
    Rotation,
    fewest_packs,
    fewest_ports,
    rotation,
)
from coldstack.core.errors import DomainError
from coldstack.core.sizing.candidates import from_packs
from coldstack.core.sizing.evaluate import evaluate
from coldstack.server.gear.assemble import pack_by_id
from coldstack.server.gear.models import RcModel
from coldstack.server.logbook import replies as r
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn


def day_out(data: r.DayIn) -> r.DayOut:
    """A day; raises DomainError for figures that cannot be, RcModel.DoesNotExist for an unknown model."""
    job = job_of(JobIn(**RcModel.live.get(slug=data.model).job))
    pack = pack_by_id(f"owned:{data.pack}")
    if pack is None:
        raise DomainError("pack", f"There is no pack {data.pack} in the box.")
    charge = day_charge(pack, port_w=data.port_w, rules=job.rules, trust=job.label_trust)
    run_min = data.run_min or float(evaluate(job, from_packs([pack], job.label_trust)).minutes[0])
    day = Day(data.packs, data.ports, run_min, charge.minutes, data.hours, data.swap_min, job.rules.cool_min if data.cool_min is None else data.cool_min, charge.wh, data.supply_wh)  # fmt: skip
    found = rotation(day)
    both_packs = fewest_packs(replace(day, ports=MOST_PORTS))
    both = None if both_packs is None else replace(day, packs=both_packs, supply_wh=None)
    both_ports = None if both is None else fewest_ports(both)
    enough = None if both is None or both_ports is None else rotation(replace(both, ports=both_ports))
    return r.DayOut(
        headline=_headline(day, found),
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
        both_packs=both_packs,
        both_ports=both_ports,
        both_wh=enough.used_wh if enough else None,
    )


def _headline(day: Day, found: Rotation) -> str:
    packs = f"{day.packs} pack{'s' * (day.packs > 1)} and {day.ports} port{'s' * (day.ports > 1)}"
    if found.first_wait_min is None:
        return f"{packs}: never a wait, {found.minutes_an_hour:.0f} min of running an hour."
    return f"{packs}: none is ready after {found.first_wait_min:.0f} min; {found.minutes_an_hour:.0f} min of running an hour."  # fmt: skip
