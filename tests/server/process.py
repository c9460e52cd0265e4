"""The server as a process of its own, for the tests that kill it."""

import json
import os
import re
import signal
import subprocess
import sys
import tempfile
import urllib.request
from pathlib import Path

from django.test import SimpleTestCase

from coldstack.server.config.paths import PROJECT


class ServerProcess(SimpleTestCase):
    """A server on the demo world in a folder of its own; killed hard when the test ends."""

    world = "demo"

    @property
    def database(self):
        """The file of the world that is served."""
        folder = Path(self.folder.name)
        return (folder / "demo" if self.world == "demo" else folder) / "cold-stack.sqlite3"

    def setUp(self):
        # the server of the other world ends a moment after the one that is killed, and may still write
        self.folder = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(self.folder.cleanup)
        self.start()

    def start(self, port=None):
        """The server on a free port from this one on, with the demo world."""
        # processes side by side look for free ones from places of their own: two may find the same at once
        port = port or 8710 + 10 * (os.getpid() % 1000)
        command = [
            sys.executable,
            "manage.py",
            "serve",
            f"--{self.world}",
            "--port",
            str(port),
            "--data",
            self.folder.name,
        ]
        env = {
            "COLD_STACK_DATA": self.folder.name,
            "PYTHONUNBUFFERED": "1",
            "PATH": "/usr/bin:/bin",
            "COLD_STACK_STANDINS": "0",
        }
        self.server = subprocess.Popen(
            command, cwd=PROJECT, env=env, stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True
        )
        self.addCleanup(self.kill)
        self.address = next(
            m.group(0) for line in self.server.stdout if (m := re.search(r"http://127\.0\.0\.1:\d+/", line))
        )
        with urllib.request.urlopen(self.address, timeout=30) as page:
            self.token = re.search(r"csrftoken=(\w+)", page.headers["Set-Cookie"]).group(1)

    def start_again(self):
        """The server where it was before."""
        before = self.address
        self.start(int(before.rstrip("/").rsplit(":", 1)[1]))
        self.assertEqual(self.address, before)

    def kill(self):
        self.server.send_signal(signal.SIGKILL)
        self.server.wait()
        self.server.stdout.close()

    def ask(self, path, body=None, kind="application/json", method="POST"):
        headers = {
            "X-CSRFToken": self.token,
            "Cookie": f"csrftoken={self.token}",
            "Origin": self.address.rstrip("/"),
            "Content-Type": kind,
        }
        request = urllib.request.Request(
            self.address + path, body, headers, method=method if body is not None else "GET"
        )
        with urllib.request.urlopen(request, timeout=60) as reply:
            return json.loads(reply.read())
