"""The drawings on screen and paper: to scale, moved by hand and by keys, said in words, in true size."""

import re

from playwright.sync_api import expect
from pypdfium2 import PdfDocument
from pypdfium2.raw import FPDF_PAGEOBJ_PATH

from coldstack.core.chain.own_plugs import set_own_plugs
from tests.screens.case import ScreenCase
from tests.screens.own_gear import PACK, OwnGearCase
from tests.screens.test_renders import COUNTER

MM = 25.4 / 72
"""Of a point on paper."""
SIZES = "svg => [...svg.querySelectorAll('rect')].map(r => [r.width.baseVal.value, r.height.baseVal.value])"


def like(rects, across, up):
    """The first of the rectangles in this ratio."""
    return next(r for r in rects if abs(r[0] / r[1] - across / up) < 0.01)


def shapes_mm(page):
    """Width and height of every path on a page of a PDF, as its own points say it. [mm]"""
    bounds = [x.get_bounds() for x in page.get_objects(filter=[FPDF_PAGEOBJ_PATH], max_depth=8)]
    return [((right - left) * MM, (top - bottom) * MM) for left, bottom, right, top in bounds]


class OwnBay(OwnGearCase):
    """One's own 3S of 105 × 34 × 25 mm in a bay of 150 × 50 × 40 mm, from an empty program."""

    def setUp(self):
        super().setUp()
        size = {"length_mm": 105, "width_mm": 34, "height_mm": 25}
        self.post("/api/gear/packs", {**PACK, "tag": "B2", "name": "Heron’s 3S", "plug": "xt60", **size})
        now = {"series": 3, "capacity_ah": 2.2, "mass_g": 180}
        answers = {"name": "Heron", "kind": "sailplane", "mass_g": 900, "now": now}
        served = self.post("/api/describe-model", answers)
        bay = {"length_mm": 150, "width_mm": 50, "height_mm": 40, "centre_mm": 200}
        served["job"]["bay"] |= {**bay, "balance_at_mm": 320, "empty_balance_mm": 345}
        served["job"]["electronics"]["plug"] = "xt60"
        served["job"]["assumed"] = [x for x in served["job"]["assumed"] if x != "electronics.plug"]
        made = {"name": "Heron", "description": "", "job": served["job"]}
        self.slug = self.post("/api/gear/models", made)["row"]["slug"]

    def bay(self):
        return self.page.get_by_role("region", name="In the bay", exact=True)

    def test_moved_by_keys_and_by_hand(self):
        """Ten millimetres back by keys, and the balance follows in words; no farther than the bay lets it."""
        self.open(f"/match/{self.slug}?pack=owned:B2")
        pack = self.bay().get_by_role("slider", name="Where the pack’s middle lies")
        pack.wait_for()
        before = int(pack.get_attribute("aria-valuenow"))
        pack.focus()
        self.page.keyboard.press("Shift+ArrowRight")
        self.settled()
        self.assertEqual(int(pack.get_attribute("aria-valuenow")), min(before + 10, 222))
        expect(self.bay()).to_contain_text("tail-heavy")
        self.page.keyboard.press("End")
        self.page.keyboard.press("ArrowRight")
        self.settled()
        self.assertEqual(pack.get_attribute("aria-valuenow"), pack.get_attribute("aria-valuemax"))
        self.assert_accessible()
        self.bay().get_by_role("button", name="Back to where it balances").click()
        self.settled()
        self.assertEqual(int(pack.get_attribute("aria-valuenow")), before)

    def test_turned_end_for_end(self):
        """With its leads to the nose: drawn and said so, and back again."""
        self.open(f"/match/{self.slug}?pack=owned:B2")
        turn = self.bay().get_by_role("button", name="Leads to the nose")
        turn.click()
        expect(self.bay()).to_contain_text("before it")
        expect(turn).to_have_attribute("aria-pressed", "true")
        turn.click()
        expect(self.bay()).to_contain_text("behind it")

    def test_to_scale(self):
        """Lengths in px are in the ratio of the millimetres, in both views."""
        self.open(f"/match/{self.slug}?pack=owned:B2")
        svg = self.bay().get_by_role("group", name=re.compile("^Bay with"))
        svg.wait_for()
        rects = svg.evaluate(SIZES)
        pack, inside = like(rects, 105, 25), like(rects, 144, 34)
        self.assertAlmostEqual(inside[0] / pack[0], 144 / 105, places=2)
        self.assertAlmostEqual(like(rects, 105, 34)[1] / pack[1], 34 / 25, places=2)
        words = "105 × 34 × 25 mm in a bay of 150 × 50 × 40 mm; it can slide 45 mm"
        expect(self.bay()).to_contain_text(words)

    def test_a_drag_draws_what_it_moves(self):
        """A frame of it runs no more than a hundred components."""
        self.page.add_init_script(path=COUNTER)
        self.open(f"/match/{self.slug}?pack=owned:B2")
        self.settled()
        pack = self.bay().get_by_role("slider", name="Where the pack’s middle lies")
        pack.scroll_into_view_if_needed()
        box = pack.bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + 20
        self.page.evaluate("Object.assign(window.renders, { ran: 0, made: 0, commits: [] })")
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for step in range(20):
            self.page.mouse.move(x + step, y)
        self.page.mouse.up()
        self.settled()
        found = self.page.evaluate("window.renders")
        self.assertGreater(found["ran"], 20, "it was dragged")
        self.assertLess(found["ran"] + found["made"], 20 * 100, found)

    def test_wired_into_the_model_and_on_the_charger(self):
        """Every picture says its facts; the charger goes first, and in the end nothing is loose and live."""
        self.open(f"/match/{self.slug}?pack=owned:B2")
        charge = self.page.get_by_role("region", name="On the charger")
        charge.wait_for()
        expect(charge).to_contain_text("Bench 80 into Lead by 4 mm banana; Lead into B2 by XT60")
        expect(charge).to_contain_text("Live and loose: B2, XT60; B2, balance plug.")
        last = charge.get_by_role("img", name="Nothing hangs loose and live.")
        expect(last).to_have_count(1)
        expect(charge.get_by_role("img", name="Struck out: The pack before the charger")).to_be_visible()
        expect(charge).to_contain_text("is live metal in the open")
        drive = self.page.get_by_role("region", name="Into Heron")
        expect(drive).to_contain_text("B2 into Heron by XT60")
        self.assert_accessible_in_every_light()

    def test_to_solder(self):
        """A pack of one's own whose plug does not mate: one wire at a time, what is bare in each step, both
        wires in one snip struck out; and where the system forces its colours every line is still seen."""
        self.post("/api/gear/packs", {**PACK, "tag": "C3", "name": "Other plug", "plug": "ec3"})
        self.open(f"/match/{self.slug}?pack=owned:C3")
        solder = self.page.get_by_role("region", name="To solder")
        solder.get_by_text("XT60 on the pack, one wire at a time").wait_for()
        self.assertEqual(solder.get_by_role("img", name="Bare: minus, live.").count(), 2)
        self.assertEqual(solder.get_by_role("img", name="Bare: plus, live.").count(), 2)
        expect(solder.get_by_role("img", name="Struck out: Both wires in one snip")).to_be_visible()
        self.assert_accessible_in_every_light()
        self.page.emulate_media(forced_colors="active")
        ground, strokes = self.page.get_by_role("region", name="As it is plugged together").evaluate(
            """x => [getComputedStyle(document.body).backgroundColor,
            [...x.querySelectorAll('svg path, svg line, svg text')].map(e => [e.tagName, getComputedStyle(e)])
              .map(([tag, s]) => tag === 'text' || s.stroke === 'none' ? s.fill : s.stroke)
              .filter(c => c !== 'none')]"""
        )
        self.assertGreater(len(strokes), 100)
        self.assertNotIn(ground, strokes)

    def test_out_again(self):
        """The reverse, a picture a step: in the end the pack hangs loose, covered and live."""
        self.open(f"/match/{self.slug}?pack=owned:B2")
        charge = self.page.get_by_role("region", name="On the charger")
        charge.get_by_text("And out again").click()
        last = charge.get_by_role("listitem").filter(has_text="Last the charge lead from the charger")
        expect(last).to_contain_text("Live and loose: B2, XT60; B2, balance plug.")

    def test_a_plug_of_one_s_own(self):
        """Added in Gear with five measures by hand, it is drawn and found again by two; what cannot be is
        said at its field and stays."""
        self.addCleanup(set_own_plugs, ())
        self.open("/gear/plugs?edit=new")
        for label, value in (
            ("Name", "Tarn twist"),
            ("Continuous", "40"),
            ("Width of a contact", "4"),
            ("Between their middles", "3,5"),
            ("Width of the shell", "18"),
            ("Height of the shell", "9"),
        ):
            self.fill(label, value)
        self.page.get_by_role("combobox", name="Its contacts").select_option("round")
        self.page.get_by_role("button", name="Add", exact=True).click()
        self.page.get_by_text("Contacts of 4 mm touch").first.wait_for()
        self.assertEqual(self.field("Between their middles").input_value(), "3.5")
        self.fill("Between their middles", "8,5")
        self.page.get_by_role("button", name="Add", exact=True).click()
        self.page.get_by_role("dialog").wait_for(state="detached")
        self.open("/plugs")
        self.fill("Between their middles", "8.4")
        self.fill("Width of the shell", "18")
        answer = self.page.get_by_role("region", name="What it may be")
        expect(answer.get_by_role("listitem").first).to_contain_text("Tarn twist")
        face = self.page.get_by_role("img", name=re.compile("^Tarn twist from the front: 18.0 mm × 9.0 mm"))
        expect(face.first).to_be_visible()
        expect(self.page.get_by_role("region", name="All plugs")).to_contain_text("as you measured it")


class Everywhere(ScreenCase):
    def test_on_a_phone(self):
        """Nothing scrolls sideways: the wiring runs down the page."""
        self.page.set_viewport_size({"width": 390, "height": 844})
        for address in ("/match/grebe?pack=series:owned:13", "/plugs"):
            self.open(address)
            self.page.get_by_role("heading", level=2).first.wait_for()
            self.settled()
            self.assert_no_sideways_scroll()

    def test_two_joined_in_size(self):
        """A picked pair shows in Size how it lies and how it is joined."""
        self.open("/size/ptarmigan")
        self.page.get_by_role("button", name="2 × Brackwater 4S 1800 20C in parallel").first.click()
        self.page.get_by_text("In the bay, wired").click()
        picture = self.page.get_by_role(
            "img", name=re.compile("^Brackwater 4S 1800 20C, one into parallel lead by XT60")
        )
        expect(picture).to_be_visible()

    def sheet(self, address):
        """The build sheet of a pack: the words of its drawings, and all of it as PDF."""
        self.open(address)
        self.page.get_by_role("region", name="On the charger").wait_for()
        self.settled()
        self.page.emulate_media(media="print")
        self.page.evaluate("window.dispatchEvent(new Event('beforeprint'))")
        sheet = self.page.get_by_role("region", name="Drawings")
        sheet.get_by_role("img").first.wait_for()
        self.settled()
        words = sheet.inner_text()
        return words, PdfDocument(self.page.pdf(format="A4", prefer_css_page_size=True))

    def test_the_build_sheet_in_true_size(self):
        """In the PDF itself: an XT60 is 15.5 × 8.1 mm within one per cent, and the pack in its bay has the
        ratio of its millimetres from the side and from above."""
        words, paper = self.sheet("/match/ptarmigan?pack=owned:04")
        shapes = shapes_mm(paper[0])
        plug = [(w, h) for w, h in shapes if abs(w / 15.5 - 1) < 0.01 and abs(h / 8.1 - 1) < 0.01]
        self.assertEqual(len(plug), 1, "the shell of the plug")
        for across, up in ((140, 28), (140, 45)):
            found = [w for w, h in shapes if w > 30 and abs(w / h / (across / up) - 1) < 0.01]
            self.assertTrue(found, (across, up))
        self.assertIn("true size", words)

    def test_the_build_sheet_is_one_page(self):
        """Of one pack, of a pair, and of one that needs an adapter, with bay, both wirings, order, pins."""
        for address in ("ptarmigan?pack=owned:04", "grebe?pack=series:owned:13", "ptarmigan?pack=owned:14"):
            words, paper = self.sheet(f"/match/{address}")
            self.assertEqual(len(paper), 1, address)
            for part in ("In the bay", "On the charger", "pin 1 is minus", "Then its balance plug"):
                self.assertIn(part, words)
            self.page.emulate_media(media="screen")

    def test_which_plug_is_this(self):
        """By looks and a rule, with the keyboard; what is typed wrongly is said at its field and stays."""
        self.open("/plugs")
        self.page.get_by_role("radiogroup", name="Its contacts").get_by_text("round pins or tubes").click()
        self.page.get_by_role("radiogroup", name="Its shell").get_by_text("both poles in one shell").click()
        self.fill("Between their middles", "7,2")
        self.fill("Width of the shell", "15.4")
        answer = self.page.get_by_role("region", name="What it may be")
        expect(answer.get_by_role("listitem").first).to_contain_text("XT60")
        self.assert_accessible_in_every_light()
        self.fill("Width of a contact", "wide")
        self.page.get_by_role("alert").first.wait_for()
        self.assertEqual(self.field("Width of a contact").input_value(), "wide")
        self.page.get_by_role("button", name="Begin again").click()
        expect(answer).to_contain_text("Say what you see of it")

    def test_a_pack_s_cells(self):
        """On its page with its pins, and at the gate as they are typed: the low one is marked."""
        self.open("/keep/ptarmigan?pack=13")
        cells = self.page.get_by_role("region", name="Its cells")
        cells.get_by_role("img", name=re.compile("XH plug: pin 1, minus of the pack")).wait_for()
        self.settled()
        self.assert_accessible()
        self.open("/run/ptarmigan?pack=04")
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.19 4.17 4.08 4.19")
        self.page.get_by_role("img", name=re.compile("^Cell 3 is 1.. mV under the others")).wait_for()

    def test_a_drawing_that_cannot_be_fetched(self):
        """Its code does not come, as where the server went meanwhile: the screen goes on without it."""
        self.page.route(re.compile("assets/CellsPart"), lambda route: route.abort())
        self.open("/run/ptarmigan?pack=04")
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.19 4.18 4.19 4.19")
        self.settled()
        self.assertEqual(self.page.get_by_role("region", name="Its cells").count(), 0)
        self.page.get_by_role("button", name="Start the timer").click()
        self.page.get_by_role("timer").wait_for()

    def test_steps_at_the_bench(self):
        """The start sheet has a picture a step, and what must never be on a board."""
        self.open("/charge/ptarmigan")
        self.page.get_by_role("button", name=re.compile(r"^Steps for \d+ \+ \d+")).first.click()
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_role("img", name="Struck out: A series lead on a parallel board").wait_for()
        expect(sheet.get_by_role("img", name="Nothing hangs loose and live.")).to_have_count(1)
        self.assert_accessible()
