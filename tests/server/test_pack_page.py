"""A pack's page beyond its health: notes, ways to storage, its printed tag."""

import json
from urllib.parse import unquote

from coldstack.core.keeping.retire import RETIRE_STEPS
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from tests.lives import events
from tests.server.case import DemoCase


class Notes(DemoCase):
    def notes(self, tag="07"):
        return [n["text"] for n in self.client.get(f"/api/keep/packs/{tag}").json()["notes"]]

    def test_noted_taken_away_and_brought_back(self):
        """The newest first; nothing is lost."""
        for text in ("Bought used", "  Dropped on   its corner "):
            self.assertEqual(self.post("/api/keep/packs/07/notes", {"text": text}).status_code, 200)
        self.assertEqual(self.notes(), ["Dropped on its corner", "Bought used"])
        first = {"events": [Event.objects.get(text="Bought used").pk]}
        self.post("/api/keep/take-back", first)
        self.assertEqual(self.notes(), ["Dropped on its corner"])
        self.post("/api/keep/bring-back", first)
        self.assertEqual(self.notes(), ["Dropped on its corner", "Bought used"])

    def test_bad_input(self):
        """Empty, too long, no such pack or note."""
        self.assert_problem(self.post("/api/keep/packs/07/notes", {"text": "  "}), 422, "text", "Write")
        self.assert_problem(self.post("/api/keep/packs/07/notes", {"text": "x" * 301}), 422, "text")
        self.assertEqual(self.post("/api/keep/packs/99/notes", {"text": "x"}).status_code, 404)
        reply = self.post("/api/keep/take-back", {"events": [999999]})
        self.assert_problem(reply, 422, "events", "not in the log")


class ToStorage(DemoCase):
    def ways(self, tag, **query):
        return self.client.get(f"/api/keep/packs/{tag}/to-storage", query)

    def test_from_the_state_it_was_left_in(self):
        """15 is full, so down; on a charger, or by running it in the model."""
        found = self.ways("15", model="stoat").json()
        self.assertIn("full", found["reckoned"])
        down = [w for w in found["ways"] if w["hours"]]
        self.assertTrue(down and all(w["direction"] == "discharge" for w in down))
        # from full to 3.825 V goes about half of 4800 mAh
        self.assertTrue(all(2040 < w["mah"] < 2760 for w in down))
        self.assertRegex(found["run_down"], r"Or run it in Stoat for about \d+\.\d min")

    def test_a_spent_one_goes_up(self):
        """01 is spent: charge, and nothing to run."""
        found = self.ways("01", model="ptarmigan").json()
        self.assertTrue(found["ways"] and all(w["direction"] == "charge" for w in found["ways"]))
        self.assertEqual(found["run_down"], "")

    def test_cells_count_before_the_state(self):
        """Read at storage, nothing is to be done."""
        found = self.ways("05", cells="3.82 3.82 3.83 3.82").json()
        self.assertEqual({w["direction"] for w in found["ways"]}, {"none"})
        self.assertIn("as read", found["reckoned"])

    def test_a_stored_pack_has_arrived(self):
        """Nothing is to be done, by its being stored; and nothing is known of a new one."""
        found = self.ways("07").json()
        self.assertEqual({w["direction"] for w in found["ways"]}, {"none"})
        self.assertIn("by its being stored", found["reckoned"])

    def test_a_condemned_pack_goes_nowhere(self):
        """Not to storage: it is retired, and says why."""
        found = self.ways("03").json()
        self.assertEqual((found["ways"], found["reckoned"]), ([], ""))
        self.assertIn("To be retired: Cell 4", found["why"])

    def test_bad_input(self):
        """Cells that are none, too few; no such pack."""
        self.assert_problem(self.ways("05", cells="full"), 422, "cell_v", "“full”")
        self.assert_problem(self.ways("05", cells="3.8"), 422, "cell_v", "one cell’s, and the pack has 4")
        self.assertEqual(self.ways("99").status_code, 404)


class Tags(DemoCase):
    def test_one_for_each_pack(self):
        """What it is, what its label allows, and a code of its page's address."""
        tags = {
            t["tag"]: t for t in self.client.get("/api/keep/tags?address=http://192.168.1.20:8600/").json()
        }
        self.assertEqual(len(tags), 26)
        self.assertEqual(tags["05"]["address"], "http://192.168.1.20:8600/pack/05")
        self.assertEqual(tags["05"]["charging"], ["Charge at most 4 A", "Full at 16.80 V"])
        self.assertEqual(tags["08"]["charging"], ["Not to be charged or run"])
        self.assertIn("<svg", unquote(tags["05"]["code"]))
        self.assertNotEqual(tags["05"]["code"], tags["07"]["code"])

    def test_a_tag_with_odd_signs(self):
        """Is quoted in the address."""
        pack = OwnedPack.objects.get(tag="05")
        pack.tag = "5/a b"
        pack.save()
        tags = [t["address"] for t in self.client.get("/api/keep/tags").json()]
        self.assertIn("http://testserver/pack/5%2Fa%20b", tags)

    def test_bad_addresses(self):
        """Say how one looks."""
        for address in ("phone", "ftp://x", "http://", "http://a b", "http://" + "x" * 120):
            with self.subTest(address):
                self.assert_problem(
                    self.client.get("/api/keep/tags", {"address": address}), 422, "address", "looks like"
                )


class Retiring(DemoCase):
    def tick(self, *steps, tag="08"):
        return self.client.put(
            f"/api/keep/packs/{tag}/retirement",
            json.dumps({"ticked": steps}),
            content_type="application/json",
        )

    def doing(self, tag="08"):
        groups = self.client.get("/api/keep/shelf").json()["groups"]
        return next(g["doing"] for g in groups for p in g["packs"] if p["tag"] == tag)

    def test_step_by_step_to_a_retired_pack(self):
        """Ticks are kept; with the last it is retired and its history stays; one taken back, it is to be
        retired again."""
        steps = [s["id"] for s in self.client.get("/api/keep/packs/08").json()["retire"]]
        self.assertEqual(self.tick(*steps[:3]).json(), {"ticked": steps[:3], "retired": None})
        self.assertEqual(
            (self.doing(), self.client.get("/api/keep/packs/08").json()["ticked"]), ("retire", steps[:3])
        )
        before = [x.pk for x in events("08")]
        done = self.tick(*steps).json()["retired"]
        self.assertIsNotNone(done)
        self.assertEqual(self.tick(*steps).json()["retired"], done)
        page = self.client.get("/api/keep/packs/08").json()
        self.assertEqual((self.doing(), page["line"]["doing"], page["retired"]), ("retired", "retired", done))
        self.assertEqual([x.pk for x in events("08")][: len(before)], before)
        self.tick(*steps[:4])
        self.assertEqual(self.doing(), "retire")

    def test_bad_input(self):
        """Not a step; a pack that is still in use; no such pack."""
        self.assert_problem(self.tick("burn"), 422, "ticked", "A step is one of")
        self.assert_problem(self.tick(*RETIRE_STEPS, tag="07"), 422, "ticked", "out of use first")
        self.assertEqual(self.tick(tag="99").status_code, 404)
        self.assertEqual(
            [s["id"] for s in self.client.get("/api/keep/packs/03").json()["retire"]], list(RETIRE_STEPS)
        )


class Checks(DemoCase):
    def check(self, tag="40", **body):
        return self.post(f"/api/keep/packs/{tag}/checks", body)

    def setUp(self):
        self.post(
            "/api/gear/packs",
            {
                "tag": "40",
                "name": "Own 3S 2200",
                "chemistry": "lipo",
                "series": 3,
                "capacity_ah": 2.2,
                "mass_g": 180,
            },
        )

    def page(self):
        return self.client.get("/api/keep/packs/40").json()

    def test_cold_and_warm_readings_of_one_pack_are_not_ageing(self):
        """First at 24 °C, then at 8 °C with 1.68 times as much: the same at 25 °C, and nothing is held
        against it."""
        for n in range(12):
            cold = n >= 6
            mohm = 5.0 * 1.68 if cold else 5.0
            reply = self.check(
                cells="3.82 3.82 3.82",
                mohm=f"{mohm:.2f} {mohm + 0.1:.2f} {mohm:.2f}",
                temperature_c=8 if cold else 24,
            )
            self.assertEqual(reply.status_code, 200, reply.content[:300])
        page = self.page()
        growth = next(e for e in page["evidence"] if e["id"] == "growth")
        self.assertEqual((growth["level"], page["line"]["level"], page["left_out"]), ("fine", "fine", 0))
        first, *_, last = page["resistance"]["cells"][0]
        self.assertAlmostEqual(last / first, 1.0, delta=0.06)

    def test_a_lazy_cell_typed_by_hand(self):
        """Three checks find it: watched where a contact may still be part of it, else condemned."""
        for mohm, level in (("5 5 9", "watch"), ("5 5 13", "retire")):
            for _ in range(5):
                self.check(cells="3.82 3.82 3.82", mohm=mohm, temperature_c=20)
            self.assertEqual(self.page()["line"]["level"], level)
            self.assertIn("Cell 3", self.page()["line"]["sign"])

    def test_a_charge_typed_by_hand(self):
        """Capacity from what was put in, the pack full; taken back it is as before."""
        made = self.check(cells="3.70 3.70 3.70", temperature_c=20, put_in_mah=1700, balance_min=6).json()
        page = self.page()
        self.assertEqual((page["line"]["state"], page["cycles"]), ("full", 1))
        self.assertTrue(0.85 < page["capacity"]["cells"][0][0] / 2.2 < 1.15)
        self.assertIn("a charge", made["label"])
        self.post("/api/keep/take-back", {"events": made["events"]})
        self.assertEqual((self.page()["line"]["state"], self.page()["cycles"]), (None, 0))

    def test_bad_input(self):
        """At its field; nothing is kept."""
        for body, field, words in (
            ({}, "cells", "Type the cells"),
            ({"cells": "3.8 3.8"}, "cell_v", "3 cells in series"),
            ({"cells": "full"}, "cell_v", "“full”"),
            ({"mohm": "5 5"}, "mohm", "2 resistances were"),
            ({"mohm": "5 5 x"}, "mohm", "“x”"),
            ({"put_in_mah": 1500, "mohm": "5 5 5"}, "cells", "before the charge"),
            ({"cells": "3.8 3.8 3.8", "temperature_c": 400}, "temperature_c", "."),
        ):
            with self.subTest(body):
                self.assert_problem(self.check(**body), 422, field, words)
        self.assertEqual(events("40"), [])
        self.assertEqual(self.check("99", cells="3.8").status_code, 404)
