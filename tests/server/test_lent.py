"""A pack of unknown past: read cell by cell, charged gently, run short, until three records say otherwise; a
friend's taken in by one line and given back with its history kept."""

from __future__ import annotations

import math
from datetime import timedelta

from django.utils import timezone

from coldstack.core.packs.keys import owned_key
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.lives import told
from tests.server.test_run import RunCase

LINE, FULL = "K3 4S 4000 35C XT60", "4.19 4.18 4.19 4.18"


class LentCase(RunCase):
    def take_in(self, line=LINE):
        return self.post("/api/lent", {"line": line})


class ItsCare(LentCase):
    def setUp(self):
        self.take_in()

    def read(self, cells=FULL):
        return self.go("K3", cells=cells).json()

    def test_run_short(self):
        """Seven tenths of the minutes and mAh of the same pack whose past is known, and it says why."""
        short = self.read()
        OwnedPack.live.filter(tag="K3").update(unknown_past=False, updated=timezone.now())
        whole = self.read()
        self.assertAlmostEqual(short["timer_s"], 0.7 * whole["timer_s"], delta=10)
        self.assertAlmostEqual(short["minutes"], 0.7 * whole["minutes"], delta=0.01)
        self.assertAlmostEqual(short["budget_mah"], 0.7 * whole["budget_mah"], delta=1)
        self.assertEqual(short["verdict"], "careful")
        self.assertIn(
            "Its past is unknown until 3 charges", " ".join(r["sentence"] for r in short["reasons"])
        )
        self.assertIn("its past is unknown", str(short["working"]))

    def test_the_same_in_the_list_and_in_the_day(self):
        """Minutes of the run list and of tomorrow are those that it may be run."""
        told("K3", "charge", ended="done")
        listed, wanted = self.listed(), {"wishes": [{"model": "ptarmigan", "flights": 1}]}
        day = {**wanted, "at": "2026-11-30T18:00", "start": "2026-12-01T10:00"}
        OwnedPack.live.exclude(tag="K3").update(fit=False, updated=timezone.now())
        (run,) = self.post("/api/tomorrow/plan", day).json()["flights"]
        self.assertEqual((run["tag"], run["minutes"]), ("K3", math.ceil(listed)))
        OwnedPack.live.filter(tag="K3").update(unknown_past=False, updated=timezone.now())
        self.assertAlmostEqual(listed, 0.7 * self.listed(), delta=0.01)

    def listed(self):
        packs = self.client.get("/api/run/packs", {"model": "ptarmigan"}).json()
        return next(p["minutes"] for p in packs if p["tag"] == "K3")

    def test_every_cell_is_read(self):
        """By the whole pack's volts, or as noted, it is not run."""
        for cells in ("16.7", ""):
            if not cells:
                told("K3", "state", state="full")
            found = self.read(cells)
            self.assertEqual(found["verdict"], "no_go", found["reasons"])
            self.assertIn("unknown_cells", {r["id"] for r in found["reasons"]})

    def test_charged_gently(self):
        """Half of C, and said at the gate."""
        bench = {"laid": [{"pack": owned_key("K3"), "cells": "3.80 3.81 3.80 3.80", "temperature_c": 20}]}
        self.post("/api/keep/packs/K3/looks", {"signs": [], "at_room": True})
        plan = self.post("/api/bench/plan", bench).json()
        self.assertEqual([b["charge_c"] for b in plan["batches"]], [0.5])
        self.assertIn("unknown_past", {f["id"] for f in plan["laid"][0]["findings"]})

    def test_three_records(self):
        """A run, a charge, a check: then it is a pack like any other. A note or a look tells nothing."""
        hour = timezone.now() - timedelta(hours=5)
        told("K3", "note", at=hour, text="from the club")
        told("K3", "inspection", at=hour)
        self.assertEqual(self.wanted(), 3)
        told("K3", "run", at=hour + timedelta(hours=1), minutes=8, landing_cell_v=3.8)
        told("K3", "charge", at=hour + timedelta(hours=3), ended="done", mah=2200)
        self.assertEqual(self.wanted(), 1)
        self.assertIn("one charge, run or check more", str(self.read()["reasons"]))
        told("K3", "reading", at=hour + timedelta(hours=4), cell_mohm=[5, 5, 5, 5], temperature_c=20)
        self.assertEqual(self.wanted(), 0)
        self.assertNotIn("unknown_past", {r["id"] for r in self.read()["reasons"]})

    def wanted(self):
        page = self.client.get("/api/keep/packs/K3").json()
        self.assertEqual(page["records_wanted"] > 0, "past is unknown" in page["line"]["verdict"])
        return page["records_wanted"]

    def test_a_used_pack_of_ones_own(self):
        """The same, without being lent: ticked with its figures."""
        row = OwnedPack.live.get(tag="04")
        row.unknown_past = True
        row.save()
        self.assertEqual(self.client.get("/api/keep/packs/04").json()["records_wanted"], 0)  # it has a life
        told("04", "note", text="changed")
        self.assertNotIn("unknown_past", {r["id"] for r in self.go("04").json()["reasons"]})

    def test_two_together(self):
        """One of unknown past makes the pair one."""
        self.take_in("K4 4S 4000 35C XT60")
        OwnedPack.live.filter(tag="K4").update(unknown_past=False, updated=timezone.now())
        found = self.go("K3+K4", cells=f"{FULL} + {FULL}").json()
        self.assertIn("unknown_past", {r["id"] for r in found["reasons"]})

    def test_the_kit_is_as_strict(self):
        """Without a line: the same part of a run, and no go by the whole pack's volts."""
        kit = self.client.get("/api/run/kit?model=ptarmigan&pack=K3").json()["kits"][0]["kit"]
        here = self.read("4.19 4.19 4.19 4.19")
        row = [r for r in kit["rows"] if r["from_v"] <= 4.19][-1]
        self.assertLessEqual(row["answers"][0]["timer_s"], here["timer_s"])
        self.assertLessEqual(row["budget_mah"], here["budget_mah"])
        self.assertIn("no_go", {r["verdict"] for r in kit["whole"]["reasons"]})
        self.assertIn("unknown_past", {r["id"] for r in kit["reasons"]})


class TakenIn(LentCase):
    def test_and_given_back(self):
        """One line, one press; it comes again with its history, under its tag."""
        made = self.take_in().json()
        self.assertEqual((made["tag"], made["again"]), ("K3", False))
        told("K3", "run", minutes=8, landing_cell_v=3.8)
        pack = OwnedPack.live.get(tag="K3")
        self.assertEqual(self.post("/api/lent/K3/back", {}).status_code, 200)
        self.assertFalse(OwnedPack.live.filter(tag="K3").exists())
        self.assertTrue(Event.standing.filter(pack_id=pack.pk, kind="run").exists())
        again = self.take_in().json()
        self.assertTrue(again["again"])
        self.assertEqual(self.client.get("/api/keep/packs/K3").json()["records_wanted"], 2)

    def test_said_twice(self):
        """Sent again under its key it is one pack and one change; that of another key is another's."""
        first = self.post("/api/lent", {"line": LINE, "key": "0123456789"}).json()
        again = self.post("/api/lent", {"line": LINE, "key": "0123456789"})
        self.assertEqual(again.status_code, 201)
        self.assertEqual(again.json(), first)
        self.assertEqual(OwnedPack.live.filter(tag="K3").count(), 1)
        of_another = self.post("/api/lent", {"line": "K4 3S 2200", "key": "0123456789"})
        self.assert_problem(of_another, 422, "key", "another pack")
        other = self.post("/api/lent", {"line": LINE, "key": "9876543210"})
        self.assert_problem(other, 422, "line", "already")

    def test_each_act_is_undone(self):
        """Taken in, given back, taken in again."""
        for act in (
            lambda: self.take_in(),
            lambda: self.post("/api/lent/K3/back", {}),
            lambda: self.take_in(),
        ):
            there = OwnedPack.live.filter(tag="K3").exists()
            made = act().json()
            change = made.get("change", made)["id"]
            self.assertNotEqual(OwnedPack.live.filter(tag="K3").exists(), there)
            self.assertEqual(self.post(f"/api/gear/changes/{change}/undo", {}).status_code, 200)
            self.assertEqual(OwnedPack.live.filter(tag="K3").exists(), there)
            self.post(f"/api/gear/changes/{change}/redo", {})

    def test_another_pack_of_that_tag(self):
        """With other cells it is another pack, and has a life of its own."""
        self.take_in()
        told("K3", "run", minutes=8)
        self.post("/api/lent/K3/back", {})
        self.assertFalse(self.take_in("K3 3S 2200 40C").json()["again"])
        self.assertEqual(self.client.get("/api/keep/packs/K3").json()["records_wanted"], 3)

    def test_bad_input(self):
        """What is no pack, a tag that is taken, a pack of one's own."""
        self.assert_problem(self.take_in("K3 red"), 422, "line", "No cells in series")
        self.assert_problem(self.take_in("04 4S 4000 35C"), 422, "line", "already")
        self.assert_problem(self.post("/api/lent/04/back", {}), 422, "tag", "not lent")
        self.assert_problem(self.post("/api/lent/none/back", {}), 422, "tag")

    def test_in_files(self):
        """Its past goes out with its figures, and comes in."""
        self.take_in()
        text = self.client.get("/api/files/packs.csv").content.decode()
        header = text.splitlines()[0]
        self.assertIn("past", header.lower())
        self.assertIn("K3", text)
