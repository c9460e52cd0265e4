"""The same thing open twice: what does not overlap is merged, what does is asked."""

from playwright.sync_api import expect

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.screens.case import ScreenCase


class TwoTabs(ScreenCase):
    fresh_context = True

    def setUp(self):
        super().setUp()
        self.open("/size/ptarmigan")
        self.other = self.context.new_page()
        self.other.set_default_timeout(30000)
        self.other.goto("/size/ptarmigan")
        self.other.get_by_text("Saved", exact=True).wait_for()

    def draw(self):
        return RcModel.live.get(slug="ptarmigan").job["draw"]

    def average(self, page):
        return page.get_by_role("textbox", name="Average", exact=True)

    def test_other_figures_are_merged(self):
        """The average here, the peak there: both are kept, and the tab that comes second shows both."""
        self.fill("Average", "20")
        self.page.get_by_text("Saved", exact=True).wait_for()
        self.other.get_by_role("textbox", name="Peak", exact=True).fill("61")
        self.other.get_by_role("textbox", name="Peak", exact=True).press("Enter")
        expect(self.average(self.other)).to_have_value("20")
        self.other.get_by_text("Saved", exact=True).wait_for()
        self.assertEqual((self.draw()["average_a"], self.draw()["peak_a"]), (20, 61))

    def test_the_same_figure_is_asked(self):
        """Both change the average, the second without having heard of the first: it is asked, and nothing is
        overwritten until it answers."""
        self.other.add_init_script("delete window.BroadcastChannel")
        self.other.route("**/api/world/mark", lambda route: route.abort())
        self.other.reload()
        self.other.get_by_text("Saved", exact=True).wait_for()
        self.fill("Average", "20")
        self.page.get_by_text("Saved", exact=True).wait_for()
        self.average(self.other).fill("25")
        self.average(self.other).press("Enter")
        ask = self.other.get_by_role("alert").filter(has_text="average (draw), 25 here and 20 there")
        ask.wait_for()
        self.assertEqual(self.draw()["average_a"], 20)
        ask.get_by_role("button", name="What was kept elsewhere").click()
        expect(self.average(self.other)).to_have_value("20")
        self.average(self.other).fill("26")
        self.average(self.other).press("Enter")
        self.other.get_by_text("Saved", exact=True).wait_for()
        self.assertEqual(self.draw()["average_a"], 26)


class TwoGearSheets(ScreenCase):
    def pack(self):
        return OwnedPack.live.get(tag="04")

    def sheet(self, page):
        """Pack 04, opened to be changed."""
        page.goto(f"/gear/packs?edit={self.pack().pk}")
        page.get_by_role("dialog").wait_for()
        return page.get_by_role("dialog")

    def test_a_note_and_unfit(self):
        """Changed elsewhere while the sheet is open: other fields are taken in, the same field is asked
        about, and nothing is lost unsaid."""
        sheet = self.sheet(self.page)
        sheet.get_by_label("Note", exact=True).fill("Bent tab.")
        pack = self.pack()
        pack.mass_g, pack.note = 512, "From the other tab."
        pack.save()
        sheet.get_by_role("button", name="Save").click()
        sheet.get_by_text("Changed elsewhere too, to “From the other tab.”.").wait_for()
        expect(sheet.get_by_label("Note", exact=True)).to_have_value("Bent tab.")
        self.assertEqual(self.pack().note, "From the other tab.")
        sheet.get_by_role("button", name="Save").click()
        expect(sheet).to_have_count(0)
        self.assertEqual((self.pack().note, self.pack().mass_g), ("Bent tab.", 512))

    def test_other_fields(self):
        """Both are kept."""
        sheet = self.sheet(self.page)
        sheet.get_by_label("Note", exact=True).fill("Bent tab.")
        pack = self.pack()
        pack.mass_g = 512
        pack.save()
        sheet.get_by_role("button", name="Save").click()
        sheet.get_by_text("in other fields: they are here now").wait_for()
        sheet.get_by_role("button", name="Save").click()
        expect(sheet).to_have_count(0)
        self.assertEqual((self.pack().note, self.pack().mass_g), ("Bent tab.", 512))
