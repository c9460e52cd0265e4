"""Backup and restore, and the calendar file."""

import sqlite3
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.core.management import CommandError, call_command
from django.test import TransactionTestCase
from icalendar import Calendar

from coldstack.core.errors import DomainError
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.models import Event
from coldstack.server.worlds.backup import restore
from tests.demo_world import demo_world
from tests.server.case import DemoCase


class Backup(TransactionTestCase):
    def setUp(self):
        demo_world()
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.file = Path(self.folder.name) / "backup.sqlite3"
        self.file.write_bytes(self.client.get("/api/files/backup.sqlite3").content)

    def test_one_whole_file_with_everything(self):
        """As many packs and records as there are, and SQLite finds it whole."""
        with sqlite3.connect(self.file) as link:
            self.assertEqual(link.execute("PRAGMA integrity_check").fetchone()[0], "ok")
            counts = [
                link.execute(f"SELECT count(*) FROM {t}").fetchone()[0]
                for t in ("gear_ownedpack", "life_event")
            ]
        self.assertEqual(counts, [OwnedPack.objects.count(), Event.objects.count()])
        self.assertEqual(len(list(Path(self.folder.name).iterdir())), 1)

    def test_into_an_empty_place(self):
        """Byte for byte; never over a database that is there."""
        target = Path(self.folder.name) / "new" / "cold-stack.sqlite3"
        restore(self.file, target)
        self.assertEqual(target.read_bytes(), self.file.read_bytes())
        with self.assertRaisesRegex(DomainError, "already"):
            restore(self.file, target)

    def test_what_is_no_backup(self):
        """A text, another database, a torn file: refused, and nothing is left behind."""
        torn = Path(self.folder.name) / "torn.sqlite3"
        torn.write_bytes(self.file.read_bytes()[: 40 * 1024])
        text = Path(self.folder.name) / "notes.txt"
        text.write_text("my packs")
        other = Path(self.folder.name) / "other.sqlite3"
        with sqlite3.connect(other) as link:
            link.execute("CREATE TABLE x (y)")
        for source in (torn, text, other):
            with self.subTest(source.name):
                target = Path(self.folder.name) / "empty" / "db.sqlite3"
                with self.assertRaisesRegex(DomainError, "no whole backup"):
                    restore(source, target)
                self.assertFalse(target.exists())

    def test_the_command(self):
        """Refuses in words where there is a database."""
        with (
            patch.dict(settings.DATABASES["default"], {"NAME": str(self.file)}),
            self.assertRaisesRegex(CommandError, "already"),
        ):
            call_command("restore", str(self.file))


class CalendarFile(DemoCase):
    def test_what_is_due(self):
        """An event for each pack to bring to storage, the overdue one now; a known library reads it."""
        reply = self.client.get("/api/keep/due.ics")
        self.assertEqual(reply["Content-Type"], "text/calendar; charset=utf-8")
        events = {str(e["summary"]): e for e in Calendar.from_ical(reply.content).walk("VEVENT")}
        groups = {g["doing"]: g["packs"] for g in self.client.get("/api/keep/shelf").json()["groups"]}
        self.assertEqual(len(events), len(groups["storage"]))
        self.assertIn("Pack 05: to storage", events)
        starts = [e["dtstart"].dt for e in events.values()]
        self.assertEqual(events["Pack 05: to storage"]["dtstart"].dt, min(starts))

    def test_read_again_it_is_the_same(self):
        """The same ids, so that a calendar changes its events and adds none."""
        ids = [
            sorted(
                str(e["uid"])
                for e in Calendar.from_ical(self.client.get("/api/keep/due.ics").content).walk("VEVENT")
            )
            for _ in range(2)
        ]
        self.assertEqual(*ids)
        self.assert_problem(self.client.get("/api/keep/due.ics?house_rules=x"), 422, "house_rules")
