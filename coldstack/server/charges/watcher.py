"""The watch over charges: fetch what the chargers say, believe what can be believed, judge it by the core,
stop where it says so, and only then store it: what cannot be stored is judged all the same."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field

from django.db import DatabaseError, close_old_connections
from django.utils import timezone

from coldstack.core.watching.alarm import UNBELIEVABLE, Alarm, away, cannot_judge, lost, says_ended
from coldstack.core.watching.judging import judge
from coldstack.core.watching.reports import PortState
from coldstack.core.watching.stopping import CONFIRM_WITHIN_S, ended
from coldstack.core.watching.strangers import STRANGER
from coldstack.server.charges.ending import as_it_ended, end, never_began
from coldstack.server.charges.hearing import Word, hear
from coldstack.server.charges.heartbeat import BEATS, Heartbeat
from coldstack.server.charges.models import ACTIVE, Charge
from coldstack.server.charges.models import Alarm as AlarmRow
from coldstack.server.charges.seen import HEEDED, Observation, Stop, expected_of, keep, seen_before, speed_of
from coldstack.server.charges.stopping import ask_to_stop
from coldstack.server.devices.asking import charger_device, linked
from coldstack.server.devices.charger import ChargerDevice, LinkLost

EVERY_S = 0.5
STRANGERS_EVERY_S = 5.0
SETTLED_S = 10.0
"""A charge of which the charger knows nothing so long after it was to begin, never began."""
UNKNOWN_S = 2.0
"""So long the charger must say that it knows no such charge: one answer may be about another. [s]"""
_log = logging.getLogger("coldstack")


@dataclass(slots=True)
class Watcher:
    """Looks after all charges. What belongs to one charger is looked at by one thread at a time.

    ``clock`` gives seconds that only go forward: how long a charger has been silent goes by it.
    """

    clock: Callable[[], float] = time.monotonic
    seen: dict[int, Observation] = field(default_factory=dict)
    active: dict[str, list[Charge]] = field(default_factory=dict)
    strangers_at: dict[str, float] = field(default_factory=dict)
    beats: Heartbeat = field(default_factory=lambda: BEATS)

    def tick(self) -> None:
        """One round over all chargers that are linked or charge."""
        for name in self.names():
            self.round(name)

    def names(self) -> set[str]:
        """The chargers to look after; those of before where the database cannot be read."""
        try:
            rows = list(Charge.objects.filter(state__in=ACTIVE).values_list("charger_name", flat=True))
        except DatabaseError:
            rows = list(self.active)
        return {*rows, *(linked().get("chargers") or {})}

    def round(self, name: str) -> None:
        """One round over one charger: its charges, then what else it does."""
        try:
            self.active[name] = list(Charge.objects.filter(state__in=ACTIVE, charger_name=name))
        except DatabaseError:
            _log.exception("the charges of %s", name)
        running = {c.pk for charges in list(self.active.values()) for c in charges}
        for pk in list(self.seen):
            if pk not in running:
                self._forget(pk)  # it was ended by a hand
        for charge in self.active.get(name, []):
            try:
                self.look_at(charge)
            except Exception as error:  # one charge must not end the watch over the others
                self._blind(charge, error)
        try:
            self.look_for_strangers(name)
        except Exception:
            _log.exception("what %s does", name)

    def look_at(self, charge: Charge) -> None:
        """One round over one charge: hear, believe, judge, act, store."""
        device, now = charger_device(charge.charger_name), self.clock()
        seen = self._seen(charge, now)
        word = hear(charge, device, seen.last)
        self._take(charge, seen, word, now)
        if word.kind == "unknown" and self._closed_unknown(charge, seen, device, word.why, now):
            return
        stops = self._judged(charge, seen, word, now)
        over: PortState | None = word.state if ended(expected_of(charge), word.state, seen.last) else None
        if over is None and stops:
            over = self._stop(charge, seen, device, stops, now)
        keep(charge, seen)
        # only now: a round that fails on its way to the stop has judged nothing
        self.beats.beat(charge.pk)
        if over is not None:
            self._close(charge, seen, word, over)
        seen.blind = 0

    def _seen(self, charge: Charge, now: float) -> Observation:
        """What is known of a charge; after a restart, what was stored."""
        if charge.pk not in self.seen:
            self.seen[charge.pk] = seen_before(charge, now)
        return self.seen[charge.pk]

    def _forget(self, pk: int) -> None:
        self.seen.pop(pk, None)
        self.beats.forget(pk)

    def _take(self, charge: Charge, seen: Observation, word: Word, now: float) -> None:
        if word.said is not None:
            seen.take(word.said, now, speed_of(charge))
            if charge.state == "starting":
                _began(charge)
        elif word.kind == "silent":
            seen.not_heard(now)
        else:
            seen.doubted(f"it says: {word.why}" if word.why else "it tells nothing of this charge", now)

    def _judged(self, charge: Charge, seen: Observation, word: Word, now: float) -> str:
        """What is wrong now, kept with the charge; why it is to be stopped, empty if it is not."""
        heard = seen.to_judge(charge, expected_of(charge), now, reported=word.said is not None)
        found = judge(heard, failed_before=seen.failed)
        seen.failed, seen.alarms = found.failed, list(found.alarms)
        if seen.away_s and charge.looked_s < seen.away_at_s:
            seen.alarms.append(away(seen.away_s, seen.away_at_s))
        if (claims := self._claims(charge, seen, word, now)) is not None:
            seen.alarms.append(claims)
        worst = next((a for a in seen.alarms if a.level == "stop" and a.id != UNBELIEVABLE), None)
        if worst is not None:
            return worst.sentence
        if charge.stop_why:
            return charge.stop_why  # a hand wants it, or the watch before a restart
        if seen.stop is not None and seen.stop.stands:
            return seen.stop.why
        why = next((a.sentence for a in seen.alarms if a.level == "stop"), "")
        if not why:
            seen.stop, seen.outcome = None, None  # it was silent, or talked nonsense, and is well again
        return why

    def _claims(self, charge: Charge, seen: Observation, word: Word, now: float) -> Alarm | None:
        """Where the charger says that it does not charge, and no reading shows it for too long."""
        over = ended(expected_of(charge), word.state, seen.last)
        if word.kind not in ("silent", "busy"):
            if word.state == "charging" or over:
                seen.claimed = None
            elif seen.claimed is None:
                seen.claimed = now
        if seen.claimed is None or speed_of(charge) * (now - seen.claimed) < CONFIRM_WITHIN_S:
            return None
        return says_ended(word.why if word.kind == "unknown" else "", seen.time_s)

    def _stop(
        self, charge: Charge, seen: Observation, device: ChargerDevice | None, why: str, now: float
    ) -> PortState | None:
        """Tell the charger to stop, again and again; how the charge has ended once that is known."""
        if seen.stop is None:
            seen.stop = Stop(why, now)
        only_doubted = all(a.id == UNBELIEVABLE for a in seen.alarms if a.level == "stop")
        if not seen.stop.stands and (charge.stop_why or not only_doubted):
            seen.stop.why, seen.stop.stands = why, True
        return ask_to_stop(charge, seen, device, now)

    def _close(self, charge: Charge, seen: Observation, word: Word, over: PortState) -> None:
        """It is over: full, stopped from here, or stopped at the charger for a reason of its own."""
        by_hand = charge.stop_why if charge.stop_outcome in HEEDED else ""
        if by_hand or (seen.stop is not None and seen.stop.heeded):
            state, why = "stopped", seen.stop.why if seen.stop else by_hand
        else:
            state, why = as_it_ended(charge, seen, over), word.said.ended if word.said else ""
        if not why:
            why = "stopped at the charger" if state == "stopped" else ""
        try:
            end(charge, state, why)
        except DatabaseError:
            if not seen.unkept:
                _log.exception("ending charge %s; it is tried again and again", charge.pk)
            seen.unkept = True
            return
        self._forget(charge.pk)

    def _closed_unknown(
        self, charge: Charge, seen: Observation, device: ChargerDevice | None, why: str, now: float
    ) -> bool:
        """The charger says that it knows no such charge. Whether it is closed for that: it never began, or
        something else charges there, which is an alarm of its own. Else no reading shows that nothing flows,
        and the charge stays open."""
        if charge.state == "starting":
            if (timezone.now() - charge.started).total_seconds() <= SETTLED_S:
                return False
            never_began(charge, why)
            self._forget(charge.pk)
            return True
        seen.unknown_since = now if seen.unknown_since is None else seen.unknown_since
        if now - seen.unknown_since < UNKNOWN_S or not _charges_another(charge, device):
            return False
        seen.alarms = [lost(charge.charger_name, why, seen.time_s)]
        keep(charge, seen)
        if seen.unkept:
            return False
        end(charge, "failed", f"something else charges on its port ({why})")
        self._forget(charge.pk)
        return True

    def _blind(self, charge: Charge, error: Exception) -> None:
        """Watching it failed altogether: that is an alarm, and twice in a row a stop."""
        try:
            seen = self._seen(charge, self.clock())
            if not seen.blind:
                _log.error("watching charge %s", charge.pk, exc_info=error)
            seen.blind += 1
            alarm = cannot_judge("this charge", f"{error}"[:80], again=seen.blind > 1, now_s=seen.time_s)
            seen.alarms = [alarm]
            if seen.blind > 1:
                self._stop(charge, seen, charger_device(charge.charger_name), alarm.sentence, self.clock())
            keep(charge, seen)
        except Exception:
            _log.exception("stopping charge %s, which cannot be watched", charge.pk)

    def look_for_strangers(self, name: str) -> None:
        """Charges that nobody here began are said, until they are over."""
        now = self.clock()
        if now - self.strangers_at.get(name, -STRANGERS_EVERY_S) < STRANGERS_EVERY_S:
            return
        self.strangers_at[name] = now
        device = charger_device(name)
        try:
            ports = device.ports() if device else []
        except LinkLost:
            return
        ours = set(Charge.objects.filter(state__in=ACTIVE, charger_name=name).values_list("run", flat=True))
        found = {f"{name}, port {p.port}" for p in ports if p.charging and p.run not in ours}
        standing = {a.where: a for a in AlarmRow.objects.filter(kind=STRANGER, over=False)}
        for where in found - set(standing):
            words = f"Something charges on {where} that was not begun here: nobody watches it. Go to it."
            AlarmRow.objects.create(kind=STRANGER, level="stop", time_s=0.0, sentence=words, where=where)
        for where, alarm in standing.items():
            if where.rpartition(", port ")[0] == name and where not in found:
                alarm.over = True
                alarm.save(update_fields=["over"])


def run_forever(every_s: float = EVERY_S) -> None:
    """The watch as threads of the server: one for each charger, so that none waits for another."""
    watcher = Watcher()
    workers: dict[str, threading.Thread] = {}
    while True:
        try:
            for name in watcher.names():
                if name not in workers or not workers[name].is_alive():
                    workers[name] = threading.Thread(
                        target=_look_after, args=(watcher, name, every_s), daemon=True, name=f"watch {name}"
                    )
                    workers[name].start()
        except Exception:  # a busy database now is no reason to leave the watch
            _log.exception("the watch")
        close_old_connections()
        time.sleep(every_s)


def _look_after(watcher: Watcher, name: str, every_s: float) -> None:
    while name in watcher.names():
        watcher.round(name)
        close_old_connections()
        time.sleep(every_s)


def start_watching() -> threading.Thread:
    """Start the watch."""
    thread = threading.Thread(target=run_forever, daemon=True, name="watch")
    thread.start()
    return thread


def _charges_another(charge: Charge, device: ChargerDevice | None) -> bool:
    """Whether its charger says that another charge is on its port."""
    try:
        ports = device.ports() if device else []
    except LinkLost:
        return False
    return any(p.port == charge.port and p.charging and p.run != charge.run for p in ports)


def _began(charge: Charge) -> None:
    """It charges, whoever told the charger so: stored as soon as that can be."""
    try:
        Charge.objects.filter(pk=charge.pk, state="starting").update(state="charging")
    except DatabaseError:
        return
    charge.state = "charging"
