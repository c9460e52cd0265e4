"""To storage: closed forms, limits, and running it down instead."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.chain.adapters import Path
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.programs import run_down
from coldstack.core.charging.programs import storage_program as program
from coldstack.core.errors import DomainError
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.readings.cells import pack_reading
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.units import minutes_words
from tests.core.boards.laid import four_s
from tests.core.charging.gear import charger, pack


def storage_program(pack, charger, reading, path=None):
    return program(pack, charger, reading, rules=house_rules("steady"), feed=Feed("dc"), path=path)


FULL = pack_reading("lipo", (4.2,) * 4)
SMALL = charger(discharge_w=6.0, storage_cap_a=1.0)


class Down(SimpleTestCase):
    def test_hours_at_6_w(self):
        """A full 4S 4 Ah pack at 6 W: watts ÷ mean volts, Ah ÷ A: nearly five hours and a half."""
        found = storage_program(four_s("05"), SMALL, FULL)
        target = (soc_at_rest("lipo", 3.80) + soc_at_rest("lipo", 3.85)) / 2
        amps = 6.0 / (4 * (4.2 + resting_voltage("lipo", target)) / 2)
        self.assertEqual((found.direction, found.binding), ("discharge", "Its discharge watts"))
        self.assertAlmostEqual(found.current_a, amps, places=3)
        self.assertAlmostEqual(found.hours, 4.0 * (1 - target) / amps, places=2)
        self.assertTrue(5 < found.hours < 6)

    def test_the_cap_of_the_storage_program(self):
        """100 W to burn, but capped at 1 A."""
        found = storage_program(four_s("05"), charger(discharge_w=100.0, storage_cap_a=1.0), FULL)
        self.assertEqual((found.current_a, found.binding), (1.0, "The cap of its storage program"))

    def test_a_charger_that_cannot_discharge(self):
        """Said, not guessed."""
        found = storage_program(four_s("05"), charger(), FULL)
        self.assertIsNone(found.hours)
        self.assertIn("cannot discharge", found.sentence)


class UpAndNone(SimpleTestCase):
    def test_up_from_spent(self):
        """Charged at no more than port, cap and 1C."""
        found = storage_program(four_s("05"), SMALL, pack_reading("lipo", (3.6,) * 4))
        self.assertEqual((found.direction, found.current_a), ("charge", 1.0))

    def test_no_more_than_any_other_charge(self):
        """5 Ah of Li-ion by its label's 0.5C, or with none; through a plug of 2 A; on shared watts; cold."""
        spent = pack_reading("liion", (3.3,) * 3)
        strong = charger(chemistries=("liion",), port_a=30, port_w=600, dc_w=600)
        for label in (0.5, None):
            cells = pack(chemistry="liion", series=3, charge_c=label)
            self.assertEqual(storage_program(cells, strong, spent).current_a, 2.5)
        thin = Path((), ("ph_2", "xt60"))
        self.assertEqual(storage_program(cells, strong, spent, path=thin).current_a, 2.0)
        weak = charger(chemistries=("liion",), port_a=30, port_w=600, dc_w=20)
        self.assertEqual(storage_program(cells, weak, spent).binding, "The charger’s watts on DC")
        cold = replace(cells, today=StateOfHealth(temperature_c=5.0))
        self.assertEqual(storage_program(cold, strong, spent).current_a, 1.2)
        frozen = storage_program(replace(cells, today=StateOfHealth(temperature_c=-3.0)), strong, spent)
        self.assertEqual((frozen.current_a, frozen.hours), (0.0, None))
        self.assertIn("It cannot be charged now", frozen.sentence)

    def test_there_already(self):
        """Within the band nothing is to be done; NiMH keeps at any charge."""
        self.assertEqual(
            storage_program(four_s("05"), SMALL, pack_reading("lipo", (3.82,) * 4)).direction, "none"
        )
        nimh = four_s("11", chemistry="nimh")
        self.assertIn(
            "keeps at any charge", storage_program(nimh, SMALL, pack_reading("nimh", (1.3,) * 4)).sentence
        )

    @given(st.floats(3.4, 4.2), st.floats(1, 60), st.floats(0.5, 6))
    def test_amps_never_above_any_limit(self, cell_v, watts, cap):
        """Whatever the reading, discharge watts and cap."""
        found = storage_program(
            four_s("05"), charger(discharge_w=watts, storage_cap_a=cap), pack_reading("lipo", (cell_v,) * 4)
        )
        self.assertLessEqual(found.current_a, min(cap, 4.0) + 1e-9)
        if found.direction == "discharge":
            self.assertLessEqual(found.current_a * 4 * min(cell_v, 3.8), watts * 1.01)


class Running(SimpleTestCase):
    def test_minutes_by_hand(self):
        """Wh between now and storage ÷ average watts."""
        target = (soc_at_rest("lipo", 3.80) + soc_at_rest("lipo", 3.85)) / 2
        wh = (1 - target) * 4.0 * 4 * (4.2 + resting_voltage("lipo", target)) / 2
        found = run_down(four_s("05"), FULL, average_w=195.0, model="Ptarmigan")
        self.assertAlmostEqual(found.minutes, 60 * wh / 195.0, places=2)
        self.assertIn("run it in Ptarmigan for about", found.sentence)

    def test_not_from_storage_and_not_without_watts(self):
        """Nothing to run down; no watts, no minutes."""
        self.assertIsNone(run_down(four_s("05"), pack_reading("lipo", (3.8,) * 4), average_w=100, model="x"))
        with self.assertRaises(DomainError):
            run_down(four_s("05"), FULL, average_w=0, model="x")

    def test_hours_as_people_say_them(self):
        """Minutes under an hour, then hours with two digits of minutes."""
        self.assertEqual(
            [minutes_words(60 * h) for h in (0.4, 1.05, 9.17)], ["24 min", "1 h 03 min", "9 h 10 min"]
        )
