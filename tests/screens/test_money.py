"""What packs cost to run: in the list, in Compare, on a pack's page, in the day."""

import re

from playwright.sync_api import expect

from tests.screens.case import ScreenCase


class CostOfAnHour(ScreenCase):
    def test_in_the_list_and_why_not_another(self):
        """By *cheapest to run* the first is not the cheapest to buy, and the panel says why not that one."""
        self.open("/size/ptarmigan?aim=cheapest")
        self.page.get_by_role("columnheader", name="€ an hour").wait_for()
        panel = self.page.get_by_role("region", name="The picked pack")
        expect(panel.get_by_text(re.compile(r"\d\.\d\d € an hour"))).to_be_visible()
        expect(panel.get_by_text(re.compile(r"good for about \d+ cycles"))).to_be_visible()
        reasons = panel.get_by_role("region", name="Why not another").get_by_role("listitem")
        expect(reasons.filter(has_text="cheaper to buy")).to_contain_text("but")
        self.assert_accessible()
        panel.get_by_role("button", name="Cost of an hour: show working").click()
        self.page.get_by_text("price ÷ (cycles × hours a cycle)").wait_for()
        self.page.keyboard.press("Escape")
        # the other one can be looked at from there
        name = (
            self.page.get_by_role("region", name="The picked pack")
            .get_by_role("heading", level=2)
            .inner_text()
        )
        reasons.first.get_by_role("button", name="Show it").click()
        self.settled()
        expect(panel.get_by_role("heading", level=2)).not_to_have_text(name)

    def test_in_compare(self):
        """Two pinned side by side, the cheaper one to run marked."""
        self.open("/size/ptarmigan?aim=cheapest")
        for _ in range(2):
            self.page.get_by_role("button", name=re.compile("^Pin ")).nth(1).click()
        self.page.get_by_role("button", name="Compare 2 pinned").click()
        self.settled()
        row = self.page.get_by_role("row").filter(has_text="Cost of an hour")
        expect(row).to_contain_text(re.compile(r"\d\.\d\d €"))
        self.assert_accessible()

    def test_on_its_page(self):
        """What it has cost so far, and what lying full for three weeks has cost of its life."""
        self.open("/keep/ptarmigan?pack=05")
        self.page.get_by_text(re.compile(r"It has cost € \d")).wait_for()
        self.page.get_by_text(re.compile(r"for 21 days: about 0\.\d+ % of its life")).wait_for()

    def test_in_the_day(self):
        """Out of packs: both ways, in waiting, wear and money; on a phone too."""
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.open("/run/ptarmigan?pack=01")
        ways = self.page.get_by_role("region", name="Charge faster, or bring one more")
        expect(ways.get_by_text(re.compile("One pack more like it: .* less waiting"))).to_be_visible()
        expect(ways.get_by_role("listitem").first).to_contain_text("harg")
        self.assert_no_sideways_scroll()
