import json

from coldstack.server.gear.models import RcModel
from tests.server.case import DemoCase


class Details(DemoCase):
    def best(self, slug="ptarmigan", **parts):
        return self.details(slug, [self.plan(slug, **parts)["best"]], **parts)[0]

    def test_every_model_s_best_in_full(self):
        """Traces fall, ranges hold the minutes, one plate is out, every figure has its working."""
        for slug in ("ptarmigan", "grebe", "snow-hare", "fieldfare", "stoat", "dipper"):
            with self.subTest(slug):
                d = self.best(slug)
                self.assertLess(d["minutes_low"], d["minutes"])
                self.assertLess(d["minutes"], d["minutes_high"])
                self.assertGreater(d["trace"]["voltage_v"][0], d["trace"]["voltage_v"][-1])
                self.assertEqual(sum(p["weakest"] for p in d["plates"]), 1)
                self.assertEqual(
                    set(d["workings"]),
                    {
                        "minutes",
                        "timer",
                        "budget",
                        "alarm",
                        "full_v",
                        "peak",
                        "honest_c",
                        "mass",
                        "temperature",
                        "position",
                        "colder",
                        "one_more_cell",
                        "cost",
                    },
                )
                self.assertRegex(d["settings"]["timer"], r"^\d+:\d\d$")

    def test_plan_and_details_agree(self):
        """The row of the shortlist and the picked pack show the same minutes and loading."""
        plan = self.plan()
        for row in plan["shortlist"][:3]:
            d = self.details("ptarmigan", [row["id"]])[0]
            self.assertAlmostEqual(d["minutes"], row["minutes"], delta=0.01 * row["minutes"])
            self.assertAlmostEqual(max(p["loading"] for p in d["plates"]), row["loading"], delta=0.02)

    def test_the_reply_is_strict_json(self):
        """Also for a pack that collapses at once: no NaN, no infinity."""
        body = {"job": self.job(draw={"average_a": 300, "peak_a": 900}), "ids": ["owned:01", "owned:03"]}
        reply = self.post("/api/sizing/details", body)
        self.assertEqual(reply.status_code, 200, reply.content[:300])
        found = json.loads(reply.content, parse_constant=lambda word: self.fail(word))
        self.assertIn(found[0]["ending"], ("cannot_deliver", "reached_cutoff"))
        self.assertFalse(found[0]["feasible"])
        self.assertTrue(found[0]["lacks"])

    def test_house_rules_change_what_to_set(self):
        """Long life lands earlier than Field day: less charge, an earlier alarm."""
        pack = ["owned:04"]
        careful = self.details("ptarmigan", pack, house_rules="long_life")[0]
        hasty = self.details("ptarmigan", pack, house_rules="field_day")[0]
        self.assertLess(careful["settings"]["budget_mah"], hasty["settings"]["budget_mah"])
        self.assertGreater(careful["settings"]["alarm_cell_v"], hasty["settings"]["alarm_cell_v"])
        self.assertLess(careful["minutes"], hasty["minutes"])

    def test_label_trust_changes_what_a_label_is_worth(self):
        """A 50C label with no measurement: full, half or a quarter of what is above 20."""
        field = self.plan("stoat")["field"]
        names = dict(zip(field["ids"], field["names"], strict=True))
        pack = next(
            i
            for i in names
            if (names[i].startswith("Tarnlight 2S") and "100C" in names[i])
            or ("75C" in names[i] and i.startswith("pack"))
        )
        limits = [
            self.details("stoat", [pack], label_trust=t)[0]["plates"][0]["continuous"]["limit"]
            for t in ("as_printed", "cautious", "sceptical")
        ]
        self.assertEqual(limits, sorted(limits, reverse=True))

    def test_a_generic_candidate_can_be_looked_at(self):
        """What the shopping line stands on."""
        field = self.plan()["field"]
        made = next(i for i, k in zip(field["ids"], field["kinds"], strict=True) if k == "generic")
        self.assertEqual(self.details("ptarmigan", [made])[0]["kind"], "generic")

    def test_cautions_by_kind(self):
        """Pairs in parallel, pairs in series, builds from cells: each its own caution."""
        field = self.plan("fieldfare")["field"]
        kinds = dict(zip(field["kinds"], field["ids"], strict=True))
        for kind, caution in (
            ("parallel pair", "parallel_pair"),
            ("series pair", "series_pair"),
            ("cell build", "build_from_cells"),
        ):
            found = self.details("fieldfare", [kinds[kind]])[0]["cautions"]
            self.assertEqual([c["id"] for c in found], [caution])


class Fineness(DemoCase):
    def test_a_finer_grid_gives_more_candidates_and_the_same_real_ones(self):
        """Made-up packs only come and go."""

        def ids(capacity_steps):
            body = {"job": self.job(), "fineness": {"capacity_steps": capacity_steps, "c_steps": 4}}
            field = self.post("/api/sizing/plan", body).json()["field"]
            return {i for i, k in zip(field["ids"], field["kinds"], strict=True) if k != "generic"}, len(
                field["ids"]
            )

        coarse, few = ids(4)
        fine, many = ids(40)
        self.assertEqual(coarse, fine)
        self.assertGreater(many, few)

    def test_absurd_fineness_is_refused(self):
        """A million candidates are not asked for by a person."""
        reply = self.post(
            "/api/sizing/plan", {"job": self.job(), "fineness": {"capacity_steps": 10_000, "c_steps": 2}}
        )
        self.assert_problem(reply, 422, "fineness.capacity_steps")


class InFull(DemoCase):
    def in_full(self, **asked):
        return self.post("/api/sizing/plan", {"job": self.job("ptarmigan"), "in_full": True} | asked).json()

    def test_a_plan_brings_the_picked_pack(self):
        """In full only where that is asked for: the pick, the best without one; the same as asked alone."""
        self.assertIsNone(self.plan()["picked"])
        plan = self.in_full()
        self.assertEqual([plan["picked"]], self.details("ptarmigan", [plan["best"]]))
        other = next(i for i in plan["field"]["ids"] if i.startswith("owned:") and i != plan["best"])
        for pick in (other, "owned:07", "pack:1"):
            with self.subTest(pick):
                asked = self.details("ptarmigan", [pick])
                self.assertEqual(self.in_full(pick=pick)["picked"], asked[0] if asked else None)
        self.assertIsNone(self.in_full(pick="nothing of the kind")["picked"])

    def test_the_first_look_at_a_model_is_one_answer(self):
        """Model, plan, picked pack as they are told one by one; a kept job that cannot be has no plan."""
        told = self.client.get("/api/models/ptarmigan/plan?aim=lightest").json()
        self.assertEqual(told["model"], self.client.get("/api/models/ptarmigan").json())
        self.assertEqual(told["plan"], self.in_full(aim="lightest"))
        self.assertEqual(self.client.get("/api/models/nobody/plan").status_code, 404)
        self.assertEqual(self.client.get("/api/models/ptarmigan/plan?aim=odd").status_code, 422)
        model = RcModel.objects.get(slug="ptarmigan")
        model.job["draw"]["average_a"] = 1e5
        model.save()
        told = self.client.get("/api/models/ptarmigan/plan").json()
        self.assertIsNone(told["plan"])
        self.assertEqual(told["model"]["slug"], "ptarmigan")
