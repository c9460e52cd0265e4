"""Over an encrypted line the program itself is kept: it opens without the computer, and says of what hour it
is."""

import socket
import tempfile
from datetime import UTC, datetime
from pathlib import Path

from django.core.wsgi import get_wsgi_application
from playwright.sync_api import expect

from coldstack.server.pairing.authority import certified
from coldstack.server.worlds import tls_server
from tests.clock import CLOCK
from tests.screens import quiet
from tests.screens.case import ScreenCase, browser, chromium_path
from tests.screens.test_without_line import HAS_KIT

CONTROLLED = "() => navigator.serviceWorker.ready.then(() => Boolean(navigator.serviceWorker.controller))"


class Kept(ScreenCase):
    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        files = certified(Path(folder.name), ["127.0.0.1"], now=datetime.now(UTC))
        [self.tls] = tls_server.start(get_wsgi_application(), [("127.0.0.1", port)], files)
        self.addCleanup(self.tls.stop)
        # a browser that takes our authority for granted: workers want a line that is trusted
        ours = browser().browser_type.launch(
            executable_path=chromium_path(), args=["--ignore-certificate-errors"]
        )
        self.addCleanup(ours.close)
        context = ours.new_context(
            base_url=f"https://127.0.0.1:{port}",
            viewport={"width": 390, "height": 844},
            ignore_https_errors=True,
        )
        context.add_init_script(CLOCK.in_browser())
        context.add_init_script(quiet.watch(timers_run=True))
        self.page = context.new_page()

    def test_without_the_computer(self):
        """Kept at the first visit; then the page, what it read and the kit are there, each with its hour."""
        self.page.goto("/keep/ptarmigan")
        self.page.wait_for_function("() => navigator.serviceWorker.ready.then(() => true)")
        self.page.reload()
        self.page.wait_for_function(CONTROLLED)
        self.page.get_by_text("Bring to storage").first.wait_for()
        self.page.goto("/run/ptarmigan?pack=04")
        self.page.wait_for_function(HAS_KIT, arg="04")
        self.page.get_by_label("Volts of 04, cells or pack").wait_for()
        self.settled()
        expect(self.page.get_by_text("No line to the computer since")).to_have_count(0)
        self.tls.stop()
        self.page.reload()
        self.page.get_by_text("No line to the computer since").wait_for()
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.18 4.19 4.18 4.19")
        self.page.get_by_text("By the field kit").wait_for()
        self.page.get_by_role("navigation", name="Stages").get_by_role("link", name="Keep").click()
        self.page.get_by_text("Bring to storage").first.wait_for()
        kept = self.page.evaluate(
            "caches.open('cold-stack-reads').then((c) => c.keys()).then((all) => all.map((r) => r.method))"
        )
        self.assertEqual(set(kept), {"GET"})

    def test_taken_along_with_one_press(self):
        """Of two models: how much came and until when. Then, without the computer: the other model's
        verdict, a pack's page that was never opened, and what to do in a fire; a model that was left behind
        says so."""
        self.page.goto("/run/ptarmigan")
        self.page.wait_for_function("() => navigator.serviceWorker.ready.then(() => true)")
        self.page.reload()
        self.page.wait_for_function(CONTROLLED)
        along = self.page.get_by_role("region", name="Take along")
        along.get_by_label("Stoat").check()
        along.get_by_role("button", name="Take along").click()
        along.get_by_text("It stays new by itself").wait_for()
        self.assertRegex(along.get_by_role("status").inner_text(), r"^(\d+) of \1, until ")
        self.tls.stop()
        self.page.goto('/run/stoat?pack="14"')
        self.page.get_by_label("Volts of 14, cells or pack").fill("4.19 4.18")
        self.page.get_by_text("By the field kit").wait_for()
        self.page.goto('/keep/stoat?pack="05"')
        self.page.get_by_text("honest C now", exact=True).wait_for()
        self.page.goto("/safety")
        self.page.get_by_role("heading", name="Safety", level=1).wait_for()
        self.page.goto("/run/dipper")
        self.page.get_by_text("could not be asked").wait_for()
