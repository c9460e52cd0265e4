"""Measured accuracy, printed for docs/model.md: plan steps against short ones, and the circuit against PyBaMM."""

from __future__ import annotations

import os
import tempfile

os.environ.setdefault("COLD_STACK_DATA", tempfile.mkdtemp())
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "coldstack.server.config.settings")

import django

django.setup()

import numpy as np  # noqa: E402
from django.core.management import call_command  # noqa: E402

from coldstack.core.discharge.batch import Ending  # noqa: E402
from coldstack.core.discharge.simulate import simulate, step_length_s  # noqa: E402
from coldstack.core.sizing.evaluate import PLAN_STEP_S, loads, pack_columns, surroundings  # noqa: E402
from coldstack.core.sizing.plan import Fineness, gather  # noqa: E402
from coldstack.demo.load import load_if_empty  # noqa: E402
from coldstack.server.gear.assemble import stock  # noqa: E402
from coldstack.server.gear.models import RcModel  # noqa: E402
from coldstack.server.sizing.assemble import job_of  # noqa: E402
from coldstack.server.sizing.schemas import JobIn  # noqa: E402
from tests.core.discharge.packs import amps  # noqa: E402
from tests.core.discharge.test_reference import CAPACITY_AH, ours, pybamm_run, solved  # noqa: E402


def plan_steps() -> None:
    """Each demo model's candidates that run at least a third of the wanted minutes, by plan steps and by steps of half a second with every cycle run."""
    print("plan steps against steps of 0.5 s: run time RMS and worst, lowest volts a cell, end temperature")
    for row in RcModel.objects.all():
        job = job_of(JobIn(**row.job))
        c = gather(job, stock(), Fineness(6, 3))
        c = c.take(np.arange(0, len(c), max(1, len(c) // 60)))
        packs, phases, air = pack_columns(job, c), loads(job, c), surroundings(job)
        step = step_length_s(packs, phases, shortest_s=PLAN_STEP_S)
        quick = simulate(packs, phases, air, longest_step_s=step)
        slow = simulate(packs, phases, air, longest_step_s=0.5, stretches_per_run=1e9)
        near = slow.duration_s > 20 * (job.wants.minutes or 10)
        same = near & (slow.ending == quick.ending) & (slow.ending == int(Ending.REACHED_LANDING))
        error = quick.duration_s[same] / slow.duration_s[same] - 1
        volts = ((quick.lowest_voltage_v - slow.lowest_voltage_v) / packs.series)[same]
        warm = (quick.end_temperature_c - slow.end_temperature_c)[same]
        other = int(np.count_nonzero(near & (quick.ending != slow.ending)))
        print(
            f"  {row.name:10} {100 * np.sqrt(np.mean(error**2)):.2f} %, {100 * np.abs(error).max():.2f} %; {1000 * np.abs(volts).max():.1f} mV; {np.abs(warm).max():.2f} K; other ending {other} of {np.count_nonzero(near)}"
        )


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
    plan_steps()
    against_pybamm()
