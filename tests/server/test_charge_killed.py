"""The server killed with SIGKILL in mid-charge: the charger goes on, the server finds it again, nothing
recorded is lost, no sample twice."""

import json
import signal
import sqlite3
import subprocess
import sys
import time
from pathlib import Path

from coldstack.server.config.paths import PROJECT
from tests.server.process import ServerProcess

SPEED = "3"
"""Not much quicker than real: half a minute of its time without a word stops a charge, and a busy machine may
stall for seconds."""


class ChargeKilled(ServerProcess):
    def start(self):
        """A charger in a process of its own, linked, and the server beside it."""
        if not hasattr(self, "charger"):
            self.charger = subprocess.Popen(
                [sys.executable, "-m", "coldstack.standins.charger", "--port", "0", "--speed", SPEED],
                cwd=PROJECT,
                stdout=subprocess.PIPE,
                text=True,
            )
            self.addCleanup(self.charger.stdout.close)
            self.addCleanup(self.charger.wait)
            self.addCleanup(self.charger.kill)
            address = self.charger.stdout.readline().rsplit(" ", 1)[-1].strip()
            self.database.parent.mkdir()
            Path(self.database.parent, "devices.json").write_text(
                json.dumps({"chargers": {"Skerry Four": address}})
            )
        super().start()

    def samples(self):
        with sqlite3.connect(self.database) as link:
            return [row[0] for row in link.execute("select seq from bench_sample order by seq")]

    def until(self, count):
        """So many samples are kept. Somebody looks meanwhile: on a busy machine a charge would be stopped
        for want of it."""
        end = time.monotonic() + 120
        while len(self.samples()) < count:
            if time.monotonic() > end:
                charge = self.ask(f"api/charges/{self.charge}")
                told = {k: charge[k] for k in ("state", "ended_why", "alarms", "time_s")}
                self.fail(f"no more samples came: {len(self.samples())} of {count}, {told}")
            self.ask(f"api/charges/{self.charge}/look", b"{}")
            time.sleep(0.5)

    def test_killed_in_mid_charge(self):
        """Twice; then it is stopped, and every sample is there once."""
        bench = self.ask("api/bench")["bench"]
        plan = self.ask("api/bench/plan", json.dumps(bench).encode())
        charger = next(s["charger"] for s in plan["stations"] if s["name"] == "Skerry Four")
        steps = ["place", "set", "lead", "main", "balance", "confirm"]
        body = {
            "bench": bench,
            "packs": ["owned:01"],
            "charger": charger,
            "port": 1,
            "steps": steps,
            "look_every_min": 20,
        }
        self.charge = self.ask("api/charges", json.dumps(body).encode())["id"]
        self.until(5)
        for _ in range(2):
            self.server.send_signal(signal.SIGKILL)
            self.server.wait()
            kept = self.samples()
            time.sleep(0.5)
            self.start()
            self.assertEqual(self.samples()[: len(kept)], kept)
            self.until(len(kept) + 6)
        found = self.ask(f"api/charges/{self.charge}/stop", b"{}")
        self.assertEqual(found["state"], "stopped")
        numbers = self.samples()
        self.assertEqual(numbers, list(range(1, len(numbers) + 1)))
