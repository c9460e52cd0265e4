from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRIES, CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.charging.amps import pack_charge_c
from coldstack.core.errors import DomainError
from coldstack.core.keeping.storage import storage_due
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import apart
from coldstack.core.rules.house_rules import HOUSE_RULES, for_chemistry, house_rules


class HouseRulesAsValues(SimpleTestCase):
    def test_steady_on_lipo_is_as_stated(self):
        """Full at 4.20, 80 % used, alarm 3.4, cut-off 3.2; the usable share binds, since 3.6 V at rest lies
        below 20 %."""
        rules = for_chemistry(house_rules("steady"), "lipo")
        self.assertAlmostEqual(rules.start_soc, 1.0)
        self.assertAlmostEqual(rules.landing_soc, 0.20)
        self.assertEqual(rules.landing_by, "usable share")
        self.assertAlmostEqual(rules.alarm_v, 3.4)
        self.assertAlmostEqual(rules.cutoff_v, 3.2)

    def test_field_day_charges_at_three_times_the_label_s_hour_at_most(self):
        """A pack of 2 Ah whose label allows 5C: 6 A, where Steady stays at its own."""
        quick = Pack("owned:1", "4S", "lipo", 4, 2.0, 220.0, label_c=60.0, charge_c=5.0)
        self.assertAlmostEqual(pack_charge_c(quick, house_rules("field_day")), 3.0)
        self.assertLess(pack_charge_c(quick, house_rules("steady")), 3.0)

    def test_li_ion_may_wait_twice_as_long_for_storage(self):
        """Of the two days that Steady allows: four."""
        for cell, hours in (("lipo", 48.0), ("liion", 96.0)):
            one = Pack("owned:1", "4S", cell, 4, 2.0, 220.0)
            due = storage_due(one, state="full", since_h=0.0, level="fine", rules=house_rules("steady"))
            self.assertAlmostEqual(due.in_h, hours)

    def test_cells_apart_are_seen_from_three_hundredths_on(self):
        """Of a volt, by the Steady rules."""
        steady = house_rules("steady")
        for spread_v, level in ((0.029, "close"), (0.031, "watch"), (0.049, "watch"), (0.051, "act")):
            self.assertEqual(apart("lipo", spread_v, steady), level, spread_v)

    def test_long_life_starts_lower_and_lands_earlier(self):
        """4.15 V is 95.5 % of the charge by the curve; 70 % used means landing with 30 % left."""
        rules = for_chemistry(house_rules("long_life"), "lipo")
        self.assertAlmostEqual(rules.start_soc, 0.955, delta=0.002)
        self.assertAlmostEqual(rules.landing_soc, 0.30, delta=0.002)

    def test_volts_at_rest_go_by_charge(self):
        """What LiPo holds at 3.75 V and at 4.15: LiHV and Li-ion land and end at the same charge; LiFePO4,
        whose volts do not tell it, ends at the same height."""
        low, full = soc_at_rest("lipo", 3.75), soc_at_rest("lipo", 4.15)
        for kind in ("lihv", "liion", "semisolid"):
            of_kind = for_chemistry(house_rules("long_life"), kind)
            self.assertAlmostEqual(of_kind.landing_rest_v, resting_voltage(kind, low))
            self.assertAlmostEqual(of_kind.landing_soc, 0.3, places=2)
            self.assertAlmostEqual(of_kind.full_v, resting_voltage(kind, full))
        flat = for_chemistry(house_rules("long_life"), "lifepo4")
        self.assertAlmostEqual(flat.full_v, 3.0 + 0.6 * (4.15 - 3.5) / 0.7)

    def test_the_same_height_in_another_chemistry(self):
        """3.4 V of LiPo stand 1/7 of the span below empty: Li-ion 3.10 − 1.1/7 = 2.943 V."""
        self.assertAlmostEqual(
            for_chemistry(house_rules("steady"), "liion").alarm_v, 3.10 - 1.1 / 7, places=6
        )

    @given(st.sampled_from(list(HOUSE_RULES)), st.sampled_from(CHEMISTRY_IDS))
    def test_no_set_allows_what_the_chemistry_forbids(self, rules_id, chemistry_id):
        """Never fuller than full, never an alarm or cut-off where the cell is harmed, landing before the
        end."""
        rules, cell = for_chemistry(house_rules(rules_id), chemistry_id), CHEMISTRIES[chemistry_id]
        self.assertLessEqual(rules.full_v, cell.full_v)
        self.assertGreaterEqual(rules.cutoff_v, cell.damage_v)
        self.assertGreaterEqual(rules.alarm_v, rules.cutoff_v)
        self.assertLess(rules.landing_soc, rules.start_soc)

    def test_unknown_sets_are_refused(self):
        """With the field's name."""
        with self.assertRaises(DomainError) as caught:
            house_rules("reckless")
        self.assertEqual(caught.exception.field, "house_rules")
