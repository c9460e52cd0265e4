"""Notes and packs by their words."""

from __future__ import annotations

from unittest import mock

from django.db import connection
from django.test.utils import CaptureQueriesContext

from coldstack.server.gear.models import OwnedPack
from tests.lives import forget, told
from tests.server.case import DemoCase


class Search(DemoCase):
    def find(self, words):
        found = self.client.get("/api/keep/search", {"words": words}).json()
        return [p["tag"] for p in found["packs"]], [(x["tag"], x["text"]) for x in found["said"]]

    def test_words_and_their_beginnings(self):
        """All of them, in any order; accents, capitals and signs are no matter."""
        told("04", "note", text="Landed in the Älder bushes; strap torn")
        told("05", "note", text="strap new")
        for words, wanted in (
            ("strap", ["05", "04"]),
            ("alder STRAP", ["04"]),
            ("tor strap", ["04"]),
            ('strap" OR * NEAR(', []),
            ("bush; -torn", ["04"]),
        ):
            with self.subTest(words):
                self.assertEqual([tag for tag, _ in self.find(words)[1]], wanted)

    def test_packs(self):
        """By tag, name and note; as they are called now."""
        self.assertIn("04", self.find("fellside 4S")[0])
        row = OwnedPack.live.get(tag="04")
        row.note = "the one with the yellow strap"
        row.save()
        self.assertEqual(self.find("yellow")[0], ["04"])
        self.client.delete(f"/api/gear/packs/{row.pk}")
        self.assertEqual(self.find("yellow")[0], [])

    def test_what_was_taken_back(self):
        """Is not found until it is brought back; nor what was said of a pack that is gone."""
        event = told("04", "note", text="unmistakable")
        self.post("/api/keep/take-back", {"events": [event.pk]})
        self.assertEqual(self.find("unmistakable")[1], [])
        self.post("/api/keep/bring-back", {"events": [event.pk]})
        self.assertEqual(self.find("unmistakable")[1], [("04", "unmistakable")])
        forget()
        self.assertEqual(self.find("unmistakable")[1], [])

    def test_without_full_text_search(self):
        """The same of whole words, where SQLite has none."""
        told("04", "note", text="strap torn")
        with mock.patch.object(connection.introspection, "table_names", return_value=[]):
            self.assertEqual(self.find("torn strap")[1], [("04", "strap torn")])
            self.assertIn("04", self.find("fellside 4S")[0])

    def test_few_queries(self):
        """However much is found; nothing is asked for nothing."""
        for k in range(40):
            told("04", "note", text=f"gusty {k}")
        with CaptureQueriesContext(connection) as seen:
            self.assertEqual(len(self.find("gusty")[1]), 30)
        self.assertLessEqual(len(seen), 6)
        self.assertEqual(self.find("  "), ([], []))
