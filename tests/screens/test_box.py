"""The box: what serves what, what to buy with one press, one plug for all."""

from playwright.sync_api import expect

from coldstack.server.gear.models import OwnedPack
from tests.screens.case import ScreenCase
from tests.screens.test_own_model import EmptyCase


class TheBox(ScreenCase):
    def test_from_keep_and_a_purchase(self):
        """Who lacks a pack, a proposal bought with one press, the headline that follows, and undo."""
        self.open("/keep/ptarmigan")
        self.page.get_by_role("link", name="The box", exact=True).click()
        self.page.get_by_text("Too few packs for a day with all out: Snow Hare.").wait_for()
        self.assert_accessible_in_every_light()
        buying = self.page.get_by_role("region", name="What to buy next")
        buying.get_by_role("button", name="NiMH").first.click()
        expect(buying.get_by_text("1 more run of Snow Hare on a day")).to_be_visible()
        count = OwnedPack.live.count()
        buying.get_by_role("button", name="Bought: put it in my box").click()
        self.page.get_by_text("Every model has a pack for each run").wait_for()
        self.assertEqual(OwnedPack.live.count(), count + 1)
        self.page.get_by_role("button", name="Undo", exact=True).click()
        self.page.get_by_text("Too few packs for a day with all out: Snow Hare.").wait_for()
        self.assertEqual(OwnedPack.live.count(), count)

    def test_on_a_phone(self):
        """Its table scrolls, the page does not; plugs and chargers are told in words."""
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.open("/box")
        self.page.get_by_role("region", name="One plug for all").wait_for()
        self.assert_no_sideways_scroll()
        expect(self.page.get_by_role("region", name="Chargers")).to_contain_text("full last")
        expect(self.page.get_by_role("region", name="One plug for all")).to_contain_text("joints to solder")

    def test_by_keyboard(self):
        """Proposals are reached and chosen without a mouse."""
        self.open("/box")
        buying = self.page.get_by_role("region", name="What to buy next")
        buying.get_by_role("button", pressed=False).first.focus()
        self.page.keyboard.press("Enter")
        expect(buying.get_by_role("button", pressed=True)).to_have_count(1)


class Empty(EmptyCase):
    def test_nothing_yet(self):
        """It says what is missing, and leads there."""
        self.open("/box")
        self.page.get_by_text("There is no pack in the box yet.").wait_for()
        self.page.get_by_role("link", name="Begin with a model").click()
        self.page.get_by_role("heading", name="A new model").wait_for()
