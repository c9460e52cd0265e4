"""The shelf and a pack's page as a person uses them."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import OwnedPack
from tests.screens.case import ScreenCase


def new_pack():
    """A pack 40 of which nothing is known."""
    like = OwnedPack.live.get(tag="07")
    figures = {f.name: getattr(like, f.name) for f in OwnedPack._meta.fields if f.name not in ("id", "tag")}
    OwnedPack.objects.create(**{**figures, "tag": "40", "name": "New 3S"})


class KeepScreen(ScreenCase):
    def shelf(self, search=""):
        self.open(f"/keep/ptarmigan{search}")
        self.page.get_by_role("region", name="The shelf").wait_for(state="attached")

    def group(self, name):
        """The text of one group of the shelf."""
        return (
            self.page.locator("section[aria-label='The shelf'] > div")
            .filter(has=self.page.get_by_role("heading", name=re.compile(rf"^{name}\b(?! it)")))
            .inner_text()
        )


class Shelf(KeepScreen):
    def test_what_to_do_now(self):
        """Retire, storage, watch, stored: each pack where it belongs, the overdue one first."""
        self.shelf()
        self.page.get_by_text("1 pack is overdue for storage").wait_for()
        self.assertIn("one bad cell condemns the pack", self.group("Retire"))
        self.assertLess(
            self.group("Bring to storage").index("05"), self.group("Bring to storage").index("04")
        )
        self.assertIn("Overdue by 19 days", self.group("Bring to storage"))
        # which of its two signs is the worse one hangs on the noise of its made-up readings
        self.assertRegex(self.group("Watch, or light duty"), r"Resistance 1\.\d|Holds 8\d %")
        self.assert_accessible()

    def test_several_at_once_and_undone(self):
        """Marked, brought to storage, gone from the group; undo brings them back."""
        self.shelf()
        for tag in ("05", "15"):
            self.page.get_by_label(f"Mark {tag}").check()
        self.page.get_by_role("button", name="brought to storage").click()
        self.page.get_by_text("05, 15: brought to storage").wait_for()
        self.page.get_by_text("6 packs to bring to storage").wait_for()
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").click()
        self.page.get_by_text("1 pack is overdue for storage").wait_for()

    def test_all_these_were_brought_to_storage(self):
        """Marked in one press, noted in one, and nothing is due."""
        self.shelf()
        self.page.get_by_role("button", name="Mark all 8").click()
        self.page.get_by_text("8 packs, now:").wait_for()
        self.page.get_by_role("button", name="brought to storage").click()
        self.page.get_by_text("Nothing is due.").wait_for()

    def test_where_they_lie(self):
        """A caution for the loft; a cool place in a bag is quiet; bad figures are told and nothing is
        lost."""
        self.shelf()
        self.page.get_by_text("warmer than the 5 to 25 °C").wait_for()
        self.page.get_by_role("button", name="Change").click()
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_label("Place").fill("Cellar")
        sheet.get_by_role("textbox", name="At its hottest").fill("2")
        sheet.get_by_role("button", name="Keep it").click()
        sheet.get_by_text("The hottest must be from 6 to 90 °C, not 2 °C").wait_for()
        sheet.get_by_role("textbox", name="At its hottest").fill("18")
        self.assert_accessible()
        sheet.get_by_role("button", name="Keep it").click()
        self.page.get_by_text("Cellar, 6 °C: good for packs.").wait_for()

    def test_house_rules_change_what_is_due(self):
        """Field day leaves a week."""
        self.shelf()
        self.page.get_by_label("House rules").select_option("field_day")
        self.page.get_by_text("house rules “Field day” allow 7 days").first.wait_for()

    def test_keys(self):
        """5 is this stage; a pack picked in Match is shown here."""
        self.open("/match/ptarmigan?pack=owned:18")
        self.page.keyboard.press("5")
        self.page.get_by_role("article", name="Pack 18").wait_for()


class Page(KeepScreen):
    def test_evidence_and_working(self):
        """03: condemned; the evidence opens its working; charts have a table."""
        self.shelf()
        self.page.get_by_role("link", name="03 Fellside 4S 3300 35C").click()
        page = self.page.get_by_role("article", name="Pack 03")
        page.get_by_text("Retire it", exact=True).wait_for()
        page.get_by_role("button", name="Cell 4 resists").click()
        self.page.get_by_role("dialog").get_by_text("÷ median of the others").first.wait_for()
        self.page.keyboard.press("Escape")
        page.get_by_text("As a table").first.click()
        page.get_by_role("columnheader", name="cell 4").wait_for()
        self.assert_accessible()

    def test_out_of_use(self):
        """Taken out of use: its history stays, and it can be undone."""
        self.shelf("?pack=03")
        page = self.page.get_by_role("article", name="Pack 03")
        page.get_by_role("button", name="Take 03 out of use").click()
        self.page.get_by_text("Took pack 03 out of use").wait_for()
        page.get_by_text("Marked as not to be used").first.wait_for()
        self.assertFalse(OwnedPack.live.get(tag="03").fit)
        page.get_by_text("34 charges").wait_for()
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="Take 03 out of use").wait_for()

    def test_ways_to_storage(self):
        """By the state it was left in, or by its cells; faults are told at the field."""
        self.shelf("?pack=06")
        part = self.page.get_by_role("region", name="To storage")
        part.get_by_text("Reckoned by its being full").wait_for()
        part.get_by_text("mAh out at").first.wait_for()
        part.get_by_text("Or run it in Ptarmigan for about").wait_for()
        part.get_by_label("volts now").fill("3.5 3.5")
        part.get_by_text("4 cells in series").wait_for()
        part.get_by_label("volts now").fill("3.6 3.6 3.6 3.6")
        part.get_by_text("mAh in at").first.wait_for()
        part.get_by_role("button", name="To storage on Skerry Four").click()
        self.page.get_by_role("dialog").get_by_text("the middle of its band").wait_for()

    def test_notes(self):
        """Noted, taken away, brought back."""
        self.shelf("?pack=07")
        part = self.page.get_by_role("region", name="Notes")
        part.get_by_role("button", name="Note it").click()
        part.get_by_text("Write a word or two").wait_for()
        part.get_by_label("A note about 07").fill("Dropped on its corner")
        self.page.keyboard.press("Enter")
        part.get_by_text("Dropped on its corner").wait_for()
        part.get_by_role("button", name="Take away: Dropped on its corner").click()
        part.get_by_text("Dropped on its corner").wait_for(state="detached")
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Bring it back").click()
        part.get_by_text("Dropped on its corner").wait_for()

    def test_a_check_by_hand(self):
        """Faults are told at their fields and what was typed stays; kept it counts, and it can be undone."""
        self.shelf("?pack=07")
        page = self.page.get_by_role("article", name="Pack 07")
        page.get_by_text("34 charges").or_(page.get_by_text("charges")).first.wait_for()
        page.get_by_text("Type in a check").click()
        page.get_by_label("Resistance of each cell, mΩ").fill("2.4 2.5")
        page.get_by_role("button", name="Keep the check").click()
        page.get_by_text("The pack has 3 cells in series; 2 resistances were given").wait_for()
        self.assertEqual(page.get_by_label("Resistance of each cell, mΩ").input_value(), "2.4 2.5")
        page.get_by_label("Resistance of each cell, mΩ").fill("2.4 2.5 2.4")
        page.get_by_label("Volts at rest, cells or pack").fill("4.19 4.19 4.18")
        page.get_by_role("textbox", name="Temperature of the pack").fill("21")
        self.assert_accessible()
        page.get_by_role("button", name="Keep the check").click()
        self.page.get_by_text("Kept for 07: cells, resistances").wait_for()
        page.get_by_text("1 reading left out").wait_for()
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").click()
        page.get_by_text("1 reading left out").wait_for(state="detached")

    def test_from_the_page_to_a_run(self):
        """The pack goes along; one that is spent, and one that does no job in this model, is not offered."""
        run_it = self.page.get_by_role("article").get_by_role("link", name="Run it")
        for tag in ("04", "07"):
            self.shelf(f"?pack={tag}")
            self.page.get_by_role("article", name=f"Pack {tag}").get_by_text("In my models").wait_for()
            self.assertEqual(run_it.count(), 0, tag)
        self.shelf("?pack=05")
        run_it.first.click()
        self.page.get_by_label("Volts of 05, cells or pack").wait_for()

    def test_retired_step_by_step(self):
        """The swollen one: ticks outlive a reload; with the last it stands among the retired, its history
        stays."""
        self.shelf("?pack=08")
        page = self.page.get_by_role("article", name="Pack 08")
        boxes = page.locator("details").last.get_by_role("checkbox")
        boxes.nth(0).check()
        self.settled()
        self.page.reload()
        self.settled()
        expect(boxes.nth(0)).to_be_checked()
        for n in range(1, 5):
            boxes.nth(n).check()
            self.settled()
        page.get_by_text(re.compile(r"Retired\s*, \d+ ")).first.wait_for()
        self.assertIn("08", self.group("Retired"))
        page.get_by_text("charges", exact=False).first.wait_for()
        self.shelf("?pack=07")
        part = self.page.get_by_role("article", name="Pack 07").locator("details").last
        part.get_by_text("Retiring it").click()
        boxes = part.get_by_role("checkbox")
        for n in range(5):
            boxes.nth(n).click()
            self.settled()
        self.page.get_by_text("Take it out of use first").wait_for()
        expect(boxes.nth(4)).not_to_be_checked()

    def test_a_new_pack_is_not_called_sound(self):
        """Nothing was read yet, and that is what it says."""
        new_pack()
        self.shelf("?pack=40")
        page = self.page.get_by_role("article", name="Pack 40")
        page.get_by_text("Not known yet: read its cells").wait_for()
        self.assertNotIn("Sound", page.inner_text())
        self.assertIn("40", self.group("Read the cells"))

    def test_an_unknown_pack(self):
        """Said, beside the shelf."""
        self.shelf("?pack=99")
        self.page.get_by_text("There is no pack 99 in the box").wait_for()


class Night(KeepScreen):
    scheme = "dark"

    def test_night(self):
        """Axe clean in the dark."""
        self.shelf("?pack=18")
        self.page.get_by_role("article", name="Pack 18").wait_for()
        self.assert_accessible()


class Phone(KeepScreen):
    width, height, touch = 390, 844, True

    def test_phone(self):
        """The shelf, a page instead of it, and back; nothing sideways."""
        self.shelf()
        self.assert_no_sideways_scroll()
        self.page.get_by_role("link", name="03 Fellside 4S 3300 35C").click()
        self.page.get_by_role("article", name="Pack 03").wait_for()
        self.assert_no_sideways_scroll()
        self.assert_accessible()
        self.page.get_by_role("link", name="Back to the shelf").click()
        self.page.get_by_label("Mark 05").wait_for()

    def test_charts_that_come_later_fit_too(self):
        """A new pack has none; after its first checks they are there, and nothing runs out sideways."""
        new_pack()
        self.open("/keep/ptarmigan?pack=40")
        page = self.page.get_by_role("article", name="Pack 40")
        page.get_by_text("nothing was measured yet").first.wait_for()
        page.get_by_text("Type in a check").click()
        for mohm in ("2.9 3.0 2.9", "3.0 3.0 2.9"):
            page.get_by_label("Volts at rest, cells or pack").fill("3.82 3.82 3.83")
            page.get_by_label("Resistance of each cell, mΩ").fill(mohm)
            page.get_by_role("textbox", name="Temperature of the pack").fill("20")
            page.get_by_role("button", name="Keep the check").click()
            self.page.get_by_text("Kept for 40").wait_for()
            self.settled()
        page.get_by_role("img", name="Resistance of each cell").wait_for()
        self.assert_no_sideways_scroll()
