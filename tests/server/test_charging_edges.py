"""Charges over the API where something is not as it should be, and what the log keeps."""

from coldstack.server.bench import views
from coldstack.server.bench.models import Charge
from coldstack.server.logbook.models import PackRecord
from tests.server.test_charging import ChargingCase


class Edges(ChargingCase):
    def test_unknown_charges(self):
        """404, as a problem, for each verb."""
        self.assert_problem(self.client.get("/api/charges/77"), 404)
        for verb in ("look", "stop", "fault"):
            with self.subTest(verb):
                self.assert_problem(self.post(f"/api/charges/77/{verb}", {"fault": "warm"} if verb == "fault" else {}), 404)  # fmt: skip

    def test_faults_that_cannot_be_put_in(self):
        """An unknown one, a cell the pack has not, a charger that is gone."""
        pk = self.started("01")
        for body, words in (({"fault": "ghost"}, "A fault is one of"), ({"fault": "warm", "cell": 9}, "has 4 cells")):  # fmt: skip
            with self.subTest(words):
                self.assert_problem(self.post(f"/api/charges/{pk}/fault", body), 422, "fault", words)
        self.link("127.0.0.1:1")
        self.assert_problem(self.post(f"/api/charges/{pk}/fault", {"fault": "warm"}), 422, "fault", "does not answer")  # fmt: skip

    def test_running_ones_first_in_the_list(self):
        """Then the latest."""
        first = self.started("01")
        self.post(f"/api/charges/{first}/stop", {})
        second, third = self.started("01"), self.started("31", port=2)
        self.post(f"/api/charges/{third}/stop", {})
        self.assertEqual([c["id"] for c in self.client.get("/api/charges").json()], [second, third, first])

    def test_stopping_twice_and_looking_late_change_nothing(self):
        """A charge that has ended stays as it ended."""
        pk = self.started("01")
        self.pass_time(100)
        why = self.post(f"/api/charges/{pk}/stop", {}).json()["ended_why"]
        self.assertEqual(self.post(f"/api/charges/{pk}/stop", {}).json()["ended_why"], why)
        looked = Charge.objects.get(pk=pk).looked_s
        self.post(f"/api/charges/{pk}/look", {})
        self.assertEqual(Charge.objects.get(pk=pk).looked_s, looked)

    def test_a_batch_on_the_board(self):
        """Two packs as one: the sum's amps, all main leads before the balance plugs; no pack's health is judged by it."""
        steps = ["place", "set", "lead", "main", "balance", "confirm"]
        pk = self.started("31", "32", steps=steps)
        found = self.charge(pk)
        self.assertEqual((found["label"], found["settings"]["current_a"]), ("31 + 32", 5.6))
        self.pass_time(100)
        self.post(f"/api/charges/{pk}/stop", {})
        records = [PackRecord.objects.filter(pack__tag=t).latest("at") for t in ("31", "32")]
        self.assertEqual(
            {(x.state, x.cell_mohm, x.rest_cell_v, x.capacity_ah) for x in records},
            {("part", None, None, None)},
        )
        kept = {x["pack"]: x["source"] for x in self.client.get("/api/bench").json()["bench"]["laid"]}
        self.assertEqual((kept["owned:31"], kept["owned:32"]), ("charger", "charger"))

    def test_measured_beside_expected(self):
        """The expected volts begin where the measured ones do, within the meter's noise and the first sag."""
        views._expected.cache_clear()  # kept by the charge's number, which tests use again
        pk = self.started("01")
        self.pass_time(300)
        found = self.charge(pk)
        measured = sum(c[-1] for c in found["trace"]["cell_v"]) / 4
        at = found["trace"]["minutes"][-1]
        expected = next(v for m, v in zip(found["expected"]["minutes"], found["expected"]["cell_v"][0], strict=True) if m >= at)  # fmt: skip
        self.assertAlmostEqual(measured, expected, delta=0.01)
        self.assertEqual(found["trace"]["mah"], sorted(found["trace"]["mah"]))

    def test_a_stopped_charge_says_nothing_of_capacity(self):
        """Only a whole one does."""
        pk = self.started("01")
        self.pass_time(200)
        self.post(f"/api/charges/{pk}/stop", {})
        record = PackRecord.objects.filter(pack__tag="01").last()
        self.assertIsNone(record.capacity_ah)
        self.assertEqual((record.state, len(record.cell_mohm)), ("part", 4))
