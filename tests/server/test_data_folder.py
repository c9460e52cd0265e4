import os
import socket
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import mock

from django.core.management.base import CommandError
from django.test import SimpleTestCase

from coldstack.server.config.arguments import choose_by
from coldstack.server.config.paths import data_dir, secret_key
from coldstack.server.worlds.listening import PORTS_TO_TRY, free_port


class DataFolder(SimpleTestCase):
    def folder(self, platform="linux", **environment):
        with (
            mock.patch.dict(os.environ, environment, clear=True),
            mock.patch.object(sys, "platform", platform),
            mock.patch.object(Path, "home", return_value=Path("/home/ada")),
        ):
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


class CommandLine(SimpleTestCase):
    def chosen(self, *arguments):
        with mock.patch.dict(os.environ, {}, clear=True):
            choose_by(arguments)
            return os.environ.get("COLD_STACK_DATA"), os.environ.get("COLD_STACK_WORLD")

    def test_the_folder_is_known_however_it_is_said(self):
        """Apart, or with an equals sign; a backup must never go into another folder than was said."""
        self.assertEqual(self.chosen("restore", "x.sqlite3", "--data", "/a"), ("/a", None))
        self.assertEqual(self.chosen("restore", "x.sqlite3", "--data=/a"), ("/a", None))
        self.assertEqual(self.chosen("serve", "--port", "8601"), (None, None))

    def test_the_world_of_a_server(self):
        """Only serving chooses one."""
        self.assertEqual(self.chosen("serve", "--demo", "--data=/a"), ("/a", "demo"))
        self.assertEqual(self.chosen("serve", "--own"), (None, "own"))
        self.assertEqual(self.chosen("test", "--demo"), (None, None))

    def test_a_folder_that_was_left_out_is_told_by_the_command(self):
        """Here it is passed over."""
        self.assertEqual(self.chosen("restore", "--data"), (None, None))

    def test_reading_the_settings_leaves_nothing_behind(self):
        """No folder and no key in the home of somebody who only asks for help."""
        with tempfile.TemporaryDirectory() as name:
            folder = Path(name) / "new"
            asked = [sys.executable, "manage.py", "check", f"--data={folder}"]
            environment = {**os.environ, "COLD_STACK_DATA": str(folder)}
            code = "import coldstack.server.config.settings"
            for command in (asked[:3], [sys.executable, "-c", code]):
                subprocess.run(command, check=True, capture_output=True, env=environment)
                self.assertFalse(folder.exists())


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
