"""Axe finds nothing with any menu or sheet open: light, dark, forced colours, a phone."""

import re

from playwright.sync_api import expect

from tests.screens.case import ScreenCase


class EveryMenu(ScreenCase):
    def opened(self, address, press, wait):
        """Open a screen, press something, and look at all of it."""
        self.open(address)
        with self.subTest(address=address, press=press):
            self.page.get_by_role("button", name=re.compile(press)).first.click()
            self.page.get_by_text(re.compile(wait)).first.wait_for()
            self.settled()
            self.assert_accessible_in_every_light()
            self.page.keyboard.press("Escape")

    def test_menus(self):
        """The model menu, the command list, help, a working."""
        self.opened("/size/ptarmigan", "^Ptarmigan", "Add a model")
        self.opened("/size/ptarmigan", "^Find", "Size for Ptarmigan")
        self.open("/size/ptarmigan")
        self.page.keyboard.press("?")
        self.page.get_by_text("How to size a pack").wait_for()
        self.assert_accessible_in_every_light()
        self.opened("/size/ptarmigan", "How many packs do it: show working", "Looked at")

    def test_sheets(self):
        """The log, a pack, an import, a batch's move, the steps of a charge."""
        self.opened("/size/ptarmigan", "Read a watt-meter log", "Drop a CSV file")
        self.opened("/gear/packs?files=true", "^Close", "Packs")
        self.open("/gear/packs?edit=new")
        self.page.get_by_text("Its label, as one line").wait_for()
        self.assert_accessible_in_every_light()
        self.opened("/charge/ptarmigan", "^Move 01", "Charge 01 alone|Move 01 to|no other batch")

    def test_pages(self):
        """The new model's questions with what they come to, and the lists to type into."""
        self.open("/new")
        self.page.get_by_text("multirotor").click()
        self.assert_accessible_in_every_light()
        self.open("/charge/ptarmigan")
        self.page.get_by_role("combobox", name="Lay out a pack").click()
        self.page.get_by_role("listbox", name="Lay out a pack").get_by_role("option").first.wait_for()
        self.assert_accessible_in_every_light()


class EveryMenuOnAPhone(EveryMenu):
    width, height, touch = 390, 844, True


class Forced(ScreenCase):
    forced = "active"

    def test_what_is_chosen_has_a_frame(self):
        """Where fills and shadows are taken away."""
        self.open("/size/ptarmigan")
        chip = self.page.get_by_role("button", name="LiPo", exact=True)
        self.assertEqual(chip.get_attribute("aria-pressed"), "true")
        style = chip.evaluate(
            "e => { const s = getComputedStyle(e); return s.outlineStyle + ' ' + s.outlineWidth }"
        )
        self.assertEqual(style, "solid 2px")

    def test_words_of_filled_buttons_are_painted(self):
        """Behind words the browser lays the ground's colour, where words in that colour would be lost: other
        letters of one width must give another picture."""
        for address, name in (("/gear/packs", "Add a pack"), ("/new", "Add it, and size its pack")):
            self.open(address)
            # by itself: its name is about to change
            button = self.page.get_by_role("button", name=name).first.element_handle()
            pictures = []
            for letters in ("iiiiiiii", "mmmmmmmm"):
                button.evaluate("(e, x) => { e.style.fontFamily = 'monospace'; e.textContent = x }", letters)
                pictures.append(button.screenshot())
            self.assertTrue(pictures[0] != pictures[1], name)


class SheetsAndFocus(ScreenCase):
    def test_focus_returns_where_it_came_from(self):
        """Opened by a press, closed by Escape."""
        self.open("/gear/packs")
        button = self.page.get_by_role("button", name="Add a pack")
        button.click()
        self.page.get_by_text("Its label, as one line").wait_for()
        self.page.keyboard.press("Escape")
        expect(button).to_be_focused()

    def test_escape_keeps_what_was_typed(self):
        """It is there again when the sheet is opened again, and that is said."""
        self.open("/gear/packs?edit=new")
        name = self.page.get_by_role("textbox", name="Name", exact=True)
        name.fill("Mine 3S")
        self.page.keyboard.press("Escape")
        self.page.get_by_text("What you typed is kept").wait_for()
        self.page.get_by_role("button", name="Add a pack").click()
        self.assertEqual(name.input_value(), "Mine 3S")

    def test_escape_keeps_the_label_and_what_was_corrected(self):
        """The line is there again, and reading it again overwrites nothing."""
        self.open("/gear/packs?edit=new")
        line = self.page.get_by_label("Its label, as one line")
        mass = self.page.get_by_role("dialog").get_by_role("textbox", name="Mass", exact=True)
        line.fill("4S 14.8V 1500mAh 75C")
        self.page.get_by_role("button", name="Mass: it is so").wait_for()
        mass.fill("187")
        self.page.keyboard.press("Escape")
        self.page.get_by_text("What you typed is kept").wait_for()
        self.page.get_by_role("button", name="Add a pack").click()
        self.assertEqual(line.input_value(), "4S 14.8V 1500mAh 75C")
        self.page.get_by_text("Not on the label").wait_for()
        self.assertEqual(mass.input_value(), "187")
        self.page.get_by_role("button", name="Start again").click()
        self.assertEqual((line.input_value(), mass.input_value()), ("", ""))

    def test_typing_lays_nothing_out(self):
        """Only Enter or a press does."""
        self.open("/charge/ptarmigan")
        field = self.page.get_by_role("combobox", name="Lay out a pack")
        field.press_sequentially("19")
        self.settled()
        laid = self.page.get_by_role("region", name="Packs laid out")
        self.assertEqual(laid.get_by_text("Hollin 6S 8000 25C").count(), 1)
        field.press("Enter")
        self.page.get_by_label("Volts of 19, cells or pack").wait_for()


class Narrow(ScreenCase):
    width, height, touch = 390, 844, True

    def test_nothing_is_wider_than_the_phone(self):
        """The words on joined packs, the questions, the first areas of every stage."""
        for address in (
            "/charge/ptarmigan",
            "/new",
            "/size/ptarmigan",
            "/match/ptarmigan",
            "/keep/ptarmigan",
            "/tags",
        ):
            with self.subTest(address):
                self.open(address)
                self.assert_no_sideways_scroll()


class Printed(ScreenCase):
    def test_tags_are_three_to_a_row_on_a4(self):
        """60 mm each in the 182 mm that the margins leave."""
        self.open("/tags")
        self.page.set_viewport_size({"width": round(182 / 25.4 * 96), "height": 1000})
        self.page.emulate_media(media="print")
        tags = self.page.locator("main ul > li > div")
        tops = [tags.nth(i).bounding_box()["y"] for i in range(4)]
        self.assertEqual(tops[0], tops[2])
        self.assertGreater(tops[3], tops[2])
