"""The bay in millimetres: what lies where, how far it slides, and what that does to the balance."""

from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.drawings.bay import bay_drawing
from coldstack.core.drawings.bay_words import bay_sentence
from coldstack.core.matching.drive import room_checks
from coldstack.core.sizing.pairs import pairs
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.checks.bay import bay_columns
from coldstack.core.trial.ways import pack_end_in, way_in
from tests.core.trial.jobs import job, pack

PLACED = {"balance_at_mm": 300.0, "empty_balance_mm": 340.0, "centre_mm": 150.0}


def said(d):
    """Its sentence, without the marks by which a screen finds units."""
    return bay_sentence(d).replace("\u2060", "")


def drawn(bay=None, at_mm=None, joined=None, ahead=False, **size):
    """One pack, or a pair, in the bay of the tests' job."""
    j = job(bay=bay)
    c = job_candidates(j, [pack(**size)])
    if joined is not None:
        c = pairs(c).take([joined])
    return j, c, bay_drawing(j, c, at_mm=at_mm, leads_ahead=ahead)


class Leads(TestCase):
    def test_at_either_end(self):
        """They turn in as much room, before the pack or behind it; its middle and its balance stay."""
        size = {"length_mm": 100.0, "width_mm": 30.0, "height_mm": 20.0}
        (_, _, back), (_, _, front) = drawn(**size), drawn(ahead=True, **size)
        self.assertAlmostEqual(back.leads.along_mm, back.middle_mm + 50)
        self.assertAlmostEqual(front.leads.along_mm + front.leads.length_mm, front.middle_mm - 50)
        self.assertEqual((back.middle_mm, back.balance), (front.middle_mm, front.balance))
        self.assertIn("behind it", said(back))
        self.assertIn("before it", said(front))


class InTheBay(TestCase):
    def test_by_hand(self):
        """A bay of 160 mm about 150: from 70 to 230; a pack of 135 mm slides 25 mm and lies in its middle
        while nothing is known of balance."""
        _, _, d = drawn({"centre_mm": 150.0})
        self.assertEqual((d.bay.box.along_mm, d.bay.box.length_mm), (70, 160))
        self.assertEqual(d.slide_mm, (137.5, 162.5))
        self.assertEqual(d.middle_mm, 150)
        self.assertEqual(d.packs[0].along_mm, 82.5)
        self.assertIsNone(d.balance)
        self.assertEqual(d.sticks_out_mm, {})

    def test_balance_by_hand(self):
        """1.5 kg that balance at 340 mm want 300 with 380 g: the pack's middle at (300·1880 − 340·1500) ÷
        380 = 142.1 mm, which it can reach; there it balances."""
        _, _, d = drawn(PLACED)
        self.assertAlmostEqual(d.wanted_mm, (300 * 1880 - 340 * 1500) / 380)
        self.assertAlmostEqual(d.middle_mm, d.wanted_mm)
        self.assertEqual(d.balance.heavy, "balances")
        self.assertIn("142 mm from the nose. It balances at 300 mm.", said(d))

    def test_dragged_back_it_is_tail_heavy(self):
        """10 mm farther back shift the whole by 10 · 380 ÷ 1880 = 2.02 mm; as far as the bay lets it."""
        _, _, d = drawn(PLACED, at_mm=(300 * 1880 - 340 * 1500) / 380 + 10)
        self.assertAlmostEqual(d.balance.off_mm, 10 * 380 / 1880)
        self.assertEqual(d.balance.heavy, "tail_heavy")
        self.assertIn("It is tail-heavy: balances 2 mm too far back", said(d))
        _, _, far = drawn(PLACED, at_mm=10_000.0)
        self.assertEqual(far.middle_mm, 162.5)
        _, _, near = drawn(PLACED, at_mm=-10_000.0)
        self.assertEqual(near.balance.heavy, "nose_heavy")

    def test_out_of_reach_it_lies_as_near_as_it_can(self):
        """And what is then off is what the check of the balance says."""
        j, c, d = drawn({**PLACED, "centre_mm": 200.0})
        self.assertEqual(d.middle_mm, d.slide_mm[0])
        off = next(x for x in bay_columns(j, c) if x.spec.id == "fly.balance")
        self.assertAlmostEqual(abs(d.balance.off_mm), float(off.value[0]))
        self.assertAlmostEqual(d.balance.allowed_mm, float(off.limit[0]))
        self.assertIn("farther than it can slide", said(d))

    def test_what_sticks_out(self):
        """By how much, of the side that is too small; and as the checks have it."""
        j, c, d = drawn({"length_mm": 130.0})
        self.assertEqual(d.sticks_out_mm, {"length": 11})
        self.assertIn("too large by 11 mm in length", said(d))
        over = next(x for x in bay_columns(j, c) if x.spec.id == "bay.length")
        self.assertEqual(float(over.value[0] - over.limit[0]), 11)

    def test_nobody_measured(self):
        """Neither is passed off as known: no box, no room, and it says so."""
        _, _, d = drawn(length_mm=None)
        self.assertEqual((d.packs, d.leads, d.sticks_out_mm), ((), None, {}))
        self.assertEqual(said(d), "Nobody measured the pack. The bay is 160 × 56 × 46 mm.")
        _, _, d = drawn({"length_mm": None, "width_mm": None, "height_mm": None})
        self.assertEqual(d.bay.measured, ())
        self.assertIn("the bay was not measured", said(d))

    def test_two_that_go_in_end_to_end(self):
        """Each is drawn in its place, and the sentence says how they lie."""
        _, _, d = drawn({"length_mm": 290.0, "width_mm": 52.0, "height_mm": 40.0}, joined=0)
        self.assertEqual(d.packs[0].along_mm + 135, d.packs[1].along_mm)
        self.assertIn("Two packs end to end, 270 × 44 × 31 mm", said(d))
        # one strap over where they meet
        self.assertAlmostEqual(d.strap.along_mm + d.strap.length_mm / 2, d.middle_mm)

    def test_room_for_the_leads_is_that_of_the_check(self):
        """Drawn as long as the check of the leads takes them to be."""
        j, c, d = drawn()
        path = way_in(j, pack_end_in(j, pack()), ()).shown
        self.assertAlmostEqual(135 + d.leads.length_mm, room_checks(j, c, path)[0].value)


class Always(TestCase):
    @given(
        st.tuples(st.floats(60, 400), st.floats(20, 120), st.floats(20, 120)),
        st.tuples(st.floats(30, 300), st.floats(10, 110), st.floats(10, 110)),
        st.floats(-500, 1500),
        st.sampled_from([None, 0, 1]),
    )
    def test_what_is_not_said_to_stick_out_lies_inside(self, bay, size, at_mm, joined):
        """Wherever it is put; two never lie in each other."""
        names = ("length_mm", "width_mm", "height_mm")
        _, _, d = drawn(
            {**dict(zip(names, bay, strict=True)), **PLACED},
            at_mm,
            joined,
            **dict(zip(names, size, strict=True)),
        )
        room = d.bay.box
        if not d.sticks_out_mm:
            for p in d.packs:
                self.assertGreaterEqual(p.along_mm, room.along_mm - 1e-6)
                self.assertLessEqual(p.along_mm + p.length_mm, room.along_mm + room.length_mm + 1e-6)
                self.assertGreaterEqual(p.across_mm, -1e-6)
                self.assertLessEqual(p.across_mm + p.width_mm, room.width_mm + 1e-6)
                self.assertLessEqual(p.up_mm + p.height_mm, room.height_mm + 1e-6)
        if len(d.packs) == 2:
            a, b = d.packs
            apart = (
                b.along_mm - a.along_mm >= a.length_mm - 1e-6
                or b.across_mm - a.across_mm >= a.width_mm - 1e-6
                or b.up_mm - a.up_mm >= a.height_mm - 1e-6
            )
            self.assertTrue(apart)
