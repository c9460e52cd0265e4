"""One reading, one meaning: whoever asks, at every limit and on both sides of it."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.boards.parallel import sharing
from coldstack.core.cells.chemistry import CHEMISTRIES
from coldstack.core.charging.inspection import VisualCheck, inspection
from coldstack.core.keeping.charge_signs import spread
from coldstack.core.keeping.records import Record
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import (
    LEAST_SHARE,
    check_reading,
    pack_reading,
    share_of_a_run,
    state_after_run,
    worth_a_run,
)
from coldstack.core.readings.tolerance import (
    OVER_FULL_V,
    apart,
    damaged,
    falls_short_of_volts,
    over_full,
    passes_volts,
    snapped,
    too_far_apart_to_join,
)
from coldstack.core.rules.house_rules import STEADY, for_chemistry, house_rules
from coldstack.core.running.limits import broken, limits_of, values_of
from tests.core.boards.laid import board, four_s, lay

HAIR = 1e-4
"""A tenth of what the best meter tells."""


def two_s(chemistry="lipo"):
    return Pack("owned:1", "two", chemistry, 2, 2.0, 120.0, owned=True)


class OneReadingFiveJudges(SimpleTestCase):
    def judged(self, pack, cells):
        """What Keep, the bench, the run and the board say of two cells: close, watch or act."""
        reading = check_reading(pack.chemistry, pack.series, cells)
        records = [Record(day, 1, rest_cell_v=cells) for day in range(3)]
        keep = {"fine": "close", "watch": "watch", "light": "act"}[spread(pack, records, STEADY).level]
        found = inspection(pack, VisualCheck(looked=True, at_room=True, reading=reading)).findings
        bench = next((f.id for f in found if f.id in ("spread", "apart")), "")
        run = next((r.verdict for r in broken(limits_of(pack, STEADY), values_of(reading, None))), "go")
        return (
            keep,
            {"": "close", "spread": "watch", "apart": "act"}[bench],
            {"go": "close", "careful": "watch", "no_go": "act"}[run],
        )

    def test_binary_fractions_make_no_difference(self):
        """3.70 and 3.75 V are as far apart as 3.80 and 3.85; a hair more is more."""
        for low in (3.70, 3.71, 3.80, 3.90, 4.05):
            for step, said in ((0.0299, "close"), (0.03, "watch"), (0.0499, "watch"), (0.05, "act")):
                cells = (low, round(low + step, 4))
                self.assertEqual(set(self.judged(two_s(), cells)), {said}, cells)

    def test_cells_that_cannot_be_balanced_are_watched(self):
        """NiMH 0.06 V apart: Keep, bench and run say the same, and it may be run with care."""
        for step, said in ((0.02, "close"), (0.06, "watch"), (0.2, "watch")):
            self.assertEqual(set(self.judged(two_s("nimh"), (1.2, round(1.2 + step, 3)))), {said}, step)

    def test_over_full(self):
        """A cell at 4.30 V: the bench mends, the run refuses, and at 4.23 V neither does."""
        for volts, over in ((4.23, False), (4.23 + HAIR, True), (4.30, True)):
            pack, cells = two_s(), (volts, 4.2)
            reading = pack_reading("lipo", cells)
            found = inspection(pack, VisualCheck(looked=True, at_room=True, reading=reading)).findings
            run = {r.id for r in broken(limits_of(pack, STEADY), values_of(reading, None))}
            self.assertEqual("over_full" in {f.id for f in found}, over, volts)
            self.assertEqual("over_full" in run, over, volts)
            self.assertEqual(over_full("lipo", volts), over)

    def test_joined_cells(self):
        """Two packs exactly as far apart as the house rules allow go on one board; a hair more not."""
        rules = replace(STEADY, parallel_spread_v=0.05)
        for step, far in ((0.05, False), (0.05 + HAIR, True)):
            self.assertEqual(too_far_apart_to_join(round(3.85 + step, 5) - 3.85, rules), far)


class Limits(SimpleTestCase):
    def test_of_every_chemistry(self):
        """Over full above its full volts and a meter's error; damaged below its own limit."""
        for cell in CHEMISTRIES.values():
            full = cell.full_v + OVER_FULL_V
            self.assertEqual([over_full(cell.id, v) for v in (full, full + HAIR)], [False, True], cell.id)
            low = cell.damage_v
            self.assertEqual([damaged(cell.id, v) for v in (low, low - HAIR)], [False, True], cell.id)
            self.assertTrue(damaged(cell.id, float("nan")) and over_full(cell.id, float("nan")))

    def test_how_far_apart(self):
        """The house rules' own limits, and those of rules that were set."""
        wide = replace(STEADY, spread_watch_v=0.06, spread_act_v=0.09)
        for rules in (STEADY, wide):
            at = (rules.spread_watch_v, rules.spread_act_v)
            found = [apart("lipo", v, rules) for limit in at for v in (limit - HAIR, limit)]
            self.assertEqual(found, ["close", "watch", "watch", "act"])

    def test_electronics(self):
        """16.8 V on a controller for 16.8 V pass, whatever sums of cells leave; a hair more does not."""
        self.assertFalse(passes_volts(3 * 4.2, 12.6))
        self.assertFalse(falls_short_of_volts(4 * 2.3, 9.2))
        self.assertTrue(passes_volts(12.6 + HAIR, 12.6))
        self.assertTrue(falls_short_of_volts(9.2 - HAIR, 9.2))
        self.assertEqual(
            list(snapped([12.6 + 1e-9, 12.6 + HAIR, 12.5], 12.6, 1e-6)), [12.6, 12.6 + HAIR, 12.5]
        )


class Spent(SimpleTestCase):
    def test_once(self):
        """The least share of a run above the landing point, by any house rules."""
        for rules in (STEADY, house_rules("long_life"), house_rules("field_day")):
            by_rules = for_chemistry(rules, "lipo")
            least = by_rules.landing_soc + LEAST_SHARE * (by_rules.start_soc - by_rules.landing_soc)
            self.assertEqual([worth_a_run("lipo", least + x, rules) for x in (-1e-6, 1e-6)], [False, True])
            self.assertAlmostEqual(share_of_a_run("lipo", by_rules.start_soc, rules), 1)
            self.assertEqual(share_of_a_run("lipo", 0.0, rules), 0)
            usual = [
                by_rules.landing_soc + x * (by_rules.start_soc - by_rules.landing_soc) for x in (0.14, 0.16)
            ]
            self.assertEqual([worth_a_run("lipo", x, rules) for x in usual], [False, True])

    def test_a_run_of_six_seconds(self):
        """It cannot have spent a full pack; ten minutes can, and so can any run of a pack nobody knew."""
        for before, minutes, state in (
            (1.0, 0.1, "part"),
            (1.0, 1.0, "part"),
            (1.0, 10.0, "spent"),
            (0.3, 0.1, "spent"),
            (None, 0.1, "spent"),
            (1.0, None, "spent"),
        ):
            found = state_after_run("lipo", None, before_soc=before, minutes=minutes)
            self.assertEqual(found, state, (before, minutes))
        self.assertEqual(state_after_run("lipo", 3.85, before_soc=1.0, minutes=10.0), "stored")
        self.assertEqual(state_after_run("nimh", 1.25, before_soc=1.0, minutes=0.1), "part")


class Asked(SimpleTestCase):
    def test_a_board_knows_it(self):
        """Far apart within a pack: not on a board with another."""
        a, b = lay(four_s("a"), 3.70, 3.70, 3.70, 3.75), lay(four_s("b"), 3.71)
        found = sharing([a, b], rules=STEADY, board=board())
        self.assertFalse(found.allowed)
        close = sharing([lay(four_s("a"), 3.70, 3.70, 3.70, 3.72), b], rules=STEADY, board=board())
        self.assertTrue(close.allowed, close.reasons)
