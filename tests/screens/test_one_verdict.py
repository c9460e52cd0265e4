"""Run on gear of one's own: each pack with its verdict before one is picked, no timer unseen on a no go; and
another tab that hears of a change."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from tests.screens.case import ScreenCase


class OwnGear(ScreenCase):
    """A 3S twin told by its owner, its own pack, a second 3S that is heavy, a 2S, and a boat's 4S."""

    world = False

    def setUp(self):
        super().setUp()
        self.page.goto("/")
        self.settled()
        for tag, series, mah, mass_g in (
            ("T1", 3, 2200, 180),
            ("T2", 3, 3300, 270),
            ("T3", 2, 2200, 118),
            ("T4", 4, 5000, 510),
        ):
            figures = {"tag": tag, "name": f"{series}S {mah}", "chemistry": "lipo", "series": series}
            figures |= {"capacity_ah": mah / 1000, "mass_g": mass_g, "label_c": 30, "plug": "xt60"}
            self.sent("/api/gear/packs", {**figures, "lead_awg": 14})
        answers = {
            "name": "Twin",
            "kind": "plane",
            "mass_g": 900,
            "now": {"pack": "owned:T1"},
            "usage": {"average_a": 14, "peak_a": 34},
            "limits": {"cells_max": 3},
            "goals": {"minutes": 7},
        }
        job = self.sent("/api/describe-model", answers)["job"]
        self.sent("/api/gear/models", {"name": "Twin", "description": "", "job": job})
        self.slug = RcModel.live.get(name="Twin").slug

    def sent(self, path, body):
        """As the page itself would send it."""
        return self.page.evaluate(
            """async ([path, body]) => {
              const token = document.cookie.match(/csrftoken=([^;]+)/)?.[1] ?? "";
              const headers = { "content-type": "application/json", "x-csrftoken": token };
              const reply = await fetch(path, { method: "POST", headers, body: JSON.stringify(body) });
              if (!reply.ok) throw new Error(await reply.text());
              return await reply.json();
            }""",
            [path, body],
        )

    def row(self, tag):
        return self.page.get_by_role("button", name=re.compile(f"^{tag}"))

    def test_the_list_says_it_before_one_is_picked(self):
        """What does the job, what goes with care and why; what will not do is aside, with why."""
        self.open(f"/run/{self.slug}")
        listed = self.page.get_by_role("region", name="Which pack")
        expect(self.row("T1")).to_contain_text("does the job")
        expect(self.row("T2")).to_contain_text("goes, with care")
        expect(self.row("T2")).to_contain_text("heavier all up than today")
        expect(self.row("T3")).to_be_hidden()
        listed.get_by_text("2 that will not do").click()
        expect(self.row("T3")).to_contain_text("32 % of today’s punch, at least 60 % to fly")
        expect(self.row("T4")).to_contain_text("over the controller’s 12.6 V when full")
        self.assert_no_sideways_scroll()
        self.assert_accessible()

    def test_no_timer_unseen_on_a_no_go(self):
        """A 2S: no go before its cells are typed and after; full cells do not bring the timer back. What does
        the job has it only once its cells say go."""
        self.open(f"/run/{self.slug}?pack=T3")
        self.page.get_by_text("No go", exact=True).first.wait_for()
        self.page.get_by_text("32 % of today’s punch").first.wait_for()
        starts = self.page.get_by_role("button", name="Start the timer")
        expect(starts).to_have_count(0)
        self.page.get_by_label("Volts of T3, cells or pack").fill("4.20 4.20")
        self.page.get_by_role("region", name="Go or no go").get_by_text("No go", exact=True).wait_for()
        expect(starts).to_have_count(0)
        self.page.get_by_role("button", name="Only count the minutes, without a limit").wait_for()
        self.open(f"/run/{self.slug}?pack=T1")
        self.page.get_by_label("Volts of T1, cells or pack").fill("4.20 4.20 4.20")
        starts.wait_for()

    def test_match_opens_on_the_best_by_size_and_agrees(self):
        """Not on the pack that runs longest; the grid's cell and the opening line say what Run says."""
        self.open(f"/match/{self.slug}")
        self.assertIn("T1", self.page.get_by_label("Pack", exact=True).input_value())
        self.pick("Pack", "T3 2S 2200")
        self.settled()
        said = self.page.get_by_role("region", name="In Twin").inner_text()
        self.assertIn("Will not do.", said)
        self.assertIn("32 % of today’s punch, at least 60 % to fly", said)


class OwnGearPhone(OwnGear):
    width, height, touch = 390, 844, True


class AnotherTab(ScreenCase):
    fresh_context = True

    def test_it_follows(self):
        """Match in one tab, the controller changed in Size in another: its loading is the new one at once,
        without a reload, by what the browser tells; and by the server's mark when it comes to the front."""
        self.open("/match/grebe?pack=owned:09")
        plate = self.page.get_by_role("region", name="In Grebe")
        before = plate.inner_text()
        other = self.context.new_page()
        other.goto("/size/grebe")
        field = other.get_by_role("textbox", name="Controller", exact=True)
        field.fill("100")
        field.press("Enter")
        other.get_by_text("Saved", exact=True).wait_for()
        expect(plate).not_to_have_text(before)
        row = RcModel.live.get(slug="grebe")
        heard = plate.inner_text()
        row.job = {**row.job, "electronics": {**row.job["electronics"], "controller_continuous_a": 200}}
        row.job["electronics"]["controller_burst_a"] = 220
        row.save()
        self.page.evaluate("window.dispatchEvent(new Event('focus'))")
        expect(plate).not_to_have_text(heard)
