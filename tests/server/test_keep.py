"""The shelf and a pack's page in the demo world, and over three years of sixty packs."""

from datetime import timedelta

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from coldstack.server.gear.models import OwnedPack
from coldstack.server.logbook.models import PackRecord
from tests.server.case import DemoCase


class KeepCase(DemoCase):
    def shelf(self, rules="steady"):
        reply = self.client.get(f"/api/keep/shelf?house_rules={rules}")
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        return {g["doing"]: {p["tag"]: p for p in g["packs"]} for g in reply.json()["groups"]}

    def page(self, tag):
        reply = self.client.get(f"/api/keep/packs/{tag}")
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        return reply.json()


class Shelf(KeepCase):
    def test_the_clubs_packs_where_they_belong(self):
        """The lazy cell and the swollen one to be retired, the one left full overdue, the ageing one watched, a healthy one quiet."""
        shelf = self.shelf()
        self.assertEqual(set(shelf["retire"]), {"03", "08"})
        self.assertIn("Cell 4", shelf["retire"]["03"]["sign"])
        self.assertLess(shelf["storage"]["05"]["in_h"], -400)
        self.assertEqual(shelf["light"]["18"]["level"], "watch")
        self.assertEqual((shelf["stored"]["07"]["level"], shelf["stored"]["07"]["sign"]), ("fine", ""))

    def test_due_soonest_first(self):
        """Within bringing to storage."""
        groups = self.client.get("/api/keep/shelf").json()["groups"]
        due = [p["in_h"] for p in next(g for g in groups if g["doing"] == "storage")["packs"]]
        self.assertEqual(due, sorted(due))

    def test_house_rules_move_what_is_due(self):
        """Long life is overdue where Steady is not yet; Field day leaves a week."""
        self.assertLess(self.shelf("long_life")["storage"]["04"]["in_h"], 0)
        self.assertGreater(self.shelf("field_day")["storage"]["04"]["in_h"], 100)
        self.assert_problem(self.client.get("/api/keep/shelf?house_rules=x"), 422, "house_rules")

    def test_all_these_were_brought_to_storage(self):
        """In one go, taken back in one; a pack that is not there changes nothing."""
        made = self.post("/api/keep/left", {"packs": ["04", "05"], "state": "stored"}).json()
        self.assertIn("04, 05: brought to storage", made["label"])
        self.assertNotIn("05", self.shelf()["storage"])
        self.assertEqual(self.post("/api/keep/left/undo", {"records": made["records"]}).status_code, 200)
        self.assertIn("05", self.shelf()["storage"])
        before = PackRecord.objects.count()
        self.assert_problem(self.post("/api/keep/left", {"packs": ["04", "99"], "state": "stored"}), 422, "packs", "no pack 99")  # fmt: skip
        self.assertEqual(PackRecord.objects.count(), before)

    def test_many_at_once_cost_no_query_a_pack(self):
        """Twenty packs as many queries as two; each keeps its own count of charges."""
        tags = list(OwnedPack.live.values_list("tag", flat=True))
        with CaptureQueriesContext(connection) as few:
            self.post("/api/keep/left", {"packs": tags[:2], "state": "stored"})
        with CaptureQueriesContext(connection) as many:
            self.post("/api/keep/left", {"packs": tags[:20], "state": "stored"})
        self.assertEqual(len(many), len(few))
        for tag in tags[:3]:
            cycles = PackRecord.objects.filter(pack__tag=tag).order_by("-id").values_list("cycle", "source")
            charged = next(c for c, source in cycles if source == "charge")
            self.assertEqual(cycles[0][0], charged, tag)

    def test_only_what_was_noted_by_hand_is_taken_back(self):
        """A charge's record stays."""
        kept = PackRecord.objects.filter(source="charge").first()
        self.post("/api/keep/left/undo", {"records": [kept.pk]})
        self.assertTrue(PackRecord.objects.filter(pk=kept.pk).exists())

    def test_noted_again_it_is_still_as_old(self):
        """Full three weeks ago and full today is full for three weeks; charged again it is new."""
        self.post("/api/keep/left", {"packs": ["05"], "state": "full"})
        self.assertLess(self.shelf()["storage"]["05"]["in_h"], -400)
        PackRecord.objects.create(pack=OwnedPack.live.get(tag="05"), at=timezone.now(), state="full", cycle=99)  # fmt: skip
        self.assertGreater(self.shelf()["storage"]["05"]["in_h"], 40)


class Page(KeepCase):
    def test_a_lazy_cell(self):
        """Condemned, with its evidence and working, resistance by cell, and how to retire it."""
        page = self.page("03")
        self.assertEqual((page["line"]["level"], page["evidence"][0]["id"]), ("retire", "cell"))
        self.assertEqual(len(page["evidence"][0]["working"]["steps"]), 5)
        self.assertEqual(len(page["resistance"]["cells"]), 4)
        self.assertRegex(page["drain"], r"\d+ Ω, good for \d+ W: about \d+ h")
        self.assertEqual(len(page["retire"]), 5)

    def test_every_figure_has_its_working(self):
        """Honest C, the forecast, and for one that is due the due date."""
        page = self.page("05")
        self.assertEqual(set(page["workings"]), {"honest_c", "forecast", "due"})
        self.assertEqual(page["workings"]["due"]["steps"][-1]["label"], "Overdue")
        self.assertNotIn("due", self.page("07")["workings"])

    def test_an_ageing_pack(self):
        """Half as much resistance again, its capacity going, and how many cycles are left."""
        page = self.page("18")
        self.assertRegex(page["forecast"], r"About \d+ cycles? left")
        self.assertTrue(0.8 < page["capacity_share"] < 0.9)
        self.assertLess(page["honest_c"], 30)

    def test_unknown(self):
        """404, as a problem."""
        self.assert_problem(self.client.get("/api/keep/packs/99"), 404)

    def test_a_new_pack(self):
        """Nothing known: too early, not accused."""
        self.post("/api/gear/packs", {"tag": "40", "name": "New", "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "mass_g": 180})  # fmt: skip
        page = self.page("40")
        self.assertEqual((page["line"]["level"], page["line"]["doing"], page["cycles"]), ("fine", "read", 0))
        self.assertTrue(page["too_early"])


class Years(KeepCase):
    def test_sixty_packs_of_three_years_without_a_query_a_row(self):
        """20,000 records: two queries for the shelf and five for rules, notes, runs and retiring, however many."""
        pack = OwnedPack.live.get(tag="07")
        now = timezone.now()
        packs = [OwnedPack(**{f.name: getattr(pack, f.name) for f in OwnedPack._meta.fields if f.name not in ("id", "tag")}, tag=f"Y{i}") for i in range(34)]  # fmt: skip
        OwnedPack.objects.bulk_create(packs)
        rows = [
            PackRecord(pack=p, at=now - timedelta(days=1100 * (1 - k / 330)), cycle=k, temperature_c=20, soc=0.6, cell_mohm=[2.5, 2.5, 2.5], rest_cell_v=[3.8, 3.8, 3.8], capacity_ah=4.9)
            for p in OwnedPack.live.all()
            for k in range(330)
        ]  # fmt: skip
        PackRecord.objects.bulk_create(rows, batch_size=2000)
        with CaptureQueriesContext(connection) as seen:
            shelf = self.shelf()
        self.assertEqual(sum(len(g) for g in shelf.values()), 60)
        self.assertLessEqual(len(seen), 7)
        with CaptureQueriesContext(connection) as seen:
            self.page("07")
        self.assertLessEqual(len(seen), 7)


class AYear(KeepCase):
    def test_runs_on_the_page(self):
        """The ice racer's packs: how many, how long in all, the latest with what was put back."""
        page = self.page("15")
        self.assertGreater(page["run_count"], 20)
        self.assertGreater(page["run_minutes"], 5 * page["run_count"])
        self.assertEqual({r["model"] for r in page["runs"]}, {"Stoat"})
        self.assertEqual(page["runs"], sorted(page["runs"], key=lambda r: r["at"], reverse=True))
        self.assertIn("minutes", {e["id"] for e in page["evidence"]})

    def test_the_log_teaches_what_the_racer_draws(self):
        """A little more than the 26 A of the day on which it was measured, with its scatter."""
        learned = self.client.get("/api/runs?model=stoat").json()["learned"]
        self.assertAlmostEqual(learned["average_a"], 27.4, delta=0.6)
        self.assertTrue(0.05 <= learned["spread"] < 0.1)

    def test_honest_c_and_spread_over_the_year(self):
        """18 loses a fifth of its honest C; its cells stay together, below where watching begins."""
        page = self.page("18")
        (honest,) = page["honest"]["cells"]
        self.assertLess(honest[-1], 0.85 * honest[0])
        self.assertEqual(page["honest"]["first"], 25)
        (apart,) = page["spread_mv"]["cells"]
        self.assertLess(max(apart), page["spread_mv"]["first"])
        self.assertEqual(self.page("21")["spread_mv"]["cells"], [])


class Crowded(KeepCase):
    def live_on(self, tag, charges, mohm):
        """So many charges more, each with a run, a reading and a noted state between them."""
        pack, start = OwnedPack.live.get(tag=tag), timezone.now() - timedelta(days=20)
        for n in range(charges):
            at = start + timedelta(days=n / 2)
            for k, source in enumerate(("run", "reading", "by hand")):
                PackRecord.objects.create(pack=pack, at=at + timedelta(hours=k), cycle=50 + n, state="spent", source=source, rest_cell_v=[3.75] * pack.series if source == "reading" else None)  # fmt: skip
            PackRecord.objects.create(pack=pack, at=at + timedelta(hours=5), cycle=51 + n, temperature_c=20, soc=0.5, cell_mohm=mohm, state="full")  # fmt: skip

    def test_what_lies_between_charges_hides_no_bad_cell(self):
        """A cell that went bad is found on the shelf, on its page and before a run alike."""
        self.live_on("07", 5, [4.9, 2.5, 2.5])
        self.assertIn("07", self.shelf()["retire"])
        self.assertEqual(self.page("07")["line"]["level"], "retire")
        go = self.post("/api/run/go", {"model": "ptarmigan", "pack": "07", "cells": "4.19 4.19 4.19"}).json()
        self.assertEqual(go["verdict"], "no_go")

    def test_growth_is_measured_against_the_first_readings(self):
        """After many charges at well over twice its first resistance a run is for light duty, as its page says."""
        first = self.page("07")["resistance"]["first"]
        self.live_on("07", 30, [2.6 * first] * 3)
        self.assertEqual(self.page("07")["line"]["level"], "light")
        go = self.post("/api/run/go", {"model": "ptarmigan", "pack": "07", "cells": "4.19 4.19 4.19"}).json()
        self.assertIn("light", [x["id"] for x in go["reasons"]])

    def test_shelf_and_page_agree_on_every_pack(self):
        """The shelf looks at both ends of the log, the page at all of it."""
        self.live_on("16", 4, [2.0, 2.0])
        for group in self.shelf().values():
            for tag, line in group.items():
                self.assertEqual(self.page(tag)["line"]["level"], line["level"], tag)
