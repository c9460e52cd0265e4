"""How far a pack warms while it charges: against an adaptive integrator, closed forms, what people report."""

import math

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.charging.warming import ChargingBody, charging_rise_k, pack_area_m2
from coldstack.core.errors import DomainError
from coldstack.core.packs.masses import typical_mass_g
from tests.core.charging.gear import pack

LIPO = ChargingBody.of("lipo", 4, 4.0, cell_mohm=3.0, mass_g=400.0, area_m2=0.024)


def rise(body, amps, minutes, start_c=21.0, air_c=21.0):
    return charging_rise_k(body, amps, 60 * minutes, start_c=start_c, air_c=air_c)


class ByOtherMeans(SimpleTestCase):
    @settings(max_examples=40, deadline=None)
    @given(
        st.sampled_from(CHEMISTRY_IDS),
        st.integers(1, 8),
        st.floats(0.3, 20),
        st.floats(0.0, 3.0),
        st.floats(1, 150),
        st.floats(0, 30),
    )
    def test_against_an_adaptive_integrator(self, kind, series, ah, c, minutes, start_c):
        """The relation of the docs written again: m·c·dT/dt = S·I²·R(T) − h·A·(T − T_air)."""
        body, amps = ChargingBody.of(kind, series, ah), c * ah
        ohm = (body.cell_mohm + body.spreading.middle / ah) / 1000

        def slope(_, state):
            factor = math.exp(2600 * (1 / (state[0] + 273.15) - 1 / 298.15))
            heat = series * amps**2 * ohm * factor
            return [(heat - body.loss_w_per_k * (state[0] - 21)) / body.heat_j_per_k]

        found = solve_ivp(slope, (0, 60 * minutes), [start_c], rtol=1e-8, atol=1e-8)
        ours = rise(body, amps, minutes, start_c=start_c).middle_k
        self.assertAlmostEqual(ours, found.y[0, -1] - start_c, delta=0.02 + 0.015 * abs(ours))

    def test_by_reasoning(self):
        """No current: it comes to the air, to 1/e in its time constant. No time: nothing. More amps warm
        more, and the high end is above the middle."""
        tau_min = LIPO.heat_j_per_k / LIPO.loss_w_per_k / 60
        cold = rise(LIPO, 0.0, tau_min, start_c=1.0)
        self.assertAlmostEqual(cold.middle_k, 20 * (1 - math.exp(-1)), places=6)
        self.assertEqual(rise(LIPO, 4.0, 0.0).high_k, 0.0)
        at = [rise(LIPO, amps, 30) for amps in (1.0, 4.0, 12.0)]
        self.assertEqual(sorted(at, key=lambda x: x.middle_k), at)
        self.assertTrue(all(x.middle_k < x.high_k for x in at))

    def test_as_people_report(self):
        """LiPo by 1 to 4 K at 1C, by 5 to 14 at 3C; Li-ion by 10 to 20 at 1C, LiFePO4 by 10 to 17 at 2C."""
        for kind, c, minutes, low, high in (
            ("lipo", 1, 40, 1, 4.5),
            ("lipo", 3, 12, 5, 14),
            ("liion", 1, 40, 10, 20),
            ("lifepo4", 2, 22, 10, 17),
        ):
            with self.subTest(f"{kind} {c}C"):
                self.assertTrue(low < rise(ChargingBody.of(kind, 3, 4.0), 4.0 * c, minutes).middle_k < high)

    def test_what_stands_in(self):
        """The mass that packs of a chemistry have, and a cube of it; a box where its sides are known."""
        unweighed = ChargingBody.of("lipo", 3, 2.2)
        self.assertAlmostEqual(unweighed.heat_j_per_k, typical_mass_g("lipo", 3, 2.2))
        boxed = pack(length_mm=100, width_mm=50, height_mm=40)
        self.assertAlmostEqual(pack_area_m2(boxed), 2 * (0.005 + 0.004 + 0.002))
        self.assertAlmostEqual(pack_area_m2(pack(mass_g=250.0)), 6 * 125e-6 ** (2 / 3))

    def test_what_cannot_be(self):
        """Amps below nothing, or none at all."""
        for amps in (-1.0, math.nan):
            with self.assertRaises(DomainError):
                rise(LIPO, amps, 1)
