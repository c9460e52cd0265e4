"""The watch over charges: fetch what the chargers say, believe what can be believed, judge it by the core,
stop where it says so, and only then store it: what cannot be stored is judged all the same."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field

from django.db import DatabaseError, close_old_connections, transaction
from django.utils import timezone

from coldstack.core.watching import watch
from coldstack.core.watching.reports import Believed, believed
from coldstack.core.watching.strangers import STRANGER
from coldstack.server.charges.ending import as_it_ended, end, never_began
from coldstack.server.charges.models import ACTIVE, Alarm, Charge
from coldstack.server.charges.seen import Seen, expected_of, keep, seen_before, store
from coldstack.server.devices.asking import ChargerDevice, DeviceRefusal, LinkLost, charger_device, linked

EVERY_S = 0.5
STRANGERS_EVERY_S = 5.0
SETTLED_S = 10.0
"""A charge of which the charger knows nothing so long after it was to begin, never began."""
_log = logging.getLogger("coldstack")


@dataclass(slots=True)
class Watcher:
    """Looks after all charges. What belongs to one charger is looked at by one thread at a time.

    ``clock`` gives seconds that only go forward: how long a charger has been silent goes by it.
    """

    clock: Callable[[], float] = time.monotonic
    seen: dict[int, Seen] = field(default_factory=dict)
    active: dict[str, list[Charge]] = field(default_factory=dict)
    strangers_at: dict[str, float] = field(default_factory=dict)

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
        for pk in [pk for pk in self.seen if not any(c.pk == pk for x in self.active.values() for c in x)]:
            del self.seen[pk]  # it was ended by a hand
        for charge in self.active.get(name, []):
            try:
                self.look_at(charge)
            except Exception:  # one charge must not end the watch over the others
                _log.exception("watching charge %s", charge.pk)
        try:
            self.look_for_strangers(name)
        except Exception:
            _log.exception("what %s does", name)

    def look_at(self, charge: Charge) -> None:
        """One round over one charge: hear, believe, judge, act, store."""
        device, now = charger_device(charge.charger_name), self.clock()
        seen = self._seen(charge, now)
        said: Believed | None = None
        try:
            if device is None:
                raise LinkLost("it is not linked any more")
            last_seq = seen.last.seq if seen.last else 0
            raw = device.report(charge.port, charge.run, last_seq)
            said = believed(raw, cells=max(expected_of(charge).series, 1), before=seen.last)
            seen.take(said, now)
            if charge.state == "starting":
                _began(charge, charge.run)
        except LinkLost:
            seen.silent_since = now if seen.silent_since is None else seen.silent_since
        except DeviceRefusal as refusal:
            self._unknown_there(charge, str(refusal))
            return
        stopping = self._judged(charge, seen, said, now)
        state: str = said.state if said and not said.doubts else "charging"
        why = said.ended if said else ""
        if state == "charging" and stopping:
            state, why = self._stopped(charge, seen, device, stopping), stopping
        keep(charge, seen)
        if state != "charging":
            end(charge, as_it_ended(charge, seen, state), why)
            del self.seen[charge.pk]

    def _seen(self, charge: Charge, now: float) -> Seen:
        """What is known of a charge; after a restart, what was stored."""
        if charge.pk not in self.seen:
            self.seen[charge.pk] = seen_before(charge, now)
        return self.seen[charge.pk]

    def _judged(self, charge: Charge, seen: Seen, said: Believed | None, now: float) -> str:
        """What is wrong now; the sentence of what stops the charge, empty if nothing does."""
        speed = float(charge.expected.get("speed", 1.0))
        silent_s = now - seen.heard if said is None else 0.0
        # while it is silent only the time of this world is known
        doubt_s = (speed if said else 1.0) * (now - seen.believed)
        seen.alarms = watch.alarms(
            seen.judged(said.danger if said else None),
            expected_of(charge),
            looked_s=charge.looked_s,
            now_s=seen.time_s + speed * silent_s,
            silent_s=silent_s,
            doubt_s=doubt_s,
            doubt=seen.doubt if said else "it is silent",
        )
        if seen.away_s and charge.looked_s < seen.away_at_s:
            seen.alarms.append(watch.away(seen.away_s, seen.away_at_s))
        worst = next((a for a in seen.alarms if a.level == "stop"), None)
        if worst is not None and worst.id != "unbelievable":
            seen.stopping = worst.sentence  # it stays so, whatever is said next
        return worst.sentence if worst else seen.stopping

    def _stopped(self, charge: Charge, seen: Seen, device: ChargerDevice | None, why: str) -> str:
        """Stop it at the charger: "stopped" once that confirms it; until then an alarm says to pull the
        plug."""
        try:
            if device is None:
                raise LinkLost("it is not linked")
            device.stop(charge.port, why)
        except (LinkLost, DeviceRefusal):
            seen.alarms.append(watch.unconfirmed(seen.time_s))
            return "charging"
        _hear_the_end(charge, seen, device, self.clock())
        return "stopped"

    def _unknown_there(self, charge: Charge, why: str) -> None:
        """The charger does not know this charge: it never began, or it is over there."""
        if charge.state == "charging":
            end(charge, "failed", f"The charger lost this charge: {why}")
        elif (timezone.now() - charge.started).total_seconds() > SETTLED_S:
            never_began(charge, why)
        self.seen.pop(charge.pk, None)

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
        standing = {a.where: a for a in Alarm.objects.filter(kind=STRANGER, over=False)}
        for where in found - set(standing):
            words = f"Something charges on {where} that was not begun here: nobody watches it. Go to it."
            Alarm.objects.create(kind=STRANGER, level="stop", time_s=0.0, sentence=words, where=where)
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


def _hear_the_end(charge: Charge, seen: Seen, device: ChargerDevice, now: float) -> None:
    """What it measured until it was stopped; it is stopped whether or not it tells."""
    try:
        raw = device.report(charge.port, charge.run, seen.last.seq if seen.last else 0)
    except (LinkLost, DeviceRefusal):
        return
    seen.take(believed(raw, cells=max(expected_of(charge).series, 1), before=seen.last), now)


def stop(charge: Charge, device: ChargerDevice | None, why: str) -> bool:
    """Stop a charge by hand: at the charger, and in the log only once it did; false if it cannot be
    reached."""
    seen = seen_before(charge, 0.0)
    seen.quiet = True  # alarms that stand are closed with the charge, which says what was done
    try:
        if device is None:
            raise LinkLost("it is not linked")
        device.stop(charge.port, why)
    except LinkLost:
        return False
    except DeviceRefusal as refusal:
        return False if str(refusal) == "It goes on charging." else _closed(charge, f"{why} ({refusal})")
    _hear_the_end(charge, seen, device, 0.0)
    with transaction.atomic():
        # the watch may have stored some of it by now
        charge.refresh_from_db(fields=["last_seq", "time_s"])
        store(charge, seen)
    return _closed(charge, why)


def _closed(charge: Charge, why: str) -> bool:
    end(charge, "stopped", why)
    return True


def _began(charge: Charge, run: str) -> None:
    Charge.objects.filter(pk=charge.pk, state="starting").update(state="charging", run=run)
    charge.state, charge.run = "charging", run
