import json

from django.test import SimpleTestCase

from coldstack.server.sizing.schemas import PlanIn
from tests.server.case import DemoCase


class DemoPlans(DemoCase):
    def test_every_model_has_a_pack_that_does_its_job(self):
        """The demo world is one in which people fly."""
        for slug in ("ptarmigan", "grebe", "snow-hare", "fieldfare", "stoat", "dipper"):
            plan = self.plan(slug)
            self.assertGreater(len(plan["shortlist"]), 0, slug)
            self.assertTrue(plan["field"]["feasible"][plan["field"]["ids"].index(plan["best"])], slug)

    def test_fieldfare_s_longest_is_cylindrical_and_stoat_s_is_not(self):
        """Endurance at modest amps against bursts of fire. What needs its cut-off set goes with care, so what
        simply does the job stands before it."""
        found = self.plan("fieldfare", aim="longest")["shortlist"]
        longest = max(found, key=lambda r: r["minutes"])
        self.assertEqual((longest["kind"], longest["fit"]["verdict"]), ("cell build", "care"))
        self.assertEqual(found[0]["fit"]["verdict"], "does")
        stoat = [r for r in self.plan("stoat", aim="longest")["shortlist"] if r["fit"]["verdict"] == "does"]
        self.assertFalse([r for r in stoat if r["kind"] == "cell build"])

    def test_fieldfare_hovers_shorter_beyond_some_mass(self):
        """The plan says from where, and its field reaches past it."""
        plan = self.plan("fieldfare")
        self.assertIn("a bigger pack hovers shorter", plan["subline"])
        self.assertGreater(max(plan["field"]["mass_g"]), 1.2 * plan["turning_mass_g"])

    def test_lihv_on_ptarmigan_is_flagged_for_its_volts(self):
        """No 4S LiHV pack is feasible on a controller rated for four LiPo cells, and the detail says why."""
        field = self.plan()["field"]
        lihv = [i for i, n in enumerate(field["names"]) if "4S" in n and "HV" in n and "series" not in n]
        self.assertTrue(lihv)
        self.assertFalse(any(field["feasible"][i] for i in lihv))
        detail = self.details("ptarmigan", [field["ids"][lihv[0]]])[0]
        self.assertIn(
            "0.6 V over the controller’s 16.8 V when full (LiHV: 0.15 V a cell more than LiPo)",
            detail["lacks"],
        )
        misses = [r for r in self.plan()["misses"] if r["chemistry"] == "lihv"]
        self.assertTrue(misses, "the near misses show one without a search")

    def test_snow_hare_s_nimh_and_its_lipo_replacement(self):
        """Side by side: the LiPo is warned of for want of a cut-off, both show their full-charge volts."""
        plan = self.plan("snow-hare", wants={"mass_g": 460})
        field = plan["field"]
        nimh = field["ids"][next(i for i, n in enumerate(field["names"]) if "6S 4200 NiMH" in n)]
        lipo = next(r["id"] for r in plan["shortlist"] if r["chemistry"] == "lipo")
        old, new = self.details("snow-hare", [nimh, lipo])
        self.assertEqual((old["full_v"], new["full_v"]), (8.7, 8.4))
        sentences = [c["sentence"] for c in new["checks"] if c["id"] == "window.cutoff"]
        self.assertIn("alarm on the balance lead", sentences[0])
        self.assertNotIn("window.cutoff", [c["id"] for c in old["checks"]])

    def test_three_to_four_cells_with_the_same_propeller(self):
        """The chips carry (4/3)² and, re-propped, 3/4."""
        for drive, ratio in (("same", 16 / 9), ("refitted", 3 / 4)):
            chips = {c["cells"]: c for c in self.plan(drive=drive)["chips"]}
            self.assertAlmostEqual(chips[4]["peak_a"] / chips[3]["peak_a"], ratio, places=6)

    def test_wants_that_conflict_say_which(self):
        """Two hours within 100 g: not an empty list but a sentence and the nearest packs."""
        plan = self.plan(wants={"minutes": 120, "mass_g": 100})
        self.assertEqual(plan["shortlist"], [])
        self.assertRegex(plan["conflict"]["sentence"], "the minutes.*the weight|the weight.*the minutes")
        self.assertIn(plan["conflict"]["reliefs"][0]["id"], plan["field"]["ids"])

    def test_each_aim_orders_by_its_figure(self):
        """Longest first by minutes, lightest by grams, coolest by loading; what does the job before what goes
        with care."""
        for aim, key, falling in (
            ("longest", "minutes", True),
            ("lightest", "mass_g", False),
            ("coolest", "loading", False),
        ):
            rows = [r for r in self.plan(aim=aim)["shortlist"] if not r["fragile"]]
            sign = -1 if falling else 1
            values = [(r["fit"]["verdict"] == "care", sign * round(r[key], 6)) for r in rows]
            self.assertEqual(values, sorted(values), aim)

    def test_a_plan_makes_few_queries_and_a_second_fewer(self):
        """The second asks for the rules only; none asks per candidate."""
        self.plan()
        body = {"job": self.job()}
        with self.assertNumQueries(1):
            self.post("/api/sizing/plan", body)

    def test_a_changed_catalogue_is_seen(self):
        """A pack taken out of the box is no candidate any more."""
        from coldstack.server.gear.models import OwnedPack

        self.assertIn("owned:01", self.plan()["field"]["ids"])
        OwnedPack.objects.filter(tag="01").update(fit=False)
        self.assertNotIn("owned:01", self.plan()["field"]["ids"])

    def test_the_swollen_pack_is_never_offered(self):
        """Pack 08 is unfit: it is not among the candidates of any model."""
        for slug in ("ptarmigan", "grebe"):
            self.assertNotIn("owned:08", self.plan(slug)["field"]["ids"])

    def test_details_keep_the_order_and_skip_unknown_ids(self):
        """As a bookmarked address may name packs that are gone."""
        ids = [r["id"] for r in self.plan()["shortlist"][:2]]
        found = self.details("ptarmigan", [ids[1], "pack:99999", ids[0]])
        self.assertEqual([d["id"] for d in found], [ids[1], ids[0]])
        self.assertEqual(self.details("ptarmigan", ["nothing"]), [])


class BadInput(DemoCase):
    def refuse(self, field, words, **parts):
        reply = self.post("/api/sizing/plan", {"job": self.job(**parts)})
        self.assert_problem(reply, 422, field, words)

    def test_impossible_figures_name_their_field(self):
        """Negative, zero, absurd: each at its field, in the user's words."""
        self.refuse("draw.peak_a", "from 0.01 to 2000 A, not 10000 A", draw={"peak_a": 10_000})
        self.refuse("draw.average_a", "not -3 A", draw={"average_a": -3})
        self.refuse("wants.minutes", "from 0.1 to 600 min", wants={"minutes": 0})
        self.refuse("electronics.max_v", "from 1 to 130 V", electronics={"max_v": 1e9})
        self.refuse("bay.air_c", "from -30 to 50", bay={"air_c": 900})
        self.refuse("house_rules", "must be one of", house_rules="none")
        self.refuse("plug", "must be one of", electronics={"plug": "xt45"})

    def test_shape_errors_name_their_field(self):
        """Text, empty, unknown fields, missing ones."""
        self.refuse("job.draw.average_a", "“twelve” is not a number", draw={"average_a": "twelve"})
        self.refuse("job.draw.average_a", "Enter a number", draw={"average_a": ""})
        self.refuse("job.draw.avarage", "no such field", draw={"avarage": 3})
        job = self.job()
        del job["draw"]["peak_a"]
        self.assert_problem(self.post("/api/sizing/plan", {"job": job}), 422, "job.draw.peak_a", "needed")

    def test_nan_and_infinity_in_json(self):
        """Words that JSON does not have, and some writers write."""
        for word in ("NaN", "Infinity", "-Infinity", "1e999"):
            text = json.dumps({"job": self.job(draw={"peak_a": 46.125})}).replace("46.125", word)
            self.assert_problem(
                self.post("/api/sizing/plan", text), 422, "job.draw.peak_a", "NaN and infinity are none"
            )

    def test_no_json_at_all(self):
        """Half a document."""
        self.assert_problem(self.post("/api/sizing/plan", '{"job": '), 400, words="not valid JSON")

    def test_too_many_candidates_in_full(self):
        """Four at most are compared."""
        reply = self.post("/api/sizing/details", {"job": self.job(), "ids": list("abcde")})
        self.assert_problem(reply, 422, "ids", "At most 4")

    def test_extremes_within_the_limits_give_a_plan_and_no_500(self):
        """A whisper and a thunderclap: both plans are valid JSON without NaN."""
        for draw in (
            {"average_a": 0.01, "peak_a": 0.02, "peak_s": 0},
            {"average_a": 1900, "peak_a": 2000, "peak_s": 3, "peak_every_s": 7000},
        ):
            reply = self.post("/api/sizing/plan", {"job": self.job(draw=draw)})
            self.assertEqual(reply.status_code, 200, reply.content[:300])
            json.loads(reply.content, parse_constant=lambda word: self.fail(f"{word} in the reply"))
            if best := reply.json()["best"]:
                self.details("ptarmigan", [best], draw=draw)


class Schemas(SimpleTestCase):
    def test_defaults_make_a_small_request_enough(self):
        """A script needs to say only what matters."""
        small = {
            "motion": "hover",
            "mass_g": 900,
            "draw": {
                "average_a": 10,
                "peak_a": 20,
                "peak_s": 2,
                "peak_every_s": 60,
                "reference_voltage_v": 14.8,
                "reference_mass_g": 1300,
            },
            "electronics": {"max_v": 16.8},
        }
        self.assertEqual(PlanIn(job=small).job.wants.chemistries, ["lipo"])
