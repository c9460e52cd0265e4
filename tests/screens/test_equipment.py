"""A receiver and a transmitter pack, from an empty program: sized, matched, charged for, run, kept."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import RcModel
from tests.screens.own_gear import OwnGearCase
from tests.screens.test_own_model import EmptyCase


class FromNothing(EmptyCase):
    def tell(self, kind, **figures):
        """What it is, and its figures by their labels."""
        self.page.get_by_role("radiogroup", name="What it is").get_by_text(kind, exact=True).click()
        for label, text in figures.items():
            self.field(label.replace("_", " ")).fill(text)

    def test_a_receiver_behind_a_regulator(self):
        """From the first page: usual figures stand dashed until one's own are told; what follows is said at
        once; it lasts twelve hours and its timer keeps half."""
        self.open("/")
        self.page.get_by_role("link", name="Or with a radio, a receiver").click()
        self.tell(
            "receiver and servos", Hours_of_use="6", Works_down_to="5", Takes_up_to="6.6", Its_name="Osprey"
        )
        self.page.get_by_label("Regulator", exact=True).select_option("switching")
        # what is missing is asked at its field, and nothing is lost
        self.page.get_by_role("alert").filter(has_text="How many volts does the regulator give?").wait_for()
        self.field("It gives").fill("6")
        self.field("It takes up to").fill("13")
        follows = self.page.get_by_role("complementary", name="What follows from it")
        expect(follows).to_contain_text("12 h 00 min")
        expect(follows).to_contain_text("5.4 V at the least under a burst")
        self.settled()
        self.assert_accessible()
        self.add()
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("Osprey")
        self.page.get_by_text("12 hours").first.wait_for()
        self.assertEqual(RcModel.live.get().job["equipment"]["hours"], 6)
        # longer hours ask for a larger pack, at once
        self.fill("Hours of use", "9")
        self.page.get_by_text("18 hours").first.wait_for()
        self.assert_accessible()

    def test_what_was_typed_last_is_what_is_kept(self):
        """Added by Enter in the very field: the figure of now, not that of the last answer."""
        self.open("/new-equipment")
        self.tell("transmitter", Hours_of_use="6", Its_name="Heron radio")
        self.page.get_by_role("complementary", name="What follows from it").get_by_text(
            "A pack must last"
        ).wait_for()
        self.field("Hours of use").fill("7.5")
        self.field("Hours of use").press("Enter")
        self.page.wait_for_url(re.compile("/size/"))
        self.assertEqual(RcModel.live.get().job["equipment"]["hours"], 7.5)

    def test_a_transmitter_on_a_phone(self):
        """390 px: nothing scrolls sideways, and what it takes is asked in one column."""
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.open("/new-equipment")
        self.tell("transmitter")
        self.settled()
        self.assert_no_sideways_scroll()
        self.add()
        self.assert_no_sideways_scroll()


PUMP = {"kind": "turbine", "load_a": 3, "burst_a": 20, "hours": 0.2}


class OnGearOfOnesOwn(OwnGearCase):
    """A receiver behind a regulator, served by one's own 3S on one's own charger."""

    def setUp(self):
        super().setUp()
        figures = {
            "kind": "receiver",
            "load_a": 0.2,
            "burst_a": 2,
            "hours": 3,
            "least_v": 5,
            "most_v": 6.6,
            "regulator": "switching",
            "out_v": 6,
            "regulator_max_v": 13,
        }
        served = self.post("/api/describe-equipment", {"equipment": figures, "plug": "xt60"})
        made = {"name": "Osprey", "description": served["description"], "job": served["job"]}
        self.slug = self.post("/api/gear/models", made)["row"]["slug"]

    def test_matched_charged_run_and_kept(self):
        """Match fits it and lays it out; Run keeps the reserve in its timer; Keep says that it serves it."""
        self.open(f"/match/{self.slug}?pack=owned:A1")
        self.page.get_by_text("Does the job as it is").first.wait_for()
        expect(self.page.get_by_text("Controller")).to_have_count(0)
        self.assert_accessible()
        self.page.get_by_role("link", name="Lay it out to charge").click()
        self.page.get_by_label("Volts of A1, cells or pack").wait_for()
        self.open(f"/run/{self.slug}?pack=A1")
        self.page.get_by_label("Volts of A1, cells or pack").fill("4.2 4.2 4.2")
        self.page.get_by_text(re.compile(r"^Go$|^Go, with care$")).first.wait_for()
        self.settled()
        go = self.post("/api/run/go", {"model": self.slug, "pack": "A1", "cells": "4.2 4.2 4.2"})
        self.assertTrue(3 * 3600 < go["timer_s"] <= 60 * go["minutes"], go["timer_s"])
        self.assert_accessible()
        self.open(f"/keep/{self.slug}?pack=A1")
        expect(self.page.get_by_role("region", name="In my models")).to_contain_text("Osprey")

    def test_a_pack_that_leaves_too_few_volts_is_refused(self):
        """A pump that wants 11 V under its bursts: the pack is refused with the volts that it leaves."""
        job = self.post(
            "/api/describe-equipment",
            {"equipment": {**PUMP, "least_v": 11, "most_v": 13}, "plug": "xt60"},
        )["job"]
        slug = self.post("/api/gear/models", {"name": "Pump", "description": "", "job": job})["row"]["slug"]
        self.open(f"/match/{slug}?pack=owned:A1")
        words = re.compile(r"own to \d+(\.\d+)? V at the device under a burst, 11 V needed")
        self.page.get_by_text(words).first.wait_for()
