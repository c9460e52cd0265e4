"""What changed, and since when."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.keeping.changes import changes
from coldstack.core.keeping.health import evidence_of
from coldstack.core.packs.pack import Pack
from tests.core.keeping.test_health import PACK, SOUND


def life(count, change_at, **then):
    """So many records, a week apart, of which those from ``change_at`` on differ as said."""
    return [replace(SOUND, day=7.0 * n, cycle=n, **(then if n >= change_at else {})) for n in range(count)]


def told(records, pack=PACK):
    return {c.id: c for c in changes(pack, records, evidence_of(pack, records)[0])}


class SinceWhen(SimpleTestCase):
    def test_the_day_on_which_a_sign_came(self):
        """Capacity at 85 % from the tenth record on: the median of five follows with the third, a fortnight
        later; first and now are medians of five."""
        found = told(life(20, 9, capacity_ah=3.3))["capacity"]
        self.assertEqual((found.first, found.now, found.level), ("3.90 Ah", "3.30 Ah", "watch"))
        self.assertEqual((found.since_day, found.before_that, found.first_day), (7.0 * 11, False, 0.0))
        self.assertAlmostEqual(found.times, 3.3 / 3.9)

    def test_the_worst_first_and_the_fine_without_a_day(self):
        """A lazy cell before what is as ever; the cell that changed is named."""
        found = changes(
            PACK,
            records := life(16, 8, cell_mohm=(3.0, 5.4, 3.0, 3.0), capacity_ah=3.4),
            evidence_of(PACK, records)[0],
        )
        self.assertEqual([c.level for c in found], ["retire", "watch", "watch", *["fine"] * (len(found) - 3)])
        self.assertEqual(
            (found[0].name, found[0].first, found[0].now),
            ("Cell 2 over its neighbours", "1.00 times", "1.80 times"),
        )
        self.assertEqual({c.since_day for c in found[3:]}, {None})

    def test_a_sign_that_was_always_there(self):
        """As far back as it was looked."""
        found = told([replace(SOUND, day=float(n), cycle=n, balance_min=12.0) for n in range(70)])[
            "balancing"
        ]
        self.assertEqual((found.level, found.before_that, found.since_day), ("watch", True, 10.0))

    def test_a_jump_with_its_day(self):
        """The reading that shows it first, with what it was and is."""
        found = changes(PACK, jump := life(11, 9, cell_mohm=(4.5,) * 4), evidence_of(PACK, jump)[0])[0]
        self.assertEqual(
            (found.name, found.first, found.now), ("The pack’s resistance: a jump", "3.00 mΩ", "4.50 mΩ")
        )
        self.assertEqual((found.since_day, found.first_day, found.level), (63.0, 56.0, "watch"))

    def test_too_few_say_nothing(self):
        """Three readings are no change; one cell has no neighbours."""
        self.assertEqual(told(life(3, 9)), {})
        one = Pack("x", "1S", "lipo", 1, 4.0, 90.0)
        single = [replace(r, cell_mohm=(3.0,), rest_cell_v=(3.8,)) for r in life(8, 9)]
        self.assertNotIn("cell", told(single, one))
        self.assertNotIn("spread", told(single, one))
