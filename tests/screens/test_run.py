"""In the field, on a phone: pack, cells, go or no go, timer, log; and without a line to the server."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from coldstack.server.life.models import Event
from tests.lives import told
from tests.screens.case import ScreenCase


def sailed():
    """Runs of the sailplane: the demo world has none."""
    return Event.objects.filter(kind="run", model="ptarmigan")


class RunPhone(ScreenCase):
    fresh_context = True
    width, height, touch = 390, 844, True
    clock_by_hand = True

    def choose(self, tag="04", cells="4.19 4.18 4.19 4.19"):
        self.open("/run/ptarmigan")
        self.page.get_by_role("button", name=re.compile(f"^{tag}")).click()
        self.page.get_by_label(f"Volts of {tag}, cells or pack").fill(cells)
        self.page.get_by_role("region", name="Go or no go").wait_for()

    def log_minutes(self, minutes):
        form = self.page.get_by_role("region", name="Log the run")
        form.get_by_label("Minutes").fill(minutes)
        form.get_by_role("button", name="Log it").click()

    def test_three_taps_to_go(self):
        """Pack, cells, and there it stands: go, timer, mAh, alarm; the timer's working opens."""
        self.choose()
        found = self.page.get_by_role("region", name="Go or no go")
        found.get_by_text("Go", exact=True).wait_for()
        self.assertRegex(found.inner_text(), r"1[23]:\d0")
        found.get_by_role("button", name="Timer: show working").click()
        self.page.get_by_role("dialog").get_by_text("Landing point").wait_for()
        self.page.keyboard.press("Escape")
        self.assert_no_sideways_scroll()
        self.assert_accessible()

    def test_no_go_says_why(self):
        """A spread of 0.06 V, a spent pack."""
        self.choose(cells="4.19 4.18 4.19 4.13")
        self.page.get_by_text("No go", exact=True).wait_for()
        self.page.get_by_text("Its cells differ by 0.060 V").wait_for()
        self.page.get_by_label("Volts of 04, cells or pack").fill("3.6 3.6 3.6 3.6")
        self.page.get_by_text("hardly anything above the landing point").wait_for()

    def test_a_cold_pack(self):
        """Its temperature in the unit one prefers: 41 °F is cold, and said in words; what is no temperature
        is told at its field."""
        self.context.add_init_script(
            "localStorage.setItem('cold-stack.preferences', JSON.stringify({temperature: 'F'}))"
        )
        self.choose()
        self.page.get_by_label("Pack, °F").fill("41")
        self.page.get_by_text("At 41 °F its resistance is high").wait_for()
        self.page.get_by_label("Pack, °F").fill("cold")
        self.page.get_by_text("“cold” is not a number").wait_for()
        self.page.get_by_label("Pack, °F").fill("400")
        self.page.locator("#run-warmth-wrong").wait_for()

    def test_timer_to_log(self):
        """Started, run out with a word to land, landed: logged with one tap, which asks what else is
        known."""
        self.choose()
        self.page.get_by_role("button", name="Start the timer").click()
        self.page.clock.run_for(60_000)
        self.assertRegex(self.page.get_by_role("timer").inner_text(), r"1[12]:\d\d")
        self.page.clock.run_for(14 * 60_000)
        self.page.get_by_text("Land now.").wait_for()
        self.page.get_by_role("button", name="Landed").click()
        self.page.get_by_role("region", name="Landed").get_by_text("Logged: 04, 15.0 min").wait_for()
        expect(self.page.get_by_label("Minutes", exact=True)).to_have_value("15")
        landed = self.page.get_by_label("Landed when, if not now")
        self.page.get_by_role("button", name="30 min ago").click()
        expect(landed).to_have_value(re.compile(r"^13:(4|5)\d$|^14:0\d$"))
        landed.fill("")
        self.page.get_by_role("region", name="Runs").get_by_text("15.0 min").wait_for()
        self.assertEqual(sailed().get().minutes, 15)

    def test_a_timer_outlives_a_reload(self):
        """Reloaded, and after a look at another pack, it still counts from its start; the other pack says
        that it runs."""
        self.choose()
        self.page.get_by_role("button", name="Start the timer").click()
        self.page.clock.run_for(120_000)
        before = self.page.get_by_role("timer").inner_text()
        self.page.reload()
        self.page.get_by_role("timer").wait_for()
        self.assertEqual(self.page.get_by_role("timer").inner_text()[:2], before[:2])
        self.page.get_by_role("button", name="Another pack").click()
        self.page.get_by_role("button", name=re.compile("^05")).click()
        self.page.get_by_text("A timer runs for").wait_for()
        self.page.get_by_role("link", name="pack 04").click()
        self.page.get_by_role("button", name="Landed").click()
        expect(self.page.get_by_label("Minutes", exact=True)).to_have_value(re.compile(r"^2(\.\d)?$"))
        # the page's clock goes on beside the test's: two minutes and what the machine took
        self.page.get_by_role("region", name="Runs").get_by_text(re.compile(r"\b2\.\d min")).wait_for()
        self.assertEqual(sailed().count(), 1)

    def test_three_runs_without_a_line(self):
        """The page was loaded before the signal went: three runs wait, survive a look elsewhere, and arrive
        once each."""
        self.choose()
        self.context.set_offline(True)
        for minutes in ("9", "9.5", "10"):
            self.log_minutes(minutes)
        self.page.get_by_text("3 runs wait here to be sent").wait_for()
        self.page.clock.run_for(12_000)
        self.assertEqual(sailed().count(), 0)
        self.context.set_offline(False)
        self.page.clock.run_for(12_000)
        self.page.get_by_text("here to be sent").wait_for(state="hidden")
        self.assertEqual(sorted(sailed().values_list("minutes", flat=True)), [9.0, 9.5, 10.0])
        self.problems = [p for p in self.problems if "ERR_INTERNET_DISCONNECTED" not in p]
        self.assert_clean()

    def test_kept_over_a_reload(self):
        """Logged without a line, the page closed and opened again with one: sent then, once."""
        self.choose()
        self.page.route("**/api/runs", lambda route: route.abort())
        self.log_minutes("8")
        self.page.get_by_text("1 run waits here").wait_for()
        self.page.unroute("**/api/runs")
        self.page.reload()
        self.page.get_by_role("region", name="Runs").get_by_text("8.0 min").wait_for()
        self.assertEqual(sailed().count(), 1)

    def test_the_log_teaches_size(self):
        """Three runs with what was put back: an average with its scatter, taken into Size, which says so."""
        self.choose()
        form = self.page.get_by_role("region", name="Log the run")
        for minutes, mah in (("10", "2300"), ("11", "2500"), ("9", "2150")):
            form.get_by_label("Put back, mAh").fill(mah)
            self.log_minutes(minutes)
            self.page.get_by_role("region", name="Runs").get_by_text(
                f"{int(mah) // 10 * 10} mAh put back"
            ).or_(self.page.get_by_text(f"{mah} mAh put back")).first.wait_for()
        self.page.get_by_text("From 3 runs it draws").wait_for()
        self.page.get_by_role("button", name="Take it from the log").click()
        self.page.get_by_text("Size now takes the draw from the log").wait_for()
        self.assertEqual(RcModel.live.get(slug="ptarmigan").job["draw"]["source"], "log")
        self.page.get_by_text("reckons with the same").wait_for()
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").click()
        self.page.get_by_text("reckons with 13.2 A").wait_for()
        self.assertEqual(RcModel.live.get(slug="ptarmigan").job["draw"]["source"], "measured")

    def test_a_tenfold_slip_is_asked_back(self):
        """More than the pack holds: kept as typed, asked beside it, mended by a press."""
        self.choose()
        self.page.get_by_role("region", name="Log the run").get_by_label("Put back, mAh").fill("23 400")
        self.log_minutes("10")
        runs = self.page.get_by_role("region", name="Runs")
        runs.get_by_text("times what the pack holds: did you mean 2340 mAh?").wait_for()
        self.assert_accessible()
        runs.get_by_role("button", name="It was 2340 mAh").click()
        runs.get_by_text("2340 mAh put back").wait_for()
        self.assertEqual(runs.get_by_text("times what the pack holds").count(), 0)

    def test_logged_by_mistake(self):
        """Undone while it waits without a line; taken away and brought back once it was sent."""
        self.choose()
        self.context.set_offline(True)
        self.log_minutes("8")
        self.page.get_by_text("1 run waits here").wait_for()
        messages = self.page.get_by_role("status", name="Messages")
        messages.get_by_role("button", name="Undo").click()
        self.page.get_by_text("1 run waits here").wait_for(state="hidden")
        self.context.set_offline(False)
        self.log_minutes("9")
        runs = self.page.get_by_role("region", name="Runs")
        runs.get_by_role("button", name="Take away the run of 04, 9.0 min").click()
        runs.wait_for(state="detached")
        messages.get_by_role("button", name="Undo").click()
        runs.get_by_text("9.0 min").wait_for()
        self.assertEqual(sailed().get().minutes, 9)

    def test_what_is_no_number(self):
        """Said, and what was typed stays."""
        self.choose()
        self.log_minutes("ten")
        self.page.get_by_text("“ten” is not a number.").wait_for()
        self.assertEqual(self.page.get_by_label("Minutes", exact=True).input_value(), "ten")
        self.log_minutes("")
        self.page.get_by_text("How many minutes did it run?").wait_for()
        self.log_minutes("4:30")
        self.page.get_by_text("4.5 min. Let it cool before it is charged.").wait_for()

    def test_the_day(self):
        """By the box and its soonest charger, as assumed; then with four packs and one 50 W port: when none
        is ready, and a press shows what would do."""
        self.choose()
        day = self.page.get_by_role("region", name="The day")
        self.assertEqual(day.get_by_text("assumed").count(), 4)
        day.get_by_text("2 packs and 4 ports").wait_for()
        day.get_by_text("of Skerry Four").wait_for()
        day.get_by_role("button", name="Charger ports: it is so").click()
        expect(day.get_by_role("button", name="Charger ports: it is so")).to_have_count(0)
        for label, text in (("Packs", "4"), ("Charger ports", "1"), ("Watts of a port", "50")):
            day.get_by_label(label, exact=True).fill(text)
        day.get_by_label("A run takes", exact=True).fill("9")
        day.get_by_text("4 packs and 1 port: none is ready after 48 min").wait_for()
        day.get_by_role("button", name="See it").click()
        day.get_by_text("never a wait").wait_for()
        day.get_by_label("Field supply", exact=True).fill("100")
        day.get_by_text("The supply is empty then").wait_for()
        self.assert_no_sideways_scroll()
        self.assert_accessible()

    def test_the_packs_along(self):
        """One's own packs as they are now: the full ones, and a spent one that charges first; adding more
        keeps it going."""
        for tag in ("04", "05"):
            told(tag, "charge", ended="done")
        self.open("/run/ptarmigan")
        day = self.page.get_by_role("region", name="The day")
        day.get_by_label("the packs along, as they are now").check()
        day.get_by_text("2 packs and 4 ports").wait_for()
        day.get_by_role("checkbox", name="01").check()
        day.get_by_text("3 packs and 4 ports").wait_for()
        day.get_by_role("img", name="Lanes of 3 packs").wait_for()
        day.get_by_label("More like 04", exact=True).fill("2")
        day.get_by_text("5 packs and 4 ports").wait_for()
        self.assert_no_sideways_scroll()
        self.assert_accessible()

    def test_packs_that_will_not_do_are_aside(self):
        """Under a fold, with why; one to be retired is not run, and its page says why."""
        self.open("/run/ptarmigan")
        self.page.get_by_text("that will not do").click()
        self.page.get_by_role("button", name="15 Tarnlight").get_by_text(
            "EC5 and XT60 do not mate"
        ).wait_for()
        self.open("/run/ptarmigan?pack=03")
        self.page.get_by_text("03 is not run").wait_for()
        self.page.get_by_role("link", name="Its page").click()
        self.page.get_by_role("article", name="Pack 03").wait_for()


class RunNight(ScreenCase):
    scheme = "dark"

    def test_night(self):
        """Axe clean in the dark, at a desk."""
        self.open("/run/stoat")
        self.page.get_by_role("button", name=re.compile("^15")).click()
        self.page.get_by_label("Volts of 15, cells or pack").fill("4.18 4.18")
        self.page.get_by_role("region", name="Go or no go").wait_for()
        self.assert_accessible()
