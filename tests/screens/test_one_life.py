"""A pack of one's own, from an empty program: what is done at one stage is known at all others."""

import re

from playwright.sync_api import expect

from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.screens.own_gear import OwnGearCase


class OwnGear(OwnGearCase):
    def test_from_the_box_to_a_batch_and_back(self):
        """Laid out, looked at, read: a batch. Taken back, it is none; the page and the shelf know it all."""
        self.bench()
        self.page.get_by_text("Nothing can be charged yet").wait_for()
        self.page.get_by_label("Volts of A1, cells or pack").fill("3.70 3.71 3.70")
        self.settled()
        self.page.get_by_text("Nothing here can be charged").wait_for()
        self.line().get_by_role("button", name="Looked and felt: sound, cool").click()
        self.message().get_by_text("A1: sound").wait_for()
        self.page.get_by_text("1 pack in 1 batch").wait_for()
        self.assert_accessible()
        self.message().get_by_role("button", name="Undo").click()
        self.line().get_by_role("button", name="Looked and felt: sound, cool").wait_for()
        self.message().get_by_role("button", name="Bring it back").click()
        self.page.get_by_text("1 pack in 1 batch").wait_for()
        self.open("/keep/-?pack=A1")
        page = self.page.get_by_role("article", name="Pack A1")
        page.get_by_text(re.compile("Sound, cool")).wait_for()
        page.get_by_text("Its life: 2 events").click()
        page.get_by_text("Read: 3.700 3.710 3.700 V.").wait_for()
        page.get_by_role("button", name="Take back: Read: 3.700 3.710 3.700 V.").click()
        self.message().get_by_text("A1: taken back").wait_for()
        page.get_by_text("Its life: 1 event").wait_for()
        self.bench()
        expect(self.page.get_by_label("Volts of A1, cells or pack")).to_have_value("")

    def test_a_sign_that_does_not_heal(self):
        """Swollen: to be retired at every stage, until it is taken back as a mistake."""
        self.bench()
        self.line().get_by_role("button", name="Something wrong").click()
        self.line().get_by_label("Swollen or soft").click()
        self.line().get_by_text("It is not charged again; retire it").wait_for()
        self.open("/keep/-?pack=A1")
        page = self.page.get_by_role("article", name="Pack A1")
        page.get_by_text("Retire it").first.wait_for()
        self.assertIn("A1", self.page.get_by_role("region", name="The shelf").inner_text().split("Retire")[1])
        page.get_by_role("button", name=re.compile("^Signs")).click()
        page.get_by_role("checkbox", name="Swollen or soft").click()
        self.message().get_by_text("A1: taken back").wait_for()
        page.get_by_role("button", name="Looked and felt: sound, cool").wait_for()
        self.assertEqual(Event.objects.exclude(withdrawn=None).count(), 1)

    def test_what_is_noted_keeps_its_pack(self):
        """Undoing the addition of a pack takes it out of the box; its life stays, and is there again with
        it."""
        self.open("/keep/-?pack=A1")
        self.page.get_by_label("A note about A1").fill("From the club")
        self.page.keyboard.press("Enter")
        self.page.get_by_text("From the club").wait_for()
        change = self.context.request.get(self.live_server_url + "/api/gear/changes").json()
        pack = next(c["id"] for c in change if "A1" in c["label"])
        self.post(f"/api/gear/changes/{pack}/undo", {})
        self.assertFalse(OwnedPack.live.exists())
        self.assertEqual(Event.standing.get().text, "From the club")
