"""Go or no go over the API, runs kept once, and the draw they teach."""

import uuid
from datetime import timedelta

from django.utils import timezone

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.lives import events, told
from tests.server.case import DemoCase


class RunCase(DemoCase):
    def go(self, pack="04", cells="4.19 4.18 4.19 4.19", model="ptarmigan", **more):
        return self.post("/api/run/go", {"model": model, "pack": pack, "cells": cells, **more})

    def log(self, minutes=10.0, mah=None, key=None, pack="04", **more):
        body = {
            "key": key or str(uuid.uuid4()),
            "model": "ptarmigan",
            "pack": pack,
            "at": timezone.now().isoformat(),
            "minutes": minutes,
            "put_back_mah": mah,
            **more,
        }
        return self.post("/api/runs", body)

    def mend(self, run, **better):
        return self.post(f"/api/runs/{run}/mended", better)

    def pack_now(self, tag="04"):
        return self.client.get(f"/api/keep/packs/{tag}").json()["line"]


class Go(RunCase):
    def test_go(self):
        """A full pack: timer, mAh, alarm for four cells."""
        found = self.go().json()
        self.assertEqual(found["verdict"], "go")
        self.assertAlmostEqual(found["alarm_v"], 4 * found["alarm_cell_v"])
        self.assertTrue(3.4 <= found["alarm_cell_v"] <= 3.65)
        self.assertTrue(600 < found["timer_s"] < 60 * found["minutes"])

    def test_the_clubs_lazy_and_swollen_packs(self):
        """No go, whatever their cells read today."""
        self.assertEqual(self.go("03").json()["verdict"], "no_go")
        self.assertEqual(self.go("08", "4.19 4.19 4.19", model="grebe").json()["verdict"], "no_go")

    def test_an_ageing_pack_has_less(self):
        """18 with its capacity of today: less mAh than its label's share."""
        found = self.go("18", "4.19 4.19 4.19 4.19 4.19 4.19", model="fieldfare").json()
        self.assertLess(found["budget_mah"], 0.9 * 0.8 * 8000)

    def test_house_rules_follow(self):
        """Field day lands later than Long life: more minutes, more mAh."""
        budgets = []
        for rules in ("long_life", "field_day"):
            row = RcModel.live.get(slug="ptarmigan")
            row.job = {**row.job, "house_rules": rules}
            row.save()
            budgets.append(self.go().json()["budget_mah"])
        self.assertLess(budgets[0], budgets[1])

    def test_bad_input(self):
        """Unknown pack or model, cells that are none, too few of them."""
        self.assert_problem(self.go("99"), 422, "pack", "no pack 99")
        self.assert_problem(self.go(model="zeppelin"), 404)
        self.assert_problem(self.go(cells="full"), 422, "cell_v", "“full”")
        self.assert_problem(self.go(cells="4.19"), 422, "cell_v", "one cell’s, and the pack has 4")


class Runs(RunCase):
    def test_kept_once_however_often_it_is_sent(self):
        """The same key three times: one run, one record, the pack spent."""
        key = str(uuid.uuid4())
        replies = {self.log(key=key).json()["id"] for _ in range(3)}
        (run,) = events("04", kind="run")
        self.assertEqual((len(replies), run.key, run.minutes), (1, key, 10.0))
        self.assertEqual(self.pack_now()["charge"], "spent")

    def test_ten_runs_teach_the_draw(self):
        """Average and range from the log; Size then says where it comes from; the peak stays."""
        for n in range(10):
            self.log(10 + n % 3, 2000 + 60 * n)
        found = self.client.get("/api/runs?model=ptarmigan").json()
        minutes, mah = sum(10 + n % 3 for n in range(10)), sum(2000 + 60 * n for n in range(10))
        self.assertAlmostEqual(found["learned"]["average_a"], mah / 1000 / (minutes / 60))
        before = RcModel.live.get(slug="ptarmigan").job["draw"]
        self.assertEqual(self.post("/api/runs/learn?model=ptarmigan", {}).status_code, 200)
        draw = RcModel.live.get(slug="ptarmigan").job["draw"]
        self.assertEqual(
            (draw["source"], draw["source_note"], draw["peak_a"]), ("log", "10 runs logged", before["peak_a"])
        )
        self.assertAlmostEqual(draw["average_a"], found["learned"]["average_a"], places=1)
        self.assertNotEqual(draw["average_a"], before["average_a"])

    def test_a_slip_in_what_went_back_teaches_nothing(self):
        """Ten times what the pack holds: kept, asked, not counted; put right, it counts."""
        for minutes, mah in ((10, 2300), (11, 2500), (9, 2150)):
            self.log(minutes, mah)
        before = self.client.get("/api/runs?model=ptarmigan").json()["learned"]
        slip = self.log(10, 23_400).json()
        told = self.client.get("/api/runs?model=ptarmigan").json()
        self.assertEqual(told["learned"], before)
        run = next(x for x in told["runs"] if x["id"] == slip["id"])
        self.assertEqual(run["question"]["meant"], 2340)
        self.assertEqual([x["question"] for x in told["runs"] if x["id"] != slip["id"]], [None] * 3)
        page = self.client.get("/api/keep/packs/04").json()
        self.assertEqual([x["question"] for x in page["runs"]], [run["question"], None, None, None])
        self.assertEqual(run["question"]["field"], "put_back_mah")
        self.mend(slip["id"], put_back_mah=run["question"]["meant"])
        self.assertEqual(self.client.get("/api/runs?model=ptarmigan").json()["learned"]["count"], 4)

    def test_a_slip_in_the_minutes(self):
        """A tenfold run: asked on both pages, teaches nothing; its owner is sure, and it counts."""
        for minutes, mah in ((10, 2300), (11, 2500), (9, 2150)):
            self.log(minutes, mah)
        before = self.client.get("/api/runs?model=ptarmigan").json()["learned"]
        slip = self.log(104, 2400).json()
        self.assertEqual((slip["question"]["field"], slip["question"]["meant"]), ("minutes", 10.4))
        told = self.client.get("/api/runs?model=ptarmigan").json()
        self.assertEqual(told["learned"], before)
        page = self.client.get("/api/keep/packs/04").json()
        self.assertEqual(page["runs"][0]["question"], slip["question"])
        sure = self.mend(slip["id"], sure=True).json()
        self.assertEqual((sure["question"], sure["minutes"]), (None, 104))
        self.assertEqual(self.client.get("/api/runs?model=ptarmigan").json()["learned"]["count"], 4)
        self.mend(sure["id"], minutes=10.4)
        self.assertAlmostEqual(
            self.client.get("/api/runs?model=ptarmigan").json()["learned"]["average_a"], 13.8, delta=0.5
        )

    def test_landing_volts_teach_where_nothing_was_put_back(self):
        """Three runs by their volts at rest: an average, and how many of them; what was put back counts
        before the volts."""
        for volts in (3.72, 3.71, 3.73):
            self.log(12, landing_cell_v=volts)
        found = self.client.get("/api/runs?model=ptarmigan").json()["learned"]
        self.assertEqual((found["count"], found["by_volts"]), (3, 3))
        # from full to about a quarter of 4 Ah in 12 min
        self.assertTrue(13 < found["average_a"] < 17)
        self.log(12, 2000, landing_cell_v=3.72)
        self.assertEqual(self.client.get("/api/runs?model=ptarmigan").json()["learned"]["by_volts"], 3)

    def test_the_landing_says_what_is_left(self):
        """Landed early the pack is part full or at storage; without volts it is taken as spent."""
        for volts, state in (
            (4.05, "part"),
            (3.82, "stored"),
            (3.65, "spent"),
            (2.9, "too_low"),
            (None, "spent"),
        ):
            with self.subTest(volts):
                self.log(3, landing_cell_v=volts, at=timezone.now().isoformat())
                self.assertEqual(self.pack_now()["charge"], state)

    def test_put_back_later(self):
        """A run is logged in the field and completed after the charge."""
        run = self.log().json()["id"]
        self.assertEqual(self.mend(run, put_back_mah=2345).json()["put_back_mah"], 2345)
        self.assert_problem(self.mend(9999, put_back_mah=1), 404)

    def test_too_early_and_bad_input(self):
        """Two runs teach nothing; no minutes, an unknown pack or model are refused."""
        self.log(10, 2000)
        self.log(10, 2000)
        self.assert_problem(self.post("/api/runs/learn?model=ptarmigan", {}), 422, "model", "Too early")
        self.assert_problem(self.log(0), 422, "minutes")
        self.assert_problem(self.log(pack="99"), 422, "pack", "no pack 99")
        self.assert_problem(self.log(model="zeppelin"), 422, "model", "no such model")
        self.assert_problem(self.log(at="2026-11-25T12:00:00"), 422, "at")

    def test_a_removed_packs_runs_stay(self):
        """Its log is not lost."""
        self.log(10, 2000)
        pack = OwnedPack.live.get(tag="04")
        self.client.delete(f"/api/gear/packs/{pack.pk}")
        self.assertEqual(len(self.client.get("/api/runs?model=ptarmigan").json()["runs"]), 1)


class TheDay(RunCase):
    def day(self, **changes):
        return self.post("/api/run/day", {"model": "ptarmigan", "pack": "04", "run_min": 9, **changes})

    def test_four_packs_and_one_small_port(self):
        """At 9 min with one 50 W port: none is ready after 48 min; how many packs and ports would do, and
        the Wh."""
        found = self.day(packs=4, ports=1, port_w=50).json()
        self.assertEqual(found["first_wait_min"], 48)
        self.assertIn("none is ready after 48 min", found["headline"])
        self.assertIsNone(found["fewest_ports"])
        self.assertTrue(found["both_packs"] > 4 and found["both_ports"] > 1)
        self.assertGreater(found["both_wh"], found["used_wh"])
        enough = self.day(packs=found["both_packs"], ports=found["both_ports"]).json()
        self.assertIsNone(enough["first_wait_min"])

    def test_a_field_supply_runs_out(self):
        """100 Wh in the box: one charge, the others stay spent."""
        found = self.day(supply_wh=100).json()
        self.assertLessEqual(found["used_wh"], 100)
        self.assertGreater(found["uncharged"], 0)

    def test_run_time_from_the_model(self):
        """Left empty, it is what the model does with this pack."""
        self.assertTrue(10 < self.day(run_min=None).json()["run_min"] < 20)

    def test_bad_input(self):
        """No port watts, no such pack or model, a day without hours."""
        self.assert_problem(self.day(port_w=0), 422, "port_w")
        self.assert_problem(self.day(pack="99"), 422, "pack")
        self.assert_problem(self.day(model="zeppelin"), 404)
        self.assert_problem(self.day(hours=0), 422, "hours")

    def test_the_packs_along(self):
        """04, charged, is full and runs first; 01 is spent and charges first; lanes bear their tags, and how
        many more are needed is said."""
        told("04", "charge", ended="done")
        found = self.day(packs=0, own=["04", "01"]).json()
        self.assertEqual(found["lanes"], ["04", "01"])
        first = {
            k: min((s for s in found["spans"] if s["pack"] == k), key=lambda s: s["start_min"])["stage"]
            for k in (0, 1)
        }
        self.assertEqual(first, {0: "run", 1: "charge"})
        self.assertEqual(self.day(packs=2, own=["04", "01"]).json()["lanes"], ["04", "01", "1", "2"])
        more = found["both_packs"]
        enough = self.day(packs=more, own=["04", "01"], ports=found["both_ports"]).json()
        self.assertIsNone(enough["first_wait_min"])

    def test_a_stored_pack_needs_less_than_a_spent_one(self):
        """Its first charge is shorter than those after it."""
        packs = self.client.get("/api/run/packs?model=grebe").json()
        stored = next(p["tag"] for p in packs if p["state"] == "stored" and p["runs"])
        day = self.day(packs=0, own=[stored], hours=8, model="grebe", pack=stored).json()
        spans = [s for s in day["spans"] if s["stage"] == "charge"]
        first, second = (s["end_min"] - s["start_min"] for s in spans[:2])
        self.assertLess(first, 0.8 * second)

    def test_bad_own_packs(self):
        """Not there; one that cannot run in it; none at all."""
        self.assert_problem(self.day(own=["99"]), 422, "own", "no pack 99")
        self.assert_problem(self.day(own=["15"], run_min=None), 422, "own", "15 in Ptarmigan: will not do")
        self.assert_problem(self.day(packs=0), 422, "packs")


class PacksForARun(RunCase):
    def test_what_fits_is_first_and_the_readiest_of_it(self):
        """By their verdict, of each full ones, then stored, then spent; what keeps one from it is said;
        retired ones are left out."""
        packs = self.client.get("/api/run/packs?model=ptarmigan").json()
        fits = [p["fit"] for p in packs]
        self.assertEqual(fits, sorted(fits, key=("does", "care", "unknown", "wont").index))
        self.assertEqual([p["tag"] for p in packs[:2]], ["05", "04"])
        states = [p["state"] for p in packs if p["fit"] == "care"]
        self.assertEqual(states, sorted(states, key=("full", "part", "stored", "spent").index))
        self.assertTrue(all(p["why"] for p in packs if p["fit"] != "does"))
        self.assertEqual({p["runs"] for p in packs if p["fit"] == "wont"}, {False})
        self.assertTrue(all(p["minutes"] is not None for p in packs if p["runs"]))
        self.assertFalse({"03", "08"} & {p["tag"] for p in packs})
        self.assertEqual(self.client.get("/api/run/packs?model=x").status_code, 404)


class OnTheBench(RunCase):
    def test_a_pack_that_was_just_run_waits(self):
        """Run five minutes ago it cools first, by the house rule; with its temperature it is judged by
        that."""
        bench = self.client.get("/api/bench").json()["bench"]
        line = next(x for x in bench["laid"] if x["pack"] == "owned:04")
        line["temperature_c"] = None
        self.log(at=(timezone.now() - timedelta(minutes=5)).isoformat())

        def found():
            laid = self.post("/api/bench/plan", bench).json()["laid"]
            return next(x for x in laid if x["pack"] == "owned:04")

        self.assertEqual(found()["outcome"], "wait")
        self.assertEqual((found()["state"], found()["cell_v"]), ("cooling", []))
        self.assertIn("It was run 5 min ago; house rules “Steady” let it cool for 30 min", str(found()))
        line |= {"cells": "3.70 3.70 3.70 3.70", "temperature_c": 19, "read_at": timezone.now().isoformat()}
        self.assertEqual(found()["outcome"], "unlooked")
        self.post("/api/keep/packs/04/looks", {})
        self.assertEqual(found()["outcome"], "pass")


class TakenAway(RunCase):
    def state(self):
        return self.pack_now()["charge"]

    def test_a_run_and_what_it_said_of_its_pack(self):
        """Gone from list, average and state; not kept again when sent again; back as it was."""
        key, before = str(uuid.uuid4()), self.state()
        self.log(minutes=9, mah=2000, key=key)
        self.assertEqual(self.state(), "spent")
        self.assertEqual(self.client.delete(f"/api/runs/{key}").status_code, 200)
        self.assertEqual(self.state(), before)
        self.assertEqual(self.client.get("/api/runs?model=ptarmigan").json()["runs"], [])
        self.log(minutes=9, mah=2000, key=key)
        self.assertEqual(self.client.get("/api/runs?model=ptarmigan").json()["runs"], [])
        for _ in range(2):
            self.assertEqual(self.post(f"/api/runs/{key}/back", {}).status_code, 200)
        self.assertEqual((self.state(), len(events("04", kind="run"))), ("spent", 1))
        self.assertEqual(self.client.delete("/api/runs/nobody-1").status_code, 404)

    def test_put_back_and_taken_away(self):
        """A run completed after its charge goes, and comes back, with what was put back."""
        key = str(uuid.uuid4())
        run = self.log(key=key).json()["id"]
        self.mend(run, put_back_mah=2345)
        self.client.delete(f"/api/runs/{key}")
        self.assertEqual(events("04", kind="run"), [])
        self.assertEqual(self.post(f"/api/runs/{key}/back", {}).json()["put_back_mah"], 2345)
