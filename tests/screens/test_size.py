"""Sizing as a person does it: plan, job, plot, shortlist; by night and on a phone."""

import re

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.screens.case import ScreenCase


class Opening(ScreenCase):
    def test_the_first_address_shows_a_plan_without_a_click(self):
        """Ptarmigan, a shortlist, a stack with one plate out, what to set."""
        self.open("/")
        self.assertIn("/size/ptarmigan", self.page.url)
        self.assertGreater(len(self.shortlist()), 3)
        stack = self.page.get_by_role("list", name=re.compile("The stack of"))
        self.assertEqual(stack.get_by_role("listitem").count(), 5)
        self.assertEqual(stack.get_by_text(re.compile("weakest link|Over its limit")).count(), 1)
        self.assertRegex(
            self.page.get_by_role("button", name=re.compile("Timer: show working")).inner_text(), r"^\d+:\d\d"
        )
        self.assert_accessible()

    def test_the_model_switcher(self):
        """Another model, its own plan, its own title."""
        self.open("/")
        self.page.get_by_role("button", name=re.compile("Ptarmigan")).click()
        self.page.get_by_role("menuitem", name=re.compile("Fieldfare")).click()
        self.settled()
        self.assertIn(
            "hover 35 minutes", self.page.get_by_role("region", name="The field of candidates").inner_text()
        )
        self.assertIn("Brackwater 6S 10000", self.picked())
        self.assertIn("Fieldfare", self.page.title())

    def test_an_unknown_model_offers_the_known_ones(self):
        """Not a blank page."""
        self.page.goto("/size/heron")
        self.page.get_by_role("link", name="Snow Hare").click()
        self.settled()
        self.assertIn("/size/snow-hare", self.page.url)

    def test_an_unknown_address_says_so(self):
        """And leads back."""
        self.page.goto("/nowhere")
        self.page.get_by_text("There is nothing at this address.").wait_for()


class Editing(ScreenCase):
    def test_a_typed_peak_changes_stack_and_is_kept(self):
        """The controller's plate follows; after a reload the figure is still there."""
        self.open("/")
        plate = self.page.get_by_role("button", name=re.compile("Controller, loading: show working"))
        before = plate.inner_text()
        self.fill("Peak", "58")
        self.assertNotEqual(plate.inner_text(), before)
        self.page.get_by_text("Saved", exact=True).wait_for()
        self.assertEqual(RcModel.objects.get(slug="ptarmigan").job["draw"]["peak_a"], 58)
        self.page.reload()
        self.settled()
        self.assertEqual(self.field("Peak").input_value(), "58")

    def test_undo_and_redo(self):
        """Ctrl Z brings the last figure back, Ctrl Shift Z the newer; the button does the same."""
        self.open("/")
        self.fill("Minutes, at least", "12")
        self.fill("Pack, at most", "500")
        self.page.locator("h1").evaluate("e => document.activeElement.blur()")
        self.page.keyboard.press("Control+z")
        self.settled()
        self.assertEqual(self.field("Pack, at most").input_value(), "420")
        self.page.keyboard.press("Control+Shift+Z")
        self.settled()
        self.assertEqual(self.field("Pack, at most").input_value(), "500")
        self.page.get_by_role("button", name="Undo: heaviest pack").click()
        self.settled()
        self.assertEqual(self.field("Pack, at most").input_value(), "420")
        self.assertEqual(self.field("Minutes, at least").input_value(), "12")

    def test_undo_reaches_over_screens(self):
        """What was changed in Size, in House rules and in Gear comes back from wherever one is, the last
        first, with a word where it is not seen; and is done again."""
        job = lambda: RcModel.objects.get(slug="ptarmigan").job["wants"]["minutes"]  # noqa: E731
        self.open("/size/ptarmigan")
        was = job()
        self.fill("Minutes, at least", "17")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("link", name="Keep", exact=True).click()
        self.settled()
        self.assertEqual(job(), 17)
        self.commands()
        self.page.keyboard.type("my gear: packs")
        self.page.keyboard.press("Enter")
        self.settled()
        self.page.get_by_role("button", name=re.compile("^Delete Hollin")).first.click()
        self.settled()
        self.assertEqual(OwnedPack.live.count(), 25)
        self.page.locator("body").press("Control+z")
        self.page.get_by_role("status", name="Messages").get_by_text("Undone").wait_for()
        self.settled()
        self.assertEqual(OwnedPack.live.count(), 26)
        self.page.locator("body").press("Control+z")
        self.page.get_by_text("Undone: minutes wanted, Ptarmigan").wait_for()
        self.settled()
        self.assertEqual(job(), was)
        self.page.locator("body").press("Control+Shift+z")
        self.page.get_by_text("Done again: minutes wanted, Ptarmigan").wait_for()
        self.settled()
        self.assertEqual(job(), 17)
        self.page.locator("body").press("Control+Shift+z")
        self.page.get_by_role("status", name="Messages").get_by_text("Deleted pack").wait_for()
        self.settled()
        self.assertEqual(OwnedPack.live.count(), 25)

    def test_text_in_a_number_stays_and_is_told(self):
        """12abc is never 12: the sentence stands at the field, the plan is the last good one."""
        self.open("/")
        headline = self.page.get_by_role("button", name=re.compile("How many packs do it")).inner_text()
        self.fill("Peak", "12abc")
        self.assertEqual(self.field("Peak").input_value(), "12abc")
        self.page.get_by_role("alert").get_by_text("“12abc” is not a number.").wait_for()
        self.assertEqual(
            self.page.get_by_role("button", name=re.compile("How many packs do it")).inner_text(), headline
        )
        self.assertEqual(RcModel.objects.get(slug="ptarmigan").job["draw"]["peak_a"], 46)

    def test_what_the_server_refuses_is_marked_at_its_field(self):
        """Ten kiloamps: the field says what is accepted, what was typed stays, nothing is saved, and it can
        be undone."""
        self.open("/")
        self.fill("Peak", "10000")
        alert = (
            self.page.locator("#main")
            .get_by_role("alert")
            .filter(has_text="Peak must be from 0.01 to 2000 A")
            .first
        )
        alert.wait_for()
        self.assertEqual(self.field("Peak").get_attribute("aria-invalid"), "true")
        self.assertEqual(self.field("Peak").input_value(), "10000")
        self.assertGreater(len(self.shortlist()), 3)
        self.assertEqual(RcModel.objects.get(slug="ptarmigan").job["draw"]["peak_a"], 46)
        self.page.get_by_role("button", name="Undo: peak amps").click()
        self.settled()
        self.assertEqual(self.field("Peak").get_attribute("aria-invalid"), None)

    def test_a_propeller_model_from_three_cells_to_four(self):
        """The chip says 1.78 times against 3S by its numbers; re-propped it falls instead."""
        self.open("/")

        def peak(cells):
            self.page.get_by_role("button", name=re.compile(f"^{cells}S ")).focus()
            text = self.page.get_by_text(re.compile("he peak is")).inner_text()
            return float(re.search(r"he peak is (?:the told )?([\d.]+) A", text).group(1))

        self.assertAlmostEqual(peak(4) / peak(3), 16 / 9, delta=0.02)
        self.page.get_by_role("combobox", name="With other volts").select_option("refitted")
        self.settled()
        self.assertAlmostEqual(peak(4) / peak(3), 3 / 4, delta=0.01)

    def test_refused_cell_counts_say_why(self):
        """5S is hatched, and tells both voltages."""
        self.open("/")
        chip = self.page.get_by_role("button", name="5S 21.0 V full, refused by the electronics")
        chip.focus()
        self.page.get_by_text(
            "5S LiPo is 21.0 V fresh off the charger; the controller stops at 16.8 V."
        ).wait_for()

    def test_wants_that_cannot_be_met_show_what_would_have_to_give(self):
        """Ninety minutes in 150 g: a reason and the nearest, which can be picked."""
        self.open("/")
        self.fill("Minutes, at least", "90")
        self.page.get_by_text("No pack at hand can fly 90 minutes within 420 g.").first.wait_for()
        self.page.get_by_text("What nearest would do", exact=True).wait_for()
        self.page.get_by_role("button", name=re.compile("short by")).first.click()
        self.settled()
        self.page.get_by_text(re.compile("Does not do the job: short by")).wait_for()


class Plot(ScreenCase):
    def test_the_minutes_line_is_dragged(self):
        """Up means more minutes; the field beside follows, and one undo takes the whole drag back."""
        self.open("/")
        line = self.page.get_by_role("slider", name="Minutes wanted, at least")
        tab = line.locator("rect").last.bounding_box()
        x, y = tab["x"] + tab["width"] / 2, tab["y"] + tab["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for step in range(1, 9):
            self.page.mouse.move(x, y - 6 * step)
        self.page.mouse.up()
        self.settled()
        dragged = float(self.field("Minutes, at least").input_value())
        self.assertGreater(dragged, 15)
        self.assertEqual(float(line.get_attribute("aria-valuenow")), dragged)
        self.page.get_by_role("button", name="Undo: minutes wanted").click()
        self.settled()
        self.assertEqual(self.field("Minutes, at least").input_value(), "14")

    def test_both_lines_move_by_arrow_keys(self):
        """Half a minute and five grams a press; Page keys ten times that."""
        self.open("/")
        line = self.page.get_by_role("slider", name="Minutes wanted, at least")
        line.focus()
        self.page.keyboard.press("ArrowUp")
        self.page.keyboard.press("ArrowUp")
        self.settled()
        self.assertEqual(self.field("Minutes, at least").input_value(), "15")
        self.page.get_by_role("slider", name="Mass of the pack, at most").focus()
        self.page.keyboard.press("PageDown")
        self.settled()
        self.assertEqual(self.field("Pack, at most").input_value(), "370")

    def test_a_mark_is_picked_by_a_press(self):
        """A press on the plot picks what is under it; the address keeps it, back takes it back."""
        self.open("/")
        first = self.picked()
        box = self.page.locator("svg[aria-labelledby]").first.bounding_box()
        self.page.mouse.click(box["x"] + box["width"] * 0.28, box["y"] + box["height"] * 0.62)
        self.settled()
        self.assertIn("pick=", self.page.url)
        other = self.picked()
        self.assertNotEqual(other, first)
        self.page.reload()
        self.settled()
        self.assertEqual(self.picked(), other)
        self.page.go_back()
        self.settled()
        self.assertEqual(self.picked(), first)


class ShortlistAndWorking(ScreenCase):
    def test_rows_by_keyboard(self):
        """Arrow keys go from row to row and pick; P pins the picked one."""
        self.open("/")
        rows = self.page.locator("table:not(details table) tbody th button")
        rows.nth(0).focus()
        self.page.keyboard.press("ArrowDown")
        self.settled()
        self.assertEqual(self.picked(), rows.nth(1).inner_text().split(" · ")[0].strip())
        self.page.keyboard.press("p")
        self.page.get_by_role("button", name="1 pinned: pin another to compare").wait_for()

    def test_the_shortlist_by_another_aim(self):
        """Lightest first; the aim is in the address."""
        self.open("/")
        self.page.get_by_role("combobox", name="Shortlist by").select_option("lightest")
        self.settled()
        self.assertIn("aim=lightest", self.page.url)

    def test_minutes_show_their_working_with_the_range_s_causes(self):
        """Resistance, capacity and draw, each with its share."""
        self.open("/")
        region = self.page.get_by_role("region", name="The picked pack")
        region.get_by_role("button", name=re.compile("Minutes: show working")).click()
        working = self.page.get_by_role("dialog")
        for words in ("Range: resistance", "Range: capacity", "Range: draw", "House rules “Steady”"):
            working.get_by_text(words).first.wait_for()
        self.page.keyboard.press("Escape")
        working.wait_for(state="hidden")

    def test_compare_nimh_with_its_replacement(self):
        """Snow Hare's two side by side, with the cautions about cut-off and full-charge volts; unpinning
        ends it."""
        self.open("/size/snow-hare")
        self.page.get_by_role("button", name="Pin Hollin 2S 4000 25C").first.click()
        self.page.get_by_role("button", name=re.compile("^Pin Brackwater 6S .* NiMH")).first.click()
        self.page.get_by_role("button", name="Compare 2 pinned").click()
        self.settled()
        text = self.page.locator("main").inner_text()
        self.assertIn("does not stop by itself when a lithium pack runs down", text)
        self.assertIn("it comes off the charger at 8.4 V", text)
        self.assertIn("8.70 V, 7.20 V", text)
        self.assert_accessible()
        self.page.reload()
        self.settled()
        self.page.get_by_role("heading", name="2 packs side by side for Snow Hare").wait_for()
        self.page.get_by_role("button", name=re.compile("^Unpin Hollin")).click()
        self.settled()
        self.page.get_by_role("region", name="The field of candidates").wait_for()


class Night(ScreenCase):
    scheme = "dark"

    def test_night_theme_has_no_violation(self):
        """By the system's wish; the command list can force day."""
        self.open("/size/fieldfare")
        self.assertEqual(self.page.evaluate("document.documentElement.dataset.theme"), "night")
        self.assert_accessible()
        self.commands()
        self.page.keyboard.type("day theme")
        self.page.keyboard.press("Enter")
        self.assertEqual(self.page.evaluate("document.documentElement.dataset.theme"), "day")


class Phone(ScreenCase):
    width, height, touch = 390, 844, True

    def test_areas_are_stacked_and_nothing_scrolls_sideways(self):
        """Field, stack, job, one below the other; everything works by touch."""
        self.open("/")
        self.assert_no_sideways_scroll()
        tops = [
            self.page.get_by_role("region", name=n).bounding_box()["y"]
            for n in ("The field of candidates", "The picked pack", "The job")
        ]
        self.assertEqual(tops, sorted(tops))
        self.fill("Minutes, at least", "12")
        self.page.get_by_text(re.compile("fly 12 minutes")).first.wait_for()
        self.assert_accessible()

    def test_compare_scrolls_its_table_not_the_page(self):
        """Two packs side by side at 390 px."""
        self.open("/size/snow-hare")
        self.page.get_by_role("button", name=re.compile("^Pin ")).nth(1).click()
        self.page.get_by_role("button", name=re.compile("^Pin ")).nth(1).click()
        self.page.get_by_role("button", name="Compare 2 pinned").click()
        self.settled()
        self.assert_no_sideways_scroll()
        self.assert_accessible()
