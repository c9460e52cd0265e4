"""Budgets of what a screen renders anew: counts, which no slow machine changes."""

from pathlib import Path

from tests.screens.case import ScreenCase

COUNTER = Path(__file__).with_name("renders.js")
A_DIGIT, COMMITS = 600, 12
"""Components that may run, and commits, for one digit typed: the field, the plan and the picked pack."""


class Size(ScreenCase):
    def setUp(self):
        super().setUp()
        self.page.add_init_script(path=COUNTER)

    def counted(self, act):
        """What the page renders by it until it is at rest."""
        self.settled()
        self.page.evaluate("Object.assign(window.renders, { ran: 0, made: 0, commits: 0 })")
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
            self.assertLessEqual(found["commits"], COMMITS, found)

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
