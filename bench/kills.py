"""The server killed again and again amid writes of every kind: what it acknowledged is there, once and whole.

``python -m bench.kills [COUNT]``, 300 unless said otherwise; about four seconds each. It prints what it found
and ends with 1 if anything was lost, doubled or halved.
"""

from __future__ import annotations

import http.client
import json
import random
import sqlite3
import sys
import threading
import time
import urllib.error
from typing import Any

from tests.server.process import ServerProcess

PAIR = ["04", "15"]


class Kills(ServerProcess):
    """A server that is killed; not a test: it takes ten minutes."""

    def runTest(self) -> None:
        """For the frame of tests only."""

    def acts(self, key: str) -> list[tuple[str, str, dict[str, Any], int]]:
        """One act of every kind: method, address, body, and how many events it makes."""
        run = {"model": "ptarmigan", "pack": "04", "at": "2026-11-25T12:00:00Z", "minutes": 9}
        return [
            ("POST", "api/runs", {**run, "key": f"{key}-run"}, 1),
            ("POST", "api/keep/left", {"packs": PAIR, "state": "stored", "key": f"{key}-left"}, 2),
            ("POST", "api/keep/packs/07/checks", {"cells": "3.8 3.81 3.8", "key": f"{key}-read"}, 1),
            ("POST", "api/keep/packs/07/notes", {"text": "a scratch", "key": f"{key}-note"}, 1),
            ("POST", "api/keep/packs/07/looks", {"at_room": True, "key": f"{key}-look"}, 1),
            ("PUT", "api/keep/packs/08/retirement", {"ticked": ["outside"], "key": f"{key}-step"}, 1),
        ]

    def work(self, key: str, done: list[tuple[str, int]]) -> None:
        """Acts until the server is gone; those that were acknowledged are noted."""
        for n in range(1000):
            for method, address, body, count in self.acts(f"{key}-{n:03d}"):
                try:
                    self.ask(address, json.dumps(body).encode(), method=method)
                except (urllib.error.URLError, http.client.HTTPException, OSError):
                    return
                done.append((body["key"], count))


def main(count: int) -> int:
    """The exit code."""
    kills = Kills()
    kills.setUp()
    chance, wrong, acknowledged = random.Random(300), 0, 0
    for n in range(count):
        done: list[tuple[str, int]] = []
        thread = threading.Thread(target=kills.work, args=(f"kill-{n:03d}", done))
        thread.start()
        time.sleep(chance.uniform(0.05, 1.5))
        kills.kill()
        thread.join()
        with sqlite3.connect(kills.database) as link:
            whole = link.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
            rows = [
                k for (k,) in link.execute("SELECT key FROM life_event WHERE key LIKE ?", (f"kill-{n:03d}%",))
            ]
        link.close()
        lost = [k for k, events in done if sum(r == k or r.startswith(f"{k}:") for r in rows) != events]
        halves = [k for k in rows if "-left:" in k and sum(r.startswith(k.split(":")[0]) for r in rows) != 2]
        acknowledged += len(done)
        if lost or halves or not whole:
            wrong += 1
            print(f"kill {n}: lost or doubled {lost}, halves {halves}, whole {whole}")
        kills.start_again()
    kills.doCleanups()
    print(f"{count} kills amid {acknowledged} acknowledged acts of six kinds: {wrong} with anything wrong")
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 300))
