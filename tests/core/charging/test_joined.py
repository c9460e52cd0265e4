"""Currents between joined packs: closed forms, Kirchhoff, and a fine fixed-step integration as an independent reference."""

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import soc_factor
from coldstack.core.charging.joined import balance_wire_currents, settling_currents, settling_seconds
from coldstack.core.errors import DomainError

packs = st.lists(st.tuples(st.floats(9, 26), st.floats(0.004, 0.3)), min_size=2, max_size=8)


class Mains(SimpleTestCase):
    def test_two_packs_by_hand(self):
        """16.0 V and 15.2 V over 20 mΩ each: 0.8 V ÷ 40 mΩ = 20 A at 15.6 V."""
        common, current = settling_currents(np.array([16.0, 15.2]), np.array([0.02, 0.02]))
        self.assertAlmostEqual(common, 15.6)
        np.testing.assert_allclose(current, [-20.0, 20.0])

    @given(packs)
    def test_what_one_gives_the_others_take(self, given_packs):
        """The currents sum to nothing, and flow from above the common volts to below."""
        emf, ohm = (np.array(x) for x in zip(*given_packs, strict=True))
        common, current = settling_currents(emf, ohm)
        self.assertLess(abs(current.sum()), 1e-6 * max(1.0, np.abs(current).max()))
        self.assertTrue(emf.min() - 1e-9 <= common <= emf.max() + 1e-9)
        self.assertTrue(np.all((current > 1e-6) <= (emf < common)))

    def test_no_resistance(self):
        """Refused: the current would be without bound."""
        with self.assertRaises(DomainError):
            settling_currents(np.array([16.0, 15.0]), np.array([0.02, 0.0]))


class BalanceWires(SimpleTestCase):
    def test_one_cell_each_by_hand(self):
        """One loop of two cells and four wires: 0.1 V ÷ (2·3 + 4·16 mΩ) = 1.429 A."""
        cells, wires = balance_wire_currents(np.array([[3.8], [3.7]]), np.full((2, 1), 0.003), 0.016)
        np.testing.assert_allclose(cells[:, 0], [-0.1 / 0.070, 0.1 / 0.070], rtol=1e-9)
        np.testing.assert_allclose(np.abs(wires), 0.1 / 0.070, rtol=1e-9)

    def test_one_low_cell(self):
        """It takes the most; every wire below it brings current in, every wire above takes it out, the nearest ones the most."""
        emf = np.array([[3.8, 3.8, 3.8, 3.8], [3.8, 3.7, 3.8, 3.8]])
        cells, wires = balance_wire_currents(emf, np.full((2, 4), 0.003), 0.016)
        self.assertEqual(int(np.abs(cells[1]).argmax()), 1)
        self.assertTrue(np.all(wires[1, :2] < 0) and np.all(wires[1, 2:] > 0))
        self.assertTrue(abs(wires[1, 1]) > abs(wires[1, 0]) and wires[1, 2] > wires[1, 3] > wires[1, 4])
        self.assertAlmostEqual(float(wires[1].sum()), 0)

    @given(st.integers(2, 5), st.integers(1, 6), st.data())
    def test_kirchhoff(self, count, series, data):
        """At every common point the wires' currents sum to nothing; equal packs exchange nothing."""
        emf = np.array(data.draw(st.lists(st.lists(st.floats(3.3, 4.2), min_size=series, max_size=series), min_size=count, max_size=count)))  # fmt: skip
        ohm = np.full((count, series), 0.004)
        _, wires = balance_wire_currents(emf, ohm, 0.02)
        np.testing.assert_allclose(wires.sum(axis=0), 0, atol=1e-9)
        _, even = balance_wire_currents(np.repeat(emf[:1], count, axis=0), ohm, 0.02)
        np.testing.assert_allclose(even, 0, atol=1e-9)


class Calm(SimpleTestCase):
    def test_against_fine_steps(self):
        """Within 5 % of an explicit integration at a twentieth of a second, written out for two packs."""
        soc, ah, cell, outside = [0.30, 0.55], [4.0, 3.0], 0.003, 0.006
        found = settling_seconds("lipo", 4, np.array(soc), np.array(ah), np.full(2, cell), np.full(2, outside))  # fmt: skip
        z, slow, t, dt = list(soc), [0.0, 0.0], 0.0, 0.05
        while True:
            r = [4 * cell * soc_factor(x) + outside for x in z]
            e = [4 * (resting_voltage("lipo", x) + s) for x, s in zip(z, slow, strict=True)]
            amps = (e[1] - e[0]) / (r[0] + r[1])
            if abs(amps) <= 1.0:
                break
            for k, sign in enumerate((1, -1)):
                slow[k] += dt / 30 * (sign * amps * 1.3 * cell * soc_factor(z[k]) - slow[k])
                z[k] += sign * amps * dt / 3600 / ah[k]
            t += dt
        self.assertGreater(t, 60)
        self.assertAlmostEqual(found / t, 1.0, delta=0.05)

    def test_equal_packs_are_calm_at_once(self):
        """Nothing flows."""
        self.assertEqual(settling_seconds("lipo", 4, np.array([0.4, 0.4]), np.array([4.0, 4.0]), np.full(2, 0.003), np.full(2, 0.006)), 0.0)  # fmt: skip
