"""Measured accuracy, printed for docs/model.md: steps, independent integrators, ranges."""

from __future__ import annotations

import os
import tempfile

os.environ.setdefault("COLD_STACK_DATA", tempfile.mkdtemp())
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "coldstack.server.config.settings")

import django

django.setup()


import numpy as np  # noqa: E402
from django.core.management import call_command  # noqa: E402

from bench.ranges import range_lines  # noqa: E402
from coldstack.core.discharge.simulate import simulate  # noqa: E402
from coldstack.core.sizing.plan import Fineness, gather  # noqa: E402
from coldstack.core.trial.evaluate import loads, pack_columns, surroundings  # noqa: E402
from coldstack.demo.load import load_if_empty  # noqa: E402
from coldstack.server.gear.models import RcModel  # noqa: E402
from coldstack.server.life.packs import stock  # noqa: E402
from coldstack.server.sizing.assemble import job_of  # noqa: E402
from coldstack.server.sizing.schemas import JobIn  # noqa: E402
from tests.core.discharge import oracle_table  # noqa: E402
from tests.core.discharge.packs import amps  # noqa: E402
from tests.core.discharge.random_jobs import NAMES, kernel_run  # noqa: E402
from tests.core.discharge.test_reference import CAPACITY_AH, ours, pybamm_run, solved  # noqa: E402


def steps() -> None:
    """Each demo model's candidates by the kernel's own steps and by steps of a quarter second with every
    cycle run."""
    print("own steps against 0.25 s: run time RMS and worst, lowest volts a cell, end temperature")
    for job in jobs():
        c = gather(job, stock(), Fineness(6, 3))
        c = c.take(np.arange(0, len(c), max(1, len(c) // 60)))
        packs, phases, air = pack_columns(job, c), loads(job, c), surroundings(job)
        quick, slow = simulate(packs, phases, air), simulate(packs, phases, air, longest_step_s=0.25)
        same = slow.ending == quick.ending
        ran = same & (slow.duration_s > 1.0)
        error = quick.duration_s[ran] / slow.duration_s[ran] - 1
        volts = ((quick.lowest_voltage_v - slow.lowest_voltage_v) / packs.series)[same]
        warm = (quick.end_temperature_c - slow.end_temperature_c)[same]
        rms, worst = 100 * np.sqrt(np.mean(error**2)), 100 * np.abs(error).max()
        other = int(np.count_nonzero(~same))
        print(
            f"  {job.name:10} {rms:.3f} %, {worst:.2f} %; {1000 * np.abs(volts).max():.1f} mV; "
            f"{np.abs(warm).max():.2f} K; other ending {other} of {len(same)}"
        )


def against_the_oracle(count: int = 400) -> None:
    """Random jobs by scipy's adaptive integrator: what the tests keep of it."""
    found = oracle_table.read()[1][:count]
    ran = [(kernel_run(job), theirs) for job, theirs in zip(oracle_table.jobs(), found, strict=False)]
    error = np.array([(o.duration_s[0] - t.seconds) / max(t.seconds, 1.0) for o, t in ran])
    warm = max(abs(o.end_temperature_c[0] - t.end_c) for o, t in ran)
    peak = max(abs(o.peak_current_a[0] / t.peak_a - 1) for o, t in ran if t.peak_a > 0)
    same = sum(NAMES[t.ending] == o.ending[0] for o, t in ran)
    print(
        f"against an adaptive integrator, {count} random jobs: "
        f"minutes RMS {100 * np.sqrt(np.mean(error**2)):.3f} %, "
        f"worst {100 * np.abs(error).max():.2f} %; end temperature {warm:.2f} K; peak {100 * peak:.2f} %; "
        f"same ending {same} of {count}"
    )


def jobs():
    """The demo models' jobs."""
    return [job_of(JobIn(**row.job)) for row in RcModel.objects.all()]


def against_pybamm() -> None:
    """Constant currents to a voltage limit."""
    print("against PyBaMM’s equivalent circuit, same parameters: volts RMS, run time")
    for chemistry, c_rate, stop_v in (
        ("lipo", 5, 3.4),
        ("lipo", 10, 3.2),
        ("liion", 2, 3.0),
        ("liion", 5, 2.8),
    ):
        current = c_rate * CAPACITY_AH
        out, times, volts = ours(chemistry, [amps(current)], 0.0, stop_v)
        t, v, solution = solved(pybamm_run(chemistry, current, 0, stop_v), np.arange(0.0, 3600 / c_rate, 1.0))
        end = float(solution.t_event[0])
        both = (times > 1) & (times < min(end, out.duration_s[0]) - 2)
        rms = np.sqrt(np.mean((volts[both] - np.interp(times[both], t, v)) ** 2))
        print(f"  {chemistry} {c_rate}C: {1000 * rms:.2f} mV, {100 * (out.duration_s[0] / end - 1):+.2f} %")


if __name__ == "__main__":
    call_command("migrate", verbosity=0)
    load_if_empty()
    steps()
    against_pybamm()
    for line in range_lines(jobs(), stock()):
        print(line)
    against_the_oracle()
