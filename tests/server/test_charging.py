"""Charges on a linked charger: start, watch, alarms, stop, log; a lost link; nothing stored twice."""

import json
import tempfile
from pathlib import Path
from unittest import mock

from django.test import override_settings
from django.utils import timezone

from coldstack.server.charges.heartbeat import BEATS
from coldstack.server.charges.models import Alarm, Charge, Sample
from coldstack.server.charges.watcher import Watcher
from coldstack.server.gear.models import Charger, OwnedPack
from coldstack.standins.charger import SimulatedCharger, listen
from tests.lives import events
from tests.server.case import DemoCase

STEPS = ["place", "set", "lead", "main", "balance", "confirm"]


class ChargingCase(DemoCase):
    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        settings = override_settings(DATA_DIR=self.folder.name)
        settings.enable()
        self.addCleanup(settings.disable)
        self.device = SimulatedCharger("Skerry Four", 4, ("lipo", "lihv"))
        self.server = listen(self.device, 0)
        self.addCleanup(self.server.server_close)
        self.addCleanup(self.server.shutdown)
        self.link()
        self.seconds = 0.0
        self.watcher = Watcher(clock=lambda: self.seconds)
        beats = mock.patch.multiple(BEATS, clock=lambda: self.seconds, _judged={})
        beats.start()
        self.addCleanup(beats.stop)
        self.bench = {**self.client.get("/api/bench").json()["bench"], "at": "2026-11-25T18:00:00"}
        self.charger = str(Charger.live.get(name="Skerry Four").pk)

    def link(self, address=None):
        known = {"chargers": {"Skerry Four": address or f"127.0.0.1:{self.server.port}"}}
        (Path(self.folder.name) / "devices.json").write_text(json.dumps(known))

    def begin(self, *tags, **changes):
        body = {
            "bench": self.bench,
            "packs": [f"owned:{t}" for t in tags or ("01",)],
            "charger": self.charger,
            "port": 1,
            "steps": STEPS,
            **changes,
        }
        return self.post("/api/charges", body)

    def started(self, *tags, **changes):
        reply = self.begin(*tags, **changes)
        self.assertEqual(reply.status_code, 201, reply.content[:400])
        return reply.json()["id"]

    def ready(self, tag, cells="3.70 3.70 3.70 3.70"):
        """Looked at, felt and read anew, as after its last charge."""
        self.post(f"/api/keep/packs/{tag}/looks", {"at_room": True})
        for line in self.bench["laid"]:
            if line["pack"] == f"owned:{tag}":
                line |= {"cells": cells, "source": "typed", "read_at": timezone.now().isoformat()}

    def pack_now(self, tag):
        return self.client.get(f"/api/keep/packs/{tag}").json()["line"]

    def pass_time(self, seconds, every=20):
        """The charger's time passes, and the watch looks each few seconds of it; somebody looks, too."""
        for _ in range(int(seconds / every)):
            self.device.pass_time(every)
            self.seconds += every
            self.watcher.tick()

    def charge(self, pk):
        return self.client.get(f"/api/charges/{pk}").json()


class Start(ChargingCase):
    def test_a_charge_runs_to_full_and_is_logged(self):
        """mAh, minutes, end volts, resistances, temperature; the packs then read full on the bench, and are
        not planned again."""
        pk = self.started("01", look_every_min=20)
        for _ in range(30):
            self.pass_time(200)
            self.post(f"/api/charges/{pk}/look", {})
        found = self.charge(pk)
        self.assertEqual(found["state"], "done", found["ended_why"])
        s = found["summary"]
        self.assertAlmostEqual(s["mah"], 3700 * 0.75, delta=400)
        self.assertTrue(all(4.18 < v < 4.21 for v in s["end_cell_v"]))
        self.assertEqual((len(s["cell_mohm"]), len(s["start_cell_v"])), (4, 4))
        self.assertTrue(20 < s["highest_c"] < 26)
        self.assertEqual(found["alarms"], [])
        kept = self.client.get("/api/bench").json()["bench"]
        line = next(x for x in kept["laid"] if x["pack"] == "owned:01")
        self.assertEqual(line["cells"], "")
        self.assertEqual((self.pack_now("01")["state"], self.pack_now("01")["cells_by"]), ("full", "charger"))
        plan = self.post("/api/bench/plan", {**kept, "at": "2026-11-25T19:00:00"}).json()
        self.assertNotIn("01", str([b["tags"] for b in plan["batches"]]))
        logged = events("01")[-1]
        self.assertEqual((logged.kind, logged.ended, len(logged.cell_mohm)), ("charge", "done", 4))
        self.assertAlmostEqual(logged.mah, s["mah"])
        self.assertAlmostEqual(logged.capacity_ah, 3.7, delta=0.25)

    def test_packs_that_shared_a_board_are_full_on_the_shelf(self):
        """Each is full, with its share of what went in, and none of them with a capacity that nobody
        measured."""
        pk = self.started(
            "01", "02", steps=["place", "set", "lead", "main", "balance", "confirm"], look_every_min=20
        )
        for _ in range(40):
            self.pass_time(200)
            self.post(f"/api/charges/{pk}/look", {})
        self.assertEqual(self.charge(pk)["state"], "done", self.charge(pk)["ended_why"])
        for tag in ("01", "02"):
            last = events(tag)[-1]
            self.assertEqual((last.ended, last.by, last.capacity_ah), ("done", "charger", None))
            self.assertEqual(self.pack_now(tag)["state"], "full")
        both = [events(tag)[-1].mah for tag in ("01", "02")]
        self.assertAlmostEqual(sum(both), self.charge(pk)["summary"]["mah"], delta=1)
        # alike in capacity; 02 was a little emptier
        self.assertTrue(1.0 < both[1] / both[0] < 1.05, both)

    def test_a_new_tag_in_mid_charge(self):
        """The charge is the pack's, whatever it is called when it ends."""
        pk = self.started("01")
        pack = OwnedPack.live.get(tag="01")
        self.client.patch(f"/api/gear/packs/{pack.pk}", {"tag": "Z1"}, content_type="application/json")
        self.assertEqual(self.pack_now("Z1")["state"], "charging")
        self.pass_time(200)
        self.post(f"/api/charges/{pk}/stop", {})
        self.assertEqual((events("Z1")[-1].kind, events("Z1")[-1].ended), ("charge", "stopped"))
        self.assertEqual(self.charge(pk)["packs"], ["owned:Z1"])

    def test_stopped_again_and_again(self):
        """Five charges, each stopped three times by hand while the watch looks: five events."""
        before = len(events("01", kind="charge"))
        for n in range(5):
            self.ready("01")
            pk = self.started("01")
            self.pass_time(60)
            for _ in range(3):
                self.post(f"/api/charges/{pk}/stop", {})
                self.watcher.tick()
            self.assertEqual(len(events("01", kind="charge")), before + n + 1)

    def test_refused_by_rules(self):
        """Steps not ticked, looks too far apart, an unfit pack, a pair that would rush, a charger that is
        not linked."""
        for changes, field, words in (
            ({"steps": STEPS[:-1]}, "steps", "charger found 4 cells"),
            ({"look_every_min": 60}, "look_every_min", "nobody leaves"),
            ({"packs": ["owned:08"]}, "packs", "may not be charged"),
            ({"packs": ["owned:01", "owned:05"]}, "packs", "differs|rush"),
            ({"port": 5}, "port", "4 ports"),
            ({"charger": str(Charger.live.get(name="Cairn Sixty").pk)}, "charger", "not linked"),
            ({"simulate": "wrong_count"}, "port", "finds 3 cells; the pack has 4"),
        ):
            with self.subTest(words):
                self.assert_problem(self.begin(**changes), 422, field, words)
        self.assertFalse(Charge.objects.exists())
        self.assertEqual(self.device.ports[0].state, "idle")

    def test_busy(self):
        """A port and a pack can be in one charge only; the plan leaves the pack out and holds the port."""
        self.started("01")
        self.assert_problem(self.begin("31"), 422, "port", "Port 1 is charging")
        self.assert_problem(self.begin("01", port=2), 422, "packs", "01 is being charged")
        plan = self.post("/api/bench/plan", self.bench).json()
        self.assertNotIn("01", str([b["tags"] for b in plan["batches"]]))
        self.assertEqual(plan["held"][0]["port"], 1)
        self.assertFalse(
            [
                s
                for s in plan["slots"]
                if s["charger"] == self.charger and s["port"] == 1 and s["start_min"] == 0
            ]
        )

    def test_the_plans_share_of_the_watts(self):
        """Set to 2.9 A as planned, though the charger could do more alone; never above the limits."""
        pk = self.started("01", current_a=2.9)
        self.assertEqual(self.charge(pk)["settings"]["current_a"], 2.9)
        pk = self.started("31", port=2, current_a=50)
        self.assertEqual(self.charge(pk)["settings"]["current_a"], 2.6)

    def test_no_answer(self):
        """Nothing is started, nothing kept."""
        self.link("127.0.0.1:1")
        self.assert_problem(self.begin(), 422, "charger", "does not answer. Nothing was started")
        self.assertFalse(Charge.objects.exists())


class Alarms(ChargingCase):
    def faulty(self, fault, seconds=700, **more):
        pk = self.started("01", look_every_min=20)
        self.pass_time(200)
        self.assertEqual(
            self.post(f"/api/charges/{pk}/fault", {"fault": fault, "cell": 2, **more}).status_code, 200
        )
        self.pass_time(seconds)
        return self.charge(pk)

    def test_stopped_where_it_is_dangerous(self):
        """A cell that does not follow, a warm pack: stopped at the charger, logged, explained."""
        for fault, kind, words in (
            ("not_following", "not_following", "Cell 3 does not follow"),
            ("warm", "hot", "were to be expected"),
        ):
            with self.subTest(fault):
                found = self.faulty(fault)
                self.assertEqual(found["state"], "stopped")
                self.assertIn(words, found["ended_why"])
                self.assertIn(kind, [a["kind"] for a in found["alarms"]])
                self.assertEqual(self.device.ports[0].state, "stopped")
                self.ready("01")

    def test_stopped_for_danger_it_is_set_apart(self):
        """In quarantine everywhere until somebody looked; then watched; a second time it is to be retired."""
        self.faulty("warm")
        self.assertEqual(
            (self.pack_now("01")["state"], self.pack_now("01")["may"]["run"]["allowed"]),
            ("quarantined", False),
        )
        self.assert_problem(self.begin("01"), 422, "packs", "In quarantine")
        self.assertNotIn("owned:01", self.plan()["field"]["ids"])
        self.assertIn(
            "01",
            {
                p["tag"]
                for g in self.client.get("/api/keep/shelf").json()["groups"]
                if g["doing"] == "inspect"
                for p in g["packs"]
            },
        )
        self.ready("01")
        now = self.pack_now("01")
        self.assertEqual((now["state"], now["level"]), (now["charge"], "watch"))
        self.assertIn("A charge was stopped", now["sign"])
        self.faulty("warm")
        self.ready("01")
        self.assertEqual(self.pack_now("01")["level"], "retire")
        self.assert_problem(self.begin("01"), 422, "packs", "To be retired: 2 charges were stopped")

    def test_warned_where_it_is_not(self):
        """A weak cell, a sagging supply: said, and it goes on."""
        found = self.faulty("weak_cell")
        self.assertEqual((found["state"], found["alarms"][0]["kind"]), ("charging", "weak_cell"))
        self.post(f"/api/charges/{found['id']}/stop", {})
        self.ready("01")
        dc = [{"charger": self.charger, "source": "dc", "supply": None}]
        self.bench = {**self.bench, "feds": dc}
        found = self.faulty("supply_sag", seconds=60)
        self.assertEqual((found["state"], found["alarms"][0]["kind"]), ("charging", "supply_sag"))

    def test_nobody_looks(self):
        """Warned when it is due, stopped three minutes later; a look in time puts it off."""
        pk = self.started("01", look_every_min=5)
        self.pass_time(320)
        self.assertEqual([a["kind"] for a in self.charge(pk)["alarms"]], ["look_due"])
        self.post(f"/api/charges/{pk}/look", {})
        self.pass_time(300)
        self.assertEqual(self.charge(pk)["state"], "charging")
        self.pass_time(240)
        found = self.charge(pk)
        self.assertEqual(found["state"], "stopped")
        self.assertIn("Nobody looked", found["ended_why"])

    def test_a_lost_link(self):
        """Said at once, not taken for stopped; when it is back the samples in between are there, once
        each."""
        pk = self.started("01", look_every_min=20)
        self.pass_time(100)
        self.link("127.0.0.1:1")
        self.pass_time(20, every=2)
        found = self.charge(pk)
        said = {a["kind"] for a in found["alarms"]}
        self.assertEqual((found["state"], said), ("charging", {"link_lost", "unbelievable"}))
        self.pass_time(80)
        self.assertEqual(self.charge(pk)["state"], "charging")
        self.link()
        self.pass_time(20)
        self.assertTrue(all(a["over"] for a in self.charge(pk)["alarms"]))
        numbers = list(Sample.objects.filter(charge=pk).values_list("seq", flat=True))
        self.assertEqual(numbers, list(range(1, len(numbers) + 1)))
        self.assertGreater(len(numbers), 40)

    def test_no_sample_twice(self):
        """Two watches on one charge, as after a restart: each sample once."""
        pk = self.started("01")
        self.device.pass_time(55)
        early, late = Charge.objects.get(pk=pk), Charge.objects.get(pk=pk)
        self.watcher.look_at(early)
        Watcher().look_at(late)
        numbers = list(Sample.objects.filter(charge=pk).values_list("seq", flat=True))
        self.assertEqual(numbers, sorted(set(numbers)))
        self.assertEqual(Alarm.objects.count(), 0)

    def test_the_charger_begins_something_else(self):
        """By hand, at the charger: this charge is closed as lost, not mixed up with the other."""
        pk = self.started("01")
        self.pass_time(60)
        self.device.ports[0].run = "another"
        self.watcher.tick()
        self.assertEqual(self.charge(pk)["state"], "charging")
        self.pass_time(4, every=2)
        found = self.charge(pk)
        self.assertEqual(found["state"], "failed")
        self.assertIn("another charge", found["ended_why"])

    def test_stopped_by_hand(self):
        """What went in tells how full it is; its cells are to be read again at rest."""
        pk = self.started("01")
        self.pass_time(600)
        self.assertEqual(self.post(f"/api/charges/{pk}/stop", {}).json()["state"], "stopped")
        self.assertEqual((self.pack_now("01")["charge"], self.pack_now("01")["cell_v"]), ("part", []))
        self.assertEqual([c["state"] for c in self.client.get("/api/charges").json()], ["stopped"])
