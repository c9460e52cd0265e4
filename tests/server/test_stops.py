"""Stops and ends: a fault at every step of a stop, in both tongues, and never *stopped* while current flows;
every honest end with its own reason."""

from contextlib import suppress
from unittest import mock

from django.db import DatabaseError

from coldstack.server.charges import stopping
from coldstack.server.charges.models import ACTIVE, Alarm, Charge, OnCharger
from coldstack.server.charges.watcher import Watcher
from coldstack.standins.lines import Refusal
from tests.lives import events
from tests.server.test_bad_faith import FaithCase
from tests.server.test_drivers import LinesOfNumbers

STEPS = (
    ("_say_stopping", "before it is stored that it is to stop"),
    ("charger_device", "before its charger is known"),
    ("told_to_stop", "before the charger is told"),
    ("hear", "before it is heard what the charger measures then"),
    ("store", "before that is stored"),
    ("end", "before it is closed"),
)
"""What a stop by hand does, in order."""


class EveryStep:
    """For a case with a charger in some tongue; ``go_on`` lets its time and the watch's pass."""

    def safe(self):
        """Nobody calls it stopped, and nobody frees its pack, while current flows."""
        charge = Charge.objects.get()
        if self.device.ports[0].state == "charging":
            self.assertIn(charge.state, ACTIVE)
            self.assertTrue(OnCharger.objects.filter(charge=charge).exists())
        return charge

    def faults(self):
        def killed(*args, **more):
            raise KeyboardInterrupt

        def full(*args, **more):
            raise DatabaseError("full")

        for step, when in STEPS:
            yield f"killed {when}", step, killed
            if step in ("store", "end"):
                yield f"the disk is full {when}", step, full

    def test_a_fault_at_every_step(self):
        """Killed, or without a disk: the charge stays open as long as current flows, and in the end it is
        stopped once, for its reason."""
        for name, step, fails in self.faults():
            with self.subTest(name):
                Charge.objects.all().delete()
                self.anew()
                pk = self.started("01", look_every_min=20)
                self.go_on(30, every=5)
                with mock.patch.object(stopping, step, fails), suppress(KeyboardInterrupt):
                    self.post(f"/api/charges/{pk}/stop", {})
                self.safe()
                self.watcher = Watcher(clock=lambda: self.seconds)  # after the restart
                self.go_on(15, every=5)
                if self.safe().state != "stopped":  # it was killed before anybody could know
                    self.post(f"/api/charges/{pk}/stop", {})
                self.go_on(15, every=5)
                charge = self.safe()
                self.assertEqual((charge.state, self.device.ports[0].state), ("stopped", "stopped"))
                self.assertEqual(len(events("01", charge=pk, kind="charge")), 1)
                self.assertEqual(OnCharger.objects.count(), 0)


class InLines(EveryStep, FaithCase):
    def anew(self):
        self.ready("01")

    def test_refused_then_done(self):
        """By hand: it stays *stopping* with what was answered, and is told again until it does."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        honest = self.server.answer

        def busy(message):
            if message.get("do") == "stop":
                raise Refusal("NO")
            return honest(message)

        self.server.answer = busy
        said = self.post(f"/api/charges/{pk}/stop", {}).json()
        self.assertEqual(
            (said["state"], said["stop_outcome"], said["ended_why"]), ("stopping", "refused", "")
        )
        self.assertIn("Not known to have stopped", said["stop_said"])
        self.go_on(60, every=5)
        self.assertEqual(self.safe().state, "stopping")
        self.assert_problem(self.begin("01", port=2), 422, "packs", "being charged")
        self.server.answer = honest
        self.go_on(2)
        self.assertEqual((self.safe().state, self.safe().ended_why), ("stopped", "stopped by hand"))

    def test_an_answer_that_is_lost(self):
        """The charger stopped, and its yes was not heard: the next readings tell."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        with mock.patch.object(stopping, "told_to_stop") as told:
            told.side_effect = lambda *_: (self.device.answer({"do": "stop", "port": 1}), ("unheard", ""))[1]
            self.assertEqual(self.post(f"/api/charges/{pk}/stop", {}).json()["stop_outcome"], "unheard")
        self.go_on(2)
        self.assertEqual(self.safe().state, "stopped")

    def test_pulled_only_where_it_is_wanted(self):
        """A charge that nobody wants stopped is not ended by a word; one that has ended stays as it is."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        self.assert_problem(self.post(f"/api/charges/{pk}/pulled", {}), 422, "charge", "Press Stop first")
        self.post(f"/api/charges/{pk}/stop", {})
        self.assertEqual(self.post(f"/api/charges/{pk}/pulled", {}).json()["ended_why"], "stopped by hand")

    def test_pulled_by_word_alone(self):
        """What goes on charging there is an alarm of its own."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        self.device.answer({"do": "fault", "port": 1, "fault": "refuses_stop"})
        self.post(f"/api/charges/{pk}/stop", {})
        with mock.patch.object(self.device.ports[0], "unplug"):
            self.post(f"/api/charges/{pk}/pulled", {})
        self.go_on(12)
        self.assertEqual(self.device.ports[0].state, "charging")
        self.assertTrue(Alarm.objects.filter(kind="stranger", over=False).exists())


class InNumbers(EveryStep, LinesOfNumbers):
    def anew(self):
        self.ready("01")
        cells = [{"capacity_ah": 3.7, "resistance_mohm": 3.0, "soc": 0.2}] * 4
        if self.device.ports[0].state != "charging":
            self.device.answer({"do": "plug", "port": 1, "pack": {"chemistry": "lipo", "cells": cells}})

    def go_on(self, seconds, every=5):
        self.pass_time(seconds, every=every)


class HonestEnds(FaithCase):
    def ended(self):
        """How it ended, and what was wrong."""
        self.go_on(1)
        charge = Charge.objects.get()
        return charge.state, charge.ended_why, sorted(Alarm.objects.values_list("kind", flat=True))

    def begun(self):
        self.started("01", look_every_min=20)
        self.go_on(33)

    def test_a_press_on_its_button(self):
        """At once, with its words; a last sample is rounded past its clock."""
        self.begun()
        self.device.pass_time(0.866)
        self.device.ports[0].stop("a press on its button")
        self.assertEqual(self.ended(), ("stopped", "a press on its button", []))

    def test_without_words(self):
        """As what it was."""
        self.begun()
        self.device.ports[0].stop("")
        self.assertEqual(self.ended(), ("stopped", "stopped at the charger", []))

    def test_by_a_hand_that_did_not_wait(self):
        """The charger stopped for it after the press was answered: that was why, in whatever tongue."""
        pk = Charge.objects.get(pk=self.started("01", look_every_min=20)).pk
        self.go_on(30)
        Charge.objects.filter(pk=pk).update(
            state="stopping", stop_why="stopped by hand", stop_outcome="asked"
        )
        self.device.ports[0].stop("")
        self.assertEqual(self.ended(), ("stopped", "stopped by hand", []))

    def test_while_the_link_was_lost(self):
        """What happened meanwhile is told as that, though it was to be stopped for its silence."""
        self.begun()
        self.link("127.0.0.1:1")
        self.go_on(60, every=5)
        self.device.ports[0].stop("a press on its button")
        self.link()
        self.assertEqual(self.ended()[:2], ("stopped", "a press on its button"))

    def test_full(self):
        """Its last sample is of the taper's end."""
        self.begun()
        for cell in range(4):
            self.device.ports[0].cells.z[cell] = 0.998
        self.go_on(600, every=5)
        self.assertEqual(self.ended()[:2], ("done", "full"))

    def test_another_charge_on_its_port(self):
        """It is lost, which stays an alarm until somebody saw to it; the other is a stranger."""
        self.begun()
        self.device.ports[0].run = "another"
        self.go_on(12)
        state, why, kinds = self.ended()
        self.assertEqual((state, kinds), ("failed", ["lost", "stranger"]))
        self.assertIn("something else charges on its port", why)
        lost = next(a for a in self.client.get("/api/alarms").json()["alarms"] if a["kind"] == "lost")
        self.assertIn("See at the charger", lost["todo"][0])

    def test_a_charger_that_forgot_it(self):
        """Switched off and on, it knows nothing; nobody can tell that nothing flows until somebody looks."""
        self.begun()
        self.device.ports[0].unplug()
        self.go_on(30)
        pk = Charge.objects.get().pk
        self.assertEqual((self.state(pk), self.kinds(pk)["pull_plug"].over), ("stopping", False))
        self.assertIn("does not know this charge", self.kinds(pk)["says_ended"].sentence)
        self.assertEqual(self.post(f"/api/charges/{pk}/pulled", {}).json()["state"], "stopped")


class Blind(FaithCase):
    def test_watching_that_fails_altogether(self):
        """Whatever breaks: an alarm, and twice in a row a stop; the other charge is watched all the while."""
        self.ready("31", "3.78 3.78 3.78 3.78")
        pk, other = self.started("01", look_every_min=20), self.started("31", port=2, look_every_min=20)
        self.go_on(20)
        honest = Watcher.look_at

        def breaks(watcher, charge):
            if charge.pk == pk:
                raise RuntimeError("broken")
            honest(watcher, charge)

        with mock.patch.object(Watcher, "look_at", breaks), self.assertLogs("coldstack", "ERROR") as logged:
            self.go_on(1)
            self.assertEqual((self.kinds(pk)["cannot_judge"].level, self.state(pk)), ("warn", "charging"))
            self.go_on(10)
        self.assertEqual(len(logged.output), 1)
        self.assertEqual(self.device.ports[0].state, "stopped")
        self.go_on(2)
        self.assertEqual((self.state(pk), self.state(other), self.kinds(other)), ("stopped", "charging", {}))

    def test_a_busy_answer_is_asked_again(self):
        """Once busy is no end; the charge goes on without a word."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)

        def busy(said):
            raise Refusal("busy, ask later")

        self.spoil = busy
        self.go_on(6)
        self.spoil = None
        self.go_on(30)
        self.assertEqual((self.state(pk), self.kinds(pk)), ("charging", {}))

    def test_ended_by_a_hand_while_it_is_looked_at(self):
        """The round that was under way leaves no alarm behind that nobody could end."""
        pk = self.started("01", look_every_min=20)
        self.go_on(30)
        self.device.answer({"do": "fault", "port": 1, "fault": "refuses_stop"})
        self.post(f"/api/charges/{pk}/stop", {})
        before = Charge.objects.get(pk=pk)
        self.post(f"/api/charges/{pk}/pulled", {})
        self.watcher.look_at(before)
        self.assertEqual([a.kind for a in self.kinds(pk).values() if not a.over], [])
        self.assertEqual(self.state(pk), "stopped")

    def test_nobody_judges_it(self):
        """Fifteen seconds are an alarm on every stage, which the watch itself cannot tell."""
        pk = self.started("01", look_every_min=20)
        self.go_on(20)
        for late, wanted in ((15, []), (1, ["not_judged"])):
            self.seconds += late
            self.device.pass_time(late)
            found = self.client.get("/api/alarms").json()["alarms"]
            self.assertEqual([a["kind"] for a in found], wanted)
        self.assertTrue(found[0]["urgent"])
        self.assertEqual(self.charge(pk)["judged_ago_s"], 16)
        self.assertEqual(self.client.get("/api/charges/glance").json()[0]["urgency"], "stop")
        self.watcher.tick()
        self.assertEqual(self.client.get("/api/alarms").json()["alarms"], [])
