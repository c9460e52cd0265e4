"""A charger of bad faith on gear of one's own, from an empty program: seen, heard, pulled, confirmed."""

import re

from playwright.sync_api import expect

from coldstack.server.charges.models import Charge, OnCharger
from tests.screens.own_gear import CHARGER, OwnGearCase
from tests.screens.test_charge import BenchScreen
from tests.screens.test_timer import TONES


class DoesNotStop(BenchScreen, OwnGearCase):
    def setUp(self):
        super().setUp()
        self.page.add_init_script(TONES)
        self.link(CHARGER["name"], ports=1)
        OwnGearCase.bench(self)
        self.cells("A1").fill("3.71 3.72 3.71")
        self.settle()
        self.line("A1").get_by_role("button", name="Looked and felt: sound, cool").click()
        self.settle()
        self.begin("A1")
        self.card = self.page.get_by_role("article", name="Charging A1")

    def tones(self):
        return self.page.evaluate("window.tones")

    def pass_seconds(self, seconds):
        """The charger's time and the watch's, and the page's behind them."""
        for _ in range(int(seconds / 5)):
            self.device.pass_time(5)
            self.seconds += 5
            self.watcher.tick()
        self.page.clock.run_for(11_000)
        self.settled()

    def not_stopped(self):
        return self.part("Alarms").get_by_text("Not known to have stopped: Bench 80 refuses")

    def test_refused_pulled_confirmed(self):
        """Pressed Stop, and it refuses: that is said at the charge and on two stages, at a desk and on a
        phone, with what to do; it sounds; its pack stays taken. Pulled, and said so, it is over."""
        self.pass_seconds(30)
        self.card.get_by_text(re.compile("Judged by the watch (just now|\\d+ s ago)")).wait_for()
        self.card.get_by_role("combobox").select_option(label="a charger that does not stop")
        self.settled()
        self.card.get_by_role("button", name="Stop").click()
        self.settled()
        self.pass_seconds(5)
        self.card.get_by_text("Not known to have stopped. Pull the charger’s plug").wait_for()
        self.not_stopped().wait_for()
        heard = self.tones()
        for stage, phone in (("keep", False), ("keep", True), ("size", False), ("charge", True)):
            with self.subTest(stage=stage, phone=phone):
                width, height = (390, 844) if phone else (self.width, self.height)
                self.page.set_viewport_size({"width": width, "height": height})
                self.page.goto(f"/{stage}/-")
                self.page.clock.run_for(11_000)
                self.not_stopped().wait_for()
                self.part("Alarms").get_by_text("Pull the charger’s plug out of the wall").wait_for()
                expect(
                    self.part("Alarms").get_by_role("button", name=re.compile("^I saw to it"))
                ).to_have_count(0)
                self.assertIn("ALARM", self.page.title())
                self.page.keyboard.press("Shift")
                self.page.clock.run_for(4000)
                self.assertGreater(self.tones(), 0)
                self.settled()
                self.assert_no_sideways_scroll()
        self.assertGreater(heard, 0)
        self.assert_accessible()
        self.assertEqual((Charge.objects.get().state, OnCharger.objects.count()), ("stopping", 1))
        self.assertEqual(self.device.ports[0].state, "charging")
        self.part("Alarms").get_by_role("button", name=re.compile("^I pulled its plug")).click()
        self.part("Alarms").wait_for(state="detached")
        self.pass_seconds(15)
        self.assertEqual(self.device.ports[0].state, "empty")
        self.assertEqual((Charge.objects.get().state, OnCharger.objects.count()), ("stopped", 0))
        log = self.part("Log of charges")
        log.get_by_text("stopped by hand; its plug was pulled").wait_for()
        expect(self.part("Alarms")).to_have_count(0)

    def test_the_watch_hangs(self):
        """Fifteen seconds without a judgement are an alarm of their own, which ends with the next one."""
        self.pass_seconds(10)
        self.seconds += 20
        self.page.clock.run_for(11_000)
        self.part("Alarms").get_by_text("The watch has not judged this charge for 20 s").wait_for()
        self.card.get_by_text("Judged by the watch 2").wait_for()
        self.pass_seconds(5)
        self.part("Alarms").wait_for(state="detached")
