"""The box as a whole: who runs what, what to buy, one plug for all, the chargers; against brute force."""

from dataclasses import replace
from itertools import combinations_with_replacement, permutations, product

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.box.boxed import BoxModel, boxed
from coldstack.core.box.buying import Box, Purchase, lost_without, what_to_buy
from coldstack.core.box.demand import Demand, demand_of
from coldstack.core.box.one_plug import ModelPlug, one_plug, plugs_for_all
from coldstack.core.box.served_solver import served
from coldstack.core.box.waiting import Ports, one_port_more, only_on, whole_box
from coldstack.core.chain.plugs import plug_family
from coldstack.core.chain.warmth import Warming
from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.fit.fit import fit_of
from coldstack.core.packs.typical import typical_packs
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from tests.core.describing.models import RACER, TRAINER
from tests.core.equipment.test_equipment import pack

small_boxes = st.integers(1, 5).flatmap(
    lambda p: st.integers(1, 3).flatmap(
        lambda m: st.tuples(
            st.lists(
                st.lists(st.sampled_from([0.0, 0.0, 4.0, 7.5, 9.25, 20.0]), min_size=m, max_size=m),
                min_size=p,
                max_size=p,
            ),
            st.lists(st.integers(0, 3), min_size=m, max_size=m),
            st.lists(st.sampled_from([0.5, 1.0, 4.0]), min_size=m, max_size=m),
        )
    )
)


def most_minutes(minutes, runs, days) -> float:
    """By trying every way to send each pack to a model or to leave it at home."""
    best = 0.0
    for way in product(range(-1, len(runs)), repeat=len(minutes)):
        if any(way.count(m) > runs[m] for m in range(len(runs))):
            continue
        if any(m >= 0 and minutes[k][m] == 0 for k, m in enumerate(way)):
            continue
        best = max(best, sum(minutes[k][m] * days[m] for k, m in enumerate(way) if m >= 0))
    return best


class Serving(SimpleTestCase):
    @given(small_boxes)
    def test_as_brute_force_says(self, given_box):
        """The flow runs as many minutes as the best of all ways, and its plan is one of them."""
        minutes, runs, days = given_box
        found = served(np.array(minutes), runs, days)
        self.assertAlmostEqual(found.minutes, most_minutes(minutes, runs, days), places=6)
        for m, most in enumerate(runs):
            self.assertLessEqual(found.packs_of(m), most)
        told = sum(minutes[k][m] * days[m] for k, m in enumerate(found.model_of) if m >= 0)
        self.assertAlmostEqual(told, found.minutes)

    def test_the_longest_day_is_not_the_one_with_most_runs(self):
        """One run of twenty minutes goes before two of five that would take its pack away."""
        minutes = np.array([[20.0, 5.0], [0.0, 0.0]])
        self.assertEqual(served(minutes, [1, 1], [1.0, 1.0]).model_of, (0, -1))

    def test_nothing_in_the_box(self):
        """No packs, or no models: no minutes."""
        self.assertEqual(served(np.zeros((0, 2)), [1, 1], [1, 1]).minutes, 0)
        self.assertEqual(served(np.zeros((2, 0)), [], []).model_of, (-1, -1))

    @given(small_boxes)
    def test_a_pack_less_is_never_more(self, given_box):
        """What is lost without one is what brute force loses."""
        minutes, runs, days = given_box
        box = Box(np.array(minutes), tuple(runs), tuple(days))
        whole, lost = most_minutes(minutes, runs, days), lost_without(box)
        for k in range(len(minutes)):
            rest = minutes[:k] + minutes[k + 1 :]
            self.assertAlmostEqual(lost[k], whole - most_minutes(rest, runs, days), places=6)


class Buying(SimpleTestCase):
    SHOP = (
        Purchase("a", "small", (6.0, 0.0), 10.0),
        Purchase("b", "large", (9.0, 0.0), 25.0),
        Purchase("c", "other", (0.0, 12.0), 40.0),
        Purchase("d", "both", (8.0, 11.0), 45.0),
        Purchase("e", "worse than a", (5.0, 0.0), 12.0),
    )
    BOX = Box(np.array([[7.0, 0.0]]), (3, 2), (4.0, 2.0))

    def brute(self, most_price=float("inf")):
        """The most minutes for so much money, by trying all of up to three."""
        best = 0.0
        for n in (1, 2, 3):
            for chosen in combinations_with_replacement(self.SHOP, n):
                if sum(p.price for p in chosen) <= most_price + 1e-9:
                    minutes = [[7.0, 0.0], *(list(p.minutes) for p in chosen)]
                    best = max(best, most_minutes(minutes, (3, 2), (4.0, 2.0)) - 28.0)
        return best

    def test_each_point_is_the_most_for_its_money(self):
        """No other of up to three purchases costs as little and lets more be run; dearer ones let more."""
        front = what_to_buy(self.BOX, self.SHOP)
        self.assertGreater(len(front), 2)
        for p in front:
            self.assertAlmostEqual(p.more_minutes, self.brute(p.price), places=6)
        self.assertAlmostEqual(front[-1].more_minutes, self.brute())
        prices = [p.price for p in front]
        self.assertEqual(prices, sorted(prices))
        self.assertFalse(any("e" in p.ids for p in front))

    def test_each_gives_what_it_promises(self):
        """In the box, with its purchases in it."""
        prices = {p.id: p for p in self.SHOP}
        for p in what_to_buy(self.BOX, self.SHOP):
            after = self.BOX.served([prices[i].minutes for i in p.ids])
            self.assertAlmostEqual(after.minutes - self.BOX.served().minutes, p.more_minutes)
            self.assertAlmostEqual(sum(prices[i].price for i in p.ids), p.price)

    def test_a_box_that_is_enough_asks_for_nothing(self):
        """As many packs as runs, none of them short."""
        enough = Box(np.array([[9.0, 0.0]] * 3 + [[0.0, 12.0]] * 2), (3, 2), (4.0, 2.0))
        self.assertEqual(what_to_buy(enough, self.SHOP), [])

    def test_without_prices_the_fewest_go_first(self):
        """Nothing is guessed; one, two and three purchases."""
        front = what_to_buy(self.BOX, [replace(p, price=None) for p in self.SHOP])
        self.assertTrue(front)
        self.assertTrue(all(p.price is None for p in front))
        counts = [len(p.ids) for p in front]
        self.assertEqual(counts, sorted(counts))

    def test_few_points(self):
        """However many there are on sale."""
        shop = [Purchase(f"{k}", f"{k}", (float(k), float(60 - k)), 3.0 * k) for k in range(5, 55)]
        self.assertLessEqual(len(what_to_buy(self.BOX, shop)), 6)


class HowOften(SimpleTestCase):
    def setUp(self):
        self.job = described_job(TRAINER.answers, STEADY).job

    def test_by_its_log(self):
        """Four runs on each of ten days in three hundred: four runs, a day a month; rounded up."""
        days = [30.0 * k + h / 24 for k in range(10) for h in (10, 11, 12, 13)]
        found = demand_of(self.job, days)
        self.assertEqual((found.runs_a_day, found.by), (4, "log"))
        self.assertAlmostEqual(found.days_a_month, 10 / 271 * 30.4, places=6)
        self.assertEqual(demand_of(self.job, [*days, 301.0]).runs_a_day, 4)

    def test_two_runs_teach_nothing(self):
        """Assumed, and said so."""
        found = demand_of(self.job, [1.0, 2.0])
        self.assertEqual(found, Demand(3, 4.0, "assumed"))
        self.assertIn("assumed", found.words)

    def test_what_its_owner_says_goes_first(self):
        """One figure of both may be left to the log."""
        told = replace(self.job, wants=replace(self.job.wants, runs_a_day=6))
        found = demand_of(told, [1.1, 1.2, 5.1, 5.2])
        self.assertEqual((found.runs_a_day, found.by), (6, "told"))
        self.assertAlmostEqual(found.days_a_month, 2.0)


class Verdicts(SimpleTestCase):
    def test_they_are_those_of_every_stage(self):
        """Owned and on sale: what `fit_of` says of each alone; minutes only of what serves."""
        models = [
            BoxModel(described_job(t.answers, STEADY).job, Demand(2, 4.0, "told")) for t in (TRAINER, RACER)
        ]
        owned = [pack(3, 2.2, label_c=30.0), pack(3, 1.0), pack(5, 1.5, label_c=100.0)]
        sold = [p for p in typical_packs() if p.series in (3, 5)][:40]
        found = boxed(models, owned, sold, ())
        for m, model in enumerate(models):
            for k, p in enumerate(owned):
                e = evaluate(model.job, job_candidates(model.job, [p]))
                self.assertEqual(found.verdicts[m][k], fit_of(e, 0).verdict)
                serves = found.verdicts[m][k] in ("does", "care")
                self.assertAlmostEqual(found.box.minutes[k, m], e.minutes[0] if serves else 0.0, places=6)
        self.assertEqual(len(found.shop), 40)
        self.assertTrue(any(p.minutes[0] > 0 for p in found.shop))


class OnePlug(SimpleTestCase):
    def setUp(self):
        self.packs = [pack(3, 2.2), replace(pack(4, 4.0), plug="xt30"), replace(pack(1, 0.3), plug="ph_2")]
        calm, hard = (Warming((a,), (60.0,), 600.0) for a in (10.0, 70.0))
        self.models = [ModelPlug("calm", "xt60", False, 3, calm), ModelPlug("hard", "xt90", False, 6, hard)]

    def test_what_is_to_be_soldered(self):
        """Two joints for each plug that is another: one pack and one model; the small one keeps its own."""
        found = one_plug(plug_family("xt60"), self.packs, self.models, ())
        self.assertEqual((len(found.packs), len(found.models), found.joints), (1, 1, 4))
        self.assertEqual(len(found.cannot), 1)

    def test_where_it_would_get_too_hot(self):
        """70 A all the time through a 30-size; not through a 90-size."""
        self.assertEqual(one_plug(plug_family("xt30"), self.packs, self.models, ()).over, ("hard",))
        self.assertEqual(one_plug(plug_family("xt90"), self.packs, self.models[:1], ()).over, ())

    def test_only_families_that_are_here_the_least_work_first(self):
        """Those that get too hot last."""
        found = plugs_for_all(self.packs, self.models, ())
        self.assertEqual({x.plug for x in found}, {"xt60", "xt30", "xt90", "ph_2"})
        over = [len(x.over) for x in found]
        self.assertEqual(over, sorted(over))


class ChargingTheBox(SimpleTestCase):
    def test_two_ports_share_the_work(self):
        """60, 50 and 30 minutes on two ports: done after 80, the last of them waits 50."""
        found = whole_box(["a", "b", "c"], [Ports("x", "Two", 2)], [[60], [50], [30]])
        self.assertEqual((found.done_min, found.last, found.waits_min), (80, "c", 50))
        self.assertEqual(
            one_port_more(["a", "b", "c"], [Ports("x", "Two", 2)], [[60], [50], [30]]).saves_min, 20
        )

    def test_never_above_four_thirds_of_the_best(self):
        """Against every order on two chargers, of packs that both take alike."""
        chance = np.random.default_rng(4)
        for _ in range(30):
            times = chance.integers(10, 90, 5).tolist()
            ports = [Ports("x", "X", 1), Ports("y", "Y", 1)]
            found = whole_box([str(k) for k in range(5)], ports, [[t, t] for t in times])
            best = min(
                max(sum(times[k] for k in order[:cut]), sum(times[k] for k in order[cut:]))
                for order in permutations(range(5))
                for cut in range(6)
            )
            self.assertLessEqual(found.done_min, 4 / 3 * best + 1e-9)

    def test_who_has_but_one_charger(self):
        """And what nothing here charges is left out of the whole."""
        takes = [[60, None], [None, None], [30, 40]]
        ports = [Ports("x", "X", 1), Ports("y", "Y", 1)]
        self.assertEqual(only_on(["a", "b", "c"], ports, takes), [("a", "X")])
        self.assertEqual(whole_box(["a", "b", "c"], ports, takes).done_min, 60)
        self.assertIsNone(whole_box(["b"], ports, [[None, None]]))
        self.assertIsNone(one_port_more(["b"], ports, [[None, None]]))
