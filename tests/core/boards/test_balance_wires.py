"""Currents through balance wires: closed forms and Kirchhoff."""

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.boards.balance_wires import balance_wire_currents


class BalanceWires(SimpleTestCase):
    def test_one_cell_each_by_hand(self):
        """One loop of two cells and four wires: 0.1 V ÷ (2·3 + 4·16 mΩ) = 1.429 A."""
        cells, wires = balance_wire_currents(np.array([[3.8], [3.7]]), np.full((2, 1), 0.003), 0.016)
        np.testing.assert_allclose(cells[:, 0], [-0.1 / 0.070, 0.1 / 0.070], rtol=1e-9)
        np.testing.assert_allclose(np.abs(wires), 0.1 / 0.070, rtol=1e-9)

    def test_one_low_cell(self):
        """It takes the most; every wire below it brings current in, every wire above takes it out, the
        nearest ones the most."""
        emf = np.array([[3.8, 3.8, 3.8, 3.8], [3.8, 3.7, 3.8, 3.8]])
        cells, wires = balance_wire_currents(emf, np.full((2, 4), 0.003), 0.016)
        self.assertEqual(int(np.abs(cells[1]).argmax()), 1)
        self.assertTrue(np.all(wires[1, :2] < 0) and np.all(wires[1, 2:] > 0))
        self.assertTrue(abs(wires[1, 1]) > abs(wires[1, 0]) and wires[1, 2] > wires[1, 3] > wires[1, 4])
        self.assertAlmostEqual(float(wires[1].sum()), 0)

    @given(st.integers(2, 5), st.integers(1, 6), st.data())
    def test_kirchhoff(self, count, series, data):
        """At every common point the wires' currents sum to nothing; equal packs exchange nothing."""
        emf = np.array(
            data.draw(
                st.lists(
                    st.lists(st.floats(3.3, 4.2), min_size=series, max_size=series),
                    min_size=count,
                    max_size=count,
                )
            )
        )
        ohm = np.full((count, series), 0.004)
        _, wires = balance_wire_currents(emf, ohm, 0.02)
        np.testing.assert_allclose(wires.sum(axis=0), 0, atol=1e-9)
        _, even = balance_wire_currents(np.repeat(emf[:1], count, axis=0), ohm, 0.02)
        np.testing.assert_allclose(even, 0, atol=1e-9)
