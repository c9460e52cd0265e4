"""What once lost data or misled: each of these was wrong before."""

import sqlite3
import tempfile
from pathlib import Path

from django.db.models import ProtectedError
from django.test import TransactionTestCase

from coldstack.server.charges.ending import end
from coldstack.server.charges.models import Charge
from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.life.models import Event
from coldstack.server.worlds.backup import files_of, restore
from tests.demo_world import demo_world
from tests.lives import told
from tests.server.case import DemoCase


class RestoreBesideALog(TransactionTestCase):
    def test_a_leftover_log_does_not_touch_what_is_restored(self):
        """The log of a database that was moved away is moved aside too; what is restored is the
        backup, whole."""
        demo_world()
        with tempfile.TemporaryDirectory() as name:
            backup, target = Path(name) / "backup.sqlite3", Path(name) / "data" / "cold-stack.sqlite3"
            backup.write_bytes(self.client.get("/api/files/backup.sqlite3").content)
            target.parent.mkdir()
            target.write_bytes(backup.read_bytes())
            old = sqlite3.connect(target)
            old.execute("PRAGMA journal_mode=WAL")
            old.execute("UPDATE gear_ownedpack SET name = 'an older one'")
            old.commit()
            wal, index = (f.read_bytes() for f in files_of(target)[1:])
            old.close()
            target.unlink()
            for file, content in zip(files_of(target)[1:], (wal, index), strict=True):
                file.write_bytes(content)
            restore(backup, target)
            with sqlite3.connect(target) as link:
                self.assertEqual(link.execute("PRAGMA integrity_check").fetchone()[0], "ok")
                names = {n for (n,) in link.execute("SELECT name FROM gear_ownedpack")}
            self.assertEqual(names, set(OwnedPack.objects.values_list("name", flat=True)))
            self.assertEqual(len(list(target.parent.glob("*.aside-1"))), 2)


class UndoKeepsHistory(DemoCase):
    def test_undoing_an_added_pack_withdraws_it_only(self):
        """Its runs, notes and checks stay, and would be there again with it."""
        made = self.post(
            "/api/gear/packs",
            {
                "name": "Mine",
                "chemistry": "lipo",
                "series": 3,
                "capacity_ah": 2.2,
                "mass_g": 180,
                "tag": "M1",
            },
        ).json()
        pk = made["row"]["id"]
        told("M1", "run", model="ptarmigan", minutes=6)
        told("M1", "note", text="a scratch")
        told("M1", "state", state="full")
        self.assertEqual(self.post(f"/api/gear/changes/{made['change']['id']}/undo", {}).status_code, 200)
        self.assertFalse(OwnedPack.live.filter(pk=pk).exists())
        self.assertEqual(Event.standing.filter(pack_id=pk).count(), 3)
        with self.assertRaises(ProtectedError):
            OwnedPack.objects.get(pk=pk).delete()
        with self.assertRaises(ProtectedError):
            Event.objects.filter(pack_id=pk).delete()


class ChargeEndsOnce(DemoCase):
    def test_stopped_twice_it_is_logged_once(self):
        """By a hand and by the watch, each with the charge as it saw it before the other wrote."""
        common = {"charger_name": "Skerry Four", "port": 1, "run": "r", "settings": {}, "expected": {}}
        pk = Charge.objects.create(label="01", **common).pk
        Charge.objects.get(pk=pk).members.set([OwnedPack.live.get(tag="01")])
        charge = Charge.objects.get(pk=pk)
        charge.samples.create(seq=1, time_s=0, cell_v=[3.8] * 4, current_a=3, mah=0)
        charge.expected = {
            "chemistry": "lipo",
            "series": 4,
            "capacity_ah": 3.7,
            "current_a": 3.7,
            "full_cell_v": 4.2,
            "timer_s": 1.0,
            "cutoff_mah": 1.0,
            "look_every_s": 60.0,
            "supply_min_v": None,
            "cells": [{"soc": 0.5}],
        }
        charge.save()
        by_hand, by_watch = Charge.objects.get(pk=pk), Charge.objects.get(pk=pk)
        before = Event.objects.count()
        end(by_hand, "stopped", "stopped by hand")
        end(by_watch, "done", "full")
        self.assertEqual(Event.objects.count(), before + 1)
        self.assertEqual((by_watch.state, by_watch.ended_why), ("stopped", "stopped by hand"))


class ToBeRetired(DemoCase):
    def setUp(self):
        for _ in range(6):
            told("04", "reading", soc=0.6, temperature_c=25, cell_mohm=[2.4, 2.4, 2.4, 9.0])
        self.assertEqual(self.client.get("/api/keep/packs/04").json()["line"]["level"], "retire")

    def test_sizing_does_not_offer_it(self):
        """Nor as half of a pair."""
        ids = self.plan()["field"]["ids"]
        self.assertEqual([i for i in ids if i.endswith("owned:04")], [])
        self.assertIn("owned:01", ids)

    def test_match_refuses_it_both_ways(self):
        """Into the model and onto the charger, with the sign that retires it."""
        found = self.post("/api/match", {"job": self.job(), "pack": "owned:04", "charge": {}}).json()
        self.assertRegex(found["drive"]["fit"]["sentence"], "retired")
        self.assertFalse(found["charge"]["possible"])
        row = next(p for p in self.post("/api/match/grid", {}).json()["packs"] if p["tag"] == "04")
        self.assertEqual({c["verdict"] for c in row["models"] + row["chargers"]}, {"wont"})

    def test_the_bench_keeps_it_out_of_every_batch(self):
        """An inspection that finds nothing does not make it usable."""
        laid = [{"pack": "owned:04", "cells": "3.8 3.8 3.8 3.8"}]
        plan = self.post("/api/bench/plan", {"laid": laid, "at": "2026-11-25T18:00:00"}).json()
        self.assertEqual(plan["batches"], [])

    def test_the_day_does_not_run_it(self):
        """Neither as the pack of which there are many, nor along."""
        body = {"model": "ptarmigan", "pack": "04", "packs": 2, "ports": 1}
        self.assert_problem(self.post("/api/run/day", body), 422, "pack", "not to be run")
        body = {"model": "ptarmigan", "pack": "01", "packs": 0, "ports": 1, "own": ["04"]}
        self.assert_problem(self.post("/api/run/day", body), 422, "own", "not to be run")


class ChangingSomeFields(DemoCase):
    def test_a_new_name_leaves_newer_figures_alone(self):
        """A sheet opened before the draw was changed sends the name, not the old job."""
        row = RcModel.objects.get(slug="stoat")
        job = self.job("stoat", draw={"average_a": 31.5})
        self.client.put("/api/models/stoat/job", job, content_type="application/json")
        reply = self.client.patch(
            f"/api/gear/models/{row.pk}", {"name": "Weasel"}, content_type="application/json"
        )
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        row.refresh_from_db()
        self.assertEqual(
            (row.name, row.job["name"], row.job["draw"]["average_a"]), ("Weasel", "Weasel", 31.5)
        )
        self.assertEqual(row.slug, "stoat")

    def test_a_field_that_cannot_be_is_refused(self):
        """By name; and one that no pack has."""
        pk = OwnedPack.live.get(tag="01").pk
        self.assert_problem(
            self.client.patch(f"/api/gear/packs/{pk}", {"mass_g": -1}, content_type="application/json"),
            422,
            "mass_g",
        )
        self.assert_problem(
            self.client.patch(f"/api/gear/packs/{pk}", {"colour": "red"}, content_type="application/json"),
            422,
            "colour",
        )
