"""Plugs from the front, and which one it is by looks and a rule."""

from itertools import combinations
from typing import ClassVar
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.own_plugs import check_plug, with_plugs
from coldstack.core.chain.plugs import LOOK_ALIKES, PLUGS, PlugFamily
from coldstack.core.drawings.faces import (
    FACES,
    MEASURES,
    RULE_MM,
    face_of,
    faces,
    looks_like,
    mates_of,
    told_apart,
    which_plug,
)
from coldstack.core.drawings.which import which_words
from coldstack.core.errors import DomainError


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

    def test_blades_are_flat(self):
        """And stand across each other where they are turned; pins and tubes are as wide as high."""
        for face in FACES.values():
            flat = [min(c.width_mm, c.height_mm) * 3 < face.contact_mm for c in face.contacts]
            self.assertEqual(set(flat), {face.shape == "blade"}, face.family)
            lying = {c.width_mm > c.height_mm for c in face.contacts}
            self.assertEqual(len(lying), 2 if face.turned else 1)

    def test_contacts_lie_in_the_shell(self):
        """And not in each other."""
        for face in FACES.values():
            for c in face.contacts:
                self.assertLessEqual(abs(c.across_mm) + c.width_mm / 2, face.width_mm / 2 + 1e-9, face.family)
                self.assertLessEqual(c.height_mm, face.height_mm + 1e-9)
            if not face.single:
                a, b = face.contacts
                self.assertGreater(b.across_mm - a.across_mm, (a.width_mm + b.width_mm) / 2)


class OwnFaces(TestCase):
    """A family of one's own by a few measures: drawn, found again, told from its neighbours."""

    MEASURED: ClassVar = {
        "contact_shape": "round",
        "contact_mm": 4.0,
        "apart_mm": 8.5,
        "shell_width_mm": 18.0,
        "shell_height_mm": 9.0,
    }

    def family(self, **changes):
        figures = {"id": "own_tarn", "name": "Tarn", "continuous_a": 40, "burst_a": 60, "resistance_mohm": 1}
        return PlugFamily(**{**figures, **self.MEASURED, **changes})

    def test_drawn_and_found_by_its_measures(self):
        """As it was measured, with no pole named; first of all where these are measured again."""
        with with_plugs([check_plug(self.family())]):
            face = face_of("own_tarn")
            self.assertEqual((face.width_mm, face.height_mm, face.apart_mm), (18.0, 9.0, 8.5))
            self.assertEqual((face.source, [c.pole for c in face.contacts]), ("own", ["", ""]))
            found = which_plug(measured_mm={"apart_mm": 8.5, "width_mm": 18.0})
            self.assertEqual(found[0].family, "own_tarn")
            self.assertIn("Tarn", which_words(found, told=True))
        self.assertNotIn("own_tarn", faces())

    def test_by_fewer_measures(self):
        """A bullet needs but its width; two in one shell need the shell: half a face is none."""
        bullet = self.family(apart_mm=None, shell_width_mm=None, shell_height_mm=None)
        for family, single in ((bullet, True), (self.family(shell_width_mm=None), None)):
            with with_plugs([family]):
                face = face_of("own_tarn")
                self.assertEqual(face and face.single, single)
        for missing in ("contact_shape", "contact_mm"):
            with with_plugs([self.family(**{missing: "" if missing == "contact_shape" else None})]):
                self.assertIsNone(face_of("own_tarn"))

    def test_what_cannot_be(self):
        """Contacts in each other, or beyond their shell, at the field that is wrong."""
        for changes, field in (
            ({"apart_mm": 4.0}, "apart_mm"),
            ({"shell_width_mm": 12.4}, "shell_width_mm"),
            ({"shell_height_mm": 3.9}, "shell_height_mm"),
        ):
            with self.assertRaises(DomainError) as raised:
                check_plug(self.family(**changes))
            self.assertEqual(raised.exception.field, field)
        check_plug(self.family(apart_mm=4.01, shell_width_mm=12.5, shell_height_mm=4.0))


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
