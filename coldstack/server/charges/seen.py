"""What is known of a charge while it runs: heard, believed, judged; kept in the database as soon as that can
be."""

from __future__ import annotations

import logging
from collections import deque
from dataclasses import dataclass, field

from django.db import DatabaseError, transaction

from coldstack.core.watching import watch
from coldstack.core.watching.reports import Believed
from coldstack.server.charges.models import Charge, Sample

LATEST = 60
"""Samples that are judged beside the first: at one in five seconds the last five minutes."""
_log = logging.getLogger("coldstack")


@dataclass(slots=True)
class Seen:
    """What the watch knows of a charge while it runs, stored or not."""

    first: watch.Sample | None = None
    recent: deque[watch.Sample] = field(default_factory=lambda: deque(maxlen=LATEST))
    unstored: list[watch.Sample] = field(default_factory=list)
    time_s: float = 0.0
    heard: float = 0.0
    """When it answered last, and when it said something believable, by the watch's clock. [s]"""
    believed: float = 0.0
    doubt: str = ""
    away_s: float = 0.0
    """For how long nobody watched it, of its own time, and at which of its times that was found."""
    away_at_s: float = 0.0
    silent_since: float | None = None
    """Since when the charger does not answer: what it did meanwhile is told by that. [s]"""
    stopping: str = ""
    """Why it is to be stopped; the charger has not confirmed it yet."""
    alarms: list[watch.Alarm] = field(default_factory=list)
    owed: list[watch.Alarm] = field(default_factory=list)
    """Alarms that could not be stored; they may hold no longer when they can be."""
    quiet: bool = False
    """No alarm of it stands in the database, as far as is known."""

    @property
    def last(self) -> watch.Sample | None:
        """The sample that was believed last."""
        return self.recent[-1] if self.recent else None

    def take(self, said: Believed, now: float) -> None:
        """What was believed of a report."""
        gap_s = said.time_s - self.time_s
        if gap_s > watch.AWAY_S and not said.doubts and self.silent_since is None:
            self.away_s, self.away_at_s = gap_s, said.time_s
        self.heard, self.silent_since = now, None
        self.first = self.first or next(iter(said.samples), None)
        self.recent.extend(said.samples)
        self.unstored.extend(said.samples)
        self.time_s = max(self.time_s, said.time_s)
        self.doubt = said.doubts[0] if said.doubts else ""
        if not said.doubts and (said.samples or said.state != "charging"):
            self.believed = now

    def judged(self, danger: watch.Sample | None) -> list[watch.Sample]:
        """The samples to judge by: the first, the latest, and what could be read of an unbelievable one."""
        latest = [x for x in self.recent if x is not self.first]
        return [x for x in (self.first, *latest, danger) if x is not None]


def expected_of(charge: Charge) -> watch.Expected:
    """What the charge is watched by."""
    return watch.expected_from(charge.expected)


def _value(row: Sample) -> watch.Sample:
    return watch.Sample(
        row.seq,
        row.time_s,
        tuple(row.cell_v),
        row.current_a,
        row.temperature_c,
        row.mah,
        row.supply_v,
        tuple(row.cell_mohm) if row.cell_mohm else None,
    )


def seen_before(charge: Charge, now: float) -> Seen:
    """What was stored of a charge: its first sample and the latest."""
    rows = charge.samples
    kept = [*rows.filter(seq=1), *reversed(rows.order_by("-seq").exclude(seq=1)[:LATEST])]
    values = [_value(x) for x in kept]
    seen = Seen(values[0] if values else None, heard=now, believed=now, time_s=charge.time_s)
    seen.recent.extend(values)
    return seen


def keep(charge: Charge, seen: Seen) -> None:
    """Store what was seen; what cannot be stored now is stored when it can be. What a hand that stopped it
    has stored since is found then."""
    held = {a.id for a in seen.alarms}
    seen.alarms += [a for a in seen.owed if a.id not in held]
    try:
        with transaction.atomic():
            store(charge, seen)
        charge.last_seq = seen.last.seq if seen.last else charge.last_seq
        charge.time_s = max(charge.time_s, seen.time_s)
        seen.unstored.clear()
        seen.owed, seen.quiet = [], not seen.alarms
    except DatabaseError:
        seen.owed = list(seen.alarms)
        _log.exception("storing charge %s", charge.pk)


def store(charge: Charge, seen: Seen) -> None:
    """Samples after the last that is stored, and alarms, of a charge as it was read just now."""
    Sample.objects.bulk_create(
        Sample(
            charge=charge,
            seq=x.seq,
            time_s=x.time_s,
            cell_v=list(x.cell_v),
            current_a=x.current_a,
            mah=x.mah,
            temperature_c=x.temperature_c,
            supply_v=x.supply_v,
            cell_mohm=list(x.cell_mohm) if x.cell_mohm else None,
        )
        for x in seen.unstored
        if x.seq > charge.last_seq
    )
    if seen.unstored or seen.time_s > charge.time_s:
        last_seq = seen.last.seq if seen.last else charge.last_seq
        Charge.objects.filter(pk=charge.pk).update(last_seq=last_seq, time_s=max(charge.time_s, seen.time_s))
    if seen.alarms or not seen.quiet:
        _keep_alarms(charge, seen.alarms)


def _keep_alarms(charge: Charge, found: list[watch.Alarm]) -> None:
    standing = {a.kind: a for a in charge.alarms.filter(over=False)}
    for alarm in found:
        row = standing.pop(alarm.id, None)
        if row is None:
            charge.alarms.create(
                kind=alarm.id, level=alarm.level, time_s=alarm.time_s, sentence=alarm.sentence
            )
        elif (row.sentence, row.level) != (alarm.sentence, alarm.level):
            row.sentence, row.level = alarm.sentence, alarm.level
            row.save(update_fields=["sentence", "level"])
    for row in standing.values():
        row.over = True
        row.save(update_fields=["over"])
