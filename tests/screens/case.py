"""A browser on the real server, with the demo world, for the tests of the screens."""

from __future__ import annotations

import os
import re
import shutil
import unittest
from functools import cache
from multiprocessing.util import Finalize

from django.test import LiveServerTestCase, tag
from playwright.sync_api import expect, sync_playwright

from coldstack.server.config.paths import PROJECT
from tests.clock import CLOCK
from tests.demo_world import demo_world
from tests.screens import quiet
from tests.screens.slowly import slowly

ARTIFACTS = PROJECT / "test-artifacts"
PATIENCE_MS = float(os.environ.get("SCREEN_PATIENCE_MS", "30000"))
expect.set_options(timeout=PATIENCE_MS)
AXE = PROJECT / "web" / "node_modules" / "axe-core" / "axe.min.js"


def chromium_path():
    """Where Chromium is; None without it."""
    return shutil.which("chromium-headless-shell")


@cache
def browser():
    """One Chromium for all tests of a process: each test has a context of its own in it."""
    chromium = chromium_path()
    if chromium is None and not os.environ.get("CI"):
        raise unittest.SkipTest("no Chromium; make test installs it")
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"  # Playwright keeps a loop running in this thread
    playwright = sync_playwright().start()
    Finalize(None, playwright.stop, exitpriority=1)  # also where a forked process ends
    return playwright.chromium.launch(executable_path=chromium, args=["--font-render-hinting=none"])


@tag("browser")
class ScreenCase(LiveServerTestCase):
    """Each test gets a fresh context; console errors, page errors and failing axe rules are failures."""

    static_handler = staticmethod(slowly)  # files come as they are really served
    width, height, scheme, touch = 1280, 800, "light", False
    forced = "none"
    """Whether the system forces its own colours: none or active."""
    clock_by_hand = False
    """Whether the page's timers run only while the test lets them."""
    world = True
    """Whether the demo world is loaded."""

    @classmethod
    def setUpClass(cls):
        cls._browser = browser()
        super().setUpClass()

    def setUp(self):
        if self.world:
            demo_world()
        self.problems = []
        self.context = self._browser.new_context(
            base_url=self.live_server_url,
            viewport={"width": self.width, "height": self.height},
            color_scheme=self.scheme,
            forced_colors=self.forced,
            has_touch=self.touch,
            timezone_id="UTC",
        )
        self.addCleanup(self.context.close)
        if not self.clock_by_hand:
            self.context.add_init_script(CLOCK.in_browser())
        self.context.add_init_script(quiet.watch(timers_run=not self.clock_by_hand))
        self.page = self.context.new_page()
        if self.clock_by_hand:
            self.page.clock.install(time=CLOCK.now())
        # patient by default: this machine may be busy
        self.page.set_default_timeout(PATIENCE_MS)
        self.page.on(
            "console", lambda m: self.problems.append(m.text) if m.type in ("error", "warning") else None
        )
        self.page.on("pageerror", lambda e: self.problems.append(str(e)))

    def _callTestMethod(self, method):  # the one place that knows of a failure
        try:
            super()._callTestMethod(method)
        except unittest.SkipTest:
            raise
        except BaseException:
            ARTIFACTS.mkdir(exist_ok=True)
            name = re.sub(r"\W+", "-", self.id())
            self.page.screenshot(path=ARTIFACTS / f"{name}.png", full_page=True)
            raise

    def open(self, address="/"):
        """Go to an address and wait for the plan."""
        self.page.goto(address)
        self.settled()

    def settled(self):
        """Wait until nothing is being computed or saved."""
        self.page.wait_for_function(quiet.AT_REST)
        self.page.get_by_text("Saving…").wait_for(state="hidden")

    def field(self, label):
        """A number field of the job."""
        return self.page.get_by_role("textbox", name=label, exact=True)

    def fill(self, label, text):
        """Type into a field and let everything follow."""
        self.field(label).fill(text)
        self.settled()

    def shortlist(self):
        """Names of the packs in the shortlist and the near misses, in order."""
        return [
            t.strip() for t in self.page.locator("table:not(details table) tbody th button").all_inner_texts()
        ]

    def picked(self):
        """Name of the picked pack."""
        return (
            self.page.get_by_role("region", name="The picked pack")
            .get_by_role("heading", level=2)
            .inner_text()
        )

    def assert_accessible(self):
        """Axe finds nothing, and the console is clean."""
        self.page.evaluate(AXE.read_text())
        self.assertEqual(self._axe(), [])
        self.assert_clean()

    def assert_accessible_in_every_light(self):
        """By day; and its colours by night, and where the system forces its own."""
        self.assert_accessible()
        for light in ({"color_scheme": "dark"}, {"forced_colors": "active"}):
            with self.subTest(**light):
                self.page.emulate_media(**light)
                self.assertEqual(self._axe(runOnly=["color-contrast", "link-in-text-block"]), [])
                self.page.emulate_media(color_scheme=self.scheme, forced_colors=self.forced)

    def _axe(self, **options):
        return self.page.evaluate(
            "async (options) => (await axe.run(document, options)).violations.map(v => v.id + ': ' + "
            "v.nodes.map(n => n.target).join(' '))",
            options,
        )

    def assert_clean(self):
        """No error or warning in the console but those of requests refused on purpose."""
        self.assertEqual(
            [p for p in self.problems if "status of 422" not in p and "status of 404" not in p], []
        )

    def assert_no_sideways_scroll(self):
        """The page is no wider than the window."""
        self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), self.width)
