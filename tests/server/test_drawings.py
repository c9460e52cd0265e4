"""What is drawn, through the API: the same facts as Match, Size and Keep say in words."""

from coldstack.server.gear.models import OwnedPack, RcModel
from coldstack.server.life.now import standing_of
from tests.server.case import DemoCase


class Drawings(DemoCase):
    def job(self, slug="ptarmigan"):
        return RcModel.live.get(slug=slug).job

    def test_the_bay_says_what_match_says(self):
        """Where the middle must lie, and what is too large."""
        for pack in OwnedPack.live.all():
            with self.subTest(pack.tag):
                ask = {"job": self.job(), "pack": f"owned:{pack.tag}"}
                match = self.post("/api/match", ask).json()
                drawn = self.post("/api/drawings/bay", {"job": ask["job"], "packs": [ask["pack"]]}).json()[0]
                position = match["drive"]["position_mm"]
                if position is None:
                    self.assertIsNone(drawn["wanted_mm"])
                else:
                    self.assertAlmostEqual(drawn["wanted_mm"], position)
                over = {c["id"] for c in match["drive"]["checks"] if c["verdict"] == "over"}
                out = {f"bay.{side}" for side in drawn["sticks_out_mm"]}
                self.assertEqual(out, over & {"bay.length", "bay.width", "bay.height"})

    def test_four_in_one_bay_and_none_that_is_not_there(self):
        """In the order asked; unknown ids are left out; a fifth is refused."""
        ids = ["owned:04", "series:owned:13", "nothing", "owned:06"]
        drawn = self.post("/api/drawings/bay", {"job": self.job(), "packs": ids}).json()
        self.assertEqual([d["id"] for d in drawn], ["owned:04", "series:owned:13", "owned:06"])
        self.assertEqual(len(drawn[1]["packs"]), 2)
        self.assert_problem(
            self.post("/api/drawings/bay", {"job": self.job(), "packs": ids + ids}), 422, "packs"
        )

    def test_dragged(self):
        """The place asked for, as far as the bay lets it, and the balance there."""
        ask = {"job": self.job(), "packs": ["owned:04"], "at_mm": 1000}
        drawn = self.post("/api/drawings/bay", ask).json()[0]
        self.assertEqual(drawn["middle_mm"], drawn["slide_mm"][1])
        self.assertEqual(drawn["balance"]["heavy"], "tail_heavy")

    def test_the_wiring_is_that_of_match(self):
        """Every pack in every model: the adapters that Match names, its loadings, no fault at any step."""
        for slug in RcModel.live.values_list("slug", flat=True):
            for tag in OwnedPack.live.values_list("tag", flat=True):
                with self.subTest(f"{slug} {tag}"):
                    ask = {"job": self.job(slug), "pack": f"owned:{tag}"}
                    match = self.post("/api/match", ask).json()
                    drawn = self.post("/api/drawings/wiring", ask).json()
                    drive, charge = drawn["drive"], drawn["charge"]
                    names = [p["name"] for p in drive["parts"] if p["kind"] == "piece"]
                    if match["drive"]["adapters"]:
                        self.assertEqual(names, match["drive"]["adapters"])
                    said = {j["name"]: j["loading"] for j in match["drive"]["joints"]}
                    for load in drive["loads"]:
                        self.assertEqual(load["loading"], said[load["name"]])
                    self.assertEqual(
                        charge is not None, bool(match["charge"] and match["charge"]["possible"])
                    )
                    for w in filter(None, (drive, charge)):
                        self.assertEqual([s["faults"] for s in w["plug_in"] if s["faults"]], [])
                        self.assertEqual(w["plug_in"][-1]["live"], [])

    def test_on_the_bench(self):
        """Packs on a board, as the order has them; the steps are the order's, word for word."""
        bench = {"laid": [{"pack": f"owned:{t}", "cells": "3.8 3.8 3.8 3.8"} for t in ("01", "02")]}
        plan = self.post("/api/bench/plan", bench).json()
        batch = next(b for b in plan["batches"] if len(b["packs"]) == 2)
        slot = next(s for s in plan["slots"] if s["batch"] == batch["id"])
        ask = {"bench": bench, "packs": batch["packs"], "charger": slot["charger"], "port": slot["port"]}
        order, drawn = (self.post(f"/api/{at}", ask).json() for at in ("bench/order", "drawings/bench"))
        self.assertEqual([s["sentence"] for s in drawn["plug_in"]], [s["sentence"] for s in order["steps"]])
        self.assertEqual([s["sentence"] for s in drawn["pull_out"]], [s["sentence"] for s in order["unplug"]])
        self.assertEqual({f["fault"] for f in drawn["forbidden"]}, {"short", "thin"})
        self.assertEqual(len([p for p in drawn["parts"] if p["kind"] == "pack"]), 2)

    def test_which_plug(self):
        """By looks and a rule; what cannot be is refused at its field."""
        found = self.post("/api/drawings/which-plug", {"shape": "round", "apart_mm": 7.2, "width_mm": 15.5})
        self.assertEqual(found.json()["likely"][0]["id"], "xt60")
        mates = self.post("/api/drawings/which-plug", {"mates_with": "ec3"}).json()["likely"]
        self.assertIn("ec3", [x["id"] for x in mates])
        self.assertNotIn("xt60", [x["id"] for x in mates])
        self.assert_problem(self.post("/api/drawings/which-plug", {"apart_mm": -1}), 422, "apart_mm")
        unknown = self.post("/api/drawings/which-plug", {"mates_with": "heron"})
        self.assertEqual(unknown.status_code, 422)
        plugs = self.client.get("/api/drawings/plugs").json()
        self.assertTrue(all(p["face"] is None or p["face"]["contacts"] for p in plugs))

    def test_a_pack_as_it_is(self):
        """By what was read last; by cells typed just now; a bad line is refused, an unknown tag not there."""
        page = self.client.get("/api/drawings/packs/13").json()
        self.assertEqual([c["volts"] for c in page["cells"]], list(standing_of("13").now.reading.cell_v))
        typed = self.client.get("/api/drawings/packs/13?cells=4.1 3.9").json()
        self.assertEqual([c["mark"] for c in typed["cells"]].count("act"), 1)
        self.assertEqual(self.client.get("/api/drawings/packs/13?cells=9 9").status_code, 422)
        self.assertEqual(self.client.get("/api/drawings/packs/nobody").status_code, 404)
