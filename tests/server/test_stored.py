"""Documents that another version of the program wrote: no page and no charge fails for them."""

import json

from django.db import connection
from django.test import SimpleTestCase, TestCase
from pydantic import BaseModel, ConfigDict

from coldstack.server.api.stored import Stored
from coldstack.server.charges.models import Charge, Layout
from coldstack.server.charges.seen import expected_of
from coldstack.server.gear.models import RcModel
from coldstack.server.rules.models import RuleSet
from tests.demo_world import demo_world
from tests.server.case import DemoCase
from tests.server.test_charging import ChargingCase


class Part(BaseModel):
    model_config = ConfigDict(extra="forbid")
    amps: float
    seconds: float = 1.0


class Shape(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str
    part: Part
    parts: list[Part] = []


class Reading(SimpleTestCase):
    kept = Stored(Shape, lambda: {"name": "usual", "part": {"amps": 5.0}})

    def test_unknown_fields_go(self):
        """At any depth; nothing is called filled for it."""
        told = Stored(Shape, dict, told=lambda d, filled: self.fail(filled))
        body = {"name": "a", "more": 1, "part": {"amps": 2.0, "old": []}}
        self.assertEqual(told.read(body)["part"], {"amps": 2.0, "seconds": 1.0})

    def test_missing_and_wrong_ones_get_the_usual_and_are_named(self):
        """By their path; what was right stays."""
        seen = []
        told = Stored(Shape, self.kept.usual, told=lambda d, filled: seen.extend(filled) or d)
        read = told.read({"part": {"amps": "many", "seconds": 3.0}})
        self.assertEqual((read["name"], read["part"]), ("usual", {"amps": 5.0, "seconds": 3.0}))
        self.assertEqual(sorted(seen), ["name", "part.amps"])

    def test_an_entry_that_cannot_be_understood_goes_whole(self):
        """The others stay."""
        body = {"name": "a", "part": {"amps": 1}, "parts": [{"amps": 1}, {"seconds": 2}, {"amps": 3}]}
        self.assertEqual([p["amps"] for p in self.kept.read(body)["parts"]], [1, 3])

    def test_steps_lead_from_version_to_version(self):
        """A document without one is of the first."""
        steps = {1: lambda d: {**d, "name": d.pop("title")}, 2: lambda d: {**d, "name": d["name"].upper()}}
        third = Stored(Shape, self.kept.usual, version=3, steps=steps)
        self.assertEqual(third.read({"title": "a", "part": {"amps": 1}})["name"], "A")
        self.assertEqual(third.read({"version": 2, "name": "a", "part": {"amps": 1}})["name"], "A")
        self.assertEqual(third.read(third.written({"name": "a", "part": {"amps": 1}}))["name"], "a")

    def test_what_has_no_usual_value_is_an_error(self):
        """It never goes on for ever."""
        with self.assertRaises(ValueError):
            Stored(Shape, dict).read({"part": {"amps": 1}})


class Models(DemoCase):
    def store(self, **changes):
        row = RcModel.objects.get(slug="ptarmigan")
        RcModel.objects.filter(pk=row.pk).update(job={**row.job, **changes})

    def test_a_model_with_unknown_and_missing_fields_opens(self):
        """What stands in is shown as assumed, and the pages that use it answer."""
        job = RcModel.objects.get(slug="ptarmigan").job
        draw = {k: v for k, v in job["draw"].items() if k not in ("peak_a", "peak_s")}
        self.store(draw={**draw, "colour": "red"}, wheels=4)
        reply = self.client.get("/api/models/ptarmigan")
        self.assertEqual(reply.status_code, 200)
        found = reply.json()["job"]
        self.assertLessEqual({"draw.peak_a", "draw.peak_s"}, set(found["assumed"]))
        self.assertNotIn("wheels", found)
        self.assertEqual(found["draw"]["average_a"], job["draw"]["average_a"])
        for path, body in (
            ("/api/sizing/plan", {"job": found}),
            ("/api/match/grid", {}),
            ("/api/run/day", {"model": "ptarmigan"}),
        ):
            self.assertIn(self.post(path, body).status_code, (200, 422), path)
        self.assertEqual(self.post("/api/sizing/plan", {"job": found}).status_code, 200)
        self.assertEqual(self.post("/api/match/grid", {}).status_code, 200)

    def test_a_cell_s_resistance_by_its_name_of_before(self):
        """Of the pack it runs on now, in a job that an older version stored, and among what it assumed."""
        row = RcModel.objects.get(slug="grebe")
        older = {k: v for k, v in (row.job["now"] or {}).items() if k != "cell_mohm"}
        job = {**row.job, "now": {**older, "cell_resistance_mohm": 4.5}, "version": 1}
        with connection.cursor() as link:
            stored = json.dumps({**job, "assumed": ["now.cell_resistance_mohm"]})
            link.execute("UPDATE gear_rcmodel SET job = %s WHERE id = %s", [stored, row.pk])
        found = self.client.get("/api/models/grebe").json()["job"]
        self.assertEqual((found["now"]["cell_mohm"], found["assumed"]), (4.5, ["now.cell_mohm"]))

    def test_a_whole_part_that_is_missing(self):
        """Each of its figures is assumed."""
        row = RcModel.objects.get(slug="ptarmigan")
        RcModel.objects.filter(pk=row.pk).update(job={k: v for k, v in row.job.items() if k != "electronics"})
        found = self.client.get("/api/models/ptarmigan").json()["job"]
        self.assertIn("electronics.max_v", found["assumed"])
        self.assertEqual(found["electronics"]["max_v"], 16.8)

    def test_a_part_of_a_document_is_read_as_it_is(self):
        """Queries for one field of it do not take it for a whole one."""
        values = RcModel.objects.values_list("job__draw", flat=True)
        self.assertIn("average_a", values[0])


class Benches(DemoCase):
    def test_the_bench_opens(self):
        """With what can be understood of it."""
        kept = Layout.objects.get(pk=1).document
        laid = [*kept["laid"], {"tag": "99"}]
        Layout.objects.filter(pk=1).update(document={**kept, "laid": laid, "attended": [], "lamp": True})
        reply = self.client.get("/api/bench")
        self.assertEqual(reply.status_code, 200)
        self.assertEqual(len(reply.json()["bench"]["laid"]), len(kept["laid"]))


class Rules(TestCase):
    def test_a_rule_that_is_gone_or_out_of_bounds(self):
        """The set holds with the rest."""
        demo_world()
        values = {"usable_share": 0.7, "gone": 1.0, "charge_c_limit": 1e9}
        RuleSet.objects.create(slug="steady", name="Steady", base="steady", values=values)
        reply = self.client.get("/api/rules")
        self.assertEqual(reply.status_code, 200)
        self.assertEqual(self.client.get("/api/models/ptarmigan").status_code, 200)
        steady = next(x for x in reply.json()["sets"] if x["id"] == "steady")
        self.assertEqual(steady["values"]["usable_share"], 0.7)


class RunningCharges(ChargingCase):
    def test_unknown_fields_are_no_matter(self):
        """It is watched as before."""
        charge = Charge.objects.get(pk=self.started())
        before = expected_of(charge)
        charge.expected["moon"] = "full"
        charge.save()
        self.watcher.tick()
        self.assertEqual(expected_of(charge), before)
        self.assertEqual(Charge.objects.get(pk=charge.pk).state, "charging")

    def test_a_charge_that_cannot_be_judged_is_stopped_and_says_so(self):
        """On its page, in its alarms, at the charger and in the log."""
        charge = Charge.objects.get(pk=self.started())
        del charge.expected["current_a"], charge.expected["cells"]
        charge.save()
        self.assertEqual(self.client.get(f"/api/charges/{charge.pk}").status_code, 200)
        self.watcher.tick()
        charge.refresh_from_db()
        self.assertEqual(charge.state, "stopped")
        self.assertIn("cannot be read any more", charge.ended_why)
        self.assertEqual(self.client.get(f"/api/charges/{charge.pk}").status_code, 200)

    def test_of_a_chemistry_that_is_not_known_or_without_its_full_volts(self):
        """It is stopped for just that, and not called overcharged; the bench opens meanwhile."""
        for tag, port, changes in (("01", 1, {"chemistry": "unheard"}), ("02", 2, {"full_cell_v": None})):
            charge = Charge.objects.get(pk=self.started(tag, port=port))
            charge.expected |= changes
            charge.settings = {}
            charge.save()
            self.device.pass_time(60)
            self.assertEqual(self.client.get("/api/bench").status_code, 200)
            self.assertEqual(self.post("/api/bench/plan", self.bench).status_code, 200)
            self.assertEqual(self.client.get(f"/api/charges/{charge.pk}").status_code, 200)
            self.watcher.tick()
            charge.refresh_from_db()
            self.assertEqual(charge.state, "stopped", changes)
            self.assertIn("cannot be read any more", charge.ended_why)

    def test_without_a_time_to_look_the_shortest_holds(self):
        """It is asked to be looked at within a minute."""
        charge = Charge.objects.get(pk=self.started())
        del charge.expected["look_every_s"]
        charge.save()
        self.assertEqual((expected_of(charge).look_every_s, expected_of(charge).unread), (60.0, ()))
