"""The box over the API: each proposal, bought, gives what it promised in the box, Size and the grid."""

from coldstack.server.gear.models import CataloguePack, OwnedPack, RcModel
from tests.server.case import DemoCase


class TheBox(DemoCase):
    def box(self):
        return self.client.get("/api/keep/box").json()

    def test_the_demo(self):
        """Snow Hare has too few for its day; verdicts are those of the grid."""
        found = self.box()
        self.assertIn("Snow Hare", found["headline"])
        self.assertEqual([m["by"] for m in found["models"] if m["slug"] == "stoat"], ["log"])
        grid = self.post("/api/match/grid", {}).json()
        of_grid = {p["tag"]: [c["verdict"] for c in p["models"]] for p in grid["packs"]}
        self.assertGreater(len(found["packs"]), 20)
        for p in found["packs"]:
            self.assertEqual(p["verdicts"], of_grid[p["tag"]], p["tag"])
            self.assertEqual(p["serves"] == 0, p["tag"] in found["none"])
        self.assertTrue(found["proposals"])

    def test_a_proposal_gives_what_it_promised(self):
        """Each, bought with one press and taken back: in the box, in Size, the grid and the day."""
        before = self.box()
        for p in before["proposals"]:
            ids = [b["id"] for b in p["buys"] for _ in range(b["count"])]
            made = self.post("/api/keep/box/bought", {"ids": ids})
            self.assertEqual(made.status_code, 200, made.content)
            tags = made.json()["tags"]
            self.assertEqual(len(tags), len(ids))
            after = self.box()
            self.assertAlmostEqual(after["minutes"] - before["minutes"], p["more_minutes"], delta=0.5)
            bought = [x for x in after["packs"] if x["tag"] in tags]
            self.assertTrue(all(x["runs"] for x in bought))
            grid = {x["tag"]: x for x in self.post("/api/match/grid", {}).json()["packs"]}
            for x in bought:
                slug = next(m["slug"] for m in after["models"] if m["name"] == x["runs"])
                at = [m["slug"] for m in after["models"]].index(slug)
                self.assertEqual(grid[x["tag"]]["models"][at]["verdict"], x["verdicts"][at])
                job = RcModel.live.get(slug=slug).job
                mine = self.post("/api/sizing/details", {"job": job, "ids": [f"owned:{x['tag']}"]}).json()[0]
                self.assertEqual(mine["fit"]["verdict"], x["verdicts"][at])
                day = self.post("/api/run/day", {"model": slug, "pack": x["tag"], "hours": 5})
                self.assertEqual(day.status_code, 200, day.content)
                self.assertAlmostEqual(day.json()["run_min"], mine["minutes"], delta=0.1)
            self.assertEqual(
                self.post(f"/api/gear/changes/{made.json()['change']['id']}/undo", {}).status_code, 200
            )
        self.assertEqual(self.box()["packs"], before["packs"])

    def test_nothing_is_bought_by_half(self):
        """One of two that is not on sale: neither is in the box."""
        count = OwnedPack.live.count()
        got = self.post(
            "/api/keep/box/bought", {"ids": [f"pack:{CataloguePack.live.first().pk}", "pack:999999"]}
        )
        self.assert_problem(got, 422, "ids", "not on sale")
        self.assertEqual(OwnedPack.live.count(), count)
        self.assertEqual(self.post("/api/keep/box/bought", {"ids": []}).status_code, 422)

    def test_how_often_is_what_its_owner_says(self):
        """Told in what is wanted; the box follows."""
        job = RcModel.live.get(slug="grebe").job
        job["wants"] |= {"runs_a_day": 5, "days_a_month": 2}
        self.client.put("/api/models/grebe/job", job, content_type="application/json")
        grebe = next(m for m in self.box()["models"] if m["slug"] == "grebe")
        self.assertEqual((grebe["by"], grebe["runs_a_day"]), ("told", 5))
        self.assertEqual(grebe["often"], "5 runs on 2 days a month, as told")

    def test_queries_do_not_grow_with_packs(self):
        """As many with twenty packs more."""
        self.box()
        with self.assertNumQueriesFewer(60) as few:
            self.box()
        pack = OwnedPack.live.get(tag="04")
        for k in range(20):
            pack.pk, pack.tag = None, f"x{k}"
            pack.save()
        self.box()
        with self.assertNumQueriesFewer(60) as many:
            self.box()
        self.assertLessEqual(len(many), len(few) + 2)

    def assertNumQueriesFewer(self, most):  # as Django names its own
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        case = self

        class Few(CaptureQueriesContext):
            def __exit__(self, *error):
                super().__exit__(*error)
                case.assertLess(len(self), most)

        return Few(connection)


class AnEmptyBox(DemoCase):
    @classmethod
    def setUpTestData(cls):
        """Nothing."""

    def test_it_says_so(self):
        """No packs, no models: what is missing is named, and nothing fails."""
        found = self.client.get("/api/keep/box").json()
        self.assertEqual(found["headline"], "There is no pack in the box yet.")
        self.assertEqual((found["proposals"], found["plugs"], found["waits"]), ([], [], None))
