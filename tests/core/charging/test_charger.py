from django.test import SimpleTestCase

from coldstack.core.charging.charger import Supply, check_charger, check_supply
from coldstack.core.errors import DomainError
from tests.core.charging.gear import charger, four_port


class Sheets(SimpleTestCase):
    def test_sound_ones_pass(self):
        """And come back as they are."""
        self.assertEqual(check_charger(four_port()), four_port())
        self.assertEqual(four_port().inputs, ("mains", "dc"))
        nimh_only = charger(chemistries=("nimh",), series_max=0, nimh_cells_max=8)
        self.assertEqual(check_charger(nimh_only).series_max, 0)

    def test_impossible_figures_name_their_field(self):
        """No chemistry, no input, unknown plug, wrong cells, crossed input volts, NaN."""
        cases = (
            ({"chemistries": ()}, "chemistries"),
            ({"chemistries": ("lead",)}, "chemistry"),
            ({"dc_w": None}, "mains_w"),
            ({"output_plug": "xt61"}, "plug"),
            ({"balance_families": ("zz",)}, "balance_plug"),
            ({"series_max": 0}, "series_max"),
            ({"series_min": 7}, "series_min"),
            ({"dc_min_v": 20.0}, "dc_min_v"),
            ({"port_a": 0}, "port_a"),
            ({"port_w": float("nan")}, "port_w"),
            ({"step_a": 0}, "step_a"),
            ({"ports": 17}, "ports"),
        )
        for changes, field in cases:
            with self.subTest(field=field), self.assertRaises(DomainError) as caught:
                check_charger(charger(**changes))
            self.assertEqual(caught.exception.field, field)

    def test_supplies(self):
        """Volts, watts, energy."""
        good = Supply("1", "box", "battery", 12.8, 240, 500)
        self.assertEqual(check_supply(good), good)
        for bad, field in (
            (Supply("1", "b", "mains", 1, 100), "voltage_v"),
            (Supply("1", "b", "mains", 12, 0), "power_w"),
            (Supply("1", "b", "battery", 12, 10, 0), "energy_wh"),
        ):
            with self.assertRaises(DomainError) as caught:
                check_supply(bad)
            self.assertEqual(caught.exception.field, field)
