"""Reports of chargers: what is believed, what is not, and what is judged for danger all the same."""

import math

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.watching.reports import BOUNDS, believed
from coldstack.core.watching.samples import Sample

CELLS = 4


def sample(seq=3, time_s=15.0, **changes):
    """A good third sample, with some fields otherwise; a field set to ... is left out."""
    said = {
        "seq": seq,
        "time_s": time_s,
        "cell_v": [3.8] * CELLS,
        "current_a": 3.7,
        "temperature_c": 22.0,
        "mah": 15.0,
        "supply_v": 13.6,
        "cell_mohm": None,
        **changes,
    }
    return {k: v for k, v in said.items() if v is not ...}


BEFORE = Sample(2, 10.0, (3.79,) * CELLS, 3.7, 22.0, 10.0)


def report(*samples, before=BEFORE, **changes):
    said = {"state": "charging", "ended": "", "time_s": 15.0, "samples": list(samples), **changes}
    return believed({k: v for k, v in said.items() if v is not ...}, cells=CELLS, before=before)


BAD = {
    "a cell is NaN": {"cell_v": [3.8, math.nan, 3.8, 3.8]},
    "a cell is null": {"cell_v": [3.8, None, 3.8, 3.8]},
    "a cell is endless": {"cell_v": [3.8, math.inf, 3.8, 3.8]},
    "a cell is a text": {"cell_v": [3.8, "3.8", 3.8, 3.8]},
    "a cell is below nothing": {"cell_v": [3.8, -1.0, 3.8, 3.8]},
    "a cell is far too high": {"cell_v": [3.8, 38.0, 3.8, 3.8]},
    "three cells of four": {"cell_v": [3.8, 3.8, 3.8]},
    "five cells of four": {"cell_v": [3.8] * 5},
    "no cells": {"cell_v": []},
    "cells are a number": {"cell_v": 3.8},
    "cells are gone": {"cell_v": ...},
    "amps are NaN": {"current_a": math.nan},
    "amps are null": {"current_a": None},
    "amps are a text": {"current_a": "3.7"},
    "amps are true": {"current_a": True},
    "amps are gone": {"current_a": ...},
    "amps of 2^63": {"current_a": 2**63},
    "amps of 400 digits": {"current_a": 10**400},
    "mAh are NaN": {"mah": math.nan},
    "mAh are null": {"mah": None},
    "mAh fall": {"mah": 3.0},
    "mAh are below nothing": {"mah": -5.0},
    "mAh are gone": {"mah": ...},
    "the temperature is NaN": {"temperature_c": math.nan},
    "the temperature is gone": {"temperature_c": None},
    "the temperature is left out": {"temperature_c": ...},
    "the temperature is a text": {"temperature_c": "22"},
    "the temperature cannot be": {"temperature_c": 900.0},
    "the clock is frozen": {"time_s": 10.0},
    "the clock goes back": {"time_s": 2.0},
    "the clock is NaN": {"time_s": math.nan},
    "the clock leaps": {"time_s": 1e9},
    "the clock is gone": {"time_s": ...},
    "the number is a text": {"seq": "3"},
    "the number is of 2^63": {"seq": 2**63},
    "the number is below one": {"seq": -3},
    "the number is gone": {"seq": ...},
}
"""Samples of bad faith: each is doubted, and none of it is believed."""
BAD_REPORTS = {
    "no object": None,
    "a list": [],
    "a text": "charging",
    "an unknown state": {"state": "happy"},
    "no state": {"state": ...},
    "samples are a text": {"samples": "many"},
    "samples are gone": {"samples": ...},
    "a sample is a number": {"samples": [7]},
    "its own clock is NaN": {"time_s": math.nan},
    "its own clock goes back": {"time_s": 1.0},
}


class Faith(SimpleTestCase):
    def test_a_good_report(self):
        """Believed whole; what was here before is not taken again; a rating of cells comes along."""
        found = report(sample(2, 10.0), sample(), sample(4, 20.0, cell_mohm=[2.0] * CELLS), time_s=20.0)
        self.assertEqual(([x.seq for x in found.samples], found.doubts), ([3, 4], ()))
        self.assertEqual((found.samples[1].cell_mohm, found.time_s), ((2.0,) * CELLS, 20.0))
        self.assertEqual(found.glimpses, ())

    def test_each_sample_of_bad_faith(self):
        """Doubted, in words; not believed; what can be read of it is judged all the same."""
        for name, changes in BAD.items():
            with self.subTest(name):
                found = report(sample(**changes))
                self.assertEqual(found.samples, ())
                self.assertTrue(found.doubts)
                for glimpse in found.glimpses:
                    read = (*glimpse.cell_v, glimpse.current_a, glimpse.temperature_c, glimpse.mah)
                    self.assertTrue(all(v is None or math.isfinite(v) for v in read))

    def test_each_report_of_bad_faith(self):
        """Doubted, and never taken for an end."""
        for name, changes in BAD_REPORTS.items():
            with self.subTest(name):
                found = (
                    report(**changes)
                    if isinstance(changes, dict)
                    else believed(changes, cells=4, before=BEFORE)
                )
                self.assertTrue(found.doubts)
                self.assertEqual((found.state, found.samples), ("charging", ()))
                self.assertTrue(math.isfinite(found.time_s))

    def test_a_hot_pack_is_seen_through_other_nonsense(self):
        """75 °C beside mAh that are none."""
        found = report(sample(temperature_c=75.0, mah=math.nan))
        self.assertEqual([(x.temperature_c, x.mah) for x in found.glimpses], [(75.0, None)])

    def test_a_cell_over_full_is_seen_whatever_their_number(self):
        """4.5 V on three of four cells; 92 °C, which no believable pack has."""
        found = report(sample(cell_v=[4.5, 4.5, 4.5], temperature_c=92.0))
        self.assertEqual([(x.cell_v, x.temperature_c) for x in found.glimpses], [((4.5,) * 3, 92.0)])

    def test_a_clock_that_is_rounded(self):
        """A last sample at 12.9 s of a charge that ended at 12.866 s, or at 12.8 s after one at 12.85: the
        end is believed. Two seconds apart it is not."""
        for last_s, own_s in ((12.9, 12.866), (9.9, 12.0)):
            with self.subTest(last_s):
                found = report(sample(3, last_s), state="stopped", ended="the button", time_s=own_s)
                self.assertEqual((found.state, len(found.samples), found.doubts), ("stopped", 1, ()))
        late = report(sample(3, 15.0), state="stopped", time_s=12.9)
        self.assertTrue(late.doubts)
        self.assertTrue(report(sample(3, 8.9), state="stopped", time_s=12.0).doubts)

    def test_a_charger_without_a_thermometer(self):
        """Null from the first sample on is no fault."""
        first = report(sample(1, 5.0, temperature_c=None), before=None, time_s=5.0)
        self.assertEqual((len(first.samples), first.doubts), (1, ()))
        again = report(sample(2, 10.0, temperature_c=None), before=first.samples[0], time_s=10.0)
        self.assertEqual(again.doubts, ())

    def test_the_last_sample_may_stand_at_the_same_time(self):
        """As it stops, it reads once more."""
        found = report(sample(3, 10.0, current_a=0.0), state="done", ended="full", time_s=10.0)
        self.assertEqual((found.state, len(found.samples), found.doubts), ("done", 1, ()))

    def test_a_supply_or_a_resistance_that_cannot_be_is_left_out(self):
        """Neither says anything of danger."""
        found = report(sample(supply_v="13", cell_mohm=[1, 2]))
        self.assertEqual((found.samples[0].supply_v, found.samples[0].cell_mohm), (None, None))
        self.assertEqual(found.doubts, ())

    @given(
        st.recursive(
            st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=5),
            lambda x: (
                st.lists(x, max_size=5)
                | st.dictionaries(
                    st.sampled_from(["seq", "time_s", "state", "samples", *BOUNDS]), x, max_size=8
                )
            ),
            max_leaves=20,
        )
    )
    @settings(max_examples=200)
    def test_nothing_that_is_said_breaks_it(self, said):
        """Whatever comes: an answer, and only whole samples in it."""
        found = believed(said, cells=CELLS, before=BEFORE)
        for x in found.samples:
            self.assertEqual(len(x.cell_v), CELLS)
            self.assertTrue(all(math.isfinite(v) for v in (*x.cell_v, x.current_a, x.mah, x.time_s)))
            self.assertTrue(x.seq > BEFORE.seq and x.time_s >= BEFORE.time_s)
