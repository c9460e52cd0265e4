"""The signs of health at their limits, the verdict, and a fleet with known truth."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from bench.fleet import fleet
from coldstack.core.keeping.health import LEVELS, evidence_of, health
from coldstack.core.keeping.records import Record
from coldstack.core.packs.pack import Pack

PACK = Pack("owned:01", "4S", "lipo", 4, 4.0, 350.0)
SOUND = Record(0, 1, 25.0, 0.6, (3.0,) * 4, (3.8,) * 4, 3.9, 4.0, 9.0)


def life(count=12, **last):
    """So many sound records, of which the latest five differ as said."""
    return [replace(SOUND, day=float(n), cycle=n + 1, **(last if n >= count - 5 else {})) for n in range(count)]  # fmt: skip


def levels(records, pack=PACK, **how):
    return {e.id: e.level for e in health(pack, records, **how).evidence}


class Signs(SimpleTestCase):
    def test_a_sound_pack_is_quiet(self):
        """Every sign fine, nothing too early, fly it."""
        found = health(PACK, life())
        self.assertEqual((found.level, set(levels(life()).values()), found.too_early), ("fine", {"fine"}, ()))

    def test_each_at_its_limits(self):
        """Just under, at, over: cell 1.3 and 1.6, growth 1.5 and 2, spread 0.03 and 0.05 V, capacity 90 and 80 %, balancing 10 and 15 min."""
        for sign, change, wanted in (
            ("cell", lambda x: {"cell_mohm": (3.0, 3.0, 3.0, 3.0 * x)}, ((1.29, "fine"), (1.3, "watch"), (1.59, "watch"), (1.6, "retire"))),
            ("growth", lambda x: {"cell_mohm": (3.0 * x,) * 4}, ((1.49, "fine"), (1.5, "watch"), (1.99, "watch"), (2.0, "light"))),
            ("spread", lambda x: {"rest_cell_v": (3.75, 3.75, 3.75, 3.75 + x)}, ((0.0299, "fine"), (0.0301, "watch"), (0.0501, "light"))),
            ("capacity", lambda x: {"capacity_ah": 4.0 * x}, ((0.9, "fine"), (0.899, "watch"), (0.8, "watch"), (0.799, "light"))),
            ("balancing", lambda x: {"balance_min": x}, ((10.0, "fine"), (10.1, "watch"), (15.0, "watch"), (15.1, "light"))),
        ):  # fmt: skip
            for value, level in wanted:
                with self.subTest(sign=sign, value=value):
                    self.assertEqual(levels(life(**change(value)))[sign], level)

    def test_minutes_must_stand_out_of_the_scatter(self):
        """12 became 9: a sign; 8: light duty. 12 became 11: within what pilots do."""
        early = [replace(SOUND, cycle=n, run_minutes=m) for n, m in enumerate((12.0, 12.3, 11.8, 12.1, 11.9))]
        for minutes, level in ((11.0, "fine"), (9.0, "watch"), (8.0, "light")):
            later = [replace(SOUND, cycle=9 + n, run_minutes=minutes + d) for n, d in enumerate((0, 0.1, -0.1, 0.2, -0.2))]  # fmt: skip
            self.assertEqual(levels([*early, *later])["minutes"], level)

    def test_one_bad_reading_accuses_nobody(self):
        """A bad contact once: the median of five does not move."""
        records = life()
        records[-1] = replace(records[-1], cell_mohm=(3.0, 3.0, 3.0, 9.0), rest_cell_v=(3.8, 3.8, 3.8, 3.7))
        self.assertEqual(health(PACK, records).level, "fine")

    def test_cold_is_not_ageing(self):
        """The same pack at 8 °C reads 1.7 times as much, and is as sound as before."""
        self.assertEqual(levels(life(temperature_c=8.0, cell_mohm=(3.0 * 1.694,) * 4))["growth"], "fine")

    def test_too_early(self):
        """Two records say nothing; that is said, and nobody is accused."""
        found = health(PACK, life(2))
        self.assertEqual(found.level, "fine")
        self.assertEqual(len(found.too_early), 5)
        self.assertIn("Too early", found.forecast)

    def test_a_damaged_cell_and_a_swollen_pack(self):
        """Retired, whatever else is fine; the worst stands first."""
        low = [*life(), replace(SOUND, rest_cell_v=(2.9, 3.8, 3.8, 3.8))]
        self.assertEqual(health(PACK, low).evidence[0].id, "damaged")
        self.assertEqual(health(PACK, life(), signs=["swollen"]).level, "retire")
        self.assertEqual(health(replace(PACK, fit=False), life()).level, "retire")

    def test_a_forecast(self):
        """Losing half a per cent a charge from 95 %: about 20 left."""
        records = [replace(SOUND, cycle=n, capacity_ah=4.0 * (0.95 - 0.005 * n)) for n in range(11)]
        self.assertIn("About 20 cycles left to 80 %", health(PACK, records).forecast)

    def test_a_forecast_by_resistance(self):
        """Two per cent of its first a charge, from the median of the first five on: 32 left to twice that; capacity counts where it comes first."""
        records = [replace(SOUND, cycle=n, cell_mohm=(3.0 * (1 + 0.02 * n),) * 4) for n in range(23)]
        # first: n = 2, 1.04 times; twice that at n = 54; now n = 22
        self.assertIn("About 32 cycles left to 2 times its first resistance", health(PACK, records).forecast)
        fading = [replace(r, capacity_ah=4.0 * (0.95 - 0.005 * r.cycle)) for r in records]
        self.assertIn("About 8 cycles left to 80 %", health(PACK, fading).forecast)

    def test_no_end_in_sight(self):
        """Neither falls nor rises beyond its scatter."""
        self.assertEqual(health(PACK, [replace(r, cycle=n) for n, r in enumerate(life(20))]).forecast, "No end in sight yet.")  # fmt: skip

    @given(st.lists(st.floats(0.5, 5.0), min_size=4, max_size=4), st.integers(0, 3), st.floats(1.0, 3.0))
    def test_a_worse_cell_never_reads_better(self, cells, which, times):
        """Raising the worst cell's resistance never lowers the verdict on it."""
        worst = max(range(4), key=cells.__getitem__)
        raised = [r * (times if k == worst else 1) for k, r in enumerate(cells)]
        order = [LEVELS.index(levels(life(cell_mohm=tuple(c)))["cell"]) for c in (cells, raised)]
        self.assertLessEqual(order[0], order[1])


class Fleet(SimpleTestCase):
    def test_bad_ones_are_found_and_good_ones_left_alone(self):
        """Of 120 packs with noisy readings between 5 and 28 °C: 95 % found within five charges, at most 2 % accused."""
        found = fleet(seed=7, packs=120)
        self.assertGreaterEqual(found.found_share, 0.95)
        self.assertLessEqual(found.accused_share, 0.02)

    def test_evidence_alone_is_the_same(self):
        """The quick way for many packs says what the whole does."""
        records = life(cell_mohm=(3.0, 3.0, 3.0, 5.0))
        self.assertEqual(tuple(evidence_of(PACK, records)[0]), health(PACK, records).evidence)
