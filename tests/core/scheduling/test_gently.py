"""As slow as the time allows and as late as it can be: by hand, and on random benches against what it
promises."""

import math
import random
from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.scheduling.gently import BEFORE_MIN, cost, gentle_schedule, wear
from coldstack.core.scheduling.greedy import Placing
from coldstack.core.scheduling.schedule import Option, SchedulingProblem, Station, Task
from coldstack.core.scheduling.schedule_solver import best_schedule
from tests.core.scheduling.test_schedule import BOX, FOUR, ONE, assert_holds


def options(station="four", most=1.0, ah=4.0, watts_per_a=17.0):
    """From a fifth of a C to the most, in tenths: 48 min of charge and 12 min of tail."""
    return tuple(
        Option(station, c / 10 * ah, c / 10, math.ceil(480 / c) + 12, c / 10 * ah * watts_per_a)
        for c in range(round(10 * most), 1, -1)
    )


def asked(*tasks, stations=(FOUR,), **more):
    return SchedulingProblem(tuple(tasks), stations, **more)


def planned(problem):
    """By the fastest options alone, and gently by all."""
    quick = replace(problem, tasks=tuple(replace(t, options=t.options[:1]) for t in problem.tasks))
    soonest = best_schedule(quick)
    return soonest, gentle_schedule(problem, soonest)


class ByHand(SimpleTestCase):
    def test_an_evening_at_half_a_c(self):
        """123 min until a quarter before: half a C takes 108, 0.4C would take 132."""
        _, gently = planned(asked(Task("a", options(), due_min=138)))
        slot = gently.slots[0]
        self.assertEqual((slot.option.charge_c, slot.end_min, slot.start_min), (0.5, 123, 15))

    def test_no_time_to_be_gentle(self):
        """60 min at 1C, ready in 64: no quarter of an hour is left, but it is in time."""
        soonest, gently = planned(asked(Task("a", options(), due_min=64)))
        self.assertEqual(gently.slots[0].option.charge_c, soonest.slots[0].option.charge_c)
        self.assertEqual(gently.slots[0].end_min, 64)

    def test_late_anyway(self):
        """No later than soonest."""
        soonest, gently = planned(asked(Task("a", options(), due_min=30)))
        self.assertEqual([s.end_min for s in gently.slots], [s.end_min for s in soonest.slots])

    def test_without_a_time_nothing_changes(self):
        """Soonest, as ever."""
        soonest, gently = planned(asked(Task("a", options()), Task("b", options())))
        self.assertEqual(gently.slots, soonest.slots)

    def test_only_while_somebody_is_there(self):
        """Four hours this evening, three in the morning, ready at their end. The lowest rate fits into the
        evening, as late in it as can be; with two hours then, it is the morning's."""
        day = asked(Task("a", options(), due_min=1020), attended=((0, 240), (840, 1020)))
        slot = planned(day)[1].slots[0]
        self.assertEqual((slot.option.charge_c, slot.end_min), (0.3, 240))
        slot = planned(replace(day, attended=((120, 240), (840, 1020))))[1].slots[0]
        self.assertEqual((slot.option.charge_c, slot.end_min), (0.4, 1020 - BEFORE_MIN))

    def test_two_on_one_port_share_the_time(self):
        """Both at the same rate, not one in haste for the other's leisure."""
        one = Station("one", 1, 100.0)
        both = asked(*(Task(x, options("one"), due_min=260) for x in "ab"), stations=(one,))
        rates = sorted(s.option.charge_c for s in planned(both)[1].slots)
        self.assertLessEqual(rates[1] - rates[0], 0.1 + 1e-9)

    def test_wear(self):
        """1C is one cycle; 2C and 3C by the cycles that are reported: ÷ 0.75, ÷ 0.6."""
        for c, cycles in ((1, 1.0), (2, 1 / 0.75), (3, 1 / 0.6)):
            self.assertAlmostEqual(wear(c), cycles)

    def test_what_it_costs(self):
        """Two packs at half a C, a quarter of an hour before: 1.67 cycles in place of 2."""
        problem = asked(Task("a", options(), due_min=138, packs=2))
        soonest, gently = planned(problem)
        kind, quick = cost(problem, gently), cost(problem, soonest)
        self.assertAlmostEqual(kind.cycles, 2 * 2.5 / 3)
        self.assertAlmostEqual(quick.cycles, 2.0)
        self.assertEqual((kind.full_early_min, quick.full_early_min), (15, 78))
        self.assertEqual((kind.low_c, kind.high_c, kind.start_min, kind.end_min), (0.5, 0.5, 15, 123))
        self.assertEqual(cost(asked(), planned(asked())[1]).cycles, 0)


class OnRandomBenches(SimpleTestCase):
    def test_never_later_never_faster_than_needed(self):
        """120 benches: every limit holds; no batch is later than soonest, and none could be a step slower on
        any charger at any minute, the others staying."""
        rng, gained = random.Random(5), 0
        for k in range(120):
            problem = self._bench(rng)
            soonest, gently = planned(problem)
            with self.subTest(k):
                assert_holds(self, problem, gently)
                self.assertLessEqual(gently.score[:2], soonest.score[:2])
                dues = {t.id: t for t in problem.tasks}
                late = {s.task: s.late_min for s in soonest.slots}
                for slot in gently.slots:
                    self.assertLessEqual(slot.late_min, late[slot.task])
                    self.assertFalse(self._could_be_slower(problem, gently, slot, dues[slot.task]), slot)
                gained += cost(problem, gently).cycles < cost(problem, soonest).cycles - 0.01
        self.assertGreater(gained, 60)

    def _could_be_slower(self, problem, schedule, slot, task):
        """Whether the next slower option would fit at any minute."""
        slower = [o for o in task.options if o.charge_c < slot.option.charge_c - 1e-9]
        if not slower or slot.late_min:
            return False
        step = max(slower, key=lambda o: o.charge_c)
        placed = Placing(problem, [*problem.taken, *(s for s in schedule.slots if s is not slot)])
        last = task.due_min - BEFORE_MIN - step.minutes
        return any(placed.fits(task, step, m) is not None for m in range(task.earliest_min, last + 1))

    def _bench(self, rng):
        stations = (FOUR, *ONE) if rng.random() < 0.5 else (Station("four", 2, 120.0),)
        tasks = []
        for k in range(rng.randint(1, 5)):
            ways = options("four", rng.choice([1.0, 1.5]), rng.choice([1.3, 2.2, 4.0]))
            if len(stations) > 1 and rng.random() < 0.4:
                ways += tuple(replace(o, station="one", supply_w=o.watts / 0.85) for o in options("one", 0.5))
            tasks.append(Task(f"t{k}", ways, rng.choice([0, 0, 30]), 0, rng.randint(1, 4)))
        due = rng.choice([90, 180, 300, 600, 1000])
        tasks = [replace(t, due_min=due) for t in tasks]
        return SchedulingProblem(
            tuple(tasks), stations, (BOX,), rng.choice([((0, 1440),), ((0, 200), (700, 1440))])
        )
