"""Schedules: every limit held at every moment, by an account kept here; the solver never worse than the
greedy plan."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.errors import DomainError
from coldstack.core.scheduling.greedy import greedy_schedule
from coldstack.core.scheduling.schedule import (
    SWAP_MIN,
    Option,
    Piece,
    SchedulingProblem,
    Slot,
    Source,
    Station,
    Task,
    supply_wh,
    use_over_time,
    why_undone,
)
from coldstack.core.scheduling.schedule_solver import best_schedule

ONE = (Station("one", 1, 60.0, "box"),)
FOUR = Station("four", 4, 200.0)
BOX = Source("box", 100.0, 500.0)


def option(station="one", minutes=60, watts=50.0, c=1.0):
    return Option(
        station,
        c * 4,
        c,
        minutes,
        watts,
        watts / 0.85 if station == "one" else 0.0,
        watts / 0.85 * minutes / 60 if station == "one" else 0.0,
    )


def task(name, *options, **more):
    return Task(name, options or (option(),), **more)


def assert_holds(case, problem, schedule):
    """Minute by minute: ports, watts, boards, attendance, cooling; and the supplies' watt-hours."""
    tasks = {t.id: t for t in problem.tasks}
    case.assertEqual(sorted([s.task for s in schedule.slots] + list(schedule.undone)), sorted(tasks))
    slots = [*problem.taken, *schedule.slots]
    for s in schedule.slots:
        case.assertIn(s.option, tasks[s.task].options)
        case.assertGreaterEqual(s.start_min, tasks[s.task].earliest_min)
        case.assertTrue(any(a <= s.start_min and s.end_min <= b for a, b in problem.attended))
    for t in range(max((s.end_min for s in slots), default=0)):
        now = [s for s in slots if s.start_min <= t < s.end_min]
        for station in problem.stations:
            own = [s for s in now if s.option.station == station.id]
            case.assertLessEqual(sum(s.option.watts for s in own), station.watts + 1e-6)
            case.assertEqual(len({s.port for s in own}), len(own))
            case.assertTrue(all(1 <= s.port <= station.ports for s in own))
        for source in problem.sources:
            fed = [s for s in now if problem.station(s.option.station).supply == source.id]
            case.assertLessEqual(sum(s.option.supply_w for s in fed), source.watts + 1e-6)
        held = [s for s in slots if s.start_min <= t < s.end_min + SWAP_MIN]
        for piece in problem.pieces:
            case.assertLessEqual(sum(s.option.pieces.count(piece.id) for s in held), piece.count)
    for source in problem.sources:
        if source.wh is not None:
            fed = sum(
                s.option.supply_wh for s in slots if problem.station(s.option.station).supply == source.id
            )
            case.assertLessEqual(fed, source.wh + 1e-6)


class ByHand(SimpleTestCase):
    def test_one_port_one_after_the_other(self):
        """Two hours' work on one port, with the swap between."""
        found = best_schedule(SchedulingProblem((task("a"), task("b")), ONE, (BOX,)))
        self.assertEqual(
            sorted((s.start_min, s.end_min) for s in found.slots), [(0, 60), (60 + SWAP_MIN, 120 + SWAP_MIN)]
        )

    def test_shared_watts_bind(self):
        """Four ports, 200 W, 100 W each: two at a time, or four slower ones."""
        fast = SchedulingProblem(tuple(task(n, option("four", 60, 100.0)) for n in "abcd"), (FOUR,))
        self.assertEqual(best_schedule(fast).finish_min, 120)
        both = SchedulingProblem(
            tuple(task(n, option("four", 60, 100.0, 1.0), option("four", 110, 50.0, 0.5)) for n in "abcd"),
            (FOUR,),
        )
        found = best_schedule(both)
        self.assertEqual((found.finish_min, found.score[3]), (110, 2.0))

    def test_watt_hours_run_out(self):
        """A 100 Wh box does one 50 Wh charge (59 Wh drawn), not two; and that is said."""
        problem = SchedulingProblem((task("a"), task("b")), ONE, (replace(BOX, wh=100.0),))
        found = best_schedule(problem)
        self.assertEqual((len(found.slots), len(found.undone)), (1, 1))
        left = next(t for t in problem.tasks if t.id == found.undone[0])
        self.assertIn("watt-hours are used up", why_undone(problem, left, found))

    def test_taken_ports_are_said(self):
        """An hour and ten minutes at one port, on the mains or a box without end: the second finds none."""
        for stations, sources in (((Station("one", 1, 60.0),), ()), (ONE, (replace(BOX, wh=None),))):
            problem = SchedulingProblem((task("a"), task("b")), stations, sources, attended=((0, 70),))
            found = best_schedule(problem)
            left = next(t for t in problem.tasks if t.id == found.undone[0])
            self.assertIn("ports and watts are taken", why_undone(problem, left, found))

    def test_nobody_there_nothing_charges(self):
        """90 minutes do not fit into an hour before ten at night: it waits for the morning; two days' worth
        does not fit."""
        problem = SchedulingProblem(
            (task("a", option(minutes=90)),), ONE, (BOX,), attended=((0, 60), (600, 720))
        )
        self.assertEqual(best_schedule(problem).slots[0].start_min, 600)
        long = task("b", option(minutes=300, watts=5.0))
        never = replace(problem, tasks=(long,))
        found = best_schedule(never)
        self.assertEqual(found.undone, ("b",))
        self.assertIn("nobody stays", why_undone(never, long, found))

    def test_late_by_what_it_ends_after_its_time(self):
        """An hour from now: ten minutes late for fifty, and in time for seventy or for no time at all."""
        late = [Slot("a", option(minutes=60), 1, 0, due).late_min for due in (50, 60, 70, None)]
        self.assertEqual(late, [10, 0, 0, 0])

    def test_greedy_takes_what_is_due_first(self):
        """Then the longest; what is due at no time comes last, however long."""
        tasks = (
            task("late", option(minutes=90), due_min=300),
            task("soon", option(minutes=30), due_min=100),
            task("never", option(minutes=200)),
            task("short", option(minutes=20), due_min=300),
        )
        found = greedy_schedule(SchedulingProblem(tasks, ONE, (BOX,)))
        order = [s.task for s in sorted(found.slots, key=lambda s: s.start_min)]
        self.assertEqual(order, ["soon", "late", "short", "never"])

    def test_due_first_and_cooling(self):
        """What is due soon goes first; a warm pack waits half an hour."""
        problem = SchedulingProblem((task("long", option(minutes=200)), task("due", due_min=70)), ONE, (BOX,))
        self.assertEqual([s.task for s in best_schedule(problem).slots], ["due", "long"])
        warm = SchedulingProblem((task("warm", earliest_min=30),), ONE, (BOX,))
        self.assertEqual(best_schedule(warm).slots[0].start_min, 30)

    def test_one_board(self):
        """Two batches on the one board: never at once, ports or not."""
        first, second = best_schedule(self.with_pieces(1, "ab")).slots
        self.assertGreaterEqual(second.start_min, first.end_min + SWAP_MIN)

    def with_pieces(self, count, names, pieces=("b",)):
        each = replace(option("four", 60, 50.0), pieces=pieces)
        return SchedulingProblem(
            tuple(task(n, each) for n in names), (FOUR,), pieces=(Piece("b", "EC5 lead", count),)
        )

    def test_as_many_at_once_as_there_are_leads(self):
        """Two leads for three batches on four ports: the third waits; with three none does."""
        starts = [s.start_min for s in best_schedule(self.with_pieces(2, "abc")).slots]
        self.assertEqual(sorted(starts), [0, 0, 60 + SWAP_MIN])
        self.assertEqual({s.start_min for s in best_schedule(self.with_pieces(3, "abc")).slots}, {0})

    def test_more_often_than_there_is(self):
        """Two packs into a board by one adapter: told, not planned."""
        problem = self.with_pieces(1, "a", ("b", "b"))
        found = best_schedule(problem)
        self.assertEqual(found.undone, ("a",))
        self.assertIn("EC5 lead more often", why_undone(problem, problem.tasks[0], found))

    def test_a_running_charge_holds_its_lead(self):
        """To its end, and the swap after it."""
        problem = self.with_pieces(1, "a")
        runs = Slot("runs", replace(option("four", 40, 50.0), pieces=("b",)), 2, 0)
        found = best_schedule(replace(problem, taken=(runs,)))
        self.assertEqual(found.slots[0].start_min, 40 + SWAP_MIN)

    def test_a_running_charge_holds_its_port(self):
        """Its watts too, and what it still takes of the box."""
        runs = Slot("runs", option(minutes=40), 1, 0)
        problem = SchedulingProblem((task("a"),), ONE, (BOX,), taken=(runs,))
        found = best_schedule(problem)
        self.assertEqual(found.slots[0].start_min, 40 + SWAP_MIN)
        self.assertAlmostEqual(supply_wh(problem, found)["box"], 50 / 0.85 * (40 + 60) / 60)
        self.assertEqual(use_over_time(problem, found)["one"][0], (0, 50.0))

    def test_nothing_to_do_and_nothing_that_can(self):
        """An empty bench; a batch that no charger takes."""
        self.assertEqual(best_schedule(SchedulingProblem((), ONE, (BOX,))).finish_min, 0)
        lost = SchedulingProblem((Task("a", ()), task("b"), task("c")), ONE, (BOX,))
        found = best_schedule(lost)
        self.assertEqual(found.undone, ("a",))
        self.assertIn("No charger here", why_undone(lost, lost.tasks[0], found))

    def test_what_cannot_be(self):
        """Unknown chargers and supplies, charges of no length, spans that end before they begin."""
        for bad in (
            SchedulingProblem((task("a", option("nine")),), ONE, (BOX,)),
            SchedulingProblem((task("a", option(minutes=0)),), ONE, (BOX,)),
            SchedulingProblem((task("a"),), ONE, ()),
            SchedulingProblem((task("a"),), ONE, (BOX,), attended=((60, 60),)),
        ):
            with self.subTest(bad), self.assertRaises(DomainError):
                best_schedule(bad)


stations = (Station("one", 1, 60.0, "box"), Station("four", 4, 200.0), Station("dc", 2, 120.0, "box"))
options = st.builds(
    lambda where, minutes, watts, c: Option(
        where,
        c * 4,
        c,
        minutes,
        watts,
        watts / 0.85 if where != "four" else 0.0,
        watts / 0.85 * minutes / 60 if where != "four" else 0.0,
    ),
    st.sampled_from(("one", "four", "dc")),
    st.integers(5, 150),
    st.floats(5, 60),
    st.sampled_from((0.5, 1.0, 2.0)),
)
PIECES = (Piece("board", "Board", 1), Piece("lead", "Lead", 2))
tasks = st.builds(
    lambda i, o, earliest, due, pieces: Task(
        str(i), tuple(replace(x, pieces=pieces) for x in dict.fromkeys(o)), earliest, due
    ),
    st.integers(0, 10**6),
    st.lists(options, min_size=1, max_size=3),
    st.sampled_from((0, 0, 30)),
    st.sampled_from((None, 120, 600)),
    st.sampled_from(((), (), ("board",), ("lead",), ("lead", "lead"))),
)
problems = st.builds(
    lambda t, wh, spans, taken: SchedulingProblem(
        tuple(t), stations, (Source("box", 150.0, wh),), spans, taken, PIECES
    ),
    st.lists(tasks, min_size=1, max_size=7, unique_by=lambda t: t.id),
    st.sampled_from((120.0, 500.0)),
    st.sampled_from((((0, 5000),), ((0, 240), (780, 1700)))),
    st.sampled_from(((), (Slot("runs", option(minutes=25), 1, 0),))),
)


class Always(SimpleTestCase):
    @settings(max_examples=30)
    @given(problems)
    def test_every_limit_at_every_moment(self, problem):
        """Greedy and best, over ports, watts, watt-hours, pieces, attendance; and best is never worse."""
        greedy, best = greedy_schedule(problem), best_schedule(problem)
        assert_holds(self, problem, greedy)
        assert_holds(self, problem, best)
        self.assertLessEqual(best.score, greedy.score)

    def test_the_same_plan_each_time(self):
        """No chance in it."""
        problem = SchedulingProblem(
            tuple(task(str(i), option("four", 40 + 7 * i, 60.0)) for i in range(7)), (FOUR,)
        )
        self.assertEqual(best_schedule(problem), best_schedule(problem))
