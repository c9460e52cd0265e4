"""What is known of a charge while it runs: heard, believed, judged; kept in the database as soon as that can
be."""

from __future__ import annotations

import logging
import math
from dataclasses import dataclass, field

from django.db import DatabaseError, transaction

from coldstack.core.watching.alarm import Alarm
from coldstack.core.watching.expected import Expected, expected_from
from coldstack.core.watching.heard import LOOK_BACK_S, Heard, Mark, windowed
from coldstack.core.watching.reports import Believed
from coldstack.core.watching.samples import Reading, Sample
from coldstack.core.watching.stopping import Answer, Outcome
from coldstack.server.charges.models import ACTIVE, Charge
from coldstack.server.charges.models import Sample as SampleRow

AWAY_S, AWAY_OURS_S = 60.0, 3.0
"""So long without the watch is told, of the charge's own time and of ours at its speed: it slept, or was not
running. House figures."""
MARKS_S, LEAPS_APART_S = 150.0, 300.0
"""Its clock is held beside ours for so much of its time; a leap of it starts that anew, but not so soon after
another. House figures."""
HEEDED: tuple[Outcome, ...] = ("asked", "gone_on", "unproved", "confirmed")
"""Outcomes of a stop to which the charger said yes, or is about to."""
_log = logging.getLogger("coldstack")


@dataclass(slots=True)
class Stop:
    """A stop that is not confirmed yet: why, since when by the watch's clock, and what was answered last."""

    why: str
    since: float
    answer: Answer = "unheard"
    refusal: str = ""
    told: float = -math.inf
    """When it was told last."""
    stands: bool = False
    """It stays asked for, whatever is said next: for all but silence, or once the charger said yes."""
    heeded: bool = False
    """The charger said yes to it once: that is why the charge ends then."""


@dataclass(slots=True)
class Observation:
    """What the watch knows of a charge while it runs, stored or not."""

    first: Sample | None = None
    window: list[Sample] = field(default_factory=list)
    fresh: tuple[Reading, ...] = ()
    """What came last, believed or not."""
    unstored: list[Sample] = field(default_factory=list)
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
    marks: list[Mark] = field(default_factory=list)
    leapt: float | None = None
    unknown_since: float | None = None
    """Since when the charger says that it knows no such charge. [s]"""
    claimed: float | None = None
    """Since when it says that the charge has ended, without a reading that shows it. [s]"""
    failed: frozenset[str] = frozenset()
    """Rules that could not be judged in the last round; how often in a row nothing could be."""
    blind: int = 0
    stop: Stop | None = None
    outcome: Outcome | None = None
    alarms: list[Alarm] = field(default_factory=list)
    owed: list[Alarm] = field(default_factory=list)
    """Alarms that could not be stored; they may hold no longer when they can be."""
    unkept: bool = False
    """Storing failed in the last round, which was said once."""
    quiet: bool = False
    """No alarm of it stands in the database, as far as is known."""

    @property
    def last(self) -> Sample | None:
        """The sample that was believed last."""
        return self.window[-1] if self.window else None

    def take(self, said: Believed, now: float, speed: float) -> None:
        """What was believed of a report."""
        self._beside_ours(said, now, speed)
        self.heard, self.silent_since, self.unknown_since = now, None, None
        self.first = self.first or next(iter(said.samples), None)
        self.window = windowed(self.window, said.samples)
        self.unstored.extend(said.samples)
        self.fresh = (*said.samples, *said.glimpses) or self.fresh
        self.time_s = max(self.time_s, said.time_s)
        self.doubt = said.doubts[0] if said.doubts else ""
        if not said.doubts and (said.samples or said.state != "charging"):
            self.believed = now

    def doubted(self, why: str, now: float) -> None:
        """It answers, but with nothing that tells how the charge is."""
        self.heard, self.silent_since, self.doubt = now, None, why

    def not_heard(self, now: float) -> None:
        """It does not answer."""
        self.silent_since = now if self.silent_since is None else self.silent_since

    def _beside_ours(self, said: Believed, now: float, speed: float) -> None:
        gap_s = said.time_s - self.time_s
        if gap_s > max(AWAY_S, AWAY_OURS_S * speed) and not said.doubts and self.silent_since is None:
            self.away_s, self.away_at_s = gap_s, said.time_s
        leaps = gap_s - speed * (now - self.heard) > AWAY_S
        if leaps and (self.leapt is None or now - self.leapt > LEAPS_APART_S):
            self.marks, self.leapt = [], now
        if said.samples and said.state == "charging":
            begin = now - max(MARKS_S / speed, 6 * AWAY_OURS_S)
            self.marks = [m for m in self.marks if m.ours_s >= begin]
            # the samples' clock, by which everything is judged
            self.marks.append(Mark(now, said.samples[-1].time_s))

    def to_judge(self, charge: Charge, expected: Expected, now: float, *, reported: bool) -> Heard:
        """Everything that a round is judged by."""
        speed = speed_of(charge)
        silent_s = 0.0 if self.silent_since is None else now - self.heard
        return Heard(
            expected,
            self.first,
            tuple(self.window),
            self.fresh,
            looked_s=charge.looked_s,
            now_s=self.time_s + speed * silent_s,
            silent_s=silent_s,
            # while it is silent only the time of this world is known
            doubt_s=(1.0 if silent_s else speed) * (now - self.believed),
            doubt="it is silent" if silent_s else self.doubt,
            clock=tuple(self.marks) if reported else (),
            speed=speed,
        )


def speed_of(charge: Charge) -> float:
    """How fast its charger's time runs, by its own word when it began."""
    said = charge.expected.get("speed", 1.0)
    return float(said) if isinstance(said, (int, float)) and said > 0 else 1.0


def expected_of(charge: Charge) -> Expected:
    """What the charge is watched by."""
    return expected_from(charge.expected)


def _value(row: SampleRow) -> Sample:
    return Sample(
        row.seq,
        row.time_s,
        tuple(row.cell_v),
        row.current_a,
        row.temperature_c,
        row.mah,
        row.supply_v,
        tuple(row.cell_mohm) if row.cell_mohm else None,
    )


def seen_before(charge: Charge, now: float) -> Observation:
    """What was stored of a charge: its first sample and those of the last minutes; and whether it is to be
    stopped."""
    first = charge.samples.filter(seq=1).first()
    rows = charge.samples.filter(time_s__gte=charge.time_s - LOOK_BACK_S).order_by("seq")
    seen = Observation(_value(first) if first else None, heard=now, believed=now, time_s=charge.time_s)
    seen.window = windowed((), (_value(x) for x in rows))
    seen.fresh = tuple(seen.window[-1:])
    if charge.stop_why:
        heeded = charge.stop_outcome in HEEDED
        seen.stop = Stop(charge.stop_why, now, stands=True, heeded=heeded)
    return seen


def keep(charge: Charge, seen: Observation) -> None:
    """Store what was seen; what cannot be stored now is stored when it can be."""
    held = {a.id for a in seen.alarms}
    seen.alarms += [a for a in seen.owed if a.id not in held]
    try:
        with transaction.atomic():
            store(charge, seen)
        charge.last_seq = seen.last.seq if seen.last else charge.last_seq
        charge.time_s = max(charge.time_s, seen.time_s)
        seen.unstored.clear()
        seen.owed, seen.unkept, seen.quiet = [], False, not seen.alarms
    except DatabaseError:
        seen.owed = list(seen.alarms)
        if not seen.unkept:
            _log.exception("storing charge %s; it is tried again and again", charge.pk)
        seen.unkept = True


def store(charge: Charge, seen: Observation) -> None:
    """Samples, alarms and stop of a charge as it was read just now; a sample that another hand has stored
    meanwhile is there once."""
    SampleRow.objects.bulk_create(
        (
            SampleRow(
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
        ),
        ignore_conflicts=True,
    )
    row = Charge.objects.filter(pk=charge.pk)
    if seen.unstored or seen.time_s > charge.time_s:
        last_seq = seen.last.seq if seen.last else charge.last_seq
        row.update(last_seq=last_seq, time_s=max(charge.time_s, seen.time_s))
    _store_stop(charge, seen)
    if seen.alarms or not seen.quiet:
        # a hand may have ended it while the charger was asked: nothing of it is wrong any more
        running = row.filter(state__in=ACTIVE).exists()
        _keep_alarms(charge, seen.alarms if running else [])


def _store_stop(charge: Charge, seen: Observation) -> None:
    """That it is to be stopped, and what came of it: known after a restart, and to whoever asks."""
    if seen.stop is None and charge.stop_why:
        return  # a hand asked for it just now
    told: dict[str, str] = {"stop_outcome": "" if seen.stop is None else seen.outcome or "asked"}
    if seen.stop is not None and seen.stop.stands:
        told |= {"state": "stopping", "stop_why": seen.stop.why[:300]}
    if all(getattr(charge, name) == value for name, value in told.items()):
        return
    if Charge.objects.filter(pk=charge.pk, state__in=ACTIVE).update(**told):
        for name, value in told.items():
            setattr(charge, name, value)


def _keep_alarms(charge: Charge, found: list[Alarm]) -> None:
    standing = {a.kind: a for a in charge.alarms.filter(over=False)}
    for alarm in found:
        row = standing.pop(alarm.id, None)
        if row is None:
            charge.alarms.create(
                kind=alarm.id,
                level=alarm.level,
                time_s=alarm.time_s,
                sentence=alarm.sentence[:300],
                cell=alarm.cell,
            )
        elif (row.sentence, row.level, row.cell) != (alarm.sentence, alarm.level, alarm.cell):
            row.sentence, row.level, row.cell = alarm.sentence[:300], alarm.level, alarm.cell
            row.save(update_fields=["sentence", "level", "cell"])
    for row in standing.values():
        row.over = True
        row.save(update_fields=["over"])
