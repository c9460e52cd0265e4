"""The gate: nothing is charged that was not read and found sound."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.charging.inspection import SIGNS, Finding, VisualCheck, inspection
from coldstack.core.errors import DomainError
from coldstack.core.readings.cells import pack_reading, whole_reading
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.rules.setting import changed
from tests.core.boards.laid import four_s

SOUND = pack_reading("lipo", (3.7, 3.7, 3.7, 3.7))


def looked(pack=None, signs=(), reading=SOUND, temperature_c=20.0, **more):
    found = VisualCheck(looked=True, signs=tuple(signs), reading=reading, temperature_c=temperature_c)
    return inspection(pack or four_s("01"), replace(found, **more))


class Gate(SimpleTestCase):
    def test_a_sound_pack_passes_without_a_word(self):
        """Read, cool, even."""
        found = looked()
        self.assertTrue(found.passed)
        self.assertEqual(found.findings, ())

    def test_unread_is_not_sound(self):
        """Looks prove nothing."""
        self.assertEqual(looked(reading=None).outcome, "unread")

    def test_the_whole_pack_by_a_multimeter(self):
        """It passes, alone, slowly, balanced; its cells are not known. One cell and NiMH are known by it."""
        found = looked(reading=whole_reading("lipo", 4, 14.8))
        self.assertTrue(found.passed)
        (said,) = found.findings
        self.assertEqual(said.id, "cells_unknown")
        self.assertRegex(said.sentence, "not known.*alone, at 0.5C.*balance mode")
        one = replace(four_s("01"), series=1)
        self.assertEqual(looked(one, reading=whole_reading("lipo", 1, 3.7)).findings, ())
        nimh = replace(four_s("01"), chemistry="nimh", series=6)
        self.assertEqual(looked(nimh, reading=whole_reading("nimh", 6, 7.6)).findings, ())

    def test_a_whole_pack_out_of_bounds(self):
        """Its middle below damage or over full says enough of one cell at least."""
        low = looked(reading=whole_reading("lipo", 4, 11.6))
        self.assertEqual((low.outcome, low.findings[0].id), ("retire", "too_low"))
        self.assertIn("It rests at 2.90 V a cell", low.findings[0].sentence)
        self.assertEqual(looked(reading=whole_reading("lipo", 4, 17.2)).findings[0].id, "over_full")

    def test_each_sign(self):
        """Swollen, dented, punctured: retired; leads, a crash, a low cell: mended; warm: waits."""
        wanted = {
            "swollen": "retire",
            "dented": "retire",
            "punctured": "retire",
            "leads": "mend",
            "crashed": "mend",
            "low_cell": "mend",
            "warm": "wait",
        }
        self.assertEqual({s: looked(signs=[s]).outcome for s in SIGNS}, wanted)

    def test_the_worst_rules_and_stands_first(self):
        """Warm and swollen is swollen."""
        found = looked(signs=["warm", "swollen"])
        self.assertEqual((found.outcome, found.findings[0].id), ("retire", "swollen"))

    def test_temperature_at_its_limits(self):
        """Below 0 °C and above 40 °C it waits; at them it passes; nobody who measured or felt it is
        a reason."""
        for temperature_c, outcome in (
            (-0.1, "wait"),
            (0.0, "pass"),
            (40.0, "pass"),
            (40.1, "wait"),
            (None, "unlooked"),
        ):
            with self.subTest(temperature_c):
                self.assertEqual(looked(temperature_c=temperature_c).outcome, outcome)

    def test_cells_at_their_limits(self):
        """Below 3.00 V is damaged; over full is looked into; differing cells pass with a word."""
        for cells, outcome, finding in (
            ((2.99, 3.7, 3.7, 3.7), "retire", "too_low"),
            ((3.0, 3.02, 3.02, 3.02), "pass", None),
            ((4.24, 4.2, 4.2, 4.2), "mend", "over_full"),
            ((3.7, 3.7, 3.7, 3.65), "pass", "apart"),
            ((3.7, 3.7, 3.7, 3.67), "pass", "spread"),
            ((3.7, 3.7, 3.7, 3.68), "pass", None),
        ):
            with self.subTest(cells):
                found = looked(reading=pack_reading("lipo", cells))
                self.assertEqual(found.outcome, outcome)
                self.assertEqual(next((f.id for f in found.findings), None), finding)

    def test_found_at_zero_is_advised_against(self):
        """Some put it on charge and hope; it says why not."""
        found = looked(reading=pack_reading("lipo", (0.5, 3.7, 3.7, 3.7)))
        self.assertIn("advise against", found.findings[0].sentence)

    def test_sound_is_said_by_somebody(self):
        """Nobody looked: it does not pass, whatever it reads; felt to be as warm as the room, it does."""
        self.assertEqual(looked(looked=False).outcome, "unlooked")
        self.assertEqual(looked(temperature_c=None).findings[0].id, "temperature")
        self.assertTrue(looked(temperature_c=None, at_room=True).passed)
        self.assertEqual(looked(looked=False, signs=["leads"]).findings[0].id, "leads")

    def test_what_bars_it_leaves_no_advice_on_charging(self):
        """Condemned: not "charge it alone, slowly" beside it."""
        bar = Finding("condemned", "retire", "To be retired.")
        apart = VisualCheck(looked=True, temperature_c=20, reading=pack_reading("lipo", (3.7, 3.7, 3.7, 3.6)))
        self.assertEqual([f.id for f in inspection(four_s("01"), apart).findings], ["apart"])
        self.assertEqual(inspection(four_s("01"), apart, barred=[bar]).findings, (bar,))

    def test_marked_unfit(self):
        """A pack marked so does not pass, however well it reads."""
        self.assertEqual(looked(replace(four_s("01"), fit=False, note="swollen")).outcome, "retire")

    def test_an_unknown_sign(self):
        """Refused by name."""
        with self.assertRaisesRegex(DomainError, "not “haunted”"):
            looked(signs=["haunted"])

    @given(
        st.lists(st.sampled_from(sorted(SIGNS))),
        st.floats(-30, 80),
        st.lists(st.floats(0.1, 4.6), min_size=4, max_size=4),
    )
    def test_more_signs_never_help(self, signs, temperature_c, cells):
        """Whatever is found in addition, a pack that did not pass does not pass."""
        reading = pack_reading("lipo", tuple(cells))
        if not looked(reading=reading, temperature_c=temperature_c).passed:
            self.assertFalse(looked(signs=signs, reading=reading, temperature_c=temperature_c).passed)


class JustRun(SimpleTestCase):
    def waits(self, ago, temperature_c=None, rules=STEADY):
        found = VisualCheck(looked=True, reading=SOUND, temperature_c=temperature_c, run_ago_min=ago)
        return inspection(four_s("01"), found, rules=rules).outcome == "wait"

    def test_it_cools_by_the_house_rule(self):
        """Half an hour under Steady: just before it waits, at it not; longer where the rule says so."""
        self.assertEqual([self.waits(x) for x in (0, 29.9, 30, None, -5)], [True, True, False, False, False])
        self.assertTrue(self.waits(30, rules=changed(STEADY, {"cool_min": 60})))

    def test_a_measured_temperature_counts_more(self):
        """Cool to the thermometer: no waiting; hot: waiting for that."""
        self.assertFalse(self.waits(5, temperature_c=19))
        self.assertTrue(self.waits(5, temperature_c=45))
