"""From an empty program to the right pack: first page, questions, Size; the demo is said to be one."""

import re

from django.test import override_settings
from playwright.sync_api import expect

from coldstack.server.gear.models import OwnedPack, RcModel
from tests.screens.case import ScreenCase

RACER = {
    "Its name": "Racer",
    "Mass without the pack": "520",
    "Cells in series (S)": "5",
    "Capacity": "1500",
    "Mass of the pack": "220",
    "Average": "21",
    "Peak, full stick": "84",
    "Peak lasts": "2",
    "Minutes, at least": "3.8",
    "Pack, at most": "270",
}


class MatchedCase(ScreenCase):
    def matched(self):
        """The pack in the middle of Match."""
        self.settled()
        choice = self.page.get_by_role("region", name="The pack").get_by_role(
            "combobox", name="Pack", exact=True
        )
        return choice.input_value()


class EmptyCase(MatchedCase):
    """A program in which nothing was kept yet."""

    world = False

    def choose(self, kind):
        """What it is."""
        self.page.get_by_role("radiogroup", name="What it is").locator("label", has_text=kind).click()

    def answer(self, answers):
        """Type into the fields of the questions."""
        for label, text in answers.items():
            self.field(label).fill(text)

    def described(self):
        """What follows from the answers, as the page says it."""
        self.settled()
        return self.page.get_by_role("complementary", name="What follows from it").inner_text()

    def add(self):
        """Add the model and go on to Size."""
        self.page.get_by_role("button", name="Add it, and size its pack").click()
        self.page.wait_for_url(re.compile("/size/"))
        self.settled()

    def cells_listed(self):
        """Cell counts of the packs that do the job."""
        names = self.page.locator("table:not(details table) tbody tr:not(.text-ink-faint) th button")
        return {re.search(r"(\d+)S", n).group(1) for n in names.all_inner_texts() if re.search(r"\dS", n)}


class FirstPage(EmptyCase):
    def test_three_doors(self):
        """No model that is not there; every stage leads to the first real step."""
        self.open("/")
        for door in ("Begin with my model", "Look around in the club’s world", "Bring a file or a backup"):
            self.page.get_by_text(door).wait_for()
        self.assert_accessible()
        self.page.get_by_role("link", name="Size", exact=True).click()
        self.page.get_by_text("You have none yet").wait_for()
        self.page.get_by_role("link", name="Begin with my model").click()
        self.page.get_by_role("heading", name="A new model").wait_for()

    def test_the_racer_from_nothing(self):
        """Ten fields and three presses: 5S packs of 1500 to 1900 mAh, and none of another cell count."""
        self.open("/")
        self.page.get_by_role("link", name=re.compile("Begin with my model")).click()
        self.choose("multirotor")
        self.answer(RACER)
        said = self.described()
        self.assertIn("on 5S LiPo, 740 g all up", said)
        self.assertIn("Assumed, until you say", said)
        self.assert_accessible()
        self.add()
        self.assertLessEqual(len(RACER), 12)
        self.assertRegex(self.picked(), "5S 1500 mAh LiPo")
        self.page.get_by_text(re.compile(r"^\d packs hover 3.8 minutes within 270 g")).wait_for()
        now = self.page.locator("tbody tr", has_text="it runs on this now")
        expect(now.locator("td", has_text="short by")).to_be_visible()
        listed = self.page.locator("table:not(details table) tbody tr:not(.text-ink-faint) th button")
        for name in listed.all_inner_texts():
            mah = int(re.search(r"5S (\d+)", name).group(1))
            self.assertTrue(1500 <= mah <= 1900, name)
        self.page.get_by_role("button", name="21 A, on 5S LiPo, 740 g all up").click()
        self.page.get_by_role("textbox", name="At a mass, all up").wait_for()
        self.assert_accessible()

    def test_a_truck_to_lipo(self):
        """Six NiMH cells now, two LiPo wanted, no cut-off: 2S with the alarm's caution."""
        self.open("/new")
        self.choose("truck or crawler")
        self.page.get_by_role("combobox", name="Chemistry").first.select_option("nimh")
        self.answer(
            {
                "Its name": "Lorry",
                "Mass without the pack": "1800",
                "Cells in series (S)": "6",
                "Capacity": "3000",
            }
        )
        self.answer({"Minutes to landing": "25", "Minutes, at least": "20", "Rated to, LiPo cells": "2"})
        self.page.get_by_role("combobox", name="Chemistry").nth(1).select_option("lipo")
        self.page.get_by_role("combobox", name="Low-voltage cut-off").select_option("none")
        self.described()
        self.add()
        self.assertEqual(self.cells_listed(), {"2"})
        self.page.locator("table:not(details table) tbody th button").first.click()
        self.settled()
        picked = self.page.get_by_role("region", name="The picked pack")
        picked.get_by_text(re.compile("Goes, with care: .*alarm on the balance lead")).wait_for()

    def test_what_is_missing_or_wrong_is_said_at_its_question(self):
        """And what was typed stays, even if one leaves the page."""
        self.open("/new")
        self.page.get_by_role("button", name="Add it, and size its pack").click()
        self.page.get_by_role("alert").first.wait_for()
        self.choose("multirotor")
        self.answer({**RACER, "Rated to, LiPo cells": "4"})
        self.page.get_by_text("It runs on 5S LiPo now").first.wait_for()
        self.page.goto("/keep/-")
        self.page.goto("/new")
        expect(self.field("Mass without the pack")).to_have_value("520")
        self.field("Rated to, LiPo cells").fill("6")
        self.assertIn("84 A peak", self.described())

    def test_two_packs_and_a_class_that_is_guessed(self):
        """A helicopter on two 6S in series: its class is guessed and said to be; chosen, it is that; two it
        stays in every line, and what would narrow the answer most is named."""
        self.open("/new")
        self.choose("helicopter")
        self.page.get_by_role("radiogroup", name="One pack or two").get_by_text("Two in series").click()
        self.answer(
            {
                "Mass without the pack": "4000",
                "Cells in series (S), each": "6",
                "Capacity, each": "5000",
                "Mass of each pack": "815",
                "C on its label": "50",
            }
        )
        said = self.described()
        self.assertIn("2 × 6S 5000 mAh LiPo in series", said)
        self.assertIn("The minutes of one run would narrow this most", said)
        self.page.get_by_text("Taken for a 3D or sport helicopter").wait_for()
        self.page.get_by_role("radiogroup", name="Which of them").get_by_text("scale helicopter").click()
        gentle = self.described()
        self.assertEqual(self.page.get_by_text("Taken for").count(), 0)
        self.assertNotEqual(gentle, said)
        self.answer({"Minutes to landing": "5.5"})
        self.assertIn("The peak would narrow this most", self.described())
        self.assert_accessible()
        self.add()
        self.page.get_by_text(re.compile("^Keep what you have.*2 × 6S 5000 mAh LiPo in series")).wait_for()
        picked = self.page.get_by_role("region", name="The picked pack")
        picked.get_by_text(re.compile("two 6S LiPo .22.2 V. in series, each")).wait_for()

    def test_decimal_commas_and_what_is_no_number(self):
        """As people type."""
        self.open("/new")
        self.field("Mass without the pack").fill("520,5")
        self.assertEqual(self.page.get_by_role("alert").count(), 0)
        self.field("Capacity").fill("1,5 Ah")
        self.page.get_by_text("→ 1500 mAh").wait_for()
        self.field("Minutes, at least").fill("4:30")
        self.page.get_by_text("→ 4.5 min").wait_for()
        self.field("Pack, at most").fill("250-300 g")
        add = self.page.get_by_role("button", name="Mend first: Pack, at most")
        expect(add).to_be_disabled()
        self.page.get_by_role("alert").get_by_role("button", name="300 g").click()
        self.assertEqual(self.field("Pack, at most").input_value(), "300")
        self.page.get_by_role("button", name="Add it, and size its pack").wait_for()

    def test_a_pack_of_mine(self):
        """It is what Size opens on, and Match after it."""
        OwnedPack.objects.create(
            tag="W123",
            name="Mine 3S 2200",
            chemistry="lipo",
            series=3,
            capacity_ah=2.2,
            mass_g=180,
            plug="xt60",
            lead_awg=14,
        )
        self.open("/new")
        self.choose("aeroplane")
        self.page.get_by_text("One of my packs").click()
        self.answer({"Its name": "Wren", "Mass without the pack": "1000", "Minutes to landing": "12"})
        self.described()
        self.add()
        self.assertEqual(self.picked(), "Mine 3S 2200")
        self.page.get_by_role("link", name="Match", exact=True).first.click()
        self.assertIn("Mine 3S 2200", self.matched())


class Assumed(EmptyCase):
    def setUp(self):
        super().setUp()
        self.open("/new")
        self.choose("aeroplane")
        self.answer(
            {
                "Its name": "Wren",
                "Mass without the pack": "1000",
                "Cells in series (S)": "3",
                "Capacity": "2200",
            }
        )
        self.described()
        self.add()

    def test_drawn_dashed_until_it_is_said(self):
        """Changed or confirmed, a figure is assumed no more; undone, it is again."""
        job = self.page.get_by_role("region", name="The job")
        before = job.get_by_role("button", name=re.compile("it is so$")).count()
        self.assertGreater(before, 3)
        self.fill("Average", "9")
        self.assertNotIn("draw.average_a", RcModel.objects.get().job["assumed"])
        # by key: a line that comes above it may move it from under the pointer
        job.get_by_role("button", name="Controller: it is so").press("Enter")
        self.settled()
        self.assertNotIn("electronics.controller_continuous_a", RcModel.objects.get().job["assumed"])
        self.assertEqual(job.get_by_role("button", name=re.compile("it is so$")).count(), before - 2)
        self.page.keyboard.press("Control+z")
        expect(job.get_by_role("button", name=re.compile("it is so$"))).to_have_count(before - 1)

    def test_the_list_shows_what_the_headline_counts(self):
        """All of them when asked; near misses apart, and named so."""
        self.fill("Minutes, at least", "8")
        self.page.get_by_text(re.compile("^Keep what you have")).wait_for()
        headline = self.page.get_by_text(re.compile(r"^\d+ packs fly 8 minutes")).inner_text()
        count = int(re.match(r"\d+", headline).group())
        self.assertGreater(count, 7)
        self.page.get_by_text(f"The best 7 of {count}, by").wait_for()
        self.page.get_by_role("button", name=f"Show all {count}").click()
        self.page.get_by_text(f"All {count}, by").wait_for()
        able = self.page.locator("table:not(details table) tbody tr:not(.text-ink-faint) th button")
        self.assertEqual(able.count(), count)
        self.page.get_by_text("Near misses, by what they lack").wait_for()

    def test_cells_that_nobody_rated_are_a_question(self):
        """4S is hatched, and says what to say."""
        self.page.get_by_role("button", name=re.compile("^4S")).hover()
        self.page.get_by_text("Say what the controller is rated for").wait_for()
        self.fill("Rated to, LiPo cells", "4")
        self.page.get_by_text("up to 16.8 V").wait_for()


class TheDemo(MatchedCase):
    def test_every_screen_says_so(self):
        """A quiet line with the way home; absent in one's own world."""
        for address in ("/size/ptarmigan", "/keep/ptarmigan", "/gear/packs"):
            with override_settings(WORLD="demo"):
                self.open(address)
                self.page.get_by_text("You are in the club’s world, the demo").wait_for()
                self.page.get_by_role("button", name="Go to my own").wait_for()
            self.open(address)
            self.page.get_by_text("You are in your own world").wait_for()
            self.assertEqual(self.page.get_by_text("You are in the club’s world").count(), 0)

    def test_another_model_opens_in_the_stage_one_is_in(self):
        """From Run to Run."""
        self.open("/run/ptarmigan")
        self.page.get_by_role("button", name=re.compile("^Ptarmigan")).first.click()
        self.page.get_by_role("menuitem", name=re.compile("^Stoat")).click()
        self.page.wait_for_url(re.compile("/run/stoat"))

    def test_match_opens_on_what_size_shows(self):
        """The best pack, though nobody picked it."""
        self.open("/size/ptarmigan")
        shown = self.picked()
        self.page.get_by_role("link", name="Match", exact=True).first.click()
        self.page.wait_for_url(re.compile("/match/ptarmigan"))
        self.assertIn(shown, self.matched())
        self.page.get_by_role("link", name="House rules", exact=True).click()
        self.page.get_by_text(f"pack {shown}, full").wait_for()


class NoGo(ScreenCase):
    def test_nothing_invites_to_start(self):
        """And after the log is written, the verdict is gone with the cells, at once: however late the server
        hears of the run."""
        self.open("/run/ptarmigan?pack=04")
        cells = self.page.get_by_label("Volts of 04, cells or pack")
        cells.fill("4.19 4.18 4.19 4.10")
        self.page.get_by_text("No go", exact=True).wait_for()
        self.page.get_by_role("button", name="Only count the minutes").wait_for()
        self.assertEqual(self.page.get_by_role("button", name="Start the timer").count(), 0)
        cells.fill("4.19 4.18 4.19 4.18")
        self.page.get_by_role("button", name="Start the timer").wait_for()
        held = []
        self.page.route("**/api/runs", lambda route: held.append(route))
        self.page.get_by_label("Minutes", exact=True).fill("6")
        with self.page.expect_request("**/api/runs"):
            self.page.get_by_role("button", name="Log it").click()
        expect(cells).to_have_value("")
        expect(self.page.get_by_role("region", name="Go or no go")).to_have_count(0)
        held.pop().continue_()
        self.page.get_by_text("spent").first.wait_for()
        expect(self.page.get_by_role("region", name="Go or no go")).to_have_count(0)


class AskedBack(EmptyCase):
    def test_a_tenfold_mass(self):
        """Asked at its field with the likely figure; nothing is added meanwhile; mended by a press, or so."""
        self.open("/new")
        self.choose("multirotor")
        self.answer({**RACER, "Mass without the pack": "5200"})
        self.settled()
        field = self.field("Mass without the pack")
        asked = self.page.get_by_role("alert").filter(has_text="hardly goes with")
        asked.get_by_text("Did you mean 520 g?").wait_for()
        self.page.get_by_role("button", name="Mend first: Mass without the pack").wait_for()
        self.assert_accessible()
        asked.get_by_role("button", name="Yes, 520 g").click()
        self.settled()
        expect(asked).to_have_count(0)
        expect(field).to_have_value("520")
        field.fill("5200")
        self.settled()
        asked.get_by_role("button", name="It is so").click()
        self.settled()
        expect(asked).to_have_count(0)
        self.add()
        self.assertEqual(RcModel.live.get().job["mass_g"], 5200)

    def test_a_pack_of_a_tenth(self):
        """In Gear's form alike: the mass of a pack."""
        self.open("/gear/packs?edit=new")
        sheet = self.page.get_by_role("dialog")
        sheet.get_by_label("Its label, as one line").fill("Blue 4S 1300mAh 75C XT60")
        self.settled()
        sheet.get_by_role("textbox", name="Mass", exact=True).fill("15.5")
        self.settled()
        sheet.get_by_role("alert").get_by_text("Did you mean 155 g?").wait_for()
        self.assert_accessible()
        sheet.get_by_role("button", name="Yes, 155 g").click()
        self.settled()
        sheet.get_by_role("button", name="Add", exact=True).click()
        self.settled()
        self.assertEqual(OwnedPack.live.get().mass_g, 155)
