"""Equipment through the API: its kinds, what follows from answers, kept and asked by every stage."""

from datetime import timedelta
from uuid import uuid4

from django.utils import timezone

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.lives import told
from tests.server.case import DemoCase

RECEIVER = {
    "kind": "receiver",
    "load_a": 0.8,
    "burst_a": 5,
    "burst_s": 0.5,
    "burst_every_s": 10,
    "hours": 6,
    "least_v": 5,
    "most_v": 6.6,
    "regulator": "switching",
    "out_v": 6,
    "regulator_max_v": 13,
}


class Equipment(DemoCase):
    def described(self, **changes):
        return self.post("/api/describe-equipment", {"equipment": {**RECEIVER, **changes}, "plug": "xt60"})

    def kept(self, name="Osprey receiver", **changes):
        """Its address, once it is kept."""
        found = self.described(**changes).json()
        model = {"name": name, "description": found["description"], "job": found["job"]}
        return self.post("/api/gear/models", model).json()["row"]["slug"]

    def test_the_kinds_begin_with_usual_figures(self):
        """Each can be described as it stands."""
        kinds = self.client.get("/api/equipment-kinds").json()
        self.assertIn("transmitter", [k["id"] for k in kinds])
        for k in kinds:
            got = self.post("/api/describe-equipment", {"equipment": k["equipment"]})
            self.assertEqual(got.status_code, 200, got.content)

    def test_what_follows(self):
        """Hours with their reserve, the window before the regulator, the job to keep."""
        found = self.described().json()
        self.assertIn("12 h 00 min", found["lasts"])
        self.assertIn("50 % is used", found["lasts"])
        self.assertTrue(found["window"].startswith("5.4 V at the least under a burst, 13 V at the most"))
        self.assertEqual(found["job"]["motion"], "steady_load")

    def test_it_is_asked_by_every_stage(self):
        """Sized, matched, in the grid, run with its reserve, on a pack's page; with the same verdict."""
        slug = self.kept()
        job = RcModel.live.get(slug=slug).job
        plan = self.post("/api/sizing/plan", {"job": job}).json()
        self.assertIn("12 hours", plan["headline"])
        self.assertEqual(plan["wanted_min"], 720)
        match = self.post("/api/match", {"job": job, "pack": "owned:09"}).json()
        self.assertEqual(match["drive"]["fit"]["verdict"], "does")
        self.assertNotIn("Controller", [x["name"] for x in match["drive"]["joints"]])
        packs = self.client.get(f"/api/run/packs?model={slug}").json()
        mine = next(p for p in packs if p["tag"] == "09")
        self.assertEqual(mine["fit"], "does")
        page = self.client.get("/api/keep/packs/09").json()
        self.assertEqual(next(m for m in page["models"] if m["slug"] == slug)["fit"], "does")
        cells = {"model": slug, "pack": "09", "cells": "4.2 4.2 4.2"}
        go = self.post("/api/run/go", cells).json()
        self.assertTrue(4 * 3600 < go["timer_s"] < 0.52 * 60 * mine["minutes"], go["timer_s"])
        self.assertIn("reserve", str(go["working"]))

    def test_an_edit_moves_the_load_that_is_kept(self):
        """A job kept with its equipment carries the load of now, whatever was sent as its draw."""
        slug = self.kept()
        job = RcModel.live.get(slug=slug).job
        edited = {**job, "equipment": {**job["equipment"], "load_a": 2 * job["equipment"]["load_a"]}}
        put = self.client.put(f"/api/models/{slug}/job", edited, content_type="application/json")
        self.assertEqual(put.status_code, 200, put.content)
        kept = RcModel.live.get(slug=slug).job["draw"]
        self.assertGreater(kept["average_a"], 1.5 * job["draw"]["average_a"])
        self.assertGreater(kept["peak_a"], job["draw"]["peak_a"] - 1e-9)

    def test_a_pack_that_sags_below_what_it_accepts(self):
        """Wants more than two cells hold under the burst: refused, with those volts."""
        job = self.described(least_v=7.9, most_v=12, out_v=8.4).json()["job"]
        match = self.post("/api/match", {"job": job, "pack": "owned:13"}).json()
        self.assertEqual(match["drive"]["fit"]["verdict"], "wont")
        self.assertRegex(
            match["drive"]["fit"]["sentence"], r"down to \d(\.\d+)? V at the device under a burst, 7.9 V"
        )

    def test_no_turns_and_no_lessons(self):
        """Neither a day of runs nor the day ahead is planned for it, and its runs teach no draw: said so."""
        slug = self.kept()
        day = self.post("/api/run/day", {"model": slug, "pack": "09", "hours": 5})
        self.assert_problem(day, 422, "model", "for hours")
        told = {"begin": "2026-11-26T10:00:00+00:00", "wishes": [{"model": slug, "runs": 2}]}
        ahead = self.post("/api/tomorrow/plan", told)
        self.assertEqual(ahead.status_code, 422)
        for _ in range(4):
            run = {"model": slug, "pack": "09", "minutes": 60, "put_back_mah": 900}
            self.post("/api/runs", {**run, "key": str(uuid4()), "at": timezone.now().isoformat()})
        self.assertIsNone(self.client.get(f"/api/runs?model={slug}").json()["learned"])
        job = RcModel.live.get(slug=slug).job
        self.assertIn("told", self.post("/api/sizing/estimate", {"job": job}).json()["none"])

    def test_in_the_box_it_counts_for_its_hours(self):
        """One pack a day, of which the hours wanted are run, however long it lasts."""
        slug = self.kept()
        mine = next(m for m in self.client.get("/api/keep/box").json()["models"] if m["slug"] == slug)
        self.assertEqual((mine["runs_a_day"], mine["by"]), (1, "assumed"))

    def test_refused_at_its_field(self):
        """What cannot be, named as it was asked."""
        for change, field in (
            ({"load_w": 5}, "equipment.load_a"),
            ({"out_v": None}, "equipment.out_v"),
            ({"burst_every_s": 0.5}, "equipment.burst_every_s"),
            ({"hours": 1000}, "equipment.hours"),
        ):
            with self.subTest(field):
                self.assert_problem(self.described(**change), 422, field)

    def test_a_pack_on_light_duty_at_the_bench(self):
        """What it still runs there; a good one has no such list."""
        self.assertEqual(self.client.get("/api/keep/packs/09").json()["bench"], [])
        first = self.client.get("/api/keep/packs/07").json()["resistance"]["first"]
        pack, start = OwnedPack.live.get(tag="07"), timezone.now() - timedelta(days=20)
        for n in range(30):
            at, cells = start + timedelta(days=n / 2), [2.6 * first] * pack.series
            told(pack, "charge", at=at, ended="done", temperature_c=20, soc=0.5, cell_mohm=cells)
        page = self.client.get("/api/keep/packs/07").json()
        self.assertEqual(page["line"]["level"], "light")
        bench = page["bench"]
        self.assertIn("a lamp for 12 V", [u["name"] for u in bench])
