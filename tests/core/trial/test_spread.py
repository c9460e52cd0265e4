import math
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.pack import LogFindings
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import evaluate, pack_columns
from coldstack.core.trial.spread import minutes_range, quantile, sensitivity
from coldstack.core.trial.unknowns import UNKNOWNS, Spreads, _weakest, drawn
from tests.core.trial.jobs import job, pack

STEADY = {"peak_s": 0.0, "average_a": 12.0, "peak_a": 12.0}


def ranged(wanted, *packs):
    c = from_packs(packs, "cautious")
    minutes = evaluate(wanted, c).minutes
    return minutes, minutes_range(wanted, c, minutes, np.zeros(len(c), bool))


def part(spread, name):
    return spread.by[0][UNKNOWNS.index(name)]


NINE_TENTHS = 1.645 / 2
"""± is two standard deviations; 5th to 95th percentile are 1.645 of them."""


class Quantiles(SimpleTestCase):
    def test_as_numpy_has_them_without_the_infinite(self):
        """Rows with none, some and nearly all of their figures infinite."""
        rng = np.random.default_rng(2)
        runs = rng.normal(10, 2, (5, 64))
        runs[1, :7], runs[2, :40], runs[3, 1:] = np.inf, np.inf, np.inf
        for share in (0.05, 0.5, 0.95):
            expected = [np.quantile(r[np.isfinite(r)], share) for r in runs]
            np.testing.assert_allclose(quantile(runs, share), expected)


class Range(SimpleTestCase):
    def test_draw_alone_by_hand(self):
        """With next to no resistance ±10 % of watts, log-normal, make as much of minutes."""
        stiff = pack(cell_mohm=0.05, label_c=None)
        minutes, spread = ranged(job(draw={**STEADY, "spread": 0.10}), stiff)
        log_normal = math.log(1.1) * NINE_TENTHS * minutes[0]
        self.assertAlmostEqual(part(spread, "draw"), log_normal, delta=0.002 * minutes[0])
        self.assertEqual(spread.most(0), "draw")

    def test_capacity_alone_by_hand(self):
        """±6 % of capacity are ±6 % of minutes, and the rest is small where nothing resists."""
        stiff = pack(learnt=LogFindings("log", 0.05, 0.01, 0.02, 30.0, 0.01), label_c=None, series=1)
        minutes, spread = ranged(job(draw={**STEADY, "spread": 0.0}), stiff)
        self.assertAlmostEqual(
            part(spread, "capacity"), 0.06 * NINE_TENTHS * minutes[0], delta=0.002 * minutes[0]
        )
        self.assertLess(part(spread, "resistance"), 0.001 * minutes[0])

    def test_squares_add(self):
        """Half the width is about the root of the summed squares of what each unknown does alone."""
        minutes, spread = ranged(job(), pack())
        width = spread.high[0] - spread.low[0]
        self.assertAlmostEqual(width / 2, np.sqrt((spread.by[0] ** 2).sum()), delta=0.12 * width)
        self.assertLess(spread.low[0], minutes[0])

    def test_the_weakest_of_many_cells_ends_it_sooner(self):
        """Of cells ±2 % the lowest of twelve is expected 1.63 standard deviations below, of one none."""
        lows = [float(np.mean(_weakest(s))) for s in (1, 4, 12)]
        for low, expected in zip(lows, (0.0, -1.03, -1.63), strict=True):
            self.assertAlmostEqual(low, expected, delta=0.05)

    def test_what_cells_that_differ_take_by_hand(self):
        """Of twelve cells ± 2 %, two standard deviations, the lowest holds 1.63 % less on average."""
        one = pack_columns(job(), from_packs([pack(series=12)], "cautious"))
        nothing = Spreads(np.zeros(1), np.zeros(1), 0.0, np.zeros(1), np.zeros(1))
        held = drawn(one, nothing)[0].capacity_ah / one.capacity_ah
        self.assertAlmostEqual(float(held.mean()), 1 - 0.0163, delta=0.0005)

    def test_what_is_unknown_of_every_pack(self):
        """± 10 mV of resting volts and ± 4 K of warmth are two standard deviations; R1 spreads as told, its
        time by a quarter more, both log-normal."""
        one = pack_columns(job(), from_packs([pack()], "cautious"))
        spreads = Spreads(np.zeros(1), np.zeros(1), 0.0, np.zeros(1), np.full(1, 0.4))
        many, factor = drawn(one, spreads)
        np.testing.assert_allclose(factor, 1.0)
        self.assertAlmostEqual(float(many.ocv_shift_v.std()), 0.005, delta=2e-4)
        self.assertAlmostEqual(float(many.warmer_k.std()), 2.0, delta=0.1)
        for column, before, spread in (
            (many.slow_mohm, one.slow_mohm, 0.4),
            (many.slow_s, one.slow_s, 0.5),
        ):
            found = float(np.log(column / before).std())
            self.assertAlmostEqual(found, math.log1p(spread) / 2, delta=0.01)

    def test_a_worn_pack_has_the_wider_range_to_below(self):
        """What its health leaves open of the capacity takes minutes away, and adds none."""
        sound, worn = (
            ranged(job(), pack(owned=True, today=StateOfHealth(level=h)))[1] for h in ("fine", "light")
        )
        self.assertLess(worn.low[0], sound.low[0] * 0.95)
        self.assertLessEqual(worn.high[0], sound.high[0] + 1e-9)

    def test_more_spread_of_the_draw_widens_it(self):
        """5, 10, 20 %: ever wider."""
        widths = []
        for s in (0.05, 0.10, 0.20):
            _, spread = ranged(job(draw={"spread": s}), pack())
            widths.append(float(spread.high[0] - spread.low[0]))
        self.assertEqual(widths, sorted(widths))

    def test_a_run_that_was_cut_short_gets_its_own_minutes(self):
        """The plan followed it to 12 minutes; it runs for longer."""
        c = from_packs([pack(capacity_ah=9.0)], "cautious")
        full = evaluate(job(), c).minutes
        spread = minutes_range(job(), c, np.array([12.0]), np.array([True]))
        self.assertAlmostEqual(spread.minutes[0] / full[0], 1.0, delta=0.02)

    def test_fragile_where_a_worse_cell_would_stop_the_controller(self):
        """Measured at the edge: a quarter more resistance and the first peak ends it; a sound pack is not
        called so."""
        weak = pack(cell_mohm=13.5, label_c=None)
        _, spread = ranged(job(draw={"peak_a": 50.0}), weak, pack())
        self.assertFalse(spread.fragile[1])
        self.assertGreaterEqual(spread.low[0], 0.0)


class Sensitivities(SimpleTestCase):
    def one(self, wanted, one):
        c = from_packs([one], "cautious")
        minutes = float(evaluate(wanted, c).minutes[0])
        return minutes, sensitivity(wanted, c, 0, minutes)

    def test_a_hundred_grams_more_is_what_such_a_pack_gives(self):
        """The same make with 100 g more, simulated on its own."""
        minutes, s = self.one(job(), pack())
        times = 480 / 380
        bigger = pack(capacity_ah=4.0 * times, mass_g=480.0, cell_mohm=None, length_mm=None)
        direct = float(evaluate(job(), from_packs([bigger], "cautious")).minutes[0])
        self.assertEqual(s.extra_mass_g, 100.0)
        self.assertAlmostEqual(s.extra_minutes, direct - minutes, delta=0.05)

    def test_a_tiny_pack_is_asked_for_a_gram(self):
        """A hundred grams would mean nothing to an indoor flyer."""
        _, s = self.one(job(), pack(mass_g=9.0, capacity_ah=0.3))
        self.assertEqual(s.extra_mass_g, 1.0)

    def test_wheels_have_no_turning_point(self):
        """Watts in proportion to mass: more pack always drives longer."""
        _, s = self.one(job(motion="wheels"), pack())
        self.assertIsNone(s.turning_mass_g)
        self.assertTrue(all(b > a for a, b in zip(s.sweep_minutes, s.sweep_minutes[1:], strict=False)))

    def test_the_sweep_holds_the_pack_and_its_turning_point(self):
        """In the air the curve rises, turns near twice the model's mass, and falls."""
        _, s = self.one(
            job(mass_g=500.0, draw={**STEADY, "average_a": 8.0, "peak_a": 8.0}), pack(label_c=60.0)
        )
        self.assertLess(s.sweep_mass_g[0], 380)
        self.assertAlmostEqual(s.turning_mass_g / 1000.0, 1.0, delta=0.15)
        self.assertLess(s.sweep_minutes[-1], max(s.sweep_minutes))

    def test_curves_pass_through_the_pack_itself(self):
        """At its own cells and its own air each curve has the minutes of the pack, and its neighbours are
        what they say."""
        wanted = job(draw=STEADY, bay={"air_c": 20.0})
        minutes, s = self.one(wanted, pack())
        self.assertAlmostEqual(s.cells_minutes[s.sweep_cells.index(4)], minutes, delta=1e-6)
        self.assertAlmostEqual(s.air_minutes[s.sweep_air_c.index(20.0)], minutes, delta=1e-6)
        self.assertAlmostEqual(s.air_minutes[s.sweep_air_c.index(10.0)] - minutes, s.ten_colder, delta=1e-6)
        self.assertEqual(s.sweep_cells, [2, 3, 4, 5, 6])

    def test_one_more_cell_refitted_runs_longer(self):
        """Same watts, a cell more of energy, a little more mass."""
        _, s = self.one(job(drive="refitted"), pack(series=3, mass_g=300.0))
        self.assertGreater(s.one_more_cell, 0)

    def test_colder_takes_minutes_from_a_power_draw(self):
        """And more of them where the cells resist more."""
        stiff, soft = (self.one(job(draw=STEADY), pack(cell_mohm=r, label_c=None))[1] for r in (1.0, 8.0))
        self.assertLessEqual(soft.ten_colder, stiff.ten_colder)
        self.assertLessEqual(stiff.ten_colder, 0.0)

    def test_the_pack_s_own_temperature_counts(self):
        """A warmed pack in cold air starts as warm as it is said to be."""
        cold = job(bay={"air_c": -5.0})
        warmed = replace(cold, bay=replace(cold.bay, pack_c=30.0))
        c = from_packs([pack(cell_mohm=8.0, label_c=None)], "cautious")
        self.assertGreater(
            evaluate(warmed, c).discharge.lowest_voltage_v[0], evaluate(cold, c).discharge.lowest_voltage_v[0]
        )
