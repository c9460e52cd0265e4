"""The frame around the stages: commands, help, keys, and the server gone."""

from coldstack.server.gear.models import RcModel
from tests.screens.case import ScreenCase


class FrameOfTheProgram(ScreenCase):
    fresh_context = True

    def test_commands_find_a_model(self):
        """Ctrl K, a few letters, Enter."""
        self.open("/")
        self.commands()
        self.page.keyboard.type("grebe")
        self.page.keyboard.press("Enter")
        self.settled()
        self.assertIn("/size/grebe", self.page.url)

    def test_commands_change_units_everywhere(self):
        """Ounces in fields, table and stack's line; typed ounces are kept as grams."""
        self.open("/")
        self.commands()
        self.page.keyboard.type("ounces")
        self.page.keyboard.press("Enter")
        self.assertEqual(self.field("Pack, at most").input_value(), "14.815")
        self.fill("Pack, at most", "16")
        self.assertAlmostEqual(
            RcModel.objects.get(slug="ptarmigan").job["wants"]["mass_g"], 453.59, delta=0.01
        )

    def test_help_has_keys_and_words(self):
        """The question mark opens it; axe finds nothing in it."""
        self.open("/")
        self.page.keyboard.press("?")
        self.page.get_by_role("dialog").get_by_text("honest C", exact=True).wait_for()
        self.assert_accessible()

    def test_everything_is_reached_by_tab(self):
        """From the skip link to the shortlist without a trap, and each stop is visible or becomes so."""
        self.open("/")
        seen = set()
        for _ in range(110):
            self.page.keyboard.press("Tab")
            seen.add(
                self.page.evaluate(
                    "() => { const e = document.activeElement; return e.getAttribute('aria-label') || "
                    "e.innerText || e.id }"
                )
            )
        for words in (
            "Skip to the work",
            "Minutes wanted, at least",
            "Mass of the pack, at most",
            "Read a watt-meter log…",
        ):
            self.assertIn(words, seen)
        self.assertTrue(any("Pin " in s for s in seen))

    def test_the_server_gone_is_told_and_tried_again(self):
        """A change while the line is down: the plan says so, and what was typed stays; when it is back
        the plan is asked for again, by a press or by itself."""
        self.open("/")
        self.context.route("**/api/sizing/plan", lambda route: route.abort())
        self.field("Average").fill("15")
        self.page.get_by_text("The server does not answer. Is Cold Stack still running?").wait_for()
        self.assertEqual(self.field("Average").input_value(), "15")
        self.context.unroute("**/api/sizing/plan")
        self.page.evaluate(
            "[...document.querySelectorAll('button')].find((b) => b.textContent === 'Try again')?.click()"
        )
        self.page.get_by_text("The server does not answer").wait_for(state="hidden")
