"""Bringing a phone: the code, the pairing page, what a phone may, and letting it go."""

from django.test import override_settings
from django.utils import timezone
from playwright.sync_api import expect

from coldstack.server.pairing import page as pairing_page
from coldstack.server.pairing.invitations import invite
from coldstack.server.pairing.throttle import Throttle
from tests.clock import CLOCK
from tests.screens import quiet
from tests.screens.case import AXE, ScreenCase
from tests.screens.elsewhere import HEADER, MIDDLEWARE

ADDRESS = "http://192.168.1.5:8600/"


@override_settings(MIDDLEWARE=MIDDLEWARE)
class Bringing(ScreenCase):
    def setUp(self):
        super().setUp()
        pairing_page.throttle = Throttle()

    def sheet(self):
        """Find or do, Bring a phone."""
        self.commands()
        self.page.get_by_role("combobox", name="Find or do").fill("bring a phone")
        self.page.keyboard.press("Enter")
        return self.page.get_by_role("dialog", name="Bring a phone")

    def phone(self, scope=None):
        """A page on another machine, paired for this if said."""
        context = self._browser.new_context(
            base_url=self.live_server_url,
            viewport={"width": 390, "height": 844},
            extra_http_headers={HEADER: "192.168.1.77"},
        )
        self.addCleanup(context.close)
        context.add_init_script(CLOCK.in_browser())
        context.add_init_script(quiet.watch(timers_run=True))
        page = context.new_page()
        page.on("console", lambda m: self.problems.append(m.text) if "Policy" in m.text else None)
        if scope:
            code = invite(scope, now=timezone.now()).code
            page.goto(f"/pair?code={code}")
            page.get_by_role("button", name="Pair").click()
            page.get_by_text("This phone may").wait_for()
        return page

    def test_where_no_phone_reaches_it(self):
        """The sheet says how to start it."""
        self.open("/run/ptarmigan")
        sheet = self.sheet()
        sheet.get_by_text("cold-stack --host").wait_for()
        expect(sheet.get_by_text("No phone yet.")).to_be_visible()
        self.assert_accessible_in_every_light()

    def test_from_the_code_to_letting_it_go(self):
        """Shown here, typed there; what it may is said on every stage; removed it is out at once."""
        with override_settings(PHONE_ADDRESS=ADDRESS):
            self.open("/run/ptarmigan")
            sheet = self.sheet()
            sheet.get_by_role("radio", name="Look only").check()
            sheet.get_by_role("button", name="Show a code").click()
            sheet.get_by_role("img", name="Code to scan").wait_for()
            code = sheet.get_by_text("type").locator("span").last.inner_text()
            self.assert_accessible_in_every_light()
            phone = self.phone()
            phone.goto("/size/ptarmigan")
            phone.get_by_role("heading", name="Pair this device").wait_for()
            tall = phone.get_by_role("button", name="Pair").bounding_box()["height"]
            self.assertGreaterEqual(tall, 44, "its styles are let through")
            phone.evaluate(AXE.read_text())
            self.assertEqual(
                phone.evaluate("async () => (await axe.run(document)).violations.map(v => v.id)"), []
            )
            phone.get_by_label("The code").fill("AAAAA-AAAAA")
            phone.get_by_label("What to call").fill("Rhona’s phone")
            phone.get_by_role("button", name="Pair").click()
            phone.get_by_role("alert").get_by_text("This code is wrong").wait_for()
            expect(phone.get_by_label("What to call")).to_have_value("Rhona’s phone")
            phone.get_by_label("The code").fill(code)
            phone.get_by_role("button", name="Pair").click()
            phone.get_by_text("This phone may look only").wait_for()
            sheet.get_by_role("button", name="Remove Rhona’s phone").wait_for()
            sheet.get_by_role("button", name="Remove Rhona’s phone").click()
            expect(sheet.get_by_text("No phone yet.")).to_be_visible()
            # by itself, with the next thing that it asks
            phone.get_by_role("heading", name="Pair this device").wait_for()
            self.assert_clean()

    def test_looking_only(self):
        """It sizes with what it likes; what it would keep is refused in words, and nothing is kept."""
        self.page = self.phone("look")
        self.open("/size/ptarmigan")
        before = self.shortlist()
        self.field("Average").fill("9")
        expect(self.page.get_by_text("may look only. At the computer").first).to_be_visible()
        self.settled()
        self.assertNotEqual(self.shortlist(), before)
        self.page.reload()
        self.settled()
        expect(self.field("Average")).not_to_have_value("9")
