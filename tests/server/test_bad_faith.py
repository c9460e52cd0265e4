"""Chargers of bad faith: whatever they say, an alarm within fifteen seconds of their time, a stop within
thirty; and the good charge beside them is watched all the while."""

from __future__ import annotations

import socket
import threading
from datetime import UTC, datetime, timedelta
from unittest import mock

from django.db import DatabaseError, connection
from django.test import override_settings

from coldstack.server.charges.models import Alarm, Charge, OnCharger
from coldstack.server.charges.watcher import Watcher
from coldstack.server.devices.line_protocol import LONGEST_LINE, asked
from tests.clock import CLOCK
from tests.core.watching.test_reports import BAD, BAD_REPORTS
from tests.lives import events
from tests.server.test_charging import ChargingCase
from tests.thorough import some

SAMPLE_S = 5
READ_AFTER = ("its own clock is NaN", "its own clock goes back")
"""Reports of bad faith whose samples are good: the last one shows that nothing flows."""


class FaithCase(ChargingCase):
    def setUp(self):
        super().setUp()
        self.spoil = None
        honest = self.device.answer

        def answer(message):
            said = honest(message)
            about_it = message.get("do") == "samples" and message.get("port") == 1
            return self.spoil(said) if self.spoil and about_it else said

        self.server.answer = answer

    def go_on(self, seconds, every=1):
        """Charger's time and the watch's go on together."""
        for _ in range(int(seconds / every)):
            self.device.pass_time(every)
            self.seconds += every
            self.watcher.tick()

    def kinds(self, pk):
        return {a.kind: a for a in Alarm.objects.filter(charge=pk)}

    def state(self, pk):
        return Charge.objects.get(pk=pk).state


def in_samples(changes):
    """Every new sample with these fields otherwise."""

    def spoil(said):
        samples = [{k: v for k, v in {**s, **changes}.items() if v is not ...} for s in said["samples"]]
        return {**said, "samples": samples}

    return spoil


def in_reports(changes):
    """The whole report otherwise."""

    def spoil(said):
        if not isinstance(changes, dict):
            return {"report": changes}
        return {k: v for k, v in {**said, **changes}.items() if v is not ...}

    return spoil


class BadFaith(FaithCase):
    def held(self, name, spoil):
        """Alarmed and stopped in time, and the other charge goes on at full rate."""
        with self.subTest(name):
            self.spoil = None
            self.ready("01")
            self.ready("31", "3.78 3.78 3.78 3.78")
            pk, other = self.started("01"), self.started("31", port=2)
            self.go_on(30, every=SAMPLE_S)
            self.spoil = spoil
            self.go_on(15 + SAMPLE_S, every=SAMPLE_S)
            self.assertTrue(self.kinds(pk), "no alarm")
            self.go_on(15 + SAMPLE_S, every=SAMPLE_S)
            self.assertEqual(self.device.ports[0].state, "stopped")
            self.go_on(15, every=SAMPLE_S)
            if name not in READ_AFTER:
                # what is said after it cannot be believed either: until somebody pulled the plug it is open
                self.assertEqual(self.state(pk), "stopping")
                self.assertFalse(self.kinds(pk)["pull_plug"].over)
                self.post(f"/api/charges/{pk}/pulled", {})
            self.assertEqual(self.state(pk), "stopped")
            self.assertEqual(self.state(other), "charging")
            count = Charge.objects.get(pk=other).samples.count()
            self.assertGreaterEqual(count, 85 // SAMPLE_S)
            self.post(f"/api/charges/{other}/stop", {})

    def test_samples(self):
        """One bad field in every sample from some moment on."""
        for name, changes in some(list(BAD.items()), 3):
            if name not in ("the clock goes back",):
                self.held(name, in_samples(changes))

    def test_reports(self):
        """The whole report is none, or says what cannot be."""
        for name, changes in some(list(BAD_REPORTS.items()), 3):
            self.held(name, in_reports(changes))

    def test_a_hot_pack_behind_nonsense(self):
        """75 °C with mAh that are none: stopped at the next sample; once its plug is pulled it is set
        apart."""
        pk = self.started("01")
        self.go_on(30)
        self.spoil = in_samples({"temperature_c": 75.0, "mah": float("nan")})
        self.go_on(SAMPLE_S + 1)
        self.assertEqual((self.state(pk), self.device.ports[0].state), ("stopping", "stopped"))
        self.post(f"/api/charges/{pk}/pulled", {})
        self.assertEqual((self.state(pk), self.pack_now("01")["state"]), ("stopped", "quarantined"))

    def test_called_full_when_it_is_not(self):
        """At 3.9 V a cell: it has stopped, and nobody calls the pack full."""
        pk = self.started("01")
        self.go_on(30)
        self.spoil = lambda said: {**said, "state": "done", "ended": "full"}
        self.go_on(9)
        self.assertEqual(self.state(pk), "charging")
        self.go_on(2)
        self.assertEqual((self.state(pk), self.pack_now("01")["charge"]), ("stopped", "spent"))


class Unconfirmed(FaithCase):
    def test_a_charger_that_does_not_stop(self):
        """Pull the plug, says the alarm, until it has stopped; it is told again and again."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        honest = self.server.answer
        self.server.answer = lambda m: {"state": "charging"} if m.get("do") == "stop" else honest(m)
        self.post(f"/api/charges/{pk}/fault", {"fault": "warm", "cell": 0})
        self.go_on(700, every=5)
        self.assertEqual(
            (self.state(pk), self.charge(pk)["stop_outcome"], self.pack_now("01")["state"]),
            ("stopping", "gone_on", "charging"),
        )
        alarm = next(a for a in self.client.get("/api/alarms").json()["alarms"] if a["kind"] == "pull_plug")
        self.assertTrue(alarm["urgent"])
        self.assertIn("Pull the charger’s plug", alarm["todo"][0])
        self.server.answer = honest
        self.go_on(2)
        self.assertEqual((self.state(pk), self.device.ports[0].state), ("stopped", "stopped"))

    def test_silent_for_half_a_minute(self):
        """Pull the plug; when it answers again, with believable samples, the charge goes on."""
        pk = self.started("01")
        self.go_on(30)
        self.link("127.0.0.1:1")
        self.go_on(31)
        self.assertEqual(
            {k for k, a in self.kinds(pk).items() if not a.over}, {"link_lost", "unbelievable", "pull_plug"}
        )
        self.link()
        self.go_on(2)
        self.assertEqual(self.state(pk), "charging")
        self.assertEqual([a for a in self.kinds(pk).values() if not a.over], [])


class Intent(FaithCase):
    def test_a_start_pressed_twice_is_one(self):
        """The same key: the same charge, told once."""
        first, again = self.started("01", key="pressed-once-1"), self.started("01", key="pressed-once-1")
        self.assertEqual((first, Charge.objects.count()), (again, 1))

    def test_one_pack_on_three_ports(self):
        """By a constraint of the database, whoever asks."""
        self.started("01")
        with mock.patch("coldstack.server.charges.actions._require_free"):
            for port in (2, 3):
                self.assert_problem(self.begin("01", port=port), 422, "packs", "charging")
        self.assertEqual(OnCharger.objects.count(), 1)

    def test_killed_between_start_and_commit(self):
        """It is stored as starting; the watch after the restart finds it charging, and watches it."""
        with (
            mock.patch("coldstack.server.charges.actions._told", side_effect=KeyboardInterrupt),
            self.assertRaises(KeyboardInterrupt),
        ):
            self.begin("01", key="was-killed-here")
        charge = Charge.objects.get()
        self.assertEqual((charge.state, self.pack_now("01")["state"]), ("starting", "charging"))
        order = {**charge.settings, "run": charge.key, "port": 1, "do": "start"}
        self.device.answer(order)
        self.watcher = Watcher(clock=lambda: self.seconds)
        self.go_on(20)
        self.assertEqual(self.state(charge.pk), "charging")
        self.assertGreater(Charge.objects.get().samples.count(), 2)

    def test_killed_before_the_charger_was_told(self):
        """It never began: the pack is free again, and nothing of it counts."""
        with (
            mock.patch("coldstack.server.charges.actions._told", side_effect=KeyboardInterrupt),
            self.assertRaises(KeyboardInterrupt),
        ):
            self.begin("01")
        before = self.pack_now("01")
        self.watcher.tick()
        self.assertEqual(Charge.objects.get().state, "starting")
        Charge.objects.update(started="2026-11-25T13:00:00Z")
        self.watcher.tick()
        self.assertEqual((Charge.objects.get().state, before["state"]), ("refused", "charging"))
        self.assertEqual((self.pack_now("01")["state"], OnCharger.objects.count()), ("spent", 0))
        self.assertEqual(self.client.get("/api/charges").json(), [])
        self.started("01")

    def test_a_full_disk_at_the_start(self):
        """Told at its field; the charger was told nothing."""
        with mock.patch.object(Charge.objects, "create", side_effect=DatabaseError("disk is full")):
            self.assert_problem(self.begin("01"), 422, "charger", "Nothing was started")
        self.assertNotEqual(self.device.ports[0].state, "charging")

    def read_only(self, on):
        with connection.cursor() as cursor:
            cursor.execute(f"PRAGMA query_only = {on:d}")

    def test_a_folder_that_cannot_be_written(self):
        """Nothing is started; what runs is judged and stopped all the same; the stop by hand says what it
        could do."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        self.addCleanup(self.read_only, False)
        self.read_only(True)
        with self.assertLogs("coldstack", "ERROR"):
            self.device.answer({"do": "fault", "port": 1, "fault": "not_following", "cell": 2})
            self.go_on(400, every=5)
        self.assertEqual(self.device.ports[0].state, "stopped")
        self.assert_problem(self.begin("31", port=2), 422, "charger", "Nothing was started")
        self.assertNotEqual(self.device.ports[1].state, "charging")
        self.read_only(False)
        self.go_on(5)
        self.assertEqual((self.state(pk), events("01")[-1].ended), ("stopped", "danger"))

    def test_stopped_by_hand_where_nothing_can_be_written(self):
        """It is stopped at the charger, and that is said; the log has it once it can be written."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        self.addCleanup(self.read_only, False)
        self.read_only(True)
        reply = self.post(f"/api/charges/{pk}/stop", {})
        self.assert_problem(reply, 422, "charger", "It was stopped at the charger")
        self.assertEqual(self.device.ports[0].state, "stopped")
        with self.assertLogs("coldstack", "ERROR"):
            looked = self.post("/api/keep/packs/02/looks", {"at_room": True})
        self.assert_problem(looked, 507, words="is the disk full")
        self.read_only(False)
        self.go_on(5)
        self.assertEqual((self.state(pk), events("01")[-1].ended), ("stopped", "stopped"))

    def test_an_alarm_that_stood_when_a_hand_stopped_it(self):
        """Says what was done."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        Charge.objects.get(pk=pk).alarms.create(kind="warm", level="warn", time_s=20, sentence="5 K warmer.")
        self.post(f"/api/charges/{pk}/stop", {})
        self.assertEqual(self.kinds(pk)["warm"].done, "The charge was stopped.")

    def test_a_full_disk_in_mid_charge(self):
        """Judged and stopped all the same; stored when it can be."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        stored = Charge.objects.get(pk=pk).samples.count()
        self.post(f"/api/charges/{pk}/fault", {"fault": "not_following", "cell": 2})
        full = DatabaseError("full")
        with (
            mock.patch("coldstack.server.charges.seen.store", side_effect=full),
            mock.patch("coldstack.server.charges.watcher.end", side_effect=full),
            self.assertLogs("coldstack", "ERROR"),
        ):
            self.go_on(400, every=5)
        self.assertEqual(self.device.ports[0].state, "stopped")
        self.assertEqual(Charge.objects.get(pk=pk).samples.count(), stored)
        self.go_on(5)
        self.assertEqual(self.state(pk), "stopped")
        numbers = list(Charge.objects.get(pk=pk).samples.values_list("seq", flat=True))
        self.assertEqual(numbers, list(range(1, len(numbers) + 1)))
        self.assertGreater(len(numbers), stored + 10)
        self.assertEqual(events("01")[-1].ended, "danger")
        self.assertIn("not_following", self.kinds(pk))


class Clocks(FaithCase):
    def test_asleep_for_an_hour(self):
        """The watch was away: said, until somebody looked; what the charger did meanwhile is judged."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30, every=5)
        self.device.pass_time(600)
        self.watcher.tick()
        (alarm,) = [a for a in self.client.get("/api/alarms").json()["alarms"] if a["kind"] == "away"]
        self.assertIn("Nobody watched this charge for 10 min", alarm["sentence"])
        self.post(f"/api/charges/{pk}/look", {})
        self.go_on(5, every=5)
        self.assertEqual([a for a in self.kinds(pk).values() if not a.over], [])
        self.device.pass_time(3600)
        self.watcher.tick()
        self.assertNotEqual(self.state(pk), "charging")

    def test_the_program_was_not_running(self):
        """Started again after ten minutes, it says so too."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30, every=5)
        self.watcher = Watcher(clock=lambda: self.seconds)
        self.device.pass_time(600)
        self.go_on(5, every=5)
        self.assertIn("away", self.kinds(pk))

    def test_the_clock_of_this_machine_leaps(self):
        """An hour back, two days on: the charge goes by the charger's own time."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30, every=5)
        for leap in (timedelta(hours=1), timedelta(days=-2)):
            with CLOCK.earlier(leap):
                self.go_on(30, every=5)
                self.assertEqual((self.state(pk), self.kinds(pk)), ("charging", {}))
                self.assertEqual(self.pack_now("01")["state"], "charging")

    def test_a_start_by_a_clock_that_was_set_back(self):
        """A charge that never began is found out all the same, once its hour has come."""
        with (
            mock.patch("coldstack.server.charges.actions._told", side_effect=KeyboardInterrupt),
            self.assertRaises(KeyboardInterrupt),
        ):
            self.begin("01")
        with CLOCK.earlier(timedelta(hours=1)):
            self.watcher.tick()
            self.assertEqual(Charge.objects.get().state, "starting")
        with CLOCK.earlier(timedelta(minutes=-1)):
            self.watcher.tick()
            self.assertEqual(Charge.objects.get().state, "refused")

    def test_the_nights_when_the_hour_is_told_twice_or_not_at_all(self):
        """Summer time begins or ends in mid-charge: neither the charge nor its look nor the pack's life jumps
        by an hour."""
        for night in (datetime(2027, 3, 28, 0, 50, tzinfo=UTC), datetime(2027, 10, 31, 0, 50, tzinfo=UTC)):
            with (
                self.subTest(night.date()),
                override_settings(TIME_ZONE="Europe/Oslo", USE_TZ=True),
                CLOCK.earlier(CLOCK.now() - night),
            ):
                self.ready("01")
                pk = self.started("01", look_every_min=20, key=f"night-{night.month:02d}-{night.day}")
                self.go_on(60, every=5)
                with CLOCK.earlier(timedelta(minutes=-20)):
                    self.go_on(60, every=5)
                    found = self.charge(pk)
                    self.assertEqual((found["state"], self.kinds(pk)), ("charging", {}))
                    self.assertAlmostEqual(found["look_due_s"] - found["time_s"], 1200 - 120, delta=6)
                    self.assertEqual(self.pack_now("01")["state"], "charging")
                    self.post(f"/api/charges/{pk}/stop", {})
                    begun, ended = events("01")[-2:]
                    self.assertEqual((begun.kind, ended.kind), ("charging", "charge"))
                    self.assertAlmostEqual((ended.at - begun.at).total_seconds(), 1200, delta=60)


class Strangers(FaithCase):
    def test_a_charge_that_nobody_here_began(self):
        """Said on every stage, and stopped from there."""
        order = {"chemistry": "lipo", "program": "balance", "cells": 4, "current_a": 2, "end_cell_v": 4.2}
        cells = [{"capacity_ah": 3.0, "resistance_mohm": 3.0, "soc": 0.5}] * 4
        self.device.answer({"do": "plug", "port": 3, "pack": {"chemistry": "lipo", "cells": cells}})
        self.device.answer({"do": "start", "port": 3, "timer_s": 9000, "cutoff_mah": 4000, **order})
        self.watcher.tick()
        (alarm,) = self.client.get("/api/alarms").json()["alarms"]
        self.assertEqual(
            (alarm["kind"], alarm["where"], alarm["charge"]), ("stranger", "Skerry Four, port 3", None)
        )
        self.assertEqual(self.post(f"/api/alarms/{alarm['id']}/stop", {}).status_code, 200)
        self.assertEqual(self.device.ports[2].state, "stopped")
        self.post(f"/api/alarms/{alarm['id']}/confirm", {})
        self.assertEqual(self.client.get("/api/alarms").json()["alarms"], [])
        self.assert_problem(self.post("/api/alarms/9999/confirm", {}), 404)

    def begun_elsewhere(self, **order):
        """A charge of four cells on port 3, begun by a hand at the charger; the alarm's id."""
        usual = {"chemistry": "lipo", "program": "balance", "cells": 4, "current_a": 2, "end_cell_v": 4.2}
        cells = [{"capacity_ah": 3.7, "resistance_mohm": 3.0, "soc": 0.5}] * 4
        self.device.answer({"do": "plug", "port": 3, "pack": {"chemistry": "lipo", "cells": cells}})
        self.device.answer({"do": "start", "port": 3, "timer_s": 9000, "cutoff_mah": 4000, **usual, **order})
        self.go_on(60, every=5)
        return Alarm.objects.get(kind="stranger").pk

    def taken(self, alarm, pack="01"):
        return self.post(f"/api/alarms/{alarm}/take-over", {"pack": f"owned:{pack}"})

    def test_taken_over(self):
        """As a charge of a pack: on the bench and in its life it charges, and it is watched: a cell that
        does not follow stops it."""
        alarm = self.begun_elsewhere(current_a=3.5)
        self.assertIn("01", self.client.get("/api/alarms").json()["could_be"])
        reply = self.taken(alarm)
        self.assertEqual(reply.status_code, 201, reply.content[:300])
        pk = reply.json()["id"]
        self.assertEqual(self.client.get("/api/alarms").json()["alarms"], [])
        self.assertEqual(self.pack_now("01")["state"], "charging")
        self.go_on(60, every=5)
        self.assertEqual((self.state(pk), self.kinds(pk)), ("charging", {}))
        self.assertGreater(Charge.objects.get(pk=pk).samples.count(), 15)
        self.assertEqual(self.taken(alarm).json()["id"], pk)
        self.assert_problem(self.taken(alarm, "02"), 422, "pack", "watched already")
        self.assertEqual(Charge.objects.count(), 1)
        self.post(f"/api/charges/{pk}/fault", {"fault": "not_following", "cell": 2})
        self.go_on(400, every=5)
        self.assertEqual((self.state(pk), events("01")[-1].ended), ("stopped", "danger"))

    def test_what_is_not_taken_over(self):
        """Other cells than the pack has, more amps than it may get, a pack that is condemned, unknown or on
        another port; nothing is written."""
        alarm = self.begun_elsewhere(current_a=6)
        for pack, words in (
            ("15", "not what 15 reads"),
            ("01", "6.0 A flow; House rules .* allows 3.7 A"),
            ("03", "Stop it"),
            ("zz", "There is no pack zz"),
        ):
            with self.subTest(pack):
                self.assert_problem(self.taken(alarm, pack), 422, "pack", words)
        self.started("01")
        self.assert_problem(self.taken(alarm), 422, "pack", "charging on another port")
        self.assertEqual(Charge.objects.count(), 1)
        self.assert_problem(self.post(f"/api/alarms/{alarm}/take-over", {}), 422, "pack")
        self.post(f"/api/alarms/{alarm}/stop", {})
        self.assert_problem(self.taken(alarm, "31"), 422, "alarm", "does not charge any more")
        self.assert_problem(self.taken(9999), 404)

    def test_ours_is_no_stranger(self):
        """Nor is one that has ended."""
        self.started("01")
        self.go_on(20)
        self.assertEqual(Alarm.objects.filter(kind="stranger").count(), 0)


class Standing(FaithCase):
    def test_a_stop_for_danger_stays_until_somebody_has_seen_to_it(self):
        """With what was done, and what to do now; confirmed, it is in the pack's life and the log."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        self.post(f"/api/charges/{pk}/fault", {"fault": "warm", "cell": 0})
        self.go_on(900, every=5)
        self.assertEqual(self.state(pk), "stopped")
        said = self.client.get("/api/alarms").json()
        alarm = said["alarms"][0]
        self.assertEqual((alarm["kind"], alarm["label"], said["charging"]), ("hot", "01", []))
        self.assertEqual(
            (alarm["over"], alarm["urgent"], alarm["done"]), (True, False, "The charge was stopped.")
        )
        self.assertIn("Do not lean over it", alarm["todo"][0])
        left = self.post(f"/api/alarms/{alarm['id']}/confirm", {}).json()["alarms"]
        self.assertNotIn("hot", [a["kind"] for a in left])
        self.assertEqual(self.pack_now("01")["state"], "quarantined")


class Lines(ChargingCase):
    def serving(self, talk):
        """A device that talks like this to whoever calls."""
        listener = socket.create_server(("127.0.0.1", 0))
        self.addCleanup(listener.close)
        gone = threading.Event()
        self.addCleanup(gone.set)

        def serve():
            link, _ = listener.accept()
            with link:
                try:
                    talk(link, gone)
                except OSError:
                    return

        threading.Thread(target=serve, daemon=True).start()
        return f"127.0.0.1:{listener.getsockname()[1]}"

    def test_a_byte_at_a_time_for_ever(self):
        """The whole answer has a time, not each byte of it."""

        def dribble(link, gone):
            while not gone.wait(0.02):
                link.sendall(b" ")

        self.assertIsNone(asked(self.serving(dribble), {"do": "hello"}, timeout_s=0.3))

    def test_a_line_without_end(self):
        """No more of it is read than a line may have."""

        def flood(link, gone):
            while not gone.is_set():
                link.sendall(b"x" * 65_536)

        self.assertIsNone(asked(self.serving(flood), {"do": "hello"}, timeout_s=30))

    def test_too_deep(self):
        """A thousand lists in each other."""
        deep = b'{"ok":' + b"[" * 100_000 + b"]" * 100_000 + b"}\n"
        self.assertLess(len(deep), LONGEST_LINE)
        self.assertIsNone(asked(self.serving(lambda link, _: link.sendall(deep)), {}, timeout_s=30))

    def test_bad_commands_do_not_end_the_chargers_time(self):
        """An empty list of cells, NaN amps: refused; the other ports' time goes on."""
        pk = self.started("01")
        for message, words in (
            ({"do": "plug", "port": 2, "pack": {"chemistry": "lipo", "cells": []}}, "1 to 28 cells"),
            ({"do": "plug", "port": 1, "pack": {"chemistry": "lipo", "cells": []}}, "charging"),
            ({"do": "start", "port": 2}, "."),
        ):
            said = asked(f"127.0.0.1:{self.server.port}", message)
            self.assertFalse(said["ok"])
            self.assertRegex(said["why"], words)
        cells = [{"capacity_ah": 3.0, "resistance_mohm": 3.0, "soc": 0.5}] * 4
        asked(
            f"127.0.0.1:{self.server.port}",
            {"do": "plug", "port": 2, "pack": {"chemistry": "lipo", "cells": cells}},
        )
        order = {"do": "start", "port": 2, "chemistry": "lipo", "program": "balance", "cells": 4}
        figures = {"current_a": float("nan"), "end_cell_v": 4.2, "timer_s": 9000, "cutoff_mah": 4000}
        said = asked(f"127.0.0.1:{self.server.port}", {**order, **figures})
        self.assertIn("cannot be set to current_a", said["why"])
        self.pass_time(60)
        self.assertGreater(Charge.objects.get(pk=pk).samples.count(), 5)
