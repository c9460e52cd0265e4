"""The verdict of a pack in a model: odd pairs, boundaries, and what the model runs on now."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.describing.job_from_answers import described_job
from coldstack.core.fit.fit import fit_of, verdicts
from coldstack.core.fit.verdict import FIT_VERDICTS
from coldstack.core.matching.drive import drive_fit
from coldstack.core.matching.grid import drive_column
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.readings.cells import pack_reading
from coldstack.core.rules.house_rules import STEADY, for_chemistry
from coldstack.core.running.go import go_check
from coldstack.core.sizing.detail import details
from coldstack.core.trial.candidates import job_candidates
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.job import RunsOn
from coldstack.core.trial.now import now_pack
from tests.core.chain.test_adapters import adapter
from tests.core.fit.odd_pairs import PAIRS, QUAD, RACER, TANK, own
from tests.core.trial.jobs import job, pack


def of(j, *packs, pieces=()):
    """The fits of packs in a job."""
    e = evaluate(j, job_candidates(j, packs, tuple(pieces)))
    return [fit_of(e, row) for row in range(len(packs))]


def one(j, p, *pieces):
    return of(j, p, pieces=pieces)[0]


def ids(fit):
    return [r.id for r in fit.reasons]


def mine(**changes):
    return pack(owned=True, **changes)


def full(p):
    """Cells as the rules charge them."""
    volts = for_chemistry(STEADY, p.chemistry).full_v
    return pack_reading(p.chemistry, (volts,) * p.series, STEADY)


class OddPairs(SimpleTestCase):
    def test_what_a_careful_practitioner_would_say(self):
        """Verdict and deciding reason of each."""
        for pair in PAIRS:
            with self.subTest(pair.name):
                found = one(described_job(pair.model.answers, STEADY).job, pair.pack)
                self.assertEqual(found.verdict, pair.verdict, found.sentence)
                self.assertEqual(found.reasons[0].id if found.reasons else "", pair.reason, found.sentence)

    def test_every_stage_says_the_same(self):
        """Size in full, the chain of Match, the grid, go and the day: one verdict, the same minutes, mAh and
        timer, of packs old and new."""
        tired = StateOfHealth("watch", capacity_ah=0.82, cell_mohm=None, cell_ratios=())
        for pair in PAIRS:
            j = described_job(pair.model.answers, STEADY).job
            for p in (
                pair.pack,
                replace(pair.pack, today=replace(tired, capacity_ah=0.8 * pair.pack.capacity_ah)),
            ):
                with self.subTest(pair.name, today=p.today):
                    c = job_candidates(j, [p])
                    size, match = details(j, c)[0], drive_fit(j, c, pack=p, pieces=())
                    (cell,) = drive_column(j, (p,), ())
                    go = go_check(j, p, full(p))
                    self.assertEqual(
                        {size.fit.verdict, match.fit.verdict, cell.verdict, go.fit}, {size.fit.verdict}
                    )
                    self.assertEqual(size.fit, match.fit)
                    self.assertEqual(cell.sentence, size.fit.sentence)
                    self.assertEqual((cell.minutes, match.minutes), (size.minutes, size.minutes))
                    if not size.fit.runs:
                        self.assertEqual(go.verdict, "no_go")
                        continue
                    if size.ending == "reached_landing":
                        self.assertAlmostEqual(go.minutes, size.minutes, places=6)
                        self.assertAlmostEqual(go.budget_mah, size.settings.budget_mah, delta=0.5)
                        self.assertEqual(go.timer_s, size.settings.timer_s)

    def test_columns_and_single_ones_agree(self):
        """The verdicts of many at once are those of each."""
        j = described_job(QUAD.answers, STEADY).job
        packs = [p.pack for p in PAIRS]
        e = evaluate(j, job_candidates(j, packs))
        self.assertEqual(verdicts(e), [fit_of(e, k).verdict for k in range(len(packs))])
        self.assertEqual(verdicts(e), [one(j, p).verdict for p in packs])


class Boundaries(SimpleTestCase):
    def punch(self, share, motion="level_flight", **rules):
        """A pack at this share of today's full-stick watts: the volts at which those were are moved until it
        is."""
        j = job(motion=motion, rules=replace(STEADY, **rules), wants={"minutes": None, "mass_g": None})

        def punched_at(volts):
            return replace(j, duty=replace(j.duty, peak_voltage_v=volts))

        low, high = 8.0, 30.0
        for _ in range(50):
            volts = (low + high) / 2
            e = evaluate(there := punched_at(volts), job_candidates(there, [mine()]))
            punch = next(c for c in e.checks if c.id == "fly.punch").value[0] / 100
            low, high = (volts, high) if punch > share else (low, volts)
        return one(punched_at(low), mine())

    def test_punch_in_what_flies(self):
        """60 % is the least, 85 % the least without a word."""
        for share, verdict in (
            (0.595, "wont"),
            (0.605, "care"),
            (0.845, "care"),
            (0.86, "does"),
            (1.2, "does"),
        ):
            found = self.punch(share)
            self.assertEqual(found.verdict, verdict, (share, found.sentence))
            self.assertEqual("fly.punch" in ids(found), verdict != "does")

    def test_the_house_s_own_least(self):
        """The rule can be set."""
        self.assertEqual(self.punch(0.7, punch_least=0.75).verdict, "wont")
        self.assertEqual(self.punch(0.7, punch_least=0.65).verdict, "care")

    def test_punch_on_wheels_and_water(self):
        """It is only slower."""
        for motion in ("wheels", "tracks", "hull"):
            self.assertEqual(self.punch(0.4, motion).verdict, "care", motion)

    def heavier(self, grown, motion="level_flight"):
        j = job(motion=motion, wants={"minutes": None, "mass_g": None}, bay={"length_mm": None})
        return one(j, mine(mass_g=(1 + grown) * j.duty.reference_mass_g - j.mass_g))

    def test_weight_all_up_in_what_flies(self):
        """15 % is the most, 8 % the most without a word; lighter is no matter."""
        for grown, verdict in (
            (0.155, "wont"),
            (0.149, "care"),
            (0.085, "care"),
            (0.075, "does"),
            (-0.05, "does"),
        ):
            found = self.heavier(grown)
            self.assertEqual(found.verdict, verdict, (grown, found.sentence))

    def test_weight_on_wheels(self):
        """It goes, with care, from where an aeroplane would not."""
        self.assertEqual([self.heavier(g, "wheels").verdict for g in (0.12, 0.2)], ["does", "care"])

    def test_balance(self):
        """Off by more than a model's balance point may be it is not flown; by less it goes with care."""
        bay = {"length_mm": 160.0, "balance_at_mm": 310.0, "empty_balance_mm": 349.0, "centre_mm": 148.0}
        there = job(bay=bay)
        self.assertNotIn("fly.balance", ids(one(there, mine())))
        off = one(job(bay={**bay, "empty_balance_mm": 365.0}), mine())
        self.assertEqual((off.verdict, off.reasons[0].id), ("wont", "fly.balance"))
        rolling = one(job(motion="wheels", bay={**bay, "empty_balance_mm": 365.0}), mine())
        self.assertEqual((rolling.verdict, ids(rolling)), ("care", ["bay.balance"]))

    def test_how_far_out_of_balance(self):
        """4.5 mm at a kilogram, wherever along the model one measures from."""
        for datum in (0.0, -300.0, 1000.0):
            for off_mm, verdict in ((4.45, "care"), (4.55, "wont")):
                # beyond the 3 mm to slide, what its middle is off the model is off by its share of the mass
                p = mine(length_mm=154.0, mass_g=200.0)
                where = 203.0 + off_mm * 1000.0 / 200.0
                bay = {"centre_mm": datum + 200.0, "balance_at_mm": datum + 300.0}
                empty = (1000.0 * 300.0 - 200.0 * where) / 800.0
                j = job(bay={**bay, "empty_balance_mm": datum + empty}, wants={"minutes": None})
                j = replace(j, mass_g=800.0, duty=replace(j.duty, reference_mass_g=1000.0))
                found = one(j, p)
                self.assertEqual(next(r.verdict for r in found.reasons if "balance" in r.id), verdict, off_mm)

    def test_a_wish_that_is_missed_is_care(self):
        """Minutes, mass, liveliness: each with its number and its field."""
        for wants, reason, where in (
            ({"minutes": 40.0}, "want.minutes", "wants.minutes"),
            ({"mass_g": 300.0}, "want.mass", "wants.mass_g"),
            ({"lively": 1.5}, "want.lively", "wants.lively"),
        ):
            (found,) = [r for r in one(job(wants=wants), mine()).reasons if r.id == reason]
            self.assertEqual((found.verdict, found.where), ("care", where))
            self.assertGreater(found.loading, 1)

    def test_what_nobody_measured_or_gave_is_not_known(self):
        """A pack without measures in a bay with some; volts over what it runs on now, which nobody rated."""
        found = one(job(), mine(length_mm=None, width_mm=None, height_mm=None))
        self.assertEqual((found.verdict, ids(found)), ("unknown", ["bay.unknown"]))
        self.assertTrue(found.runs)
        j = replace(job(electronics={"max_v": 12.6}), assumed=frozenset(("electronics.max_v",)))
        volts = one(j, mine())
        self.assertEqual((volts.verdict, volts.reasons[0].id, volts.runs), ("unknown", "window.full", False))
        self.assertIn("what is the controller rated for?", volts.sentence)
        self.assertEqual(go_check(j, mine(), full(mine())).verdict, "no_go")

    def test_health(self):
        """Light duty flies nothing, and drives with care; what is to be watched goes with care, with its
        sign."""
        light, watch = (mine(today=StateOfHealth(x, sign="Cell 2 lags.")) for x in ("light", "watch"))
        self.assertEqual([one(job(), p).verdict for p in (light, watch)], ["wont", "care"])
        self.assertEqual(one(job(motion="wheels"), light).verdict, "care")
        self.assertIn("cell 2 lags", one(job(), watch).sentence)

    def test_a_burst_that_nobody_gave(self):
        """A controller takes 1.3 times its amps for ten seconds: of 49 A fresh off the charger one of 38 A
        goes, one of 36 A does not."""
        for rated, passes in ((38.0, True), (36.0, False)):
            electronics = {"controller_continuous_a": rated, "controller_burst_a": None}
            found = one(job(electronics=electronics), mine(label_c=80.0))
            self.assertEqual("controller.burst" not in ids(found), passes, found.sentence)


class RunsToday(SimpleTestCase):
    """What it runs on now flies: what it bears today is no refusal."""

    def small_plug(self, **changes):
        j = job(electronics={"plug": "rcy"}, now=RunsOn("lipo", 4, 4.0, 380.0, 30.0))
        return one(j, mine(plug="rcy", **changes))

    def test_its_own_links_warn_and_never_refuse(self):
        """A plug that is far over, with what to look at."""
        found = self.small_plug()
        self.assertEqual(found.verdict, "care")
        (warm,) = [r for r in found.reasons if r.id == "plug.warmth"]
        self.assertGreater(warm.value, 60)
        self.assertIn("it runs so today: look at this plug after a run", warm.sentence)

    def test_without_a_word_of_now_it_is_refused(self):
        """The same plug in a model of which nobody said what it runs on."""
        found = one(job(electronics={"plug": "rcy"}), mine(plug="rcy"))
        self.assertEqual((found.verdict, found.reasons[0].id), ("wont", "plug.warmth"))

    def test_what_asks_more_of_it_than_today_is_refused(self):
        """A pack of more volts in the same plug: nobody flies that today."""
        j = job(electronics={"plug": "rcy", "max_v": 25.2}, now=RunsOn("lipo", 4, 4.0, 380.0, 30.0))
        found = one(j, mine(plug="rcy", series=5, mass_g=400.0))
        self.assertEqual(found.verdict, "wont")
        self.assertIn("plug.warmth", ids(found))

    def test_the_pack_of_now_itself_does_not_go_below_care(self):
        """Of every model of the table, told by its owner."""
        for pair in PAIRS:
            j = described_job(pair.model.answers, STEADY).job
            with self.subTest(pair.model.name):
                found = one(j, now_pack(j.now))
                self.assertIn(found.verdict, ("does", "care"), found.sentence)

    def test_an_assumed_plug_carries_by_the_test_that_checks_it(self):
        """Of every model of which nobody gave it: no warmer on the pack of now than at its rating."""
        for pair in PAIRS:
            j = described_job(pair.model.answers, STEADY).job
            if j.is_assumed("electronics.plug"):
                e = evaluate(j, job_candidates(j, [now_pack(j.now)]))
                warm = next(c for c in e.checks if c.id == "plug.warmth")
                self.assertLess(warm.loading[0], 0.7, pair.model.name)


class Plugs(SimpleTestCase):
    def test_no_way_an_adapter_a_thin_one(self):
        """What does not mate will not do; through an adapter it does, with its name; through a thin one it
        melts."""
        odd = mine(plug="ec5")
        self.assertEqual(one(job(), odd).reasons[0].id, "plug.mates")
        self.assertEqual(
            one(job(), odd, adapter("ec5", "xt60", awg=12)).sentence, "Does the job with ec5-xt60."
        )
        thin = one(job(), odd, adapter("ec5", "xt60", awg=26))
        self.assertEqual((thin.verdict, thin.reasons[0].id), ("wont", "adapter.warmth"))

    def test_a_label_s_plug_in_a_model_of_which_nobody_named_it(self):
        """The pair is what is on the pack: judged by it, and asked of nobody."""
        j = replace(job(electronics={"plug": "xt90"}), assumed=frozenset(("electronics.plug",)))
        found = one(j, mine(plug="block_small"))
        (warm,) = [r for r in found.reasons if r.id == "plug.warmth"]
        self.assertEqual(warm.verdict, "wont")
        self.assertNotIn("XT90", found.sentence)


class Unequal(SimpleTestCase):
    def test_the_range_follows_health(self):
        """The timer never outlasts what the pack holds: its 5th percentile, drawn with other numbers than the
        program's own."""
        chance = np.random.default_rng(23)
        j = replace(job(), wants=replace(job().wants, minutes=None))
        outlasted = 0
        for _ in range(60):
            share = chance.uniform(0.6, 1.0)
            p = mine(today=StateOfHealth("fine", capacity_ah=4.0 * share))
            size = details(j, job_candidates(j, [p]))[0]
            truly = 4.0 * share * (1 + chance.normal(0, 0.015))
            holds = truly * (size.settings.budget_mah / 1000) / (4.0 * share)
            minutes = size.minutes * holds / (size.settings.budget_mah / 1000)
            outlasted += size.settings.timer_s / 60 > minutes
        self.assertLessEqual(outlasted, 3)

    @settings(max_examples=25)
    @given(st.floats(0.5, 1.0), st.floats(0.5, 1.0))
    def test_less_capacity_is_never_a_better_verdict(self, a, b):
        """Nor more minutes."""
        j = job(wants={"minutes": 12.0})
        less, more = sorted((a, b))
        tired, sound = (one(j, mine(today=StateOfHealth(capacity_ah=4.0 * x))) for x in (less, more))
        self.assertGreaterEqual(FIT_VERDICTS.index(tired.verdict), FIT_VERDICTS.index(sound.verdict))
        self.assertLessEqual(tired.minutes, sound.minutes + 1e-9)

    def test_a_cell_that_resists_more_counts_in_size_too(self):
        """Size, Match and go run the same unequal cells."""
        p = mine(today=StateOfHealth(cell_mohm=6.0, cell_ratios=(1.0, 1.0, 1.0, 2.5)))
        even = mine(today=StateOfHealth(cell_mohm=6.0))
        j = job(draw={"peak_s": 0.0}, wants={"minutes": None})
        self.assertLess(one(j, p).minutes, one(j, even).minutes + 1e-9)
        size, go = details(j, job_candidates(j, [p]))[0], go_check(j, p, full(p))
        self.assertAlmostEqual(size.minutes, go.minutes, places=6)
        self.assertEqual(size.settings.timer_s, go.timer_s)


class Tanks(SimpleTestCase):
    def test_a_cut_off_that_does_not_know_them(self):
        """LiPo in what stops for NiMH or not at all: what to set or to fit is said; NiMH needs no word."""
        j = described_job(TANK.answers, STEADY).job
        lipo = own(2, 5000, 280, plug="t_plug")
        self.assertIn("alarm on the balance lead", one(j, lipo).sentence)
        set_for_nimh = replace(j, electronics=replace(j.electronics, cutoff="programmable"))
        self.assertIn("set it to 6.4 V, 3.20 V a cell", one(set_for_nimh, lipo).sentence)
        nimh = own(6, 3300, 380, chemistry="nimh", label_c=10, plug="t_plug")
        self.assertNotIn("cutoff.knows", ids(one(j, nimh)))

    def test_lithium_of_another_kind(self):
        """In what stops for LiPo: each that may be emptied lower or less low is told what to set."""
        j = described_job(RACER.answers, STEADY).job
        for chemistry_id in ("liion", "semisolid", "lifepo4"):
            other = own(2, 5000, 270, chemistry=chemistry_id, plug="ec5", lead_awg=10)
            self.assertIn("cutoff.knows", ids(one(j, other)), chemistry_id)

    def test_the_same_chemistry_needs_no_word(self):
        """Nor one that stops as high."""
        j = described_job(RACER.answers, STEADY).job
        lihv = own(2, 4600, 227, chemistry="lihv", plug="ec5", lead_awg=10)
        self.assertNotIn("cutoff.knows", ids(one(j, own(2, 5000, 270, plug="ec5"))))
        self.assertNotIn("cutoff.knows", ids(one(j, lihv)))
