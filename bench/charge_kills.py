"""Server, charger and both killed again and again amid starts, looks, stops and ends of charges.

``python -m bench.charge_kills [COUNT]``, 300 unless said otherwise; about five seconds each. After each the
books of both are compared: no charge that nobody knows, nothing doubled, none unwatched. It ends with 1 if
anything was wrong.
"""

from __future__ import annotations

import http.client
import json
import random
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import urllib.error
from collections import Counter
from pathlib import Path
from typing import Any

from coldstack.server.config.paths import PROJECT
from coldstack.server.devices.line_protocol import asked
from tests.server.process import ServerProcess

PACKS = {"01": 4, "02": 4, "31": 4, "32": 4}
"""Packs and their cells."""
STEPS = ["place", "set", "lead", "main", "balance", "confirm"]
WATCHED_WITHIN_S = 5.0
GONE = (urllib.error.URLError, http.client.HTTPException, OSError)


class Kills(ServerProcess):
    """A server and a charger beside it; not a test: it takes half an hour."""

    def runTest(self) -> None:
        """For the frame of tests only."""

    def plug_in(self, port: int = 0) -> None:
        """The charger as a process, on a port of the machine that it keeps."""
        self.charger = subprocess.Popen(
            [sys.executable, "-m", "coldstack.standins.charger", "--port", str(port), "--speed", "60"],
            cwd=PROJECT,
            stdout=subprocess.PIPE,
            text=True,
        )
        assert self.charger.stdout is not None
        self.where = self.charger.stdout.readline().rsplit(" ", 1)[-1].strip()
        self.charger.stdout.close()

    def pull(self) -> None:
        """The charger is gone at once."""
        self.charger.send_signal(signal.SIGKILL)
        self.charger.wait()

    def start(self, port: int = 8710) -> None:
        """The server, linked to the charger; the bench as it is laid out there."""
        if not hasattr(self, "charger"):
            self.plug_in()
            self.addCleanup(self.pull)
            self.database.parent.mkdir()
            Path(self.database.parent, "devices.json").write_text(
                json.dumps({"chargers": {"Skerry Four": self.where}})
            )
        super().start(port)
        if not hasattr(self, "bench"):
            laid = [{"pack": f"owned:{p}", "cells": " ".join(["3.70"] * n)} for p, n in PACKS.items()]
            self.bench = {**self.said("api/bench")["bench"], "laid": laid}
            stations = self.said("api/bench/plan", self.bench)["stations"]
            self.fed = next(s["charger"] for s in stations if s["linked"])

    def said(self, address: str, body: dict[str, Any] | None = None) -> Any:
        """The server's answer; None where it refuses."""
        try:
            return self.ask(address, None if body is None else json.dumps(body).encode())
        except urllib.error.HTTPError:
            return None

    def work(self, name: str, done: list[str], over: threading.Event) -> None:
        """Starts, looks and stops until the server is gone; keys of the starts that were acknowledged."""
        chance, n = random.Random(name), 0
        while not over.is_set():
            try:
                for port, pack in enumerate(PACKS, 1):
                    n += 1
                    key = f"{name}-{n:03d}"
                    body = {
                        "bench": self.bench,
                        "packs": [f"owned:{pack}"],
                        "charger": self.fed,
                        "port": port,
                    }
                    body |= {"steps": STEPS, "look_every_min": 20, "key": key}
                    self.said(f"api/keep/packs/{pack}/looks", {"at_room": True, "key": f"{key}-look"})
                    if self.said("api/charges", body):
                        done.append(key)
                    for line in self.said("api/charges") or []:
                        act = chance.choice(("look", "look", "stop", "nothing", "nothing"))
                        if line["state"] == "charging" and act != "nothing":
                            self.said(f"api/charges/{line['id']}/{act}", {})
            except GONE:
                return

    def books(self) -> tuple[list[str], set[int]]:
        """What is wrong between server and charger now, and the charges that run."""
        with sqlite3.connect(self.database) as link:
            rows = link.execute("SELECT id, run, state, last_seq FROM bench_charge").fetchall()
            held = link.execute("SELECT charge_id FROM bench_oncharger").fetchall()
            strangers = link.execute(
                'SELECT "where" FROM bench_alarm WHERE charge_id IS NULL AND over = 0'
            ).fetchall()
            ended = link.execute(
                "SELECT charge, pack_id FROM life_event WHERE kind = 'charge' AND by = 'charger'"
            )
            twice = [k for k, n in Counter(ended.fetchall()).items() if k[0] is not None and n > 1]
            numbers = link.execute(
                "SELECT charge_id, count(*), max(seq) FROM bench_sample GROUP BY charge_id"
            )
            gaps = [charge for charge, count, last in numbers.fetchall() if count != last]
            whole = link.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        link.close()
        active = {pk: run for pk, run, state, _ in rows if state in ("starting", "charging")}
        there = asked(self.where, {"do": "ports"}) or {"ports": []}
        charging = {p["run"]: p["port"] for p in there["ports"] if p["state"] == "charging"}
        known = {f"Skerry Four, port {p}" for p in range(1, 5)} & {w for (w,) in strangers}
        orphans = [p for run, p in charging.items() if run not in active.values()]
        wrong = [f"port {p} charges unknown" for p in orphans if f"Skerry Four, port {p}" not in known]
        wrong += [f"charge {pk} held and over" for (pk,) in held if pk not in active]
        wrong += [f"charge {pk} runs here only" for pk, run in active.items() if run not in charging]
        wrong += [f"ended twice: {k}" for k in twice] + [f"samples of {pk} with gaps" for pk in gaps]
        return wrong + ([] if whole else ["the file is damaged"]), set(active)

    def settled(self) -> tuple[list[str], float]:
        """What is still wrong when the time to notice is over, and how long it took. [s]"""
        begun = time.monotonic()
        while True:
            wrong, _ = self.books()
            took = time.monotonic() - begun
            if not wrong or took > WATCHED_WITHIN_S + 6.0:
                return wrong, took
            time.sleep(0.1)

    def watched(self) -> list[str]:
        """Charges that run and of which no sample came in time."""
        _, active = self.books()
        before, end = self.last_numbers(), time.monotonic() + WATCHED_WITHIN_S
        while time.monotonic() < end:
            now = self.last_numbers()
            if all(now.get(pk, 0) > before.get(pk, 0) for pk in active & self.books()[1]):
                return []
            time.sleep(0.1)
        return [f"charge {pk} unwatched" for pk in active & self.books()[1]]

    def last_numbers(self) -> dict[int, int]:
        """The last sample of each charge."""
        with sqlite3.connect(self.database) as link:
            found = dict(link.execute("SELECT id, last_seq FROM bench_charge").fetchall())
        link.close()
        return found


def main(count: int) -> int:
    """The exit code."""
    kills = Kills()
    kills.setUp()
    chance, bad, starts, slowest = random.Random(300), 0, 0, 0.0
    for n in range(count):
        done: list[str] = []
        over = threading.Event()
        thread = threading.Thread(target=kills.work, args=(f"kill-{n:03d}", done, over))
        thread.start()
        time.sleep(chance.uniform(0.3, 2.0))
        whom = ("server", "charger", "both")[n % 3]
        if whom != "server":
            port = int(kills.where.rsplit(":", 1)[1])
            kills.pull()
            kills.plug_in(port)
        if whom != "charger":
            kills.kill()
        over.set()
        thread.join()
        if whom != "charger":
            kills.start_again()
        with sqlite3.connect(kills.database) as link:
            kept = dict(
                link.execute("SELECT key, run FROM bench_charge WHERE key LIKE ?", (f"kill-{n:03d}%",))
            )
        link.close()
        lost = [f"{key} was acknowledged and is not there" for key in done if key not in kept]
        wrong, took = kills.settled()
        wrong += lost + kills.watched()
        starts, slowest = starts + len(done), max(slowest, took)
        if wrong:
            bad += 1
            print(f"kill {n}, {whom}: {wrong}", flush=True)
    kills.doCleanups()
    print(
        f"{count} kills amid {starts} acknowledged starts: {bad} with anything wrong; "
        f"settled in {slowest:.1f} s"
    )
    return 1 if bad else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 300))
