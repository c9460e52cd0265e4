"""Figures as people type them; the screens read the same file of cases (`typed.test.ts`)."""

import json
import math
from pathlib import Path
from typing import get_args

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.fields.quantity import Unit
from coldstack.core.fields.typed import SAID, UNITS, read_typed

CASES = json.loads((Path(__file__).parents[2] / "data" / "typed.json").read_text())
"""Unit, unit of a bare figure, what was typed; its value, the values it could be, or words of the refusal."""


class Cases(SimpleTestCase):
    def test_each_is_read_as_it_was_meant(self):
        self.assertGreater(len(CASES), 200)
        for unit, bare, text, wanted in CASES:
            with self.subTest(unit=unit, bare=bare, text=text):
                found = read_typed(text, unit, bare)
                if isinstance(wanted, str):
                    self.assertIn(wanted, found.problem)
                    self.assertEqual((found.value, found.could_be), (None, ()))
                elif isinstance(wanted, list):
                    self.assertIsNone(found.value)
                    self.assertTrue(found.problem)
                    self.assertEqual(sorted(found.could_be), sorted(wanted))
                else:
                    self.assertEqual((found.problem, found.could_be), ("", ()))
                    self.assertAlmostEqual(found.value, wanted, delta=1e-8 * abs(wanted))

    def test_a_refusal_names_what_it_goes_for(self):
        """In the letters as typed, with units that would do."""
        self.assertEqual(read_typed("60 V", "A").problem, "“V” does not go here: say A or mA.")
        self.assertEqual(read_typed("0,85", "Ah", "mah").problem, "“0,85” mAh is next to nothing. 0.85 Ah?")
        self.assertEqual(read_typed("1,250", "min").problem, "“1,250” may be 1250 or 1.25. Which?")
        for unit in get_args(Unit):
            self.assertIn("does not go here", read_typed("3 °F" if unit != "°C" else "3 kg", unit).problem)
            self.assertTrue(unit in SAID or unit in ("", "C", "AWG", "rpm", "rpm/V"))


class AnyText(SimpleTestCase):
    @given(st.text(max_size=60), st.sampled_from(get_args(Unit)))
    def test_nothing_breaks_it(self, text, unit):
        """A finite value, or words; never both."""
        found = read_typed(text, unit)
        self.assertEqual(found.value is None, bool(found.problem))
        if found.value is not None:
            self.assertTrue(math.isfinite(found.value))

    @given(st.integers(1, 99_999), st.integers(0, 2), st.sampled_from(get_args(Unit)), st.data())
    def test_a_plain_figure_is_itself_in_every_dress(self, whole, digits, unit, data):
        """With a comma or a point, grouped by blanks, with each of its units behind it."""
        value = whole / 10**digits
        plain = f"{value:.{digits}f}"
        self.assertEqual(read_typed(plain, unit).value, value)
        self.assertEqual(read_typed(plain.replace(".", ","), unit).value, value)
        self.assertEqual(read_typed(f"{value:,.{digits}f}".replace(",", "\u202f"), unit).value, value)
        word, scale = (
            data.draw(st.sampled_from(sorted(UNITS.get(unit, {}).items()))) if unit in UNITS else ("", None)
        )
        if scale is not None:
            wanted = value * scale.factor + scale.offset
            self.assertAlmostEqual(
                read_typed(f"{plain} {word.upper()}", unit).value, wanted, delta=1e-8 * (1 + abs(wanted))
            )
