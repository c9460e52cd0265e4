"""The bench over the API, in the demo world: who may share, the plan, settings and steps, what-ifs, and what
is kept."""

import json
import tempfile
from datetime import datetime
from pathlib import Path

from django.test import override_settings
from django.utils import timezone

from coldstack.server.charges.models import Layout
from coldstack.server.gear.models import Charger, OwnedPack, Supply
from coldstack.standins import checker
from tests.lives import events
from tests.server.case import DemoCase

SIX = ["01", "02", "04", "05", "31", "32"]


class BenchCase(DemoCase):
    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        settings = override_settings(DATA_DIR=self.folder.name)
        settings.enable()
        self.addCleanup(settings.disable)
        self.bench = self.client.get("/api/bench").json()["bench"]

    def asked(self, **changes):
        return {**self.bench, "at": "2026-11-25T18:00:00", **changes}

    def with_pack(self, tag, **line):
        rest = [x for x in self.bench["laid"] if x["pack"] != f"owned:{tag}"]
        return [*rest, {"pack": f"owned:{tag}", **line}]

    def planned(self, **changes):
        reply = self.post("/api/bench/plan", self.asked(**changes))
        self.assertEqual(reply.status_code, 200, reply.content[:400])
        return reply.json()

    def shared(self, *tags, **changes):
        reply = self.post(
            "/api/bench/sharing", {"bench": self.asked(**changes), "packs": [f"owned:{t}" for t in tags]}
        )
        self.assertEqual(reply.status_code, 200, reply.content[:400])
        return reply.json()

    def charger(self, name):
        return str(Charger.live.get(name=name).pk)


class Sharing(BenchCase):
    def test_six_4s_packs_under_each_school(self):
        """Every pack but the one with the bad cell (03) in one batch of each school; stricter schools
        never have fewer batches."""
        schools = {s["id"]: s["batches"] for s in self.planned()["schools"]}
        for batches in schools.values():
            self.assertEqual(sorted(t for b in batches for t in b), sorted([*SIX, "13"]))
        counts = [len(schools[s]) for s in ("long_life", "steady", "field_day")]
        self.assertTrue(counts[0] > counts[1] >= counts[2], counts)

    def test_the_amps_of_a_forbidden_pair(self):
        """05 was left full: 37 A would rush out of it into 32, in numbers, with what they would pass."""
        found = self.shared("32", "05")
        self.assertFalse(found["allowed"])
        self.assertAlmostEqual(sum(found["currents_a"]), 0)
        self.assertGreater(found["currents_a"][0], 30)
        words = " ".join(r["sentence"] for r in found["reasons"])
        self.assertRegex(words, r"37\.\d A rush into 32 .* for \d+ s;")

    def test_neighbouring_batches_say_why_not(self):
        """With their currents."""
        apart = self.planned()["apart"]
        self.assertTrue(apart)
        self.assertTrue(
            all(
                a["sharing"]["reasons"] and a["sharing"]["currents_a"]
                for a in apart
                if "outlier" not in str(a)
            )
        )

    def test_a_2s_among_4s_in_every_school(self):
        """Refused by the cell count."""
        for rules in ("long_life", "steady", "field_day"):
            with self.subTest(rules):
                self.assertEqual(self.shared("01", "13", house_rules=rules)["reasons"][0]["id"], "series")

    def test_sum_and_the_lower_rate(self):
        """2.6 and 3.0 Ah under Field day: 5.6 Ah at the 1C of 31's label."""
        laid = [
            {"pack": "owned:31", "cells": "3.70 3.70 3.70 3.70"},
            {"pack": "owned:32", "cells": "371 371 371 371"},
        ]
        batch = self.planned(laid=laid, house_rules="field_day")["batches"][0]
        self.assertEqual(sorted(batch["tags"]), ["31", "32"])
        self.assertTrue(4.5 < batch["most_a"] < 5.6, batch["most_a"])
        self.assertIn("less what 31 would get of it beyond its own", batch["sentence"])
        self.assertIn("the label of 31", batch["sentence"])


class Plan(BenchCase):
    def test_a_time_with_a_zone_is_taken_as_written(self):
        """Ready-by with an offset, now without: the hands of the clock count; one long past is told."""
        soon = {"at": "2026-11-26T09:00:00", "ready_by": "2026-11-26T12:00:00+09:26"}
        self.assertEqual(self.planned(**soon), self.planned(**{**soon, "ready_by": "2026-11-26T12:00:00"}))
        reply = self.client.post(
            "/api/bench/plan", {"ready_by": "0162-03-07T00:02:46+09:26"}, content_type="application/json"
        )
        self.assertEqual((reply.status_code, reply.json()["errors"][0]["field"]), (422, "ready_by"))

    def test_a_swollen_pack_is_kept_back(self):
        """In no batch, with the way to retire it."""
        self.post("/api/keep/packs/31/looks", {"signs": ["swollen"]})
        plan = self.planned(laid=self.with_pack("31", cells="3.7 3.7 3.7 3.7"))
        line = next(x for x in plan["laid"] if x["tag"] == "31")
        self.assertEqual((line["outcome"], line["findings"][0]["id"]), ("retire", "swollen"))
        self.assertNotIn("31", str([b["tags"] for b in plan["batches"]]))

    def test_ready_by_ten_tomorrow_with_two_chargers_and_a_box(self):
        """The 60 W charger and the four-port one behind the 500 Wh power box: within watts and watt-hours,
        and in time."""
        box = str(Supply.live.get(name="Boathouse power box").pk)
        feds = [
            {
                "charger": str(c.pk),
                "use": c.name in ("Cairn Sixty", "Skerry Four"),
                "source": "dc" if c.dc_w else "mains",
                "supply": box if c.dc_w else None,
            }
            for c in Charger.live.all()
        ]
        plan = self.planned(feds=feds, ready_by="2026-11-26T10:00:00")
        uses = {u["name"]: u for u in plan["uses"]}
        self.assertLessEqual(max(uses["Boathouse power box"]["watts"]), 240)
        self.assertLessEqual(uses["Boathouse power box"]["used_wh"], 500)
        self.assertEqual({s["charger_name"] for s in plan["slots"]} - {"Cairn Sixty", "Skerry Four"}, set())
        self.assertEqual([s["late_min"] for s in plan["slots"]], [0] * len(plan["slots"]))
        self.assertEqual([s["order"] for s in plan["slots"]], list(range(1, len(plan["slots"]) + 1)))

    def test_nobody_charges_at_night(self):
        """At 21:30 with somebody there until 22:00: the long ones wait for seven in the morning."""
        plan = self.planned(at="2026-11-25T21:30:00")
        for slot in plan["slots"]:
            start, end = (datetime.fromisoformat(slot[k]) for k in ("start_at", "end_at"))
            self.assertTrue(
                7 <= start.hour < 22 and (end.hour, end.minute) <= (22, 0) and start.date() == end.date()
            )

    def test_too_little_energy_is_said(self):
        """30 Wh in the box: what cannot be done, and why."""
        Supply.live.filter(name="Boathouse power box").update(energy_wh=30)
        box = str(Supply.live.get(name="Boathouse power box").pk)
        feds = [
            {
                "charger": str(c.pk),
                "use": c.name == "Cairn Sixty",
                "source": "dc" if c.dc_w else "mains",
                "supply": box if c.dc_w else None,
            }
            for c in Charger.live.all()
        ]
        plan = self.planned(feds=feds)
        self.assertIn("watt-hours are used up", " ".join(u["why"] for u in plan["undone"]))

    def test_a_line_that_is_not_understood(self):
        """Said at its pack; all others are planned as before."""
        plan = self.planned(laid=self.with_pack("01", cells="3.7 three 3.7 3.7"))
        line = next(x for x in plan["laid"] if x["tag"] == "01")
        self.assertIn("“three”", line["problem"])
        self.assertGreater(len(plan["batches"]), 3)

    def test_queries_do_not_grow_with_packs(self):
        """Ten packs or one: the same few."""
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        counts = []
        self.planned()  # lives are told once
        for laid in (self.bench["laid"], self.bench["laid"][:1]):
            with CaptureQueriesContext(connection) as seen:
                self.planned(laid=laid)
            counts.append(len(seen))
        self.assertEqual(counts[0], counts[1])
        self.assertLess(counts[0], 16)

    def test_bad_input(self):
        """Each named at its field."""
        for changes, field, words in (
            ({"laid": [{"pack": "owned:99"}]}, "laid.0.pack", "no pack 99"),
            ({"laid": [{"pack": "owned:01"}, {"pack": "owned:01"}]}, "laid", "twice"),
            ({"laid": [{"pack": "owned:01", "signs": ["swollen"]}]}, "laid.0.signs", "no such field"),
            ({"house_rules": "none"}, "house_rules", "one of"),
            ({"board": "999"}, "board", "no such board"),
            ({"ready_by": "2026-11-25T17:00:00"}, "ready_by", "past"),
            ({"attended": [{"start": "22:00", "end": "07:00"}]}, "attended", "ends before"),
            ({"attended": [{"start": "25:00", "end": "26:00"}]}, "attended.0.start", "."),
            ({"groups": [["owned:24"]]}, "groups", "not laid out"),
            ({"nonsense": 1}, "nonsense", "no such field"),
        ):
            with self.subTest(field=field, words=words):
                self.assert_problem(self.post("/api/bench/plan", self.asked(**changes)), 422, field, words)


class WhatIf(BenchCase):
    def asked_for(self, path, tag, **more):
        return self.post(f"/api/bench/{path}", {"bench": self.asked(), "pack": f"owned:{tag}", **more})

    def test_plain_beside_balance(self):
        """03 has a lazy cell: plain charging takes the others over 4.2 V, balancing does not."""
        found = self.asked_for("curves", "03").json()
        self.assertEqual((found["plain"]["over_full"], found["balance"]["over_full"]), ([0, 1, 2], []))
        self.assertGreater(max(map(max, found["plain"]["cell_v"])), 4.22)
        self.assertLessEqual(max(map(max, found["balance"]["cell_v"])), 4.2001)
        self.assertIn("pass 4.20 V", found["plain"]["sentence"])

    def test_to_storage(self):
        """05 from 4.06 V: hours on the 6 W charger, and minutes in the Ptarmigan instead."""
        found = self.asked_for("storage", "05", model="ptarmigan").json()
        ways = {w["charger_name"]: w for w in found["ways"]}
        self.assertGreater(ways["Cairn Sixty"]["hours"], 3)
        self.assertLess(ways["Skerry Four"]["hours"], ways["Cairn Sixty"]["hours"])
        self.assertIn("run it in Ptarmigan", found["run_down"])
        self.assertNotIn("Skerry Brine", ways)

    def test_order_and_refusals(self):
        """What to set and the steps; an unread pack, a charger that cannot, packs that may not be joined."""
        body = {
            "bench": self.asked(),
            "packs": ["owned:31", "owned:32"],
            "charger": self.charger("Skerry Four"),
            "port": 1,
        }
        order = self.post("/api/bench/order", body).json()
        # 2.6 and 3.0 Ah at 1C would be 5.6 A, but they differ, and the emptier one gets more at first
        self.assertEqual((order["cells"], order["current_a"], order["end_v"]), (4, 5.0, 16.8))
        self.assertEqual(
            [s["id"] for s in order["steps"]], ["place", "set", "lead", "main", "balance", "confirm"]
        )
        self.post("/api/keep/packs/14/looks", {"at_room": True})
        for changes, field, words in (
            ({"packs": ["owned:14"]}, "packs", "Read it again"),
            ({"packs": ["owned:08"]}, "packs", "may not be charged"),
            ({"packs": ["owned:01", "owned:05"]}, "packs", "rush|differs"),
            ({"charger": self.charger("Skerry Brine")}, "charger", "NiMH only"),
            ({"charger": "999"}, "charger", "no such charger"),
        ):
            with self.subTest(words):
                self.assert_problem(self.post("/api/bench/order", {**body, **changes}), 422, field, words)


class Kept(BenchCase):
    def put(self, body):
        return self.client.put("/api/bench", json.dumps(body), content_type="application/json")

    def test_the_layout_comes_back_as_typed(self):
        """Half a line, too: nothing typed is lost."""
        body = {**self.bench, "laid": [{"pack": "owned:01", "cells": "3.71 3.7"}], "house_rules": "field_day"}
        self.assertEqual(self.put(body).status_code, 200)
        kept = self.client.get("/api/bench").json()["bench"]
        self.assertEqual((kept["laid"][0]["cells"], kept["house_rules"]), ("3.71 3.7", "field_day"))
        self.assert_problem(self.put({**body, "house_rules": "x"}), 422, "house_rules")
        self.assertEqual(Layout.objects.get().document["house_rules"], "field_day")

    def test_packs_that_have_gone_are_left_out(self):
        """And a new database has an empty bench."""
        OwnedPack.live.filter(tag="01").update(removed=timezone.now(), updated=timezone.now())
        self.assertNotIn("owned:01", str(self.client.get("/api/bench").json()))
        Layout.objects.all().delete()
        self.assertEqual(self.client.get("/api/bench").json()["bench"]["laid"], [])

    def test_out_of_use_and_back(self):
        """A swollen pack is taken out of use from the bench, and that can be undone."""
        made = self.post("/api/bench/retire", {"pack": "owned:31", "why": "swollen"}).json()["change"]
        pack = OwnedPack.live.get(tag="31")
        self.assertEqual((pack.fit, pack.note), (False, "swollen"))
        self.assertEqual(self.post(f"/api/gear/changes/{made['id']}/undo", {}).status_code, 200)
        self.assertTrue(OwnedPack.live.get(tag="31").fit)
        self.assert_problem(self.post("/api/bench/retire", {"pack": "owned:77"}), 422, "pack", "no pack 77")

    def test_the_checker(self):
        """Linked, it reads and the reading is kept; without one it says what to do."""
        self.assert_problem(self.post("/api/bench/read", {"pack": "owned:14"}), 422, "pack", "Type the cells")
        server = checker.serve(0)
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        file = Path(self.folder.name) / "devices.json"
        file.write_text(json.dumps({"checker": f"127.0.0.1:{server.port}"}))
        read = self.post("/api/bench/read", {"pack": "owned:14"}).json()
        kept = events("14", kind="reading")[-1]
        self.assertEqual((kept.by, len(kept.cell_v)), ("checker", 2))
        self.assertEqual(self.client.get("/api/keep/packs/14").json()["line"]["cell_v"], kept.cell_v)
        self.assertEqual([float(v) for v in read["cells"].split()], kept.cell_v)
        file.write_text(json.dumps({"checker": "127.0.0.1:1"}))
        self.assert_problem(
            self.post("/api/bench/read", {"pack": "owned:14"}), 422, "pack", "does not answer"
        )
