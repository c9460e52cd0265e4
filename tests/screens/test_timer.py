"""The timer on every stage: seen, heard, and there after a reload."""

import re

from playwright.sync_api import expect

from tests.screens.case import ScreenCase

TONES = """
window.tones = 0;
window.AudioContext = class {
  state = "suspended"; currentTime = 0; destination = {};
  resume() { this.state = "running"; return Promise.resolve(); }
  createOscillator() {
    return { frequency: {}, connect: (x) => x, start: () => { window.tones += 1; }, stop: () => {} };
  }
  createGain() { return { gain: {}, connect: (x) => x }; }
};
"""


class Everywhere(ScreenCase):
    clock_by_hand = True

    def setUp(self):
        super().setUp()
        self.page.add_init_script(TONES)

    def tones(self):
        return self.page.evaluate("window.tones")

    def timer(self):
        return self.page.get_by_role("region", name="Timer")

    def test_pressed_before_the_verdict(self):
        """Who presses before the verdict is there gets its minutes, mAh and alarm as soon as it comes."""
        held, answering = [], []
        self.page.route("**/api/run/go", lambda r: r.continue_() if answering else held.append(r))
        self.page.goto("/run/ptarmigan?pack=04")
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.19 4.18 4.19 4.18")
        self.page.get_by_role("button", name="Start the timer").click()
        expect(self.timer().get_by_text("running")).to_be_visible()
        answering.append(True)
        for route in held:
            route.continue_()
        self.timer().get_by_text("Use at most").wait_for()
        self.page.clock.run_for(20 * 60_000)
        self.timer().get_by_text("Land now.").wait_for()

    def test_it_sounds_wherever_one_is(self):
        """Begun at Run with cells, mAh and alarm; seen at Keep; run out there it sounds and the title tells.
        A reload keeps all, and it sounds again after the first press."""
        self.open("/run/ptarmigan?pack=04")
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.19 4.18 4.19 4.18")
        self.page.get_by_role("button", name="Start the timer").wait_for()
        self.page.get_by_role("button", name="Start the timer").click()
        self.timer().get_by_text("Use at most").wait_for()
        self.page.keyboard.press("Escape")
        self.page.get_by_role("navigation", name="Stages").get_by_role("link", name="Keep").click()
        self.page.get_by_text("Running: pack 04").wait_for()
        self.assertEqual(self.tones(), 0)
        self.page.clock.run_for(20 * 60_000)
        self.page.get_by_role("alert").filter(has_text="Land now: pack 04").wait_for()
        expect(self.page).to_have_title(re.compile("^LAND: .*Cold Stack$"))
        self.assertGreater(self.tones(), 1)
        self.page.reload()
        self.page.get_by_role("alert").filter(has_text="Land now: pack 04").wait_for()
        self.page.clock.run_for(3000)
        self.assertEqual(self.tones(), 0)
        self.page.keyboard.press("Shift")
        self.page.clock.run_for(5000)
        self.assertGreater(self.tones(), 0)
        self.page.get_by_role("link", name="Its timer").click()
        expect(self.page.get_by_label("Volts of 04, cells or pack")).to_have_value("4.19 4.18 4.19 4.18")
        self.page.get_by_role("button", name="Landed").click()
        expect(self.page.get_by_text("Land now")).to_have_count(0)
        self.page.clock.run_for(100)
        self.assert_accessible()
