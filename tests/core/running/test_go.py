"""Go or no go, what to set, and what runs teach."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.readings.cells import pack_reading, whole_reading
from coldstack.core.rules.house_rules import for_chemistry, house_rules
from coldstack.core.running.go import RunContext, go_check
from coldstack.core.running.learned import learned_draw, mah_by_landing
from tests.core.trial.jobs import job, pack

FULL = (4.19, 4.19, 4.19, 4.19)


def checked(cells=FULL, of=None, model=None, **how):
    of = of or pack()
    return go_check(model or job(), of, pack_reading(of.chemistry, cells), **how)


def aged(of=None, **today):
    """A pack of one's own with these records."""
    return replace(of or pack(owned=True), today=StateOfHealth(**today))


def ids(go):
    return {r.id: r.verdict for r in go.reasons}


class Verdicts(SimpleTestCase):
    def test_a_full_sound_pack(self):
        """Go, without a word."""
        found = checked()
        self.assertEqual((found.verdict, found.reasons), ("go", ()))
        self.assertTrue(found.minutes_low <= found.minutes <= found.minutes_high)

    def test_the_whole_pack_by_a_multimeter(self):
        """With care, and reckoned as if one cell lay lower: never longer than the cells told apart; no spread
        is made up of it."""
        by_cells = checked((4.10,) * 4)
        found = go_check(job(), pack(), whole_reading("lipo", 4, 16.4))
        self.assertEqual((found.verdict, ids(found)["cells_unknown"]), ("careful", "careful"))
        self.assertNotIn("spread", ids(found))
        self.assertLess(found.minutes, by_cells.minutes)
        self.assertLess(found.budget_mah, by_cells.budget_mah)
        self.assertGreater(found.minutes, 0.85 * by_cells.minutes)

    def test_as_it_was_noted(self):
        """Full off the charger, and nothing to read with: with care; what is in its words stands."""
        full = pack_reading("lipo", (4.2,) * 4)
        found = go_check(job(), pack(), full, known=RunContext(noted="full", noted_h=1))
        self.assertEqual(list(ids(found)), ["unread"])
        self.assertIn("taken as full, as it was noted (assumed)", found.reasons[0].sentence)
        self.assertLess(found.minutes, go_check(job(), pack(), full).minutes)

    def test_cells_that_nobody_reads(self):
        """NiMH by its whole, or just off the charger, for a day: no word of cells."""
        nimh, model = pack(chemistry="nimh", series=6), job(electronics={"min_v": 4.0})
        for noted, said in (("", []), ("full", [])):
            known = RunContext(noted=noted, noted_h=2.0 if noted else 0.0)
            found = go_check(model, nimh, whole_reading("nimh", 6, 8.6), known=known)
            self.assertEqual([r for r in ids(found) if r in ("cells_unknown", "unread")], said)
        late = go_check(
            model, nimh, whole_reading("nimh", 6, 8.6), known=RunContext(noted="full", noted_h=25)
        )
        self.assertIn("unread", ids(late))

    def test_what_stops_it(self):
        """Differing cells, spent, damaged, over full, unfit, frozen, hot, too many volts, light duty in what
        flies, on a charger."""
        for found, reason in (
            (checked((4.19, 4.19, 4.19, 4.13)), "spread"),
            (checked((3.62,) * 4), "spent"),
            (checked((2.9, 3.9, 3.9, 3.9)), "damaged"),
            (checked((4.3,) * 4), "over_full"),
            (checked(of=pack(fit=False, note="swollen")), "pack.unfit"),
            (checked(temperature_c=-3.0), "cold"),
            (checked(temperature_c=62.0), "hot"),
            (checked(model=job(electronics={"max_v": 12.6})), "window.full"),
            (checked(of=aged(level="light")), "pack.light"),
            (checked(known=RunContext(barred="It is charging.")), "barred"),
        ):
            with self.subTest(reason):
                self.assertEqual((found.verdict, ids(found)[reason]), ("no_go", "no_go"))
                self.assertEqual(found.reasons[0].verdict, "no_go")

    def test_figures_in_its_words(self):
        """The lowest cell is the one that is named; of a full pack four fifths stand above the landing
        point."""
        said = {r.id: r.sentence for r in checked((3.9, 2.9, 3.9, 3.9)).reasons}
        self.assertIn("rests at 2.90 V", said["damaged"])
        found = checked((4.2,) * 4)
        self.assertRegex(found.budget_working.steps[-1].numbers, r"4000 mAh × 80 % = 3200 mAh")

    def test_what_is_to_be_known(self):
        """A little spread, half full, cold, to be watched, light duty on wheels, never noted: with care."""
        for found, reason in (
            (checked((4.19, 4.19, 4.19, 4.155)), "spread"),
            (checked((3.95,) * 4), "part"),
            (checked(temperature_c=5.0), "cold"),
            (checked(of=aged(level="watch", sign="Cells differ.")), "pack.watch"),
            (checked(of=aged(level="light"), model=job(motion="wheels")), "pack.light"),
            (checked(known=RunContext(stranger=True)), "stranger"),
        ):
            with self.subTest(reason):
                self.assertEqual((found.verdict, ids(found)[reason]), ("careful", "careful"))

    def test_a_plug_that_would_melt(self):
        """A small white block at 40 A: over by its warmth. An XT30 of one's own does not even mate."""
        block = job(electronics={"plug": "block_small"})
        found = ids(checked(of=pack(plug="block_small"), model=block))
        self.assertEqual(found["plug.warmth"], "no_go")
        self.assertEqual(ids(checked(of=pack(plug="xt30", owned=True)))["plug.mates"], "no_go")

    def test_just_as_hot_as_may_be(self):
        """45 °C is run, a degree more is not; the other side of it is the rule's own."""
        self.assertNotIn("hot", ids(checked(temperature_c=45.0)))
        self.assertEqual(ids(checked(temperature_c=45.5))["hot"], "no_go")

    def test_its_verdict_in_the_model_goes_along(self):
        """The same whatever the cells read."""
        self.assertEqual([checked(c).fit for c in (FULL, (3.62,) * 4)], ["does", "does"])


class ToSet(SimpleTestCase):
    def test_mah_by_hand(self):
        """From full (4.20 V) to 20 %: 80 % of 4000 mAh."""
        self.assertAlmostEqual(checked((4.2,) * 4).budget_mah, 3200, delta=1)
        self.assertAlmostEqual(checked((4.2,) * 4, of=aged(capacity_ah=3.4)).budget_mah, 0.85 * 3200, delta=1)

    def test_workings_end_in_what_is_shown(self):
        """mAh and alarm can be followed by hand, and name the rules."""
        found = checked((4.2,) * 4)
        self.assertIn(f"= {found.budget_mah:.0f} mAh", found.budget_working.steps[-1].numbers)
        self.assertEqual(found.budget_working.steps[1].rule, "house rules “Steady”")
        self.assertIn(f"4 × {found.alarm_cell_v:g} V", found.alarm_working.steps[-1].numbers)

    def test_half_the_charge_about_half_the_minutes(self):
        """By simulation, which is near the proportion to what is above the landing point, and not it."""
        rules = for_chemistry(house_rules("steady"), "lipo")
        full, part = checked((4.2,) * 4), checked((3.95,) * 4)
        share = (pack_reading("lipo", (3.95,) * 4).lowest_soc - rules.landing_soc) / (
            rules.start_soc - rules.landing_soc
        )
        self.assertAlmostEqual(part.minutes / full.minutes, share, delta=0.03)

    def test_the_emptiest_cell_ends_it(self):
        """One cell at 3.90 V among fuller ones lands when it does: as a pack of four such cells, or a little
        later."""
        steady = job(draw={"peak_s": 0.0, "average_a": 12.0, "peak_a": 12.0})
        low = checked((4.19, 4.19, 3.90, 4.19), model=steady)
        all_low, full = checked((3.90,) * 4, model=steady), checked(model=steady)
        self.assertLess(low.minutes, 0.8 * full.minutes)
        self.assertAlmostEqual(low.minutes / all_low.minutes, 1.0, delta=0.05)
        self.assertGreater(low.minutes, all_low.minutes)

    def test_a_cell_that_resists_more_counts(self):
        """A tired pack with one cell at three times the others' resistance gives fewer minutes at steady
        watts."""
        of = pack(owned=True, cell_mohm=9.0, label_c=None)
        steady = job(draw={"peak_s": 0.0, "average_a": 12.0, "peak_a": 12.0})
        ways = (), (1.0, 3.0, 1.0, 1.0)
        even, uneven = (checked(of=aged(of, cell_ratios=r), model=steady) for r in ways)
        self.assertLess(uneven.minutes, even.minutes)

    def test_the_range_widens_with_age(self):
        """What its health leaves open of the capacity is in the low end."""
        sound, worn = (checked(of=aged(level=x)) for x in ("fine", "light"))
        self.assertLess(worn.minutes_low, sound.minutes_low)

    def test_a_measured_capacity_leaves_nothing_to_age(self):
        """What its latest charges returned is what it holds: health takes no more off it."""
        lows = [checked(of=aged(level=x, capacity_ah=3.6)).minutes_low for x in ("fine", "watch")]
        self.assertEqual(lows[0], lows[1])
        self.assertGreater(lows[0] / checked(of=aged(level="watch")).minutes_low, 0.9)

    def test_timer_rings_before_landing(self):
        """The low end of the range, down to ten seconds."""
        found = checked()
        self.assertEqual(found.timer_s % 10, 0)
        self.assertLessEqual(found.timer_s, found.minutes_low * 60)
        self.assertEqual(found.working.title, "Timer")

    @settings(max_examples=12)
    @given(st.floats(3.7, 4.2), st.floats(0.6, 1.0))
    def test_a_tired_pack_never_flies_longer(self, cell_v, share):
        """Less capacity gives fewer minutes and fewer mAh, from every charge."""
        good, tired = checked((cell_v,) * 4), checked((cell_v,) * 4, of=aged(capacity_ah=4.0 * share))
        self.assertLessEqual(tired.minutes, good.minutes + 1e-6)
        self.assertLessEqual(tired.budget_mah, good.budget_mah + 1e-6)


class Learning(SimpleTestCase):
    def test_by_hand(self):
        """10 min with 2000 mAh and 5 min with 1000, 10 with 2200: 5200 mAh in 25 min are 12.5 A."""
        found = learned_draw([(10, 2000), (5, 1000), (10, 2200)])
        self.assertAlmostEqual(found.average_a, 5.2 / (25 / 60))
        self.assertEqual(found.count, 3)
        self.assertGreaterEqual(found.spread, 0.05)

    def test_too_early(self):
        """Two runs, or runs without what was put back."""
        self.assertIsNone(learned_draw([(10, 2000), (5, 1000)]))
        self.assertIsNone(learned_draw([(10, 0)] * 5))

    def test_by_landing_volts(self):
        """From full at 4.20 V to where the curve has 20 %: 80 % of 4000 mAh; as good as what was put back."""
        v20 = float(resting_voltage("lipo", 0.2))
        mah = mah_by_landing(pack(), v20, rules=house_rules("steady"))
        self.assertAlmostEqual(mah, 3200, delta=5)
        found = learned_draw([(10, 2000)], [(16, mah), (16, mah)])
        self.assertAlmostEqual(found.average_a, 8.4 / (42 / 60), delta=0.03)
        self.assertEqual((found.count, found.by_volts), (3, 2))

    def test_volts_that_say_nothing(self):
        """Over full, or a chemistry whose curve is flat or whose end is a peak."""
        self.assertIsNone(mah_by_landing(pack(), 4.3, rules=house_rules("steady")))
        for chemistry_id in ("nimh", "lifepo4"):
            self.assertIsNone(
                mah_by_landing(replace(pack(), chemistry=chemistry_id), 1.2, rules=house_rules("steady"))
            )


class PartFull(SimpleTestCase):
    def test_told_from_nine_tenths_down(self):
        """As soon as less than nine tenths of a full run are left it is told, and not before."""
        full = checked().minutes
        told = {}
        for millivolts in range(4190, 3990, -5):
            go = checked((millivolts / 1000,) * 4)
            told[go.minutes / full] = any(r.id == "part" for r in go.reasons)
        self.assertEqual(told, {share: share < 0.9 for share in told})
        self.assertTrue(any(told.values()) and not all(told.values()))
