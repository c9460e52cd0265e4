import numpy as np
from django.test import SimpleTestCase

from coldstack.core.sizing.front import near_misses, score, shortlist
from coldstack.core.sizing.headline import headline, plan_working, subline
from coldstack.core.sizing.plan import Fineness, gather, plan
from coldstack.core.trial.candidates import from_packs
from coldstack.core.trial.evaluate import evaluate
from coldstack.core.trial.spread import OFTEN
from tests.core.trial.jobs import cell, job, pack, stock

SMALL = Fineness(6, 3)


def fleet(n=14):
    """Packs from 2.6 to 5.2 Ah, every third owned, every other measured."""
    return [
        pack(
            f"f{i}",
            capacity_ah=2.6 + 0.2 * i,
            mass_g=(2.6 + 0.2 * i) * 88,
            owned=i % 3 == 0,
            cell_mohm=2.6 if i % 2 else None,
            price=60.0 - 2 * i,
        )
        for i in range(n)
    ]


class Shortlists(SimpleTestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.plan = plan(job(), stock(*fleet()), fineness=SMALL)
        cls.e = cls.plan.evaluation

    def test_all_rows_do_the_job_and_can_be_had(self):
        """Feasible, and none made up."""
        for row in self.plan.short_rows:
            self.assertTrue(self.e.feasible[row])
            self.assertNotEqual(self.e.candidates.kind(row).id, "generic")

    def test_each_aim_is_ordered_by_its_own_figure(self):
        """Longest by minutes, lightest by grams, coolest by heat, cheapest by price an hour."""
        price = self.e.candidates.price / self.e.minutes
        for aim, figure in (
            ("longest", -self.e.minutes),
            ("lightest", self.e.candidates.mass_g),
            ("coolest", self.e.heat),
            ("cheapest", price),
        ):
            rows = shortlist(self.e, score(self.e, aim))
            values = [float(figure[r]) for r in rows]
            self.assertEqual(values, sorted(values), aim)

    def test_the_best_by_each_aim_is_the_best_of_all_feasible(self):
        """The first row, against a look at every candidate."""
        able = self.e.feasible & self.e.real
        self.assertEqual(
            shortlist(self.e, score(self.e, "longest"))[0], int(np.argmax(np.where(able, self.e.minutes, -1)))
        )
        self.assertEqual(
            shortlist(self.e, score(self.e, "lightest"))[0],
            int(np.argmin(np.where(able, self.e.candidates.mass_g, np.inf))),
        )

    def test_packs_without_a_price_are_not_called_cheap(self):
        """Not knowing is no bargain."""
        free = plan(job(), stock(pack(price=None), pack("b", price=30.0)), fineness=SMALL)
        rows = shortlist(free.evaluation, score(free.evaluation, "cheapest"))
        self.assertEqual([free.evaluation.candidates.names[r] for r in rows], ["b"])

    def test_the_best_owned_pack_is_always_there(self):
        """Even where bought ones rank higher."""
        many = [pack(f"new{i}", mass_g=300.0 + i) for i in range(12)] + [
            pack("mine", mass_g=440.0, owned=True)
        ]
        made = plan(job(), stock(*many), fineness=SMALL)
        self.assertIn("mine", [made.evaluation.candidates.names[r] for r in made.short_rows])

    def test_the_best_of_each_chemistry_is_always_there(self):
        """So that they can be compared."""
        packs = [pack(f"l{i}", mass_g=300.0 + i) for i in range(12)] + [
            pack("life", chemistry="lifepo4", series=4, mass_g=440.0, capacity_ah=5.0)
        ]
        made = plan(job(wants={"chemistries": ("lipo", "lifepo4")}), stock(*packs), fineness=SMALL)
        self.assertIn("life", [made.evaluation.candidates.names[r] for r in made.short_rows])

    def test_at_most_two_builds_of_one_cell(self):
        """A list offers a choice, not one cell in ten numbers."""
        wanted = job(
            wants={"chemistries": ("liion",), "mass_g": 2000.0, "minutes": 5.0},
            bay={"length_mm": None, "width_mm": None, "height_mm": None},
        )
        made = plan(
            wanted, stock(cells=[cell(), cell(id="2", name="other", capacity_ah=4.0)]), fineness=SMALL
        )
        names = [made.evaluation.candidates.names[r].split(" of ")[1] for r in made.short_rows]
        self.assertLessEqual(max(names.count(n) for n in set(names)), 2)

    def test_minutes_beyond_the_wanted_do_not_buy_a_place(self):
        """Twice the pack for 1.6 times the grams stands first where the longest is wanted for its weight,
        and behind where the smaller runs long enough already."""
        two = from_packs(
            [pack("enough", label_c=60), pack("huge", capacity_ah=8.0, mass_g=640.0, label_c=60)], "cautious"
        )
        for minutes, first in ((None, 1), (5.0, 0)):
            e = evaluate(job(wants={"minutes": minutes, "mass_g": None}), two)
            self.assertGreater(min(e.minutes), 1.3 * 5.0)
            self.assertEqual(int(np.argmax(score(e, "all_round"))), first, minutes)

    def test_fragile_packs_stand_last(self):
        """A pack that would stop at a peak if its cells were a little worse stands behind one that would
        not, though it has the better score; with slightly better cells it is first."""
        for mohm, names in ((9.5, ["tired", "sound"]), (12.0, ["sound", "tired"])):
            tired = pack("tired", label_c=None, cell_mohm=mohm, mass_g=300.0)
            wanted = job(drive="refitted", draw={"peak_a": 48.0}, wants={"minutes": 8.0})
            made = plan(wanted, stock(tired, pack("sound", mass_g=420.0)), fineness=SMALL)
            e, ranked = made.evaluation, score(made.evaluation, "all_round")
            by_score = sorted(made.short_rows, key=lambda r: -ranked[r])
            self.assertEqual([e.candidates.names[r] for r in by_score], ["tired", "sound"])
            self.assertEqual([e.candidates.names[r] for r in made.short_rows], names)
            often = {
                e.candidates.names[r]: x for r, x in zip(made.short_rows, made.short_range.early, strict=True)
            }
            self.assertEqual(often["tired"] > OFTEN, mohm > 11)


class NearMisses(SimpleTestCase):
    def test_fail_narrowly_and_differently(self):
        """One or two checks, none by more than a third; the nearest of each lack before a second of any."""
        packs = [pack(f"short{i}", capacity_ah=2.4 + 0.01 * i, mass_g=240.0) for i in range(6)]
        packs += [pack("heavy", capacity_ah=5.0, mass_g=470.0), pack("long", length_mm=160.0)]
        e = plan(job(), stock(*packs), fineness=SMALL).evaluation
        misses = near_misses(e)
        kinds = [e.checks[m.failing[0]].id for m in misses]
        self.assertEqual(len(set(kinds[:3])), 3)
        for miss in misses:
            self.assertFalse(e.feasible[miss.row])
            self.assertLessEqual(max(e.loading[k, miss.row] for k in miss.failing), 1.35)

    def test_none_where_all_do_it(self):
        """No near misses are made up."""
        made = plan(job(wants={"minutes": 1.0, "mass_g": None}), stock(pack(cell_mohm=1.5)), fineness=SMALL)
        self.assertEqual(
            [m for m in made.misses if made.evaluation.candidates.kind(m.row).id == "catalogue"], []
        )


class Words(SimpleTestCase):
    def test_singular_and_plural_in_every_motion(self):
        """One pack flies, two fly; hovers and hover, drives and drive, runs and run."""
        for motion, one, many in (
            ("level_flight", "flies", "fly"),
            ("hover", "hovers", "hover"),
            ("wheels", "drives", "drive"),
            ("hull", "runs", "run"),
        ):
            wanted = job(motion=motion, wants={"minutes": 8.0})
            single = plan(wanted, stock(pack()), fineness=SMALL)
            self.assertIn(f"pack {one} 8 minutes within 450 g", headline(single))
            both = plan(wanted, stock(pack(), pack("b")), fineness=SMALL)
            self.assertIn(f"packs {many} 8 minutes", headline(both))

    def test_wants_that_do_not_matter_are_not_said(self):
        """No minutes, no grams: neither is in the sentence."""
        made = plan(job(wants={"minutes": None, "mass_g": None}), stock(pack()), fineness=SMALL)
        self.assertRegex(headline(made), r"^\d+ packs? (fly|flies)\.$")

    def test_the_count_is_explained(self):
        """Looked at, left out by each limit, left: the last step agrees with the headline."""
        made = plan(job(), stock(*fleet()), fineness=SMALL)
        steps = plan_working(made).steps
        self.assertIn("packs owned", steps[0].numbers)
        count = headline(made).split()[0]
        self.assertIn(f"{count} to buy, own or build", steps[-1].numbers)

    def test_the_lightest_is_named(self):
        """By its grams."""
        made = plan(job(), stock(pack(mass_g=391.0), pack("b", mass_g=402.0)), fineness=SMALL)
        self.assertIn("The lightest weighs 391 g", subline(made))


class Gathering(SimpleTestCase):
    def test_ids_are_unique(self):
        """Whatever the sizes, no two candidates share an id: also for a tiny model, whose capacities are
        close."""
        for wanted in (
            job(),
            job(
                mass_g=70.0,
                wants={"mass_g": 12.0, "minutes": 6.0},
                draw={"average_a": 0.9, "peak_a": 3.0, "reference_voltage_v": 3.7, "reference_mass_g": 85.0},
                electronics={"max_v": 4.2, "min_v": 0.0},
            ),
        ):
            ids = gather(wanted, stock(*fleet(), cells=[cell()]), Fineness(40, 8)).ids
            self.assertEqual(len(ids), len(set(ids)))

    def test_chosen_cell_counts_narrow_it(self):
        """Only 3S when only 3S is wanted."""
        c = gather(job(wants={"cells": (3,)}), stock(pack(series=3), pack("b")), SMALL)
        self.assertEqual(set(c.series.tolist()), {3.0})

    def test_no_candidate_is_of_an_unwanted_chemistry(self):
        """LiHV packs in the stock, LiPo wanted."""
        c = gather(job(), stock(pack(chemistry="lihv", series=3), pack("b")), SMALL)
        self.assertEqual(set(c.chemistry_index.tolist()), {0})

    def test_pairs_of_two_cells_reach_four(self):
        """Two 2S in series are offered to a 4S model."""
        c = gather(job(), stock(pack("half", series=2, mass_g=190.0)), SMALL)
        self.assertIn("2 × half in series", c.names)

    def test_lihv_alone_on_a_controller_rated_in_lipo_is_seen_and_flagged(self):
        """Also where no other chemistry brings its cell count in: 4S at 17.4 V is looked at, and refused by
        its volts."""
        made = plan(
            job(wants={"chemistries": ("lihv",)}), stock(pack("hv", chemistry="lihv")), fineness=SMALL
        )
        e = made.evaluation
        row = e.candidates.names.index("hv")
        self.assertIn("window.full", [e.checks[k].id for k in e.failing(row)])
        self.assertIn("hv", [e.candidates.names[m.row] for m in made.misses])
