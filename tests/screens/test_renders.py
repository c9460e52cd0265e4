"""Budgets of what a screen renders anew: counts, which no slow machine changes."""

from pathlib import Path

from tests.screens.case import ScreenCase

COUNTER = Path(__file__).with_name("renders.js")
A_DIGIT, COMMITS, SMALL = 400, 2, 20
"""Components that may run for one digit typed, and commits: the field, the answer. One of so few components
is a word or a link that changes: *Saved*, the stages for the pack that is best now."""
STEPS, A_STEP = 30, 150
"""Of a drag; components that may run for each."""


class Size(ScreenCase):
    def setUp(self):
        super().setUp()
        self.page.add_init_script(path=COUNTER)

    def counted(self, act):
        """What the page renders by it until it is at rest."""
        self.settled()
        self.page.evaluate("Object.assign(window.renders, { ran: 0, made: 0, commits: [] })")
        act()
        self.settled()
        return self.page.evaluate("window.renders")

    def test_a_digit_renders_what_it_changes(self):
        """Typed in a want, and in a figure of the draw; the figures' popovers are not among it."""
        self.open("/size/ptarmigan")
        for field, digit in (("Minutes, at least", "5"), ("Average", "1")):
            box = self.page.get_by_role("textbox", name=field, exact=True)
            box.focus()
            self.page.keyboard.press("End")
            found = self.counted(lambda digit=digit: self.page.keyboard.type(digit))
            self.assertGreater(found["ran"], 20, "the counter counts")
            self.assertLess(found["ran"], A_DIGIT, found)
            drawn = [n for n in found["commits"] if n > SMALL]
            self.assertLessEqual(len(drawn), COMMITS, found)

    def test_a_drag_renders_what_it_moves(self):
        self.open("/size/ptarmigan")
        box = self.page.get_by_role("slider", name="Mass of the pack, at most").bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

        def drag():
            self.page.mouse.move(x, y)
            self.page.mouse.down()
            for step in range(STEPS):
                self.page.mouse.move(x + 2 * step, y)
            self.page.mouse.up()

        found = self.counted(drag)
        self.assertGreater(found["ran"], STEPS, "it was dragged")
        self.assertLess(found["ran"] + found["made"], STEPS * A_STEP, found)

    def test_a_working_costs_nothing_until_it_is_asked_for(self):
        """Opened from the keyboard it has the focus; Escape gives it back to its number, a click elsewhere
        takes it away, and the number closes it too."""
        self.open("/size/ptarmigan")
        number = self.page.get_by_role("button", name="Timer: show working")
        working = self.page.get_by_role("dialog", name="Working: Timer")
        number.focus()
        self.page.keyboard.press("Enter")
        working.wait_for()
        self.assertEqual(number.get_attribute("aria-expanded"), "true")
        self.page.keyboard.press("Escape")
        working.wait_for(state="detached")
        self.assertTrue(number.evaluate("x => x === document.activeElement"))
        number.click()
        working.wait_for()
        number.click()
        working.wait_for(state="detached")
        number.click()
        working.wait_for()
        self.page.get_by_role("heading", level=2).first.click()
        working.wait_for(state="detached")
