"""The bench as a whole: groups by hand, warm packs, ways that never pass a limit."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.boards.batches import batch_of
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY, Supply
from coldstack.core.errors import DomainError
from coldstack.core.matching.charge import Bench
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.rules.house_rules import house_rules
from coldstack.core.scheduling.bench import ChargerInUse, When, bench_plan, place_words
from coldstack.core.units import plain_number
from tests.core.boards.laid import board, four_s, lay
from tests.core.charging.gear import charger, four_port, lead

BOX = Supply("box", "Power box", "battery", 12.8, 240.0, 500.0)
FEDS = (ChargerInUse(charger(), "dc", BOX), ChargerInUse(four_port(), "mains"))


def planned(laid, rules="steady", on=None, **how):
    on = on or board()
    return bench_plan(
        laid,
        rules=house_rules(rules),
        trust="cautious",
        feds=how.pop("feds", FEDS),
        bench=Bench((lead(),), (on.piece,)),
        board=on,
        when=When(
            **{name: how.pop(name) for name in ("due_min", "pace", "attended", "taken") if name in how}
        ),
        **how,
    )


def tags(plan):
    return sorted(sorted(m.pack.id.removeprefix("owned:") for m in p.batch.members) for p in plan.planned)


class Groups(SimpleTestCase):
    def setUp(self):
        self.laid = [lay(four_s(t), v) for t, v in (("a", 3.70), ("b", 3.71), ("c", 3.72), ("d", 3.95))]

    def test_by_hand_and_the_rest_by_the_program(self):
        """a alone as wished; b and c are put together."""
        self.assertEqual(tags(planned(self.laid, groups=[["owned:a"]])), [["a"], ["b", "c"], ["d"]])

    def test_a_group_that_is_not_allowed_is_not_kept(self):
        """a with d would rush: both are split anew."""
        self.assertEqual(tags(planned(self.laid, groups=[["owned:a", "owned:d"]])), [["a", "b", "c"], ["d"]])

    def test_what_cannot_be(self):
        """A pack in two batches, or one that is not there."""
        for groups in ([["owned:a"], ["owned:a"]], [["owned:z"]]):
            with self.subTest(groups), self.assertRaises(DomainError):
                planned(self.laid, groups=groups)

    def test_an_unfit_pack_cannot_be_moved_into_a_batch(self):
        """Swollen: it stays back, whatever is asked."""
        laid = [*self.laid, lay(four_s("e"), 3.70, signs=["swollen"])]
        plan = planned(laid, groups=[["owned:a", "owned:e"]])
        self.assertNotIn("e", str(tags(plan)))
        self.assertEqual([m.pack.id for m in plan.kept_back], ["owned:e"])


class Times(SimpleTestCase):
    def test_a_warm_pack_waits(self):
        """It is planned alone, half an hour from now, to be looked at again."""
        plan = planned([lay(four_s("a"), 3.7, signs=["warm"]), lay(four_s("b"), 3.7)])
        slots = {s.task: s for s in plan.schedule.slots}
        self.assertGreaterEqual(slots["a"].start_min, house_rules("steady").cool_min)
        self.assertEqual([p.after_cooling for p in plan.planned], [False, True])

    def test_no_charger_takes_it(self):
        """8S on 6S chargers: refused with the reason of each, and said to be undone."""
        plan = planned([lay(four_s("a", series=8), 3.7)])
        self.assertEqual(len(plan.planned[0].refusals), 2)
        self.assertRegex(plan.undone[0][1], "No charger")

    def test_not_enough_energy(self):
        """Six 4 Ah packs from a 100 Wh box, one at a time: some cannot be done, and why."""
        small = Supply("box", "Small box", "battery", 12.8, 240.0, 100.0)
        laid = [lay(four_s(str(i)), 3.5 + 0.08 * i) for i in range(6)]
        plan = planned(laid, feds=(ChargerInUse(charger(), "dc", small),))
        self.assertTrue(plan.schedule.slots)
        self.assertTrue(plan.undone)
        self.assertIn("watt-hours are used up", plan.undone[0][1])

    @settings(max_examples=25)
    @given(
        st.lists(
            st.tuples(st.floats(3.55, 4.05), st.floats(1.0, 8.0), st.sampled_from((None, 1.0, 2.0, 5.0))),
            min_size=1,
            max_size=6,
        ),
        st.sampled_from(("long_life", "steady", "field_day")),
    )
    def test_no_way_passes_a_limit(self, packs, rules_id):
        """Amps within house rule, every member's label, port and shared watts, and the supply."""
        rules = house_rules(rules_id)
        laid = [lay(four_s(str(i), capacity_ah=ah, charge_c=c), v) for i, (v, ah, c) in enumerate(packs)]
        plan = planned(laid, rules_id)
        for p in plan.planned:
            for w in p.ways:
                amps, member_c = w.option.current_a, w.option.current_a / p.batch.capacity_ah
                for m in p.batch.members:
                    self.assertLessEqual(member_c, min(m.pack.charge_c or 1.0, rules.charge_c_limit) + 1e-9)
                most = w.fit.charger.port_w
                self.assertLessEqual(amps * 4 * 4.2, most + 1e-6)
                if w.fit.feed.supply:
                    self.assertLessEqual(w.option.supply_w, w.fit.feed.supply.power_w + 1e-6)
                    self.assertAlmostEqual(w.option.supply_w, w.option.watts / SUPPLY_EFFICIENCY)
                self.assertTrue(w.low_min <= w.option.minutes <= w.high_min + 1)


class InWords(SimpleTestCase):
    def test_where_a_batch_is_charged(self):
        """By the plan: the charger, amps and minutes of its slot, and no other way's; without a slot how it
        could be alone; nothing where no charger can."""
        plan = planned([lay(four_s("a"), 3.70), lay(four_s("b", charge_c=None), 3.95)])
        (slot,) = [s for s in plan.schedule.slots if s.task == plan.planned[0].batch.id]
        said = place_words(plan.planned[0], plan.schedule)
        self.assertIn(f"{plain_number(slot.option.current_a)} A", said)
        self.assertTrue(said.startswith("Planned on "))
        nowhere = replace(plan.schedule, slots=())
        self.assertRegex(place_words(plan.planned[0], nowhere), "^No place in the plan. Alone, ")
        self.assertEqual(place_words(replace(plan.planned[0], ways=()), nowhere), "")

    def test_whose_charge_rate(self):
        """The label's where it gives one, else common practice; the house's, or what is known of the pack."""
        for pack, words in (
            (four_s("a", charge_c=0.8), "the label of a"),
            (four_s("b", charge_c=None), "gives no charge rate"),
            (four_s("c", charge_c=5.0), "house rules “Field day”"),
            (four_s("d", today=StateOfHealth(stranger=True)), "d: nobody charged"),
        ):
            batch = batch_of([lay(pack, 3.7)], rules=house_rules("field_day"), board=None)
            self.assertIn(words, batch.governed_by)
