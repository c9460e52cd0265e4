"""A day of several models: what it promises can be flown, it is never worse than flown as it comes, and of
small days none is better."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from itertools import pairwise, permutations, product

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.errors import DomainError
from coldstack.core.running.tomorrow.flight_greedy import greedy_flights
from coldstack.core.running.tomorrow.flight_solver import best_flights
from coldstack.core.running.tomorrow.flights import (
    ChargeWay,
    FieldCharge,
    FieldPorts,
    Flight,
    FlightDay,
    FlightPack,
    FlightPlan,
    Wanted,
)
from coldstack.core.running.tomorrow.ways_out import ways_out
from coldstack.core.scheduling.schedule import SWAP_MIN

WAY = ChargeWay("c", 40, 30.0)


def pack(name, minutes, **more):
    return FlightPack(name, minutes, **{"first": (WAY,), "again": (WAY,), **more})


def day(wanted, packs, **more):
    given = {"places": (FieldPorts("c", 1, "b"),), "supply_wh": {"b": None}, "end_min": 120, **more}
    return FlightDay(tuple(Wanted(m, n) for m, n in wanted.items()), tuple(packs), **given)


def flown(found):
    return Counter(f.model for f in found.flights)


@st.composite
def days(draw, packs=4, flights=5):
    """Of two models, with chargers or none, packs full or not."""
    ways = st.lists(
        st.builds(ChargeWay, st.just("c"), st.sampled_from([15, 25, 50]), st.sampled_from([20.0, 60.0])),
        max_size=1,
    ).map(tuple)
    minutes = st.dictionaries(st.sampled_from(["glider", "quad"]), st.sampled_from([5, 8, 15]), min_size=1)
    one = st.builds(
        FlightPack,
        st.just(""),
        minutes,
        st.sampled_from([0, 0, 10, None]),
        ways,
        ways,
        st.sampled_from([frozenset(), frozenset({"quad"})]),
        st.booleans(),
        st.sampled_from([0, 0, 12]),
    )
    some = draw(st.lists(one, min_size=1, max_size=packs))
    wanted = draw(st.dictionaries(st.sampled_from(["glider", "quad"]), st.integers(1, flights), min_size=1))
    return day(
        wanted,
        [replace(p, id=str(k)) for k, p in enumerate(some)],
        places=(FieldPorts("c", draw(st.integers(1, 2)), "b"),),
        supply_wh={"b": draw(st.sampled_from([None, 0.0, 60.0, 130.0]))},
        end_min=draw(st.sampled_from([20, 60, 150])),
    )


class CanBeFlown(SimpleTestCase):
    @given(days())
    @settings(max_examples=60)
    def test_whatever_the_day(self, asked):
        """One model in the air at a time; each pack full and cool before it flies; ports, watt-hours, and the
        end of the day hold; never worse than as it comes."""
        greedy, best = greedy_flights(asked), best_flights(asked)
        for found in (greedy, best):
            self.assert_flies(asked, found)
        self.assertLessEqual(best.score(asked), greedy.score(asked))

    def assert_flies(self, asked, found):
        self.assertTrue(
            all(n <= next(w.flights for w in asked.wanted if w.model == m) for m, n in flown(found).items())
        )
        in_turn = sorted(found.flights, key=lambda f: f.start_min)
        for one, after in pairwise(in_turn):
            self.assertGreaterEqual(after.start_min, one.end_min + asked.swap_min)
        self.assertTrue(all(f.end_min <= asked.end_min for f in found.flights))
        for p in asked.packs:
            own = sorted(
                (x for x in (*found.flights, *found.charges) if x.pack == p.id), key=lambda x: x.start_min
            )
            full, free = p.ready_min is not None, p.cool_min
            for x in own:
                if isinstance(x, Flight):
                    self.assertTrue(full)
                    self.assertGreaterEqual(x.start_min, p.ready_min or 0)
                    self.assertEqual(x.end_min - x.start_min, p.minutes[x.model])
                    full = False
                else:
                    self.assertFalse(full)
                    self.assertGreaterEqual(x.start_min, free)
                    self.assertIn(x.way, (*p.first, *p.again))
                    full = True
                free = x.end_min + (asked.cool_min if isinstance(x, Flight) else 0)
        for at in {c.start_min for c in found.charges}:
            busy = sum(c.start_min <= at < c.end_min + SWAP_MIN for c in found.charges)
            self.assertLessEqual(busy, asked.places[0].ports)
        limit = asked.supply_wh["b"]
        if limit is not None:
            self.assertLessEqual(found.used_wh(asked).get("b", 0.0), limit + 1e-6)


class NoneIsBetter(SimpleTestCase):
    @given(days(packs=3, flights=2))
    @settings(max_examples=40)
    def test_of_small_days(self, asked):
        """Every order of every flight and charge, by itself."""
        self.assertEqual(best_flights(asked).score(asked), min(map(self.score_in(asked), every(asked))))

    def score_in(self, asked):
        return lambda found: found.score(asked)

    def test_a_pack_for_two_models(self):
        """What serves both goes where nothing else does; as it comes, it would have been gone."""
        none = {"first": (), "again": ()}
        both, alone = pack("1", {"glider": 5, "quad": 5}, **none), pack("2", {"quad": 30}, **none)
        found = best_flights(day({"glider": 1, "quad": 1}, [both, alone], places=(), supply_wh={}))
        self.assertEqual({f.model: f.pack for f in found.flights}, {"glider": "1", "quad": "2"})

    def test_the_long_pack(self):
        """Nobody flies short packs only to be home sooner."""
        short, long = pack("1", {"quad": 5}), pack("2", {"quad": 12})
        self.assertEqual([f.pack for f in best_flights(day({"quad": 1}, [short, long])).flights], ["2"])

    def test_full_before_charged(self):
        """Of packs alike the full one; the other is left in storage."""
        found = best_flights(day({"quad": 1}, [pack("1", {"quad": 8}, before=True), pack("2", {"quad": 8})]))
        self.assertEqual([f.pack for f in found.flights], ["2"])

    def test_nothing_to_charge_with(self):
        """One flight of each full pack, and no more."""
        packs = [pack(str(k), {"quad": 8}, again=(), first=()) for k in range(3)]
        asked = day({"quad": 5}, packs, places=(), supply_wh={})
        self.assertEqual(best_flights(asked).short(asked), {"quad": 2})

    def test_more_than_a_day_holds(self):
        """Refused, by what is too many."""
        with self.assertRaises(DomainError) as caught:
            best_flights(day({"quad": 41}, [pack("1", {"quad": 8})]))
        self.assertEqual(caught.exception.field, "models")


class WaysOut(SimpleTestCase):
    def test_each_lack(self):
        """An hour where time is short, a pack where there is no charger, watt-hours where the battery is
        empty, the charger that stayed at home; and each, done, gives what it says."""
        one = [pack("1", {"quad": 10})]
        late = day({"quad": 2}, one, end_min=60)
        self.assertIn(("hour", 1, 0), self.of(late))
        bare = day({"quad": 3}, [pack("1", {"quad": 10}, again=())], places=(), supply_wh={})
        self.assertEqual(self.of(bare), [("pack", 2, 0)])
        empty = day({"quad": 2}, one, supply_wh={"b": 10.0})
        self.assertIn(("energy", 20, 0), self.of(empty))
        home = day({"quad": 3}, [pack("1", {"quad": 10}, again=())], places=(), supply_wh={}, end_min=240)
        spare = day({"quad": 3}, one, end_min=240)
        found = ways_out(home, best_flights(home), spare)
        self.assertIn(("charger", "c", 0), [(w.lack, w.of, w.missing) for w in found])

    def of(self, asked):
        return [(w.lack, w.amount, w.missing) for w in ways_out(asked, best_flights(asked))]

    def test_nothing_where_nothing_lacks(self):
        """A day that is flown whole needs nothing."""
        asked = day({"quad": 1}, [pack("1", {"quad": 10})])
        self.assertEqual(self.of(asked), [])


def every(asked):
    """Every day that could be flown: each choice of packs for flights, each order of flights and charges,
    each as early as it can be."""
    wanted = [w.model for w in asked.wanted for _ in range(w.flights)]
    yield FlightPlan()
    seen = set()
    for n in range(1, len(wanted) + 1):
        for models in set(permutations(wanted, n)):
            for packs in product(asked.packs, repeat=n):
                if all(m in p.minutes for m, p in zip(models, packs, strict=True)):
                    key = tuple((p.id, m) for m, p in zip(models, packs, strict=True))
                    if key not in seen:
                        seen.add(key)
                        yield from in_every_order(asked, key)


def in_every_order(asked, flights):
    """Charges may come before or after flights of other packs."""
    steps, times = [], Counter()
    for pack_id, model in flights:
        p = asked.pack(pack_id)
        if times[pack_id] or p.ready_min is None:
            ways = p.again if times[pack_id] else p.first
            if not ways:
                return
            steps.append(("charge", p, ways[0]))
        times[pack_id] += 1
        steps.append(("fly", p, model))
    for order in set(permutations(range(len(steps)))):
        of_packs = {}
        for k in order:
            of_packs.setdefault(steps[k][1].id, []).append(k)
        if all(ks == sorted(ks) for ks in of_packs.values()):
            found = timed(asked, [steps[k] for k in order])
            if found is not None:
                yield found


def timed(asked, steps):
    pilot, ports = 0, [0] * asked.places[0].ports
    free = {p.id: p.cool_min for p in asked.packs}
    full = {p.id: p.ready_min or 0 for p in asked.packs}
    flights, charges, wh = [], [], 0.0
    for what, p, of in steps:
        if what == "charge":
            k = min(range(len(ports)), key=lambda x: ports[x])
            start = max(free[p.id], ports[k])
            charges.append(FieldCharge(p.id, of, start))
            full[p.id], ports[k], wh = start + of.minutes, start + of.minutes + SWAP_MIN, wh + of.wh
        else:
            start = max(pilot, full[p.id])
            end = start + p.minutes[of]
            if end > asked.end_min:
                return None
            flights.append(Flight(p.id, of, start, end))
            pilot, free[p.id] = end + asked.swap_min, end + asked.cool_min
    limit = asked.supply_wh["b"]
    if limit is not None and wh > limit:
        return None
    return FlightPlan(tuple(flights), tuple(charges))
