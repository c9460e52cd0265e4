import numpy as np
from django.test import SimpleTestCase

from coldstack.core.sizing.conflict import conflict
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.wording import hottest_link, lack
from tests.core.trial.jobs import job, pack


def lacks(wanted, one):
    e = evaluate(wanted, from_packs([one], "cautious"))
    return {e.checks[k].id: lack(e, k, 0) for k in e.failing(0)}


class Lacks(SimpleTestCase):
    def test_short_by_seconds_or_minutes(self):
        """Under a minute and a half in seconds, above in minutes; two digits are enough."""
        minutes = evaluate(job(), from_packs([pack()], "cautious")).minutes[0]
        self.assertEqual(
            lacks(job(wants={"minutes": minutes + 0.5}), pack())["want.minutes"], "short by 30 s"
        )
        self.assertEqual(lacks(job(wants={"minutes": minutes + 3}), pack())["want.minutes"], "short by 3 min")

    def test_too_heavy(self):
        """380 g against 350."""
        self.assertEqual(lacks(job(wants={"mass_g": 350.0}), pack())["want.mass"], "30 g\u2060 too heavy")

    def test_too_long_wide_and_high(self):
        """By how many millimetres, the clearance of 3 mm a side counted in."""
        found = lacks(job(bay={"length_mm": 130.0, "width_mm": 45.0, "height_mm": 30.0}), pack())
        self.assertEqual(found["bay.length"], "11 mm\u2060 too long")
        self.assertEqual(found["bay.width"], "5 mm\u2060 too wide")
        self.assertEqual(found["bay.height"], "7 mm\u2060 too high")

    def test_too_many_volts(self):
        """21.0 V on 16.8 V; for an LiHV pack of the rated count the extra per cell is told."""
        self.assertEqual(
            lacks(job(), pack(series=5))["window.full"], "4.2 V over the controller’s 16.8 V when full"
        )
        five = pack(chemistry="lihv", series=5)
        self.assertRegex(lacks(job(), five)["window.full"], r"^[\d.]+ V over the [^()]+$")
        lihv = lacks(job(wants={"chemistries": ("lihv",)}), pack(chemistry="lihv"))["window.full"]
        self.assertEqual(
            lihv, "0.6 V over the controller’s 16.8 V when full (LiHV: 0.15 V a cell more than LiPo)"
        )

    def test_too_few_volts_and_turns(self):
        """Under load, and at the motor."""
        found = lacks(job(wants={"volts": 16.0, "rpm": 15_000.0}, electronics={"motor_kv": 900.0}), pack())
        self.assertRegex(found["want.volts"], r"^[\d.]+ V too low under load$")
        self.assertRegex(found["want.rpm"], r"^\d+ rpm too slow$")

    def test_overloaded_links(self):
        """Which link, how much, and whether all the time or at the peak."""
        found = lacks(job(electronics={"controller_continuous_a": 10.0, "controller_burst_a": 30.0}), pack())
        self.assertRegex(found["controller.continuous"], r"^controller 1\d\d % continuous$")
        self.assertRegex(found["controller.burst"], r"^controller 1\d\d % at the peak$")

    def test_too_few_cells_for_the_propeller(self):
        """Both watts are told."""
        self.assertRegex(lacks(job(), pack(series=2))["drive.watts"], r"\d+ W at full stick, \d+ W needed")

    def test_a_controller_that_stops_early(self):
        """How much of the run's charge is still in the pack."""
        found = lacks(job(), pack(cell_mohm=35.0, label_c=None))
        self.assertRegex(found["run.delivers"], r"^stops with [\d.]+ % of the run’s charge still in it$")

    def test_hot_cells(self):
        """Their temperature when landing."""
        found = lacks(job(bay={"air_c": 45.0, "airflow": "closed"}), pack(cell_mohm=14.0, label_c=None))
        self.assertRegex(found["cells.temperature"], r"^cells at \d\d(\.\d)? °C\u2060 when landing$")


class HottestLink(SimpleTestCase):
    def test_is_the_highest_loading_and_named(self):
        """A weak controller is named with the moment that loads it most."""
        e = evaluate(job(electronics={"controller_burst_a": 42.0}), from_packs([pack()], "cautious"))
        loading, words = hottest_link(e, 0)
        self.assertEqual(words, "controller, at the peak")
        self.assertAlmostEqual(loading, e.heat[0])


class Conflicts(SimpleTestCase):
    def found(self, wanted, *packs):
        return conflict(evaluate(wanted, from_packs(packs, "cautious")))

    def test_none_while_something_does_it(self):
        """No conflict where a pack is feasible."""
        self.assertIsNone(self.found(job(), pack()))

    def test_one_want_in_the_way(self):
        """Too heavy alone: giving way on the weight is enough."""
        c = self.found(job(wants={"mass_g": 300.0}), pack())
        self.assertEqual(c.reliefs[0].gives, ["the weight"])
        self.assertIn("Giving way on the weight alone would be enough", c.sentence)
        self.assertIn("80 g\u2060 too heavy", c.reliefs[0].sentence)

    def test_two_wants_each_enough(self):
        """Either weight or minutes: both are offered, the nearer first."""
        light = pack("light", capacity_ah=3.0, mass_g=290.0)
        c = self.found(job(wants={"mass_g": 300.0, "minutes": 15.0}), pack(), light)
        self.assertEqual({g for r in c.reliefs for g in r.gives}, {"the weight", "the minutes"})

    def test_two_wants_together(self):
        """Too heavy and too short: both have to give."""
        c = self.found(job(wants={"mass_g": 330.0, "minutes": 17.0}), pack())
        self.assertEqual(set(c.reliefs[0].gives), {"the weight", "the minutes"})
        self.assertIn("stand in each other’s way", c.sentence)

    def test_a_limit_is_no_wish_that_gives_way(self):
        """Too long for the bay: nobody flies it by giving way on the bay, and nothing is said of quarrels."""
        c = self.found(job(wants={"mass_g": 300.0}, bay={"length_mm": 120.0}), pack())
        self.assertEqual(c.sentence, "Whatever the pack, the bay is not enough: that has to change first.")
        self.assertEqual(c.reliefs[0].gives, [])

    def test_a_wish_that_is_missed_by_half_is_no_relief(self):
        """Five minutes of the twelve that are wanted: nobody takes that for an answer; eight one may."""
        for ah, taken in ((1.3, False), (2.0, True)):
            light = pack("light", capacity_ah=ah, mass_g=150.0, label_c=150.0)
            c = self.found(job(wants={"mass_g": 160.0}), light)
            self.assertEqual("Giving way on the minutes alone" in c.sentence, taken, c.sentence)

    def test_two_links_that_are_over(self):
        """They do not stand in each other's way: both are too weak for this draw."""
        weak = {"controller_continuous_a": 5.0, "controller_burst_a": 6.0, "plug": "rcy"}
        c = self.found(job(electronics=weak), pack(plug="rcy"))
        self.assertRegex(c.sentence, "the plug and the controller’s amps are not enough")

    def test_more_than_three(self):
        """Then the nearest pack is named with all it lacks."""
        wanted = job(
            wants={"mass_g": 100.0, "minutes": 60.0},
            bay={"length_mm": 60.0},
            electronics={"controller_continuous_a": 5.0, "controller_burst_a": 6.0},
        )
        c = self.found(wanted, pack())
        self.assertIn("the bay and the controller’s amps are not enough", c.sentence)
        self.assertGreaterEqual(c.reliefs[0].sentence.count(";"), 3)

    def test_reliefs_point_at_candidates_that_then_do_it(self):
        """Without the want that gives, the pack named meets everything."""
        packs = [
            pack(f"p{i}", capacity_ah=ah, mass_g=ah * 92) for i, ah in enumerate((2.0, 3.0, 4.0, 6.0, 9.0))
        ]
        e = evaluate(job(wants={"mass_g": 250.0, "minutes": 20.0}), from_packs(packs, "cautious"))
        for relief in conflict(e).reliefs:
            failing = {e.checks[k].id for k in e.failing(relief.row)}
            allowed = {"the weight": "want.mass", "the minutes": "want.minutes", "the bay": "bay.height"}
            self.assertTrue(
                failing <= {allowed[g] for g in relief.gives} | {"bay.length", "bay.width"}, relief
            )
        self.assertFalse(np.any(e.feasible))
