"""A receiver and a transmitter pack, from an empty program: sized, matched, charged for, run, kept."""

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from tests.screens.test_own_model import EmptyCase


class FromNothing(EmptyCase):
    def tell(self, kind, **figures):
        """What it is, and its figures by their labels."""
        self.page.get_by_role("radiogroup", name="What it is").get_by_text(kind, exact=True).click()
        for label, text in figures.items():
            self.field(label.replace("_", " ")).fill(text)

    def test_a_receiver_behind_a_regulator(self):
        """From the first page: usual figures stand dashed until one's own are told; what follows is said at
        once; it lasts twelve hours and its timer keeps half."""
        self.open("/")
        self.page.get_by_role("link", name="Or with a radio, a receiver").click()
        self.tell(
            "receiver and servos", Hours_of_use="6", Works_down_to="5", Takes_up_to="6.6", Its_name="Osprey"
        )
        self.page.get_by_label("Regulator", exact=True).select_option("switching")
        # what is missing is asked at its field, and nothing is lost
        self.page.get_by_role("alert").filter(has_text="How many volts does the regulator give?").wait_for()
        self.field("It gives").fill("6")
        self.field("It takes up to").fill("13")
        follows = self.page.get_by_role("complementary", name="What follows from it")
        expect(follows).to_contain_text("12 h 00 min")
        expect(follows).to_contain_text("5.4 V at the least under a burst")
        self.settled()
        self.assert_accessible()
        self.add()
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("Osprey")
        self.page.get_by_text("12 hours").first.wait_for()
        self.assertEqual(RcModel.live.get().job["equipment"]["hours"], 6)
        # longer hours ask for a larger pack, at once
        self.fill("Hours of use", "9")
        self.page.get_by_text("18 hours").first.wait_for()
        self.assert_accessible()

    def test_a_transmitter_on_a_phone(self):
        """390 px: nothing scrolls sideways, and what it takes is asked in one column."""
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.open("/new-equipment")
        self.tell("transmitter")
        self.settled()
        self.assert_no_sideways_scroll()
        self.add()
        self.assert_no_sideways_scroll()
