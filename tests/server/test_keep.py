"""The shelf and a pack's page in the demo world, and over three years of sixty packs."""

from datetime import timedelta

from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.lives import events, told
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
        """The lazy cell and the swollen one to be retired, the one left full overdue, the ageing one
        watched, a healthy one quiet."""
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
        self.assertLess(self.shelf("long_life")["storage"]["15"]["in_h"], 0)
        self.assertGreater(self.shelf("field_day")["storage"]["15"]["in_h"], 100)
        self.assert_problem(self.client.get("/api/keep/shelf?house_rules=x"), 422, "house_rules")

    def test_all_these_were_brought_to_storage(self):
        """In one go, taken back in one; a pack that is not there changes nothing."""
        made = self.post("/api/keep/left", {"packs": ["15", "05"], "state": "stored"}).json()
        self.assertIn("15, 05: brought to storage", made["label"])
        self.assertNotIn("05", self.shelf()["storage"])
        self.assertEqual(self.post("/api/keep/take-back", {"events": made["events"]}).status_code, 200)
        self.assertIn("05", self.shelf()["storage"])
        before = Event.objects.count()
        self.assert_problem(
            self.post("/api/keep/left", {"packs": ["04", "99"], "state": "stored"}),
            422,
            "packs",
            "no pack 99",
        )
        self.assertEqual(Event.objects.count(), before)

    def test_a_noted_state_is_no_charge(self):
        """Twenty at once; each keeps its count of charges."""
        tags = list(OwnedPack.live.values_list("tag", flat=True))[:20]
        before = [self.page(t)["cycles"] for t in tags]
        self.post("/api/keep/left", {"packs": tags, "state": "stored"})
        self.assertEqual([self.page(t)["cycles"] for t in tags], before)

    def test_what_a_charger_told_is_not_taken_back(self):
        """It stays, and says what to do instead."""
        kept = events("07", kind="charge")[-1]
        reply = self.post("/api/keep/take-back", {"events": [kept.pk]})
        self.assert_problem(reply, 422, "events", "What the charger told stays")
        self.assertIsNone(Event.objects.get(pk=kept.pk).withdrawn)

    def test_read_and_noted_as_it_was_it_is_still_as_old(self):
        """15 was left full; read full, and noted full again, it is full since then."""
        since = self.shelf()["storage"]["15"]["since"]
        self.post("/api/keep/packs/15/checks", {"cells": "4.19 4.19"})
        self.post("/api/keep/left", {"packs": ["15"], "state": "full"})
        self.assertEqual(self.shelf()["storage"]["15"]["since"], since)
        told("15", "charge", ended="done")
        self.assertGreater(self.shelf()["storage"]["15"]["since"], since)


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
        """Honest C, the forecast, for one that is due the due date, and what lying full has cost it."""
        page = self.page("05")
        self.assertEqual(set(page["workings"]), {"honest_c", "forecast", "due", "left_full"})
        self.assertRegex(page["left_full"], r"Left (full|at 4\.\d\d V a cell) for 21 days: about 0\.\d+ %")
        self.assertRegex(page["cost"], r"\d\.\d\d a charge so far")
        self.assertEqual((self.page("03")["cost"], self.page("03")["left_full"]), ("", ""))
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
        self.post(
            "/api/gear/packs",
            {"tag": "40", "name": "New", "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "mass_g": 180},
        )
        page = self.page("40")
        self.assertEqual((page["line"]["level"], page["line"]["doing"], page["cycles"]), ("fine", "read", 0))
        self.assertTrue(page["too_early"])


class Years(KeepCase):
    def test_sixty_packs_of_three_years_without_a_query_a_row(self):
        """20,000 events: two queries for the shelf and those of its rules, however many; told once, they are
        not read again."""
        pack = OwnedPack.live.get(tag="07")
        now = timezone.now()
        packs = [
            OwnedPack(
                **{
                    f.name: getattr(pack, f.name)
                    for f in OwnedPack._meta.fields
                    if f.name not in ("id", "tag")
                },
                tag=f"Y{i}",
            )
            for i in range(34)
        ]
        OwnedPack.objects.bulk_create(packs)
        rows = [
            Event(
                key=f"year-{p.pk}-{k:04d}",
                pack=p,
                at=(at := now - timedelta(days=1100 * (1 - k / 330))),
                said=at,
                kind="charge",
                by="charger",
                ended="done",
                temperature_c=20,
                soc=0.6,
                cell_mohm=[2.5, 2.5, 2.5],
                cell_v=[3.8, 3.8, 3.8],
                capacity_ah=4.9,
            )
            for p in OwnedPack.live.all()
            for k in range(330)
        ]
        Event.objects.bulk_create(rows, batch_size=500)
        with CaptureQueriesContext(connection) as seen:
            shelf = self.shelf()
        self.assertEqual(sum(len(g) for g in shelf.values()), 60)
        self.assertLessEqual(len(seen), 7)
        with CaptureQueriesContext(connection) as seen:
            self.shelf()
        self.assertLessEqual(len(seen), 4)
        with CaptureQueriesContext(connection) as seen:
            self.page("07")
        self.assertLessEqual(len(seen), 13)


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
            told(pack, "run", at=at, minutes=8)
            told(pack, "reading", at=at + timedelta(hours=1), cell_v=[3.75] * pack.series)
            told(pack, "state", at=at + timedelta(hours=2), state="spent")
            told(
                pack,
                "charge",
                at=at + timedelta(hours=5),
                ended="done",
                temperature_c=20,
                soc=0.5,
                cell_mohm=mohm,
            )

    def test_what_lies_between_charges_hides_no_bad_cell(self):
        """A cell that went bad is found on the shelf, on its page and before a run alike."""
        self.live_on("07", 5, [4.9, 2.5, 2.5])
        self.assertIn("07", self.shelf()["retire"])
        self.assertEqual(self.page("07")["line"]["level"], "retire")
        go = self.post("/api/run/go", {"model": "ptarmigan", "pack": "07", "cells": "4.19 4.19 4.19"}).json()
        self.assertEqual(go["verdict"], "no_go")

    def test_growth_is_measured_against_the_first_readings(self):
        """After many charges at well over twice its first resistance a run is for light duty, as its page
        says."""
        first = self.page("07")["resistance"]["first"]
        self.live_on("07", 30, [2.6 * first] * 3)
        self.assertEqual(self.page("07")["line"]["level"], "light")
        go = self.post("/api/run/go", {"model": "ptarmigan", "pack": "07", "cells": "4.19 4.19 4.19"}).json()
        self.assertIn("pack.light", [x["id"] for x in go["reasons"]])

    def test_shelf_and_page_agree_on_every_pack(self):
        """The shelf looks at both ends of the log, the page at all of it."""
        self.live_on("16", 4, [2.0, 2.0])
        for group in self.shelf().values():
            for tag, line in group.items():
                self.assertEqual(self.page(tag)["line"]["level"], line["level"], tag)
