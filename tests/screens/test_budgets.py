"""Budgets of a screen's first paint: bytes and shifts, which no slow machine changes."""

import re

from coldstack.server.gear.models import OwnedPack
from tests.clock import CLOCK
from tests.screens.case import PATIENCE_MS, ScreenCase, expect

SCRIPT_BYTES = 150_000
"""Compressed, of all that runs before the first answer can be shown."""
SCRIPTS = """() => performance.getEntriesByType("resource").filter((x) => x.name.endsWith(".js"))
  .map((x) => [x.name.split("/").pop(), x.encodedBodySize])"""


class FirstLoad(ScreenCase):
    fresh_context = True

    def test_little_script_comes_before_the_first_answer(self):
        """While the plan is being computed all is there to show it, and nothing more has been fetched."""
        held = []
        self.page.route("**/api/models/ptarmigan/plan*", lambda route: held.append(route))
        self.page.goto("/size/ptarmigan")
        self.page.get_by_text("Running every candidate").wait_for()
        scripts = dict(self.page.evaluate(SCRIPTS))
        self.assertGreater(sum(scripts.values()), 50_000, "sizes are told")
        self.assertLess(sum(scripts.values()), SCRIPT_BYTES, scripts)
        self.assertFalse([name for name in scripts if name.startswith(("match", "charge", "gear"))])
        for route in held:
            route.continue_()
        self.settled()


SHIFT = 0.05
"""Of the window, by the browser's own reckoning: from 0.1 on people notice."""
WATCH = """window.shifts = [];
new PerformanceObserver((list) => {
  for (const x of list.getEntries())
    window.shifts.push([x.value, x.sources.map((s) => s.node?.parentElement?.outerHTML?.slice(0, 90))]);
}).observe({ type: "layout-shift", buffered: true });"""
SCREENS = ("/size/ptarmigan", "/match/ptarmigan", "/charge/ptarmigan", "/run/ptarmigan", "/keep/ptarmigan")
SCREENS += ("/gear/packs", "/gear/catalogue", "/rules", "/safety", "/tags", "/new", "/practice")
SCREENS += ("/practice?sheet=true",)


class HoldsStill(ScreenCase):
    fresh_context = True

    def test_a_screen_keeps_its_place_from_the_first_paint(self):
        """Opened cold, nothing that was painted moves when the answers come."""
        self.page.add_init_script(WATCH)
        for path in SCREENS:
            with self.subTest(path):
                self.open(path)
                shifts = self.page.evaluate("window.shifts")
                self.assertLessEqual(sum(value for value, _ in shifts), SHIFT, shifts)


class HoldsStillOnPhones(HoldsStill):
    width, height, touch = 390, 844, True


LARGE = """document.addEventListener("DOMContentLoaded",
  () => { document.documentElement.style.fontSize = "24px"; })"""
"""As a browser is set to half as large letters again."""


class LargeLetters(ScreenCase):
    def test_nothing_leaves_the_page(self):
        """With letters half as large again, at a desk and on a phone, no screen scrolls sideways."""
        self.page.add_init_script(LARGE)
        for width, height in ((1280, 800), (390, 844)):
            self.page.set_viewport_size({"width": width, "height": height})
            for path in SCREENS:
                with self.subTest(path, width=width):
                    self.open(path)
                    self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), width)


NODES, STOPS = 3000, 150
"""Of a screen's document; and of places where the tab key stops."""
REACHED = """() => [...document.querySelectorAll("a[href], button, input, select, summary, [tabindex]")]
  .filter((x) => x.tabIndex >= 0 && !x.disabled && x.checkVisibility()).length"""
MANY = ("/size/ptarmigan", "/match/ptarmigan", "/charge/ptarmigan", "/run/ptarmigan", "/keep/ptarmigan")
MANY += ("/gear/packs", "/tags")


SLOWEST_MS = 180_000
"""Waited for at most: what a screen holds is counted here, not how soon."""


class FiveHundredPacks(ScreenCase):
    def setUp(self):
        super().setUp()
        # five hundred packs asked for the first time, beside other processes that begin: small, not fast
        self.page.set_default_timeout(SLOWEST_MS)
        self.addCleanup(self.page.set_default_timeout, PATIENCE_MS)
        own = list(OwnedPack.live.all())
        fields = [f.name for f in OwnedPack._meta.fields if f.name not in ("id", "tag")]
        OwnedPack.objects.bulk_create(
            OwnedPack(**{name: getattr(own[i % len(own)], name) for name in fields}, tag=f"B{i:03}")
            for i in range(500)
        )
        # what is taken along for the field comes pack by pack, behind the screen
        none = {"made": CLOCK.now().isoformat(), "job": "", "kits": []}
        self.page.route("**/api/run/kits*", lambda route: route.fulfill(json=none))

    def test_screens_stay_small(self):
        """Of long lists what is seen is drawn, wherever one scrolls to; the tab key passes the rest."""
        for path in MANY:
            with self.subTest(path):
                self.open(path)
                for share in (0, 0.6, 1):
                    self.page.evaluate(f"scrollTo(0, {share} * document.body.scrollHeight)")
                    self.settled()
                    nodes = self.page.evaluate("document.querySelectorAll('*').length")
                    self.assertLessEqual(nodes, NODES, share)
                    self.assertGreater(nodes, 200)
                    self.assertLessEqual(self.page.evaluate(REACHED), STOPS, share)

    def test_rows_far_away_are_reached_by_keys_and_by_a_search(self):
        """The arrows go on from the row that has the focus, also to rows that were not drawn."""
        self.open("/gear/packs")
        self.page.get_by_role("button", name=re.compile("^Hollin 4S 3700")).first.focus()
        for _ in range(9):
            self.page.keyboard.press("PageDown")
            self.settled()
        row = self.page.locator("tr:focus-within")
        self.assertEqual(row.get_attribute("aria-rowindex"), "92")
        self.page.keyboard.press("ArrowRight")
        expect(row.get_by_role("button", name=re.compile("^Copy"))).to_be_focused()
        self.open("/keep/ptarmigan")
        self.page.get_by_role("searchbox", name="Search packs").fill("b499")
        link = self.page.get_by_role("region", name="The shelf").get_by_role("link", name=re.compile("B499"))
        link.click()
        self.page.get_by_role("article", name="Pack B499").wait_for()

    def test_all_are_printed(self):
        """On paper there is no scrolling: every row is there."""
        self.open("/gear/packs")
        rows = self.page.locator("tr[data-index]")
        self.assertLess(rows.count(), 100)
        self.page.evaluate("dispatchEvent(new Event('beforeprint'))")
        self.assertEqual(rows.count(), 526)
        self.page.evaluate("dispatchEvent(new Event('afterprint'))")
        self.settled()
        self.assertLess(rows.count(), 100)
