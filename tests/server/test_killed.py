"""The server as a process, killed with SIGKILL in the middle of an import and of saves: all or none, and the
file is whole."""

import json
import sqlite3
import tempfile
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path

from coldstack.server.worlds.backup import restore
from tests.server.process import ServerProcess
from tests.server.test_files import rows_csv

ROWS = 4000


class Killed(ServerProcess):
    def upload(self):
        """The import's request, as a form."""
        form = "".join(
            f'--x\r\nContent-Disposition: form-data; name="{n}"\r\n\r\n{v}\r\n'
            for n, v in (("kind", "catalogue"), ("token", "k"))
        )
        form += (
            '--x\r\nContent-Disposition: form-data; name="file"; '
            f'filename="f.csv"\r\n\r\n{rows_csv(ROWS)}\r\n--x--\r\n'
        )
        try:
            self.ask("api/files/import", form.encode(), "multipart/form-data; boundary=x")
            self.acknowledged = True
        except (urllib.error.URLError, OSError):
            self.acknowledged = False

    def stored(self, query):
        """Asked of the file itself, after a check of its soundness."""
        with sqlite3.connect(self.database) as link:
            self.assertEqual(link.execute("PRAGMA integrity_check").fetchone()[0], "ok")
            self.assertEqual(link.execute("PRAGMA foreign_key_check").fetchall(), [])
            return link.execute(query).fetchone()[0]

    def progress(self):
        return self.ask("api/files/progress/k")

    def test_in_the_middle_of_an_import(self):
        """Killed while it stores: none of the 4,000 rows is there, nor a change to undo; the next start
        works."""
        thread = threading.Thread(target=self.upload)
        thread.start()
        seen = {}
        end = time.monotonic() + 60
        while time.monotonic() < end:
            seen = self.progress()
            if seen["phase"] == "storing" and 0 < seen["done"] < seen["total"]:
                break
        self.kill()
        thread.join()
        self.assertEqual(seen["phase"], "storing", "it was caught in the middle")
        self.assertFalse(self.acknowledged)
        count = self.stored("select count(*) from gear_cataloguepack where name like 'Skarn%'")
        self.assertEqual(count, 0)
        self.assertEqual(self.stored("select count(*) from gear_change"), 0)
        self.start()
        self.assertEqual(len(self.ask("api/gear/catalogue")), 123)

    def log(self, key):
        body = {
            "key": key,
            "model": "ptarmigan",
            "pack": "04",
            "at": "2026-11-25T12:00:00Z",
            "minutes": 9,
            "put_back_mah": 2100,
        }
        self.ask("api/runs", json.dumps(body).encode())

    def test_in_the_middle_of_runs_and_a_backup(self):
        """Runs logged until the kill, a backup taken meanwhile: all acknowledged runs are there, sent again
        they are there once, and the backup is one moment of it."""
        keys, acknowledged, backups = [f"run-{i:06d}" for i in range(3000)], [], []

        def work():
            for key in keys:
                try:
                    self.log(key)
                except (urllib.error.URLError, OSError):
                    return
                acknowledged.append(key)

        thread = threading.Thread(target=work)
        thread.start()
        self.until(lambda: len(acknowledged) >= 5)
        with urllib.request.urlopen(self.address + "api/files/backup.sqlite3", timeout=30) as reply:
            backups.append(reply.read())
        self.until(lambda: len(acknowledged) >= 20)
        self.kill()
        thread.join()
        known = len(acknowledged)
        self.assertIn(
            self.stored("select count(*) from life_event where model = 'ptarmigan'"),
            (known, known + 1),
        )
        self.start()
        for key in keys[: known + 1]:
            self.log(key)
        self.assertEqual(len(self.ask("api/runs?model=ptarmigan")["runs"]), known + 1)
        self.assert_one_moment(backups[0], known)

    def assert_one_moment(self, backup, known):
        """Whole; restored into an empty place the program serves it."""
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "backup.sqlite3"
            file.write_bytes(backup)
            restore(file, Path(folder) / "new" / "cold-stack.sqlite3")
            with sqlite3.connect(Path(folder) / "new" / "cold-stack.sqlite3") as link:
                self.assertEqual(link.execute("PRAGMA integrity_check").fetchone()[0], "ok")
                runs = link.execute("select count(*) from life_event where model = 'ptarmigan'").fetchone()[0]
        self.assertTrue(5 <= runs <= known)

    def until(self, holds):
        end = time.monotonic() + 60
        while not holds() and time.monotonic() < end:
            time.sleep(0.005)

    def test_in_the_middle_of_saves(self):
        """Packs added one after the other until the kill: every acknowledged one is there, whole, and at
        most one more."""
        acknowledged = []

        def save():
            for i in range(2000):
                body = {
                    "name": f"Saved {i}",
                    "chemistry": "lipo",
                    "series": 3,
                    "capacity_ah": 2.2,
                    "mass_g": 180,
                }
                try:
                    acknowledged.append(self.ask("api/gear/packs", json.dumps(body).encode())["row"]["name"])
                except (urllib.error.URLError, OSError):
                    return

        thread = threading.Thread(target=save)
        thread.start()
        end = time.monotonic() + 60
        while len(acknowledged) < 15 and time.monotonic() < end:
            time.sleep(0.005)
        self.kill()
        thread.join()
        known = len(acknowledged)
        self.assertGreaterEqual(known, 15)
        count = self.stored("select count(*) from gear_ownedpack where name like 'Saved%'")
        self.assertIn(count, (known, known + 1))
        self.assertEqual(
            self.stored("select count(*) from gear_change"), count, "a row and its change go together"
        )
