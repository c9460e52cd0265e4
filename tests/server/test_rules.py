"""House rules over the API: changed sets are followed at once by all that goes by them."""

import json

from django.db import connection
from django.test.utils import CaptureQueriesContext

from coldstack.server.rules.models import RuleSet
from tests.server.case import DemoCase


class RulesCase(DemoCase):
    def put(self, path, body):
        return self.client.put(path, json.dumps(body), content_type="application/json")

    def rules(self):
        return self.client.get("/api/rules").json()

    def one(self, rules_id):
        return next(x for x in self.rules()["sets"] if x["id"] == rules_id)

    def change(self, rules_id="steady", **values):
        reply = self.put(f"/api/rules/sets/{rules_id}", {"values": values})
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        return reply.json()


class Sets(RulesCase):
    def test_as_they_come(self):
        """Three sets, every rule with its reasons, and who goes by each."""
        found = self.rules()
        self.assertEqual([x["id"] for x in found["sets"]], ["long_life", "steady", "field_day"])
        self.assertEqual(found["house"], "steady")
        steady = self.one("steady")
        self.assertEqual(steady["values"], steady["starting"])
        self.assertTrue({"Ptarmigan", "the bench", "the shelf"} <= set(steady["used_by"]))
        self.assertEqual({r["id"] for r in found["rules"]}, set(steady["values"]))
        self.assertTrue(any("balanced" in f["name"] for f in found["fixed"]))

    def test_a_starting_set_is_changed_and_set_back(self):
        """Only what differs is kept; its name says so."""
        changed = self.change(usable_share=0.7, storage_within_h=48)
        self.assertEqual((changed["name"], changed["values"]["usable_share"]), ("Steady, changed", 0.7))
        self.assertEqual(RuleSet.objects.get(slug="steady").values, {"usable_share": 0.7})
        self.assertEqual(self.change()["name"], "Steady")

    def test_a_set_of_ones_own(self):
        """A copy with another name, changed, gone by, deleted and brought back."""
        self.change("field_day", parallel_spread_v=0.08)
        made = self.post("/api/rules/sets", {"name": "Tarnside winter", "copy_of": "field_day"}).json()
        self.assertEqual(
            (made["id"], made["own"], made["base"], made["values"]["parallel_spread_v"]),
            ("tarnside-winter", True, "field_day", 0.08),
        )
        reply = self.put(
            f"/api/rules/sets/{made['id']}",
            {"values": {"cold_run_c": 15}, "name": "Winter", "note": "For the ice."},
        )
        self.assertEqual((reply.json()["name"], reply.json()["why"]), ("Winter", "For the ice."))
        self.put("/api/rules/house", {"house_rules": made["id"]})
        self.assertEqual(self.client.get("/api/keep/shelf").json()["rules"], "Winter")
        self.assertIn(
            {"id": made["id"], "name": "Winter", "note": "For the ice."},
            self.client.get("/api/choices").json()["house_rules"],
        )
        self.assert_problem(
            self.client.delete(f"/api/rules/sets/{made['id']}"), 422, "set", "the shelf goes by it"
        )
        self.put("/api/rules/house", {"house_rules": "steady"})
        self.assertEqual(len(self.client.delete(f"/api/rules/sets/{made['id']}").json()["sets"]), 3)
        self.assertEqual(len(self.post(f"/api/rules/sets/{made['id']}/back", {}).json()["sets"]), 4)

    def test_bad_input(self):
        """At its field, and nothing is kept."""
        for values, field in (
            ({"usable_share": 0.95}, "values.usable_share"),
            ({"full_cell_v": 4.3}, "values.full_cell_v"),
            ({"alarm_loaded_v": 3.15}, "values.alarm_loaded_v"),
            ({"luck": 1}, "values.luck"),
        ):
            with self.subTest(values):
                self.assert_problem(self.put("/api/rules/sets/steady", {"values": values}), 422, field)
        self.assertFalse(RuleSet.objects.exists())
        self.assert_problem(self.put("/api/rules/sets/none", {"values": {}}), 422, "set", "no such set")
        self.assert_problem(self.post("/api/rules/sets", {"name": "steady"}), 422, "name", "already")
        self.assert_problem(self.post("/api/rules/sets", {"name": "  "}), 422, "name", "name")
        self.assert_problem(self.post("/api/rules/sets", {"name": "A", "copy_of": "x"}), 422, "copy_of")
        self.assert_problem(self.client.delete("/api/rules/sets/steady"), 422, "set", "stays")
        self.assert_problem(self.put("/api/rules/house", {"house_rules": "x"}), 422, "house_rules")
        self.assert_problem(self.post("/api/rules/sets/x/back", {}), 422, "set")


class Followed(RulesCase):
    """A change of Steady is seen everywhere, and named there."""

    def go(self):
        return self.post("/api/run/go", {"model": "ptarmigan", "pack": "07", "cells": "4.2 4.2 4.2"}).json()

    def test_timer(self):
        """Less to use, an earlier timer; the working says by which rules."""
        before = self.go()
        self.change(usable_share=0.6, landing_rest_v=3.7)
        after = self.go()
        self.assertAlmostEqual(after["minutes"] / before["minutes"], 0.6 / 0.8, delta=0.02)
        self.assertLess(after["timer_s"], before["timer_s"])
        landing = next(s for s in after["working"]["steps"] if s["label"] == "Landing point")
        self.assertEqual(landing["rule"], "house rules “Steady, changed”")
        self.assertIn("60 % used", landing["formula"])

    def test_plan(self):
        """Size plans with it."""
        body = {"job": self.job()}
        before = self.post("/api/sizing/plan", body).json()["field"]["minutes"]
        self.change(usable_share=0.6)
        after = self.post("/api/sizing/plan", body).json()["field"]["minutes"]
        self.assertLess(sum(after), 0.85 * sum(before))

    def test_batches(self):
        """A stricter spread splits the bench further."""
        bench = self.client.get("/api/bench").json()["bench"]
        before = self.post("/api/bench/plan", bench).json()
        self.change(parallel_spread_v=0.005)
        after = self.post("/api/bench/plan", bench).json()
        self.assertGreater(len(after["batches"]), len(before["batches"]))
        self.assertIn("Steady, changed", [x["name"] for x in after["schools"]])

    def test_due_dates_and_calendar(self):
        """Within six hours: what was due tomorrow is overdue."""
        self.change(storage_within_h=6)
        groups = self.client.get("/api/keep/shelf").json()["groups"]
        due = {p["tag"]: p for g in groups if g["doing"] == "storage" for p in g["packs"]}
        self.assertLess(due["15"]["in_h"], 0)
        self.assertIn("house rules “Steady, changed” allow 6 h", due["15"]["due"])
        calendar = self.client.get("/api/keep/due.ics").content.decode().replace("\r\n ", "")
        self.assertIn("Steady\\, changed", calendar)

    def test_verdicts(self):
        """A laxer limit no longer watches the ageing pack's resistance; the evidence names the rule."""
        self.change(growth_watch=2.5, growth_bad=3.0)
        evidence = {e["id"]: e for e in self.client.get("/api/keep/packs/18").json()["evidence"]}
        self.assertEqual(evidence["growth"]["level"], "fine")
        self.assertEqual(evidence["growth"]["working"]["steps"][-1]["rule"], "house rules “Steady, changed”")
        self.change(capacity_end=0.88)
        self.assertEqual(self.client.get("/api/keep/packs/18").json()["line"]["level"], "light")

    def test_effects(self):
        """Side by side: as it is and as it came."""
        self.change(usable_share=0.6, storage_within_h=6, parallel_spread_v=0.005, capacity_end=0.88)
        found = self.client.get("/api/rules/sets/steady/effects?model=ptarmigan").json()
        now, came = found["now"], found["starting"]
        self.assertLess(now["budget_mah"], came["budget_mah"])
        self.assertGreater(len(now["batches"]), len(came["batches"]))
        self.assertGreater(len(now["overdue"]), len(came["overdue"]))
        self.assertIn("18", now["verdicts"]["light"])
        self.assertIn("18", came["verdicts"]["watch"])
        self.assert_problem(self.client.get("/api/rules/sets/x/effects?model=ptarmigan"), 422, "house_rules")
        self.assertEqual(self.client.get("/api/rules/sets/steady/effects?model=x").status_code, 404)

    def test_sets_without_a_query_for_each(self):
        """Thirty sets cost as many queries as three."""
        with CaptureQueriesContext(connection) as few:
            self.rules()
        RuleSet.objects.bulk_create([RuleSet(slug=f"s{i}", name=f"S{i}", base="steady") for i in range(30)])
        with CaptureQueriesContext(connection) as many:
            self.assertEqual(len(self.rules()["sets"]), 33)
        self.assertEqual(len(many), len(few))


class PlaceOfPacks(RulesCase):
    def test_kept_with_its_cautions(self):
        """A warm loft is told; bad figures are refused at their field and nothing is lost."""
        kept = self.put(
            "/api/keep/place", {"place": "Loft", "now_c": 20, "hottest_c": 44, "container": "loose"}
        ).json()
        self.assertEqual([c["id"] for c in kept["cautions"]], ["place_hot", "place_loose"])
        self.assert_problem(self.put("/api/keep/place", {"now_c": 30, "hottest_c": 10}), 422, "hottest_c")
        self.assertEqual(self.client.get("/api/keep/place").json()["place"], "Loft")


class Blame(RulesCase):
    def test_at_the_rule_that_was_just_set(self):
        """All values are sent; the one that changed is told, also against one that was changed before."""
        values = self.one("steady")["values"]
        self.assert_problem(
            self.put("/api/rules/sets/steady", {"values": {**values, "alarm_loaded_v": 3.15}}),
            422,
            "values.alarm_loaded_v",
        )
        self.change(**{**values, "cutoff_loaded_v": 3.35})
        self.assert_problem(
            self.put(
                "/api/rules/sets/steady",
                {"values": {**values, "cutoff_loaded_v": 3.35, "alarm_loaded_v": 3.3}},
            ),
            422,
            "values.alarm_loaded_v",
        )


class SafetyPage(RulesCase):
    def test_sections_and_who_comes_first(self):
        """Fire first; makers' sheets and local codes before us."""
        found = self.client.get("/api/safety").json()
        self.assertEqual(found["sections"][0]["title"], "If a pack hisses, smokes or burns")
        self.assertIn("come first", found["advice"])
        self.assertEqual(len(found["sections"]), 6)
