"""A new model by a few answers, through the API; typical packs; what nobody gave of a pack."""

from typing import ClassVar

from django.test import TestCase

from coldstack.server.gear.models import CataloguePack, OwnedPack
from coldstack.server.rules.models import Household
from tests.server.case import DemoCase

RACER = {
    "name": "Racer",
    "kind": "multirotor",
    "mass_g": 520,
    "rotors": 4,
    "now": {"series": 5, "capacity_ah": 1.5, "mass_g": 220},
    "usage": {"average_a": 21, "peak_a": 84, "peak_s": 2},
    "goals": {"minutes": 3.8, "mass_g": 270},
}


class OwnCase(DemoCase):
    """An empty program of one's own."""

    @classmethod
    def setUpTestData(cls):
        """Nothing."""

    def described(self, **changes):
        """What follows from the racer's answers, with some of them changed."""
        return self.post("/api/describe-model", {**RACER, **changes})

    def test_from_nothing_to_a_list(self):
        """The job is kept as it was described; its plan holds typical 5S packs, the pack of now is judged."""
        found = self.described().json()
        self.assertEqual((found["true_for"], found["pick"]), ("on 5S LiPo, 740 g\u2060 all up", "now"))
        self.assertIn("electronics.max_v", [a["field"] for a in found["assumed"]])
        self.assertEqual([p["link"] for p in found["plates"]], ["cells", "leads", "plug", "controller"])
        model = {"name": "Racer", "description": found["description"], "job": found["job"]}
        kept = self.post("/api/gear/models", model).json()["row"]
        self.assertEqual(kept["job"], found["job"])
        plan = self.post("/api/sizing/plan", {"job": kept["job"]}).json()
        self.assertEqual({r["series"] for r in plan["shortlist"]}, {5})
        self.assertEqual({r["kind"] for r in plan["shortlist"]}, {"typical"})
        self.assertEqual(plan["able_count"], len(plan["shortlist"]))
        listed = [r for r in (*plan["shortlist"], *plan["misses"]) if r["runs_on_it"]]
        self.assertEqual([r["id"] for r in listed], ["now"])
        now = self.post("/api/sizing/details", {"job": kept["job"], "ids": ["now"]}).json()
        self.assertRegex(now[0]["lacks"][0], r"^short by \d\d s$")
        self.assertTrue(next(p for p in now[0]["plates"] if p["link"] == "plug")["assumed"])

    def test_a_pack_of_one_s_own(self):
        """Its figures, its id, and it is what Size opens on."""
        self.post(
            "/api/gear/packs",
            {
                "tag": "A1",
                "name": "Mine",
                "chemistry": "lipo",
                "series": 5,
                "capacity_ah": 1.5,
                "mass_g": 221,
            },
        )
        found = self.described(now={"pack": "owned:A1"}).json()
        self.assertEqual((found["pick"], found["now"]), ("owned:A1", "Mine"))
        self.assertEqual(found["job"]["draw"]["reference_mass_g"], 741)
        self.assert_problem(self.described(now={"pack": "owned:B1"}), 422, "now.pack", "no such pack")

    def test_what_is_missing_is_asked_at_its_question(self):
        """In words, one field each."""
        self.assert_problem(self.described(mass_g=None), 422, "mass_g", "weigh")
        self.assert_problem(self.described(now={}), 422, "now.series", "How many cells")
        cannot = {"series": 5, "capacity_ah": 900}
        self.assert_problem(self.described(now=cannot), 422, "now.capacity_ah", "Capacity")
        self.assert_problem(
            self.described(usage={"put_back_mah": 900}), 422, "usage.minutes", "After how many minutes"
        )
        self.assert_problem(
            self.described(model_class="trainer"), 422, "model_class", "Choose which multirotor it is"
        )
        self.assert_problem(self.described(kind=""), 422, "kind", "Choose what it is")
        self.assert_problem(self.described(colour="red"), 422, "colour")

    def test_a_mass_that_nobody_told_is_said(self):
        """What such packs weigh, and it is named."""
        found = self.described(now={"series": 5, "capacity_ah": 1.5}).json()
        words = {a["field"]: a["words"] for a in found["assumed"]}
        self.assertRegex(words["now.mass_g"], r"^2\d\d g\u2060, what such packs weigh$")

    def test_two_packs_in_series(self):
        """Told by one of them, they are shown as two everywhere, and kept so."""
        now = {"series": 3, "capacity_ah": 2.2, "mass_g": 180, "label_c": 60, "joined": "series"}
        found = self.described(now=now, limits={}).json()
        self.assertEqual(found["now"], "2 × 3S 2200 mAh LiPo in series")
        job = found["job"]
        self.assertEqual((job["now"]["series"], job["now"]["mass_g"]), (6, 360))
        self.assertEqual(job["now"]["joined"], "series")
        plan = self.post("/api/sizing/plan", {"job": job}).json()
        names = [r["name"] for r in (*plan["shortlist"], *plan["misses"])]
        self.assertIn("2 × 3S 2200 mAh LiPo in series", names)
        job["now"]["series"] = 7
        self.assert_problem(self.post("/api/sizing/plan", {"job": job}), 422, "now.series", "even number")

    def test_two_packs_of_one_s_own(self):
        """Told by one of them: their plug and grams are known, and the two stand in the list, borne."""
        pack = {"chemistry": "lipo", "series": 3, "capacity_ah": 5.0, "mass_g": 410, "label_c": 50}
        for tag in ("H1", "H2"):
            self.post("/api/gear/packs", {"tag": tag, "name": "Gull", "plug": "ec5", "lead_awg": 10, **pack})
        found = self.described(
            kind="boat",
            mass_g=2900,
            rotors=None,
            now={"pack": "owned:H1", "joined": "series"},
            usage={"minutes": 5.5},
            goals={"minutes": 5.5},
        ).json()
        self.assertEqual((found["pick"], found["job"]["electronics"]["plug"]), ("now", "ec5"))
        self.assertEqual(found["job"]["now"]["mass_g"], 820)
        plan = self.post("/api/sizing/plan", {"job": found["job"], "rows": 400}).json()
        rows = {r["name"]: r for r in (*plan["shortlist"], *plan["misses"])}
        self.assertIn(rows["2 × Gull in series"]["fit"]["verdict"], ("does", "care"))

    def test_what_it_is_taken_for(self):
        """Guessed from what was told, and said so; chosen, it is that; what would narrow most is told."""
        self.assertFalse((guessed := self.described(usage={}).json())["model_class"]["chosen"])
        self.assertEqual(guessed["narrow"]["field"], "draw.average_a")
        told = self.described(usage={}, model_class="camera").json()
        self.assertEqual((told["model_class"]["id"], told["model_class"]["chosen"]), ("camera", True))
        self.assertLess(told["average_a"], guessed["average_a"])
        self.assertEqual(self.described(usage={"minutes": 4}).json()["narrow"]["field"], "draw.peak_a")
        self.assertIsNone(self.described().json()["narrow"])

    def test_electronics_are_told_in_cells(self):
        """Volts follow from them, and change with them."""
        job = self.described(limits={"cells_min": 3, "cells_max": 6}).json()["job"]
        self.assertEqual((job["electronics"]["max_v"], job["electronics"]["rated_cells"]), (None, 6))
        plan = self.post("/api/sizing/plan", {"job": job}).json()
        self.assertEqual((plan["min_v"], plan["max_v"]), (9.0, 25.2))
        job["electronics"]["rated_cells"] = None
        self.assert_problem(
            self.post("/api/sizing/plan", {"job": job}), 422, "electronics.max_v", "how many cells"
        )


class TypicalPacks(OwnCase):
    def plan_ids(self):
        """Ids of all candidates for the racer."""
        job = self.described().json()["job"]
        return self.post("/api/sizing/plan", {"job": job}).json()["field"]["ids"]

    def test_they_stand_in_while_there_is_no_catalogue(self):
        """And cylindrical cells with them; a switch of the house takes them away."""
        self.assertTrue(any(i.startswith("typical:lipo:5:") for i in self.plan_ids()))
        Household.objects.update_or_create(pk=1, defaults={"typical_packs": False})
        self.assertFalse(any(i.startswith("typical:") for i in self.plan_ids()))

    def test_a_choice_of_makers_takes_their_place(self):
        """Five packs of its cell count in the catalogue."""
        for n in range(5):
            CataloguePack.objects.create(
                name=f"5S {n}",
                chemistry="lipo",
                series=5,
                capacity_ah=1.5 + n / 10,
                mass_g=200,
                plug="xt60",
                lead_awg=14,
            )
        self.assertFalse(any(i.startswith("typical:lipo:5:") for i in self.plan_ids()))

    def test_match_takes_one(self):
        """From Size to Match with a pack that nobody owns yet."""
        job = self.described().json()["job"]
        found = self.post("/api/match", {"job": job, "pack": "typical:lipo:5:1800:50", "charge": {}})
        self.assertEqual(found.status_code, 200, found.content[:300])
        self.assertEqual(found.json()["drive"]["fit"]["verdict"], "does")


class WhatNobodyGaveOfAPack(TestCase):
    def add(self, **more):
        """A pack by its label's figures."""
        body = {"name": "x", "chemistry": "lipo", "series": 4, "capacity_ah": 1.5, "mass_g": 180, **more}
        return self.client.post("/api/gear/packs", body, content_type="application/json").json()["row"]

    def test_plug_and_leads_that_were_left_out_are_assumed(self):
        """Those that were given are not; changed, they are given."""
        row = self.add()
        self.assertEqual(row["assumed"], ["plug", "lead_awg"])
        self.assertEqual(self.add(plug="xt60", lead_awg=14)["assumed"], [])
        self.assertEqual(self.add(plug="xt60", lead_awg=14, assumed=["plug"])["assumed"], ["plug"])
        self.client.patch(f"/api/gear/packs/{row['id']}", {"plug": "xt30"}, content_type="application/json")
        self.assertEqual(OwnedPack.live.get(pk=row["id"]).assumed, ["lead_awg"])


class SizeUnknown(DemoCase):
    def test_a_pack_that_nobody_measured_is_not_said_to_fit(self):
        """In a bay with measures: size unknown, in the verdict, the checks and the grid."""
        pack = OwnedPack.live.get(tag="04")
        pack.length_mm = pack.width_mm = pack.height_mm = None
        pack.save()
        found = self.post("/api/match", {"job": self.job(), "pack": "owned:04", "charge": {}}).json()["drive"]
        self.assertRegex(found["fit"]["sentence"], "^Not known: size unknown")
        self.assertEqual(
            {c["verdict"] for c in found["checks"] if c["id"].startswith("bay.length")}, {"unknown"}
        )
        grid = self.post("/api/match/grid", {}).json()
        row = next(p for p in grid["packs"] if p["tag"] == "04")
        here = row["models"][[m["id"] for m in grid["models"]].index("ptarmigan")]
        self.assertEqual(here["short"], "size unknown")


class WithoutMassOrCapacity(TestCase):
    """Motor, cells and propeller are enough; what is missing beside them is asked for."""

    TOLD: ClassVar = {
        "kind": "plane",
        "now": {"series": 3},
        "limits": {"motor_kv": 1000},
        "propulsion": {"propeller": "10x6"},
    }

    def described(self, **changes):
        return self.client.post("/api/describe-model", {**self.TOLD, **changes}, "application/json")

    def test_supposed_in_sight(self):
        """Mass and capacity are named among what was assumed, and the job keeps what drives it."""
        got = self.described().json()
        assumed = {x["field"]: x["words"] for x in got["assumed"]}
        self.assertRegex(assumed["mass_g"], "what drives it")
        self.assertRegex(assumed["now.capacity_ah"], "mAh")
        self.assertEqual(got["job"]["propulsion"]["propeller"], "10x6")
        self.assertLess(got["average_low_a"], got["average_a"])

    def test_a_mass_that_is_told_is_kept(self):
        """And named no more."""
        got = self.described(mass_g=1150).json()
        self.assertEqual(got["job"]["mass_g"], 1150)
        self.assertNotIn("mass_g", {x["field"] for x in got["assumed"]})

    def test_refused_at_their_fields(self):
        """No mass and no motor; a propeller that is none; a resistance below nothing."""
        cases = (
            ({"limits": {}}, "mass_g"),
            ({"now": {}}, "now.series"),
            ({"propulsion": {"propeller": "ten by six"}}, "propulsion.propeller"),
            ({"propulsion": {"propeller": "10x6", "motor_mohm": -1}}, "propulsion.motor_mohm"),
        )
        for changes, field in cases:
            got = self.described(**changes)
            with self.subTest(field):
                self.assertEqual(got.status_code, 422, got.content)
                self.assertIn(field, [e["field"] for e in got.json()["errors"]])
