"""The stand-ins beside the server: started once, found again, and never in the way of real devices."""

import json
import os
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.test import SimpleTestCase

from coldstack.server.devices.line_protocol import asked
from coldstack.standins.lines import wait_idle
from coldstack.standins.start import CHARGER_NAME, ensure_standins


class Start(SimpleTestCase):
    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)
        self.path = Path(self.folder.name)
        self.pids = []

    def ensure(self, **environment):
        """Stand-ins with this environment; the processes that were started are ended after the test."""
        import coldstack.standins.start as start

        real = start.subprocess.Popen

        def noted(*arguments, **how):
            process = real(*arguments, **how)
            self.pids.append(process.pid)
            self.addCleanup(process.stdout.close)
            self.addCleanup(process.wait)
            self.addCleanup(process.kill)
            return process

        with patch.dict(os.environ, environment), patch.object(start.subprocess, "Popen", noted):
            return ensure_standins(self.path)

    def test_started_once_and_found_again(self):
        """Both answer; a second start finds the same two and starts none."""
        first = self.ensure()
        hello = asked(first["chargers"][CHARGER_NAME], {"do": "hello"})
        self.assertEqual((hello["name"], hello["ports"], hello["speed"]), (CHARGER_NAME, 4, 10.0))
        self.assertEqual(asked(first["checker"], {"do": "hello"})["simulated"], True)
        self.assertEqual(json.loads((self.path / "devices.json").read_text()), first)
        self.assertEqual(self.ensure(), first)
        self.assertEqual(len(self.pids), 2)

    def test_speed_and_other_peoples_devices(self):
        """Real time where it is wished; a charger that somebody else linked stays linked."""
        (self.path / "devices.json").write_text(json.dumps({"chargers": {"Cairn Sixty": "10.0.0.5:99"}}))
        found = self.ensure(COLD_STACK_SPEED="1")
        self.assertEqual(found["chargers"]["Cairn Sixty"], "10.0.0.5:99")
        self.assertEqual(asked(found["chargers"][CHARGER_NAME], {"do": "hello"})["speed"], 1.0)

    def test_none_where_none_are_wished(self):
        """And a broken file is no reason to fail."""
        (self.path / "devices.json").write_text("{half")
        self.assertEqual(self.ensure(COLD_STACK_STANDINS="0"), {})
        self.assertEqual(self.pids, [])


class Idle(SimpleTestCase):
    def test_left_behind_it_ends_but_not_in_a_charge(self):
        """After its idle time, once nothing charges any more."""
        calls = iter([True, True, False, False])
        wait_idle(lambda: -10.0, lambda: next(calls), idle_s=0.05)
        self.assertEqual(list(calls), [False])
