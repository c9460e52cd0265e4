"""Numbers as a person reads them."""

import ast
import math
import re
from pathlib import Path

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

import coldstack
from coldstack.core.units import (
    DEG,
    GRAMS,
    MARK,
    MM,
    WARMER,
    about_number,
    clock,
    lower_first,
    minutes_words,
    percent,
    plain_number,
    with_unit,
)


class Words(SimpleTestCase):
    def test_plain_numbers(self):
        """Three digits, no exponent, no zeros at the end; what is no number is unknown."""
        said = [plain_number(x) for x in (46.04, 14.23, 3.4, 0.05, 0.0, 12345.6, -2.5, math.nan, math.inf)]
        self.assertEqual(said, ["46", "14.2", "3.4", "0.05", "0", "12346", "-2.5", "unknown", "unknown"])

    def test_about(self):
        """Two digits, zeros kept."""
        self.assertEqual([about_number(x) for x in (2652, 2.449, 0, 98.7)], ["2700", "2.4", "0", "99"])
        self.assertEqual(about_number(1983.2, 3), "1980")

    def test_times(self):
        """Down to the second; whole minutes, one at least, hours beyond an hour."""
        self.assertEqual([clock(x) for x in (0, 59.9, 60, 1054.9)], ["0:00", "0:59", "1:00", "17:34"])
        self.assertEqual(
            [minutes_words(x) for x in (0.2, 24.4, 59.6, 60, 550)],
            ["1 min", "24 min", "1 h 00 min", "1 h 00 min", "9 h 10 min"],
        )

    def test_percent_never_rounds_across_the_limit(self):
        """100.4 % is not 100 %; just under it may read so."""
        self.assertEqual(
            [percent(x) for x in (1.0, 1.004, 0.996, 0.5, 1.00001, math.nan)],
            ["100 %", "100.4 %", "100 %", "50 %", "just over 100 %", "unknown"],
        )

    @given(st.floats(0, 5))
    def test_over_is_always_told(self, share):
        """Whatever the share: it reads over 100 % exactly when it is."""
        words = percent(share)
        number = float(words.split()[0]) if words[0].isdigit() else (101 if "over" in words else 99)
        self.assertEqual(number > 100, share > 1)

    def test_the_middle_of_a_sentence(self):
        """Articles become small, names stay."""
        self.assertEqual(
            [lower_first(x) for x in ("The port’s watts", "House rules", "Skerry Four")],
            ["the port’s watts", "house rules", "Skerry Four"],
        )


class Quantities(SimpleTestCase):
    def test_what_a_reader_may_want_in_other_units_is_marked(self):
        """Behind g, mm and °C once, behind a difference of temperatures twice; behind others not at all."""
        self.assertEqual([u.count(MARK) for u in (GRAMS, MM, DEG, WARMER)], [1, 1, 1, 2])
        self.assertEqual([with_unit("3", u) for u in ("mm", "A", "")], [f"3 mm{MARK}", "3 A", "3"])
        self.assertEqual(with_unit("18", "K").replace(MARK, ""), "18 °C")

    def test_every_sentence_marks_its_quantities(self):
        """No f-string writes g, mm or °C behind a figure by itself."""
        bare = re.compile(r"^ (g|mm|°C)(?![\w/])")
        found = []
        for room in ("core", "server"):
            for path in Path(coldstack.__file__).parent.joinpath(room).rglob("*.py"):
                for node in ast.walk(ast.parse(path.read_text())):
                    parts = node.values if isinstance(node, ast.JoinedStr) else []
                    found += [
                        f"{path.name}:{part.lineno}"
                        for part in parts[1:]
                        if isinstance(part, ast.Constant) and bare.match(part.value)
                    ]
        self.assertEqual(found, [])
