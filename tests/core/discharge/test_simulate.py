from dataclasses import fields, replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from coldstack.core.cells.chemistry import CHEMISTRY_IDS
from coldstack.core.cells.open_circuit import GRID_CELLS, ocv_curve
from coldstack.core.discharge.batch import Ending, PackColumns, Surroundings
from coldstack.core.discharge.simulate import simulate, traced
from coldstack.core.errors import DomainError
from tests.core.discharge.packs import amps, load, packs
from tests.core.discharge.random_jobs import kernel_run, random_job

CALM = Surroundings()


def run(pack, *phases, **options):
    return simulate(pack, list(phases), options.pop("air", CALM), **options)


class ClosedForms(SimpleTestCase):
    def test_constant_current_lasts_usable_charge_over_amps(self):
        """4 Ah of which 80 % are used at 8 A: 0.4 h; the charge is 3.2 Ah and the mean current 8 A."""
        out = run(packs(), amps(8))
        self.assertAlmostEqual(out.duration_s[0], 1440.0, places=6)
        self.assertAlmostEqual(out.used_ah[0], 3.2, places=9)
        self.assertAlmostEqual(out.rms_current_a[0], 8.0, places=9)
        self.assertEqual(out.ending[0], Ending.REACHED_LANDING)

    def test_two_phases_average_and_rms(self):
        """10 s at 5 A and 10 s at 15 A: 10 A on average, √125 A RMS, 15 A peak."""
        out = run(packs(capacity_ah=5), amps(5, 10), amps(15, 10))
        self.assertAlmostEqual(out.average_current_a[0], 10.0, delta=0.05)
        self.assertAlmostEqual(out.rms_current_a[0], np.sqrt(125), delta=0.05)
        self.assertEqual(out.peak_current_a[0], 15.0)

    def test_without_losses_watts_give_energy_over_power(self):
        """With next to no resistance, 40 W last as long as the energy between start and landing."""
        out = run(packs(cell_mohm=1e-4, series=1), load("power", 40.0))
        curve = ocv_curve("lipo")[int(0.2 * GRID_CELLS) :]
        energy_wh = 4 * 0.8 * float(np.mean((curve[1:] + curve[:-1]) / 2))
        self.assertAlmostEqual(out.duration_s[0] / 3600 * 40.0 / energy_wh, 1.0, delta=0.0005)

    def test_twice_the_strings_half_the_drop(self):
        """Half the resistance at the same amps: half the fall below the resting curve."""
        one, two = (run(packs(cell_mohm=r, mass_g=1e7), amps(20)) for r in (3.0, 1.5))
        rest = float(np.interp(0.2, np.linspace(0, 1, GRID_CELLS + 1), ocv_curve("lipo"))) * 4
        self.assertAlmostEqual(
            (rest - one.landing_voltage_v[0]) / (rest - two.landing_voltage_v[0]), 2.0, delta=0.05
        )

    def test_leads_lower_the_volts_by_ohm(self):
        """10 mΩ of leads at 20 A take 0.2 V and change nothing else."""
        bare, leads = run(packs(), amps(20)), run(packs(outside_mohm=10.0), amps(20))
        self.assertAlmostEqual(bare.landing_voltage_v[0] - leads.landing_voltage_v[0], 0.2, places=3)
        self.assertAlmostEqual(bare.duration_s[0], leads.duration_s[0], places=6)


class EnergyBalance(SimpleTestCase):
    @settings(max_examples=25)
    @given(
        st.sampled_from(["lipo", "lihv", "liion", "lifepo4", "semisolid"]),
        st.floats(0.8, 5),
        st.floats(2, 8),
        st.sampled_from(["amps", "power", "throttle1", "throttle2"]),
    )
    def test_resting_energy_less_heat_is_what_was_delivered(self, chemistry, c_rate, r, law):
        """OCV energy = delivered + lost in cells and leads + left in the slow part, within 0.1 %."""
        pack = packs(chemistry=chemistry, cell_mohm=r, outside_mohm=5.0, cutoff_cell_v=1.6, landing_soc=0.25)
        current = 4.0 * c_rate
        value = {
            "amps": current,
            "power": current * 14,
            "throttle1": current / 14,
            "throttle2": current / 196,
        }[law]
        out = run(pack, load(law, value, 55), load("amps", 1.0, 35), longest_step_s=4.0)
        curve = ocv_curve(chemistry)
        grid = np.linspace(0, 1, GRID_CELLS + 1)
        low = np.linspace(out.end_soc[0], 1.0, 20001)
        ocv_wh = 4 * 4.0 * np.trapezoid(np.interp(low, grid, curve), low)
        # the slow part may still hold up to C·v²/2 with v = I·R1 and C = τ/R1, which is neither heat nor
        # delivered
        stored_wh = 4 * 0.5 * 30.0 * out.peak_current_a[0] ** 2 * 1.3 * 3.3 * r / 1000 / 3600
        spent_wh = out.energy_wh[0] + out.heat_wh[0]
        self.assertLess(spent_wh, ocv_wh * 1.001)
        self.assertGreater(spent_wh, ocv_wh * 0.999 - stored_wh)
        self.assertGreater(out.heat_wh[0], 0)


class Invariants(SimpleTestCase):
    @given(st.floats(2, 60), st.floats(1.01, 2))
    def test_more_load_never_lasts_longer(self, current, times):
        """Whatever ends the run."""
        out = run(
            packs(2),
            load("power", 1, n=2).__class__(30.0, "power", np.array([current * 14, current * 14 * times])),
        )
        self.assertLessEqual(out.duration_s[1], out.duration_s[0] * (1 + 1e-9))

    @given(st.floats(5, 40), st.integers(2, 5))
    def test_more_strings_are_never_hotter(self, current, strings):
        """P strings: capacity and mass go up, resistance down; box as before."""
        more = packs(capacity_ah=4.0 * strings, cell_mohm=3.0 / strings, mass_g=400.0 * strings)
        one, many = run(packs(), amps(current)), run(more, amps(current))
        self.assertLessEqual(many.end_temperature_c[0], one.end_temperature_c[0] + 1e-9)

    @given(st.floats(5, 50))
    def test_energy_out_is_less_than_energy_in(self, current):
        """Delivered is less than full volts times charge, and every loaded volt is below the resting one."""
        out = run(packs(), amps(current))
        self.assertLess(out.energy_wh[0], 4 * 4.2 * out.used_ah[0])
        self.assertLessEqual(out.lowest_voltage_v[0], out.mean_voltage_v[0])

    @settings(max_examples=20)
    @given(
        st.lists(
            st.tuples(st.sampled_from(CHEMISTRY_IDS), st.floats(1, 8), st.floats(1, 30)),
            min_size=2,
            max_size=6,
        )
    )
    def test_a_batch_gives_what_single_packs_give(self, rows):
        """Packs of mixed chemistries stepped together end as each does alone, to the last bit that
        matters."""
        columns = [packs(chemistry=c, capacity_ah=ah, cell_mohm=r, cutoff_cell_v=0.7) for c, ah, r in rows]
        given = [f.name for f in fields(PackColumns) if getattr(columns[0], f.name) is not None]
        joined = PackColumns(*(np.concatenate([getattr(p, name) for p in columns]) for name in given))
        phases = [load("power", 60, 20, n=len(rows)), load("throttle2", 0.1, 5, n=len(rows))]
        together = simulate(joined, phases, CALM, longest_step_s=5)
        for i, pack in enumerate(columns):
            alone = simulate(pack, [load("power", 60, 20), load("throttle2", 0.1, 5)], CALM, longest_step_s=5)
            for f in fields(together):
                a, b = getattr(together, f.name)[i], getattr(alone, f.name)[0]
                np.testing.assert_allclose(a, b, rtol=1e-12, err_msg=f.name)

    @settings(max_examples=60)
    @given(st.integers(0, 10**6), st.sampled_from([0.5, 0.25]))
    def test_halving_the_step_or_the_cycle_changes_little(self, seed, share):
        """Minutes move by less than 0.3 %, by the step; by the cycle, where nothing but its length changes,
        by it or one cycle."""
        job = random_job(seed)
        assume(job.phases[0][0] + job.phases[1][0] < 60)
        usual = kernel_run(job)
        assume(usual.duration_s[0] > 60 and usual.ending[0] == Ending.REACHED_LANDING)
        finer = kernel_run(job, longest_step_s=share * 40.0)
        self.assertAlmostEqual(finer.duration_s[0] / usual.duration_s[0], 1.0, delta=3e-3)
        quicker = kernel_run(replace(job, phases=[(share * s, law, x) for s, law, x in job.phases]))
        assume(quicker.ending[0] == usual.ending[0])
        cycle_s = sum(s for s, _, _ in job.phases)
        self.assertAlmostEqual(
            quicker.duration_s[0], usual.duration_s[0], delta=3e-3 * usual.duration_s[0] + cycle_s
        )

    def test_many_cycles_by_one_are_as_each_run(self):
        """A second of 12 A and one of nothing on 20 mΩ cells, cold and warm: leaps end as every single
        cycle does.

        One cycle counted for many once gave 82 °C here for 57.5, and heat that ended a cold run at half its
        time.
        """
        for start_c in (25.0, -5.0):
            air = Surroundings(start_c, start_c, 12.0)
            pack = packs(chemistry="liion", series=4.0, cell_mohm=20.0, cutoff_cell_v=2.0)
            many = run(pack, amps(12, 0.5), amps(12, 0.5), air=air)
            each = run(pack, amps(12, 1200.0), air=air)
            self.assertAlmostEqual(many.duration_s[0] / each.duration_s[0], 1.0, delta=1e-3)
            self.assertAlmostEqual(many.end_temperature_c[0], each.end_temperature_c[0], delta=0.2)


class Endings(SimpleTestCase):
    def test_cutoff_before_landing_is_named(self):
        """A tired pack at 60 A reaches 3.0 V a cell before its landing point."""
        out = run(packs(cell_mohm=13.0), amps(60))
        self.assertEqual(out.ending[0], Ending.REACHED_CUTOFF)
        self.assertGreater(out.end_soc[0], 0.2)
        self.assertLessEqual(out.lowest_voltage_v[0], 12.0 + 1e-3)

    def test_a_dip_shorter_than_two_seconds_does_not_stop_the_controller(self):
        """A second below the threshold now and then is ridden through; three seconds are not."""
        weak = packs(cell_mohm=20.0)
        short, long = run(weak, amps(2, 60), amps(45, 1)), run(weak, amps(2, 60), amps(45, 3))
        self.assertEqual(long.ending[0], Ending.REACHED_CUTOFF)
        self.assertGreater(short.duration_s[0], 3 * long.duration_s[0])

    def test_asking_for_more_than_there_is_is_a_collapse(self):
        """3 kW from a pack that can give 1.2 kW ends at once, by name, with no infinite number."""
        out = run(packs(cell_mohm=15.0, cutoff_cell_v=2.3), load("power", 3000))
        self.assertEqual(out.ending[0], Ending.CANNOT_DELIVER)
        self.assertEqual(out.duration_s[0], 0.0)
        for f in fields(out):
            if f.name != "alarm_s":
                self.assertTrue(np.isfinite(getattr(out, f.name)[0]), f.name)

    def test_far_too_hot_ends_by_name(self):
        """A small pack without a way to shed its heat."""
        out = run(packs(mass_g=40.0, area_m2=0.002, cutoff_cell_v=1.0), amps(70))
        self.assertEqual(out.ending[0], Ending.CELL_TOO_HOT)

    def test_a_limit_on_time_ends_by_name(self):
        """Ten minutes are enough to know."""
        out = run(packs(), amps(1), longest_run_s=600.0)
        self.assertEqual(out.ending[0], Ending.RAN_TOO_LONG)
        self.assertLessEqual(out.duration_s[0], 700)

    def test_a_pack_below_its_landing_point_lands_at_once(self):
        """Nothing is used, nothing is divided by zero."""
        out = run(packs(start_soc=0.15), amps(8))
        self.assertEqual(
            (out.duration_s[0], out.used_ah[0], out.ending[0]), (0.0, 0.0, Ending.REACHED_LANDING)
        )

    def test_more_than_there_is_ends_by_name_and_its_books_close(self):
        """A megawatt collapses, as do 10 kA: nothing drawn, and no volts below zero."""
        for phase in (load("power", 1e6), amps(10_000)):
            out = run(packs(), phase)
            self.assertEqual((out.ending[0], out.used_ah[0]), (Ending.CANNOT_DELIVER, 0.0))
            self.assertGreaterEqual(out.lowest_voltage_v[0], 0.0)

    def test_a_hold_is_counted_from_the_crossing(self):
        """60 A bring a pack under its limit; two seconds later it stops, whatever the steps."""
        stops = [
            run(packs(cell_mohm=13.0, cutoff_cell_v=3.0), amps(60), longest_step_s=s) for s in (None, 3, 0.5)
        ]
        _, (trace,) = traced(packs(cell_mohm=13.0, cutoff_cell_v=3.0), [amps(60)], CALM)
        crossing = trace.time_s[np.flatnonzero(trace.voltage_v <= 12.0 + 1e-3)[0]]
        for out in stops:
            self.assertAlmostEqual(out.duration_s[0], crossing + 2.0, delta=0.05)

    def test_an_alarm_is_held_too(self):
        """A slow run in long steps: it sounds two seconds after its volts were passed, as in short steps."""
        fine, own = (run(packs(alarm_cell_v=3.75), amps(3), longest_step_s=s).alarm_s[0] for s in (0.5, None))
        self.assertGreater(fine, 300)
        self.assertAlmostEqual(own, fine, delta=5)

    def test_bad_columns_are_refused(self):
        """Zero capacity, NaN, an empty duty, a phase without length."""
        for pack, phases in (
            (packs(capacity_ah=0.0), [amps(5)]),
            (packs(cell_mohm=np.nan), [amps(5)]),
            (packs(), []),
            (packs(), [amps(5, 0.0)]),
        ):
            with self.assertRaises(DomainError):
                simulate(pack, phases, CALM)


class Heat(SimpleTestCase):
    def test_settles_where_loss_equals_heat(self):
        """A tiny steady heat for long: the rise is P ÷ (h·A), with P = I²·(R0 + R1) at mid charge."""
        slow = packs(capacity_ah=400.0, mass_g=50.0, cell_mohm=3.0, start_soc=0.62, landing_soc=0.58)
        out = run(slow, amps(20), longest_run_s=1e9)
        factor = np.exp(2600 * (1 / (out.end_temperature_c[0] + 273.15) - 1 / 298.15))
        watts = 4 * 20**2 * 0.003 * 2.3 * factor
        self.assertAlmostEqual(out.end_temperature_c[0], 20 + watts / (12 * 0.025), delta=0.4)

    def test_cold_air_raises_the_resistance(self):
        """At 0 °C the same pack sags further than at 25 °C."""
        warm = run(packs(), amps(30), air=Surroundings(25, 25, 12))
        cold = run(packs(), amps(30), air=Surroundings(0, 0, 12))
        self.assertLess(cold.lowest_voltage_v[0], warm.lowest_voltage_v[0])
