import json
import re
import tempfile
import threading
from pathlib import Path
from unittest.mock import patch

from coldstack.server.gear.models import CataloguePack, Charger, OwnedPack, RcModel
from coldstack.server.gear.progress import Progress
from coldstack.server.life.models import Event
from tests.screens.case import ScreenCase
from tests.server.test_files import rows_csv


class GearCase(ScreenCase):
    def row(self, name):
        return self.page.get_by_role("row", name=re.compile(rf"(^|\s){re.escape(name)}\b")).first

    def message(self):
        return self.page.get_by_role("status", name="Messages")

    def saved(self, button="Add"):
        self.page.get_by_role("dialog").get_by_role("button", name=button, exact=True).click()
        self.page.get_by_role("dialog").wait_for(state="hidden")
        self.settled()

    def text(self, label):
        return self.page.get_by_role("dialog").get_by_label(label, exact=True)


class FromALabel(GearCase):
    def test_a_pack_from_its_label(self):
        """Typed as one line: fields fill, guesses are told; added, it is in the list, in Size's stock and in
        Match."""
        self.open("/gear/packs?edit=new")
        self.text("Its label, as one line").fill(
            "Hollin 4S1P 14.8V 4100mAh 60.7Wh 45C/90C charge 3C 392 g XT60"
        )
        self.page.get_by_text("LiPo, from 14.8V").wait_for()
        self.settled()
        for label, value in (
            ("Name", "Hollin 4S 4100 45C"),
            ("Cells in series", "4"),
            ("Capacity", "4100"),
            ("Continuous C", "45"),
            ("Burst C", "90"),
            ("Charge C", "3"),
            ("Mass", "392"),
        ):
            self.assertEqual(self.text(label).input_value(), value, label)
        self.assert_accessible()
        self.saved()
        self.assertIn("Added pack 25 Hollin 4S 4100 45C", self.message().inner_text())
        pack = OwnedPack.live.get(tag="25")
        self.assertEqual((pack.series, pack.capacity_ah, pack.charge_c, pack.plug), (4, 4.1, 3.0, "xt60"))
        self.open("/match/ptarmigan")
        self.page.get_by_role("button", name="25 in Ptarmigan").wait_for()

    def test_contradictions_are_pointed_out(self):
        """Three cells of 14.8 V; balance wires settle it."""
        self.open("/gear/packs?edit=new")
        self.text("Its label, as one line").fill("3S 14.8V 2200mAh")
        self.page.get_by_text("3 LiPo cells make 11.1 V, not 14.8 V").wait_for()
        self.text("Wires in its balance plug").fill("5")
        self.page.get_by_text("5 balance wires mean 4 cells in series, but the label says 3").wait_for()
        self.text("Wires in its balance plug").fill("1")
        self.page.get_by_text("A balance plug has at least 2 wires").wait_for()


class ByHand(GearCase):
    def test_wrong_figures_are_told_at_their_field_and_stay(self):
        """What was typed is still there after a refusal, and after closing the sheet."""
        self.open("/gear/chargers?edit=new")
        self.text("Name").fill("Bench two")
        self.text("Most cells in series").fill("6")
        self.text("Amps of a port").fill("8")
        self.text("Watts of a port").fill("99999")
        self.page.get_by_role("dialog").get_by_role("button", name="Add", exact=True).click()
        self.page.get_by_text("Watts of a port must be from 0.5 to 5000 W").first.wait_for()
        self.assertEqual(self.text("Watts of a port").input_value(), "99999")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name="Add a charger").click()
        self.assertEqual(self.text("Name").input_value(), "Bench two")
        self.text("Watts of a port").fill("120")
        self.text("All ports, on mains").fill("150")
        self.saved()
        self.assertEqual(Charger.live.get(name="Bench two").mains_w, 150)

    def test_change_copy_delete_and_undo(self):
        """Each is told, and undone by the button beside it; after a reload too, from the stored change."""
        self.open("/gear/packs")
        self.page.get_by_role("button", name="Fellside 4S 3300 35C", exact=True).click()
        self.text("Note").fill("watch cell 3")
        self.saved("Save")
        self.row("watch cell 3").wait_for()
        self.message().get_by_role("button", name="Undo").click()
        self.row("one lazy cell").wait_for()
        self.row("Fellside 4S 3300 35C").get_by_role("button", name="Copy").click()
        self.page.get_by_text("A twin shares what stands on the label").wait_for()
        self.saved()
        self.page.get_by_text("Added pack 25 Fellside").wait_for()
        self.row("25 Fellside").get_by_role("button", name="Delete").click()
        self.page.get_by_text("Deleted pack 25").wait_for()
        self.settled()
        self.assertFalse(OwnedPack.live.filter(tag="25").exists())
        self.message().get_by_role("button", name="Undo").click()
        self.page.get_by_text("Undone: Deleted pack 25").wait_for()
        self.assertTrue(OwnedPack.live.filter(tag="25").exists())

    def test_search(self):
        """By any words of the row; nothing found is said."""
        self.open("/gear/packs")
        self.page.get_by_role("searchbox").fill("nimh block")
        self.assertEqual(self.page.get_by_role("row").count(), 2)
        self.page.get_by_role("searchbox").fill("zeppelin")
        self.page.get_by_text("Nothing is called “zeppelin”").wait_for()

    def test_what_a_label_does_not_say_is_assumed(self):
        """Mass, plug and leads are drawn dashed until they are said; the figure that was typed is given."""
        self.open("/gear/packs?edit=new")
        self.page.get_by_label("Its label, as one line").fill("4S 14.8V 1500mAh 75C")
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_role("button", name="Mass: it is so").wait_for()
        dialog.get_by_role("textbox", name="Mass", exact=True).fill("182")
        dialog.get_by_role("button", name="Main plug: it is so").click()
        self.text("Tag").fill("Q1")
        self.saved()
        self.assertEqual(OwnedPack.live.get(tag="Q1").assumed, ["lead_awg"])

    def test_a_new_model(self):
        """From Gear to its questions; added, it is in the list, and Size opens it."""
        self.open("/gear/models?edit=new")
        self.page.get_by_role("heading", name="A new model").wait_for()
        self.page.get_by_role("radiogroup", name="What it is").locator("label", has_text="boat").last.click()
        for label, text in (
            ("Its name", "Heron"),
            ("Mass without the pack", "2500"),
            ("Cells in series (S)", "3"),
            ("Capacity", "5000"),
            ("Minutes to landing", "30"),
        ):
            self.page.get_by_role("textbox", name=label, exact=True).fill(text)
        self.page.get_by_role("button", name="Add it, and size its pack").click()
        self.page.wait_for_url(re.compile("/size/heron"))
        self.settled()
        self.assertGreater(len(self.shortlist()), 0)
        self.assertEqual(RcModel.live.get(slug="heron").job["motion"], "hull")

    def test_from_the_command_list(self):
        """Ctrl K, a few letters, Enter: the sheet is open; a pack is found by its tag."""
        self.open("/size/stoat")
        self.commands()
        self.page.get_by_role("combobox").fill("add a charger")
        self.page.keyboard.press("Enter")
        self.page.get_by_role("dialog", name="Add: charger").wait_for()
        self.page.keyboard.press("Escape")
        self.commands()
        self.page.get_by_role("combobox").fill("match 14 tarn")
        self.page.get_by_role("option", name="14 Tarnlight").first.wait_for()
        self.page.keyboard.press("Enter")
        self.settled()
        self.assertIn("pack=owned", self.page.url)


class Files(GearCase):
    def file(self, name, text):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        path = Path(folder.name) / name
        path.write_text(text)
        return path

    def choose(self, path):
        self.page.get_by_label("Choose a file…").set_input_files(path)

    def test_preview_then_import_then_undo(self):
        """Forty rows: seen first, imported, undone."""
        self.open("/gear/catalogue?files=true")
        self.choose(self.file("forty.csv", rows_csv(40)))
        self.page.get_by_text("40 rows. 40 new, 0 changed, 0 as stored").wait_for()
        self.page.get_by_text("new: Skarn 4S no 0").wait_for()
        self.assert_accessible()
        self.page.get_by_role("button", name="Import 40 rows").click()
        self.page.get_by_text("Imported forty.csv: 40 new, 0 changed").wait_for()
        self.assertEqual(CataloguePack.live.count(), 163)
        self.message().get_by_role("button", name="Undo").click()
        self.page.get_by_text("Undone: Imported forty.csv").wait_for()
        self.assertEqual(CataloguePack.live.count(), 123)

    def test_bad_rows_are_named_and_nothing_is_stored(self):
        """With line, field and reason; there is no button to import."""
        self.open("/gear/catalogue?files=true")
        self.choose(self.file("bad.csv", rows_csv(2) + "\nBad,lipo,4,-1,300,xt60,14,35\n"))
        self.page.get_by_text("1 problem").wait_for()
        table = self.page.get_by_role("dialog").get_by_role("table").inner_text()
        self.assertIn("line 4", table)
        self.assertIn("Capacity must be from 0.01 to 200 Ah", table)
        self.assertEqual(self.page.get_by_role("button", name=re.compile("Import .* row")).count(), 0)
        self.choose(self.file("broken.json", '{"format": '))
        self.page.get_by_text("not valid JSON at line 1").wait_for()
        self.assertEqual(CataloguePack.live.count(), 123)

    def test_a_long_import_shows_progress_and_can_be_stopped(self):
        """Six thousand rows, stopped on the way: nothing is stored."""
        pressed, at = threading.Event(), Progress.at

        def held(progress, *how_far):
            at(progress, *how_far)
            pressed.wait(60)  # however quick this machine is, it is on the way when the press comes

        self.addCleanup(pressed.set)
        self.open("/gear/catalogue?files=true")
        with patch.object(Progress, "at", held):
            self.choose(self.file("long.csv", rows_csv(6000)))
            self.page.get_by_role("progressbar", name="How far it is").wait_for()
            with self.page.expect_response(re.compile("/stop$")):
                self.page.get_by_role("button", name="Stop").click()
            pressed.set()
            self.page.get_by_text(re.compile("stopped|Stopped")).first.wait_for()
        self.assertEqual(CataloguePack.live.count(), 123)

    def test_export(self):
        """Everything as JSON, as a download."""
        self.open("/gear/packs?files=true")
        with self.page.expect_download() as download:
            self.page.get_by_role("link", name="Everything as JSON").click()
        body = json.loads(Path(download.value.path()).read_text())
        self.assertEqual((body["format"], body["version"], len(body["packs"])), ("cold-stack-gear", 2, 26))

    def test_the_log_out_and_in(self):
        """Out as JSON; brought in again nothing is new; with a note more it is shown, then added; a bad file
        is told."""
        self.open("/gear/packs?files=true")
        part = self.page.get_by_role("region", name="The log")
        with self.page.expect_download() as download:
            part.get_by_role("link", name="Log as JSON").click()
        log = json.loads(Path(download.value.path()).read_text())
        choose = part.get_by_label("Bring a log in…")
        choose.set_input_files(self.file("log.json", json.dumps(log)))
        part.get_by_text("Everything in it is stored already").wait_for()
        log["packs"][0]["notes"] = [{"at": "2026-03-01T10:00:00Z", "text": "From the old log"}]
        choose.set_input_files(self.file("more.json", json.dumps(log)))
        part.get_by_text("1 event new").wait_for()
        self.assertFalse(Event.objects.filter(kind="note").exists())
        part.get_by_role("button", name="Add 1").click()
        self.page.get_by_text("Added to the log: 1 event").wait_for()
        self.assertEqual(Event.objects.get(kind="note").text, "From the old log")
        choose.set_input_files(self.file("bad.json", "{"))
        part.get_by_text("not valid JSON").wait_for()


class EveryList(GearCase):
    def test_axe_on_each_list(self):
        """All eight kinds."""
        for kind in ("packs", "models", "chargers", "supplies", "pieces", "plugs", "cells", "catalogue"):
            with self.subTest(kind=kind):
                self.open(f"/gear/{kind}")
                self.assert_accessible()

    def test_an_unknown_kind(self):
        """Leads back."""
        self.page.goto("/gear/boats")
        self.page.get_by_text("There is nothing at this address").wait_for()


class OnThePhone(GearCase):
    width, height, touch = 390, 844, True

    def test_lists_and_sheet_at_390(self):
        """Nothing runs out sideways."""
        for address in (
            "/gear/packs",
            "/gear/pieces",
            "/gear/chargers?edit=new",
            "/gear/packs?edit=new",
            "/gear/plugs?edit=new",
            "/gear/catalogue?offers=true",
        ):
            with self.subTest(address=address):
                self.open(address)
                self.assert_no_sideways_scroll()
                self.assert_accessible()


class Lately(ScreenCase):
    """What was changed, by whose hands, and back."""

    def test_a_change_is_listed_and_undone(self):
        """A pack deleted at this computer stands in the list, and comes back from there."""
        self.open("/gear/packs")
        self.page.get_by_role("row").filter(has_text="Hollin 4S 3000").get_by_role(
            "button", name="Delete"
        ).click()
        self.settled()
        self.page.get_by_text("What was changed here lately").click()
        line = self.page.get_by_role("listitem").filter(has_text="Deleted pack 32")
        line.get_by_text("at this computer").wait_for()
        self.assert_accessible()
        line.get_by_role("button", name="Undo: Deleted pack 32").click()
        self.settled()
        self.page.get_by_role("row").filter(has_text="Hollin 4S 3000").wait_for()
        self.page.get_by_text("Nothing that could be undone.").wait_for()
