"""A household with a phone, a multimeter and one pack: from an empty program, by touch."""

from playwright.sync_api import expect

from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.screens.own_gear import CHARGER
from tests.screens.test_own_model import EmptyCase

QUAD = {
    "Its name": "Siskin",
    "Mass without the pack": "0,41 kg",
    "Cells in series (S)": "4S",
    "Capacity": "1300 mAh",
    "C on its label": "75C",
    "Minutes to landing": "4:30",
}


class TenPresses(EmptyCase):
    width, height, touch = 390, 844, True

    def setUp(self):
        super().setUp()
        self.presses = 0

    def press(self, role, name, exact=False):
        """With a finger."""
        self.page.get_by_role(role, name=name, exact=exact).first.tap()
        self.settled()
        self.presses += 1

    def told(self):
        """A quad on a 4S pack, one of which is here and spent; and a charger, by its sheet."""
        self.open("/new")
        self.post("/api/gear/chargers", {**CHARGER, "output_plug": "xt60"})
        self.choose("multirotor")
        self.answer(QUAD)
        for group, word in (("Packs here", "1"), ("How full they are", "Spent")):
            self.page.get_by_role("radiogroup", name=group).get_by_text(word, exact=True).tap()

    def test_matched_charged_run_and_kept(self):
        """Ten presses after the answers: pack volts by a multimeter in Charge and Run, the timer, the log."""
        self.told()
        self.press("button", "Add it, and size its pack")
        self.press("link", "Match", exact=True)
        self.page.get_by_role("region", name="In Siskin").get_by_text("Does the job as it is").wait_for()
        self.press("link", "Lay it out to charge")
        volts = self.page.get_by_label("Volts of 01, cells or pack")
        volts.fill("14,8")
        self.press("button", "Looked and felt: sound, cool")
        self.page.get_by_text("Only the whole pack was read").wait_for()
        self.assert_no_sideways_scroll()
        self.assert_accessible()
        self.press("button", "It is full: 01")
        self.page.get_by_text("01 is full.").wait_for()
        self.press("link", "Run", exact=True)
        volts.fill("16,7")
        self.page.get_by_role("region", name="Go or no go").get_by_text("Go, with care").wait_for()
        self.press("button", "Start the timer")
        self.page.get_by_role("timer").wait_for()
        self.press("button", "Landed")
        self.field("Minutes").fill("4:10")
        self.field("Landed at, volts").fill("15,1")
        self.press("button", "Keep it with the run")
        self.page.get_by_role("region", name="Runs").get_by_text("landed at 3.77 V a cell").wait_for()
        self.press("link", "Keep", exact=True)
        self.page.get_by_text("4S 1300 mAh LiPo").first.wait_for()
        self.assertEqual(self.presses, 10)
        kinds = list(Event.standing.order_by("at", "id").values_list("kind", flat=True))
        self.assertEqual([k for k in kinds if k not in ("reading", "inspection")], ["state", "charge", "run"])
        self.assert_clean()

    def test_what_was_said_stays(self):
        """Gone elsewhere and back: the answers, and how many packs are here."""
        self.told()
        self.open("/gear/chargers")
        self.open("/new")
        expect(self.field("Its name")).to_have_value("Siskin")
        here = self.page.get_by_role("radiogroup", name="Packs here")
        expect(here.get_by_role("radio", name="1", exact=True)).to_be_checked()
        self.page.get_by_role("button", name="Start again").tap()
        expect(here.get_by_role("radio", name="None")).to_be_checked()

    def test_nothing_to_read_with(self):
        """Full off the charger: taken as full by a press, with care; what may be typed stays open."""
        self.told()
        self.page.get_by_role("radiogroup", name="How full they are").get_by_text("Full", exact=True).tap()
        self.press("button", "Add it, and size its pack")
        self.press("link", "Run", exact=True)
        self.press("button", "Nothing to read with: take it as full")
        said = self.page.get_by_role("region", name="Go or no go")
        said.get_by_text("Nobody read it: taken as full, as it was noted (assumed)").wait_for()
        expect(self.page.get_by_role("button", name="Start the timer")).to_be_visible()
        self.assert_accessible()

    def test_the_pack_comes_later(self):
        """No pack: each stage says what it would show and takes the one it runs on; and that is undone."""
        self.told()
        self.page.get_by_role("radiogroup", name="Packs here").get_by_text("None", exact=True).tap()
        self.press("button", "Add it, and size its pack")
        for stage, shows in (
            ("Match", "No packs yet."),
            ("Charge", "the box is empty"),
            ("Run", "There is no pack to run."),
            ("Keep", "Here packs stand by what to do"),
        ):
            self.press("link", stage, exact=True)
            part = self.page.get_by_role("region", name="A pack for it")
            part.get_by_text(shows).wait_for()
            part.get_by_text("Siskin runs on 4S 1300 mAh LiPo now").wait_for()
            self.assert_no_sideways_scroll()
            self.assert_accessible()
        part.get_by_text("2", exact=True).tap()
        self.press("button", "Put them in the box")
        self.page.get_by_role("status", name="Messages").get_by_text("Added packs 01 and 02").wait_for()
        self.assertEqual(OwnedPack.live.count(), 2)
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").tap()
        part.wait_for()
        self.assertEqual(OwnedPack.live.count(), 0)
        self.assert_clean()

    def test_one_that_looks_like_it(self):
        """Added from its label: is it what Siskin runs on? A press says so; until then its page asks."""
        self.told()
        self.page.get_by_role("radiogroup", name="Packs here").get_by_text("None", exact=True).tap()
        self.press("button", "Add it, and size its pack")
        self.open("/gear/packs?edit=new")
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_label("Its label, as one line").fill("Blue 4S 1300mAh 75C XT60")
        self.settled()
        sheet.get_by_role("button", name="Add", exact=True).tap()
        asked = self.page.get_by_role("status", name="Messages")
        asked.get_by_text("Added 01. Is it what Siskin runs on now?").wait_for()
        self.open("/keep/siskin?pack=01")
        self.page.get_by_text("Siskin is told to run on such a pack.").wait_for()
        self.press("button", "It is this one")
        asked.get_by_text("01 is what Siskin runs on now").wait_for()
        expect(self.page.get_by_text("is told to run on such a pack")).to_have_count(0)
        self.assert_clean()

    def test_two_in_series(self):
        """A boat on two NiMH packs: one line in Run, each read as a whole, run and logged together."""
        self.open("/new")
        self.choose("boat")
        self.answer({"Its name": "Dabchick", "Mass without the pack": "1.9 kg"})
        self.page.get_by_role("radiogroup", name="One pack or two").get_by_text("Two in series").tap()
        self.answer({"Cells in series (S), each": "6", "Capacity, each": "3000 mAh"})
        self.page.get_by_label("Chemistry").first.select_option(label="NiMH")
        for group, word in (("Single packs here", "2"), ("How full they are", "Full")):
            self.page.get_by_role("radiogroup", name=group).get_by_text(word, exact=True).tap()
        self.press("button", "Add it, and size its pack")
        self.press("link", "Run", exact=True)
        self.press("button", "01+02")
        self.page.get_by_label("Volts of 01+02, cells or pack").fill("8,5 + 8,4")
        self.page.get_by_role("region", name="Go or no go").get_by_text("Lands after about").wait_for()
        self.assert_no_sideways_scroll()
        self.assert_accessible()
        self.field("Minutes").fill("14")
        self.press("button", "Log it")
        self.page.get_by_role("region", name="Runs").get_by_text("01+02").wait_for()
        self.assertEqual(Event.objects.filter(kind="run").count(), 2)
        self.assert_clean()
