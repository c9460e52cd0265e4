"""Splitting: as few batches as any way of splitting has, and each one allowed."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.boards.batches import (
    at_most,
    batch_of,
    batch_pack,
    shared_limit,
    split,
    wants_charge,
)
from coldstack.core.boards.parallel import sharing
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.rules.setting import changed
from tests.core.boards.laid import board, four_s, lay

STEADY = house_rules("steady")


def tags(batches):
    return [[m.pack.id.removeprefix("owned:") for m in b.members] for b in batches]


class Split(SimpleTestCase):
    def test_by_hand(self):
        """Readings 3.70, 3.72, 3.76, 3.78 under 0.05 V: two and two."""
        laid = [lay(four_s(t), v) for t, v in (("a", 3.70), ("b", 3.78), ("c", 3.72), ("d", 3.76))]
        batches, rest = split(laid, rules=STEADY, board=board())
        self.assertEqual(tags(batches), [["b", "d"], ["c", "a"]])
        self.assertEqual(rest, [])

    def test_sockets_bound_a_batch(self):
        """Five equal packs on two sockets: three batches."""
        laid = [lay(four_s(t), 3.7) for t in "abcde"]
        self.assertEqual(len(split(laid, rules=STEADY, board=board(2))[0]), 3)
        self.assertEqual(len(split(laid, rules=STEADY, board=None)[0]), 5)

    def test_kinds_are_never_mixed_and_unfit_ones_stay_back(self):
        """4S, 2S, a swollen one, an unread one and a full one."""
        laid = [
            lay(four_s("a"), 3.7),
            lay(four_s("b", series=2), 3.7),
            lay(four_s("c"), 3.7, signs=["swollen"]),
            lay(four_s("d")),
            lay(four_s("e"), 4.2),
        ]
        batches, rest = split(laid, rules=STEADY, board=board())
        self.assertEqual(sorted(tags(batches)), [["a"], ["b"]])
        self.assertEqual(tags([batch_of(rest, rules=STEADY, board=None)]), [["c", "d", "e"]])

    @settings(max_examples=40)
    @given(
        st.lists(st.integers(0, 24), min_size=1, max_size=6),
        st.sampled_from(("long_life", "steady", "field_day")),
    )
    def test_no_other_split_has_fewer(self, steps, rules_id):
        """Against every partition of up to six packs; resistances so high that only the rule on volts
        forbids."""
        rules, on = house_rules(rules_id), board(4)
        laid = [lay(four_s(str(i), cell_mohm=60.0), round(3.65 + 0.01 * s, 3)) for i, s in enumerate(steps)]
        batches, _ = split(laid, rules=rules, board=on)
        self.assertEqual(
            sorted(t for b in tags(batches) for t in b), sorted(str(i) for i in range(len(steps)))
        )
        for b in batches:
            self.assertTrue(len(b.members) == 1 or sharing(b.members, rules=rules, board=on).allowed)
        fewest = min(
            len(p)
            for p in _partitions(list(range(len(steps))))
            if all(len(g) == 1 or sharing([laid[i] for i in g], rules=rules, board=on).allowed for g in p)
        )
        self.assertEqual(len(batches), fewest)


class AsOnePack(SimpleTestCase):
    def test_sums_and_the_governing_rate(self):
        """2.6 and 3.0 Ah: 5.6 Ah at the lower label's 1C; resistances in parallel; the board's plug."""
        members = [
            lay(four_s("31", capacity_ah=2.6, charge_c=1.0), 3.7),
            lay(four_s("32", capacity_ah=3.0, charge_c=3.0, cell_mohm=6.0), 3.7),
        ]
        b = batch_of(members, rules=house_rules("field_day"), board=board())
        pack = batch_pack(b, board())
        self.assertAlmostEqual(b.rule_a, 5.6)
        self.assertAlmostEqual(pack.capacity_ah, 5.6)
        self.assertAlmostEqual(pack.cell_mohm, 1 / sum(1 / m.cell_mohm for m in members))
        self.assertAlmostEqual(pack.cell_mohm, 2.0, delta=0.05)
        self.assertEqual((pack.plug, pack.charge_c, pack.series), ("banana_4", 1.0, 4))
        amps, words = at_most(b, house_rules("field_day"), board())
        self.assertIn("2.6 + 3 Ah at 1C, by the label of 31", words)
        self.assertIn("less what 31 would get of it beyond its own 2.6 A", words)
        self.assertTrue(4 < amps < 5.6)

    def test_the_busiest_socket(self):
        """2.8 A a socket for packs that may have 2.6 and 3.0 A: what the 3.0 Ah pack gets binds."""
        members = [lay(four_s("31", capacity_ah=2.6), 3.7), lay(four_s("32", capacity_ah=3.0), 3.7)]
        on = board(continuous_a=2.8)
        limit = shared_limit(batch_of(members, rules=STEADY, board=on), STEADY, on)
        self.assertAlmostEqual(limit.current_a, 2.8 * 5.6 / 3.0, delta=0.1)
        self.assertIn("as 32 gets the most", limit.numbers)

    def test_a_full_pack_wants_nothing(self):
        """Nor does one that was not read. Full is what the rules charge to: 4.10 V under rules that end
        there, not under those that go on."""
        self.assertTrue(wants_charge(lay(four_s("a"), 3.9), STEADY))
        self.assertFalse(wants_charge(lay(four_s("a"), 4.19), STEADY))
        self.assertFalse(wants_charge(lay(four_s("a")), STEADY))
        gentle = changed(STEADY, {"full_cell_v": 4.10})
        self.assertFalse(wants_charge(lay(four_s("a"), 4.10), gentle))
        self.assertTrue(wants_charge(lay(four_s("a"), 4.10), STEADY))


def _partitions(items):
    if not items:
        yield []
        return
    first, rest = items[0], items[1:]
    for p in _partitions(rest):
        yield [[first], *p]
        for i in range(len(p)):
            yield [*p[:i], [first, *p[i]], *p[i + 1 :]]
