import os
import socket
import sys
import tempfile
from pathlib import Path
from unittest import mock

from django.core.management.base import CommandError
from django.test import SimpleTestCase

from coldstack.server.config.paths import data_dir, secret_key
from coldstack.server.gear.management.commands.serve import PORTS_TO_TRY, free_port


class DataFolder(SimpleTestCase):
    def folder(self, platform="linux", **environment):
        with mock.patch.dict(os.environ, environment, clear=True), mock.patch.object(sys, "platform", platform), mock.patch.object(Path, "home", return_value=Path("/home/ada")):  # fmt: skip
            return data_dir()

    def test_the_variable_wins(self):
        """Wherever it points."""
        self.assertEqual(self.folder(COLD_STACK_DATA="/somewhere"), Path("/somewhere"))

    def test_each_system_s_place_for_a_user_s_data(self):
        """Never the program's own folder."""
        self.assertEqual(self.folder(), Path("/home/ada/.local/share/cold-stack"))
        self.assertEqual(self.folder(XDG_DATA_HOME="/data"), Path("/data/cold-stack"))
        self.assertEqual(self.folder("darwin"), Path("/home/ada/Library/Application Support/cold-stack"))
        self.assertEqual(self.folder("win32", LOCALAPPDATA="/appdata"), Path("/appdata/cold-stack"))

    def test_the_key_is_made_once_and_for_its_user_only(self):
        """Long, kept, and not readable by others."""
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "new"
            first = secret_key(folder)
            self.assertGreaterEqual(len(first), 60)
            self.assertEqual(secret_key(folder), first)
            self.assertEqual((folder / "secret-key").stat().st_mode & 0o077, 0)


class Ports(SimpleTestCase):
    def test_the_next_free_one(self):
        """A port somebody listens on is passed over."""
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", 0))
            taken.listen()
            port = taken.getsockname()[1]
            self.assertGreater(free_port(port), port)

    def test_none_free_is_told(self):
        """After fifty tries."""
        with (
            mock.patch("socket.socket.bind", side_effect=OSError),
            self.assertRaisesRegex(CommandError, "No free port"),
        ):
            free_port(8600)
        self.assertEqual(PORTS_TO_TRY, 50)
