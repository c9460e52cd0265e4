"""What was read is kept only as long as nothing has changed."""

import sqlite3
import tempfile
import unittest
from datetime import timedelta
from pathlib import Path
from unittest import mock

from coldstack.server.gear.changes import mark_of
from coldstack.server.gear.models import OwnedPack
from coldstack.server.life.packs import stock
from tests.clock import CLOCK
from tests.server.case import DemoCase


class SetBack(DemoCase):
    def test_a_change_is_seen_though_the_clock_was_set_back(self):
        """By an hour, as in autumn: the stock has the new name at once."""
        stock()
        pack = OwnedPack.live.get(tag="07")
        with mock.patch("django.utils.timezone.now", lambda: CLOCK.now() - timedelta(hours=1)):
            pack.name = "Marvel 4S"
            pack.save()
        self.assertIn("Marvel 4S", [p.name for p in stock().packs])


class Marks(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "some.sqlite3"
        self.link = self.opened()
        self.link.execute("CREATE TABLE packs (tag TEXT)")

    def opened(self):
        link = sqlite3.connect(self.file, isolation_level=None)
        self.addCleanup(link.close)
        return link

    def test_nothing_changed(self):
        """Reading leaves the mark."""
        before = mark_of(self.link)
        self.link.execute("SELECT * FROM packs").fetchall()
        self.assertEqual(mark_of(self.link), before)

    def test_changed_by_oneself_and_by_another(self):
        """Either gives another mark."""
        first = mark_of(self.link)
        self.link.execute("INSERT INTO packs VALUES ('01')")
        second = mark_of(self.link)
        self.opened().execute("INSERT INTO packs VALUES ('02')")
        self.assertEqual(len({first, second, mark_of(self.link)}), 3)

    def test_a_new_connection_is_not_taken_for_a_closed_one(self):
        """It may stand where that stood, and have seen as many changes."""
        marks = set()
        for _ in range(50):
            link = sqlite3.connect(self.file)
            marks.add(mark_of(link))
            link.close()
            del link
        self.assertEqual(len(marks), 50)
