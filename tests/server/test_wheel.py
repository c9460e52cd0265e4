"""The wheel in a fresh environment with Python alone: no make, no Node, no network, none of this folder."""

import json
import os
import re
import subprocess
import sys
import tempfile
import urllib.request
import venv
import zipfile
from pathlib import Path

from django.test import SimpleTestCase

from coldstack.server.config.paths import PROJECT

PATIENCE_S = 300


class Wheel(SimpleTestCase):
    """Built once for the class, and installed from the files that setting up has fetched."""

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.place = tempfile.TemporaryDirectory()
        cls.addClassCleanup(cls.place.cleanup)
        cls.root = Path(cls.place.name)
        uv = [
            str(Path(sys.executable).with_name("uv")),
            "build",
            "--quiet",
            "--wheel",
            "--no-build-isolation",
            "--offline",
        ]
        subprocess.run(
            [*uv, "--python", sys.executable, "--out-dir", str(cls.root / "dist"), str(PROJECT)],
            check=True,
            timeout=PATIENCE_S,
        )
        cls.wheel = next((cls.root / "dist").glob("*.whl"))
        venv.create(cls.root / "fresh", with_pip=True)
        bin_folder = cls.root / "fresh" / ("Scripts" if os.name == "nt" else "bin")
        cls.command = bin_folder / "cold-stack"
        pip = [
            str(bin_folder / "python"),
            "-m",
            "pip",
            "install",
            "--quiet",
            "--disable-pip-version-check",
            "--no-index",
        ]
        subprocess.run(
            [*pip, "--find-links", str(PROJECT / ".venv" / "wheelhouse"), str(cls.wheel)],
            check=True,
            timeout=PATIENCE_S,
        )

    def environment(self):
        """Neither Node nor make nor this project on any path."""
        kept = {k: v for k, v in os.environ.items() if k in ("SYSTEMROOT", "TEMP", "TMP", "HOME", "LANG")}
        return {**kept, "PATH": "/nonexistent", "COLD_STACK_STANDINS": "0", "PYTHONUNBUFFERED": "1"}

    def serve(self, *options):
        """The server's address, and all that it said until then."""
        data = tempfile.mkdtemp(dir=self.root)
        command = [str(self.command), "--no-browser", "--port", "8760", "--data", data, *options]
        server = subprocess.Popen(
            command, cwd=self.root, env=self.environment(), stdout=subprocess.PIPE, text=True
        )
        self.addCleanup(server.stdout.close)
        self.addCleanup(server.wait)
        self.addCleanup(server.kill)
        said = []
        for line in server.stdout:
            said.append(line)
            if match := re.search(r"http://127\.0\.0\.1:\d+/", line):
                return match.group(0), "".join(said), Path(data)
        raise AssertionError("".join(said))

    def get(self, address):
        with urllib.request.urlopen(address, timeout=60) as reply:
            return reply.read().decode()

    def test_it_serves_the_first_page_and_answers_a_plan(self):
        """Own world: the page with its script, an empty list of models, and a plan for a job made of a
        few answers."""
        address, said, data = self.serve()
        page = self.get(address)
        for script, least in (("index", 10_000), ("base", 100_000)):
            path = re.search(rf'"(/static/assets/{script}-[^"]+\.js)"', page).group(1)
            self.assertGreater(len(self.get(address.rstrip("/") + path)), least)
        self.assertEqual(json.loads(self.get(address + "api/models")), [])
        self.assertIn(str(data), said)
        self.assertIn("cold-stack --backup", said)
        kind = json.loads(self.get(address + "api/model-kinds"))[0]["id"]
        job = self.ask(
            address + "api/describe-model",
            {
                "name": "Tern",
                "kind": kind,
                "mass_g": 900,
                "now": {"series": 3, "capacity_ah": 2.2},
                "usage": {"minutes": 9},
            },
        )["job"]
        plan = self.ask(address + "api/sizing/plan", {"job": job, "aim": "all_round"})
        self.assertGreater(plan["count"], 50)
        self.assertTrue(plan["headline"])
        self.assertIn("SIL OPEN FONT LICENSE", self.get(address + "static/licences.txt").upper())

    def ask(self, address, body):
        data = json.dumps(body).encode()
        request = urllib.request.Request(address, data, {"Content-Type": "application/json"})
        with urllib.request.urlopen(request, timeout=60) as reply:
            return json.loads(reply.read())

    def test_the_demo_world_is_one_word_away(self):
        """`--demo`: the club's models, apart from one's own data."""
        address, said, data = self.serve("--demo")
        self.assertEqual(len(json.loads(self.get(address + "api/models"))), 6)
        self.assertIn(str(data / "demo"), said)

    def test_backup_and_restore_by_the_command(self):
        """Out of one folder into an empty one; an occupied one is refused with a sentence and exit code 1."""
        _, _, data = self.serve()
        file = self.root / "packs.sqlite3"
        self.run_command("--data", str(data), "--backup", str(file))
        empty = tempfile.mkdtemp(dir=self.root)
        self.assertIn("Restored", self.run_command("--data", empty, "--restore", str(file)))
        with self.assertRaises(subprocess.CalledProcessError) as refused:
            self.run_command("--data", empty, "--restore", str(file))
        self.assertEqual(refused.exception.returncode, 1)
        self.assertIn("There is a database", refused.exception.stderr)

    def run_command(self, *options):
        done = subprocess.run(
            [str(self.command), *options],
            cwd=self.root,
            env=self.environment(),
            capture_output=True,
            text=True,
            check=True,
            timeout=120,
        )
        return done.stdout

    def test_what_is_in_it(self):
        """Screens and licences; no tests, no Node, nothing of a developer's machine."""
        names = zipfile.ZipFile(self.wheel).namelist()
        for needed in (
            "coldstack/web_dist/index.html",
            "coldstack/core/data/ocv.csv",
            "coldstack/core/data/log_words.csv",
            "coldstack/demo/models.json",
        ):
            self.assertIn(needed, names)
        self.assertTrue(any(n.endswith("licenses/coldstack/web_dist/licences.txt") for n in names))
        self.assertFalse(
            [
                n
                for n in names
                if n.startswith(("tests/", "web/", "bench/")) or "node_modules" in n or ".sqlite3" in n
            ]
        )
        self.assertIn("MIT License", self.run_command("--licences"))
