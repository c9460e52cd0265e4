"""A browser on the real server, with the demo world, for the tests of the screens."""

from __future__ import annotations

import json
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
from tests.demo_world import put_back
from tests.screens import quiet
from tests.screens.served import IN_FLIGHT, KEPT, served

ARTIFACTS = PROJECT / "test-artifacts"
PATIENCE_MS = float(os.environ.get("SCREEN_PATIENCE_MS", "30000"))
expect.set_options(timeout=PATIENCE_MS)
AXE = PROJECT / "web" / "node_modules" / "axe-core" / "axe.min.js"


def chromium_path():
    """Where Chromium is; None without it."""
    return shutil.which("chromium-headless-shell")


STATE = """() => document.documentElement.outerHTML.replace(/nonce="[^"]*"|radix-[^"]*/g, "")
  + matchMedia("(prefers-color-scheme: dark)").matches + matchMedia("(forced-colors: active)").matches"""
JUDGE = """async (options) => (await axe.run(document, options)).violations.map(
  v => v.id + ': ' + v.nodes.map(n => n.target).join(' '))"""
_judged: set[tuple[str, ...]] = set()
"""States of a page in which axe found nothing: each is looked at once."""


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
    """Each test gets a page of its own in a browser that remembers nothing but the program's files; console
    errors, page errors and failing axe rules are failures."""

    static_handler = staticmethod(served)  # files come as they are really served
    width, height, scheme, touch = 1280, 800, "light", False
    forced = "none"
    """Whether the system forces its own colours: none or active."""
    clock_by_hand = False
    """Whether the page's timers run only while the test lets them."""
    world = True
    """Whether the demo world is loaded."""
    fresh_context = False
    """Whether each test gets a context of its own: for those that open more pages in it, or cut its line."""
    context = None

    @classmethod
    def setUpClass(cls):
        cls._browser = browser()
        cls.context = None
        super().setUpClass()

    @classmethod
    def tearDownClass(cls):
        if cls.context is not None:
            cls.context.close()
        super().tearDownClass()
        put_back("empty")

    def _fixture_teardown(self):
        """The next one puts the whole database back: no need to empty it table by table."""

    def setUp(self):
        world = "demo" if self.world else "empty"
        IN_FLIGHT.over()
        put_back(world)
        KEPT.begin(world)
        self.problems = []
        if self.fresh_context:
            self.context = self._new_context()
            self.addCleanup(self.context.close)
            self._prepare(self.context)
            self.page = self.context.new_page()
        else:
            if type(self).context is None:
                type(self).context = self._new_context()
            self.page = self.context.new_page()
            self.addCleanup(self._forget)
            self._prepare(self.page)
        if self.clock_by_hand:
            self.page.clock.install(time=CLOCK.now())
        # patient by default: this machine may be busy
        self.page.set_default_timeout(PATIENCE_MS)
        self.page.on(
            "console", lambda m: self.problems.append(m.text) if m.type in ("error", "warning") else None
        )
        self.page.on("pageerror", lambda e: self.problems.append(str(e)))

    def _new_context(self):
        return self._browser.new_context(
            base_url=self.live_server_url,
            viewport={"width": self.width, "height": self.height},
            color_scheme=self.scheme,
            forced_colors=self.forced,
            has_touch=self.touch,
            timezone_id="UTC",
        )

    def _prepare(self, pages):
        """Before any script of ours: the hour of the tests, and what tells when a page is at rest."""
        if not self.clock_by_hand:
            pages.add_init_script(CLOCK.in_browser())
        pages.add_init_script(quiet.watch(timers_run=not self.clock_by_hand))

    def _forget(self):
        """What the page kept goes with it, but for the program's files."""
        kept = {"origin": self.live_server_url, "storageTypes": "all"}
        page = self.context.new_page() if self.page.is_closed() else self.page
        self.context.new_cdp_session(page).send("Storage.clearDataForOrigin", kept)
        page.close()

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

    def post(self, path, body):
        """As a page of the program sends it; what came."""
        token = next(c["value"] for c in self.context.cookies() if c["name"] == "csrftoken")
        headers = {"X-CSRFToken": token, "Content-Type": "application/json", "Origin": self.live_server_url}
        reply = self.context.request.post(self.live_server_url + path, data=json.dumps(body), headers=headers)
        self.assertLess(reply.status, 300, reply.text())
        return reply.json()

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

    def pick(self, label, words):
        """Choose what these words fit first."""
        self.page.get_by_role("combobox", name=label, exact=True).fill(words)
        self.page.keyboard.press("Enter")

    def ready_by(self, time, day):
        """The bench is to be ready by then."""
        self.page.get_by_role("textbox", name="Ready by").fill(time)
        self.page.get_by_label("On the day").fill(day)

    def commands(self):
        """Open the command list, ready to be typed into."""
        self.page.keyboard.press("Control+k")
        expect(self.page.get_by_role("combobox", name="Find or do")).to_be_focused()

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
        state = (self.page.evaluate(STATE), str(self.page.viewport_size), str(options))
        if state in _judged:
            return []
        if not self.page.evaluate("() => 'axe' in window"):
            self.page.evaluate(AXE.read_text())
        found = self.page.evaluate(JUDGE, {**options, "resultTypes": ["violations"]})
        if not found:
            _judged.add(state)
        return found

    def assert_clean(self):
        """No error or warning in the console but those of requests refused on purpose."""
        self.assertEqual(
            [p for p in self.problems if "status of 422" not in p and "status of 404" not in p], []
        )

    def assert_no_sideways_scroll(self):
        """The page is no wider than the window."""
        self.assertLessEqual(self.page.evaluate("document.documentElement.scrollWidth"), self.width)
