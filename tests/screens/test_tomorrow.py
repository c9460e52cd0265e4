"""The evening and the day on gear of one's own: three models, eleven packs, two ports, one battery; from an
empty program, at a desk and on a phone, offline between."""

import json
import re
from datetime import timedelta

from playwright.sync_api import expect

from coldstack.server.config.paths import PROJECT
from coldstack.server.life.models import Event
from tests.clock import CLOCK
from tests.screens.case import ScreenCase

MODELS = ("ptarmigan", "grebe", "stoat")
LIKE = {
    "P": {"name": "Mine 4S", "series": 4, "capacity_ah": 4.0, "mass_g": 356, "plug": "xt60"},
    "G": {"name": "Mine 3S", "series": 3, "capacity_ah": 8.0, "mass_g": 486, "plug": "xt60"},
    "S": {"name": "Mine 2S", "series": 2, "capacity_ah": 4.8, "mass_g": 266, "plug": "ec5"},
}
TAGS = ("P1", "P2", "P3", "G1", "G2", "G3", "S1", "S2", "S3", "S4", "S5")
CHARGER = {
    "name": "Field Two",
    "chemistries": ["lipo"],
    "series_max": 6,
    "ports": 2,
    "port_a": 10,
    "port_w": 150,
    "mains_w": 200,
    "dc_w": 200,
    "dc_min_v": 11,
    "dc_max_v": 15,
    "balance_families": ["xh"],
    "output_plug": "xt60",
}
BATTERY = {"name": "Power box", "kind": "battery", "voltage_v": 12.8, "power_w": 240, "energy_wh": 400}


class EveningAndDay(ScreenCase):
    world, fresh_context, clock_by_hand = False, True, True

    def setUp(self):
        super().setUp()
        self.open("/gear/packs")
        for job in json.loads((PROJECT / "coldstack" / "demo" / "models.json").read_text()):
            if job["slug"] in MODELS:
                own = {**job["job"], "now": None}
                self.post("/api/gear/models", {"name": job["name"], "slug": job["slug"], "job": own})
        for tag in TAGS:
            pack = {"tag": tag, "chemistry": "lipo", "label_c": 60, **LIKE[tag[0]]}
            self.post("/api/gear/packs", pack)
            cells = " ".join(["3.83"] * pack["series"])
            self.post(f"/api/keep/packs/{tag}/checks", {"cells": cells, "temperature_c": 20})
        self.post("/api/gear/chargers", CHARGER)
        self.post("/api/gear/supplies", BATTERY)
        lead = {"name": "EC5 to XT60", "kind": "lead", "pack_plug": "ec5", "device_plug": "xt60"}
        self.post("/api/gear/pieces", {**lead, "count": 2})
        self.presses = 0

    def press(self, target):
        self.presses += 1
        target.click()

    def choose(self, field, value):
        """Opened, and one of it pressed."""
        self.presses += 2
        field.select_option(value)

    def day(self):
        return self.page.get_by_role("region", name="The day ahead")

    def pass_time(self, hours):
        """Of the server and of the page."""
        CLOCK.ahead += timedelta(hours=hours)
        self.addCleanup(setattr, CLOCK, "ahead", CLOCK.ahead - timedelta(hours=hours))
        self.page.clock.fast_forward(int(hours * 3_600_000))

    def rest(self):
        self.page.clock.run_for(6_000)
        self.settled()

    def planned(self):
        """Tomorrow from nothing, in less than twenty presses."""
        self.open("/run/ptarmigan")
        self.press(self.page.get_by_role("button", name="Plan the day ahead"))
        more = self.page.get_by_role("combobox", name="One more model")
        self.choose(more, "grebe")
        self.choose(more, "stoat")
        self.day().get_by_text("All 9 runs, with 9 packs; 9 to be charged before").wait_for()
        self.press(self.page.get_by_role("button", name="Keep this day"))
        self.page.get_by_role("button", name="Change the day").wait_for()
        self.assertLess(self.presses, 20)
        self.settled()

    def test_from_the_evening_to_the_last_landing(self):
        """Planned, laid out for the hour, charged, taken along; run without a line, told when there is one:
        each run once, in its hour, and the day is done."""
        self.planned()
        self.assert_accessible()
        self.assert_no_sideways_scroll()
        self.page.get_by_role("button", name="Lay them out on the bench").click()
        self.page.get_by_role("textbox", name="Ready by").wait_for()
        self.assertEqual(self.page.get_by_role("textbox", name="Ready by").input_value(), "10:00")
        expect(self.page.get_by_label(re.compile("^Volts of [PGS]"))).to_have_count(9)
        self.pass_time(19.5)
        self.post("/api/keep/charged", {"packs": TAGS[:9]})
        self.open("/run/ptarmigan")
        self.page.get_by_role("region", name="Today").or_(self.day()).wait_for()
        self.day().get_by_text("All 9 runs, with 9 packs.").wait_for()
        for name in ("Grebe", "Stoat"):
            self.page.get_by_role("region", name="Take along").get_by_label(name).check()
        self.page.get_by_role("region", name="Take along").get_by_role("button", name="Take along").click()
        self.page.get_by_text("It stays new by itself").wait_for(timeout=120_000)
        self.context.set_offline(True)
        self.pass_time(1)
        for model in ("Ptarmigan", "Grebe", "Stoat"):
            self.fly(model)
        self.page.get_by_text("3 runs wait here to be sent").wait_for()
        self.pass_time(2)
        self.context.set_offline(False)
        self.rest()
        expect(self.page.get_by_text("here to be sent")).to_have_count(0)
        self.open("/run/ptarmigan")
        self.day().get_by_text("All 6 runs").wait_for()
        expect(self.day().get_by_text("1 of 3 done")).to_have_count(3)
        runs = list(Event.standing.filter(kind="run").order_by("at"))
        self.assertEqual([r.model for r in runs], list(MODELS))
        ago = [(CLOCK.now() - r.at) / timedelta(hours=1) for r in runs]
        self.assertTrue(all(1.8 < x < 2.2 for x in ago), ago)

    def fly(self, model):
        """The first pack of a model in the day: its cells typed, started, landed."""
        self.day().get_by_role("link", name=re.compile(f", in {model}$")).first.click()
        field = self.page.get_by_label(re.compile("^Volts of "))
        tag = re.search(r"pack=(\w+)", self.page.url).group(1)
        field.wait_for()
        field.fill(" ".join(["4.19"] * LIKE[tag[0]]["series"]))
        self.page.clock.run_for(5_000)
        self.page.get_by_text("By the field kit").wait_for()
        self.page.get_by_role("button", name="Start the timer").click()
        self.page.clock.run_for(60_000)
        self.page.get_by_role("button", name="Landed").click()
        self.page.get_by_role("region", name="Landed").get_by_text("Logged").wait_for()


class EveningAndDayOnAPhone(EveningAndDay):
    width, height, touch = 390, 844, True


class TheForm(ScreenCase):
    def setUp(self):
        super().setUp()
        self.open("/run/ptarmigan")
        self.page.get_by_role("button", name="Plan the day ahead").click()
        self.part = self.page.get_by_role("region", name="The day ahead")
        self.part.get_by_text("All 3 runs, with 3 packs").wait_for()

    def messages(self):
        return self.page.get_by_role("status", name="Messages")

    def test_put_away_and_back(self):
        """Kept, changed, put away: each is taken back; the shelf knows what the day counts on."""
        self.page.get_by_role("button", name="Keep this day").click()
        self.part.get_by_role("button", name="Change the day").click()
        self.page.get_by_role("textbox", name="Runs of Ptarmigan").fill("2")
        self.part.get_by_text("All 2 runs").wait_for()
        self.page.get_by_role("button", name="Keep this day").click()
        self.part.get_by_role("button", name="Change the day").wait_for()
        self.messages().get_by_role("button", name="Undo").click()
        self.part.get_by_text("All 3 runs").wait_for()
        self.open("/keep/ptarmigan")
        self.page.get_by_role("heading", name="For the day ahead").wait_for()
        self.open("/run/ptarmigan")
        self.part.get_by_role("button", name="Put it away").click()
        self.part.get_by_role("button", name="Plan the day ahead").wait_for()
        self.messages().get_by_role("button", name="Undo").click()
        self.part.get_by_text("All 3 runs").wait_for()
        self.assert_clean()

    def test_what_runs_short(self):
        """Without a charger along: what is missing, of which model, and what would do; a press takes it
        along."""
        self.page.get_by_role("textbox", name="Runs of Ptarmigan").fill("5")
        self.part.get_by_text("All 5 runs").wait_for()
        for box in (
            self.part.get_by_role("group", name="Along, to charge there").get_by_role("checkbox").all()
        ):
            box.uncheck()
        self.part.get_by_text("3 of 5 runs, 2 of Ptarmigan missing").wait_for()
        self.part.get_by_text(re.compile("Cairn Sixty taken along: all of it can be done")).wait_for()
        self.assert_accessible()

    def test_bad_input(self):
        """What was typed stays, with what is wrong at its field."""
        self.part.get_by_label("The day", exact=True).fill("2026-11-20")
        self.part.get_by_role("alert").get_by_text("That day is over.").wait_for()
        expect(self.page.get_by_role("button", name="Keep this day")).to_be_disabled()
        self.part.get_by_label("The day", exact=True).fill("2026-11-26")
        self.page.get_by_role("textbox", name="With the chargers from").fill("23:00")
        self.part.get_by_role("alert").get_by_text("it ends before it begins").wait_for()
        self.page.get_by_role("textbox", name="With the chargers from").fill("18:00")
        self.part.get_by_text("All 3 runs").wait_for()
        self.part.get_by_role("button", name="Without Ptarmigan").click()
        self.part.get_by_role("alert").get_by_text("Say how many runs of which model.").wait_for()

    def test_packed(self):
        """Ticked on this device; a reload keeps it."""
        self.page.get_by_role("button", name="Keep this day").click()
        self.page.get_by_text("The day is kept.").first.wait_for()
        self.part.get_by_text(re.compile("^To pack: ")).click()
        self.part.get_by_role("checkbox", name=re.compile("^Low-voltage alarm")).check()
        count = self.part.get_by_text(re.compile("^To pack: ")).inner_text()
        self.page.reload()
        self.part.get_by_text(count).click()
        expect(self.part.get_by_role("checkbox", name=re.compile("^Low-voltage alarm"))).to_be_checked()

    def test_the_level_of_the_battery(self):
        """As its display says it, by volts with its kind, and taken back; what is no level is told at the
        field and stays as typed."""
        level = self.part.get_by_label(re.compile("^Boathouse power box: "))
        keep = self.part.get_by_role("button", name="Keep its level")
        level.fill("half")
        keep.click()
        self.part.get_by_role("alert").get_by_text("is no level").wait_for()
        self.assertEqual(level.input_value(), "half")
        level.fill("12.6 V")
        keep.click()
        self.part.get_by_role("alert").get_by_text("What kind of battery").wait_for()
        self.part.get_by_label("What kind of battery Boathouse power box is").select_option("lead")
        keep.click()
        self.part.get_by_text(
            re.compile(r"Boathouse power box: \d+ Wh left of 500 Wh, .* by its volts")
        ).wait_for()
        level.fill("40 %")
        keep.click()
        self.part.get_by_text(re.compile("Boathouse power box: 200 Wh left of 500 Wh")).wait_for()
        # the message with it stays for a while only
        self.messages().get_by_role("button", name="Undo").click()
        self.part.get_by_text(re.compile("by its volts, the least that they may mean")).wait_for()
        self.assert_accessible()
