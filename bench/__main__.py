"""Measured speeds, printed: plans and the grid at the API and in core, the stepping itself, PyBaMM for
comparison, imports."""

from __future__ import annotations

import json
import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
import urllib.request

FOLDER = tempfile.mkdtemp()
os.environ.setdefault("COLD_STACK_DATA", FOLDER)
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "coldstack.server.config.settings")

import django  # noqa: E402  (the environment comes first)

django.setup()

from django.core.management import call_command  # noqa: E402

from bench.boards import board_lines  # noqa: E402
from bench.box import box_lines  # noqa: E402
from bench.charge_minutes import charge_minutes_lines  # noqa: E402
from bench.charging import charging_lines  # noqa: E402
from bench.discharges import discharge_lines  # noqa: E402
from bench.five_years import five_years_lines  # noqa: E402
from bench.fleet import fleet_lines  # noqa: E402
from bench.households import household_lines  # noqa: E402
from bench.keeping import keeping_lines  # noqa: E402
from bench.kits import many_kits_lines  # noqa: E402
from bench.matching import matching_lines  # noqa: E402
from bench.second_fleet import second_fleet_lines  # noqa: E402
from bench.stepping import stepping_lines  # noqa: E402
from bench.third_fleet import third_fleet_lines  # noqa: E402
from bench.watching import watching_lines  # noqa: E402
from coldstack.core.sizing.detail import details  # noqa: E402
from coldstack.core.sizing.plan import Fineness, gather, plan  # noqa: E402
from coldstack.demo.load import load_if_empty  # noqa: E402
from coldstack.server.gear.models import RcModel  # noqa: E402
from coldstack.server.life.packs import stock  # noqa: E402
from coldstack.server.sizing.assemble import job_of  # noqa: E402
from coldstack.server.sizing.schemas import JobIn  # noqa: E402


def timed(call, rounds):
    """Median and 95th percentile of some rounds. [ms]"""
    call()
    times = []
    for _ in range(rounds):
        start = time.perf_counter()
        call()
        times.append((time.perf_counter() - start) * 1e3)
    times.sort()
    return statistics.median(times), times[min(len(times) - 1, int(0.95 * len(times)))]


def fineness_for(job, count):
    """A grid that brings a job's candidates to about this count: all kinds, more or fewer made-up ones."""
    best = (2, 2)
    for capacity in range(2, 121):
        for c in (2, 4, 8, 16, 24, 32, 40, 48, 60):
            made = capacity * c
            if abs(made - count) < abs(best[0] * best[1] - count):
                best = (capacity, c)
    return best


def main() -> None:
    """Prints the table."""
    call_command("migrate", verbosity=0)
    load_if_empty()
    row = RcModel.objects.get(slug="ptarmigan")
    # all chemistries and cell counts, so that the grid can be made large
    data = {
        **row.job,
        "wants": {**row.job["wants"], "chemistries": ["lipo", "lihv", "liion", "semisolid"], "rpm": None},
    }
    job = job_of(JobIn(**data))
    base = len(gather(job, stock(), Fineness(2, 2)))
    layers = (len(gather(job, stock(), Fineness(4, 2))) - base) / 4
    print(f"Ptarmigan, {base} candidates without the grid")
    server = Server(data)
    print(f"{'candidates':>12} {'core ms':>10} {'API ms':>10} {'API p95':>10} {'kB':>7}")
    for wanted in (500, 2000, 20000):
        capacity, c = fineness_for(job, max(4, (wanted - base) / max(layers, 1)))
        fine = Fineness(capacity, c)
        rounds = 40 if wanted <= 2000 else 12
        made = plan(job, stock(), fineness=fine)
        core, _ = timed(lambda fine=fine: plan(job, stock(), fineness=fine), rounds)
        api, p95 = timed(lambda fine=fine: server.plan(fine), rounds)
        print(
            f"{len(made.evaluation.candidates):>12} {core:>10.1f} {api:>10.1f} {p95:>10.1f} "
            f"{server.last_bytes / 1000:>7.0f}"
        )
    print(f"peak memory of the server: {server.stop():.0f} MB")
    best = made.evaluation.candidates.take([made.short_rows[0]])
    print(f"details of one pack: {timed(lambda: details(job, best), 20)[0]:.1f} ms")
    parts = (
        matching_lines,
        charging_lines,
        charge_minutes_lines,
        discharge_lines,
        household_lines,
        board_lines,
        keeping_lines,
        five_years_lines,
        many_kits_lines,
        box_lines,
        fleet_lines,
        second_fleet_lines,
        third_fleet_lines,
        stepping_lines,
        watching_lines,
    )
    for line in (line for part in parts for line in part()):
        print(line)
    print(f"import of core: {_import_s() * 1e3:.0f} ms, NumPy included")


def _import_s() -> float:
    code = (
        "import time; t=time.perf_counter(); import coldstack.core.sizing.plan, "
        "coldstack.core.sizing.detail; print(time.perf_counter()-t)"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    return float(done.stdout)


class Server:
    """The server as users run it, on the demo data, and one client."""

    def __init__(self, job) -> None:
        self.job, self.last_bytes = job, 0
        self.process = subprocess.Popen(
            [sys.executable, "manage.py", "serve", "--demo", "--port", "8790"],
            stdout=subprocess.PIPE,
            text=True,
            env={**os.environ, "PYTHONUNBUFFERED": "1", "COLD_STACK_STANDINS": "0"},
        )
        for line in self.process.stdout:
            if "http://" in line:
                self.address = line.split("at ")[1].split()[0]
                return

    def plan(self, fine) -> None:
        """One plan over HTTP, read to the end."""
        body = {"job": self.job, "fineness": {"capacity_steps": fine.capacity_steps, "c_steps": fine.c_steps}}
        request = urllib.request.Request(
            f"{self.address}api/sizing/plan", json.dumps(body).encode(), {"Content-Type": "application/json"}
        )
        with urllib.request.urlopen(request, timeout=60) as reply:
            self.last_bytes = len(reply.read())

    def stop(self) -> float:
        """Ends the server; its peak memory. [MB]"""
        with open(f"/proc/{self.process.pid}/status") as status:
            peak = next(int(line.split()[1]) / 1024 for line in status if line.startswith("VmHWM"))
        self.process.terminate()
        self.process.wait()
        return peak


if __name__ == "__main__":
    main()
    print(f"this program: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB")
