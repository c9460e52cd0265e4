"""Slips of the finger: asked where one turn explains them, and only there."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.errors import DomainError
from coldstack.core.readings.typed_volts import typed_volts
from coldstack.core.readings.typos import typo_in_cells, typo_in_resistances


class Volts(SimpleTestCase):
    def test_two_digits_swapped(self):
        """3.58 beside 3.85, 3.28 beside 3.82; the line as it was meant."""
        for typed, meant in (
            ((3.85, 3.58, 3.85), "3.85 3.85 3.85"),
            ((3.28, 3.82, 3.83), "3.82 3.82 3.83"),
        ):
            found = typo_in_cells(typed)
            self.assertEqual(found.meant, meant)
            self.assertIn("did you mean", found.sentence)

    def test_a_point_misplaced(self):
        """0.385 beside 3.85: asked; 38.5 is refused where it is typed, with what it may be."""
        self.assertEqual(typo_in_cells((3.84, 0.385, 3.85)).meant, "3.84 3.85 3.85")
        with self.assertRaisesRegex(DomainError, "Did you mean 3.85"):
            typed_volts("3.84 38.5 3.85", 3, 4.83)

    def test_cells_in_each_others_place(self):
        """Cell 2 was the low one, now cell 3 is, by as much."""
        found = typo_in_cells((3.85, 3.85, 3.80, 3.85), before=(3.83, 3.78, 3.83, 3.83))
        self.assertEqual(found.meant, "3.85 3.80 3.85 3.85")
        self.assertIn("Cell 2 was the low one, now it is cell 3", found.sentence)

    def test_a_bad_cell_is_not_talked_away(self):
        """Far off, but by no turn of the finger; odd as it was before; a lazy cell that grew worse."""
        self.assertIsNone(typo_in_cells((3.85, 3.41, 3.86)))
        self.assertIsNone(typo_in_cells((3.85, 3.80, 3.85), before=(3.83, 3.78, 3.83)))
        self.assertIsNone(typo_in_cells((3.85, 3.85, 3.70, 3.85), before=(3.83, 3.80, 3.83, 3.83)))
        self.assertIsNone(typo_in_cells((3.41,)))

    @given(st.lists(st.floats(3.5, 4.2), min_size=2, max_size=6), st.lists(st.floats(3.5, 4.2), max_size=6))
    def test_what_is_meant_is_never_odder(self, cells, before):
        """The line that is offered has as many cells, and reads without being asked again."""
        found = typo_in_cells(tuple(cells), tuple(before))
        if found:
            meant = typed_volts(found.meant, len(cells), 4.83).cell_v
            self.assertEqual(len(meant), len(cells))
            self.assertNotEqual([f"{v:.3f}" for v in cells], [f"{v:.3f}" for v in meant])

    def test_alike_is_never_asked(self):
        """Cells within a tenth of a volt are what they are."""
        for off in range(11):
            self.assertIsNone(typo_in_cells((3.80, 3.80 + off / 100, 3.80)))


class Resistances(SimpleTestCase):
    def test_a_point_misplaced(self):
        """24 beside 2.4, 0.25 beside 2.5; a cell of twice its neighbours is not asked."""
        self.assertEqual(typo_in_resistances((2.4, 24.0, 2.5)).meant, "2.40 2.40 2.50")
        self.assertEqual(typo_in_resistances((2.4, 2.4, 0.25)).meant, "2.40 2.40 2.50")
        self.assertIsNone(typo_in_resistances((2.4, 5.0, 2.5)))
        self.assertIsNone(typo_in_resistances((2.4, 60.0, 2.5)))
        self.assertIsNone(typo_in_resistances((2.4,)))


class Edges(SimpleTestCase):
    """How far a cell must be off, and how near what is meant must come."""

    def test_at_and_within_what_is_asked_for(self):
        """A cell that is off by 0.11 V is as it is read; one by 0.18 V has two figures turned."""
        self.assertIsNone(typo_in_cells([3.68, 3.79, 3.68, 3.68]))
        self.assertIsNotNone(typo_in_cells([3.68, 3.86, 3.68, 3.68]))

    def test_what_is_meant_stands_with_the_others(self):
        """3.86 for 3.68: within 0.03 V of its neighbours it is asked, further off it is not."""
        self.assertIsNotNone(typo_in_cells([3.66, 3.86, 3.66, 3.66]))
        self.assertIsNone(typo_in_cells([3.64, 3.86, 3.64, 3.64]))
