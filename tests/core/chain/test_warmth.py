"""Warmth over a duty: closed forms, a plain loop, and the ratings it has to agree with."""

import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.chain.cooling import cool_awg, cool_family, plug_rise_k, wire_rise_k
from coldstack.core.chain.plugs import PLUGS, PlugFamily
from coldstack.core.chain.warmth import (
    BURST_S,
    HOT_RISE_K,
    PLUG_RISE_AT_RATING_K,
    WARM_RISE_K,
    Warming,
    peak_rise_k,
)
from coldstack.core.chain.wire import USUAL_GAUGES, wire_burst_a, wire_continuous_a, wire_time_constant_s

phases = st.lists(st.tuples(st.floats(0.5, 90.0), st.floats(0.0, 60.0)), min_size=1, max_size=5)


def steady(amps, run_s=math.inf):
    """The same amps for so long."""
    return Warming((float(amps),), (10.0,), run_s)


def by_steps(duty, *, rating_a, at_k, tau, run_s, step_s=0.02):
    """The rise by explicit small steps from cold: its highest within the run."""
    rise = highest = t = 0.0
    while t < run_s:
        for seconds, amps in duty:
            for _ in range(round(seconds / step_s)):
                rise += step_s / tau * (at_k * (amps / rating_a) ** 2 - rise)
                t += step_s
                highest = max(highest, rise)
                if t >= run_s:
                    return highest
    return highest


class ClosedForms(SimpleTestCase):
    def test_at_its_rating_for_ever(self):
        """28 K of a plug, 60 K of a wire."""
        for family in PLUGS.values():
            self.assertAlmostEqual(
                plug_rise_k(family, steady(family.continuous_a)), PLUG_RISE_AT_RATING_K, places=6
            )
        self.assertAlmostEqual(wire_rise_k(14, steady(wire_continuous_a(14))), HOT_RISE_K, places=6)

    def test_one_phase_of_a_short_run(self):
        """1 − e^(−t/τ) of the steady rise: 30 A for 10 s in an XT30 of τ 15 s."""
        found = steady(30, run_s=10.0).rise_k(15.0, 28.0, 15.0)
        self.assertAlmostEqual(found, 28 * 4 * (1 - math.exp(-10 / 15)), places=9)

    def test_twice_the_amps_four_times_the_rise(self):
        """Heat goes with the square of the current."""
        one, two = steady(10).rise_k(15, 28, 20), steady(20).rise_k(15, 28, 20)
        self.assertAlmostEqual(two, 4 * one)

    def test_half_of_it_in_the_air_stream(self):
        """A share of what still air lets it be."""
        still = Warming((20.0, 5.0), (3.0, 27.0), 300.0)
        moving = Warming((20.0, 5.0), (3.0, 27.0), 300.0, 0.5)
        self.assertAlmostEqual(moving.rise_k(15, 28, 15), still.rise_k(15, 28, 15) / 2)

    def test_a_short_burst_does_not_melt_what_ten_seconds_would(self):
        """58 A for 1.5 s every 30 s through an XT30: far over its 30 A, about as warm as 20 A for ever."""
        brief = Warming((58.0, 10.0), (1.5, 28.5), 600.0)
        self.assertLess(brief.rise_k(15, 28, 15), HOT_RISE_K)
        lasting = Warming((58.0, 10.0), (10.0, 20.0), 600.0)
        self.assertGreater(lasting.rise_k(15, 28, 15), 3 * HOT_RISE_K)


class AgainstSteps(SimpleTestCase):
    def test_a_duty_of_several_phases(self):
        """Never below a plain loop of small steps, and within 2 % of it once it has repeated a few times."""
        for duty, tau, run_s in (
            ([(3.0, 60.0), (27.0, 12.0)], 15.0, 600.0),
            ([(10.0, 40.0), (20.0, 0.0), (5.0, 30.0)], 45.0, 900.0),
            ([(1.0, 90.0), (1.0, 0.0)], 20.0, 240.0),
            ([(60.0, 30.0), (60.0, 5.0)], 150.0, 1800.0),
        ):
            amps, seconds = [a for _, a in duty], [s for s, _ in duty]
            found = Warming(tuple(amps), tuple(seconds), run_s).rise_k(30.0, 28.0, tau)
            loop = by_steps(duty, rating_a=30.0, at_k=28.0, tau=tau, run_s=run_s)
            with self.subTest(duty=duty):
                self.assertAlmostEqual(found / loop, 1.0, delta=0.02)

    @given(phases, st.floats(10, 150), st.floats(1.0, 1200.0))
    def test_never_cooler_than_the_average_and_never_hotter_than_the_peak(self, duty, tau, run_s):
        """Whatever the duty and however long the run."""
        seconds, amps = zip(*duty, strict=True)
        rise = Warming(tuple(amps), tuple(seconds), run_s).rise_k(30.0, 28.0, tau)
        self.assertLessEqual(rise, 28 * (max(amps) / 30) ** 2 + 1e-9)
        endless = Warming(tuple(amps), tuple(seconds), math.inf)
        mean_square = np.average(np.square(amps), weights=seconds)
        self.assertGreaterEqual(endless.rise_k(30.0, 28.0, tau), 28 * mean_square / 900 - 1e-9)
        self.assertLessEqual(endless.average_rise_k(30.0, 28.0), 28 * mean_square / 900 + 1e-9)

    def test_many_packs_are_as_each_alone(self):
        """A column of amps gives what single ones give."""
        amps = np.array([[10.0, 40.0, 70.0], [5.0, 5.0, 20.0]])
        rating, tau, run = np.array([15.0, 30.0, 45.0]), np.array([15.0, 25.0, 45.0]), np.full(3, 240.0)
        together = peak_rise_k(
            amps, (4.0, 26.0), rating_a=rating, rise_at_rating_k=28.0, time_constant_s=tau, run_s=run
        )
        alone = [
            Warming(tuple(amps[:, k]), (4.0, 26.0), 240.0).rise_k(rating[k], 28.0, tau[k]) for k in range(3)
        ]
        np.testing.assert_allclose(together, alone)


class AgainstTheRatings(SimpleTestCase):
    def test_ten_seconds_at_a_plug_s_burst_amps(self):
        """From cold each family warms by 20 to 60 K, and by as much at its continuous ones for ever."""
        for family in PLUGS.values():
            with self.subTest(family.id):
                rise = steady(family.burst_a, BURST_S).rise_k(
                    family.continuous_a, PLUG_RISE_AT_RATING_K, family.time_constant_s
                )
                self.assertTrue(20 <= rise <= 60, rise)
                self.assertTrue(20 <= plug_rise_k(family, steady(family.continuous_a)) <= 60)

    def test_ten_seconds_at_a_wire_s_burst_amps(self):
        """From cold each gauge warms by 20 K at least, and no further than its continuous amps warm it."""
        for awg in USUAL_GAUGES:
            with self.subTest(awg):
                rise = steady(wire_burst_a(awg), BURST_S).rise_k(
                    wire_continuous_a(awg), HOT_RISE_K, wire_time_constant_s(awg)
                )
                self.assertTrue(20 <= rise <= HOT_RISE_K + 1e-9, rise)

    def test_thick_leads_warm_slowly(self):
        """20 s at 22 AWG, 150 s at 8 AWG, between them by the gauge, beyond them as they."""
        found = [wire_time_constant_s(g) for g in (26, 22, 15, 8, 4)]
        self.assertEqual([round(x) for x in found], [20, 20, 55, 150, 150])

    def test_a_plug_of_one_s_own(self):
        """Known by two ratings: ten seconds at the second warm it by 40 K; a second that is hardly more tells
        of a quick one."""
        for family in (PlugFamily("own_a", "A", 20, 40, 1.0), PlugFamily("own_b", "B", 50, 90, 0.6)):
            rise = steady(family.burst_a, BURST_S).rise_k(family.continuous_a, 28.0, family.time_constant_s)
            self.assertAlmostEqual(rise, 40.0, delta=0.01)
        self.assertEqual(PlugFamily("own_c", "C", 20, 22, 1.0).time_constant_s, 10.0)


class WhatStaysCool(SimpleTestCase):
    def test_the_smallest_that_does(self):
        """Of steady amps it is the one whose rating they are; of short bursts a smaller one."""
        for amps, wanted in ((15, "xt30"), (25, "xt60"), (45, "xt90"), (115, "bullet_8")):
            family = cool_family(steady(amps))
            self.assertLessEqual(plug_rise_k(family, steady(amps)), PLUG_RISE_AT_RATING_K + 1e-6)
            self.assertLessEqual(family.continuous_a, PLUGS[wanted].continuous_a)
        bursts = Warming((45.0, 5.0), (2.0, 28.0), math.inf)
        self.assertLess(cool_family(bursts).continuous_a, 45)
        gauge = cool_awg(steady(20))
        thinner = USUAL_GAUGES[USUAL_GAUGES.index(gauge) - 1]
        self.assertLessEqual(wire_rise_k(gauge, steady(20)), WARM_RISE_K)
        self.assertGreater(wire_rise_k(thinner, steady(20)), WARM_RISE_K)

    def test_none_for_more_than_any_carries(self):
        """500 A through a plug of the table; the thickest lead stands for the rest."""
        self.assertIsNone(cool_family(steady(500)))
        self.assertEqual(cool_awg(steady(500)), USUAL_GAUGES[-1])

    def test_old_blocks_are_no_cure(self):
        """Nor what is no pack's plug."""
        self.assertNotIn(cool_family(steady(8)).id, ("block_large", "block_small", "banana_4"))
