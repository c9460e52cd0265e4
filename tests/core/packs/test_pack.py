from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.chain.plugs import PlugEnd
from coldstack.core.errors import DomainError
from coldstack.core.packs.pack import check_cell_type, check_pack
from tests.core.trial.jobs import cell, pack


class Packs(SimpleTestCase):
    def test_a_sound_one_passes(self):
        """And comes back; its plug's loose end and its usual balance plug are known."""
        self.assertEqual(check_pack(pack()), pack())
        self.assertEqual(pack().plug_end, PlugEnd("xt60", "pack"))
        self.assertEqual(pack().balance_family, "xh")
        self.assertEqual(pack(balance_plug="eh").balance_family, "eh")

    def test_impossible_figures_name_their_field(self):
        """One by one."""
        for field, value in (
            ("series", 0),
            ("series", 29),
            ("parallel", 0),
            ("capacity_ah", 0),
            ("mass_g", -1),
            ("length_mm", 0),
            ("label_c", 0),
            ("charge_c", 50),
            ("cell_mohm", 0),
            ("lead_awg", 50),
            ("lead_length_mm", -1),
            ("price", -1),
            ("capacity_ah", float("nan")),
        ):
            with self.subTest(field=field), self.assertRaises(DomainError) as caught:
                check_pack(replace(pack(), **{field: value}))
            self.assertEqual(caught.exception.field, field)
        for field in ("chemistry", "plug", "balance_plug"):
            with self.assertRaises(DomainError) as caught:
                check_pack(replace(pack(), **{field: "zz"}))
            self.assertEqual(caught.exception.field, field)


class Cells(SimpleTestCase):
    def test_sheets(self):
        """A sound one passes; each impossible figure is named."""
        self.assertEqual(check_cell_type(cell()), cell())
        for field, value in (
            ("capacity_ah", 0),
            ("mass_g", 0),
            ("diameter_mm", 1),
            ("length_mm", 1),
            ("continuous_a", 0),
            ("burst_a", 0),
            ("resistance_mohm", 0),
            ("price", -1),
        ):
            with self.subTest(field=field), self.assertRaises(DomainError) as caught:
                check_cell_type(replace(cell(), **{field: value}))
            self.assertEqual(caught.exception.field, field)
