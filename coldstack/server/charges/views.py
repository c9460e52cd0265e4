"""Charges and alarms as the API says them."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any, cast

import numpy as np
from django.db.models import F, Q
from django.utils import timezone

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.charging.steps import unplug_steps
from coldstack.core.charging.unequal_cells import Mode, UnequalCells, cell_curves
from coldstack.core.drawings.cells import cells_charging
from coldstack.core.watching.alarm import Alarm as CoreAlarm
from coldstack.core.watching.alarm import AlarmLevel, not_judged
from coldstack.core.watching.expected import expected_from, looks
from coldstack.core.watching.glance import expected_now, rank, urgency, worst_first
from coldstack.core.watching.stopping import STOP_WORDS, Outcome
from coldstack.core.watching.strangers import STRANGER
from coldstack.core.watching.what_to_do import what_to_do
from coldstack.server.bench.views import thinned
from coldstack.server.charges import replies as r
from coldstack.server.charges.heartbeat import BEATS
from coldstack.server.charges.models import ACTIVE, Alarm, Charge, Sample
from coldstack.server.charges.seen import expected_of
from coldstack.server.life.now import standings


def charge_line(charge: Charge) -> r.ChargeLine:
    """A charge in a list."""
    return r.ChargeLine(**_line(charge))


def charge_out(charge: Charge) -> r.RunningOut:
    """A charge to watch."""
    expected, times = expected_of(charge), looks(expected_of(charge), charge.looked_s)
    rows = list(charge.samples.values_list("time_s", "cell_v", "current_a", "temperature_c", "mah"))
    alarms = list(charge.alarms.all())
    standing = [
        CoreAlarm(a.kind, cast(AlarmLevel, a.level), a.time_s, a.sentence, a.cell)
        for a in alarms
        if not a.over
    ]
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
            for a in alarms
        ],
        cells=cells_charging(rows[-1][1] if rows else (), standing),
        lowest_v=resting_voltage(expected.chemistry, 0.0),
        simulated=charge.expected.get("simulated") is True,
        speed=float(charge.expected.get("speed", 1.0)),
        unplug=list(unplug_steps(series=expected.series, on_board=n if (n := len(charge.packs)) > 1 else 0)),
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
    wrong = [(a.kind, a.level, a.sentence) for a in alarms]
    if (stale := not_judged(BEATS.ago_s(charge.pk), charge.time_s)) is not None:
        wrong.append((stale.id, stale.level, stale.sentence))
    worst = min(wrong, key=lambda a: rank(a[0], a[1]), default=None)
    return r.GlanceOut(
        id=charge.pk,
        label=charge.label,
        charger_name=charge.charger_name,
        port=charge.port,
        urgency=urgency((a[:2] for a in wrong), look_in_s),
        said=worst[2] if worst else "",
        minutes=minutes,
        of_minutes=float(charge.settings.get("minutes", 0)),
        look_in_s=look_in_s,
        cell_v=last.cell_v if last else [],
        expected_cell_v=expected_now(curve.minutes, curve.cell_v[0] if curve.cell_v else [], minutes),
        empty_v=resting_voltage(e.chemistry, 0.0),
        full_v=e.full_cell_v,
        current_a=last.current_a if last else None,
        temperature_c=last.temperature_c if last else None,
        judged_ago_s=round(BEATS.ago_s(charge.pk)),
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
        "stop_why": charge.stop_why,
        "stop_outcome": charge.stop_outcome,
        "stop_said": _stop_said(charge),
        "judged_ago_s": round(BEATS.ago_s(charge.pk)) if charge.state in ACTIVE else None,
        "summary": charge.summary,
    }


def _stop_said(charge: Charge) -> str:
    if charge.state != "stopping":
        return ""
    return STOP_WORDS.get(cast(Outcome, charge.stop_outcome), STOP_WORDS["asked"])


def _trace(rows: list[tuple[float, list[float], float, float | None, float]]) -> r.SamplesOut:
    keep = thinned(len(rows))
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
    keep = thinned(len(c.time_s))
    mah = np.concatenate([[0.0], np.cumsum(c.current_a[:-1] * np.diff(c.time_s)) / 3.6])
    return r.SamplesOut(
        minutes=(c.time_s[keep] / 60).tolist(),
        cell_v=[c.cell_v[keep].mean(axis=1).round(4).tolist()],
        current_a=c.current_a[keep].tolist(),
        temperature_c=[None] * len(keep),
        mah=mah[keep].round().tolist(),
    )


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
    running = list(Charge.objects.filter(state__in=ACTIVE))
    found += [alarm for charge in running if (alarm := _unjudged(charge)) is not None]
    return r.AlarmsOut(
        alarms=sorted(found, key=lambda a: (not a.urgent, a.level != "stop", a.id)),
        charging=[c.label for c in running],
        could_be=_could_charge() if any(a.kind == STRANGER and not a.over for a in found) else [],
    )


def _unjudged(charge: Charge) -> r.StandingAlarm | None:
    """That the watch has not judged a charge for too long: found here, since the watch cannot say it. Its id
    is the charge's below zero; nothing is stored of it."""
    alarm = not_judged(BEATS.ago_s(charge.pk), charge.time_s)
    if alarm is None:
        return None
    return r.StandingAlarm(
        id=-charge.pk,
        kind=alarm.id,
        level=alarm.level,
        time_s=alarm.time_s,
        sentence=alarm.sentence,
        over=False,
        charge=charge.pk,
        label=charge.label,
        where=f"{charge.charger_name}, port {charge.port}",
        at=timezone.now(),
        done="",
        urgent=True,
        todo=list(what_to_do(alarm.id, over=False)),
    )


def _could_charge() -> list[str]:
    return [x.tag for x in standings() if not x.now.bars and x.now.state != "charging"]
