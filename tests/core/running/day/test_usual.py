"""What a day begins with: the box and its chargers."""

from dataclasses import replace

from django.test import SimpleTestCase

from coldstack.core.charging.charger import Supply
from coldstack.core.matching.charge import Bench
from coldstack.core.rules.house_rules import STEADY
from coldstack.core.running.day.usual import PORT_W, PORTS, UsualDay, usual_day
from tests.core.charging.gear import charger
from tests.core.trial.jobs import pack

LIKE = pack(id="owned:1", owned=True, plug="xt60")
ONE = replace(charger(), name="One", output_plug="xt60", ports=1, port_w=100.0, mains_w=100.0, port_a=10.0)
FOUR = replace(ONE, id="four", name="Four", ports=4, port_w=100.0, mains_w=200.0)


def day(box=(LIKE,), chargers=(ONE,), supplies=(), like=LIKE):
    return usual_day(
        like,
        box,
        chargers,
        supplies=supplies,
        bench=Bench((), (), ()),
        rules=STEADY,
        trust="cautious",
    )


class Usual(SimpleTestCase):
    def test_packs_alike(self):
        """Those of the same cells within five per cent, fit ones; never none."""
        box = [
            LIKE,
            replace(LIKE, id="owned:2", capacity_ah=1.04 * LIKE.capacity_ah),
            replace(LIKE, id="owned:3", capacity_ah=1.06 * LIKE.capacity_ah),
            replace(LIKE, id="owned:4", series=LIKE.series - 1),
            replace(LIKE, id="owned:5", fit=False),
        ]
        self.assertEqual([day(box).packs, day([]).packs], [2, 1])

    def test_the_charger_that_fills_soonest(self):
        """With all its ports in use, each of which has its share of the watts."""
        self.assertEqual(day(chargers=(ONE, FOUR)), UsualDay(1, 4, 50.0, "Four"))
        self.assertEqual(day(), UsualDay(1, 1, 100.0, "One"))

    def test_none_that_charges_it(self):
        """Another chemistry, no charger at all: what is assumed of nobody’s, without a name."""
        alone = UsualDay(1, PORTS, PORT_W)
        self.assertEqual(day(chargers=()), alone)
        self.assertEqual(day(chargers=(replace(ONE, chemistries=("nimh",)),)), alone)

    def test_behind_a_supply(self):
        """On DC its supply's watts are shared too."""
        dc = replace(FOUR, mains_w=None, dc_w=400.0, dc_min_v=10.0, dc_max_v=18.0)
        self.assertEqual(
            day(chargers=(dc,), supplies=(Supply("s", "Brick", "mains", 12.0, 120.0),)).port_w, 30.0
        )
