"""Random jobs, by the kernel and by an independent adaptive integrator."""

import math
from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.discharge import kernel
from coldstack.core.discharge.batch import Surroundings
from coldstack.core.discharge.compiling import plain_copy
from coldstack.core.discharge.simulate import simulate
from tests.core.discharge import oracle, oracle_table
from tests.core.discharge.packs import load, packs
from tests.core.discharge.random_jobs import NAMES, kernel_run, random_job

TIE_V = 0.001
LOOKED_UP = slice(7, None, 94)
"""Five of the kept figures are found again, every 94th job: of all chemistries, alike and unequal."""


def tied(job: oracle.Job, ours) -> bool:
    """Whether the oracle itself ends as ours does if the controller's threshold stood a millivolt higher or
    lower."""
    for shift in (-TIE_V, TIE_V):
        other = oracle.run(replace(job, cutoff_v=job.cutoff_v + shift))
        if NAMES[other.ending] == ours.ending[0] and math.isclose(
            other.seconds, ours.duration_s[0], rel_tol=5e-3
        ):
            return True
    return False


class AgainstTheOracle(SimpleTestCase):
    def check(self, jobs, rms=1e-3, minutes=5e-3):
        errors = []
        for k, (job, theirs) in enumerate(jobs):
            ours, series = kernel_run(job), sum(c[0] for c in job.cells)
            same = NAMES[theirs.ending] == ours.ending[0]
            error = ours.duration_s[0] - theirs.seconds
            if (not same or abs(error) > minutes * theirs.seconds + 1e-3) and tied(job, ours):
                continue
            with self.subTest(job=k, ending=theirs.ending):
                self.assertEqual(ours.ending[0], NAMES[theirs.ending])
                self.assertLess(abs(error), minutes * theirs.seconds + 1e-3)
                self.assertAlmostEqual(ours.end_temperature_c[0], theirs.end_c, delta=0.5)
                self.assertAlmostEqual(
                    ours.lowest_voltage_v[0] / series, theirs.lowest_v / series, delta=5e-3
                )
                self.assertAlmostEqual(
                    ours.peak_current_a[0], theirs.peak_a, delta=5e-3 * theirs.peak_a + 1e-9
                )
                self.assertAlmostEqual(ours.used_ah[0], theirs.used_ah, delta=5e-3 * theirs.used_ah + 1e-9)
                if theirs.used_ah > 0:
                    delivered, gone = theirs.delivered_wh / theirs.used_ah, theirs.heat_wh / theirs.used_ah
                    self.assertAlmostEqual(ours.energy_wh[0] / ours.used_ah[0] / delivered, 1.0, delta=1e-3)
                    off = (ours.energy_wh[0] + ours.heat_wh[0]) / ours.used_ah[0] / (delivered + gone)
                    self.assertAlmostEqual(off, 1.0, delta=1e-3)
                errors.append(error / max(theirs.seconds, 1.0))
        self.assertGreater(len(errors), 0.98 * len(jobs), "ties are rare")
        self.assertLess(float(np.sqrt(np.mean(np.square(errors)))), rms)

    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.jobs = oracle_table.jobs()
        cls.found_for, cls.found = oracle_table.read()

    def test_the_kept_figures_are_the_oracle_s(self):
        """For these jobs, these curves and this oracle; some of them are found again."""
        self.assertEqual(
            self.found_for,
            oracle_table.fingerprint(self.jobs),
            "jobs, curves or oracle have changed: python -m tests.core.discharge.oracle_table",
        )
        for job, kept in zip(self.jobs[LOOKED_UP], self.found[LOOKED_UP], strict=True):
            again = oracle.run(job)
            self.assertEqual(again.ending, kept.ending)
            for name in ("seconds", "used_ah", "peak_a", "lowest_v", "end_c", "delivered_wh", "heat_wh"):
                a, b = getattr(again, name), getattr(kept, name)
                self.assertAlmostEqual(a, b, delta=1e-6 * abs(b) + 1e-9, msg=name)

    def test_cells_alike(self):
        """400 jobs of all laws, chemistries, temperatures and cycles from half a second to ten minutes.

        Minutes within 0.5 % (RMS 0.1 %), end temperature 0.5 K, lowest volts 5 mV a cell, peak 0.5 %, the
        same ending.
        """
        count = len(oracle_table.ALIKE)
        endings = {x.ending for x in self.found[:count]}
        self.assertGreater(len(endings), 3, "landing, cut-off, collapse and heat are among them")
        self.check(list(zip(self.jobs[:count], self.found[:count], strict=True)))

    def test_cells_that_differ(self):
        """Each with its own capacity, resistance and charge: the weakest ends the run."""
        count = len(oracle_table.ALIKE)
        self.check(list(zip(self.jobs[count:], self.found[count:], strict=True)))


class Plain(SimpleTestCase):
    def test_compiled_gives_what_plain_python_gives(self):
        """The same source, not compiled, to a billionth: a few jobs, one with short cycles, one with cells
        that differ."""
        plain = plain_copy(kernel)
        for seed, unequal in ((3, False), (12, False), (25, False), (31, True)):
            job = random_job(seed, unequal=unequal)
            ours, theirs = kernel_run(job), kernel_run(job, kernel=plain)
            self.assertEqual(ours.ending[0], theirs.ending[0])
            for name in (
                "duration_s",
                "end_temperature_c",
                "lowest_voltage_v",
                "peak_current_a",
                "energy_wh",
            ):
                a, b = getattr(ours, name)[0], getattr(theirs, name)[0]
                self.assertAlmostEqual(a, b, delta=1e-9 * max(abs(b), 1.0), msg=f"{seed} {name}")

    def test_threads_give_what_one_gives(self):
        """A thousand packs in parts on threads are the same packs to the last digit, in their own places."""
        many = packs(1000, capacity_ah=np.linspace(2, 8, 1000))
        phases = [load("power", 130, 39, 1000), load("throttle2", 46 / 14.8**2, 6, 1000)]
        together = simulate(many, phases, Surroundings())
        for k in (0, 333, 999):
            one = simulate(
                many.take(np.array([k])),
                [load("power", 130, 39), load("throttle2", 46 / 14.8**2, 6)],
                Surroundings(),
            )
            self.assertEqual(together.duration_s[k], one.duration_s[0])
