"""Typical packs and cells: possible, within the trade's figures, and out of the way once a catalogue
offers a choice."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.packs.pack import check_cell_type, check_pack
from coldstack.core.packs.typical import (
    ENOUGH_TO_CHOOSE,
    stand_ins,
    typical_cells,
    typical_packs,
)


class Typical(SimpleTestCase):
    def test_every_one_is_a_possible_pack(self):
        """Marked typical, with an id of its own, its plug and leads assumed."""
        packs = typical_packs()
        for pack in packs:
            check_pack(pack)
            self.assertTrue(pack.typical and pack.name.startswith("typical "))
            self.assertLessEqual({"plug", "lead_awg"}, pack.assumed)
        self.assertEqual(len({p.id for p in packs}), len(packs))
        for cell in typical_cells():
            check_cell_type(cell)

    def test_their_energy_per_mass_is_the_chemistry_s(self):
        """Between its least and its best, to the gram that is printed; LiPo and its kin go by what is met."""
        for pack in typical_packs():
            cell = chemistry(pack.chemistry)
            if cell.polymer:
                continue
            density = 1000 * pack.series * cell.nominal_v * pack.capacity_ah / pack.mass_g
            low, high = cell.pack_wh_per_kg
            self.assertTrue(0.99 * low <= density <= 1.01 * high, (pack.name, density))

    def test_more_c_is_heavier_and_more_capacity_bigger(self):
        """Of one kind, whatever else holds."""
        self.assertLess(typical_mass_g("lipo", 4, 2.2, 25), typical_mass_g("lipo", 4, 2.2, 75))
        boxes = {
            p.capacity_ah: p.length_mm * p.width_mm * p.height_mm
            for p in typical_packs()
            if p.id.startswith("typical:lipo:4:") and p.label_c == 25
        }
        volumes = [boxes[ah] for ah in sorted(boxes)]
        self.assertEqual(volumes, sorted(volumes))

    def test_known_sizes(self):
        """A 3S of 2200 mAh and 25C weighs 130 to 190 g as sold; a 4S of 5000, 50C 440 to 560 g."""
        by_id = {p.id: p for p in typical_packs()}
        self.assertTrue(130 <= by_id["typical:lipo:3:2200:25"].mass_g <= 190)
        self.assertTrue(440 <= by_id["typical:lipo:4:5000:50"].mass_g <= 560)

    def test_they_stand_aside_for_a_choice_of_makers(self):
        """With four packs of a kind they stand in, with five not; other kinds stay."""
        kind = [p for p in typical_packs() if p.chemistry == "lipo" and p.series == 4]
        made = [replace(p, id=f"pack:{i}", typical=False) for i, p in enumerate(kind[:ENOUGH_TO_CHOOSE])]
        few, enough = stand_ins(made[:-1]), stand_ins(made)
        self.assertEqual(len(few), len(typical_packs()))
        self.assertEqual(len(enough), len(typical_packs()) - len(kind))
