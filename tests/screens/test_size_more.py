import re

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from tests.screens.case import ScreenCase


class JobPanel(ScreenCase):
    fresh_context = True

    def job(self, slug="ptarmigan"):
        return RcModel.objects.get(slug=slug).job

    def test_house_rules_move_timer_and_alarm(self):
        """Long life lands earlier and warns earlier; the working names the set."""
        self.open("/")
        alarm = self.page.get_by_role("region", name="The picked pack").get_by_role(
            "button", name=re.compile("Alarm: show working")
        )
        usual = float(alarm.inner_text().split("V")[0])
        self.page.get_by_role("combobox", name="Set", exact=True).select_option("long_life")
        self.settled()
        expect(alarm).not_to_contain_text(f"{usual:.2f}")
        self.assertGreater(float(alarm.inner_text().split("V")[0]), usual)
        alarm.click()
        self.page.get_by_role("dialog").get_by_text("House rules “Long life”").first.wait_for()

    def test_label_trust_and_plug_are_kept(self):
        """Choices are saved like figures."""
        self.open("/")
        self.page.get_by_role("combobox", name="Labels are taken").select_option("sceptical")
        self.page.get_by_role("combobox", name="Plug", exact=True).select_option("xt90")
        self.settled()
        self.page.get_by_text("Saved", exact=True).wait_for()
        self.assertEqual(self.job()["label_trust"], "sceptical")
        self.assertEqual(self.job()["electronics"]["plug"], "xt90")
        self.page.get_by_text(re.compile(r"Plug, XT60 \(model: XT90\)")).first.wait_for()

    def test_chemistries_are_chosen_and_one_always_stays(self):
        """Li-ion off: no builds from cells are listed; the last one cannot be taken away."""
        self.open("/size/fieldfare")
        for name in ("LiPo", "LiHV"):
            self.page.get_by_role("button", name=name, exact=True).click()
        last = self.page.get_by_role("button", name="Li-ion", exact=True)
        last.click()
        self.settled()
        self.assertEqual(last.get_attribute("aria-pressed"), "true")
        self.assertEqual(self.job("fieldfare")["wants"]["chemistries"], ["liion"])

    def test_cell_counts_narrow_the_field(self):
        """Only 3S: less than half of today’s punch, and the plan says so."""
        self.open("/")
        self.page.get_by_role("button", name="3S 12.6 V full").click()
        self.settled()
        self.page.get_by_text("What nearest would do", exact=True).wait_for()
        self.page.get_by_role("button", name=re.compile("of today’s punch")).first.wait_for()

    def test_an_optional_want_can_be_emptied(self):
        """As lively as now does not matter: the field is empty, the want is gone, more packs do it."""
        self.open("/")
        count = self.page.get_by_text(re.compile(r"\d+ packs fly"))
        before = int(count.first.inner_text().split()[0])
        self.fill("As lively as now", "")
        self.assertIsNone(self.job()["wants"]["lively"])
        after = int(count.first.inner_text().split()[0])
        self.assertGreater(after, before)

    def test_a_needed_figure_that_is_emptied_asks_for_a_number(self):
        """And the model keeps the last one."""
        self.open("/")
        self.fill("Average", "")
        self.page.get_by_text("Enter a number.").wait_for()
        self.assertEqual(self.job()["draw"]["average_a"], 13.2)

    def test_decimal_commas_and_steps_by_arrows(self):
        """12,5 is twelve and a half; five quick presses of arrow up are two and a half amps more, none
        lost."""
        self.open("/")
        self.fill("Average", "12,5")
        self.assertEqual(self.job()["draw"]["average_a"], 12.5)
        for _ in range(5):
            self.field("Average").press("ArrowUp")
        self.settled()
        self.assertEqual(self.job()["draw"]["average_a"], 15)

    def test_steppers_by_pointer(self):
        """Plus and minus beside the field."""
        self.open("/")
        self.page.get_by_role("button", name="More: Pack, at most").click()
        self.settled()
        self.assertEqual(self.field("Pack, at most").input_value(), "425")

    def test_the_bay_can_be_described(self):
        """A bay too short for anything: what it runs on now goes in all the same, and is told to measure
        again; of what would run longer it is said that the bay is not enough."""
        self.open("/")
        self.page.get_by_text("Bay, air and balance").click()
        self.fill("Bay length", "60")
        self.page.get_by_role("region", name="The picked pack").get_by_text(
            re.compile("it runs so today: measure the bay again")
        ).wait_for()
        self.fill("Minutes, at least", "17")
        self.page.get_by_text(re.compile("the bay")).first.wait_for()

    def test_peaks_that_use_more_than_the_average(self):
        """The sentence stands at the average and says what the peaks alone need."""
        self.open("/")
        self.fill("Average", "4")
        self.page.get_by_text(re.compile("The peaks alone average")).first.wait_for()
        self.assertEqual(self.field("Average").get_attribute("aria-invalid"), "true")

    def test_saving_fails_and_is_told(self):
        """The line drops while saving: the figure stays, it says that it is not saved, and saves it once the
        line is back."""
        self.open("/")
        self.context.route("**/api/models/*/job", lambda route: route.abort())
        self.field("Average").fill("14")
        self.page.get_by_text(re.compile("Not saved")).wait_for()
        self.assertEqual(self.field("Average").input_value(), "14")
        self.context.unroute("**/api/models/*/job")
        self.page.get_by_text("Saved", exact=True).wait_for()
        self.assertEqual(self.job()["draw"]["average_a"], 14)

    def test_leaving_at_once_saves_what_was_typed(self):
        """Another model right after the last key: nothing is lost."""
        self.open("/")
        self.field("Average").fill("14.5")
        self.commands()
        self.page.keyboard.type("dipper")
        self.page.keyboard.press("Enter")
        self.settled()
        self.assertEqual(self.job()["draw"]["average_a"], 14.5)


class Addresses(ScreenCase):
    def test_pins_live_in_the_address(self):
        """Two pinned, reloaded, compared, back."""
        self.open("/size/stoat")
        pins = self.page.get_by_role("button", name=re.compile("^Pin "))
        pins.nth(1).click()
        self.page.get_by_role("button", name=re.compile("^Pin ")).nth(1).click()
        self.page.reload()
        self.settled()
        self.page.get_by_role("button", name="Compare 2 pinned").click()
        self.settled()
        self.page.go_back()
        self.settled()
        self.page.get_by_role("button", name="Compare 2 pinned").wait_for()

    def test_a_mangled_address_is_no_dead_end(self):
        """An unknown pick, an unknown aim, text for a list: the screen opens with its best."""
        self.open("/size/ptarmigan?aim=fastest&pins=7&pick=pack%3A999999&compare=maybe")
        self.assertGreater(len(self.shortlist()), 3)
        self.page.get_by_text("Pick a pack in the field or the list.").wait_for()

    def test_each_model_remembers_its_own_job(self):
        """An edit of one is no edit of another, and going back shows it again."""
        self.open("/size/grebe")
        self.fill("Minutes, at least", "50")
        self.page.goto("/size/dipper")
        self.settled()
        self.assertEqual(self.field("Minutes, at least").input_value(), "8")
        self.page.goto("/size/grebe")
        self.settled()
        self.assertEqual(self.field("Minutes, at least").input_value(), "50")

    def test_home_opens_the_model_last_worked_on(self):
        """The program is where one left it."""
        self.open("/size/fieldfare")
        self.page.goto("/")
        self.settled()
        self.assertIn("/size/fieldfare", self.page.url)


class Reading(ScreenCase):
    def test_the_trace_has_words_and_a_table(self):
        """For those who cannot see it: a sentence, and eleven rows of figures."""
        self.open("/")
        self.page.get_by_role("img", name=re.compile("under load, lands at")).first.wait_for()
        self.page.get_by_role("region", name="The picked pack").get_by_text("As a table").click()
        self.assertEqual(self.page.locator("details[open] tbody tr").count(), 11)

    def test_the_plot_has_a_table_from_which_one_can_pick(self):
        """The front and all that does the job, the lightest first."""
        self.open("/")
        self.page.get_by_role("region", name="The field of candidates").get_by_text("As a table").click()
        table = self.page.get_by_role("table", name=re.compile("none is lighter and longer"))
        grams = [float(t) for t in table.locator("tbody tr td:nth-of-type(1)").all_inner_texts()]
        self.assertEqual(grams, sorted(grams))
        first = table.get_by_role("button").first
        name = first.inner_text()
        first.click()
        self.settled()
        self.assertEqual(self.picked(), name)

    def test_a_row_s_figures_open_their_working_without_picking_it(self):
        """The second row's minutes are explained; the picked pack stays."""
        self.open("/")
        picked = self.picked()
        row = self.page.locator("table:not(details table)").first.locator("tbody tr").nth(1)
        row.get_by_role("button", name=re.compile("Minutes: show working")).click()
        self.page.get_by_role("dialog").get_by_text("Range: capacity").wait_for()
        self.assertEqual(self.picked(), picked)

    def test_words_of_the_trade_are_explained_on_focus(self):
        """S, for one who comes back after twenty years."""
        self.open("/")
        self.page.get_by_role("button", name="Cells in series (S)").focus()
        self.page.get_by_role("tooltip").get_by_text(re.compile("4S means four cells")).wait_for()

    def test_a_mark_under_the_pointer_is_named(self):
        """Name, about how many minutes, grams, hottest link."""
        self.open("/")
        box = self.page.locator("svg[aria-labelledby]").first.bounding_box()
        self.page.mouse.move(box["x"] + box["width"] * 0.28, box["y"] + box["height"] * 0.62)
        self.page.get_by_text(re.compile(r"about \d+ min, \d+ g, hottest link \d+ %")).wait_for()

    def test_cautions_stand_where_they_apply(self):
        """A build from cells says who may weld; a pack in the catalogue does not."""
        self.open("/size/fieldfare")
        region = self.page.get_by_role("region", name="The picked pack")
        found = self.page.locator("table:not(details table)").first
        found.get_by_role("button", name=re.compile("6S2P of Skarn 21700")).first.click()
        self.settled()
        self.assertIn("Welding, fusing and insulating", region.inner_text())
        found.get_by_role("button", name=re.compile("Brackwater 6S 10000 20C")).first.click()
        self.settled()
        self.assertNotIn("Welding", region.inner_text())

    def test_the_program_says_that_it_only_advises(self):
        """Makers' sheets and codes come first: on every screen."""
        self.open("/size/dipper")
        self.page.get_by_text("Makers’ data sheets, local codes and licensed practice come first.").wait_for()

    def test_an_overloaded_link_breaks_out_and_says_so(self):
        """A controller for 20 A at 46: over, in words and with a mark beyond the frame. It runs so today, so
        it is care, with what to look at; another pack in it will not do."""
        self.open("/")
        self.fill("Controller", "15")
        self.fill("Controller, burst", "20")
        stack = self.page.get_by_role("list", name=re.compile("The stack of"))
        stack.get_by_text(re.compile(r"Over its limit .*, \d{3} %")).wait_for()
        self.assertGreater(stack.locator("rect[fill^='url(#over']").count(), 0)
        self.page.get_by_role("region", name="The picked pack").get_by_text(
            re.compile("Goes, with care: .*look at this controller after a run")
        ).wait_for()
        self.assert_accessible()
