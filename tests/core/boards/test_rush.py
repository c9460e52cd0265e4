"""What flows on a board: against a replay second by second, and what everybody joins."""

import math
import random
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.boards.batches import shared_limit, split
from coldstack.core.boards.parallel import sharing
from coldstack.core.boards.rush import first_minutes, own_a, rush_of, shared_charge_a
from coldstack.core.rules.house_rules import HOUSE_RULES, house_rules
from tests.core.boards.laid import board, four_s, lay
from tests.core.charging.replay import replay
from tests.thorough import many

STEADY = house_rules("steady")


def small(tag, volts, **changes):
    """1300 mAh, 100C on the label, nothing measured."""
    figures = {
        "capacity_ah": 1.3,
        "label_c": 100.0,
        "cell_mohm": None,
        "charge_c": None,
        **changes,
    }
    return lay(four_s(tag, **figures), volts)


def a_bench(rng, wide=0.1):
    """Two to eight packs of one cell count, read within so many volts, of any size, resistance and label."""
    series, level = rng.choice([1, 2, 3, 4, 6]), rng.uniform(3.6, 4.0)
    out = []
    for k in range(rng.randint(2, 6)):
        ah = rng.choice([0.85, 1.3, 2.2, 4.0, 5.0])
        pack = four_s(
            str(k),
            series=series,
            capacity_ah=ah,
            cell_mohm=rng.uniform(6, 40) / ah,
            charge_c=rng.choice([None, 1.0, 2.0, 5.0]),
        )
        cells = [round(level + rng.uniform(0, wide) + rng.gauss(0, 0.004), 3) for _ in range(series)]
        out.append(lay(pack, *cells))
    return out


class Together(SimpleTestCase):
    def test_seven_packs_that_people_sort_at_sight(self):
        """Three alike at 3.82 V, two at 3.72 and 3.70, one at 3.50, one of 3S: four batches under Steady, and
        under the strictest set as its 0.02 V allow."""
        laid = [
            *(small(t, 3.82) for t in "abc"),
            small("d", 3.72),
            small("e", 3.70),
            small("f", 3.50),
            small("g", 3.8, series=3),
        ]
        for rules in (STEADY, house_rules("long_life")):
            batches, _ = split(laid, rules=rules, board=board())
            tags = [[m.tag for m in b.members] for b in batches]
            with self.subTest(rules.id):
                self.assertEqual(tags, [["a", "b", "c"], ["d", "e"], ["f"], ["g"]])

    def test_a_little_over_1c_for_two_seconds_is_nothing(self):
        """Two 4S packs of 1300 mAh that rest 0.02 V a cell apart."""
        found = rush_of([small("d", 3.72), small("e", 3.70)], STEADY)
        self.assertTrue(1.3 < found.first_a[1] < 3 * 1.3, found)
        self.assertTrue(0 < found.over_s[1] < 4, found)

    def test_a_refusal_tells_amps_and_seconds(self):
        """0.1 V a cell: three times the charge current, and for how long above it."""
        found = sharing([small("c", 3.82), small("d", 3.72)], rules=STEADY, board=board())
        rush = [r.sentence for r in found.reasons if r.id == "rush"]
        self.assertEqual(len(rush), 2)
        for sentence in rush:
            self.assertRegex(
                sentence,
                r"^\d+\.\d A rush (into|out of) [cd] when joined, and stay above the 1\.3 A that it may be "
                r"charged at for \d+ s; 3\.9 A, 3 times that, are the most\.$",
            )

    def test_a_rush_that_only_the_socket_forbids(self):
        """2 A a socket and packs that may have 20: refused by the socket, and no seconds are told that were
        none."""
        pair = [lay(four_s(t, charge_c=5.0), v) for t, v in (("a", 3.80), ("b", 3.83))]
        found = sharing(pair, rules=house_rules("field_day"), board=board(continuous_a=2.0))
        words = [r.sentence for r in found.reasons if r.id == "rush"]
        self.assertTrue(words)
        for sentence in words:
            self.assertRegex(sentence, r"^\d\.\d A rush (into|out of) [ab] when joined; the board’s socket")

    def test_long_enough_is_too_long(self):
        """Below three times, and above once for more than ten seconds."""
        slow = [lay(four_s(t, cell_mohm=6.0, charge_c=1.0), v) for t, v in (("a", 3.6), ("b", 3.8))]
        found = sharing(slow, rules=STEADY, board=board())
        self.assertLess(max(map(abs, found.currents_a)), 3 * 4.0)
        self.assertGreater(max(found.over_s), 10)
        words = [r.sentence for r in found.reasons if r.id == "rush"]
        self.assertTrue(words and all("; 10 s are the most." in w for w in words), words)

    def test_calm_is_relative_to_the_smallest(self):
        """A fifth of what the smallest may be charged at: a pack a tenth as large takes longer to come to it
        than its big sisters would."""
        big = [lay(four_s(t, capacity_ah=5.0), v) for t, v in (("a", 3.80), ("b", 3.82))]
        little = lay(four_s("c", capacity_ah=0.5, cell_mohm=24.0), 3.80)
        self.assertLess(rush_of(big, STEADY).calm_s, rush_of([*big, little], STEADY).calm_s)


class AgainstTheReplay(SimpleTestCase):
    def test_nobody_is_over_its_own_limit(self):
        """500 random batches under any rules, charged at what the board is set to, from the moment of
        joining: no pack is above 105 % of what it may be charged at for more than ten seconds, and the amps
        are not lowered for nothing."""
        rng, boards, amps, limits, bound = random.Random(7), [], [], [], []
        while len(boards) < 500:
            rules = HOUSE_RULES[rng.choice(list(HOUSE_RULES))]
            laid = a_bench(rng, wide=1.2 * rules.parallel_spread_v)
            for batch in split(laid, rules=rules, board=board())[0]:
                if batch.on_board:
                    boards.append(batch.members)
                    amps.append(shared_limit(batch, rules, board()).current_a)
                    limits.append([1.05 * own_a(m, rules) for m in batch.members])
                    bound.append(amps[-1] < 0.98 * batch.rule_a)
        found = replay(boards, amps, limits)
        over = [found.over_s[i, : len(m)].max() for i, m in enumerate(boards)]
        self.assertLessEqual(max(over), 10.0)
        # a tenth more, where the amps were lowered, would be too much for somebody
        lowered = [i for i, x in enumerate(bound) if x]
        self.assertGreater(len(lowered), 100)
        lowered = lowered[:100]
        more = replay(
            [boards[i] for i in lowered], [1.1 * amps[i] for i in lowered], [limits[i] for i in lowered]
        )
        too_much = [more.over_s[k].max() > 10 for k in range(len(lowered))]
        self.assertGreater(np.mean(too_much), 0.95)

    def test_nobody_is_refused_whose_rush_is_over_in_time(self):
        """Random pairs up to 0.3 V a cell apart: the rule on rushes refuses those, and only those, that pass
        three times their limit at once, their plugs or socket, or stay above it for ten seconds."""
        rng, pairs, limits, said = random.Random(11), [], [], []
        for _ in range(many(300, 45)):
            pair = a_bench(rng, wide=0.3)[:2]
            found = sharing(pair, rules=STEADY, board=board())
            pairs.append(pair)
            limits.append([own_a(m, STEADY) for m in pair])
            said.append(any(r.id == "rush" for r in found.reasons))
        found = replay(pairs, [0.0] * len(pairs), limits)
        for i, own in enumerate(limits):
            first, over = np.abs(found.first_a[i, :2]), found.over_s[i, :2]
            times = max(first / np.minimum(3 * np.array(own), 20))
            if 0.98 < times < 1.02 or 9 < over.max() < 11:
                continue  # at the edge
            with self.subTest(i):
                self.assertEqual(said[i], bool(times > 1 or over.max() > 10))
        self.assertTrue(len(said) / 5 < sum(said) < 4 * len(said) / 5, sum(said))


class Limits(SimpleTestCase):
    def test_packs_alike_take_all_that_they_may_together(self):
        """Nothing is lost where there is nothing to lose."""
        alike = [small(t, 3.8, cell_mohm=8.0) for t in "abc"]
        self.assertAlmostEqual(shared_charge_a(alike, STEADY, board(), 3.9)[0], 3.9)

    def test_less_where_resistances_are_only_estimated(self):
        """One whose resistance is lower by what nobody knows draws more at first: with so many amps no pack
        gets more than it may, though one of three by the same label is 10 % lower; beside others 25 %."""
        for ah, label, lower in ((1.3, 40, 0.9), (1.5, 60, 0.75)):
            guessed = [small("a", 3.8, capacity_ah=ah, label_c=label), small("b", 3.8), small("c", 3.8)]
            amps, _ = shared_charge_a(guessed, STEADY, board(), 3.9)
            self.assertLess(amps, 3.9)
            true = [replace(guessed[0], cell_mohm=lower * guessed[0].cell_mohm), *guessed[1:]]
            flows = first_minutes(true, amps, STEADY)
            for amps_of_one, most in zip(flows.current_a, flows.own_a, strict=True):
                self.assertLessEqual(max(amps_of_one[10:]), 1.05 * most)

    def test_the_socket_is_a_limit_too(self):
        """4 A a socket, two packs of 4 Ah alike: 8 A in all."""
        alike = [lay(four_s(t, capacity_ah=6.0), 3.8) for t in "ab"]
        amps, _ = shared_charge_a(alike, STEADY, board(continuous_a=4.0), 12.0)
        self.assertAlmostEqual(amps, 8.0, places=1)

    def test_the_one_that_binds_is_named(self):
        """The emptier of two gets the most at first."""
        amps, binds = shared_charge_a([small("d", 3.72), small("e", 3.70)], STEADY, board(), 2.6)
        self.assertLess(amps, 2.5)
        self.assertEqual(binds.tag, "e")

    def test_the_first_minutes_add_up(self):
        """At every moment the packs take together what the charger gives; the first moment is the rush and a
        share of it."""
        members = [small("d", 3.72), small("e", 3.70)]
        shown = first_minutes(members, 2.0, STEADY)
        self.assertEqual(shown.time_s[0], 0)
        self.assertGreater(shown.time_s[-1], 240)
        for moment in zip(*shown.current_a, strict=True):
            self.assertAlmostEqual(sum(moment), 2.0, places=6)
        rush = rush_of(members, STEADY).first_a
        self.assertAlmostEqual(shown.current_a[1][0] - shown.current_a[0][0], rush[1] - rush[0], delta=0.1)
        self.assertTrue(all(map(math.isfinite, shown.own_a)))
