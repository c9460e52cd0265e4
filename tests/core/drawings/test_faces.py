"""Plugs from the front, and which one it is by looks and a rule."""

from itertools import combinations
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.plugs import LOOK_ALIKES, PLUGS
from coldstack.core.drawings.faces import (
    FACES,
    MEASURES,
    RULE_MM,
    looks_like,
    mates_of,
    told_apart,
    which_plug,
)
from coldstack.core.drawings.which import which_words


class Faces(TestCase):
    def test_by_the_drawings(self):
        """Shell and middles as the footprint library has them; minus at the cut corners, plus opposite."""
        for family, shell, apart in (("xt30", (10.2, 5.2), 5.0), ("xt60", (15.5, 8.1), 7.2)):
            face = FACES[family]
            self.assertEqual((face.width_mm, face.height_mm, face.apart_mm), (*shell, apart))
            self.assertEqual([c.pole for c in face.contacts], ["minus", "plus"])
            self.assertLess(face.contacts[0].across_mm, face.contacts[1].across_mm)

    def test_no_pole_is_named_where_no_shape_tells(self):
        """Wrong marks burn: those that makers wire either way, and whatever has no cut corner, bear none."""
        for face in FACES.values():
            named = {c.pole for c in face.contacts} - {""}
            if named:
                self.assertGreater(face.cut_mm, 0)
                self.assertFalse(PLUGS[face.family].wired_either_way)

    def test_contacts_lie_in_the_shell(self):
        """And not in each other."""
        for face in FACES.values():
            for c in face.contacts:
                self.assertLessEqual(abs(c.across_mm) + c.width_mm / 2, face.width_mm / 2 + 1e-9, face.family)
                self.assertLessEqual(c.height_mm, face.height_mm + 1e-9)
            if not face.single:
                a, b = face.contacts
                self.assertGreater(b.across_mm - a.across_mm, (a.width_mm + b.width_mm) / 2)


class Which(TestCase):
    @given(st.sampled_from(sorted(FACES)), st.floats(-1, 1), st.floats(-1, 1))
    def test_a_plug_measured_is_found(self, family, first, second):
        """Whatever it may be off and a rule may, told all of it, it is among what is left."""
        face = FACES[family]
        within = face.spread_mm + RULE_MM
        told = {"contact_mm": face.contact_mm + 0.99 * first * within}
        if face.apart_mm is not None:
            told["apart_mm"] = face.apart_mm + 0.99 * second * within
        found = which_plug(shape=face.shape, single=face.single, measured_mm=told)
        self.assertIn(family, [x.family for x in found])

    def test_just_beyond_it_is_not(self):
        """At the edge of what it may be off, and past it."""
        face = FACES["xt60"]
        within = face.spread_mm + RULE_MM
        for off, there in ((within - 0.01, True), (within + 0.01, False)):
            found = which_plug(measured_mm={"apart_mm": face.apart_mm + off})
            self.assertEqual("xt60" in [x.family for x in found], there)

    def test_the_nearest_first(self):
        """A shell of 15.5 mm with middles 7.2 mm apart is an XT60 before anything else."""
        found = which_plug(shape="round", single=False, measured_mm={"apart_mm": 7.2, "width_mm": 15.5})
        self.assertEqual(found[0].family, "xt60")
        self.assertEqual(which_words(found[:1], told=True)[:15], "It is like XT60")

    def test_what_to_look_at_or_measure_next(self):
        """Two are left: what parts them is asked for, looks before a rule. None left, nothing told: said."""
        left = {x.family: x for x in which_plug(measured_mm={})}
        found = which_words([left["xt60"], left["ec3"]], told=True)
        self.assertIn("XT60 has two cut corners and round pins or tubes, EC3 round ends", found)
        found = which_words([left["xt60"], left["xt90"]], told=True)
        self.assertRegex(found, r"XT60 or XT90\. Next measure: .*\d")
        self.assertIn("None of the table", which_words([], told=True))
        self.assertIn("measure it", which_words(list(left.values()), told=False))


class Alike(TestCase):
    def test_told_apart_by_more_than_a_rule_may_be_off(self):
        """In what two differ by less than they may be off, nobody is told to trust it."""
        for one, other in combinations(FACES.values(), 2):
            found = told_apart(one, other)
            if found is not None:
                may = one.spread_mm + other.spread_mm + RULE_MM
                self.assertGreaterEqual(abs(found.one_mm - found.other_mm), may - 1e-9)
                self.assertIn(found.measure, MEASURES)

    def test_every_pair_of_the_table_can_be_told_apart(self):
        """Of those that are bought for each other and whose measures are known."""
        for pair in LOOK_ALIKES:
            a, b = sorted(pair)
            if a in FACES and b in FACES:
                self.assertIsNotNone(told_apart(FACES[a], FACES[b]), (a, b))
                self.assertIn(b, looks_like(a))

    def test_a_family_goes_into_itself(self):
        """And into what is made for it."""
        for family in PLUGS:
            self.assertIn(family, mates_of(family))
