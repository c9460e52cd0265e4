"""A watt-meter log in Size: looked at, used for the model, and what it teaches of a pack."""

import re

from coldstack.server.config.paths import PROJECT
from coldstack.server.gear.models import OwnedPack, RcModel
from tests.screens.case import ScreenCase

DEMO_LOG = PROJECT / "web" / "public" / "demo" / "ptarmigan-watt-meter.csv"


class Log(ScreenCase):
    def choose(self, name, raw):
        self.page.get_by_label("Watt-meter log file").set_input_files(
            {"name": name, "mimeType": "text/csv", "buffer": raw}
        )
        self.settled()

    def test_what_the_minutes_hang_on(self):
        """The least known is named beside the range; mass, air and cells have a curve each, said in words."""
        self.open("/")
        self.page.get_by_text("Least known: the draw.").wait_for()
        self.page.get_by_text("what the minutes hang on").click()
        for title in ("minutes by its mass", "minutes by the air", "minutes by cells in series"):
            drawn = self.page.get_by_role("img", name=re.compile(title))
            self.assertRegex(drawn.get_by_text(re.compile(title)).first.text_content(), title)
        self.assert_accessible()

    def test_a_log_is_shown_before_it_is_used(self):
        """The preview has columns and figures; used, the draw says it comes from the log."""
        self.open("/")
        self.page.get_by_role("button", name="Read a watt-meter log…").click()
        self.choose("flight.csv", DEMO_LOG.read_bytes())
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_text("current A → amps, A").wait_for()
        self.assertEqual(RcModel.objects.get(slug="ptarmigan").job["draw"]["average_a"], 13.2)
        self.assert_accessible()
        sheet.get_by_role("button", name="Use this draw").click()
        self.settled()
        self.page.get_by_text("from a log: flight.csv").wait_for()
        self.assertAlmostEqual(float(self.field("Average").input_value()), 12.5, delta=0.3)
        self.fill("Average", "14")
        self.page.get_by_text("typed; RMS").wait_for()

    def test_a_log_teaches_a_pack_of_one_s_own(self):
        """A pack by its label; what its log tells is offered, taken, seen in Size and Keep, and undone."""
        OwnedPack.objects.create(
            tag="77",
            name="Blue one",
            chemistry="lipo",
            series=4,
            capacity_ah=3.9,
            mass_g=320,
            label_c=40,
            plug="xt60",
            lead_awg=14,
        )
        self.open("/")
        self.page.get_by_role("button", name="Read a watt-meter log…").click()
        self.choose("thursday.csv", DEMO_LOG.read_bytes())
        sheet = self.page.get_by_role("dialog")
        asked = sheet.get_by_role("combobox", name="The pack that was logged")
        asked.fill("77")
        asked.press("Enter")
        sheet.get_by_text("by its label until now").wait_for()
        sheet.get_by_text("3900 mAh on its label").wait_for()
        self.assert_accessible()
        asked.fill("20")
        asked.press("Enter")
        sheet.get_by_role("alert").get_by_text("Is it the right pack?").wait_for()
        asked.fill("77")
        asked.press("Enter")
        sheet.get_by_role("button", name="Go by this for pack 77").click()
        sheet.get_by_text("Pack 77 goes by this log now").wait_for()
        self.assertEqual(OwnedPack.live.get(tag="77").learnt["source"], "thursday.csv")
        self.open("/size/ptarmigan?pick=owned:77")
        self.page.get_by_text("by its log thursday.csv").wait_for()
        self.open("/keep/ptarmigan?pack=77")
        self.page.get_by_text("Sized by its log thursday.csv").wait_for()
        self.page.get_by_role("button", name="Go by its label and readings again").click()
        self.page.get_by_text("Sized by its log").wait_for(state="hidden")
        self.page.get_by_role("button", name="Undo").click()
        self.page.get_by_text("Sized by its log thursday.csv").wait_for()
        self.assert_clean()

    def test_what_is_no_log_is_told_and_the_sheet_stays(self):
        """A picture, then a table without amps, then the right file: nothing has to be begun again."""
        self.open("/")
        self.page.get_by_role("button", name="Read a watt-meter log…").click()
        sheet = self.page.get_by_role("dialog")
        self.choose("photo.csv", b"\x89PNG\r\n\x1a\n\x00\x00" + bytes(400))
        sheet.get_by_text("This is not a text file").wait_for()
        self.choose("half.csv", b"time s,voltage V\n1,2\n" * 20)
        sheet.get_by_text("Still to be said: amps (or watts)").wait_for()
        self.choose("comma.csv", DEMO_LOG.read_bytes().replace(b",", b";").replace(b".", b","))
        sheet.get_by_text("semicolons, decimal commas").wait_for()
        self.assert_clean()
