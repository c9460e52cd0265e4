import re

from playwright.sync_api import expect

from coldstack.server.gear.models import CataloguePack, Charger, OwnedPack, Piece
from tests.lives import forget
from tests.screens.case import ScreenCase


class MatchCase(ScreenCase):
    def region(self, name):
        return self.page.get_by_role("region", name=name, exact=True)

    def drive(self, model="Ptarmigan"):
        return self.region(f"In {model}").inner_text()

    def charge(self):
        return self.region("On a charger").inner_text()

    def choose_charger(self, name):
        select = self.page.get_by_label("Charger", exact=True)
        value = select.locator("option", has_text=name).first.get_attribute("value")
        select.select_option(value)
        self.settled()

    def settings(self):
        return self.region("Charger settings").inner_text()


class BothChains(MatchCase):
    def test_the_small_look_alike_plug(self):
        """02 in Ptarmigan: look-alikes, the owned adapter with its loading, the cautions; the small plug
        slides out."""
        self.open("/match/ptarmigan?pack=owned:02")
        text = self.drive()
        for words in (
            "look-alikes",
            "Will not do.",
            "Plug 84 °C over the air, at most 60 °C",
            "You own",
            "17 of 15 A printed, peak 48 of 30 A",
            "stays the weakest link",
            "one wire at a time",
            "Plus must stay plus",
        ):
            self.assertIn(words, text)
        self.assert_accessible()

    def test_without_the_adapter_it_says_what_to_get(self):
        """Deleted from the bench: will not do, named as look-alike; an adapter to get, or to solder."""
        Piece.objects.filter(name="XT30 to XT60 adapter").delete()
        self.open("/match/ptarmigan?pack=owned:02")
        text = self.drive()
        for words in (
            "Will not do.",
            "XT30 and XT60 do not mate: they look alike",
            "Get or make",
            "bought or made with",
            "Solder",
        ):
            self.assertIn(words, text)
        self.assertIn("look-alike plug", self.page.get_by_role("button", name="02 in Ptarmigan").inner_text())

    def test_the_white_block(self):
        """16 in Stoat: heat in watts at the joint, how warm it gets, and relief; the working opens."""
        self.open("/match/stoat?pack=owned:16")
        text = self.drive("Stoat")
        self.assertRegex(
            text,
            r"over its limit: \d+ %, \d+ °C over the air\. It turns \d+ W into heat in the plug, \d+ W at",
        )
        self.assertRegex(text, r"XT90 on both sides \(45 A\) would bring it to \d+ °C over the air")
        self.region("In Stoat").get_by_role(
            "button", name="Plug, white two-pin block, large, loading: show working"
        ).click()
        self.page.get_by_role("dialog", name=re.compile("white two-pin block")).get_by_text(
            "I²·R"
        ).first.wait_for()
        self.assert_accessible()

    def test_60_w_on_6s(self):
        """2.3 A, the rule with its numbers, minutes, and the slip."""
        self.open("/match/fieldfare?pack=owned:18")
        self.choose_charger("Cairn Sixty")
        self.assertRegex(self.charge(), r"at 2\.3 A, in about \d+ min\. Limit: the port’s watts")
        self.page.get_by_text("What limits the amps").click()
        settings = self.settings()
        self.assertIn("60 W ÷ (6 × 4.2 V)", settings)
        self.assertRegex(settings, r"end volts, 4\.20 V a cell\s+25\.20 V")
        self.page.get_by_role("button", name="2.3 A Charge current: show working").click()
        self.page.get_by_role("dialog", name="Working: Charge current").get_by_text(
            "down to steps of 0.1 A"
        ).wait_for()

    def test_shared_watts_by_ports_and_supply(self):
        """The table and the choices say the same."""
        self.open("/match/fieldfare?pack=owned:18")
        self.choose_charger("Skerry Four")
        self.page.get_by_text("What limits the amps").click()
        self.page.get_by_text("Amps by supply and ports in use").click()
        rows = {
            r.split("\t")[0]: r
            for r in self.region("Charger settings").get_by_role("table").nth(1).inner_text().split("\n")
            if "\t" in r
        }
        self.assertIn("3.9 A\t3.9 A\t1.9 A", rows["on mains"])
        self.page.get_by_label("Ports in use").select_option("4")
        self.settled()
        self.assertIn("at 1.9 A", self.charge())
        self.assertIn("The charger’s watts on mains", self.settings())
        self.page.get_by_label("Fed by").select_option(label="Cairn 13.8 V mains supply")
        self.settled()
        self.assertIn("below 0.2C (1.6 A) it takes more than five hours", self.charge())

    def test_refusals(self):
        """1S LiHV on LiPo only with the end volts; NiMH; 8S with its halves; the swollen pack."""
        self.open("/match/dipper?pack=owned:21")
        self.choose_charger("Skerry Mite")
        self.assertRegex(
            self.charge(), r"Not on Skerry Mite.*4\.35 V a cell.*4\.20 V".replace(".*", r"[\s\S]*")
        )
        self.open("/match/snow-hare?pack=owned:11")
        self.choose_charger("Cairn Pebble")
        self.assertIn("small drop of its volts after the peak", self.charge())
        eight = CataloguePack.objects.get(name="Hollin 8S 4000 25C")
        self.open(f"/match/fieldfare?pack=pack:{eight.pk}")
        self.choose_charger("Skerry Four")
        self.assertIn("8 lithium cells in series; Skerry Four ends at 6", self.charge())
        self.assertIn("If it is two 4S packs joined in series", self.charge())
        self.open("/match/grebe?pack=owned:08")
        self.assertIn("marked unfit: swollen", self.charge())
        self.assertIn("marked unfit (swollen", self.drive("Grebe"))


class Working(MatchCase):
    def test_cell_readings(self):
        """Typed as one line they shorten the charge; a wrong count and a word are told at the field, and
        stay."""
        self.open("/match/ptarmigan?pack=owned:01")
        landed = self.settings()
        cells = self.page.get_by_role("textbox", name="Volts now, cells or pack")
        cells.fill("3.85 3.85 3,85 3.85")
        self.settled()
        self.assertNotEqual(self.settings(), landed)
        cells.fill("3.85 3.85")
        self.page.get_by_text("4 cells in series; 2 readings were given").wait_for()
        cells.fill("3.85 x")
        self.page.get_by_text("“x” is no voltage").wait_for()
        self.assertEqual(cells.input_value(), "3.85 x")

    def test_from_size_in_one_step(self):
        """A picked candidate, owned or considered, comes along; and back by key 1."""
        self.open("/size/snow-hare")
        name = self.picked()
        self.page.get_by_role("link", name="Match", exact=True).last.click()
        self.settled()
        self.assertIn("/match/snow-hare", self.page.url)
        self.assertIn(name, self.page.get_by_label("Pack", exact=True).input_value())
        self.page.keyboard.press("1")
        self.settled()
        self.assertEqual(self.picked(), name)

    def test_the_pack_chooser_and_the_address(self):
        """Another pack; reload keeps it."""
        self.open("/match/ptarmigan")
        self.pick("Pack", "06 tarn")
        self.settled()
        self.assertIn("over the controller’s", self.drive())
        self.page.reload()
        self.settled()
        self.assertIn("06 Tarnlight", self.page.get_by_label("Pack", exact=True).input_value())

    def test_the_grid_explains_and_opens_a_pair(self):
        """By keyboard: arrows, Enter, the reason, Escape back to the cell; then both chains of another
        model."""
        self.open("/match/ptarmigan")
        self.page.get_by_role("button", name="01 in Ptarmigan").focus()
        for _ in range(6):
            self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("ArrowRight")
        self.page.keyboard.press("Enter")
        why = self.page.get_by_role("dialog", name="07 Brackwater 3S 5000 20C in Grebe")
        why.get_by_text("Goes with XT90 to XT60 adapter, with care").first.wait_for()
        self.assert_accessible()
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_role("button", name="07 in Grebe")).to_be_focused()
        self.page.keyboard.press("Enter")
        why.get_by_role("link", name="Show both chains").click()
        self.settled()
        self.assertIn("/match/grebe", self.page.url)
        self.assertIn("Goes with XT90 to XT60 adapter, with care", self.drive("Grebe"))

    def test_a_charger_cell_opens_that_charger(self):
        """03 on the small charger."""
        self.open("/match/ptarmigan")
        self.page.get_by_role("button", name="07 on Cairn Pebble").click()
        self.page.get_by_role("button", name="Show both chains").click()
        self.settled()
        self.assertIn("Cairn Pebble can charge this pack at 1.5 A", self.charge())

    def test_printing_gives_one_sheet(self):
        """Build sheet and settings; the screen itself is hidden on paper."""
        self.open("/match/ptarmigan?pack=owned:02")
        self.page.emulate_media(media="print")
        sheet = self.page.get_by_role("region", name="Build sheet and charger settings")
        self.assertTrue(sheet.is_visible())
        for words in (
            "Plug, XT30 (weakest)",
            "Safety timer",
            "to 16.80 V",
            "Cut and solder one wire at a time",
        ):
            self.assertIn(words, sheet.inner_text())
        self.assertFalse(self.region("On a charger").is_visible())
        pages = self.page.pdf(format="A4").count(b"/Type /Page\n") or self.page.pdf(format="A4").count(
            b"/Type /Page"
        )
        self.assertLessEqual(pages, 2)

    def test_nothing_yet(self):
        """No packs: the next step; no chargers: the drive side still works."""
        Charger.objects.all().delete()
        self.open("/match/ptarmigan?pack=owned:01")
        self.assertIn("There is no charger yet", self.charge())
        self.assertIn("Goes, with care", self.drive())
        forget()
        OwnedPack.objects.all().delete()
        self.open("/match/ptarmigan")
        self.page.get_by_role("main").get_by_role("link", name="Add a pack").first.click()
        self.page.get_by_role("dialog", name="Add: pack").wait_for()

    def test_unknown_model_and_gone_pack(self):
        """Known models are offered; a gone pack is said, with a way on."""
        self.page.goto("/match/heron")
        self.page.get_by_role("link", name="Stoat").click()
        self.settled()
        self.page.goto("/match/stoat?pack=owned:77")
        self.page.get_by_text("There is no such pack any more").wait_for()
        self.page.get_by_role("button", name="Take the owned pack that fits best").click()
        self.settled()
        self.assertIn("Does the job", self.drive("Stoat"))


class AtNight(MatchCase):
    scheme = "dark"

    def test_contrast_holds(self):
        """Axe on deep ink."""
        self.open("/match/stoat?pack=owned:16")
        self.assert_accessible()


class OnThePhone(MatchCase):
    width, height, touch = 390, 844, True

    def test_match_at_390(self):
        """Nothing runs out sideways, and axe is content."""
        self.open("/match/ptarmigan?pack=owned:02")
        self.assert_no_sideways_scroll()
        self.assert_accessible()
