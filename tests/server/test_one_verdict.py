"""Every owned pack in every model, of the demo and of a world with odd gear: one verdict on every screen, the
same minutes, mAh and timer to the digit where the same thing is asked."""

from dataclasses import asdict

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.rules.house_rules import for_chemistry, house_rules
from coldstack.server.gear.models import OwnedPack, RcModel
from tests.core.fit.odd_pairs import PAIRS
from tests.lives import told
from tests.server.case import DemoCase
from tests.thorough import many, some

TIRED = 0.82
"""What the odd packs that have a life hold of their labels."""


class Table(DemoCase):
    def get(self, path, **query):
        found = self.client.get(path, query)
        self.assertEqual(found.status_code, 200, (path, query, found.content[:300]))
        return found.json()

    def size(self, job, tags):
        """Each pack in full, by its tag; those that are unfit are no candidates."""
        found = []
        for k in range(0, len(tags), 4):
            ids = [f"owned:{t}" for t in tags[k : k + 4]]
            found += self.post("/api/sizing/details", {"job": job, "ids": ids}).json()
        return {d["id"].removeprefix("owned:"): d for d in found}

    def full(self, model, row):
        """Cells as the model's house rules charge them."""
        rules = house_rules(model.job["house_rules"] or "steady")
        return " ".join([f"{for_chemistry(rules, row.chemistry).full_v:.3f}"] * row.series)

    def check_table(self):
        """Every pair (of every third pack), on every screen; how many of each verdict."""
        rows = {p.tag: p for p in some(OwnedPack.live.order_by("tag"), 3)}
        grid = self.post("/api/match/grid", {}).json()
        columns = {m["id"]: k for k, m in enumerate(grid["models"])}
        cells = {p["tag"]: p["models"] for p in grid["packs"]}
        pages = {t: {m["slug"]: m for m in self.get(f"/api/keep/packs/{t}")["models"]} for t in rows}
        seen = {}
        for model in RcModel.live.all():
            sizes = self.size(model.job, list(rows))
            runs = {p["tag"]: p for p in self.get("/api/run/packs", model=model.slug)}
            for tag, row in rows.items():
                with self.subTest(f"{tag} in {model.name}"):
                    size = sizes.get(tag)
                    cell, page = cells[tag][columns[model.slug]], pages[tag].get(model.slug)
                    self.same(size, cell, page, runs.get(tag), self.asked(model, row))
                    seen[cell["verdict"]] = seen.get(cell["verdict"], 0) + 1
        return seen

    def asked(self, model, row):
        """Match, go with full cells, the kit, the day."""
        match = self.post("/api/match", {"job": model.job, "pack": f"owned:{row.tag}"}).json()
        about = {"model": model.slug, "pack": row.tag}
        go = self.post("/api/run/go", {**about, "cells": self.full(model, row)}).json()
        day = self.post("/api/run/day", {**about, "packs": 2})
        # a kit is a thousand runs: of those that will not do, each pack's in one model
        kit = None
        if go["fit"] != "wont" or (row.pk + model.pk) % 6 == 0:
            kit = self.get("/api/run/kit", **about)["kits"][0]["kit"]
        return match["drive"], go, kit, day

    def same(self, size, cell, page, listed, asked):
        match, go, kit, day = asked
        fit, minutes = match["fit"], match["minutes"]
        told = {fit["verdict"], cell["verdict"], go["fit"]} | ({kit["fit"]} if kit else set())
        told |= {x["fit"] for x in (page, listed) if x} | ({size["fit"]["verdict"]} if size else set())
        self.assertEqual(len(told), 1, told)
        self.assertEqual((cell["sentence"], cell["minutes"]), (fit["sentence"], minutes))
        if size:
            self.assertEqual((size["fit"], size["minutes"]), (fit, minutes))
        if page:
            self.assertEqual((page["sentence"], page["minutes"]), (fit["sentence"], minutes))
        if fit["verdict"] == "wont":
            self.assertEqual((go["verdict"], day.status_code), ("no_go", 422))
            self.assertTrue(listed is None or not listed["runs"])
        elif listed is not None and listed["runs"]:
            self.assertEqual((listed["minutes"], day.status_code), (minutes, 200))
            if size["ending"] == "reached_landing":
                self.same_figures(size, go, kit)

    def same_figures(self, size, go, kit):
        """Of a full pack: Size, go, and the kit, which rounds down."""
        settings = size["settings"]
        self.assertAlmostEqual(go["minutes"], size["minutes"], places=6)
        self.assertEqual(go["timer_s"], settings["timer_s"])
        self.assertAlmostEqual(go["budget_mah"], settings["budget_mah"], places=3)
        self.assertEqual(go["alarm_cell_v"], settings["alarm_cell_v"])
        full = [r for r in kit["rows"] if r["from_v"] <= go["cells"][0] + 1e-9][-1]
        self.assertLessEqual(full["answers"][0]["timer_s"], settings["timer_s"])
        self.assertLessEqual(full["budget_mah"], settings["budget_mah"] + 1)


class OfTheDemo(Table):
    def test_every_pack_in_every_model(self):
        """Of each verdict there are some."""
        seen = self.check_table()
        self.assertGreater(seen["does"], many(4, 1))
        self.assertGreater(seen["care"], many(5, 1))
        self.assertGreater(seen["wont"], many(80, 20))


class OfOddGear(Table):
    """From an empty program: the models of the odd pairs and their packs, some of them tired."""

    @classmethod
    def setUpTestData(cls):
        """Nothing."""

    def setUp(self):
        for k, pair in enumerate(PAIRS):
            figures = asdict(pair.pack)
            wanted = ("series", "capacity_ah", "mass_g", "chemistry", "label_c", "plug", "lead_awg", "fit")
            pack = {"tag": f"A{k:02d}", "name": pair.pack.name, **{f: figures[f] for f in wanted}}
            self.assertEqual(self.post("/api/gear/packs", pack).status_code, 201)
            if k % 3 == 1:
                self.grow_old(pack)
        for name in dict.fromkeys(p.model.answers.name for p in PAIRS):
            self.add(next(p.model.answers for p in PAIRS if p.model.answers.name == name))

    def grow_old(self, pack):
        """Charges that put in less than the label's share."""
        cell = chemistry(pack["chemistry"])
        if not cell.volts_tell:
            return
        for days in range(8):
            told(pack["tag"], "reading", days_ago=10 - days, cell_v=[cell.nominal_v - 0.1] * pack["series"])
            put_in = TIRED * 0.8 * 1000 * pack["capacity_ah"]
            told(pack["tag"], "charge", days_ago=9.9 - days, ended="done", mah=put_in)

    def add(self, answers):
        asked = asdict(answers)
        inside = ("now_mass_told", "now_plug", "mass_told", "capacity_told")
        asked = {k: v for k, v in asked.items() if k not in inside}
        asked["now"] = {k: v for k, v in asked["now"].items() if k != "cell_mohm"}
        asked["now"]["pack"] = None
        found = self.post("/api/describe-model", asked)
        self.assertEqual(found.status_code, 200, found.content[:400])
        described = found.json()
        model = {"name": answers.name, "description": described["description"], "job": described["job"]}
        self.assertEqual(self.post("/api/gear/models", model).status_code, 201)

    def test_every_pack_in_every_model(self):
        """Of each verdict there are some."""
        seen = self.check_table()
        self.assertEqual(RcModel.live.count(), 7)
        self.assertGreater(seen["does"], many(4, 1))
        self.assertGreater(seen["care"], many(5, 1))
        self.assertGreater(seen["wont"], many(40, 10))

    def test_the_odd_pairs(self):
        """Run refuses or warns where a careful practitioner would, by the same reason as Match."""
        for k, pair in enumerate(PAIRS):
            with self.subTest(pair.name):
                row = OwnedPack.live.get(tag=f"A{k:02d}")
                model = RcModel.live.get(name=pair.model.answers.name)
                found = {p["tag"]: p for p in self.get("/api/run/packs", model=model.slug)}
                go = self.post(
                    "/api/run/go", {"model": model.slug, "pack": row.tag, "cells": self.full(model, row)}
                )
                self.assertEqual(go.json()["fit"], pair.verdict)
                self.assertEqual(go.json()["verdict"] == "no_go", pair.verdict == "wont")
                if row.tag in found:
                    self.assertEqual(found[row.tag]["fit"], pair.verdict)
