import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.charge_minutes import kept, ours, physics
from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.cells.resistance import slow_time_constant_s
from coldstack.core.charging.charge_time import ChargeColumns, charge_minutes, charge_time
from coldstack.core.errors import DomainError

GRID = np.linspace(0, 1, GRID_CELLS + 1)


def columns(**changes) -> ChargeColumns:
    """A 5 Ah LiPo of 3 mΩ a cell at 1C from 20 %; lists make several."""
    figures = {
        "chemistry": "lipo",
        "capacity_ah": 5.0,
        "cell_mohm": 3.0,
        "current_a": 5.0,
        "full_cell_v": 4.2,
        "start_soc": 0.2,
        "balance_ah": 0.0,
        "balance_a": 0.0,
        **changes,
    }
    kinds = figures.pop("chemistry")
    kinds = kinds if isinstance(kinds, list) else [kinds]
    n = max([len(kinds)] + [len(v) for v in figures.values() if isinstance(v, list)])
    full = {k: np.broadcast_to(np.asarray(v, float), (n,)).copy() for k, v in figures.items()}
    index = np.broadcast_to([CHEMISTRY_IDS.index(k) for k in kinds], (n,)).astype(np.int64)
    return ChargeColumns(chemistry_index=index, **full)


SPREADING_MOHM_AH = {"lipo": 48.0, "lihv": 48.0, "liion": 190.0, "lifepo4": 99.0}
"""As docs/model.md gives it."""


def stepped_min(chemistry, *, capacity_ah, cell_mohm, current_a, full_v, start_soc):
    """The same cell second by second with its slow part alive: an independent way to the time. [min]"""
    ocv, tau_s = ocv_curve(chemistry), slow_time_constant_s(chemistry)
    r0, r1 = cell_mohm / 1000, SPREADING_MOHM_AH[chemistry] / capacity_ah / 1000
    soc, slow_v, seconds = start_soc, 0.0, 0
    while seconds < 40 * 3600:
        let_in = (full_v - np.interp(soc, GRID, ocv) - slow_v) / r0
        current = min(current_a, let_in)
        if current <= capacity_ah / 20:
            break
        slow_v += (r1 * current - slow_v) * (1 - np.exp(-1 / tau_s))
        soc += current / capacity_ah / 3600
        seconds += 1
    return seconds / 60


class ClosedForms(SimpleTestCase):
    def test_what_cells_that_hold_less_add(self):
        """From 90 % cells 4 % apart come 20 mAh apart on the way, and 25 that the meter hid: 270 min of
        10 mA, less what is done while it charges. Where volts tell nothing, five times what it may have."""
        alike = charge_time(columns(start_soc=0.9, balance_a=0.01))
        unlike = charge_time(columns(start_soc=0.9, balance_a=0.01, lowest_soc=0.895))
        # 25 + 0.04 × 0.105 × 5000 mAh; a little more flows from 89.5 %
        flowing = float(unlike.put_in_high_ah[0] / alike.put_in_high_ah[0]) * (float(alike.high[0]) - 2.0)
        by_hand = 2.0 + flowing + max(60 * (25 + 21) / 10 - 0.75 * flowing, 0)
        self.assertAlmostEqual(float(unlike.high[0]), by_hand, delta=1.5)
        iron = {"chemistry": "lifepo4", "full_cell_v": 3.6, "start_soc": 0.9, "balance_a": 0.1}
        none, some = (charge_time(columns(**iron, balance_ah=ah)).high[0] for ah in (0.0, 0.05))
        self.assertTrue(60 * 5 * 0.05 / 0.1 - 8 < some - none <= 60 * 5 * 0.05 / 0.1, some - none)

    def test_without_resistance_time_is_charge_over_amps(self):
        """Half a C with hardly a resistance: what its ions' spreading takes is left, and 80 % at half a C is
        96 min. Half a minute is the charger's own."""
        found = charge_time(columns(capacity_ah=500.0, current_a=250.0, cell_mohm=1e-6))
        self.assertAlmostEqual(found.flowing_min[0] - found.taper_min[0], 93.5, delta=1.5)
        self.assertAlmostEqual(found.minutes[0] - found.flowing_min[0], 0.5)

    def test_where_the_taper_begins(self):
        """At 4.2 V less 1C through 3 mΩ and 48 mΩ·Ah: 4.2 − 5·(0.003 + 0.0096) = 4.137 V at rest. From there
        on less flows; before it, amps alone."""
        found = charge_time(columns())
        rest = np.interp(4.2 - 5 * (0.003 + 0.0096), ocv_curve("lipo"), GRID)
        self.assertAlmostEqual(found.flowing_min[0] - found.taper_min[0], 60 * (rest - 0.2), delta=0.1)

    def test_the_usual_hour(self):
        """1C from landing: "about an hour" of the trade."""
        found = charge_time(columns())
        self.assertTrue(48 < found.minutes[0] < 66, found.minutes[0])
        self.assertTrue(found.low[0] < found.minutes[0] < found.high[0])

    def test_balancing_by_hand(self):
        """It runs while it charges: three quarters of those minutes at 0.3 A are done, the rest is left."""
        without = charge_time(columns())
        done_ah = 0.3 * 0.75 * without.flowing_min[0] / 60
        beside = charge_time(columns(balance_ah=0.99 * done_ah, balance_a=0.3))
        self.assertAlmostEqual(beside.minutes[0], without.minutes[0])
        after = charge_time(columns(balance_ah=done_ah + 0.05, balance_a=0.3))
        self.assertAlmostEqual(after.balance_min[0], 10.0)
        self.assertAlmostEqual(after.minutes[0] - without.minutes[0], 10.0)
        self.assertGreater(after.high[0] - without.high[0], 10.0)
        self.assertEqual(after.low[0], without.low[0])

    def test_a_balancer_is_blind_where_volts_tell_nothing(self):
        """On LiFePO4's plateau it does little before the end."""
        of = {"balance_ah": 0.3, "balance_a": 0.3, "capacity_ah": 5.0}
        flat = charge_time(columns(chemistry="lifepo4", full_cell_v=3.6, **of))
        self.assertAlmostEqual(flat.balance_min[0], 60 - 0.15 * flat.flowing_min[0])

    def test_nimh_takes_a_tenth_more_and_does_not_taper(self):
        """80 % of 4 Ah × 1.1 at 4 A: 52.8 min."""
        found = charge_time(columns(chemistry="nimh", capacity_ah=4.0, current_a=4.0, full_cell_v=1.45))
        self.assertAlmostEqual(found.flowing_min[0], 52.8, delta=0.01)
        self.assertEqual(found.taper_min[0], 0)
        self.assertAlmostEqual(found.put_in_ah[0], 3.52, delta=0.001)

    def test_a_full_pack_takes_only_the_start_and_the_stop(self):
        """Nothing goes in."""
        found = charge_time(columns(start_soc=1.0))
        self.assertEqual(found.put_in_ah[0], 0)
        self.assertEqual(found.minutes[0], 0.5)


class AgainstOthers(SimpleTestCase):
    def test_second_by_second(self):
        """The quadrature against stepping with the slow part alive: within 3 %, 5 for high-energy Li-ion,
        whose slow part has not settled."""
        for chemistry, r, amps, full, start in (
            ("lipo", 3.0, 5.0, 4.2, 0.2),
            ("lipo", 12.0, 10.0, 4.2, 0.4),
            ("liion", 8.0, 2.5, 4.2, 0.1),
            ("liion", 20.0, 5.0, 4.2, 0.2),
            ("lihv", 4.0, 5.0, 4.35, 0.5),
            ("lifepo4", 5.0, 5.0, 3.6, 0.1),
        ):
            with self.subTest(chemistry=chemistry, r=r):
                figures = {"capacity_ah": 5.0, "cell_mohm": r, "current_a": amps, "start_soc": start}
                ours = charge_time(columns(chemistry=chemistry, full_cell_v=full, **figures)).flowing_min[0]
                theirs = stepped_min(chemistry, full_v=full, **figures)
                self.assertAlmostEqual(ours / theirs, 1, delta=0.05 if chemistry == "liion" else 0.03)

    def test_published_cells(self):
        """Ten parameter sets, from 20 and 60 %, at half, one and two C: nine of ten in the range, the median
        error under 5 %; Li-ion and LiPo each."""
        charges = kept()
        found = ours(charges)
        for chemistry in ("lipo", "liion", "lifepo4"):
            rows = [k for k, c in enumerate(charges) if c.chemistry == chemistry]
            off = [abs(found.minutes[k] / charges[k].minutes - 1) for k in rows]
            held = [found.low[k] <= charges[k].minutes <= found.high[k] for k in rows]
            with self.subTest(chemistry):
                self.assertGreaterEqual(len({charges[k].parameters for k in rows}), 1)
                self.assertLess(np.median(off), 0.05)
                self.assertGreaterEqual(np.mean(held), 0.9)

    def test_the_range_says_something(self):
        """A range that holds everything is none: the usual 1C from landing within a quarter either way."""
        found = charge_time(columns(cell_mohm=3.0))
        self.assertLess((found.high[0] - found.low[0]) / found.minutes[0], 0.4)

    def test_the_kept_charges_are_pybamms(self):
        """One of them computed anew."""
        found = next(c for c in kept() if (c.parameters, c.start_soc, c.charge_c) == ("Mohtat2020", 0.6, 2.0))
        again = physics("Mohtat2020", starts=(0.6,), rates_c=(2.0,))[0]
        self.assertAlmostEqual(again.minutes / found.minutes, 1, places=2)
        self.assertAlmostEqual(again.quick_mohm / found.quick_mohm, 1, places=2)


class Invariants(SimpleTestCase):
    @settings(max_examples=40)
    @given(
        st.sampled_from(["lipo", "lihv", "liion", "lifepo4", "nimh"]),
        st.floats(0.1, 20),
        st.floats(0.2, 3),
        st.floats(0, 0.95),
        st.floats(0.5, 60),
    )
    def test_more_amps_or_a_fuller_pack_never_takes_longer(self, chemistry, ah, c, start, rohm_ah):
        """And never puts in more than there is room for; the range holds the figure."""
        full = {"lipo": 4.2, "lihv": 4.35, "liion": 4.2, "lifepo4": 3.6, "nimh": 1.45}[chemistry]
        found = charge_time(
            columns(
                chemistry=chemistry,
                capacity_ah=ah,
                cell_mohm=rohm_ah / ah,
                full_cell_v=full,
                current_a=[c * ah, 1.3 * c * ah, c * ah],
                start_soc=[start, start, min(1.0, start + 0.05)],
            )
        )
        usual, faster, fuller = found.flowing_min
        self.assertLessEqual(faster, usual * (1 + 1e-9))
        self.assertLessEqual(fuller, usual + 1e-9)
        self.assertLessEqual(found.put_in_ah[0], 1.1 * ah * (1 - start) + 1e-9)
        self.assertTrue(found.low[0] <= found.minutes[0] <= found.high[0])

    def test_several_give_what_single_ones_give(self):
        """Three packs at once, the minutes alone too."""
        many = columns(
            chemistry=["lipo", "nimh", "liion"], full_cell_v=[4.2, 1.45, 4.2], capacity_ah=[5.0, 4.0, 9.0]
        )
        whole = charge_time(many)
        for i, (kind, full, ah) in enumerate((("lipo", 4.2, 5.0), ("nimh", 1.45, 4.0), ("liion", 4.2, 9.0))):
            alone = charge_time(columns(chemistry=kind, full_cell_v=full, capacity_ah=ah))
            self.assertAlmostEqual(whole.minutes[i], alone.minutes[0])
        np.testing.assert_allclose(charge_minutes(many), whole.minutes)

    def test_a_lower_end_is_sooner(self):
        """To 4.15 V by Long life: less charge, less time."""
        full, gentle = charge_time(columns(full_cell_v=[4.2, 4.15])).put_in_ah
        self.assertLess(gentle, full)

    def test_bad_figures_are_refused(self):
        """No current, no capacity, NaN."""
        for changes in ({"current_a": 0.0}, {"capacity_ah": -1.0}, {"cell_mohm": float("nan")}):
            with self.assertRaises(DomainError):
                charge_time(columns(**changes))
            with self.assertRaises(DomainError):
                charge_minutes(columns(**changes))
