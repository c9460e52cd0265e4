"""In the field without a line: the kit's verdict, with its hour; and what it keeps silent about."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from coldstack.server.life.models import Event
from tests.clock import CLOCK
from tests.screens.case import ScreenCase

HAS_KIT = """async (pack) => {
  if (!(await indexedDB.databases()).some((d) => d.name === "keyval-store")) return false;
  const asked = (request) => new Promise((done) => { request.onsuccess = () => done(request.result); });
  const kept = await asked(indexedDB.open("keyval-store"));
  const kit = await asked(kept.transaction("keyval").objectStore("keyval").get("kit:ptarmigan/" + pack));
  kept.close();
  return Boolean(kit);
}"""


class WithoutLine(ScreenCase):
    width, height, touch = 390, 844, True

    def cut(self):
        """The computer answers no more."""
        self.page.route("**/api/**", lambda route: route.abort())

    def verdict(self):
        return self.page.get_by_role("region", name="Go or no go")

    def figures(self):
        """Timer, mAh, alarm, without the way to their workings."""
        return [t.split("\n")[0] for t in self.verdict().locator("dd").all_inner_texts()]

    def test_by_the_kit(self):
        """Taken along while there was a line. The verdict says that it is the kit's and of what hour, the
        timer has its limits. After the run, which waits, the pack has to cool; seen swollen it is no go."""
        self.open("/run/ptarmigan?pack=04")
        self.page.wait_for_function(HAS_KIT, arg="04")
        cells = self.page.get_by_label("Volts of 04, cells or pack")
        cells.fill("4.19 4.18 4.19 4.18")
        self.verdict().get_by_text("Go", exact=True).wait_for()
        here = self.figures()
        self.cut()
        cells.fill("4.18 4.19 4.18 4.19")
        self.verdict().get_by_text("By the field kit").wait_for()
        expect(self.verdict().get_by_text("Go", exact=True)).to_be_visible()
        expect(self.page.get_by_role("alert").filter(has_text="No line to the computer")).to_be_visible()
        self.assertEqual(self.figures(), here)
        cells.fill("4.18 4.19 4.18 4.10")
        self.verdict().get_by_text("No go", exact=True).wait_for()
        self.verdict().get_by_text("Its cells differ by 0.090 V").wait_for()
        cells.fill("4.18 4.19 4.18 4.19")
        self.page.get_by_role("button", name="Start the timer").click()
        timer = self.page.get_by_role("region", name="Timer")
        timer.get_by_text("Use at most").wait_for()
        timer.get_by_role("button", name="Landed").click()
        self.page.get_by_text("to be sent").first.wait_for()
        self.page.get_by_role("button", name="Done").click()
        self.page.get_by_text("Run here at").wait_for()
        self.page.get_by_text("spent").first.wait_for()
        cells.fill("4.18 4.19 4.18 4.19")
        self.verdict().get_by_text("It was just run: let it cool.").wait_for()
        self.page.get_by_label("Pack, °C").fill("24")
        self.verdict().get_by_text("Go", exact=True).wait_for()

    def test_damage_seen_without_a_line(self):
        """Puffed: what to do now stands there; the same cells are no go at once, by the kit, in the list and
        on the shelf; and at the computer once it was sent."""
        self.open("/keep/ptarmigan")
        self.open("/run/ptarmigan?pack=04")
        self.page.wait_for_function(HAS_KIT, arg="04")
        cells = self.page.get_by_label("Volts of 04, cells or pack")
        cells.fill("4.19 4.18 4.19 4.18")
        self.verdict().get_by_text("Go", exact=True).wait_for()
        self.page.get_by_role("button", name="Start the timer").click()
        self.cut()
        self.page.get_by_role("button", name="Puffed").click()
        self.page.get_by_role("alert").get_by_text("Put it outside, on stone or bare earth").wait_for()
        self.assertEqual(self._axe(), [])
        self.page.get_by_role("button", name="Done").click()
        cells.fill("4.19 4.18 4.19 4.18")
        self.verdict().get_by_text("No go", exact=True).wait_for()
        self.verdict().get_by_text("Swollen: gas has formed inside").wait_for()
        self.page.get_by_role("button", name="Another pack").click()
        row = self.page.get_by_role("button", name=re.compile("^04"))
        row.get_by_text("Nobody runs it before that is settled").wait_for()
        self.page.unroute("**/api/**")
        expect(self.page.get_by_text("here to be sent")).to_have_count(0)
        signs = Event.standing.filter(pack__tag="04", kind="inspection").order_by("at").last().signs
        self.assertEqual(signs, ["swollen"])

    def test_without_a_kit(self):
        """Said, and nothing invented."""
        self.page.route("**/api/run/kit*", lambda route: route.abort())
        self.open("/run/ptarmigan?pack=04")
        self.cut()
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.18 4.19 4.18 4.19")
        self.page.get_by_text("There is no field kit of this pack here").wait_for()
        expect(self.verdict()).to_have_count(0)

    def test_taken_anew_when_it_holds_no_more(self):
        """A rule changed at the computer: the kit that is asked without a line goes by it."""
        self.open("/run/ptarmigan?pack=04")
        self.page.wait_for_function(HAS_KIT, arg="04")
        asked = []
        self.page.on("request", lambda r: asked.append(r.url) if "/run/kit?" in r.url else None)
        self.page.reload()
        self.page.get_by_label("Volts of 04, cells or pack").wait_for()
        self.settled()
        self.assertEqual([url for url in asked if "pack=04" in url], [])
        row = RcModel.live.get(slug="ptarmigan")
        row.job = {**row.job, "house_rules": "long_life"}
        row.save()
        with self.page.expect_response(lambda r: "/run/kit?" in r.url and "pack=04" in r.url) as answered:
            self.page.reload()
        alarm_v = answered.value.json()["kits"][0]["kit"]["alarm_v"]
        self.page.get_by_label("Volts of 04, cells or pack").wait_for()
        self.settled()
        self.cut()
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.18 4.19 4.18 4.19")
        self.verdict().get_by_text("By the field kit").wait_for()
        self.assertGreater(alarm_v, 4 * 3.5)
        self.assertEqual(self.figures()[2], f"{alarm_v:.1f} V")

    def test_a_server_that_hangs(self):
        """After a moment the kit speaks; when the answer comes it is the server's again."""
        held, answering = [], []
        self.page.route("**/api/run/go", lambda r: r.continue_() if answering else held.append(r))
        self.page.goto("/run/ptarmigan?pack=04")
        self.page.wait_for_function(HAS_KIT, arg="04")
        self.page.get_by_label("Volts of 04, cells or pack").fill("4.18 4.19 4.18 4.19")
        self.verdict().get_by_text("By the field kit").wait_for()
        answering.append(True)
        for route in held:
            route.continue_()
        expect(self.verdict().get_by_text("By the field kit")).to_have_count(0)
        expect(self.verdict().get_by_text("Go", exact=True)).to_be_visible()

    def test_a_note_and_a_state_wait(self):
        """Said without a line they wait, on every stage; they are sent once, as of when they were said."""
        self.open("/keep/ptarmigan?pack=04")
        note = self.page.get_by_label("A note about 04")
        note.wait_for()
        before = Event.objects.count()
        self.cut()
        note.fill("Dropped on its corner.")
        said = CLOCK.now()
        self.page.get_by_role("button", name="Note it").click()
        self.page.get_by_text("1 note waits here to be sent").wait_for()
        expect(note).to_have_value("")
        # what was read stays, whatever is asked for anew in vain
        self.page.get_by_role("button", name="Try again").click()
        expect(self.page.get_by_role("article", name="Pack 04")).to_be_visible()
        self.page.get_by_role("navigation", name="Stages").get_by_role("link", name="Run").click()
        expect(self.page.get_by_text("1 note waits here to be sent")).to_be_visible()
        self.assertEqual(Event.objects.count(), before)
        self.page.unroute("**/api/**")
        expect(self.page.get_by_text("waits here to be sent")).to_have_count(0)
        self.assertEqual(Event.objects.count(), before + 1)
        kept = Event.objects.latest("id")
        self.assertEqual((kept.kind, kept.text), ("note", "Dropped on its corner."))
        self.assertLess(abs((kept.at - said).total_seconds()), 30)
