"""Cycles, lying full, and what an hour costs."""

import math
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.errors import DomainError
from coldstack.core.packs.typical import typical_cells, typical_packs
from coldstack.core.rules.house_rules import HOUSE_RULES, STEADY
from coldstack.core.running.day.charging import day_charge
from coldstack.core.running.day.faster import ways_on
from coldstack.core.running.day.rotation import Day, rotation
from coldstack.core.sizing.plan import Stock, plan
from coldstack.core.sizing.why_not import why_not
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.wear.cost import cost_figures, cost_working, running_cost
from coldstack.core.wear.cycles import CYCLES, Habit, cycles_to_80
from coldstack.core.wear.lying import life_lost_lying, lost_lying, lying_rate
from coldstack.core.wear.so_far import cost_of_lying, cost_so_far, good_for_cycles
from tests.core.describing.models import TRAINER
from tests.core.equipment.test_equipment import pack

LIPO = np.array([CHEMISTRY_IDS.index("lipo")])
habits = st.builds(
    Habit,
    charge_c=st.floats(0.3, 5),
    less_v=st.floats(0, 0.15),
    depth=st.floats(0.3, 1),
    landing_c=st.floats(20, 65),
    load=st.floats(0.1, 1.3),
    full_days=st.floats(0, 30),
    lies_at_c=st.floats(0, 40),
)


def cycles(habit: Habit) -> float:
    """Of a LiPo pack used so."""
    return float(cycles_to_80(LIPO, habit).middle[0])


class LyingAbout(SimpleTestCase):
    def test_the_published_law(self):
        """4.2 V at 25 °C: α = 7.931·10⁶·e^(−23.398) = 5.47·10⁻⁴; 1.7 % in 100 days, 4.6 % in a year."""
        self.assertAlmostEqual(lying_rate(4.2, 25) * 1e4, 5.466, delta=0.01)
        self.assertAlmostEqual(lost_lying(100, 4.2, 25), 5.466e-4 * 100**0.75, delta=1e-5)
        self.assertAlmostEqual(lost_lying(365, 4.2, 25), 0.0456, delta=0.0005)

    def test_three_weeks_full_is_about_one_percent_of_a_life(self):
        """What the club says of a pack left full."""
        self.assertAlmostEqual(100 * life_lost_lying(21, 4.2, 3.8, 25), 1.0, delta=0.15)
        words, working = cost_of_lying(pack(4, 4.0), 21, STEADY)
        self.assertRegex(words, r"^Left full for 21 days: about 0\.\d+ % of its life\.$")
        self.assertIn("2014", str(working))

    @given(st.floats(0.1, 400), st.floats(3.7, 4.3), st.floats(-10, 45), st.floats(0, 1000))
    def test_fuller_warmer_longer_costs_more(self, days, volts, warmth, age):
        """And the first days cost more than later ones."""
        here = lost_lying(days, volts, warmth, age_days=age)
        self.assertGreater(lost_lying(days, volts + 0.05, warmth, age_days=age), here)
        self.assertGreater(lost_lying(days, volts, warmth + 5, age_days=age), here)
        self.assertGreater(lost_lying(1.2 * days, volts, warmth, age_days=age), here)
        self.assertLess(lost_lying(days, volts, warmth, age_days=age + 10), here)

    def test_nothing_is_said_of_a_short_while_or_a_flat_curve(self):
        """A day full is usual; LiFePO4 and NiMH are not told by volts."""
        self.assertIsNone(cost_of_lying(pack(4, 4.0), 1.9, STEADY))
        self.assertIsNotNone(cost_of_lying(pack(4, 4.0), 2.0, STEADY))
        self.assertIsNone(cost_of_lying(pack(4, 4.0, "lifepo4"), 60, STEADY))
        self.assertIsNone(cost_of_lying(pack(6, 4.0, "nimh"), 60, STEADY))

    def test_bad_figures(self):
        """No volts that are none, no days before now."""
        for ask in (
            lambda: lying_rate(5.0, 20),
            lambda: lying_rate(4.0, math.nan),
            lambda: lost_lying(-1, 4, 20),
        ):
            with self.assertRaises(DomainError):
                ask()


class Cycles(SimpleTestCase):
    def test_the_usual_habit_is_the_usual_number(self):
        """1C, 80 %, cool, stored: 300 for a LiPo, 150 to 500; each chemistry by its own."""
        for chemistry_id, (middle, low, high) in CYCLES.items():
            found = cycles_to_80(np.array([CHEMISTRY_IDS.index(chemistry_id)]), Habit())
            self.assertAlmostEqual(float(found.middle[0]), middle)
            self.assertAlmostEqual(float(found.low[0]), low)
            self.assertAlmostEqual(float(found.high[0]), high)

    def test_hard_use_is_eighty_to_a_hundred_and_fifty(self):
        """At what its cells honestly give, charged at 1C."""
        self.assertTrue(80 <= cycles(Habit(load=1.0)) <= 150)
        self.assertAlmostEqual(cycles(Habit(charge_c=2.0)), 225)
        self.assertAlmostEqual(cycles(Habit(charge_c=3.0)), 180)
        self.assertAlmostEqual(cycles(Habit(depth=0.6)), 420)
        self.assertAlmostEqual(cycles(Habit(less_v=0.05)), 420)

    @given(habits, st.floats(0.5, 0.99))
    def test_gentler_is_never_shorter(self, habit, by):
        """Slower charging, less depth, cooler landings, less load, fewer days full, a cooler shelf."""
        here = cycles(habit)
        for gentler in (
            replace(habit, charge_c=by * habit.charge_c),
            replace(habit, less_v=habit.less_v + 0.02),
            replace(habit, depth=by * habit.depth),
            replace(habit, landing_c=by * habit.landing_c),
            replace(habit, load=by * habit.load),
            replace(habit, full_days=by * habit.full_days),
            replace(habit, lies_at_c=habit.lies_at_c - 5),
        ):
            self.assertGreaterEqual(cycles(gentler), here * (1 - 1e-12))

    def test_a_habit_is_told_in_numbers(self):
        """NaN fails, as do days that nobody has."""
        for bad in (Habit(charge_c=math.nan), Habit(full_days=-1.0), Habit(load=math.inf)):
            with self.assertRaises(DomainError):
                cycles_to_80(LIPO, bad)

    def test_an_array_gives_what_single_ones_give(self):
        """Over chemistries and rates at once."""
        rates = np.array([0.5, 1.0, 2.0, 3.0])
        index = np.array([CHEMISTRY_IDS.index(x) for x in ("lipo", "liion", "lifepo4", "nimh")])
        found = cycles_to_80(index, Habit(charge_c=rates))
        for k in range(4):
            one = cycles_to_80(index[k : k + 1], Habit(charge_c=float(rates[k])))
            self.assertAlmostEqual(float(found.middle[k]), float(one.middle[0]))


class AnHour(SimpleTestCase):
    def setUp(self):
        self.job = described_job(TRAINER.answers, STEADY).job
        self.packs = [
            replace(pack(3, 2.2, label_c=30.0), id="catalogue:1", price=30.0, charge_c=2.0, owned=False),
            replace(pack(3, 2.2, label_c=30.0), id="catalogue:2", price=None, owned=False),
            replace(pack(3, 2.2, label_c=7.0), id="catalogue:3", price=22.0, owned=False),
        ]
        self.e = evaluate(self.job, job_candidates(self.job, self.packs))

    def test_price_over_cycles_and_hours(self):
        """By hand from its own cycles and minutes; the range is that of the cycles; no price, no guess."""
        found = running_cost(self.e)
        hours = float(self.e.minutes[0]) / 60
        self.assertAlmostEqual(float(found.per_h[0]), 30.0 / (float(found.cycles.middle[0]) * hours))
        self.assertAlmostEqual(float(found.high[0]), 30.0 / (float(found.cycles.low[0]) * hours))
        self.assertTrue(found.low[0] < found.per_h[0] < found.high[0])
        self.assertEqual(cost_figures(found, 1), {"cost_per_h": None, "cost_low": None, "cost_high": None})
        self.assertIn("An hour", str(cost_working(self.e, found, 0)))
        self.assertNotIn("An hour", str(cost_working(self.e, found, 1)))

    def test_the_cheaper_one_that_dies_young_is_dear(self):
        """7C for 26 A peaks is hard use: cheaper to buy, dearer by the hour."""
        found = running_cost(self.e)
        self.assertLess(found.cycles.middle[2], 0.6 * found.cycles.middle[0])
        self.assertGreater(found.per_h[2], found.per_h[0])

    def test_gentler_house_rules_never_cost_more_an_hour(self):
        """Long life beside the other schools, at the same minutes."""
        cycles_of = [
            float(running_cost(replace(self.e, job=replace(self.job, rules=HOUSE_RULES[r]))).cycles.middle[0])
            for r in ("long_life", "steady", "field_day")
        ]
        self.assertEqual(cycles_of, sorted(cycles_of, reverse=True))

    def test_why_not_another(self):
        """The cheaper one, the lighter, the longer: what each gains, and what it costs."""
        typical = [replace(p, price=8.0 * p.capacity_ah * p.series) for p in typical_packs()]
        p = plan(self.job, Stock(typical, typical_cells()), aim="cheapest")
        cost = running_cost(p.evaluation)
        found = why_not(p.evaluation, p.short_rows[0], cost)
        self.assertTrue(found)
        c = p.evaluation.candidates
        for w in found:
            other, mine = c.ids.index(w.id), p.short_rows[0]
            better = {
                "cheaper": c.price[other] < c.price[mine],
                "lighter": c.mass_g[other] < c.mass_g[mine],
                "longer": p.evaluation.minutes[other] > p.evaluation.minutes[mine],
            }
            self.assertTrue(better[w.by], w)
            self.assertTrue(w.sentence.endswith(".") and c.names[other] in w.sentence)
        self.assertEqual(len({w.id for w in found}), len(found))

    def test_the_aim_goes_by_the_hour(self):
        """The first of *cheapest to run* has the least cost of an hour of all that do the job."""
        typical = [replace(p, price=8.0 * p.capacity_ah * p.series) for p in typical_packs()]
        p = plan(self.job, Stock(typical, typical_cells()), aim="cheapest")
        cost = running_cost(p.evaluation).per_h
        able = p.evaluation.feasible & p.evaluation.real
        self.assertAlmostEqual(float(cost[p.short_rows[0]]), float(np.nanmin(cost[able])))


class SoFar(SimpleTestCase):
    def test_by_hours_or_by_charges(self):
        """45 over 30 h of runs is 1.50 an hour; without runs noted, by its charges."""
        bought = replace(pack(4, 4.0), price=45.0)
        self.assertTrue(
            cost_so_far(bought, 40, 1800, None, STEADY).startswith("1.50 an hour so far, over 30 h")
        )
        self.assertTrue(cost_so_far(bought, 30, 0, None, STEADY).startswith("1.50 a charge so far, over 30"))
        self.assertIn(
            f"{45 / good_for_cycles(bought, STEADY):.2f} a charge", cost_so_far(bought, 30, 0, None, STEADY)
        )

    def test_its_own_readings_go_before_what_is_usual(self):
        """70 charges and 30 left by its trend: a hundred in all."""
        bought = replace(pack(4, 4.0), price=45.0)
        told = cost_so_far(bought, 70, 0, 30, STEADY)
        self.assertIn("0.45 a charge if it reaches the 100 that its readings promise", told)

    def test_no_price_no_guess(self):
        """Nor before its third charge."""
        self.assertEqual(cost_so_far(pack(4, 4.0), 40, 1800, None, STEADY), "")
        self.assertEqual(cost_so_far(replace(pack(4, 4.0), price=45.0), 2, 30, None, STEADY), "")


class FasterOrOneMore(SimpleTestCase):
    def ways(self, packs=2, price=40.0, port_w=400.0, label_charge_c=5.0):
        like = replace(pack(4, 4.0), price=price, charge_c=label_charge_c)

        def charged(rules):
            return day_charge(like, port_w=port_w, rules=rules, trust="cautious")

        charge = charged(STEADY)
        day = Day(packs, 1, 12.0, charge.minutes, hours=4.0)
        return day, ways_on(day, like, rules=STEADY, charge=charge, charged=charged)

    def test_both_ways_in_money_cycles_and_waiting(self):
        """Less waiting either way, as the day itself says; faster wears each pack, one more is bought."""
        day, (faster, more) = self.ways()
        self.assertEqual((faster.what, more.what), ("faster", "one_more"))
        self.assertLess(faster.waited_min, rotation(day).waited_min)
        self.assertLess(faster.cycles, more.cycles)
        self.assertAlmostEqual(more.waited_min, rotation(replace(day, packs=3)).waited_min)
        self.assertEqual(more.price, 40.0)
        self.assertIn("fewer cycles", faster.sentence)
        self.assertIn("for 40.00 once", more.sentence)

    def test_no_price_no_money(self):
        """The waiting and the cycles are told all the same."""
        _, (faster, more) = self.ways(price=None)
        self.assertIsNone(faster.wear)
        self.assertIsNone(more.price)
        self.assertNotIn("wears", faster.sentence)

    def test_what_forbids_it_is_said(self):
        """A label of 1C, or a port without the watts."""
        for limit in ({"label_charge_c": 1.0}, {"port_w": 30.0}):
            _, (faster, _) = self.ways(**limit)
            self.assertIn("Charging faster is not possible here", faster.sentence)

    def test_nobody_waits_nothing_is_asked(self):
        """With packs enough."""
        self.assertEqual(self.ways(packs=20)[1], [])
