import math
from dataclasses import replace
from fractions import Fraction
from itertools import product

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from coldstack.core.charging.amps import Feed, amps_working, charge_amps, floor_to_step
from coldstack.core.errors import DomainError
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.rules.house_rules import HOUSE_RULES, house_rules
from tests.core.charging.gear import DC, SMALL_SUPPLY, charger, four_port, pack

STEADY = house_rules("steady")


def amps(p, c, source="dc", ports=1, supply=None, rules=STEADY):
    return charge_amps(p, c, rules=rules, feed=Feed(source, supply, ports))


class Steps(SimpleTestCase):
    def test_down_by_hand(self):
        """2.38 to 2.3; 0.3 stays, though 0.3 ÷ 0.1 is a hair under 3 in binary; 0.29 does not become 0.3."""
        for current, step, expected in (
            (2.38, 0.1, 2.3),
            (0.3, 0.1, 0.3),
            (0.29, 0.1, 0.2),
            (0.05, 0.1, 0),
            (3.9, 0.5, 3.5),
            (10, 0.1, 10),
            (0.7, 0.1, 0.7),
        ):
            self.assertEqual(floor_to_step(current, step), expected, (current, step))

    @given(st.floats(0, 300), st.sampled_from([0.01, 0.05, 0.1, 0.2, 0.25, 0.5, 1.0]))
    def test_never_up_and_never_a_step_short(self, current, step):
        """Not above the current by any hair, a whole number of steps, and the next step would be too much."""
        set_a = floor_to_step(current, step)
        self.assertLessEqual(set_a, current)
        exact = Fraction(str(step))
        self.assertEqual(Fraction(str(set_a)) % exact, 0)
        self.assertGreater(Fraction(str(set_a)) + exact, Fraction(current))

    def test_not_a_step_short_by_binary(self):
        """3C of 3.3 Ah are 9.9 A, not 9.8: for every capacity and rate by exact fractions."""
        strong, tenth = charger(port_a=1000.0, port_w=1e6, dc_w=1e6), Fraction(1, 10)
        for mah, c in product(range(100, 10_000, 50), (1, 2, 3)):
            rules = replace(house_rules("field_day"), charge_c_limit=float(c))
            set_a = amps(
                pack(capacity_ah=mah / 1000, charge_c=float(c)), strong, "dc", 1, None, rules
            ).current_a
            self.assertEqual(Fraction(str(set_a)), Fraction(mah * c, 1000) // tenth * tenth, (mah, c))

    def test_what_is_no_current_or_step(self):
        """NaN, negative, infinite, a step of nothing."""
        for current, step in ((math.nan, 0.1), (-1, 0.1), (math.inf, 0.1), (1, 0), (1, math.nan)):
            with self.assertRaises(DomainError):
                floor_to_step(current, step)


class WhatBinds(SimpleTestCase):
    def test_60_w_on_6s_5_ah(self):
        """60 ÷ 25.2 = 2.38: the watts bind, 2.3 A."""
        found = amps(pack(), charger())
        self.assertEqual(found.current_a, 2.3)
        self.assertIn("watts", found.binding.name)
        self.assertIn("60 W ÷ (6 × 4.2 V) = 2.38 A", found.binding.numbers)

    def test_80_w_on_5s_is_not_80_w_of_amps(self):
        """80 ÷ 21 = 3.81: 3.8 A."""
        found = amps(pack(series=5), charger(port_w=80, dc_w=80))
        self.assertEqual(found.current_a, 3.8)

    def test_shared_watts_by_ports_and_input(self):
        """6S 5 Ah on four ports: 100 W a port; 200 W on mains ÷ 1, 2, 4; 400 W on DC; 80 W × 0.85 behind a
        small supply."""
        expected = {
            ("mains", 1): 3.9,
            ("mains", 2): 3.9,
            ("mains", 4): 1.9,
            ("dc", 1): 3.9,
            ("dc", 2): 3.9,
            ("dc", 4): 3.9,
        }
        for (source, ports), current in expected.items():
            self.assertEqual(amps(pack(), four_port(), source, ports).current_a, current, (source, ports))
        behind = [amps(pack(), four_port(), "dc", n, SMALL_SUPPLY) for n in (1, 2, 4)]
        self.assertEqual([a.current_a for a in behind], [2.6, 1.3, 0.6])
        self.assertEqual({a.binding.id for a in behind}, {"supply"})

    def test_how_the_pack_is_today(self):
        """5 Ah at 1C; unknown, weak, or cells apart: half; at 4 °C half of that; below freezing none."""
        strong = charger(port_a=30, port_w=600, dc_w=600)
        for how, current, binds in (
            ({}, 5.0, "rules"),
            ({"stranger": True}, 2.5, "careful"),
            ({"apart": True}, 2.5, "careful"),
            ({"level": "light"}, 2.5, "careful"),
            ({"level": "watch"}, 5.0, "rules"),
            ({"temperature_c": 10.0}, 5.0, "rules"),
            ({"temperature_c": 9.9}, 2.5, "cold"),
            ({"temperature_c": 0.0, "apart": True}, 1.2, "cold"),
            ({"temperature_c": -0.1}, 0.0, "cold"),
            ({"temperature_c": 40.1}, 0.0, "cold"),
        ):
            with self.subTest(str(how)):
                found = amps(pack(today=StateOfHealth(**how)), strong)
                self.assertEqual((found.current_a, found.binding.id), (current, binds))

    def test_where_the_label_is_silent(self):
        """What is usual for its chemistry, and it says so."""
        strong = charger(
            chemistries=("lipo", "liion", "semisolid", "lifepo4"), port_a=30, port_w=600, dc_w=600
        )
        for kind, current in (("lipo", 5.0), ("lifepo4", 5.0), ("liion", 2.5), ("semisolid", 2.5)):
            found = amps(pack(chemistry=kind, charge_c=None), strong)
            self.assertEqual(found.current_a, current)
        self.assertIn("usual for semi-solid, label gives none", found.binding.numbers)

    def test_house_rules_and_label(self):
        """1C by Steady; by Field day up to the label, at most 3C; 1C where the label says nothing."""
        small = pack(series=1, capacity_ah=1.0, charge_c=5.0)
        self.assertEqual(amps(small, charger()).binding.id, "rules")
        field = house_rules("field_day")
        self.assertEqual(amps(small, charger(), rules=field).current_a, 3.0)
        silent = amps(pack(series=1, capacity_ah=1.0), charger(), rules=field)
        self.assertEqual((silent.current_a, silent.binding.id), (1.0, "label"))
        self.assertEqual(
            amps(pack(series=1, capacity_ah=1.0, charge_c=2), charger(), rules=field).current_a, 2.0
        )

    def test_nimh_needs_watts_for_its_peak(self):
        """Six cells at 1.55 V: 60 ÷ 9.3 = 6.45 A; the port's 6 A bind on a large pack."""
        found = amps(pack(chemistry="nimh", capacity_ah=8.0), charger())
        self.assertEqual(found.binding.id, "port_amps")
        self.assertAlmostEqual(next(x for x in found.limits if x.id == "port_watts").current_a, 60 / 9.3)

    def test_the_working_names_every_limit_and_the_step(self):
        """Tightest first, then down to the step."""
        found = amps(pack(), charger())
        working = amps_working(found, charger())
        self.assertEqual(len(working.steps), len(found.limits) + 1)
        self.assertEqual(working.steps[0].label, found.binding.name)
        self.assertIn("2.3 A", working.steps[-1].numbers)

    def test_an_input_it_has_not_and_too_many_ports(self):
        """Both refused, with the field."""
        with self.assertRaisesRegex(DomainError, "cannot be fed by the mains"):
            amps(pack(), charger(), "mains")
        with self.assertRaisesRegex(DomainError, "Ports in use must be from 1 to 4"):
            amps(pack(), four_port(), "mains", 5)


PACKS = st.builds(
    pack,
    chemistry=st.sampled_from(["lipo", "lihv", "liion", "semisolid", "lifepo4", "nimh"]),
    series=st.integers(1, 14),
    capacity_ah=st.floats(0.05, 40),
    charge_c=st.none() | st.floats(0.05, 20),
)
CHARGERS = st.builds(
    four_port,
    ports=st.integers(1, 8),
    port_a=st.floats(0.05, 60),
    port_w=st.floats(0.5, 1500),
    mains_w=st.floats(0.5, 3000),
    dc_w=st.floats(0.5, 3000),
    step_a=st.sampled_from([0.01, 0.05, 0.1, 0.5, 1.0]),
)


class NeverAbove(SimpleTestCase):
    @given(PACKS, CHARGERS, st.sampled_from(sorted(HOUSE_RULES)), st.sampled_from(["mains", "dc"]), st.data())
    def test_no_setting_above_any_limit(self, p, c, rules_id, source, data):
        """Whatever pack, charger, rules, input, supply and ports: amps and watts stay within each limit,
        recomputed here."""
        rules, ports = house_rules(rules_id), data.draw(st.integers(1, c.ports))
        supply = SMALL_SUPPLY if source == "dc" and data.draw(st.booleans()) else None
        set_a = amps(p, c, source, ports, supply, rules).current_a
        full_v = {"lipo": 4.2, "lihv": 4.35, "liion": 4.2, "semisolid": 4.2, "lifepo4": 3.6, "nimh": 1.55}[
            p.chemistry
        ]
        watts = set_a * p.series * full_v
        a_hair = 1 + 1e-12
        self.assertLessEqual(set_a, c.port_a)
        self.assertLessEqual(set_a, rules.charge_c_limit * p.capacity_ah * a_hair)
        self.assertLessEqual(set_a, (1.0 if p.charge_c is None else p.charge_c) * p.capacity_ah * a_hair)
        self.assertLessEqual(watts, c.port_w * a_hair)
        self.assertLessEqual(watts * ports, (c.mains_w if source == "mains" else c.dc_w) * a_hair)
        if supply:
            self.assertLessEqual(watts * ports, supply.power_w * 0.85 * a_hair)

    def test_the_feed_has_sound_defaults(self):
        """One port, no supply."""
        self.assertEqual((DC.ports_in_use, DC.supply), (1, None))
