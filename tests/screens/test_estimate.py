"""What a model draws where nobody has a meter: from an empty program, and held against the demo's meters."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from tests.screens.case import ScreenCase
from tests.screens.test_own_model import EmptyCase


class FromMotorAndPropeller(EmptyCase):
    def test_kv_cells_and_propeller_alone(self):
        """No mass, no capacity, no amps: an answer with its ranges, what was assumed, and a shortlist."""
        self.open("/new")
        self.choose("aeroplane")
        self.answer({"Cells in series (S)": "3", "Motor kV": "1000", "Propeller": "10 x 6"})
        said = self.described()
        self.assertRegex(said, r"\d A average \(\d")
        for assumed in ("Mass without the pack", "Capacity of its pack", "Average"):
            self.assertIn(assumed, said)
        self.assert_accessible()
        self.add()
        self.assertIn("3", self.cells_listed())
        job = RcModel.live.get().job
        self.assertEqual(job["propulsion"]["propeller"], "10 x 6")
        self.assertIn("mass_g", job["assumed"])
        # what it weighs is said later: it is assumed no more
        self.field("Mass without the pack").fill("1150")
        self.page.get_by_text("Saved", exact=True).wait_for()
        self.settled()
        self.assertNotIn("mass_g", RcModel.live.get().job["assumed"])

    def test_a_propeller_that_cannot_be(self):
        """Said at its field, in the words of who typed it; what was typed stays."""
        self.open("/new")
        self.choose("aeroplane")
        self.answer({"Cells in series (S)": "3", "Motor kV": "1000", "Mass without the pack": "900"})
        self.field("Propeller").fill("10 by nothing")
        alert = self.page.get_by_role("alert").filter(has_text="Write it as on the blade")
        alert.wait_for()
        self.assertEqual(self.field("Propeller").input_value(), "10 by nothing")
        self.field("Propeller").fill("10 × 5, 3 blades")
        expect(alert).to_have_count(0)

    def test_each_kind_is_asked_what_it_has(self):
        """A boat its waterline, a car its gearing, a helicopter its rotor, a fan nothing."""
        self.open("/new")
        for kind, label in (
            ("boat", "Length at the waterline"),
            ("car", "Motor turns per wheel turn"),
            ("helicopter", "Main rotor, diameter"),
            ("aeroplane", "Wing area"),
        ):
            self.choose(re.compile(f"^{kind}"))
            self.field(label).wait_for()
        self.choose("ducted fan")
        self.page.get_by_text("A ducted fan’s draw follows from its class").wait_for()


class HeldAgainstTheMeter(ScreenCase):
    def sheet(self, slug):
        """The estimate of a demo model."""
        self.open(f"/size/{slug}")
        self.page.get_by_role("button", name="Estimate it without a meter").click()
        sheet = self.page.get_by_role("dialog", name="What it draws, without a meter")
        sheet.get_by_role("region", name="Average").wait_for()
        return sheet

    def test_ptarmigan(self):
        """Each piece with its range, what the meter says, and which propeller suits five cells."""
        sheet = self.sheet("ptarmigan")
        expect(sheet.get_by_text("13 A by its meter")).to_be_visible()
        self.assert_accessible()
        rows = sheet.get_by_role("region", name="On other cells").get_by_role("row")
        expect(rows.filter(has_text="as it is now")).to_contain_text("4S")
        expect(rows.filter(has_text="5S").first).to_contain_text("more than its electronics take")
        # a meter is not replaced by an estimate
        expect(sheet.get_by_role("button", name="Use it as its draw")).to_have_count(0)
        sheet.get_by_label("Propeller").fill("10 x 5")
        expect(rows.filter(has_text="as it is now")).to_contain_text("10 × 5")

    def test_an_estimate_becomes_the_draw_and_is_undone(self):
        """Of a model that nobody measured; it says that it is one, and an undo brings the old one back."""
        sheet = self.sheet("snow-hare")
        sheet.get_by_role("button", name="Use it as its draw").click()
        self.page.get_by_text("Saved", exact=True).wait_for()
        self.settled()
        draw = RcModel.live.get(slug="snow-hare").job["draw"]
        self.assertEqual((draw["source"], draw["source_note"]), ("estimate", "without a meter"))
        self.assertNotEqual(draw["average_a"], 8.5)
        self.page.keyboard.press("Control+z")
        self.settled()
        self.assertEqual(RcModel.live.get(slug="snow-hare").job["draw"]["average_a"], 8.5)

    def test_runs_say_how_far_off_it_was(self):
        """Stoat's own log stands beside the estimate."""
        expect(self.sheet("stoat").get_by_text(re.compile(r"A by its \d+ runs: ")).first).to_be_visible()
