"""A friend's pack on a phone, from an empty box to given back."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import OwnedPack
from tests.screens.case import ScreenCase


class AFriendsPack(ScreenCase):
    width, height, touch = 390, 844, True

    def test_taken_in_run_and_given_back(self):
        """One line; what is no pack is told there and stays; read by the whole it is no go, by each cell with
        care and short; given back it is gone, and undone it is there."""
        self.open("/run/ptarmigan")
        self.page.get_by_text("A friend’s pack").click()
        line = self.page.get_by_label("Its tag and its label, in one line")
        line.fill("K3 red")
        self.page.get_by_role("button", name="Take it in").click()
        self.page.get_by_role("alert").get_by_text("No cells in series").wait_for()
        self.assertEqual(line.input_value(), "K3 red")
        line.fill("K3 4S 4000 35C XT60")
        self.page.get_by_role("button", name="Take it in").click()
        cells = self.page.get_by_label("Volts of K3, cells or pack")
        cells.fill("16.7")
        self.page.get_by_text("its cells were not read one by one").wait_for()
        self.page.get_by_text("No go", exact=True).wait_for()
        cells.fill("4.19 4.18 4.19 4.18")
        found = self.page.get_by_role("region", name="Go or no go")
        found.get_by_text("Go, with care", exact=True).wait_for()
        found.get_by_text("it is run 70 % as long").wait_for()
        self.assert_accessible()
        self.assert_no_sideways_scroll()
        self.open("/keep/ptarmigan?pack=K3")
        self.page.get_by_text("Its past is unknown: read each cell").wait_for()
        self.page.get_by_text("Until 3 charges, runs or checks more.").wait_for()
        self.page.get_by_role("button", name="Given back").click()
        self.page.get_by_text("Gave K3 back").wait_for()
        expect(self.page.get_by_role("link", name=re.compile("^K3"))).to_have_count(0)
        self.page.get_by_role("status", name="Messages").get_by_role("button", name="Undo").click()
        self.page.get_by_text("Undone: Gave K3 back").wait_for()
        self.open("/keep/ptarmigan?pack=K3")
        self.page.get_by_text("Its past is unknown: read each cell").wait_for()

    def test_taken_in_without_a_line(self):
        """At the field, where there is none: the line waits, over a reload too, and says what nobody knows
        yet; a line later the pack is there, once, and what is no pack is told back."""
        self.open("/run/ptarmigan")
        self.page.get_by_text("A friend’s pack").click()
        self.page.route("**/api/lent", lambda route: route.abort())
        line = self.page.get_by_label("Its tag and its label, in one line")
        for said in ("K3 4S 4000 35C XT60", "K4 red"):
            line.fill(said)
            self.page.get_by_role("button", name="Take it in").click()
            self.page.get_by_text(f"“{said}” waits for a line").wait_for()
            expect(line).to_have_value("")
        self.page.get_by_text("2 friend’s packs wait here to be sent").wait_for()
        self.assert_no_sideways_scroll()
        self.page.reload()
        self.page.get_by_text("2 friend’s packs wait here to be sent").wait_for()
        self.assertFalse(OwnedPack.live.filter(tag="K3").exists())
        self.page.unroute("**/api/lent")
        self.page.reload()
        self.page.get_by_role("button", name=re.compile("^K3")).wait_for()
        self.page.get_by_text("“K4 red” was refused: No cells in series").wait_for()
        self.page.get_by_role("button", name="Drop it").click()
        expect(self.page.get_by_text("was refused")).to_have_count(0)
        self.assertEqual(OwnedPack.live.filter(tag="K3").count(), 1)
        self.problems = [p for p in self.problems if "ERR_FAILED" not in p and "422" not in p]
        self.assert_clean()
