"""The derivations of a pack's page can be checked by hand."""

from django.test import SimpleTestCase

from coldstack.core.keeping.records import Trend
from coldstack.core.keeping.workings import due_working, forecast_working, honest_c_working
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import STEADY

PACK = Pack("owned:01", "4S", "lipo", 4, 4.0, 350.0)


def numbers(working):
    return " | ".join(s.numbers for s in working.steps)


class ByHand(SimpleTestCase):
    def test_honest_c(self):
        """2.5 mΩ and 4 Ah: √(6.25 × 4 ÷ 0.0025) = 100 A, 25C."""
        self.assertIn("= 100 A", numbers(honest_c_working(2.5, 4.0)))
        self.assertTrue(numbers(honest_c_working(2.5, 4.0)).endswith("= 25C"))

    def test_due(self):
        """Full for 30 h of 48: 18 h left; Li-ion may wait twice as long; stored packs and NiMH are not
        due."""
        self.assertTrue(numbers(due_working(PACK, "full", 30, STEADY)).endswith("48 h − 30 h = 18 h"))
        self.assertEqual(due_working(PACK, "full", 60, STEADY).steps[-1].label, "Overdue")
        liion = Pack("owned:02", "4S", "liion", 4, 3.0, 200.0)
        self.assertIn("48 h × 2 for Li-ion = 96 h", numbers(due_working(liion, "spent", 10, STEADY)))
        self.assertEqual(due_working(PACK, "full", 30, STEADY).steps[1].rule, "house rules “Steady”")
        self.assertIsNone(due_working(PACK, "stored", 30, STEADY))
        self.assertIsNone(due_working(Pack("owned:03", "6S", "nimh", 6, 4.0, 400.0), "full", 30, STEADY))

    def test_forecast(self):
        """90 % at −0.5 % a cycle: 20 to 80 %; 3 mΩ rising by 0.05 from a first of 2: 20 to 4 mΩ; too early:
        nothing."""
        capacity, resistance = Trend(-0.005, -0.01, -0.0025, 0.9, 12), Trend(0.05, 0.04, 0.1, 3.0, 12)
        said = numbers(forecast_working(capacity, resistance, 2.0, STEADY))
        self.assertIn("about 20 cycles, 10 to 40", said)
        self.assertIn("about 20 cycles, 10 to 25", said)
        self.assertEqual(len(forecast_working(capacity, None, None, STEADY).steps), 3)
        self.assertIsNone(forecast_working(None, None, None, STEADY))
        away = forecast_working(None, Trend(-0.05, -0.1, -0.01, 3.0, 12), 2.0, STEADY)
        self.assertIn("moves away", numbers(away))
