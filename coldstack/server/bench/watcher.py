"""The watch over running charges: fetch what the chargers measured, keep it, judge it by the core, stop where it says so."""

from __future__ import annotations

import logging
import threading
import time
from dataclasses import dataclass, field
from typing import Any

from django.db import close_old_connections, transaction
from django.utils import timezone

from coldstack.core.charging import watch
from coldstack.server.bench.devices import DeviceRefusal, LineCharger, LinkLost, Report, charger_device
from coldstack.server.bench.models import Alarm, Charge, Layout, Sample
from coldstack.server.bench.signals import charge_ended

EVERY_S = 0.5
LATEST = 60
"""Samples that are judged beside the first: at one in five seconds the last five minutes."""
_log = logging.getLogger("coldstack")


@dataclass(slots=True)
class Watcher:
    """Looks after all charges that run. One at a time: `tick` is not for several threads."""

    answered: dict[int, float] = field(default_factory=dict)
    speeds: dict[int, float] = field(default_factory=dict)

    def tick(self) -> None:
        """One round over all charges that run."""
        for charge in Charge.objects.filter(state="charging"):
            try:
                self.look_at(charge)
            except Exception:  # one charge must not end the watch over the others
                _log.exception("watching charge %s", charge.pk)

    def look_at(self, charge: Charge) -> None:
        """One round over one charge."""
        device = charger_device(charge.charger_name)
        now = time.monotonic()
        last = self.answered.setdefault(charge.pk, now)
        try:
            if device is None:
                raise LinkLost("it is not linked any more")
            if charge.pk not in self.speeds:
                self.speeds[charge.pk] = device.hello().speed
            report = device.report(charge.port, charge.run, charge.last_seq)
        except LinkLost:
            silent_s = now - last
            judge(charge, silent_s=silent_s, ahead_s=silent_s * self.speeds.get(charge.pk, 1.0))
            return
        except DeviceRefusal as refusal:
            end(charge, "failed", f"The charger lost this charge: {refusal}")
            return
        self.answered[charge.pk] = now
        keep(charge, report)
        stopping = judge(charge)
        if report.state != "charging":
            end(charge, "done" if report.state == "done" else "stopped", report.ended)
        elif stopping:
            stop(charge, device, stopping)


def run_forever(every_s: float = EVERY_S) -> None:
    """The watch as a thread of the server."""
    watcher = Watcher()
    while True:
        try:
            watcher.tick()
        except Exception:  # a busy database now is no reason to leave the watch
            _log.exception("the watch")
        close_old_connections()
        time.sleep(every_s)


def start_watching() -> threading.Thread:
    """Start the watch."""
    thread = threading.Thread(target=run_forever, daemon=True, name="watch")
    thread.start()
    return thread


@transaction.atomic
def keep(charge: Charge, report: Report) -> None:
    """Store new samples; what is there already is not stored twice."""
    new = [x for x in report.samples if x["seq"] > charge.last_seq]
    Sample.objects.bulk_create(
        [
            Sample(
                charge=charge, seq=x["seq"], time_s=x["time_s"], cell_v=x["cell_v"], current_a=x["current_a"], mah=x["mah"],
                temperature_c=x.get("temperature_c"), supply_v=x.get("supply_v"), cell_mohm=x.get("cell_mohm"),
            )
            for x in new
        ],
        ignore_conflicts=True,
    )  # fmt: skip
    if new:
        charge.last_seq = new[-1]["seq"]
    charge.time_s = max(charge.time_s, report.time_s)
    charge.save(update_fields=["last_seq", "time_s"])


@transaction.atomic
def judge(charge: Charge, *, silent_s: float = 0.0, ahead_s: float = 0.0) -> str:
    """Keep the alarms that hold now; the sentence of the one that stops, empty if none does."""
    charge.looked_s = Charge.objects.values_list("looked_s", flat=True).get(pk=charge.pk)
    rows = list(charge.samples.filter(seq=1)) + list(reversed(charge.samples.order_by("-seq").exclude(seq=1)[:LATEST]))  # fmt: skip
    samples = [watch.Sample(x.seq, x.time_s, tuple(x.cell_v), x.current_a, x.temperature_c, x.mah, x.supply_v) for x in rows]  # fmt: skip
    found = watch.alarms(samples, expected_of(charge), looked_s=charge.looked_s, now_s=charge.time_s + ahead_s, silent_s=silent_s)  # fmt: skip
    standing = {a.kind: a for a in charge.alarms.filter(over=False)}
    for alarm in found:
        row = standing.pop(alarm.id, None)
        if row is None:
            Alarm.objects.create(charge=charge, kind=alarm.id, level=alarm.level, time_s=alarm.time_s, sentence=alarm.sentence)  # fmt: skip
        elif row.sentence != alarm.sentence:
            row.sentence, row.level = alarm.sentence, alarm.level
            row.save(update_fields=["sentence", "level"])
    for row in standing.values():
        row.over = True
        row.save(update_fields=["over"])
    return next((a.sentence for a in found if a.level == "stop"), "")


def stop(charge: Charge, device: LineCharger | None, why: str) -> bool:
    """Stop a charge at the charger, and in the log only once it did; false if it cannot be reached."""
    try:
        if device is None:
            raise LinkLost("it is not linked")
        device.stop(charge.port, why)
        keep(charge, device.report(charge.port, charge.run, charge.last_seq))
    except LinkLost:
        return False
    except DeviceRefusal as refusal:
        why = f"{why} ({refusal})"
    end(charge, "stopped", why)
    return True


@transaction.atomic
def end(charge: Charge, state: str, why: str) -> None:
    """Close a charge, with what goes into the log; once, whoever else closes it: a hand, the watch,
    another tab."""
    running = Charge.objects.filter(pk=charge.pk, state="charging")
    if not running.update(state=state, ended=timezone.now(), ended_why=why[:300]):
        charge.refresh_from_db()
        return
    charge.refresh_from_db()
    charge.summary = summary_of(charge)
    charge.alarms.filter(over=False, level="warn").update(over=True)
    charge.save(update_fields=["summary"])
    _note_on_bench(charge)
    charge_ended.send(sender=Charge, charge=charge)


def _note_on_bench(charge: Charge) -> None:
    """The packs read what they ended with: nobody plans to charge them again from what they read before."""
    row, last = Layout.objects.select_for_update().filter(pk=1).first(), charge.samples.last()
    if row is None or last is None:
        return
    cells = " ".join(f"{v:.3f}" for v in last.cell_v)
    for line in row.document.get("laid", []):
        if line["pack"] in charge.packs:
            line["cells"], line["source"] = cells, "charger"
            if last.temperature_c is not None:
                line["temperature_c"] = last.temperature_c
    row.save()


def summary_of(charge: Charge) -> dict[str, Any]:
    """mAh, minutes, start and end volts, resistances after a minute, highest temperature."""
    first, last = charge.samples.first(), charge.samples.last()
    if first is None or last is None:
        return {}
    measured = charge.samples.filter(cell_mohm__isnull=False).first()
    warmest = charge.samples.filter(temperature_c__isnull=False).order_by("-temperature_c").first()
    return {
        "mah": round(last.mah),
        "minutes": round(last.time_s / 60, 1),
        "start_cell_v": first.cell_v,
        "end_cell_v": last.cell_v,
        "cell_mohm": measured.cell_mohm if measured else None,
        "highest_c": warmest.temperature_c if warmest else None,
    }


def expected_of(charge: Charge) -> watch.Expected:
    """What the charge is watched by."""
    return watch.Expected(**{k: charge.expected[k] for k in watch.Expected.__slots__})
