"""A write says which version it was made from: what was changed elsewhere is never overwritten unsaid."""

import gzip
import json

from coldstack.server.charges.models import Layout
from coldstack.server.gear.kinds import KINDS
from coldstack.server.gear.models import RcModel
from tests.server.case import DemoCase


class NothingNew(DemoCase):
    def test_what_has_not_changed_is_not_sent_again(self):
        """Asked for with what one has, it is 304 and empty; after a change it comes whole."""
        for address in ("/api/charges", "/api/keep/shelf", "/api/models/ptarmigan"):
            first = self.client.get(address)
            tag = first["ETag"]
            again = self.client.get(address, headers={"If-None-Match": tag})
            self.assertIn(again.status_code, (304, 200))
            if address != "/api/keep/shelf":  # which tells of hours
                self.assertEqual((again.status_code, again.content), (304, b""))
        model = RcModel.live.get(slug="ptarmigan")
        model.name = "Another"
        model.save()
        self.assertEqual(self.client.get(address, headers={"If-None-Match": tag}).status_code, 200)


class Compressed(DemoCase):
    def test_answers_come_compressed_where_that_is_understood(self):
        """Large answers to who accepts it, and the same when unpacked; small ones and files as they are."""
        address = "/api/gear/packs"
        plain = self.client.get(address)
        packed = self.client.get(address, headers={"Accept-Encoding": "gzip"})
        self.assertNotIn("Content-Encoding", plain)
        self.assertEqual(packed["Content-Encoding"], "gzip")
        self.assertEqual(gzip.decompress(packed.content), plain.content)
        self.assertLess(len(packed.content), len(plain.content) / 4)
        small = self.client.get("/api/world", headers={"Accept-Encoding": "gzip"})
        self.assertNotIn("Content-Encoding", small)

    def test_what_one_has_is_not_sent_again_compressed(self):
        """The version of a compressed answer is good for asking again."""
        asked = {"Accept-Encoding": "gzip"}
        tag = self.client.get("/api/gear/packs", headers=asked)["ETag"]
        again = self.client.get("/api/gear/packs", headers={**asked, "If-None-Match": tag})
        self.assertEqual((again.status_code, again.content), (304, b""))


class Versions(DemoCase):
    def put(self, path, body, made_from=None):
        headers = {} if made_from is None else {"If-Match": made_from}
        return self.client.put(path, json.dumps(body), content_type="application/json", headers=headers)

    def test_a_job_made_from_an_older_one(self):
        """Two tabs change the average and the peak: the second is refused, nothing of the first is gone."""
        first = self.client.get("/api/models/ptarmigan").json()
        one = {**first["job"], "draw": {**first["job"]["draw"], "average_a": 20}}
        other = {**first["job"], "draw": {**first["job"]["draw"], "peak_a": 60}}
        kept = self.put("/api/models/ptarmigan/job", one, first["version"])
        self.assertEqual(kept.status_code, 200, kept.content[:300])
        self.assertNotEqual(kept.json()["version"], first["version"])
        refused = self.put("/api/models/ptarmigan/job", other, first["version"])
        self.assert_problem(refused, 412, words="changed elsewhere since")
        self.assertEqual(RcModel.live.get(slug="ptarmigan").job["draw"]["average_a"], 20)
        again = self.put("/api/models/ptarmigan/job", other, kept.json()["version"])
        self.assertEqual(again.status_code, 200)

    def test_the_same_content_is_the_same_version(self):
        """Kept twice, it is one; quoted as the header would have it, too; without a word any is taken."""
        job = self.client.get("/api/models/ptarmigan").json()["job"]
        versions = {self.put("/api/models/ptarmigan/job", job).json()["version"] for _ in range(2)}
        self.assertEqual(len(versions), 1)
        for said in (f'"{versions.copy().pop()}"', "*"):
            self.assertEqual(self.put("/api/models/ptarmigan/job", job, said).status_code, 200)

    def test_a_figure_that_cannot_be_comes_before(self):
        """What cannot be is told, whatever it was made from."""
        job = self.client.get("/api/models/ptarmigan").json()["job"]
        job["draw"]["average_a"] = -1
        self.assertEqual(self.put("/api/models/ptarmigan/job", job, "old").status_code, 422)

    def test_a_set_of_house_rules(self):
        """Two who change one set: the second is refused."""
        first = next(s for s in self.client.get("/api/rules").json()["sets"] if s["id"] == "steady")
        one = {"values": {**first["values"], "usable_share": 0.7}}
        kept = self.put("/api/rules/sets/steady", one, first["version"])
        self.assertEqual(kept.status_code, 200, kept.content[:300])
        other = {"values": {**first["values"], "storage_within_h": 24}}
        self.assert_problem(self.put("/api/rules/sets/steady", other, first["version"]), 412)
        self.assertEqual(self.put("/api/rules/sets/steady", other, kept.json()["version"]).status_code, 200)

    def test_the_bench_forgets_nothing(self):
        """An empty PUT leaves it as it is; one made from an older one is refused."""
        Layout.objects.all().delete()
        laid = [{"pack": "owned:04", "cells": "3.80 3.80 3.80 3.80"}]
        first = self.client.get("/api/bench").json()["version"]
        second = self.put("/api/bench", {"laid": laid}, first).json()["version"]
        self.assertNotEqual(first, second)
        kept = self.put("/api/bench", {}).json()["bench"]
        self.assertEqual([x["pack"] for x in kept["laid"]], ["owned:04"])
        self.assert_problem(self.put("/api/bench", {"laid": []}, first), 412)
        self.assertEqual(len(self.client.get("/api/bench").json()["bench"]["laid"]), 1)
        self.assertEqual(self.put("/api/bench", {"house_rules": "long_life"}, second).status_code, 200)
        self.assertEqual(len(self.client.get("/api/bench").json()["bench"]["laid"]), 1)


class GearRows(DemoCase):
    def row(self, tag="04"):
        return next(r for r in self.client.get("/api/gear/packs").json() if r["tag"] == tag)

    def patch(self, row, part, version):
        return self.client.patch(
            f"/api/gear/packs/{row['id']}",
            part,
            content_type="application/json",
            headers={"If-Match": version},
        )

    def test_a_note_and_unfit_from_two_sides(self):
        """The later write was made from an older row: refused, nothing lost; made from the latest it is
        kept. Every kind says its version, and one that asks for none is as before."""
        before = self.row()
        self.assertEqual(self.patch(before, {"note": "Bent tab."}, before["version"]).status_code, 200)
        refused = self.patch(before, {"note": "Sound.", "fit": False}, before["version"])
        self.assertEqual(refused.status_code, 412)
        now = self.row()
        self.assertEqual((now["note"], now["fit"]), ("Bent tab.", True))
        kept = self.patch(now, {"fit": False}, now["version"]).json()["row"]
        self.assertEqual((kept["note"], kept["fit"]), ("Bent tab.", False))
        self.assertEqual(kept["version"], self.row()["version"])
        self.assertEqual(self.patch(now, {"note": "Third."}, "*").status_code, 200)
        for kind in KINDS:
            for row in self.client.get(f"/api/gear/{kind}").json():
                self.assertRegex(row["version"], "^[0-9a-f]{16}$", kind)


class Places(DemoCase):
    def test_two_who_say_where_packs_lie(self):
        """The second is refused, and loses nothing."""
        first = self.client.get("/api/keep/place").json()
        for place, status in (("Shed", 200), ("Cellar", 412)):
            reply = self.client.put(
                "/api/keep/place",
                {"place": place, "now_c": 18},
                content_type="application/json",
                headers={"If-Match": first["version"]},
            )
            self.assertEqual(reply.status_code, status)
        now = self.client.get("/api/keep/place").json()
        self.assertEqual(now["place"], "Shed")
        self.assertNotEqual(now["version"], first["version"])
