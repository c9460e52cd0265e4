"""How one pack lies in a bay, and in which of three ways two of them do."""

from itertools import permutations
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.sizing.pairs import pairs
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.checks.bay import bay_columns
from coldstack.core.trial.lying import inside_mm, lying
from tests.core.trial.jobs import job, pack


def two(bay, **size):
    """A pair in series of packs of this size, in this bay."""
    j = job(bay=bay)
    return j, pairs(job_candidates(j, [pack(**size)])).take([0])


def goes_in(j, c):
    """Whether none of its sides is too large."""
    return all(
        column.value[0] <= column.limit[0] for column in bay_columns(j, c) if "balance" not in column.spec.id
    )


sides = st.floats(20, 200)
rooms = st.floats(30, 420)


class Two(TestCase):
    def test_each_way_where_the_bay_asks_for_it(self):
        """A high bay, a wide one, a long one; each leaves no other way."""
        size = {"length_mm": 100, "width_mm": 40, "height_mm": 25}
        for bay, count in (
            ((110, 50, 60), (1, 1, 2)),
            ((110, 90, 32), (1, 2, 1)),
            ((210, 50, 32), (2, 1, 1)),
        ):
            with self.subTest(bay):
                j, c = two(dict(zip(("length_mm", "width_mm", "height_mm"), bay, strict=True)), **size)
                self.assertEqual(tuple(lying(j, c).count[0]), count)
                self.assertTrue(goes_in(j, c))

    def test_a_stack_where_nothing_was_measured(self):
        """Then as they come."""
        j, c = two({"length_mm": None, "width_mm": None, "height_mm": None})
        self.assertEqual(lying(j, c).box_mm[0].tolist(), [135, 44, 62])

    @given(sides, sides, sides, rooms, rooms, rooms)
    def test_goes_in_if_any_way_does(self, a, b, h, length, width, height):
        """By brute force over three ways and both turns, the pack's length along the bay."""
        bay = {"length_mm": length, "width_mm": width, "height_mm": height}
        j, c = two(bay, length_mm=a, width_mm=b, height_mm=h)
        thin, wide = min(b, h), max(b, h)
        boxes = [(2 * a, wide, thin), (a, wide, 2 * thin), (a, 2 * wide, thin)]
        room = [inside_mm(x) for x in (length, width, height)]
        some = any(
            box[0] <= room[0] and any(p[0] <= room[1] and p[1] <= room[2] for p in permutations(box[1:]))
            for box in boxes
        )
        self.assertEqual(goes_in(j, c), some)

    @given(sides, sides, sides, rooms, rooms)
    def test_nothing_is_lost_of_what_two_take(self, a, b, h, width, height):
        """However they lie, it is the room of two."""
        j, c = two({"width_mm": width, "height_mm": height}, length_mm=a, width_mm=b, height_mm=h)
        self.assertAlmostEqual(float(lying(j, c).box_mm[0].prod()) / (2 * a * b * h), 1)
        self.assertEqual(int(lying(j, c).count[0].prod()), 2)


class One(TestCase):
    def test_on_its_side_in_a_high_bay(self):
        """Its wider side along the bay's."""
        j = job(bay={"width_mm": 40.0, "height_mm": 52.0})
        self.assertEqual(lying(j, job_candidates(j, [pack()])).box_mm[0].tolist(), [135, 31, 44])
