"""One pack, one charger and one lead of one's own, in a program that was empty."""

from tests.screens.case import ScreenCase

PACK = {"tag": "A1", "name": "My 3S", "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "mass_g": 180}
CHARGER = {
    "name": "Bench 80",
    "chemistries": ["lipo"],
    "series_max": 6,
    "port_a": 6,
    "port_w": 80,
    "mains_w": 80,
    "balance_families": ["xh"],
}
LEAD = {"name": "Lead", "kind": "lead", "pack_plug": "xt60", "device_plug": "banana_4"}


class OwnGearCase(ScreenCase):
    world = False

    def setUp(self):
        super().setUp()
        self.open("/gear/packs")
        for kind, row in (("packs", PACK), ("chargers", CHARGER), ("pieces", LEAD)):
            self.post(f"/api/gear/{kind}", row)

    def line(self):
        field = self.page.get_by_label("Volts of A1, cells or pack")
        return self.page.get_by_role("listitem").filter(has=field)

    def message(self):
        return self.page.get_by_role("status", name="Messages")

    def bench(self):
        """Laid out, and what stands there."""
        self.open("/charge/-")
        if self.page.get_by_label("Volts of A1, cells or pack").count() == 0:
            self.page.get_by_role("combobox", name="Lay out a pack").fill("A1")
            self.page.get_by_role("option", name="A1 My 3S").wait_for()
            self.page.keyboard.press("Enter")
        self.settled()
