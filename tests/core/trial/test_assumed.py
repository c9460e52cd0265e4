"""What nobody gave: it asks, and refuses nothing; what somebody gave refuses as ever."""

import numpy as np
from django.test import SimpleTestCase

from coldstack.core.chain.wire import wire_continuous_a
from coldstack.core.checks import asked, check_at_most
from coldstack.core.labels.guesses import guesses
from coldstack.core.labels.reader import read_label
from coldstack.core.sizing.pairs import joinable
from coldstack.core.sizing.plan import gather, plan
from coldstack.core.sizing.plates import plates
from coldstack.core.trial.candidates import from_packs, job_candidates, suited
from coldstack.core.trial.evaluate import evaluate
from tests.core.trial.jobs import job, pack, stock

THIN = {"lead_awg": 24, "plug": "xt30"}


class Links(SimpleTestCase):
    def of(self, check_id, made, *packs):
        """One check of the packs in a job, and the evaluation."""
        e = evaluate(made, job_candidates(made, packs))
        return next(c for c in e.checks if c.id == check_id), e

    def test_thin_leads_that_were_given_refuse(self):
        """24 AWG in the model: over, by name."""
        check, e = self.of("leads.continuous", job(electronics=THIN), pack())
        self.assertGreater(check.loading[0], 1)
        self.assertFalse(e.feasible[0])
        self.assertEqual(check.check(0).verdict, "over")

    def test_thin_leads_that_nobody_gave_ask(self):
        """The same figures, assumed: a question with its loading, no refusal, no heat."""
        assumed = frozenset(("electronics.lead_awg", "electronics.plug"))
        check, e = self.of("leads.continuous", job(electronics=THIN, assumed=assumed), pack())
        self.assertTrue(e.feasible[0])
        said = check.check(0)
        self.assertEqual((said.verdict, said.assumed), ("unknown", True))
        self.assertRegex(said.sentence, r"^24 AWG assumed: \d+ %; what are your leads\?$")
        _, known = self.of("leads.continuous", job(), pack())
        self.assertLessEqual(e.heat[0], known.heat[0] * 1.1)

    def test_a_given_part_of_a_link_refuses_beside_an_assumed_one(self):
        """The pack's own leads are known to be thin, the model's are assumed."""
        made = job(assumed=frozenset(("electronics.lead_awg",)))
        check, e = self.of("leads.continuous", made, pack(lead_awg=24))
        self.assertFalse(e.feasible[0])
        self.assertFalse(check.assumed[0])

    def test_a_pack_s_plug_that_nobody_gave_is_the_model_s(self):
        """It would be bought, or soldered, to fit."""
        bare = pack(plug="xt30", lead_awg=20, assumed=frozenset(("plug", "lead_awg")))
        made = job(electronics={"plug": "xt90", "lead_awg": 10})
        c = suited(made, from_packs([bare, pack(name="given", plug="xt30")], "cautious"))
        self.assertEqual(c.lead_awg.tolist(), [10, 12])
        self.assertGreater(c.plug_continuous_a[0], c.plug_continuous_a[1])
        self.assertLess(c.outside_mohm[0], from_packs([bare], "cautious").outside_mohm[0])

    def test_the_plates_say_so(self):
        """An assumed plate is never the weakest; over its limit it asks."""
        assumed = frozenset(("electronics.lead_awg", "electronics.plug"))
        made = job(electronics=THIN, assumed=assumed)
        _, e = self.of("leads.continuous", made, pack())
        found = {p.link: p for p in plates(e, 0)}
        self.assertTrue(found["leads"].assumed)
        self.assertRegex(found["leads"].sentence, "what are your leads")
        self.assertEqual([p.link for p in found.values() if p.weakest and p.assumed], [])


class Peaks(SimpleTestCase):
    def test_a_peak_that_nobody_gave_refuses_nothing(self):
        """A controller for 30 A and a peak of 40: given it refuses, assumed it asks; the RMS refuses
        as ever."""
        small = {"controller_continuous_a": 30.0, "controller_burst_a": 30.0}
        for assumed, feasible in ((frozenset(), False), (frozenset(("draw.peak_a",)), True)):
            made = job(electronics=small, assumed=assumed, wants={"minutes": 1.0})
            e = evaluate(made, job_candidates(made, [pack()]))
            self.assertEqual(bool(e.feasible[0]), feasible)
        check = next(c for c in e.checks if c.id == "controller.burst").check(0)
        self.assertRegex(check.sentence, r"^A peak of 40 A is assumed: \d+ %; what is it really\?$")
        tiny = job(electronics={"controller_continuous_a": 10.0}, assumed=assumed, wants={"minutes": 1.0})
        self.assertFalse(evaluate(tiny, job_candidates(tiny, [pack()])).feasible[0])


class Masses(SimpleTestCase):
    def test_a_mass_that_nobody_weighed_refuses_nothing(self):
        """500 g where 450 are wanted: weighed it is too heavy, guessed it asks; a typical pack is what
        it is."""
        made = job(wants={"mass_g": 450.0, "minutes": 1.0})
        guessed = frozenset(("mass_g",))
        packs = [
            pack(mass_g=500.0),
            pack(mass_g=500.0, assumed=guessed),
            pack(mass_g=500.0, assumed=guessed, typical=True),
        ]
        e = evaluate(made, job_candidates(made, packs))
        self.assertEqual(e.feasible.tolist(), [False, True, False])
        check = next(c for c in e.checks if c.id == "want.mass").check(1)
        self.assertRegex(check.sentence, "what does it weigh")


class Several(SimpleTestCase):
    def loading(self, **electronics):
        """Loading of the controller's burst."""
        made = job(electronics=electronics)
        e = evaluate(made, job_candidates(made, [pack()]))
        column = next(c for c in e.checks if c.id == "controller.burst")
        return float(column.loading[0]), column.spec.title

    def test_each_of_four_carries_a_quarter(self):
        """Rated for each: a fourth of the loading of one; all together: as one."""
        one, _ = self.loading(controller_continuous_a=60, controller_burst_a=80)
        each, title = self.loading(controller_continuous_a=60, controller_burst_a=80, controllers=4)
        together, _ = self.loading(
            controller_continuous_a=60, controller_burst_a=80, controllers=4, controller_ratings="together"
        )
        self.assertAlmostEqual(each, one / 4)
        self.assertAlmostEqual(together, one)
        self.assertIn("each of 4", title)

    def test_the_working_says_that_it_is_shared(self):
        """Where there are several, and not where there is one."""
        for count, labels in ((1, []), (2, ["÷ 2"])):
            made = job(electronics={"controller_burst_a": 80, "controllers": count})
            e = evaluate(made, job_candidates(made, [pack()]))
            column = next(c for c in e.checks if c.id == "controller.burst")
            steps = column.spec.plate.steps(e.discharge, 0)
            self.assertEqual([s.numbers for s in steps if s.label == "Shared"], labels)


class Asked(SimpleTestCase):
    def at(self, value):
        """A check at this share of its assumed limit."""
        return asked(
            check_at_most("x", "X", value=value, limit=1.0, unit="A", limit_source="s"), "X: {loading}?"
        )

    def test_just_under_at_and_just_over(self):
        """Only over the limit it is a question."""
        self.assertEqual(
            [self.at(v).verdict for v in (0.84, 0.999, 1.0, 1.001)], ["ok", "caution", "caution", "unknown"]
        )
        self.assertEqual(self.at(1.001).sentence, "X: 100.1 %?")
        self.assertRegex(self.at(0.5).sentence, "assumed")


class Pairs(SimpleTestCase):
    def owned(self, tag, **changes):
        """An owned 2S pack."""
        return pack(
            name="2S 4000", id=f"owned:{tag}", owned=True, series=2, mass_g=200.0 + int(tag), **changes
        )

    def test_an_owned_pack_has_no_twin_unless_there_are_two(self):
        """One of a kind makes no pair, two make one, three make one; another kind does not count."""
        for tags, count in (("1", 0), ("12", 1), ("123", 1), ("1234", 2)):
            rows, _ = joinable([self.owned(t) for t in tags])
            self.assertEqual(len(rows), count, tags)
        self.assertEqual(joinable([self.owned("1"), self.owned("2", capacity_ah=3.0)])[0], [])

    def test_a_pack_on_sale_can_be_bought_twice_a_typical_one_stands_for_one(self):
        """So that a count counts packs one can have."""
        self.assertEqual(joinable([pack(), pack(name="t", typical=True)])[0], [0])

    def test_a_pair_is_as_weak_as_the_weaker_and_as_heavy_as_both(self):
        """The higher resistance, the mean mass twice."""
        two = [self.owned("1", cell_mohm=2.0), self.owned("3", cell_mohm=3.0)]
        _, (half,) = joinable(two)
        self.assertEqual((half.cell_mohm, half.mass_g), (3.0, 202.0))
        known = [self.owned("1", cell_mohm=2.0), self.owned("3")]
        self.assertIsNone(joinable(known)[1][0].cell_mohm)

    def test_the_count_is_of_packs_one_can_have(self):
        """One owned 2S pack in a 4S model: no pair, nothing counted that is not there."""
        made = job(wants={"minutes": 1.0})
        ids = gather(made, stock(self.owned("1")), fineness=_coarse()).ids
        self.assertEqual([i for i in ids if i.startswith("series:")], [])
        ids = gather(made, stock(self.owned("1"), self.owned("2")), fineness=_coarse()).ids
        self.assertEqual([i for i in ids if i.startswith("series:")], ["series:owned:1"])


class Lists(SimpleTestCase):
    def test_all_that_is_counted_can_be_listed(self):
        """As many rows as the headline says, each of which does the job."""
        packs = [pack(name=f"4S {n}", capacity_ah=4 + n / 20) for n in range(12)]
        found = plan(job(), stock(*packs), rows=400)
        e = found.evaluation
        self.assertEqual(len(found.short_rows), int((e.feasible & e.real).sum()))
        self.assertGreater(len(found.short_rows), 7)
        self.assertTrue(np.all(e.feasible[found.short_rows]))
        self.assertEqual(len(plan(job(), stock(*packs)).short_rows), 7)


def _coarse():
    from coldstack.core.sizing.plan import Fineness

    return Fineness(2, 2)


class Leads(SimpleTestCase):
    def test_those_of_an_owned_pack_are_what_its_form_guesses(self):
        """As such packs are sold, and never thinner than the model's; what is yet to be bought gets the
        model's."""
        thin = job(electronics={"lead_awg": 22})
        guessed = guesses(read_label("4S 5000mAh 30C LiPo")).get("lead_awg").value
        for capacity_ah, owned, awg in ((5.0, True, guessed), (0.5, True, 22), (5.0, False, 22)):
            p = pack(capacity_ah=capacity_ah, owned=owned, assumed=frozenset(("lead_awg",)))
            found = job_candidates(thin, [p])
            self.assertEqual(found.lead_awg[0], awg, (capacity_ah, owned))
            self.assertEqual(found.lead_continuous_a[0], wire_continuous_a(awg))
        self.assertLess(guessed, 12)
