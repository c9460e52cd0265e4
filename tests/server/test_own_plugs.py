"""Plug families of one's own: used everywhere like the table's, and never gone while something names them."""

import json

from django.core.files.uploadedfile import SimpleUploadedFile

from coldstack.core.chain.own_plugs import set_own_plugs
from coldstack.server.gear.models import OwnPlug
from tests.server.test_gear import CHARGER, PACK, GearCase

PLUG = {
    "name": "Tarn twist",
    "continuous_a": 40,
    "burst_a": 70,
    "mates_with": ["xt60"],
    "mistaken_for": ["xt90"],
}


class OwnPlugs(GearCase):
    def tearDown(self):
        set_own_plugs(())

    def test_a_new_family_is_offered_and_carries_its_own_figures(self):
        """In the lists, on a pack, and in sizing: a chain through it is as strong as it says."""
        made = self.add("plugs", PLUG)["row"]
        self.assertEqual(made["code"], "own_tarn_twist")
        listed = {p["id"]: p for p in self.client.get("/api/choices").json()["plugs"]}
        self.assertEqual(listed["own_tarn_twist"]["note"], "40 A, 70 A burst")
        self.add("packs", {**PACK, "tag": "90", "plug": "own_tarn_twist"})
        job = self.job("ptarmigan")
        job["electronics"]["plug"] = "own_tarn_twist"
        reply = self.post("/api/sizing/details", {"job": job, "ids": ["owned:90"]})
        plug = next(j for j in reply.json()[0]["plates"] if j["link"] == "plug")
        self.assertEqual((plug["name"], plug["continuous"]["limit"]), ("Plug, Tarn twist", 40))

    def test_what_nobody_gave_is_taken_from_the_table(self):
        """No burst above continuous, and the drop of such plugs."""
        row = self.add("plugs", {"name": "Plain", "continuous_a": 30})["row"]
        self.assertIsNone(row["resistance_mohm"])
        listed = {p["id"]: p["note"] for p in self.client.get("/api/choices").json()["plugs"]}
        self.assertEqual(listed["own_plain"], "30 A, 30 A burst")

    def test_a_family_that_is_used_cannot_vanish(self):
        """Not by deleting, not by undoing that it was made; free of users it goes."""
        made = self.add("plugs", PLUG)
        pack = self.add("packs", {**PACK, "tag": "90", "plug": "own_tarn_twist"})["row"]
        charger = self.add("chargers", {**CHARGER, "output_plug": "own_tarn_twist"})["row"]
        job = self.job("grebe")
        job["electronics"]["plug"] = "own_tarn_twist"
        self.client.put("/api/models/grebe/job", json.dumps(job), content_type="application/json")
        gone = self.client.delete(f"/api/gear/plugs/{made['row']['id']}")
        self.assert_problem(gone, 422, "name", "It is used by pack 90, Bench two, Grebe. Give them")
        self.assert_problem(self.undo(made["change"]), 422, "name", "used by pack 90")
        job["electronics"]["plug"] = "xt60"
        self.client.put("/api/models/grebe/job", json.dumps(job), content_type="application/json")
        self.client.delete(f"/api/gear/chargers/{charger['id']}")
        dropped = self.client.delete(f"/api/gear/packs/{pack['id']}").json()
        self.assertEqual(self.client.delete(f"/api/gear/plugs/{made['row']['id']}").status_code, 200)
        self.assertNotIn("own_tarn_twist", [p["id"] for p in self.client.get("/api/choices").json()["plugs"]])
        self.assert_problem(self.undo(dropped["change"]), 422, "plug", "Plug must be one of")

    def test_deleting_it_again_asks_again(self):
        """It was free when it went; since that was taken back a pack names it."""
        made = self.add("plugs", PLUG)
        gone = self.client.delete(f"/api/gear/plugs/{made['row']['id']}").json()["change"]
        self.undo(gone)
        self.add("packs", {**PACK, "tag": "90", "plug": "own_tarn_twist"})
        self.assert_problem(self.redo(gone), 422, "name", "It is used by pack 90")

    def test_its_code_stays_when_its_name_changes(self):
        """Packs go on naming it; a second of the same name gets another code."""
        made = self.add("plugs", PLUG)["row"]
        body = {k: v for k, v in made.items() if k not in ("id", "version")} | {"name": "Tarn twist two"}
        self.assertEqual(
            self.put(f"/api/gear/plugs/{made['id']}", body).json()["row"]["code"], "own_tarn_twist"
        )
        self.assertEqual(self.add("plugs", PLUG)["row"]["code"], "own_tarn_twist_2")

    def test_what_cannot_be_is_refused_at_its_field(self):
        """Currents, itself, what is not there, a mate that is a mistake."""
        for change, field in (
            ({"continuous_a": 0}, "continuous_a"),
            ({"burst_a": 10}, "burst_a"),
            ({"resistance_mohm": 900}, "resistance_mohm"),
            ({"mates_with": ["nothing"]}, "mates_with"),
            ({"mistaken_for": ["xt60"]}, "mistaken_for"),
            ({"name": ""}, "name"),
            ({"code": "xt60"}, "code"),
        ):
            with self.subTest(change):
                self.assert_problem(self.post("/api/gear/plugs", {**PLUG, **change}), 422, field)
        self.assertEqual(OwnPlug.live.count(), 1)

    def test_a_file_brings_a_family_and_the_packs_that_carry_it(self):
        """In one go, and out and in again."""
        data = {
            "format": "cold-stack-gear",
            "version": 1,
            "plugs": [{**PLUG, "code": "own_tt"}],
            "packs": [{**PACK, "tag": "90", "plug": "own_tt"}],
        }
        sent = SimpleUploadedFile("gear.json", json.dumps(data).encode())
        report = self.client.post("/api/files/import", {"file": sent}).json()
        self.assertEqual((report["added"], report["problems"]), (2, []))
        everything = self.client.get("/api/files/gear.json").content
        again = self.client.post(
            "/api/files/preview", {"file": SimpleUploadedFile("g.json", everything)}
        ).json()
        self.assertEqual((again["added"], again["changed"]), (0, 0))

    def test_the_label_reader_knows_it_by_name(self):
        """As its owner calls it."""
        self.add("plugs", PLUG)
        read = self.post("/api/labels/read", {"line": "3S 2200mAh 35C Tarn Twist"}).json()
        self.assertEqual(read["values"]["plug"], "own_tarn_twist")
