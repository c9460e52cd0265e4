"""The draw by estimate, through the API, and what logged runs teach it."""

from coldstack.server.gear.models import RcModel
from tests.server.case import DemoCase


class Estimates(DemoCase):
    def estimate(self, slug, model=None, **changes):
        job = {**RcModel.live.get(slug=slug).job, **changes}
        return self.post("/api/sizing/estimate", {"job": job, "model": model})

    def test_the_demo_s_models_are_inside_their_ranges(self):
        """Those with a meter, and Stoat by its runs; each piece has its words and its ends."""
        for slug in ("ptarmigan", "fieldfare", "stoat", "dipper", "grebe"):
            found = self.estimate(slug, slug).json()
            with self.subTest(slug):
                self.assertTrue(found["measured"]["inside"], found["measured"])
                for piece in found["average"]["pieces"] + found["peak"]["pieces"]:
                    self.assertTrue(piece["low_a"] < piece["median_a"] < piece["high_a"])
                    self.assertTrue(piece["words"])
        self.assertTrue(self.estimate("stoat", "stoat").json()["logged"]["inside"])

    def test_runs_that_are_put_into_the_job_correct_the_next(self):
        """The factor is kept with what drives it, and the next estimate says that it starts from there."""
        before = self.estimate("stoat", "stoat").json()
        self.assertIsNone(before["off_by"])
        self.assertEqual(self.client.post("/api/runs/learn?model=stoat").status_code, 200)
        after = self.estimate("stoat", "stoat").json()
        self.assertAlmostEqual(after["off_by"], before["logged"]["factor"], places=1)
        self.assertAlmostEqual(after["average"]["median_a"], after["logged"]["measured_a"], delta=0.2)
        self.assertAlmostEqual(after["logged"]["factor"], before["logged"]["factor"], places=1)

    def test_without_a_pack_of_now_it_says_so(self):
        """No figures, and what to say first."""
        found = self.estimate("stoat", now=None).json()
        self.assertIsNone(found["average"])
        self.assertIn("Say what it runs on now", found["none"])

    def test_an_unknown_model_has_no_runs(self):
        """The estimate is there all the same."""
        found = self.estimate("stoat", "nobody").json()
        self.assertIsNone(found["logged"])
        self.assertIsNotNone(found["average"])

    def test_refused_at_the_field(self):
        """A propeller that is none, a wheel beyond any."""
        odd = (({"propeller": "x"}, "propulsion.propeller"), ({"wheel_mm": 1e9}, "propulsion.wheel_mm"))
        for part, field in odd:
            self.assert_problem(self.estimate("stoat", propulsion=part), 422, field)
