"""Units as their reader has chosen them, in fields, figures and sentences of every screen."""

import re

from tests.screens.case import ScreenCase

METRIC = re.compile(r"(?<![\w/])\d[\d.,]*\s?(?:g|mm|°C)(?![\w/])")
"""A figure with its unit."""
HOURS = re.compile(r"\b(?:0\d|2[0-3]):[0-5]\d\b(?! [ap]m)|€")
"""A time by 24 hours, where no timer has as many minutes; a price in the sign of others."""
NAMES = re.compile(
    r"90 g one-cell|(?:1|1\.25|2|3\.5|4|5|5\.5|6|6\.5|8) mm (?:bullet|banana|one-cell)|PH 2 mm|60 × 30 mm"
)
"""What people and the trade call things: a model described by its owner, plugs, a tag's size."""
SCREENS = ("/size/ptarmigan", "/match/ptarmigan", "/charge/ptarmigan", "/run/ptarmigan?pack=05")
SCREENS += ("/size/ptarmigan?compare=true&pins=%5B%22owned:05%22,%22owned:01%22%5D", "/gear/packs?edit=05")
SCREENS += ("/keep/ptarmigan?pack=05", "/gear/catalogue?offers=true", "/gear/packs", "/gear/models", "/rules")
SCREENS += ("/safety", "/tags", "/new", "/practice?kind=which&seed=1", "/practice?kind=go&seed=3")
SCREENS += ("/practice?kind=gate&seed=0", "/practice?sheet=true&seed=2&count=24")


class Imperial(ScreenCase):
    def test_no_screen_says_grams_millimetres_or_celsius(self):
        """With °F, oz and in chosen: figures, hints, sentences and what is folded, everywhere."""
        self.open("/safety")
        for choice in ("ounces", "in inches", "°F", "2:30 pm", "Prices in $"):
            self.commands()
            self.page.keyboard.type(choice)
            self.page.keyboard.press("Enter")
        self.settled()
        for path in SCREENS:
            with self.subTest(path):
                self.open(path)
                self.page.evaluate("document.querySelectorAll('summary').forEach((x) => x.click())")
                self.settled()
                sheets = self.page.get_by_role("dialog").all_inner_texts()
                text = NAMES.sub("", "\n".join([self.page.locator("main").inner_text(), *sheets]))
                self.assertEqual(METRIC.findall(text), [], path)
                self.assertEqual(HOURS.findall(text), [], path)

    def test_figures_are_converted_once_and_kept_as_they_were(self):
        """A pack's temperature typed in °F on the bench is kept in °C; a refusal says its bounds in °F."""
        self.open("/charge/ptarmigan")
        self.commands()
        self.page.keyboard.type("°F")
        self.page.keyboard.press("Enter")
        self.settled()
        field = self.page.get_by_role("textbox", name="Temperature of 01, in °F")
        self.assertEqual(field.input_value(), "66.2")
        field.fill("50")
        field.blur()
        self.settled()
        laid = self.page.evaluate("fetch('/api/bench').then((r) => r.json())")
        temperatures = {x["pack"]: x["temperature_c"] for x in laid["bench"]["laid"]}
        self.assertEqual(temperatures["owned:01"], 10)
        self.page.get_by_role("textbox", name="Temperature of 01, in °F").fill("400")
        self.page.get_by_text("At most 248 °F is possible.").first.wait_for()
