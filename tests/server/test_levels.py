"""The level of a field battery: told, counted down by charges, taken back; plans start from it."""

from __future__ import annotations

from django.utils import timezone

from coldstack.server.charges.levels import levels, supplies_now
from coldstack.server.charges.models import Charge
from coldstack.server.gear.models import Supply
from tests.server.test_tomorrow import DayCase


class Levels(DayCase):
    def setUp(self):
        self.box = Supply.live.get(name="Boathouse power box")

    def tell(self, told, key="a-level-told", kind=None):
        return self.post(f"/api/supplies/{self.box.pk}/level", {"key": key, "told": told, "kind": kind})

    def charge(self, mah, key, **more):
        """One that ran on it: 4S."""
        expected = {"supply": str(self.box.pk), "chemistry": "lipo", "series": 4, "full_cell_v": 4.2}
        row = Charge.objects.create(
            label="04",
            charger_name="Cairn Sixty",
            port=1,
            key=key,
            run=key,
            settings={},
            expected=expected,
            **more,
        )
        row.samples.create(seq=1, time_s=60, cell_v=[4.0] * 4, current_a=2, mah=mah)

    def test_told_once_and_taken_back(self):
        """Said twice it is kept once; taken back, what was told before holds."""
        for _ in range(2):
            self.assertEqual(self.tell("50 %").json()["left_wh"], 250)
        self.assertEqual(self.box.levels.count(), 1)
        self.assertEqual(self.tell("300 Wh", key="told-after-it").json()["left_wh"], 300)
        gone = self.client.delete(f"/api/supplies/{self.box.pk}/level/told-after-it")
        self.assertEqual(gone.json()["left_wh"], 250)

    def test_charges_count(self):
        """Those that run and those that ended since it was told; those before do not."""
        self.charge(5000, "long-ago", state="done", ended="2026-01-01T00:00:00Z")
        self.tell("50 %")
        before = levels()[str(self.box.pk)].left_wh
        self.assertEqual(before, 250)
        self.charge(2000, "runs-now", state="charging")
        after = next(x for x in supplies_now() if x.id == str(self.box.pk)).energy_wh
        self.assertAlmostEqual(after, 250 - 2 * 16.8 / 0.85)
        Charge.objects.filter(key="runs-now").update(
            state="done", ended=timezone.now(), summary={"mah": 3000}
        )
        self.charge(1000, "and-another", state="charging")
        after = levels()[str(self.box.pk)].left_wh
        self.assertAlmostEqual(after, 250 - (3 + 1) * 16.8 / 0.85)

    def test_plans_start_from_it(self):
        """The day and the bench: with nothing left, nothing is charged from it."""
        fields = {"start": "2026-11-30T18:01", "hours": 6}
        charger = next(c for c in self.plan()["along"] if c["name"] == "Skerry Four")
        there = [{"charger": charger["charger"], "source": "dc", "supply": str(self.box.pk)}]
        full = self.plan({"ptarmigan": 3}, there=there, **fields)
        self.assertGreater(len(full["there"]), 0)
        self.tell("2 %")
        low = self.plan({"ptarmigan": 3}, there=there, **fields)
        self.assertEqual(low["there"], [])
        self.assertEqual([s["left_wh"] for s in low["supplies"]], [10])
        self.assertTrue(any("Wh more" in w for w in low["ways_out"]))

    def test_bad_input(self):
        """At its field; a supply that is not there."""
        self.assert_problem(self.tell("half"), 422, "told")
        self.assert_problem(self.tell("12.6 V"), 422, "kind")
        self.assert_problem(self.post("/api/supplies/999/level", {"key": "some-key-here", "told": "50"}), 404)
