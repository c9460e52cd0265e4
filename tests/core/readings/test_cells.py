"""Cell readings: what people type, and what it means."""

import json
from pathlib import Path

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import soc_at_rest
from coldstack.core.errors import DomainError
from coldstack.core.readings.cells import (
    check_reading,
    example_cells,
    pack_reading,
    state_after_run,
    storage_soc,
    typed_cells,
)


class Typed(SimpleTestCase):
    def test_every_way_of_typing(self):
        """Points, decimal commas, hundredths, thousandths, any separator, units."""
        for text, wanted in json.loads((Path(__file__).parents[2] / "data" / "cells.json").read_text()):
            with self.subTest(text):
                if isinstance(wanted, str):
                    with self.assertRaisesRegex(DomainError, wanted):
                        typed_cells(text)
                else:
                    self.assertEqual(typed_cells(text), tuple(wanted))

    def test_an_example_is_of_the_pack(self):
        """As many cells, just off the charger, and read as cells."""
        for chemistry_id in CHEMISTRY_IDS:
            for series in (1, 2, 6, 14):
                cells = typed_cells(example_cells(chemistry_id, series))
                self.assertEqual(len(cells), min(series, 6))
                self.assertEqual(pack_reading(chemistry_id, cells).state, "full")

    def test_what_is_no_cell(self):
        """The word that is wrong is named; a whole pack's volts are told from a cell's."""
        for text, words in (
            ("3.82 abc", "“abc”"),
            ("12.6", "more than one cell"),
            ("3.82 -3.8", "“-3.8”"),
            ("38220", "“38220”"),
        ):
            with self.subTest(text), self.assertRaises(DomainError) as raised:
                typed_cells(text)
            self.assertEqual(raised.exception.field, "cell_v")
            self.assertIn(words, raised.exception.sentence)

    @given(st.text(max_size=40))
    def test_no_text_crashes_it(self, text):
        """Volts of a cell, or a sentence."""
        try:
            self.assertTrue(all(0 <= v <= 5 for v in typed_cells(text) if v < 10))
        except DomainError as error:
            self.assertTrue(error.sentence)


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
