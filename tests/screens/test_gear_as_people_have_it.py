"""Labels, offers, twins, plugs and logs of one's own, from an empty program: typed, pasted, chosen,
undone."""

import re
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from coldstack.core.chain.own_plugs import set_own_plugs
from coldstack.server.gear.models import CataloguePack, Charger, OwnedPack, OwnPlug, Piece
from tests.core.logs.dialects import RUNS, table
from tests.screens.test_gear import GearCase
from tests.server.test_offers import PASTED

STRANGE = table("Foo,Bar,Baz,Qux", lambda t, v, a: f"{t:.1f},{v:.2f},{a:.2f},31")


class OwnGear(GearCase):
    """The demo world's models, and gear that is typed in."""

    def tearDown(self):
        set_own_plugs(())

    def dialog(self):
        return self.page.get_by_role("dialog")

    def write(self, name, content):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / name
        path.write_bytes(content if isinstance(content, bytes) else content.encode())
        return path


class Labels(OwnGear):
    def test_each_field_shows_the_words_it_was_read_from(self):
        """And loses them once it is typed over."""
        self.open("/gear/packs?edit=new")
        self.text("Its label, as one line").fill("3300 mAh 14.8V 50C charge 6.6A XT60H")
        self.dialog().get_by_text("read from “50C”").wait_for()
        for label, value in (
            ("Continuous C", "50"),
            ("Charge C", "2"),
            ("Capacity", "3300"),
            ("Cells in series", "4"),
        ):
            self.assertEqual(self.text(label).input_value(), value, label)
        self.dialog().get_by_text("read from “XT60H”").wait_for()
        self.text("Continuous C").fill("45")
        self.dialog().get_by_text("read from “50C”").wait_for(state="hidden")
        self.assert_accessible()

    def test_what_can_mean_two_things_is_asked_at_its_field(self):
        """And the field stays empty."""
        self.open("/gear/packs?edit=new")
        self.text("Its label, as one line").fill("3S 2200mAh 80C charge 15C")
        self.dialog().get_by_text("is it the charge rate?").first.wait_for()
        self.assertEqual(self.text("Charge C").input_value(), "")
        self.assertEqual(self.dialog().get_by_text("is it the charge rate?").count(), 2)

    def test_a_changed_label_takes_back_what_it_said(self):
        """The mass that the first line gave is not the second one's."""
        self.open("/gear/packs?edit=new")
        line = self.text("Its label, as one line")
        line.fill("3S 2200mAh 35C 105x34x25 mm")
        self.dialog().get_by_text("read from “105x34x25 mm”").first.wait_for()
        line.fill("3S 2200mAh 35C")
        self.dialog().get_by_text("read from “105x34x25 mm”").first.wait_for(state="hidden")
        self.assertEqual(self.text("Length").input_value(), "")


class AsTyped(OwnGear):
    def test_units_are_read_and_nothing_red_is_saved(self):
        """What was understood stands beside the field; the button says which field is not; what could be two
        things is asked."""
        self.open("/gear/packs?edit=new")
        sheet = self.dialog()
        for label, text, meant in (
            ("Capacity", "0,85 Ah", "→ 850 mAh"),
            ("Mass", "3 oz", "→ 85 g"),
            ("Cells in series", "4S", None),
            ("Continuous C", "75C", None),
        ):
            sheet.get_by_role("textbox", name=label, exact=True).fill(text)
            if meant:
                sheet.get_by_text(meant).wait_for()
        sheet.get_by_role("textbox", name="Name", exact=True).fill("Tarn 4S")
        mass = sheet.get_by_role("textbox", name="Mass", exact=True)
        mass.fill("85 V")
        sheet.get_by_text("“V” does not go here: say g, kg, oz or lb.").wait_for()
        expect(sheet.get_by_role("button", name="Mend first: Mass")).to_be_disabled()
        mass.press("Enter")
        self.settled()
        self.assertFalse(OwnedPack.objects.filter(name="Tarn 4S").exists())
        self.assertEqual(mass.input_value(), "85 V")
        self.assert_accessible()
        mass.fill("85 g")
        sheet.get_by_role("button", name="Add", exact=True).click()
        self.page.get_by_text("Added pack").wait_for()
        pack = OwnedPack.live.get(name="Tarn 4S")
        self.assertEqual((pack.capacity_ah, pack.mass_g, pack.series, pack.label_c), (0.85, 85, 4, 75))


class Offers(OwnGear):
    def paste(self, text=PASTED):
        self.open("/gear/catalogue")
        self.page.get_by_role("button", name="Paste offers…").click()
        self.page.get_by_label("A line a pack").fill(text)
        self.dialog().get_by_role("button", name=re.compile("Take [1-9]")).wait_for()

    def test_twelve_are_pasted_weighed_bought_and_thrown_out(self):
        """By one press each; what is bought is owned under its tag, and everything can be undone."""
        self.paste()
        self.assert_accessible()
        self.dialog().get_by_role("button", name="Take 12 offers").click()
        self.page.get_by_text("Added 12 offers").wait_for()
        self.open("/size/ptarmigan")
        offer = self.page.get_by_role("button", name=re.compile("Hollin 4S 3700 25C · on offer, 39.00 €"))
        offer.first.click()
        self.settled()
        self.page.get_by_role("button", name=re.compile("^Bought: put it in my box")).click()
        message = self.page.get_by_role("status", name="Messages")
        message.get_by_text("Bought 25 Hollin 4S 3700 25C").wait_for()
        self.settled()
        self.assertTrue(OwnedPack.live.filter(tag="25", price=39.0).exists())
        expect(offer).to_have_count(0)
        self.open("/gear/catalogue")
        self.page.get_by_role("button", name="Throw out all 11 offers").click()
        self.page.get_by_text("Deleted 11 catalogue packs").wait_for()
        self.settled()
        self.assertFalse(CataloguePack.live.filter(offer=True).exists())
        self.message().get_by_role("button", name="Undo").click()
        self.page.get_by_text("Undone: Deleted 11 catalogue packs").wait_for()
        self.assertEqual(CataloguePack.live.filter(offer=True).count(), 11)

    def test_a_line_is_left_out_and_one_is_no_pack(self):
        """The preview says which; closing keeps what was pasted."""
        self.paste("Firn 4S 1300mAh 100C 21.40 €\nFree shipping\nHollin 3S 2200 35C")
        self.dialog().get_by_text("No cells in series and no capacity found in it").wait_for()
        self.dialog().get_by_label(re.compile("Take line 3")).uncheck()
        self.dialog().get_by_role("button", name="Take 1 offer").wait_for()
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name="Paste offers…").click()
        self.dialog().get_by_text("Firn 4S 1300 100C").wait_for()

    def test_by_keyboard_alone(self):
        """From the list to the pasted offers to taken ones."""
        self.open("/gear/catalogue")
        self.page.get_by_role("button", name="Paste offers…").focus()
        self.page.keyboard.press("Enter")
        self.page.get_by_label("A line a pack").focus()
        self.page.keyboard.insert_text("Firn 4S 1300mAh 100C 21.40 €")
        take = self.dialog().get_by_role("button", name="Take 1 offer")
        take.wait_for()
        for _ in range(5):
            self.page.keyboard.press("Tab")
            if take.evaluate("e => e === document.activeElement"):
                break
        self.page.keyboard.press("Enter")
        self.page.get_by_text("Added offer Firn 4S 1300 100C").wait_for()


class Several(OwnGear):
    def test_several_are_chosen_and_deleted_and_come_back(self):
        """Those shown and marked, no others."""
        self.open("/gear/packs")
        for tag in ("03", "04", "05"):
            self.row(tag).get_by_role("checkbox").check()
        self.page.get_by_text("3 chosen").wait_for()
        self.page.get_by_role("button", name="Delete 3").click()
        self.page.get_by_text("Deleted 3 packs").wait_for()
        self.settled()
        self.assertFalse(OwnedPack.live.filter(tag__in=("03", "04", "05")).exists())
        self.message().get_by_role("button", name="Undo").click()
        self.page.get_by_text("Undone: Deleted 3 packs").wait_for()
        self.assertEqual(OwnedPack.live.count(), 26)

    def test_what_is_searched_away_is_not_deleted(self):
        """A mark that cannot be seen does not count."""
        self.open("/gear/packs")
        self.row("03").get_by_role("checkbox").check()
        self.page.get_by_role("searchbox").fill("nimh")
        self.page.get_by_role("checkbox", name="Choose all packs shown").check()
        shown = self.page.get_by_role("row").count() - 1
        self.page.get_by_role("button", name=f"Delete {shown}").click()
        self.page.get_by_text(re.compile("^Deleted")).first.wait_for()
        self.assertTrue(OwnedPack.live.filter(tag="03").exists())


class Helps(OwnGear):
    def test_a_new_charger_is_offered_its_lead(self):
        """Prefilled; added, nothing more is asked."""
        self.open("/gear/chargers?edit=new")
        self.text("Name").fill("Cairn Mini")
        self.text("Most cells in series").fill("6")
        self.text("Amps of a port").fill("10")
        self.dialog().get_by_label("Output").select_option(label="XT150")
        self.dialog().get_by_role("button", name="Add", exact=True).click()
        self.page.get_by_text("Nothing joins Cairn Mini to your packs yet").wait_for()
        self.assertRegex(self.text("Name").input_value(), "Charge lead XT150 to .+")
        self.assert_accessible()
        self.saved()
        piece = Piece.live.get(device_plug="xt150")
        self.assertEqual((piece.kind, piece.assumed), ("lead", ["awg"]))

    def test_a_charger_without_watts_asks_in_match(self):
        """Where they set the amps, with where to read them."""
        self.open("/gear/chargers?edit=new")
        self.text("Name").fill("Odd one")
        self.text("Most cells in series").fill("6")
        self.text("Amps of a port").fill("20")
        self.dialog().get_by_role("button", name="Add", exact=True).click()
        self.page.get_by_text("Added charger Odd one").wait_for()
        self.open("/match/ptarmigan?pack=owned:01")
        odd = Charger.live.get(name="Odd one").pk
        self.page.get_by_label("Charger", exact=True).select_option(value=str(odd))
        self.page.get_by_text("Odd one is taken to give 50 W a port").wait_for()

    def test_a_plug_of_ones_own(self):
        """Added, offered on a pack, and not to be deleted while the pack carries it."""
        self.open("/gear/plugs?edit=new")
        self.text("Name").fill("Tarn twist")
        self.text("Continuous").fill("40")
        self.dialog().get_by_text("choose").first.click()
        self.dialog().get_by_role("checkbox", name="XT60").first.check()
        self.assert_accessible()
        self.saved()
        self.assertEqual(OwnPlug.live.get(name="Tarn twist").mates_with, ["xt60"])
        self.open("/gear/packs?edit=new")
        self.text("Its label, as one line").fill("3S 2200mAh 35C Tarn twist")
        self.dialog().get_by_text("read from “Tarn twist”").wait_for()
        self.text("Tag").fill("T1")
        self.saved()
        self.assertEqual(OwnedPack.live.get(tag="T1").plug, "own_tarn_twist")
        self.open("/gear/plugs")
        self.row("Tarn twist").get_by_role("button", name="Delete").click()
        self.page.get_by_text("It is used by pack T1").wait_for()
        self.assertTrue(OwnPlug.live.filter(name="Tarn twist").exists())

    def test_a_list_from_a_spreadsheet(self):
        """In its owner's words; what is left out is told before it is brought in."""
        self.open("/gear/packs?files=true")
        self.page.get_by_role("link", name="A template with example rows").wait_for()
        text = "Pack;Type;Cells;Capacity;Weight;Bought\nHollin A;LiPo;3S;2200;188 g;2024\n"
        self.page.get_by_label("Choose a file…").set_input_files(self.write("mine.csv", text))
        self.page.get_by_text("Left out, since no field is called so: “Bought”").wait_for()
        self.page.get_by_text("“Capacity” has no unit: figures such as 2200 are read as mAh").wait_for()
        self.assert_accessible()
        self.page.get_by_role("button", name="Import 1 row").click()
        self.page.get_by_text("Imported mine.csv: 1 new").wait_for()
        self.assertEqual(OwnedPack.live.get(name="Hollin A").capacity_ah, 2.2)


class Logs(OwnGear):
    def read(self, run):
        self.open("/size/ptarmigan")
        self.page.get_by_role("button", name="Read a watt-meter log…").click()
        path = self.write("run.csv", STRANGE(run))
        self.page.get_by_label("Watt-meter log file").set_input_files(path)

    def test_three_choices_and_then_none(self):
        """Which column is what; remembered for the next file that looks alike."""
        self.read(RUNS[0])
        self.page.get_by_text("Still to be said: time, volts, amps (or watts)").wait_for()
        self.assert_accessible()
        for column, quantity in (("Foo", "time"), ("Bar", "volts"), ("Baz", "amps")):
            self.page.get_by_label(f"{column} is").select_option(quantity)
            self.settled()
        self.page.get_by_role("button", name="Use this draw").wait_for()
        self.dialog().get_by_text("13.1 A").first.wait_for()
        self.settled()
        self.read(RUNS[1])
        self.page.get_by_text("Read as you chose for a file that looked alike").wait_for()
        self.page.get_by_role("button", name="Use this draw").click()
        self.settled()
        self.assertAlmostEqual(
            float(self.field("Average").input_value()), float(RUNS[1].amps.mean()), delta=1
        )

    def test_a_unit_is_changed_on_the_preview(self):
        """Minutes instead of seconds: the run is sixty times as long."""
        self.open("/size/ptarmigan")
        self.page.get_by_role("button", name="Read a watt-meter log…").click()
        plain = table("time,volts,amps", lambda t, v, a: f"{t / 60:.4f},{v:.2f},{a:.2f}")
        self.page.get_by_label("Watt-meter log file").set_input_files(self.write("m.csv", plain(RUNS[0])))
        self.dialog().get_by_text("Columns", exact=True).click()
        self.page.get_by_label("Unit of time").select_option("min")
        self.dialog().get_by_text("6.0 min,").wait_for()


class OnAPhone(Offers, Logs):
    width, height, touch = 390, 844, True

    def settled(self):
        super().settled()
        self.assert_no_sideways_scroll()
