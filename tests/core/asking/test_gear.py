"""Slips in gear, runs and charges: asked with the figure that was meant; odd gear and honest runs are not."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.asking.gear import slips_in_cell, slips_in_charger, slips_in_pack, slips_in_supply
from coldstack.core.asking.runs import PUT_BACK, PUT_BACK_WARMING, most_put_back, slips_in_run
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.packs.pack import CellType, Pack

PACK = Pack(
    id="x",
    name="3S 2200",
    chemistry="lipo",
    series=3,
    capacity_ah=2.2,
    mass_g=180,
    length_mm=105,
    width_mm=34,
    height_mm=24,
    label_c=35,
    label_burst_c=70,
    charge_c=3,
    lead_length_mm=100,
    price=24.0,
)
CHARGER = Charger(
    id="c",
    name="Bench",
    chemistries=("lipo",),
    series_max=6,
    port_a=10,
    port_w=150,
    mains_w=150,
    balance_a=0.8,
)
SUPPLY = Supply("s", "Brick", "mains", 18.0, 240.0)
CELL = CellType("i", "Round", "liion", 3.0, 47.0, 18.4, 65.2, 15.0, 30.0, 18.0)


class Gear(SimpleTestCase):
    def asked(self, value, asks, *slips):
        self.assertEqual(asks(value), [], "the true one")
        for field, by in slips:
            with self.subTest(field=field, by=by):
                meant = getattr(value, field)
                (found,) = asks(replace(value, **{field: meant * by}))
                self.assertEqual(found.field, field)
                self.assertAlmostEqual(found.meant / meant, 1, delta=0.01)

    def test_a_pack(self):
        """Its mass, size, rates and price against each other."""
        both = ("capacity_ah", "mass_g", "length_mm", "width_mm", "height_mm", "label_c")
        more = ("label_burst_c", "charge_c", "lead_length_mm", "price")
        self.asked(
            PACK, slips_in_pack, *((f, by) for f in both for by in (10, 0.1)), *((f, 10) for f in more)
        )

    def test_a_charger_a_supply_a_cell(self):
        """Watts against amps; a cell by its size."""
        self.asked(CHARGER, slips_in_charger, *((f, by) for f in ("port_w", "mains_w") for by in (10, 0.1)))
        self.asked(SUPPLY, slips_in_supply, ("voltage_v", 0.1))
        sizes = ("capacity_ah", "mass_g", "diameter_mm", "length_mm", "continuous_a")
        self.asked(CELL, slips_in_cell, *((f, by) for f in sizes for by in (10, 0.1)))

    def test_sure_and_assumed(self):
        """What its owner is sure of, or never gave, is not asked."""
        heavy = replace(PACK, mass_g=1800)
        self.assertEqual(slips_in_pack(heavy, ("mass_g",)), [])
        self.assertEqual(slips_in_pack(replace(heavy, assumed=frozenset(("mass_g",)))), [])

    def test_odd_gear_is_no_slip(self):
        """Twice the usual mass, half the size: no turn of the finger explains it."""
        for odd in ({"mass_g": 380}, {"mass_g": 95}, {"label_c": 8}, {"height_mm": 48}, {"price": 90.0}):
            self.assertEqual(slips_in_pack(replace(PACK, **odd)), [], odd)


class Runs(SimpleTestCase):
    def run_of(self, minutes=None, mah=None, average_a=10.0, pack=PACK):
        found = slips_in_run(pack, average_a=average_a, minutes=minutes, put_back_mah=mah)
        return [(q.field, q.meant) for q in found]

    def test_slips(self):
        """A tenfold or sixtyfold run, a tenfold charge: each with the other, and alone."""
        for minutes, mah, wanted in (
            (100, None, ("minutes", 10.0)),
            (105, 1700, ("minutes", 10.5)),
            (600, 1700, ("minutes", 10.0)),
            (10.5, 17_000, ("put_back_mah", 1700.0)),
            (10.5, 170, ("put_back_mah", 1700.0)),
            (None, 17_000, ("put_back_mah", 1700.0)),
        ):
            with self.subTest(minutes=minutes, mah=mah):
                ((field, meant),) = self.run_of(minutes, mah)
                self.assertEqual((field, round(meant, 6)), wanted)

    def test_honest_runs(self):
        """Short and long, hard and gentle, with and without what went back: none is asked."""
        for share in (0.2, 0.4, 0.6, 0.8, 0.95):
            for harder in (0.6, 0.8, 1.0, 1.3, 1.7):
                mah = 2200 * share
                minutes = mah / 1000 / (10 * harder) * 60
                for told in ((minutes, mah), (minutes, None), (None, mah)):
                    self.assertEqual(self.run_of(*told), [], (share, harder, told))

    def test_what_goes_back_at_most(self):
        """Just at the most nothing is asked; a tenfold and a hundredfold slip name what was meant; two
        million are no slip of the finger."""
        for chemistry, most in (("lipo", PUT_BACK), ("nimh", PUT_BACK_WARMING)):
            pack = replace(PACK, chemistry=chemistry, capacity_ah=1.8)
            self.assertEqual(self.run_of(None, 1800 * most, None, pack), [])
            self.assertNotEqual(self.run_of(None, 1801 * most, None, pack), [])
        small = replace(PACK, capacity_ah=1.8)
        # a quarter more than it holds, losses and all
        self.assertEqual([self.run_of(None, mah, None, small) != [] for mah in (2249, 2251)], [False, True])
        (asked,) = slips_in_run(small, average_a=None, minutes=4.5, put_back_mah=13_500)
        self.assertEqual((asked.field, asked.meant), ("put_back_mah", 1350))
        self.assertEqual(asked.sentence, "13500 mAh is 7.5 times what the pack holds: did you mean 1350 mAh?")
        self.assertEqual(self.run_of(None, 135_000, None, small), [("put_back_mah", 1350)])
        self.assertEqual(self.run_of(None, 2_000_000, None, small), [("put_back_mah", 2_000_000)])

    def test_beyond_what_it_holds(self):
        """By no turn of the finger: its capacity is asked; NiMH warms away what lithium does not."""
        self.assertEqual(self.run_of(10, 2900), [("put_back_mah", 2900)])
        nimh = replace(PACK, chemistry="nimh", series=6)
        self.assertEqual(self.run_of(10, 2900, pack=nimh), [])
        self.assertGreater(most_put_back("nimh"), most_put_back("lipo"))
