"""Charges and what-ifs as the API says them."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

import numpy as np
from django.db.models import F, Q

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.cell_readings import PackReading
from coldstack.core.charging.glance import expected_now, rank, urgency, worst_first
from coldstack.core.charging.programs import run_down, storage_program
from coldstack.core.charging.steps import BenchStep, unplug_steps
from coldstack.core.charging.strangers import STRANGER
from coldstack.core.charging.unequal_cells import CellCurves, Mode, UnequalCells, cell_curves
from coldstack.core.charging.watch import expected_from, looks
from coldstack.core.charging.what_to_do import what_to_do
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import charge_fit
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import for_chemistry
from coldstack.core.units import minutes_words
from coldstack.server.charging import replies as r
from coldstack.server.charging import schemas as s
from coldstack.server.charging.assemble import OnBench, on_bench
from coldstack.server.charging.models import ACTIVE, Alarm, Charge, Sample
from coldstack.server.charging.orders import Ordered, ordered
from coldstack.server.charging.seen import expected_of
from coldstack.server.gear.models import RcModel
from coldstack.server.life.now import standings
from coldstack.server.sizing.assemble import job_of
from coldstack.server.sizing.schemas import JobIn

MOST_POINTS = 240
"""Points of a curve that are sent: more than a screen can show apart are thinned out."""


def order_out(data: s.StartIn) -> r.OrderOut:
    """What to set and do."""
    o = ordered(on_bench(data.bench), data.packs, data.charger, port=data.port, current_a=data.current_a)
    found = o.slip
    return r.OrderOut(
        chemistry=found.chemistry,
        program=found.program,
        cells=found.series,
        current_a=found.current_a,
        end_v=found.end_v,
        timer_min=found.timer_min,
        cutoff_mah=found.cutoff_mah,
        minutes=found.minutes,
        binding=found.binding,
        steps=list(o.steps),
        unplug=_unplug(o.fit.pack.series, len(o.batch.members)),
    )


def curves_out(data: s.PackOnChargerIn) -> r.CurvesOut:
    """The same pack charged plainly and with balancing, cell by cell.

    Raises
    ------
    DomainError
        For a pack that was not read, or has one cell.
    """
    b = on_bench(data.bench)
    m = b.member(data.pack)
    if m.reading is None:
        raise DomainError("pack", "Read its cells first.")
    if m.pack.series < 2:
        raise DomainError("pack", "One cell has nothing to be balanced with.")
    full_v = for_chemistry(b.rules, m.pack.chemistry).full_v
    current_a, balance_a = _amps_for(b, data, m.pack.capacity_ah)
    cells = UnequalCells(
        m.pack.chemistry,
        np.full(m.pack.series, m.pack.capacity_ah),
        np.full(m.pack.series, m.cell_mohm),
        np.array(m.reading.socs),
    )
    made = {
        mode: cell_curves(cells, current_a=current_a, full_cell_v=full_v, mode=mode, balance_a=balance_a)
        for mode in _MODES
    }
    return r.CurvesOut(
        full_v=full_v,
        current_a=current_a,
        plain=_curve("plain", made["plain"], full_v),
        balance=_curve("balance", made["balance"], full_v),
    )


def storages_out(data: s.PackOnChargerIn) -> r.StoragesOut:
    """To storage on every charger that takes the pack, and by running it."""
    b = on_bench(data.bench)
    m = b.member(data.pack)
    if m.reading is None:
        raise DomainError("pack", "Read its cells first.")
    if bars := b.standings[data.pack].now.bars:
        raise DomainError("pack", bars)
    return ways_to_storage(b, m.pack, m.reading, data.model)


def ways_to_storage(b: OnBench, pack: Pack, reading: PackReading, model_slug: str | None) -> r.StoragesOut:
    """A pack that reads so: on every charger here, and by running it in a model."""
    ways, target = [], None
    for fed in sorted((*b.feds, *b.unused), key=lambda f: f.charger.name):
        fit = charge_fit(pack, fed.charger, rules=b.rules, feed=Feed(fed.source, fed.supply), bench=b.bench)
        if any(x.id in ("chemistry", "cells", "plugs", "unfit") for x in fit.refusals):
            continue
        p = storage_program(pack, fed.charger, reading)
        ways.append(
            r.StorageOut(
                charger=fed.charger.id,
                charger_name=fed.charger.name,
                direction=p.direction,
                mah=p.mah,
                current_a=p.current_a,
                hours=p.hours,
                time_words=minutes_words(60 * p.hours) if p.hours else "",
                sentence=p.sentence,
                working=p.working,
            )
        )
        target = p.target_cell_v
    run = ""
    model = RcModel.live.filter(slug=model_slug).first() if model_slug else None
    if model is not None:
        duty = job_of(JobIn(**model.job)).duty
        found = run_down(
            pack, reading, average_w=duty.average_current_a * duty.reference_voltage_v, model=model.name
        )
        run = found.sentence if found else ""
    return r.StoragesOut(target_cell_v=target, ways=ways, run_down=run)


def charge_line(charge: Charge) -> r.ChargeLine:
    """A charge in a list."""
    return r.ChargeLine(**_line(charge))


def charge_out(charge: Charge) -> r.RunningOut:
    """A charge to watch."""
    expected, times = expected_of(charge), looks(expected_of(charge), charge.looked_s)
    rows = list(charge.samples.values_list("time_s", "cell_v", "current_a", "temperature_c", "mah"))
    return r.RunningOut(
        **_line(charge),
        settings=charge.settings,
        time_s=charge.time_s,
        look_due_s=times.due_s,
        look_stop_s=times.stop_s,
        full_cell_v=expected.full_cell_v,
        trace=_trace(rows),
        expected=_expected(json.dumps([charge.expected, charge.settings.get("program")])),
        alarms=[
            r.AlarmOut(id=a.pk, kind=a.kind, level=a.level, time_s=a.time_s, sentence=a.sentence, over=a.over)
            for a in charge.alarms.all()
        ],
        simulated=charge.expected.get("simulated") is True,
        speed=float(charge.expected.get("speed", 1.0)),
        unplug=_unplug(expected.series, len(charge.packs)),
    )


def glances_out() -> list[r.GlanceOut]:
    """All charges that run, the worst first; three queries, however many there are."""
    running = list(Charge.objects.filter(state__in=ACTIVE))
    latest = {
        x.charge_id: x
        for x in Sample.objects.filter(charge__in=running, seq=F("charge__last_seq")).order_by()
    }
    alarms: dict[int, list[Alarm]] = {}
    for alarm in Alarm.objects.filter(charge__in=running, over=False):
        alarms.setdefault(alarm.charge_id or 0, []).append(alarm)
    found = [_glance(c, latest.get(c.pk), alarms.get(c.pk, [])) for c in running]
    return sorted(found, key=lambda g: worst_first(g.urgency, g.look_in_s))


def _glance(charge: Charge, last: Sample | None, alarms: list[Alarm]) -> r.GlanceOut:
    e, minutes = expected_of(charge), charge.time_s / 60
    curve = _expected(json.dumps([charge.expected, charge.settings.get("program")]))
    look_in_s = looks(e, charge.looked_s).due_s - charge.time_s
    worst = min(alarms, key=lambda a: rank(a.kind, a.level), default=None)
    return r.GlanceOut(
        id=charge.pk,
        label=charge.label,
        charger_name=charge.charger_name,
        port=charge.port,
        urgency=urgency(((a.kind, a.level) for a in alarms), look_in_s),
        said=worst.sentence if worst else "",
        minutes=minutes,
        of_minutes=float(charge.settings.get("minutes", 0)),
        look_in_s=look_in_s,
        cell_v=last.cell_v if last else [],
        expected_cell_v=expected_now(curve.minutes, curve.cell_v[0] if curve.cell_v else [], minutes),
        empty_v=resting_voltage(e.chemistry, 0.0),
        full_v=e.full_cell_v,
        current_a=last.current_a if last else None,
        temperature_c=last.temperature_c if last else None,
    )


_MODES: tuple[Mode, ...] = ("plain", "balance")


def _amps_for(b: OnBench, data: s.PackOnChargerIn, capacity_ah: float) -> tuple[float, float]:
    """Amps and balance amps of the charger asked for, where it can charge the pack; else 1C and a usual
    balancer."""
    if data.charger is not None:
        o: Ordered = ordered(b, [data.pack], data.charger)
        return o.slip.current_a, max(o.fit.charger.balance_a, 0.1)
    return min(b.rules.charge_c_limit, 1.0) * capacity_ah, 0.3


def _curve(mode: str, c: CellCurves, full_v: float) -> r.CurveOut:
    keep = _thinned(len(c.time_s))
    minutes = c.time_s[-1] / 60
    if c.over_full:
        which = ", ".join(str(k + 1) for k in c.over_full)
        words = (
            f"Plain: cell{'s' * (len(c.over_full) > 1)} {which} pass{'es' * (len(c.over_full) == 1)} "
            f"{full_v:.2f} V and reach{'es' * (len(c.over_full) == 1)} {c.highest_v:.2f} V. This is "
            "how fires start."
        )
    else:
        words = (
            f"{'Balanced' if mode == 'balance' else 'Plain'}: no cell passes {full_v:.2f} V; full "
            f"after {minutes:.0f} min."
        )
    return r.CurveOut(
        mode=mode,
        minutes=(c.time_s[keep] / 60).round(2).tolist(),
        cell_v=c.cell_v[keep].T.round(4).tolist(),
        current_a=c.current_a[keep].round(3).tolist(),
        highest_v=c.highest_v,
        over_full=list(c.over_full),
        sentence=words,
    )


def _line(charge: Charge) -> dict[str, Any]:
    return {
        "id": charge.pk,
        "label": charge.label,
        "packs": charge.packs,
        "charger_name": charge.charger_name,
        "port": charge.port,
        "state": charge.state,
        "started": charge.started,
        "ended_why": charge.ended_why,
        "summary": charge.summary,
    }


def _trace(rows: list[tuple[float, list[float], float, float | None, float]]) -> r.SamplesOut:
    keep = _thinned(len(rows))
    rows = [rows[i] for i in keep]
    return r.SamplesOut(
        minutes=[x[0] / 60 for x in rows],
        cell_v=[list(v) for v in zip(*(x[1] for x in rows), strict=False)],
        current_a=[x[2] for x in rows],
        temperature_c=[x[3] for x in rows],
        mah=[x[4] for x in rows],
    )


@lru_cache(maxsize=32)
def _expected(said: str) -> r.SamplesOut:
    """What was expected when it began: the simulated charge; for NiMH there is none.

    ``said``: what the charge is watched by and its program, as JSON; it is kept by these, not by the row.
    """
    expected, program = json.loads(said)
    e, cells = expected_from(expected), expected.get("cells", [])
    if (
        e.unread
        or chemistry(e.chemistry).charge_method == "peak"
        or min((c["soc"] for c in cells), default=1) >= 1
    ):
        return r.SamplesOut(minutes=[], cell_v=[], current_a=[], temperature_c=[], mah=[])
    columns = (np.array([c[k] for c in cells]) for k in ("capacity_ah", "resistance_mohm", "soc"))
    mode: Mode = "balance" if program == "balance" and len(cells) > 1 else "plain"
    c = cell_curves(
        UnequalCells(e.chemistry, *columns),
        current_a=e.current_a,
        full_cell_v=e.full_cell_v,
        mode=mode,
        balance_a=max(expected.get("balance_a", 0.0), 0.1),
    )
    keep = _thinned(len(c.time_s))
    mah = np.concatenate([[0.0], np.cumsum(c.current_a[:-1] * np.diff(c.time_s)) / 3.6])
    return r.SamplesOut(
        minutes=(c.time_s[keep] / 60).tolist(),
        cell_v=[c.cell_v[keep].mean(axis=1).round(4).tolist()],
        current_a=c.current_a[keep].tolist(),
        temperature_c=[None] * len(keep),
        mah=mah[keep].round().tolist(),
    )


def _thinned(count: int) -> list[int]:
    if count <= MOST_POINTS:
        return list(range(count))
    return sorted({round(i * (count - 1) / (MOST_POINTS - 1)) for i in range(MOST_POINTS)})


def _unplug(series: int, packs: int) -> list[BenchStep]:
    return list(unplug_steps(series=series, on_board=packs if packs > 1 else 0))


def alarms_out() -> r.AlarmsOut:
    """Alarms that stand, and those of stopped charges that nobody has confirmed; two queries."""
    rows = Alarm.objects.filter(Q(over=False) | Q(level="stop", confirmed=None)).select_related("charge")
    found = [
        r.StandingAlarm(
            id=a.pk,
            kind=a.kind,
            level=a.level,
            time_s=a.time_s,
            sentence=a.sentence,
            over=a.over,
            charge=a.charge_id,
            label=a.charge.label if a.charge else "",
            where=f"{a.charge.charger_name}, port {a.charge.port}" if a.charge else a.where,
            at=a.at,
            done=a.done,
            urgent=a.level == "stop" and not a.over,
            todo=list(what_to_do(a.kind, over=a.over)),
        )
        for a in rows
        if a.confirmed is None or not a.over
    ]
    running = Charge.objects.filter(state__in=ACTIVE).values_list("label", flat=True)
    return r.AlarmsOut(
        alarms=sorted(found, key=lambda a: (not a.urgent, a.level != "stop", a.id)),
        charging=list(running),
        could_be=_could_charge() if any(a.kind == STRANGER and not a.over for a in found) else [],
    )


def _could_charge() -> list[str]:
    return [x.tag for x in standings() if not x.now.bars and x.now.state != "charging"]
