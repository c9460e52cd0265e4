"""What the command line says where it cannot go on: one sentence, and no traceback."""

import signal
import sqlite3
import subprocess
import sys
import tempfile
from pathlib import Path

from django.core.management import call_command
from django.core.management.base import CommandError
from django.test import SimpleTestCase

from coldstack.core.errors import DomainError
from coldstack.server.config.paths import PROJECT
from coldstack.server.worlds.backup import restore


class Serve(SimpleTestCase):
    databases = ("default",)

    def test_ports_and_hosts_that_are_none(self):
        """Before anything is made."""
        for asked, words in (
            ({"port": -5}, "A port is a number from 1 to 65535, not -5."),
            ({"port": 70000}, "not 70000"),
            ({"host": "no.such.host.invalid"}, "is no address of this machine"),
        ):
            with self.subTest(asked), self.assertRaisesRegex(CommandError, words):
                call_command("serve", **asked)

    def said(self, folder, *more):
        """Exit code and last line of a server that cannot begin."""
        command = [sys.executable, "manage.py", "serve", "--own", "--data", str(folder), *more]
        done = subprocess.run(command, cwd=PROJECT, capture_output=True, text=True, timeout=60, check=False)
        return done.returncode, done.stderr.strip()

    def test_a_folder_that_is_none_and_a_database_that_is_damaged(self):
        """Told with the way out."""
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "file")
            file.write_text("x")
            code, words = self.said(file / "sub")
            self.assertEqual((code, words.count("\n")), (1, 0), words)
            self.assertIn("cannot be used", words)
            Path(folder, "cold-stack.sqlite3").write_bytes(b"garbage " * 500)
            code, words = self.said(folder)
            self.assertEqual((code, words.count("\n")), (1, 0), words)
            self.assertIn("is damaged. Move it away", words)

    def test_asked_to_end_and_a_newer_database(self):
        """SIGTERM ends it cleanly; a database that a newer program wrote is left as it is."""
        with tempfile.TemporaryDirectory() as folder:
            command = [sys.executable, "manage.py", "serve", "--own", "--port", "8740", "--data", folder]
            server = subprocess.Popen(
                command, cwd=PROJECT, stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True
            )
            next(line for line in server.stdout if "http://" in line)
            server.send_signal(signal.SIGTERM)
            self.assertEqual(server.wait(timeout=30), 0)
            self.assertEqual(server.stderr.read(), "")
            server.stdout.close()
            server.stderr.close()
            database = Path(folder, "cold-stack.sqlite3")
            link = sqlite3.connect(database)
            link.execute(
                "INSERT INTO django_migrations (app, name, applied) VALUES ('gear', '9999_x', '2030-01-01')"
            )
            link.commit()
            link.close()
            before = database.read_bytes()
            code, words = self.said(folder)
            self.assertEqual((code, words.count("\n")), (1, 0), words)
            self.assertIn("made by a newer Cold Stack", words)
            self.assertEqual(database.read_bytes(), before)


class Restore(SimpleTestCase):
    def test_a_table_of_the_right_name_is_no_backup(self):
        """Whatever the file is called."""
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "one?table%.sqlite3")
            link = sqlite3.connect(file)
            link.execute("CREATE TABLE gear_ownedpack (id INTEGER)")
            link.commit()
            link.close()
            with self.assertRaisesRegex(DomainError, "no whole backup"):
                restore(file, Path(folder, "new.sqlite3"))
            self.assertFalse(Path(folder, "new.sqlite3").exists())
