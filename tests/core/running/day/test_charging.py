"""What one charge takes on a day's port: by hand, and at its limits."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.errors import DomainError
from coldstack.core.life.events import Event
from coldstack.core.life.now import pack_now
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.running.day.charging import day_charge
from coldstack.core.running.day.own import own_pack
from coldstack.core.running.day.rotation import Day
from coldstack.core.running.day.working import day_working
from tests.core.boards.laid import four_s

STEADY = house_rules("steady")


def charged(watts, pack=None, rules=STEADY):
    return day_charge(pack or four_s("04"), port_w=watts, rules=rules, trust="cautious")


class OneCharge(SimpleTestCase):
    def test_fifty_watts_by_hand(self):
        """50 W ÷ 16.8 V are 2.97 A, so 2.9 A in steps; 80 % of 4 Ah back takes over an hour."""
        found = charged(50)
        self.assertEqual((found.current_a, found.binding), (2.9, "The port’s watts"))
        self.assertTrue(60 * 3.2 / 2.9 < found.minutes < 60 * 3.2 / 2.9 + 30)

    def test_a_large_port_is_held_by_the_rules(self):
        """1C under Steady; under Field day the label's 2C."""
        self.assertEqual(charged(500).current_a, 4.0)
        self.assertEqual(charged(500, rules=house_rules("field_day")).current_a, 8.0)

    def test_working_by_hand(self):
        """9 + 20 + 60 min a round, a start every 12: 7.42 packs, 5 ports at least."""
        day = Day(packs=4, ports=1, run_min=9, charge_min=60, swap_min=3, cool_min=20)
        said = [s.numbers for s in day_working(day, charged(50)).steps]
        self.assertEqual((said[3], said[4]), ("89 ÷ 12 = 7.42", "60 ÷ 12 = 5"))

    def test_watt_hours_cover_what_goes_in(self):
        """At full volts and with the charger's loss: more than the energy that the cells take up."""
        found = charged(50)
        self.assertAlmostEqual(found.wh, 3.2 * 16.8 / 0.85, delta=1.5)

    def test_nimh_has_its_own_volts(self):
        """Six cells at their charging volts of 1.55 V."""
        nimh = four_s("11", chemistry="nimh", series=6, charge_c=1.0)
        self.assertAlmostEqual(charged(20, nimh).current_a, 2.1)
        self.assertLess(chemistry("nimh").full_v, 1.55)

    @settings(max_examples=30)
    @given(st.floats(5, 300))
    def test_more_watts_never_take_longer(self, watts):
        """And never draw more than the port has."""
        less, more = charged(watts), charged(2 * watts)
        self.assertLessEqual(more.minutes, less.minutes + 1e-6)
        self.assertLessEqual(less.current_a * 16.8, watts + 1e-6)

    def test_what_cannot_be(self):
        """No watts; too few for the smallest step."""
        for watts in (0, -5, float("nan"), 1.0):
            with self.subTest(watts), self.assertRaises(DomainError) as raised:
                charged(watts)
            self.assertEqual(raised.exception.field, "port_w")


class OnesOwn(SimpleTestCase):
    def own(self, state):
        pack = four_s("04")
        events = [Event("noted-as-1", 0.0, "state", state=state)] if state else []
        now = pack_now(pack, events, STEADY, 60.0)
        return own_pack(pack, now, run_min=9, port_w=50, rules=STEADY, trust="cautious")

    def test_where_each_state_begins(self):
        """Full: ready. Part full and stored: a shorter first charge than from spent; later ones alike.
        Unknown is taken as spent."""
        self.assertTrue(self.own("full").full)
        first = [self.own(s).first_charge_min for s in ("part", "stored", "spent")]
        self.assertLess(max(first[:2]), 0.8 * first[-1])
        self.assertAlmostEqual(first[-1], self.own("spent").charge_min, delta=0.5)
        self.assertAlmostEqual(self.own(None).first_charge_min, first[-1], places=3)
        self.assertEqual(len({self.own(s).charge_min for s in ("full", "part", "stored", "spent")}), 1)
