"""What a pack past flying still runs at the bench."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.equipment.second_life import BENCH_TOOLS, GENTLE_C, bench_uses
from coldstack.core.rules.house_rules import STEADY
from tests.core.equipment.test_equipment import pack


class SecondLife(SimpleTestCase):
    def test_three_cells_on_light_duty(self):
        """A 12 V lamp of 6 W from 2.2 Ah: 2.2 × 11.1 × 0.8 ÷ 6 = 3.3 h; no tool that wants more volts."""
        uses = {u.name: u for u in bench_uses(pack(3, 2.2), "light", STEADY)}
        self.assertAlmostEqual(uses["a lamp for 12 V"].minutes / 60, 2.2 * 11.1 * 0.8 / 6, delta=0.1)
        self.assertIn("3.3 h", uses["a lamp for 12 V"].words)
        self.assertNotIn("a soldering iron", uses)

    def test_only_those_past_flying(self):
        """Nothing of a good pack, nor of one that must go."""
        for level in ("fine", "again", "watch", "retire"):
            self.assertEqual(bench_uses(pack(3, 2.2), level, STEADY), [])

    def test_within_its_volts_from_full_to_landing(self):
        """Over every tool and cell count: full is never above it, landing never below."""
        for series in range(1, 7):
            for use in bench_uses(pack(series, 5.0), "light", STEADY):
                tool = next(t for t in BENCH_TOOLS if t.name == use.name)
                self.assertTrue(tool.least_v <= 3.6 * series and 4.2 * series <= tool.most_v)

    def test_nothing_that_asks_much(self):
        """Of a small pack no glue gun: 25 W from 10.8 V is more than three times its 0.5 Ah."""
        self.assertGreater(25 / 10.8, GENTLE_C * 0.5)
        self.assertNotIn("a glue gun for packs", {u.name for u in bench_uses(pack(3, 0.5), "light", STEADY)})

    def test_by_what_it_holds_today(self):
        """A pack that holds less runs shorter."""
        from coldstack.core.packs.health import StateOfHealth

        tired = replace(pack(3, 2.2), today=StateOfHealth(level="light", capacity_ah=1.1))
        fresh = bench_uses(pack(3, 2.2), "light", STEADY)[0].minutes
        self.assertAlmostEqual(bench_uses(tired, "light", STEADY)[0].minutes, fresh / 2)
