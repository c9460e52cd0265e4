"""The same thing open twice: what does not overlap is merged, what does is asked."""

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from tests.screens.case import ScreenCase


class TwoTabs(ScreenCase):
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
        """Both change the average: the second tab is asked, and nothing is overwritten until it answers."""
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
