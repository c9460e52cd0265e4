"""Charges over the API where something is not as it should be, and what the log keeps."""

from coldstack.server.charges import views
from coldstack.server.charges.models import Charge
from coldstack.server.charges.stopping import stop_by_hand
from tests.lives import events
from tests.server.test_charging import ChargingCase


class Edges(ChargingCase):
    def test_unknown_charges(self):
        """404, as a problem, for each verb."""
        self.assert_problem(self.client.get("/api/charges/77"), 404)
        for verb in ("look", "stop", "pulled", "fault"):
            with self.subTest(verb):
                self.assert_problem(
                    self.post(f"/api/charges/77/{verb}", {"fault": "warm"} if verb == "fault" else {}), 404
                )

    def test_faults_that_cannot_be_put_in(self):
        """An unknown one, a cell the pack has not, a charger that is gone."""
        pk = self.started("01")
        for body, words in (
            ({"fault": "ghost"}, "A fault is one of"),
            ({"fault": "warm", "cell": 9}, "has 4 cells"),
        ):
            with self.subTest(words):
                self.assert_problem(self.post(f"/api/charges/{pk}/fault", body), 422, "fault", words)
        self.link("127.0.0.1:1")
        self.assert_problem(
            self.post(f"/api/charges/{pk}/fault", {"fault": "warm"}), 422, "fault", "does not answer"
        )

    def test_running_ones_first_in_the_list(self):
        """Then the latest."""
        first = self.started("01")
        self.post(f"/api/charges/{first}/stop", {})
        self.ready("01")
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
        """Two packs as one: the amps that both can take together, all main leads before the balance plugs;
        no pack's health is judged by it."""
        steps = ["place", "set", "lead", "main", "balance", "confirm"]
        pk = self.started("31", "32", steps=steps)
        found = self.charge(pk)
        self.assertEqual((found["label"], found["settings"]["current_a"]), ("31 + 32", 5.0))
        self.pass_time(100)
        self.post(f"/api/charges/{pk}/stop", {})
        ended = [events(t)[-1] for t in ("31", "32")]
        self.assertEqual(
            {(x.kind, x.ended, x.cell_mohm, x.cell_v, x.capacity_ah) for x in ended},
            {("charge", "stopped", None, None, None)},
        )
        self.assertEqual([self.pack_now(t)["cell_v"] for t in ("31", "32")], [[], []])

    def test_measured_beside_expected(self):
        """The expected volts begin where the measured ones do, within the meter's noise and the first sag."""
        views._expected.cache_clear()  # kept by the charge's number, which tests use again
        pk = self.started("01")
        self.pass_time(300)
        found = self.charge(pk)
        measured = sum(c[-1] for c in found["trace"]["cell_v"]) / 4
        at = found["trace"]["minutes"][-1]
        expected = next(
            v
            for m, v in zip(found["expected"]["minutes"], found["expected"]["cell_v"][0], strict=True)
            if m >= at
        )
        self.assertAlmostEqual(measured, expected, delta=0.01)
        self.assertEqual(found["trace"]["mah"], sorted(found["trace"]["mah"]))

    def test_a_stopped_charge_says_nothing_of_capacity(self):
        """Only a whole one does."""
        pk = self.started("01")
        self.pass_time(200)
        self.post(f"/api/charges/{pk}/stop", {})
        ended = events("01")[-1]
        self.assertIsNone(ended.capacity_ah)
        self.assertEqual((ended.ended, len(ended.cell_mohm)), ("stopped", 4))

    def test_stopped_while_the_watch_stores(self):
        """A stop that was read before the watch stored more: every sample is there once."""
        pk = self.started("01")
        self.pass_time(60)
        read_before = Charge.objects.get(pk=pk)
        self.pass_time(60)
        with self.assertNoLogs("coldstack"):
            self.assertEqual(stop_by_hand(read_before).state, "stopped")
        numbers = list(Charge.objects.get(pk=pk).samples.values_list("seq", flat=True))
        self.assertEqual(numbers, list(range(1, len(numbers) + 1)))
        self.assertEqual(Charge.objects.get(pk=pk).last_seq, len(numbers))
        self.watcher.tick()
        self.assertEqual(Charge.objects.get(pk=pk).state, "stopped")

    def test_several_at_a_glance(self):
        """The one with an alarm first, then the one to be looked at soonest; the cells beside what was
        expected; as many queries for two as for one."""
        first = self.started("01")
        self.pass_time(300)
        with self.assertNumQueries(3):
            self.client.get("/api/charges/glance")
        second = self.started("31", port=2)
        self.pass_time(30)
        with self.assertNumQueries(3):
            found = self.client.get("/api/charges/glance").json()
        self.assertEqual([g["id"] for g in found], [first, second])
        self.assertEqual([g["urgency"] for g in found], ["well", "well"])
        one = found[0]
        self.assertEqual((one["port"], one["label"], len(one["cell_v"])), (1, "01", 4))
        self.assertLess(abs(sum(one["cell_v"]) / 4 - one["expected_cell_v"]), 0.03)
        self.assertTrue(one["empty_v"] < min(one["cell_v"]) < one["full_v"])
        warm = {"kind": "warm", "level": "warn", "time_s": 30, "sentence": "It is 6 K warmer than at first."}
        Charge.objects.get(pk=second).alarms.create(**warm)
        found = self.client.get("/api/charges/glance").json()
        self.assertEqual((found[0]["id"], found[0]["urgency"]), (second, "warn"))
        self.assertEqual(found[0]["said"], warm["sentence"])
        self.post(f"/api/charges/{second}/stop", {})
        self.post(f"/api/charges/{first}/stop", {})
        self.assertEqual(self.client.get("/api/charges/glance").json(), [])
