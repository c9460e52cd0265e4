"""The alarm by load: a minute before the landing, never under the house's floor, by its own run."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.discharge.simulate import simulate
from coldstack.core.rules.house_rules import HOUSE_RULES, for_chemistry
from coldstack.core.trial.alarm import alarm_of, alarm_working, before_s
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import loads, pack_columns, surroundings
from tests.core.trial.jobs import job, pack


def sounds_s(wanted, of, cell_v):
    """When an alarm at these volts first sounds, and when the run lands, by a run of its own."""
    one = job_candidates(wanted, [of])
    columns = replace(pack_columns(wanted, one), alarm_cell_v=np.array([cell_v]))
    run = simulate(columns, loads(wanted, one), surroundings(wanted))
    return float(run.alarm_s[0]), float(run.duration_s[0])


class ByLoad(SimpleTestCase):
    def test_lighter_loads_set_it_higher(self):
        """A house alarm of 3.40 V would sound after the landing under a light load."""
        light = job(draw={"average_a": 4.0, "peak_a": 8.0})
        heavy = job(draw={"average_a": 14.0, "peak_a": 60.0})
        self.assertGreater(alarm_of(light, pack()).cell_v, alarm_of(heavy, pack()).cell_v)
        at_floor, landing = sounds_s(light, pack(), 3.40)
        self.assertFalse(at_floor <= landing)

    def test_by_the_whole_pack_in_steps_that_can_be_set(self):
        """NiMH: twentieths of a volt a cell, never under the house's floor."""
        nimh = pack(chemistry="nimh", series=6, capacity_ah=3.0)
        for amps in (4.0, 8.0, 14.0):
            found = alarm_of(
                job(draw={"average_a": amps, "peak_a": 2 * amps}, electronics={"min_v": 4}), nimh
            )
            self.assertAlmostEqual(found.cell_v / 0.05, round(found.cell_v / 0.05), places=6)
            self.assertGreaterEqual(found.cell_v, for_chemistry(job().rules, "nimh").alarm_v)

    @settings(max_examples=30, deadline=None)
    @given(
        average_a=st.floats(2, 20),
        peak=st.floats(1.1, 5),
        rules=st.sampled_from(sorted(HOUSE_RULES)),
        ah=st.floats(1.5, 8),
    )
    def test_it_is_the_lowest_that_sounds_soon_enough(self, average_a, peak, rules, ah):
        """Whatever the load: a hundredth of a volt less would sound too late, or lies under the floor."""
        wanted = job(
            draw={"average_a": average_a, "peak_a": peak * average_a, "peak_every_s": 60.0},
            rules=HOUSE_RULES[rules],
        )
        of = pack(capacity_ah=ah)
        found = alarm_of(wanted, of)
        floor = for_chemistry(wanted.rules, "lipo").alarm_v
        self.assertGreaterEqual(found.cell_v, floor - 1e-9)
        at, landing = sounds_s(wanted, of, found.cell_v)
        soon = landing - before_s(landing)
        if found.by != "ceiling":
            self.assertLessEqual(at, soon)
        if found.by != "floor":
            lower, _ = sounds_s(wanted, of, max(found.cell_v - 0.0101, floor))
            self.assertFalse(lower <= soon)

    def test_its_working_says_so(self):
        """Floor, load and the pack's volts, to be followed by hand."""
        wanted = job()
        found = alarm_of(wanted, pack())
        rules = for_chemistry(wanted.rules, "lipo")
        steps = alarm_working(wanted.rules, rules, found, "lipo", 4).steps
        self.assertIn("3.4 V", steps[0].numbers)
        self.assertIn("sounds at", steps[2].numbers)
        self.assertEqual(steps[-1].numbers, f"4 × {found.cell_v:g} V = {4 * found.cell_v:.3g} V")
