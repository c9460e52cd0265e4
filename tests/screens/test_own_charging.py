"""Charging and health on gear of one's own, from an empty program."""

import re
from datetime import timedelta

from playwright.sync_api import expect

from tests.clock import CLOCK
from tests.screens.own_gear import PACK, OwnGearCase

BOARD = {
    "name": "My board",
    "kind": "board",
    "pack_plug": "xt60",
    "device_plug": "banana_4",
    "sockets": 4,
    "balance_from": ["xh"],
    "balance_out": "xh",
    "balance_cells": 6,
}


class OnABoard(OwnGearCase):
    def setUp(self):
        super().setUp()
        self.post("/api/gear/packs", {**PACK, "tag": "B2", "name": "My other 3S"})
        self.post("/api/gear/pieces", BOARD)

    def lay_out(self):
        """Both packs, looked at and read 0.02 V apart."""
        self.bench()
        self.page.get_by_role("combobox", name="Lay out a pack").fill("B2")
        self.page.get_by_role("option", name=re.compile("^B2")).wait_for()
        self.page.keyboard.press("Enter")
        for tag, volts in (("A1", "3.72"), ("B2", "3.70")):
            line = self.page.get_by_role("listitem").filter(
                has=self.page.get_by_label(f"Volts of {tag}, cells or pack")
            )
            self.page.get_by_label(f"Volts of {tag}, cells or pack").fill(" ".join([volts] * 3))
            line.get_by_role("button", name="Looked and felt: sound, cool").click()
            line.get_by_text("Sound, cool").wait_for()
        self.page.get_by_text("2 packs in 1 batch").wait_for()

    def test_packs_that_nobody_knows(self):
        """Never charged, run or checked here: at half of C, and it says why."""
        self.lay_out()
        batches = self.page.get_by_role("region", name="Batches")
        batches.get_by_text("2.2 + 2.2 Ah at 0.5C, by A1: nobody charged, ran or checked it here").wait_for()

    def test_two_packs_gently(self):
        """Checked once; laid out, looked at, read 0.02 V apart: one batch, what each takes at first, and
        with a time to be ready by both paces."""
        for tag in ("A1", "B2"):
            check = {"cells": "3.82 3.82 3.82", "mohm": "6 6 6", "temperature_c": 22}
            self.post(f"/api/keep/packs/{tag}/checks", check)
        self.lay_out()
        batches = self.page.get_by_role("region", name="Batches")
        batches.get_by_text(re.compile(r"When joined: A1 gives \d\.\d A, B2 takes \d\.\d A")).wait_for()
        batches.get_by_role("img", name=re.compile("^Charged at .*A1 .*B2 ")).wait_for()
        ready = CLOCK.now() + timedelta(hours=6)
        self.ready_by(f"{ready:%H:%M}", f"{ready:%Y-%m-%d}")
        pace = self.page.get_by_role("group", name="Pace")
        expect(pace.get_by_role("radio", name="Gently")).to_be_checked()
        pace.get_by_text(re.compile(r"at 0\.\dC, wears \d\.\d cycles \(\d\.\d fewer\)")).wait_for()
        pace.get_by_text("full 15 min early").wait_for()
        self.assert_accessible()


class SlipsAndJumps(OwnGearCase):
    def test_a_slip_is_asked_back(self):
        """Two digits swapped: asked, and put right with one press; a cell that is truly low is left alone."""
        self.bench()
        cells = self.page.get_by_label("Volts of A1, cells or pack")
        cells.fill("3.71 3.17 3.71")
        self.page.get_by_text("Cell 2 at 3.17 V, its neighbours at 3.71 V: did you mean 3.71?").wait_for()
        self.page.get_by_role("button", name="Use 3.71 3.71 3.71").click()
        expect(cells).to_have_value("3.71 3.71 3.71")
        expect(self.page.get_by_text("did you mean")).to_have_count(0)
        cells.fill("3.71 3.42 3.71")
        self.settled()
        self.page.wait_for_timeout(800)
        expect(self.page.get_by_text("did you mean")).to_have_count(0)

    def check(self, mohm):
        self.post("/api/keep/packs/A1/checks", {"cells": "3.82 3.82 3.82", "mohm": mohm, "temperature_c": 22})

    def test_a_lone_jump_is_read_again(self):
        """Read once far off: read it again, now; said on the shelf too. Read alike, the page says what
        changed, and since when."""
        for _ in range(4):
            self.check("6 6 6")
        self.check("6 6 15")
        self.open("/keep/-?pack=A1")
        page = self.page.get_by_role("article", name="Pack A1")
        page.get_by_text("Read it again, now", exact=True).wait_for()
        shelf = self.page.get_by_role("region", name="The shelf")
        self.assertIn("Cell 3, against its neighbours, read 2.50 times what it was", shelf.inner_text())
        page.get_by_text("Type in a check").click()
        page.get_by_label("Volts at rest, cells or pack").fill("3.82 3.82 3.82")
        page.get_by_label("Resistance of each cell, mΩ").fill("6 6 15")
        page.get_by_role("textbox", name="Temperature of the pack").fill("22")
        page.get_by_role("button", name="Keep the check").click()
        page.get_by_text("jumped to 2.50 times what it was, and stays there").first.wait_for()
        page.get_by_role("region", name="Evidence").locator("summary").click()
        changed = page.get_by_role("region", name="What changed")
        changed.get_by_role(
            "row", name=re.compile("Cell 3 over its neighbours: a jump 1.00 times 2.50")
        ).wait_for()
        self.assert_accessible()
