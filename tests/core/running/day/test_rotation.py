"""The day by hand, by closed form, and what must always hold."""

from dataclasses import replace
from itertools import pairwise

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from coldstack.core.errors import DomainError
from coldstack.core.running.day.rotation import (
    Day,
    DayPack,
    Span,
    check_day,
    enough_of_both,
    fewest_packs,
    fewest_ports,
    headline,
    rotation,
)

FOUR = Day(packs=4, ports=1, run_min=9.0, charge_min=60.0, hours=4.0, swap_min=3.0, cool_min=20.0)


class ByHand(SimpleTestCase):
    def test_four_packs_and_one_port(self):
        """Runs at 0, 12, 24, 36; the first is back at 9 + 20 + 60 = 89: nothing is ready from 48 on."""
        found = rotation(FOUR)
        self.assertEqual(found.first_wait_min, 48.0)
        runs = [s for s in found.spans if s.stage == "run"]
        self.assertEqual([s.start_min for s in runs[:5]], [0, 12, 24, 36, 89])
        self.assertEqual([s.start_min for s in runs[5:]], [149, 209])

    def test_enough_of_both(self):
        """The fewest packs and ports with which nobody waits; with one fewer of either somebody does."""
        packs = fewest_packs(replace(FOUR, ports=16))
        self.assertEqual(packs, 8)
        # a pack's whole round over the time between two starts, in closed form
        self.assertGreaterEqual(packs, (9 + 20 + 60) / (9 + 3))
        enough = replace(FOUR, packs=packs, ports=16)
        self.assertEqual(rotation(enough).waited_min, 0)
        self.assertGreater(rotation(replace(enough, packs=packs - 1)).waited_min, 0)
        ports = fewest_ports(enough)
        self.assertEqual(rotation(replace(enough, ports=ports)).waited_min, 0)
        self.assertGreater(rotation(replace(enough, ports=ports - 1)).waited_min, 0)

    def test_both_at_once_and_in_words(self):
        """The fewest packs, then the fewest ports for them; a wait and none, in a line."""
        found = enough_of_both(replace(FOUR, charge_wh=60.0, supply_wh=100.0))
        self.assertEqual((found.packs, found.ports), (8, fewest_ports(replace(FOUR, packs=8))))
        self.assertEqual(
            headline(FOUR, rotation(FOUR)),
            "4 packs and 1 port: none is ready after 48 min; 16 min of running an hour.",
        )
        enough = replace(FOUR, packs=found.packs, ports=found.ports)
        self.assertIn("never a wait", headline(enough, rotation(enough)))
        self.assertIsNone(enough_of_both(replace(FOUR, run_min=0.5, swap_min=0, charge_min=1440, hours=24)))

    def test_one_port_is_never_enough_for_a_long_day(self):
        """No number of ports helps four packs: each round takes 89 min, and four runs take 48."""
        self.assertIsNone(fewest_ports(FOUR))

    def test_the_supply_runs_out(self):
        """100 Wh at 60 Wh a charge: one charge, then five runs in all."""
        found = rotation(replace(FOUR, charge_wh=60.0, supply_wh=100.0))
        self.assertEqual((found.used_wh, found.runs), (60.0, 5))
        self.assertEqual(found.uncharged, 4)

    def test_what_cannot_be(self):
        """Each named at its field."""
        for field, value in (
            ("packs", 0),
            ("ports", 0),
            ("run_min", 0),
            ("charge_min", float("nan")),
            ("hours", 25),
        ):
            with self.subTest(field), self.assertRaises(DomainError) as raised:
                check_day(replace(FOUR, **{field: value}))
            self.assertEqual(raised.exception.field, field)


days = st.builds(
    Day,
    st.integers(1, 12),
    st.integers(1, 4),
    st.floats(2, 30),
    st.floats(10, 120),
    st.floats(1, 8),
    st.floats(0, 10),
    st.floats(0, 40),
)


class Always(SimpleTestCase):
    @settings(max_examples=60)
    @given(days)
    def test_a_pack_is_in_one_place_and_a_port_has_one_pack(self, day):
        """No span of a pack overlaps another; never more charges than ports; one model flies at a time."""
        found = rotation(day)
        for k in range(day.packs):
            own = sorted((s.start_min, s.end_min) for s in found.spans if s.pack == k)
            self.assertTrue(all(a[1] <= b[0] + 1e-6 for a, b in pairwise(own)))
        for stage, most in (("charge", day.ports), ("run", 1)):
            spans = [s for s in found.spans if s.stage == stage]
            for s in spans:
                inside = s.start_min + 1e-6
                self.assertLessEqual(sum(x.start_min < inside < x.end_min for x in spans), most)

    @settings(max_examples=40)
    @given(days)
    def test_more_never_means_less_running(self, day):
        """One pack more, or one port more, never fewer minutes in the air."""
        ran = rotation(day).minutes_an_hour
        self.assertGreaterEqual(rotation(replace(day, packs=day.packs + 1)).minutes_an_hour, ran - 1e-6)
        self.assertGreaterEqual(rotation(replace(day, ports=day.ports + 1)).minutes_an_hour, ran - 1e-6)


class OnesOwn(SimpleTestCase):
    def test_the_same_day_pack_by_pack(self):
        """Four packs of one's own, alike, are the four of the plain day."""
        own = (DayPack(9.0, 60.0),) * 4
        self.assertEqual(rotation(replace(FOUR, packs=0, own=own)), rotation(FOUR))

    def test_by_hand(self):
        """A full one of 10 min, and a spent one of 6 min that charges 30 min first: runs at 0 and at 30,
        none ready from 13 to 30."""
        day = Day(
            packs=0,
            ports=1,
            run_min=9,
            charge_min=60,
            hours=1.0,
            own=(DayPack(10, 50), DayPack(6, 40, full=False, first_charge_min=30)),
        )
        found = rotation(day)
        self.assertEqual(
            [(s.pack, s.start_min, s.end_min) for s in found.spans if s.stage == "run"],
            [(0, 0, 10), (1, 30, 36)],
        )
        # the first, cooled at 30, takes the port then, and is full at 80
        self.assertIn(Span(0, "charge", 30, 80), found.spans)
        self.assertEqual((found.first_wait_min, found.waited_min), (13, 17 + 60 - 39))

    def test_a_dry_supply_leaves_a_spent_one_spent(self):
        """Nothing to charge it with: it never runs."""
        own = (DayPack(10, 50, 40), DayPack(6, 40, 40, full=False, first_charge_min=30, first_charge_wh=40))
        found = rotation(replace(FOUR, packs=0, own=own, supply_wh=30.0))
        self.assertEqual({s.pack for s in found.spans if s.stage == "run"}, {0})
        self.assertEqual((found.uncharged, found.used_wh), (2, 0))

    def test_how_many_more(self):
        """Beside four of one's own four more keep it going, as eight alike do; with eight none more is
        needed."""
        own = (DayPack(9.0, 60.0),)
        self.assertEqual(fewest_packs(replace(FOUR, ports=16, packs=1, own=own * 4)), 4)
        self.assertEqual(fewest_packs(replace(FOUR, ports=16, packs=1, own=own * 8)), 0)

    def test_what_cannot_be(self):
        """A pack of one's own without minutes; nobody at all."""
        for day, field in (
            (replace(FOUR, own=(DayPack(0, 60),)), "own.0"),
            (replace(FOUR, packs=60, own=(DayPack(9, 60),)), "packs"),
        ):
            with self.subTest(field), self.assertRaises(DomainError) as raised:
                check_day(day)
            self.assertEqual(raised.exception.field, field)
