"""A charger without a main output: the balance plug carries all of the charge."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.chain.balance import BALANCE_WIRE_A
from coldstack.core.charging.amps import Feed
from coldstack.core.charging.charger import check_charger
from coldstack.core.charging.steps import charge_steps, unplug_steps
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import Bench, charge_fit
from coldstack.core.matching.lead import lead_to_get
from coldstack.core.rules.house_rules import house_rules
from tests.core.charging.gear import charger, pack

SMALL = replace(
    charger(),
    name="Pebble",
    by_balance=True,
    series_min=2,
    series_max=4,
    port_a=0.8,
    port_w=20.0,
    mains_w=20.0,
    balance_families=("xh",),
)
THREE = replace(pack(), series=3, capacity_ah=2.2, mass_g=180.0)


def fit(p=THREE, c=SMALL, on=None):
    return charge_fit(p, c, rules=house_rules("steady"), feed=Feed("mains"), bench=on or Bench())


class ByBalance(SimpleTestCase):
    def test_no_lead_is_needed(self):
        """Whatever the pack's main plug: only the balance plug need go in; no lead is missed."""
        found = fit()
        self.assertEqual((found.refusals, found.balance.fits), ((), True))
        self.assertEqual(found.amps.current_a, 0.8)
        self.assertIsNone(lead_to_get(SMALL, [THREE], Bench()))

    def test_what_it_cannot(self):
        """Another balance plug, one cell, a NiMH pack, a plug in the main one; too many cells."""
        for p, words in (
            (replace(THREE, balance_plug="eh"), "EH with 4 pins finds no port"),
            (replace(THREE, series=1), "starts at 2 cells"),
            (replace(THREE, balance_plug="none"), "no balance plug"),
            (replace(THREE, series=6), "ends at 4"),
        ):
            with self.subTest(words):
                self.assertIn(words, " ".join(r.sentence for r in fit(p).refusals))
        nimh = replace(SMALL, chemistries=("nimh", "lipo"), nimh_cells_max=8, series_min=1)
        for p in (replace(THREE, chemistry="nimh", series=6), replace(THREE, series=1)):
            self.assertIn("this pack has none to charge by", fit(p, nimh).refusals[0].sentence)

    def test_its_wires_are_a_limit(self):
        """However strong it is, no more goes through a balance wire than it takes."""
        strong = replace(SMALL, port_a=10.0, port_w=400.0, mains_w=400.0)
        found = fit(replace(THREE, capacity_ah=8.0), strong)
        self.assertEqual(found.amps.binding.id, "balance_wires")
        self.assertEqual(found.amps.current_a, BALANCE_WIRE_A)

    def test_its_steps(self):
        """The balance plug alone, the main one stays covered; and out again."""
        told = {"chemistry_id": "lipo", "series": 3, "program": "balance charge", "current_a": 0.8}
        steps = charge_steps(**told, end_v=12.6, by_balance=True)
        self.assertEqual([s.id for s in steps], ["place", "set", "balance", "confirm"])
        self.assertIn("Keep the main plug covered", steps[2].why)
        self.assertEqual([s.id for s in unplug_steps(series=3, by_balance=True)], ["balance_out", "mark"])

    def test_it_has_a_balance_port(self):
        """One that charges by it alone and has none is no charger."""
        check_charger(SMALL)
        with self.assertRaises(DomainError) as raised:
            check_charger(replace(SMALL, balance_families=()))
        self.assertEqual(raised.exception.field, "balance_families")
