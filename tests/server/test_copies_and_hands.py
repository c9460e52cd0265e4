"""Copies before an upgrade, a backup proved, what a newer program made, and whose hands an act was in."""

import csv
import io
import json
import sqlite3
import subprocess
import sys
import tempfile
from contextlib import closing
from datetime import timedelta
from pathlib import Path
from unittest import mock

from django.core.management import call_command
from django.core.management.base import CommandError
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.db.migrations.recorder import MigrationRecorder
from django.test import TestCase, TransactionTestCase
from django.utils import timezone

from coldstack.server.config.paths import PROJECT
from coldstack.server.gear.csv_cells import csv_out
from coldstack.server.life.models import Event
from coldstack.server.pairing import invitations
from coldstack.server.worlds.backup import backup_bytes, made_by_newer
from coldstack.server.worlds.upgrades import COPIES, FOLDER, copy_before_upgrade, newer_in
from tests.clock import START
from tests.demo_world import demo_world
from tests.server.case import DemoCase
from tests.server.test_pairing import paired, phone_at, said

LATEST = MigrationLoader(None).graph.leaf_nodes("life")[0][1]
"""The last migration of packs' lives."""


class Upgrades(TransactionTestCase):
    """Nothing that was kept hangs on an upgrade going well."""

    def setUp(self):
        demo_world()
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)

    def copied(self, at):
        """A start with one migration still to come."""
        with connection.cursor() as cursor:
            cursor.execute("DELETE FROM django_migrations WHERE app = 'life' AND name = %s", [LATEST])
        with self.settings(DATA_DIR=self.folder.name):
            return copy_before_upgrade(at)

    def test_the_last_five(self):
        """Each upgrade leaves a whole copy with its date; of seven the newest five stay."""
        self.addCleanup(MigrationRecorder(connection).record_applied, "life", LATEST)
        names = [self.copied(START + timedelta(days=k)).name for k in range(7)]
        kept = sorted(f.name for f in Path(self.folder.name, FOLDER).iterdir())
        self.assertEqual(kept, names[-COPIES:])
        with closing(sqlite3.connect(Path(self.folder.name, FOLDER, kept[-1]))) as copy:
            self.assertEqual(copy.execute("PRAGMA integrity_check").fetchone()[0], "ok")
            self.assertEqual(
                copy.execute("SELECT count(*) FROM life_event").fetchone()[0], Event.objects.count()
            )

    def test_none_where_nothing_is_to_be_done(self):
        """A start of today's program copies nothing."""
        with self.settings(DATA_DIR=self.folder.name):
            self.assertIsNone(copy_before_upgrade(START))
        self.assertEqual(list(Path(self.folder.name).iterdir()), [])

    def test_what_is_damaged_is_not_newer(self):
        """A document that is none, or has words for its version, stops nobody."""
        for job in ("no document", '{"version": "x"}', '{"version": null}'):
            with self.subTest(job), tempfile.NamedTemporaryFile(suffix=".sqlite3") as file:
                Path(file.name).write_bytes(backup_bytes())
                with closing(sqlite3.connect(file.name)) as link:
                    link.execute("PRAGMA ignore_check_constraints = ON")
                    link.execute("UPDATE gear_rcmodel SET job = ? WHERE id = 1", (job,))
                    self.assertFalse(newer_in(link))

    def test_whatever_is_newer(self):
        """A migration of an app that is known or not, or a document of a later version: a newer program."""
        self.assertFalse(made_by_newer())
        newer = (
            "INSERT INTO django_migrations (app, name, applied) VALUES ('gear', '0999_x', '2030-01-01')",
            "INSERT INTO django_migrations (app, name, applied) VALUES ('fleet', '0001_x', '2030-01-01')",
            "UPDATE gear_rcmodel SET job = json_set(job, '$.version', 99) WHERE id = 1",
        )
        for statement in newer:
            with self.subTest(statement), tempfile.NamedTemporaryFile(suffix=".sqlite3") as file:
                Path(file.name).write_bytes(backup_bytes())
                with closing(sqlite3.connect(file.name)) as link:
                    self.assertFalse(newer_in(link))
                    self.assertEqual(link.execute(statement).rowcount, 1)
                    self.assertTrue(newer_in(link))


class Backups(TransactionTestCase):
    """A backup is worth what restoring it has shown."""

    def setUp(self):
        demo_world()

    def check(self, file):
        """`cold-stack --check FILE`, as a process of its own: exit code and what it says."""
        command = [sys.executable, "-m", "coldstack", "--check", str(file)]
        done = subprocess.run(command, cwd=PROJECT, capture_output=True, text=True, timeout=120, check=False)
        return done.returncode, done.stdout.strip(), done.stderr.strip()

    def test_proved_by_restoring_it_aside(self):
        """A good one is counted; half of it is told to be none; neither leaves anything behind."""
        with tempfile.TemporaryDirectory() as folder:
            whole, half = Path(folder, "whole.sqlite3"), Path(folder, "half.sqlite3")
            content = backup_bytes()
            whole.write_bytes(content)
            half.write_bytes(content[: len(content) // 2])
            code, out, err = self.check(whole)
            self.assertEqual((code, err), (0, ""))
            packs = self.client.get("/api/gear/packs").json()
            self.assertIn("is whole, and can be restored:", out)
            self.assertIn(f" {len(packs)} packs", out)
            self.assertIn(f" {Event.objects.count()} events", out)
            code, out, err = self.check(half)
            self.assertEqual((code, out), (1, ""))
            self.assertIn("is no whole backup of Cold Stack", err)
            self.assertEqual({f.name for f in Path(folder).iterdir()}, {"whole.sqlite3", "half.sqlite3"})

    def test_onto_a_folder(self):
        """Told before anything is written."""
        with (
            tempfile.TemporaryDirectory() as folder,
            mock.patch("coldstack.server.worlds.management.commands.backup.Path.exists", return_value=True),
        ):
            with self.assertRaisesRegex(CommandError, "is a folder: name the file in it"):
                call_command("backup", folder)
            self.assertEqual(list(Path(folder).iterdir()), [])


class WhoseHands(DemoCase):
    """Each act carries whose it was."""

    def test_of_a_pack_and_of_gear(self):
        """This computer's and a phone's notes stand apart on the pack's page; so do changes of gear."""
        self.assertEqual(self.post("/api/keep/left", {"packs": ["01"], "state": "stored"}).status_code, 200)
        phone = paired()
        body = {"packs": ["01"], "state": "full"}
        reply = phone.post("/api/keep/left", json.dumps(body), content_type="application/json")
        self.assertEqual(reply.status_code, 200, reply.content)
        page = self.client.get("/api/keep/packs/01").json()
        hands = [e["hands"] for e in page["life"] if e["sentence"].startswith("Noted")][:2]
        self.assertEqual(hands, ["phone Phone that may everything", "this computer"])
        self.post("/api/keep/packs/01/notes", {"text": "from the bench"})
        self.assertEqual(self.client.get("/api/keep/packs/01").json()["notes"][0]["hands"], "this computer")
        row = self.client.get("/api/gear/packs").json()[0]
        self.client.patch(f"/api/gear/packs/{row['id']}", '{"note": "x"}', content_type="application/json")
        self.assertEqual(self.client.get("/api/gear/changes").json()[0]["hands"], "this computer")

    def test_a_phone_that_calls_itself_a_computer(self):
        """It is a phone by that name, and no computer."""
        phone = phone_at()
        code = invitations.invite("everything", now=timezone.now()).code
        said(phone, code=code, name="this computer")
        body = json.dumps({"packs": ["01"], "state": "full"})
        self.assertEqual(phone.post("/api/keep/left", body, content_type="application/json").status_code, 200)
        self.assertEqual(Event.objects.latest("pk").hands, "phone this computer")

    def test_nobody_s(self):
        """What the charger told is in nobody's hands."""
        self.assertEqual(set(Event.objects.filter(by="charger").values_list("hands", flat=True)), {""})


class OddLetters(TestCase):
    """Letters that end a line."""

    def test_a_carriage_return_goes_out_quoted(self):
        """A name with one in it is one cell to whoever reads lines, and begins no formula."""
        text = csv_out(("name", "note"), [("a\r=1+1", "b"), ("plain", "c")])
        self.assertEqual(list(csv.reader(io.StringIO(text, newline="")))[1], ["a\r=1+1", "b"])
        self.assertIn('"a\r=1+1"', text)
        self.assertIn("\nplain,c\n", text)

    def test_a_line_feed_in_a_tag(self):
        """Refused at its field."""
        pack = {"name": "x", "chemistry": "lipo", "series": 3, "capacity_ah": 1, "mass_g": 90, "tag": "1\n2"}
        reply = self.client.post("/api/gear/packs", pack, content_type="application/json")
        self.assertEqual(reply.status_code, 422)
        self.assertEqual(reply.json()["errors"][0]["field"], "tag")
        self.assertIn("one line", reply.json()["errors"][0]["message"])
