"""Cell readings: what people type, and what it means."""

import json
import re
from pathlib import Path

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.errors import DomainError
from coldstack.core.readings.cells import (
    as_cells_may_be,
    check_reading,
    example_cells,
    highest_possible_v,
    pack_reading,
    state_after_run,
    storage_soc,
    typed_reading,
    whole_reading,
)
from coldstack.core.readings.typed_volts import typed_volts
from coldstack.core.rules.house_rules import STEADY


class Typed(SimpleTestCase):
    def test_every_way_of_typing(self):
        """Points, decimal commas, hundredths, any separator, units, words; all together, in steps, both."""
        for text, series, highest, wanted in json.loads(
            (Path(__file__).parents[2] / "data" / "cells.json").read_text()
        ):
            with self.subTest(text):
                if isinstance(wanted, str):
                    with self.assertRaisesRegex(DomainError, re.escape(wanted)) as raised:
                        typed_volts(text, series, highest)
                    self.assertEqual(raised.exception.field, "cell_v")
                    continue
                found = typed_volts(text, series, highest)
                self.assertEqual(found.pack_v or list(found.cell_v), wanted)

    def test_an_example_is_of_the_pack(self):
        """Just off the charger; the whole pack where nobody reads cells, or where they are many."""
        for chemistry_id in CHEMISTRY_IDS:
            for series in (1, 2, 6, 14):
                with self.subTest(chemistry_id, series=series):
                    read = typed_reading(chemistry_id, series, example_cells(chemistry_id, series))
                    self.assertEqual(read.state, "full")
                    self.assertEqual(read.whole, series > (1 if chemistry_id == "nimh" else 6))

    @given(st.text(max_size=40), st.integers(1, 14))
    def test_no_text_crashes_it(self, text, series):
        """Volts that such a pack can have, or a sentence."""
        highest = highest_possible_v("lipo")
        try:
            found = typed_volts(text, series, highest)
        except DomainError as error:
            self.assertTrue(error.sentence)
        else:
            self.assertTrue(all(0 <= v <= highest for v in found.cell_v))
            self.assertLessEqual(found.pack_v or 0, series * highest)

    @given(st.lists(st.integers(300, 420), min_size=2, max_size=12))
    def test_steps_and_cells_are_one_reading(self, cells):
        """Totals along the balance plug give the cells back; so do the cells with their sum."""
        volts = [v / 100 for v in cells]
        steps = " ".join(f"{sum(cells[: k + 1]) / 100:.2f}" for k in range(len(cells)))
        each = " ".join(f"{v:.2f}" for v in volts)
        for line in (steps, f"0 {steps}", each, f"{each} {sum(volts):.2f}", f"{sum(volts):.1f}V {each}"):
            self.assertEqual(typed_volts(line, len(cells), 4.83).cell_v, tuple(volts))
        whole = typed_volts(f"{sum(volts):.2f}", len(cells), 4.83)
        self.assertAlmostEqual(whole.pack_v, sum(volts))


class WholePack(SimpleTestCase):
    def test_what_it_does_not_tell(self):
        """The middle, and nothing of how far cells are apart; one cell tells all."""
        read = whole_reading("lipo", 3, 11.4)
        self.assertEqual((read.state, read.spread_v), ("stored", None))
        self.assertAlmostEqual(read.mean_v, 3.8)
        self.assertFalse(whole_reading("lipo", 1, 3.8).whole)

    def test_run_by_the_cell_that_may_be_low(self):
        """The same volts in all, one cell lower by what passes without a word; NiMH as it is."""
        read = whole_reading("lipo", 3, 12.0)
        low = as_cells_may_be("lipo", read)
        self.assertAlmostEqual(low.pack_v, 12.0)
        self.assertAlmostEqual(low.spread_v, STEADY.spread_watch_v)
        self.assertLess(low.lowest_soc, read.lowest_soc)
        nimh = whole_reading("nimh", 6, 8.1)
        self.assertIs(as_cells_may_be("nimh", nimh), nimh)


class Meaning(SimpleTestCase):
    def test_spread_and_the_lowest(self):
        """Highest less lowest; charges through the curve; the emptiest cell is the last to be full."""
        read = pack_reading("lipo", (3.82, 3.83, 3.79))
        self.assertAlmostEqual(read.spread_v, 0.04)
        self.assertEqual(read.lowest_soc, soc_at_rest("lipo", 3.79))
        self.assertAlmostEqual(read.pack_v, 11.44)

    def test_states(self):
        """Full, stored, spent, between, and below what damages a cell."""
        for cell_v, state in (
            (4.19, "full"),
            (3.82, "stored"),
            (3.60, "spent"),
            (4.0, "part"),
            (2.9, "too_low"),
        ):
            with self.subTest(cell_v):
                self.assertEqual(pack_reading("lipo", (cell_v,) * 4).state, state)
        self.assertEqual(storage_soc("nimh"), (0.0, 1.0))

    def test_counts_and_limits(self):
        """As many readings as cells, each one that a cell can have."""
        self.assertEqual(check_reading("lipo", 2, (3.8, 3.8)).mean_v, 3.8)
        for series, cells, words in (
            (3, (3.8, 3.8), "3 cells in series; 2 readings were"),
            (1, (4.9,), "does not read 4.9 V"),
            (1, (float("nan"),), "does not read"),
        ):
            with self.subTest(words), self.assertRaisesRegex(DomainError, words):
                check_reading("lipo", series, cells)


class AfterARun(SimpleTestCase):
    def test_what_the_landing_says(self):
        """Part full, at storage, spent, damaged; spent where nothing was read, and for NiMH whatever it
        reads."""
        said = [state_after_run("lipo", v) for v in (4.05, 3.82, 3.65, 2.9, None)]
        self.assertEqual(said, ["part", "stored", "spent", "too_low", "spent"])
        self.assertEqual(state_after_run("nimh", 1.35), "spent")
