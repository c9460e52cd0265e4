import numpy as np
from django.test import SimpleTestCase

from coldstack.core.discharge.simulate import simulate
from coldstack.core.sizing.detail import details
from coldstack.core.sizing.front import front
from coldstack.core.sizing.headline import headline, subline
from coldstack.core.sizing.plan import Fineness, cell_chips, pick, plan
from coldstack.core.sizing.shopping import closed_form_capacity_ah, least_c
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import pack_columns, surroundings
from coldstack.core.trial.spread import turning_mass_g
from coldstack.core.trial.wording import lack
from tests.core.discharge.packs import amps
from tests.core.trial.jobs import cell, job, pack, stock

SMALL = Fineness(8, 4)


class Front(SimpleTestCase):
    def test_by_hand(self):
        """Of (100 g, 5 min), (150, 4), (200, 9), (200, 8), (300, 9) the first and third are on the front."""
        rows = front(np.array([100.0, 150, 200, 200, 300]), np.array([5.0, 4, 9, 8, 9]))
        self.assertEqual(rows.tolist(), [0, 2])

    def test_no_other_is_both_lighter_and_longer(self):
        """And every one left out is beaten by one that is in, over random fields."""
        rng = np.random.default_rng(5)
        mass, minutes = rng.uniform(50, 500, 300), rng.uniform(1, 40, 300)
        on = set(front(mass, minutes).tolist())
        for i in range(300):
            beaten = np.any(
                (mass <= mass[i]) & (minutes >= minutes[i]) & ((mass < mass[i]) | (minutes > minutes[i]))
            )
            self.assertEqual(i in on, not beaten)

    def test_turning_mass(self):
        """Where the minutes stop rising; None if they rise to the end."""
        self.assertEqual(turning_mass_g(np.array([1.0, 2, 3]), np.array([5.0, 7, 6])), 2.0)
        self.assertIsNone(turning_mass_g(np.array([1.0, 2, 3]), np.array([5.0, 6, 7])))


class Planning(SimpleTestCase):
    def test_a_plan_finds_the_pack_that_does_it(self):
        """One pack does 12 minutes within 450 g, one is too small, one too heavy."""
        made = plan(
            job(),
            stock(
                pack(),
                pack("4S 2000", capacity_ah=2.0, mass_g=210.0),
                pack("4S 6000", capacity_ah=6.0, mass_g=560.0),
            ),
            fineness=SMALL,
        )
        names = [made.evaluation.candidates.names[r] for r in made.short_rows]
        self.assertEqual(names, ["4S 4000"])
        self.assertEqual(headline(made), "1 pack flies 12 minutes within 450 g\u2060.")
        self.assertIn("The lightest weighs 380 g\u2060", subline(made))

    def test_near_misses_say_what_they_lack(self):
        """A pack of 2.5 Ah is short by some time; the words say by how much."""
        made = plan(job(), stock(pack(), pack("4S 2500", capacity_ah=2.5, mass_g=240.0)), fineness=SMALL)
        miss = made.misses[0]
        self.assertEqual(made.evaluation.candidates.names[miss.row], "4S 2500")
        self.assertRegex(lack(made.evaluation, miss.failing[0], miss.row), r"^short by [\d.]+ (s|min)$")

    def test_conflicting_wants_are_named_with_the_nearest_pack(self):
        """30 minutes within 450 g cannot be: minutes or weight has to give, and the nearest of each is
        shown."""
        made = plan(
            job(wants={"minutes": 30.0}),
            stock(pack(), pack("4S 12000", capacity_ah=16.0, mass_g=1400.0, length_mm=150.0)),
            fineness=SMALL,
        )
        self.assertIsNotNone(made.conflict)
        gives = {g for r in made.conflict.reliefs for g in r.gives}
        self.assertIn("the minutes", gives)
        self.assertIn("Giving way on", made.conflict.sentence)
        self.assertRegex(made.conflict.reliefs[0].sentence, r"short by|too heavy")
        self.assertIsNotNone(made.best)

    def test_nothing_electrically_possible_says_so(self):
        """LiPo cells on a controller for 3 V."""
        made = plan(job(electronics={"max_v": 3.0, "min_v": 0.0}), stock(pack()), fineness=SMALL)
        self.assertEqual(len(made.evaluation.candidates), 0)
        self.assertIn("No pack of these chemistries", made.conflict.sentence)
        self.assertIsNone(made.best)

    def test_an_empty_stock_still_gives_a_shopping_line(self):
        """Made-up packs show what to look for."""
        made = plan(job(), stock(), fineness=Fineness(24, 8))
        self.assertEqual(made.evaluation.candidates.kind(made.best).id, "generic")
        self.assertRegex(
            made.shopping.line,
            r"^[34]S LiPo \(1[14]\.[18] V\), \d+ to \d+ mAh, labelled \d+C or more, at most 450 g",
        )

    def test_many_cells_are_asked_for_as_two_packs(self):
        """Nobody sells twelve cells in one: two of six, and their grams together."""
        wanted = job(
            mass_g=4000.0,
            draw={"reference_voltage_v": 44.4, "reference_mass_g": 5500.0},
            wants={"cells": (12,), "mass_g": None},
            electronics={"max_v": 50.4, "rated_cells": 12, "min_v": 30.0},
            bay={"length_mm": None, "width_mm": None, "height_mm": None},
        )
        made = plan(wanted, stock(), fineness=Fineness(12, 6))
        self.assertEqual((made.shopping.series, made.shopping.packs), (12, 2))
        self.assertRegex(made.shopping.line, r"^two 6S LiPo .* in series, each .* together")

    def test_shopping_line_holds(self):
        """A pack bought by the line does the job: the middle of its range at its C, simulated."""
        made = plan(job(), stock(pack()), fineness=Fineness(24, 8))
        low, high = made.shopping.capacity_ah
        ah = (low + high) / 2
        bought = pack(
            "bought",
            capacity_ah=ah,
            mass_g=ah * 14.8 / 0.185,
            label_c=20.0,
            cell_mohm=6250 / (400 * ah),
        )
        again = plan(job(), stock(bought), fineness=SMALL)
        self.assertIn("bought", [again.evaluation.candidates.names[r] for r in again.short_rows])

    def test_more_minutes_never_make_more_packs_fit(self):
        """A want made harder leaves the same packs or fewer."""
        counts = [
            int(
                plan(
                    job(wants={"minutes": m}),
                    stock(pack(), pack("b", capacity_ah=5.0, mass_g=440.0)),
                    fineness=SMALL,
                )
                .evaluation.feasible[:2]
                .sum()
            )
            for m in (8.0, 12.0, 15.0, 30.0)
        ]
        self.assertEqual(counts, sorted(counts, reverse=True))

    def test_a_heavy_hoverer_has_a_turning_point(self):
        """Cylindrical cells on a six-rotor: beyond some mass more pack hovers shorter, near m_model ÷ (1.5 −
        1)."""
        wanted = job(
            motion="hover",
            mass_g=700.0,
            draw={"average_a": 9.0, "peak_a": 20.0, "peak_s": 0.0, "reference_mass_g": 1200.0},
            wants={"minutes": 20.0, "mass_g": 900.0, "chemistries": ("liion",)},
            bay={"length_mm": None},
        )
        detail = details(wanted, pick(wanted, stock(cells=[cell()]), ["cells:1:4:2"]))[0]
        turning = detail.sensitivity.turning_mass_g
        self.assertIsNotNone(turning)
        self.assertAlmostEqual(turning / 1400.0, 1.0, delta=0.15)


class Chips(SimpleTestCase):
    def test_volts_and_reasons(self):
        """3S and 4S are taken by a 9 to 16.8 V controller; 5S is 21.0 V and refused with both numbers."""
        chips = {c.cells: c for c in cell_chips(job())}
        self.assertEqual([n for n, c in chips.items() if c.accepted], [3, 4])
        self.assertIn("21.0 V fresh off the charger; the controller stops at 16.8 V", chips[5].reason)

    def test_peak_of_each_cell_count(self):
        """From 14.8 V to 3S the same propeller takes (11.1 ÷ 14.8)² of the 40 A: 22.5 A; re-propped 53.3
        A."""
        same = {c.cells: c for c in cell_chips(job())}[3]
        refitted = {c.cells: c for c in cell_chips(job(drive="refitted"))}[3]
        self.assertAlmostEqual(same.peak_a, 22.5, places=6)
        self.assertAlmostEqual(refitted.peak_a, 53.333, places=2)
        self.assertIn("same propeller", same.peak_sentence)


class ClosedForms(SimpleTestCase):
    def test_capacity(self):
        """12 A for 12 min with 80 % to use: 12·0.2 ÷ 0.8 = 3.0 Ah; for the same watts on 3S 4/3 of that."""
        self.assertAlmostEqual(closed_form_capacity_ah(job(), "lipo", series=4, minutes=12.0), 3.0, places=6)
        self.assertAlmostEqual(closed_form_capacity_ah(job(), "lipo", series=3, minutes=12.0), 4.0, places=6)

    def test_c_rating(self):
        """20 A RMS and 60 A peak from 3 Ah: 6.7C continuous, 13.3C by the burst at 1.5 times."""
        self.assertAlmostEqual(least_c(20.0, 60.0, 3.0), 60 / 1.5 / 3)
        self.assertAlmostEqual(least_c(50.0, 60.0, 3.0), 50 / 3)


class Details(SimpleTestCase):
    def one(self, wanted=None, **figures):
        wanted = wanted or job()
        return details(wanted, pick(wanted, stock(pack(**figures)), ["pack:4S 4000"], SMALL))[0]

    def test_minutes_carry_a_range_and_a_label_widens_it(self):
        """The same pack with its resistance measured has the narrower range; both hold the minutes."""
        label, measured = self.one(), self.one(cell_mohm=2.5)
        for d in (label, measured):
            self.assertLess(d.minutes_low, d.minutes)
            self.assertGreater(d.minutes_high, d.minutes)
        self.assertGreater(
            label.minutes_high - label.minutes_low, measured.minutes_high - measured.minutes_low
        )
        steps = {s.label: s for s in label.workings["minutes"].steps}
        self.assertIn("label only", steps["Range: resistance"].formula)

    def test_settings_are_the_house_rules(self):
        """Steady: 80 % of 4 Ah is 3200 mAh, the alarm between its 3.40 V and a little over the landing’s
        3.60 V; the timer rings before the low end of the range."""
        d = self.one()
        self.assertAlmostEqual(d.settings.budget_mah, 3200.0, delta=1)
        self.assertTrue(3.4 <= d.settings.alarm_cell_v <= 3.65)
        self.assertLessEqual(d.trace.alarm_min, d.minutes - 1)
        self.assertLessEqual(d.settings.timer_s, d.minutes_low * 60)
        self.assertGreater(d.settings.timer_s, d.minutes_low * 60 - 10)

    def test_exactly_one_plate_is_out_and_it_is_the_most_loaded(self):
        """The weakest link carries the sentence."""
        d = self.one()
        out = [p for p in d.plates if p.weakest]
        self.assertEqual(len(out), 1)
        self.assertEqual(out[0].loading, max(p.loading for p in d.plates))
        self.assertTrue(out[0].sentence)
        self.assertEqual([p.link for p in d.plates], ["cells", "leads", "plug", "controller", "motor"])

    def test_lipo_without_cutoff_is_warned_of(self):
        """The caution names the alarm on the balance lead; NiMH gets none."""
        lipo = self.one(job(electronics={"cutoff": "none"}))
        self.assertIn(
            "alarm on the balance lead", next(c for c in lipo.checks if c.id == "window.cutoff").sentence
        )
        nimh = job(electronics={"cutoff": "none"}, wants={"chemistries": ("nimh",)})
        d = details(
            nimh, pick(nimh, stock(pack(chemistry="nimh", series=10, mass_g=700.0)), ["pack:4S 4000"], SMALL)
        )[0]
        self.assertNotIn("window.cutoff", [c.id for c in d.checks])

    def test_thermal_c_meets_sixty_degrees(self):
        """Running the pack at its thermal C, steadily, lands at 60 °C."""
        wanted = job(bay={"airflow": "closed"})
        d = self.one(wanted)
        columns = pack_columns(wanted, from_packs([pack()], "cautious"))
        columns.cutoff_cell_v[:] = 2.0
        out = simulate(columns, [amps(d.thermal_c * 4.0, 40)], surroundings(wanted))
        self.assertAlmostEqual(out.end_temperature_c[0], 60.0, delta=1.5)

    def test_colder_is_shorter_or_equal_and_trace_ends_below_the_start(self):
        """Ten degrees less never help a power draw; the trace falls."""
        wanted = job(draw={"peak_s": 0.0})
        d = self.one(wanted)
        self.assertLessEqual(d.sensitivity.ten_colder, 1e-6)
        self.assertLess(d.trace.voltage_v[-1], d.trace.voltage_v[0])
        self.assertAlmostEqual(d.trace.landing_min, d.minutes)

    def test_a_build_from_cells_is_cautioned(self):
        """Welding is for people trained for it."""
        wanted = job(wants={"chemistries": ("liion",), "mass_g": 900.0})
        d = details(wanted, pick(wanted, stock(cells=[cell()]), ["cells:1:4:2"], SMALL))[0]
        self.assertEqual([c.id for c in d.cautions], ["build_from_cells"])
