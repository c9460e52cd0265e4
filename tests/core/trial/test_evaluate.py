import math

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.sizing.plan import Fineness, gather
from coldstack.core.trial.balance import pack_position_mm
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.checks.links import phase_currents
from coldstack.core.trial.checks.unmeasured import printed_a
from coldstack.core.trial.checks.wants import snapped_up
from coldstack.core.trial.evaluate import evaluate, job_candidates, runs_now
from coldstack.core.trial.job import RunsOn
from coldstack.core.trial.now import now_pack, pointed_out
from tests.core.trial.jobs import job, pack, stock


def checks(wanted, *packs):
    e = evaluate(wanted, from_packs(packs, "cautious"))
    return e, {c.id: c for c in e.checks}


class Window(SimpleTestCase):
    def test_four_lipo_cells_fill_a_four_cell_controller_exactly(self):
        """16.8 V of 16.8 V is allowed; five cells are not."""
        e, c = checks(job(), pack(), pack("5S", series=5))
        self.assertEqual(c["window.full"].check(0).verdict, "ok")
        self.assertTrue(e.feasible[0])
        self.assertEqual(c["window.full"].check(1).verdict, "over")
        self.assertFalse(e.feasible[1])

    def test_lihv_on_a_controller_rated_in_lipo_cells_is_flagged(self):
        """4 × 4.35 V is 17.4 V: 0.15 V a cell more than the rating, 104 %, and not feasible."""
        e, c = checks(job(wants={"chemistries": ("lihv",)}), pack(chemistry="lihv"))
        full = c["window.full"].check(0)
        self.assertEqual(full.verdict, "over")
        self.assertAlmostEqual(full.value - full.limit, 0.6, places=6)
        self.assertIn("104 %", full.sentence)
        self.assertIn("4 LiPo cells", full.limit_source)
        self.assertFalse(e.feasible[0])

    def test_six_cells_at_the_limit_are_not_refused_by_rounding(self):
        """6 × 4.2 is 25.2 in a hobbyist's arithmetic, and in ours."""
        _e, c = checks(job(electronics={"max_v": 25.2}), pack("6S", series=6))
        self.assertEqual(c["window.full"].check(0).verdict, "ok")


class PropellerOnOtherVolts(SimpleTestCase):
    def peak(self, series, drive):
        volts = {"average_a": 12.0, "peak_a": 36.0, "reference_voltage_v": 11.1}
        wanted = job(draw=volts, drive=drive)
        e, c = checks(wanted, pack("a", series=series, cell_mohm=0.05, label_c=None, lead_awg=2))
        return float(e.discharge.peak_current_a[0]), c["controller.burst"]

    def test_same_propeller_three_to_four_cells(self):
        """With next to no sag the peak rises by (4/3)² = 1.78; the controller's plate shows it."""
        three, four = self.peak(3, "same")[0], self.peak(4, "same")[0]
        self.assertAlmostEqual(four / three, 16 / 9, delta=0.03)
        self.assertEqual(self.peak(4, "same")[1].value[0], four)

    def test_repropped_for_the_same_watts(self):
        """The peak falls to 3/4."""
        three, four = self.peak(3, "refitted")[0], self.peak(4, "refitted")[0]
        self.assertAlmostEqual(four / three, 3 / 4, delta=0.01)

    def test_too_few_cells_for_the_propeller(self):
        """On 2S the same propeller cannot give the watts of the cruise: that is over, not a long flight."""
        e, c = checks(job(), pack("2S", series=2))
        self.assertEqual(c["drive.watts"].check(0).verdict, "over")
        self.assertFalse(e.feasible[0])


class WantsAndRoom(SimpleTestCase):
    def test_just_under_at_and_over_the_heaviest_pack(self):
        """380 g against 381, 380 and 379 g."""
        for limit, verdict in ((381.0, "ok"), (380.0, "ok"), (379.0, "over")):
            _, c = checks(job(wants={"mass_g": limit}), pack())
            self.assertEqual(c["want.mass"].check(0).verdict, verdict, limit)

    def test_excess_is_the_logs_of_what_is_over(self):
        """A pack a tenth over 200 g and one twice over, with nothing else in the way: ln 1.1 and ln 2."""
        wanted = job(wants={"mass_g": 200.0, "minutes": 0.1}, electronics={"max_v": 99.0, "min_v": 1.0})
        e, _ = checks(wanted, pack(mass_g=220.0), pack(mass_g=400.0), pack(mass_g=190.0))
        only_mass = [k for k, c in enumerate(e.checks) if c.id == "want.mass"]
        self.assertEqual([e.failing(row) for row in range(3)], [only_mass, only_mass, []])
        np.testing.assert_allclose(e.excess(), [math.log(1.1), math.log(2), 0.0], atol=1e-9)

    def test_a_pack_may_lie_on_its_side(self):
        """44 × 31 mm fits a bay of 40 × 52 mm the other way round: three millimetres are kept on each
        side."""
        e, _ = checks(job(bay={"width_mm": 40.0, "height_mm": 52.0}), pack())
        self.assertTrue(e.feasible[0])
        e, _ = checks(job(bay={"width_mm": 36.0, "height_mm": 52.0}), pack())
        self.assertFalse(e.feasible[0])

    def test_a_bay_of_which_one_side_is_told(self):
        """It is held against that side of the pack as it stands: 44 mm wide, 31 mm high."""
        for bay, fits in (
            ({"width_mm": None, "height_mm": 38.0}, True),
            ({"width_mm": None, "height_mm": 36.0}, False),
            ({"width_mm": 51.0, "height_mm": None}, True),
            ({"width_mm": 49.0, "height_mm": None}, False),
        ):
            with self.subTest(bay):
                self.assertEqual(bool(checks(job(bay=bay), pack())[0].feasible[0]), fits)

    def test_a_balance_point_may_be_off_by_the_size_of_the_model(self):
        """4.5 mm at one kilogram all up, by the cube root: 9 mm at eight."""
        placed = {"balance_at_mm": 310.0, "empty_balance_mm": 352.0, "centre_mm": 150.0, "length_mm": 160.0}
        for all_up_g, limit in ((1000.0, 4.5), (8000.0, 9.0)):
            _, c = checks(job(mass_g=all_up_g - 380.0, bay=placed), pack())
            self.assertAlmostEqual(float(c["fly.balance"].limit[0]), limit, places=6)

    def test_the_pack_of_now_runs_as_any_other(self):
        """So long as it would as a candidate, whatever is wanted."""
        wanted = job(now=RunsOn("lipo", 4, 4.0, 380.0, 30.0), wants={"minutes": 40.0})
        found = evaluate(wanted, job_candidates(wanted, [now_pack(wanted.now)])).minutes[0]
        self.assertAlmostEqual(runs_now(wanted).minutes, float(found), delta=1e-6)

    def test_what_labels_promise(self):
        """C times Ah; nothing where there is no label, or where the pack was measured."""
        packs = [pack(label_c=25.0), pack("a", label_c=None), pack("b", label_c=25.0, cell_mohm=3.0)]
        np.testing.assert_allclose(printed_a(from_packs(packs, "cautious")), [100.0, np.nan, np.nan])

    def test_made_up_packs_have_no_label(self):
        """Nobody printed one on them."""
        c = gather(job(), stock(), Fineness(3, 2))
        self.assertGreater(len(c), 0)
        self.assertTrue(np.isnan(printed_a(c)).all())

    def test_without_both_balance_points_nobody_knows_where_it_lies(self):
        """The one alone says nothing."""
        for told in ({"balance_at_mm": 310.0}, {"empty_balance_mm": 352.0}):
            self.assertTrue(np.isnan(pack_position_mm(job(bay=told), np.array([380.0]))).all())

    def test_cells_of_other_volts_than_the_draw_are_pointed_out(self):
        """Told at 14.8 V under load: that is four LiPo cells, neither five nor two."""
        for cells, said in ((4, False), (5, True), (2, True)):
            wanted = job(draw={"reference_voltage_v": 14.8}, wants={"cells": (cells,)})
            found = any(p.field == "wants.cells" for p in pointed_out(wanted))
            self.assertEqual(found, said, cells)

    def test_minutes_that_nobody_would_call_too_short(self):
        """A hundredth under what is wanted is as good; more is not, and longer runs stay as they are."""
        found = snapped_up(np.array([9.89, 9.91, 9.999, 10.0, 12.0]), 10.0)
        np.testing.assert_allclose(found, [9.89, 10.0, 10.0, 10.0, 12.0])

    def test_an_unknown_size_is_unknown_and_rules_nothing_out(self):
        """It is shown as unknown, never as ok."""
        e, c = checks(job(), pack(length_mm=None))
        self.assertEqual(c["bay.length"].check(0).verdict, "unknown")
        self.assertTrue(e.feasible[0])

    def test_balance_worked_by_hand(self):
        """Empty at 352 mm, wanted at 310: 380 g must lie at (310·1880 − 352·1500) ÷ 380 = 144.2 mm."""
        _, c = checks(
            job(bay={"balance_at_mm": 310.0, "empty_balance_mm": 352.0, "centre_mm": 150.0}), pack()
        )
        off = c["bay.balance"].check(0)
        self.assertAlmostEqual(off.value, 150 - (310 * 1880 - 352 * 1500) / 380, places=6)
        self.assertAlmostEqual(off.limit, (160 - 135) / 2)

    def test_rpm_is_kv_times_mean_loaded_volts(self):
        """And a motor without kV asks for none."""
        e, c = checks(job(wants={"rpm": 12_000.0}, electronics={"motor_kv": 900.0}), pack())
        self.assertAlmostEqual(c["want.rpm"].value[0], 900 * e.discharge.mean_voltage_v[0])


class Chain(SimpleTestCase):
    def test_currents_of_the_phases_heat_as_the_run_does(self):
        """Their mean square over the duty is the run's, on cells that sag much and little."""
        wanted = job(draw={"average_a": 12.0, "peak_a": 40.0})
        c = from_packs([pack(), pack("soft", cell_mohm=12.0, label_c=None)], "cautious")
        d = evaluate(wanted, c).discharge
        seconds = np.array([p.duration_s for p in wanted.duty.phases])[:, None]
        square = (seconds * phase_currents(wanted, c, d) ** 2).sum(axis=0) / seconds.sum()
        np.testing.assert_allclose(np.sqrt(square), d.rms_current_a)

    def test_a_ten_amp_block_in_a_forty_amp_model_is_over(self):
        """The white two-pin block is the weak link, and the pack is not feasible."""
        e, c = checks(job(electronics={"plug": "block_large"}), pack(plug="block_large"))
        self.assertEqual(c["plug.continuous"].check(0).limit, 10)
        self.assertEqual(c["plug.continuous"].check(0).verdict, "over")
        self.assertFalse(e.feasible[0])

    def test_the_weaker_half_of_a_mixed_pair_counts(self):
        """XT90 on XT30 is no better than XT30."""
        _, c = checks(job(electronics={"plug": "xt30"}), pack(plug="xt90"))
        self.assertEqual(c["plug.continuous"].limit[0], 15)

    def test_a_long_peak_is_allowed_the_heat_of_a_burst(self):
        """80 A for ten seconds over 60 A all the time: less for eleven and for fifteen, never a step."""
        over = (80 / 60) ** 2 - 1
        longer = [(t, 60 * (1 + over * 10 / t) ** 0.5) for t in (11.0, 15.0)]
        for peak_s, limit in ((0.5, 80.0), (10.0, 80.0), *longer):
            _, c = checks(job(draw={"peak_s": peak_s, "peak_every_s": 60.0}), pack())
            self.assertAlmostEqual(c["controller.burst"].limit[0], limit)

    def test_an_unrated_controller_is_unknown(self):
        """Never ok."""
        _, c = checks(job(electronics={"controller_continuous_a": None, "controller_burst_a": None}), pack())
        self.assertEqual(c["controller.burst"].check(0).verdict, "unknown")

    def test_heat_is_the_hottest_link(self):
        """The mark's fill is the highest loading among the links."""
        e, _c = checks(job(), pack())
        self.assertAlmostEqual(
            e.heat[0], max(x.loading[0] for x in e.checks if x.is_link and not x.spec.in_sight)
        )

    @given(st.floats(1.05, 1.8))
    def test_a_heavier_pack_never_runs_cooler_in_amps(self, times):
        """The same pack with more grams draws at least the same average."""
        e, _ = checks(job(wants={"mass_g": None}), pack(), pack("heavy", mass_g=380 * times))
        self.assertGreaterEqual(e.discharge.average_current_a[1], e.discharge.average_current_a[0])
        self.assertLessEqual(e.minutes[1], e.minutes[0])


class WithoutCutoff(SimpleTestCase):
    def test_the_run_goes_on_where_a_cutoff_would_stop(self):
        """A weak pack lands by its charge, though its volts fall lower than any controller with cut-off
        would let them."""
        weak = pack(cell_mohm=32.0, label_c=None)
        with_it, _ = checks(job(), weak)
        without, _ = checks(job(electronics={"cutoff": "none"}), weak)
        self.assertLess(with_it.minutes[0], without.minutes[0])
        self.assertTrue(math.isfinite(without.minutes[0]))
        self.assertTrue(
            np.isfinite(without.loading[np.array([c.id == "run.delivers" for c in without.checks])]).all()
        )
