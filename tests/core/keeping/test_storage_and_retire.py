"""What is due, and how a pack is retired."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.errors import DomainError
from coldstack.core.keeping.retire import RETIRE_STEPS, drain_resistor, is_retired, retire_steps
from coldstack.core.keeping.storage import cells_expected, storage_due
from coldstack.core.life.events import Event
from coldstack.core.life.now import pack_now
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HOUSE_RULES, house_rules

PACK = Pack("owned:01", "4S", "lipo", 4, 4.0, 350.0)


def due(state="full", since_h=0.0, level="fine", rules="steady", chemistry="lipo"):
    pack = Pack("owned:01", "x", chemistry, 4, 4.0, 350.0)
    return storage_due(pack, state=state, since_h=since_h, level=level, rules=house_rules(rules))


class Due(SimpleTestCase):
    def test_by_each_school(self):
        """24, 48 and 168 hours from when it was full or spent."""
        for rules in HOUSE_RULES:
            with self.subTest(rules):
                self.assertEqual(due(since_h=10, rules=rules).in_h, HOUSE_RULES[rules].storage_within_h - 10)

    def test_overdue(self):
        """Full for three weeks under Steady: overdue by 19 days."""
        found = due(since_h=21 * 24)
        self.assertEqual((found.doing, found.in_h), ("storage", 48 - 21 * 24))
        self.assertIn("Full for 21 days", found.sentence)

    def test_chemistries(self):
        """Li-ion has twice as long; NiMH keeps at any charge."""
        self.assertEqual(due(chemistry="liion").in_h, 96)
        self.assertEqual(due(chemistry="nimh").doing, "ready")

    def test_the_rest(self):
        """Retired first; never read; stored and sound, watched, or long enough to be read again."""
        self.assertEqual(due(level="retire").doing, "retire")
        self.assertEqual(due(state=None).doing, "read")
        self.assertEqual(due(state="stored").doing, "stored")
        self.assertEqual(due(state="stored", level="watch").doing, "light")
        self.assertEqual(due(state="stored", since_h=91 * 24).doing, "read")
        self.assertEqual(due(state="part").doing, "storage")
        # a question is asked first, but keeps it full no longer than the rules allow
        self.assertEqual(due(level="again", since_h=47).doing, "read")
        self.assertEqual(due(level="again", since_h=49).doing, "storage")


class Retire(SimpleTestCase):
    def test_resistor_by_hand(self):
        """4S 4 Ah: 14.8 V ÷ 0.2 A = 74 Ω; 16.8²/74 × 2 = 7.6 W; about C/20, so about a day from full."""
        found = drain_resistor(PACK)
        self.assertAlmostEqual(found.ohm, 74.0)
        self.assertAlmostEqual(found.watts, 2 * 16.8**2 / 74)
        self.assertTrue(18 < found.hours < 26, found.hours)
        self.assertEqual(found.hours, found.hours_from_full)

    def test_less_charge_takes_less_time_and_size_does_not_matter(self):
        """From 30 % sooner; twice the Ah takes half the ohms and the same hours."""
        self.assertLess(drain_resistor(PACK, soc=0.3).hours, 0.5 * drain_resistor(PACK).hours)
        double = Pack("x", "x", "lipo", 4, 8.0, 700.0)
        self.assertAlmostEqual(drain_resistor(double).ohm, 37.0)
        self.assertAlmostEqual(drain_resistor(double).hours, drain_resistor(PACK).hours)

    def test_steps(self):
        """Outside, resistor, flat, insulated, handed in by local rules."""
        steps = retire_steps(PACK, drain_resistor(PACK))
        self.assertEqual([s.id for s in steps], ["outside", "resistor", "flat", "insulate", "hand_in"])
        self.assertIn("local rules", steps[-1].sentence)

    def test_only_a_pack_out_of_use_is_retired_and_only_by_all_steps(self):
        """All steps and unfit: retired. Some steps of either: not yet. All of a fit one: refused."""
        unfit, some = replace(PACK, fit=False), list(RETIRE_STEPS[:2])
        self.assertTrue(is_retired(unfit, list(RETIRE_STEPS)))
        self.assertFalse(is_retired(unfit, some))
        self.assertFalse(is_retired(PACK, some))
        with self.assertRaises(DomainError):
            is_retired(PACK, list(RETIRE_STEPS))
        with self.assertRaises(DomainError):
            is_retired(unfit, ["thrown away"])


class Expected(SimpleTestCase):
    def noted(self, state, rules="steady"):
        events = [Event("noted-as-1", 0.0, "state", state=state)] if state else []
        return cells_expected(pack_now(PACK, events, house_rules(rules), 60.0))

    def test_full_spent_and_stored(self):
        """Full by the rules, spent at their landing point, stored in the middle of the band; other states
        say too little."""
        self.assertAlmostEqual(self.noted("full", "long_life").mean_v, 4.15, places=3)
        self.assertAlmostEqual(self.noted("spent").lowest_soc, 0.2, places=3)
        self.assertTrue(3.80 < self.noted("stored").mean_v < 3.85)
        self.assertAlmostEqual(self.noted("spent").spread_v, 0)
        for state in ("part", "too_low", None):
            self.assertIsNone(self.noted(state))
