"""A database of before there was one life per pack, with a year of demo records and one's own: brought up to
date, nothing is lost, and every pack stands as it stood."""

from __future__ import annotations

import gzip
import json
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import SimpleTestCase

from coldstack.server.config.paths import PROJECT

DATA = PROJECT / "tests" / "data"


class BroughtUpToDate(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.before = json.loads((DATA / "before-one-life.json").read_text())
        with tempfile.TemporaryDirectory() as folder:
            database = Path(folder) / "demo" / "cold-stack.sqlite3"
            database.parent.mkdir()
            database.write_bytes(gzip.decompress((DATA / "before-one-life.sqlite3.gz").read_bytes()))
            command = [sys.executable, "-m", "tests.server.as_told", folder]
            done = subprocess.run(command, cwd=PROJECT, capture_output=True, text=True, check=False)
        assert done.returncode == 0, done.stderr[-2000:]
        cls.now = json.loads(done.stdout)

    def test_everything_is_there_once(self):
        """Each record, run, note, reading and step: a run and the record of what it left are one event."""
        kinds, before = self.now["kinds"], self.before
        self.assertEqual((kinds["run"], kinds["note"]), (before["runs"], before["notes"]))
        self.assertEqual(kinds["retirement"], before["retirements"])
        runs_that_left_a_record = 5
        records = kinds["charge"] + kinds["state"] + kinds["reading"] - before["readings"]
        self.assertEqual(records, before["records"] - runs_that_left_a_record)
        # one run and one note were taken away: they stay so
        self.assertEqual(self.now["withdrawn"], 2)
        # a pack that is out of the box keeps its life; what was ticked on the bench was seen
        self.assertGreater(self.now["gone"], 30)
        self.assertEqual(kinds["inspection"], 1)

    def test_what_was_measured_is_there(self):
        """Under the name it has today."""
        self.assertEqual(self.now["cell_mohm"], 22)

    def test_every_pack_stands_as_it_stood(self):
        """State, verdict, since when, cycles, runs, steps, forecast. Only 09 is otherwise: it was on the
        charger, and nothing but the bench knew."""
        otherwise = {}
        for tag, was in self.before["shelf"].items():
            line, page, old = self.now["shelf"][tag], self.now["pages"][tag], self.before["pages"][tag]
            self.assertEqual({k: page[k] for k in old}, old, tag)
            self.assertEqual((line["level"], line["since"]), (was["level"], was["since"]), tag)
            if line["state"] != was["state"]:
                otherwise[tag] = (was["state"], line["state"], line["charge"])
        self.assertEqual(otherwise, {"09": ("stored", "charging", "stored")})
        self.assertEqual(self.now["learned"], self.before["learned"])

    def test_what_was_typed_on_the_bench_is_as_old_as_it_is(self):
        """It passes for nothing that was read just now; what a run made worthless is gone."""
        lines = {x["pack"]: x for x in self.now["bench"]}
        self.assertTrue(lines["owned:01"]["read_at"].startswith("2026-11-25T14:00"))
        self.assertEqual(lines["owned:31"]["cells"], "3.786 3.785 3.787 3.784")
        self.assertIsNone(lines["owned:14"]["read_at"])

    def test_charges_know_their_packs(self):
        """By what they are, no more by their tags."""
        self.assertEqual(
            self.now["charges"],
            [["31 + 32", ["owned:31", "owned:32"], "done"], ["09", ["owned:09"], "charging"]],
        )
