"""A pack of one’s own, bought with a cell that resists more than the others: what two checks say of it."""

from tests.screens.own_gear import OwnGearCase


class BoughtWithAWeakCell(OwnGearCase):
    def test_a_pin_or_a_cell(self):
        """3.6, 5.9 and 3.5 mΩ, twice, full as it came off the charger: clean the plug, read again, else send
        it back."""
        self.open("/keep/-?pack=A1")
        page = self.page.get_by_role("article", name="Pack A1")
        page.get_by_text("Type in a check").click()
        for mohm in ("3.6 5.9 3.5", "3.7 6.0 3.6"):
            page.get_by_label("Volts at rest, cells or pack").fill("4.18 4.18 4.19")
            page.get_by_label("Resistance of each cell, mΩ").fill(mohm)
            page.get_by_role("textbox", name="Temperature of the pack").fill("20")
            page.get_by_role("button", name="Keep the check").click()
            self.page.get_by_text("Kept for A1").wait_for()
            self.settled()
        words = "Cell 2 reads 1.64 times its neighbours, as from its first day: a pin or a cell. Clean the"
        page.get_by_text(words).first.wait_for()
        page.get_by_text("Read it again, now").wait_for()
        # told once on the shelf
        shelf = self.page.get_by_role("listitem").filter(has_text="My 3S").first
        self.assertEqual(shelf.inner_text().count("a pin or a cell"), 1)
        self.assert_clean()
