"""Amps reckoned a second time, in exact fractions and without looking at the code: ten thousand random
pairings of every program, and none above any limit."""

from fractions import Fraction as F
from random import Random

from django.test import SimpleTestCase

from coldstack.core.chain.adapters import Adapter, Path
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.charging.amps import Feed, charge_amps
from coldstack.core.charging.charger import Supply
from coldstack.core.charging.programs import storage_program
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.readings.cells import pack_reading
from coldstack.core.rules.house_rules import HOUSE_RULES
from tests.core.charging.gear import four_port, pack
from tests.thorough import many

PAIRINGS = many(10_000, 1_000)
FULL_V = {"lipo": "4.2", "lihv": "4.35", "liion": "4.2", "semisolid": "4.2", "lifepo4": "3.6", "nimh": "1.55"}
"""From which watts turn into amps; NiMH by its peak."""
SILENT_C = {"lipo": "1", "lihv": "1", "liion": "0.5", "semisolid": "0.5", "lifepo4": "1", "nimh": "1"}
"""Charge rate where the label gives none."""
EMPTY_V = {"lipo": 3.55, "lihv": 3.55, "liion": 3.2, "semisolid": 3.4, "lifepo4": 3.1, "nimh": 1.1}


def exact(x):
    return F(str(x))


def drawn(chance):
    """A pack, a charger, its feed, house rules and a way of plugs and leads."""
    kind = chance.choice(list(FULL_V))
    today = chance.choice(
        (
            None,
            StateOfHealth(),
            StateOfHealth(stranger=True),
            StateOfHealth(apart=True),
            StateOfHealth(level="light"),
            StateOfHealth(level="watch"),
            *(StateOfHealth(temperature_c=c) for c in (-1, 0, 4, 9.9, 10, 21, 40, 41)),
            StateOfHealth(stranger=True, temperature_c=3.0),
        )
    )
    one = pack(
        chemistry=kind,
        series=chance.randint(1, 12),
        capacity_ah=round(chance.uniform(0.2, 20), 2),
        charge_c=chance.choice((None, 0.3, 0.5, 1.0, 2.0, 5.0)),
        today=today,
    )
    c = four_port(
        chemistries=(kind,),
        port_a=round(chance.uniform(0.5, 20), 1),
        port_w=round(chance.uniform(5, 500), 0),
        mains_w=round(chance.uniform(20, 800), 0),
        dc_w=round(chance.uniform(20, 800), 0),
        step_a=chance.choice((0.01, 0.05, 0.1, 0.25, 0.5)),
        discharge_w=chance.choice((None, 5.0, 30.0, 200.0)),
        storage_cap_a=chance.choice((None, 1.0, 2.0)),
    )
    supply = chance.choice((None, Supply("s", "supply", "mains", 13.8, round(chance.uniform(20, 900), 0))))
    source = chance.choice(("mains", "dc"))
    feed = Feed(source, supply if source == "dc" else None, chance.randint(1, 4))
    families = chance.sample(["ph_2", "xt30", "xt60", "ec3", "banana_4", "t_plug"], chance.randint(1, 3))
    ends = (PlugEnd("xt60", "device"), PlugEnd("banana_4", "pack"))
    pieces = tuple(
        Adapter(f"lead{k}", f"lead {k}", ends, kind="lead", awg=awg)
        for k, awg in enumerate(chance.sample([12, 16, 20, 26], chance.randint(0, 2)))
    )
    return one, c, feed, HOUSE_RULES[chance.choice(list(HOUSE_RULES))], Path(pieces, tuple(families))


def way_a(path):
    return [
        *(exact(plug_family(f).continuous_a) for f in path.pairs),
        *(exact(p.wire_a) for p in path.pieces),
    ]


def pack_a(p, rules):
    """By label or what is usual, rules, what is known of it, and the cold."""
    ah = exact(p.capacity_ah)
    c = exact(p.charge_c) if p.charge_c is not None else F(SILENT_C[p.chemistry])
    c = min(c, exact(rules.charge_c_limit))
    if p.today is not None:
        if p.today.stranger or p.today.apart or p.today.level == "light":
            c = min(c, F(1, 2))
        t = p.today.temperature_c
        if t is not None and not 0 <= t <= 40:
            return F(0)
        if t is not None and t < 10:
            c /= 2
    return c * ah


def charger_a(p, c, feed):
    """By amps and watts of the port, the charger's and the supply's shared among the ports in use."""
    volts = p.series * F(FULL_V[p.chemistry])
    whole = exact(c.mains_w if feed.source == "mains" else c.dc_w)
    found = [exact(c.port_a), exact(c.port_w) / volts, whole / feed.ports_in_use / volts]
    if feed.supply is not None:
        found.append(exact(feed.supply.power_w) * F(17, 20) / feed.ports_in_use / volts)
    return min(found)


class Accounted(SimpleTestCase):
    def held(self, set_a, limits, step):
        """Whole steps, none above any limit, and not a step short."""
        exact_a, most = exact(set_a), min(limits)
        self.assertEqual(exact_a % step, 0)
        self.assertLessEqual(exact_a, most)
        self.assertGreater(exact_a + step, most * (1 - F(1, 10**12)))

    def test_charging(self):
        """Every limit of pack, charger, feed and way."""
        chance = Random(25)
        for _ in range(PAIRINGS):
            p, c, feed, rules, path = drawn(chance)
            found = charge_amps(p, c, rules=rules, feed=feed, path=path)
            limits = [pack_a(p, rules), charger_a(p, c, feed), *way_a(path)]
            self.held(found.current_a, limits, exact(c.step_a))

    def test_storage(self):
        """Up: the same and the cap of its program. Down: watts, cap, 1C, port and way."""
        chance = Random(26)
        seen = set()
        for _ in range(PAIRINGS):
            p, c, feed, rules, path = drawn(chance)
            volts = EMPTY_V[p.chemistry] if chance.random() < 0.5 else float(FULL_V[p.chemistry]) - 0.06
            reading = pack_reading(p.chemistry, (min(volts, 4.2),) * p.series)
            found = storage_program(p, c, reading, rules=rules, feed=feed, path=path)
            cap = [] if c.storage_cap_a is None else [exact(c.storage_cap_a)]
            seen.add(found.direction)
            if found.direction == "charge":
                limits = [pack_a(p, rules), charger_a(p, c, feed), *way_a(path), *cap]
                self.held(found.current_a, limits, exact(c.step_a))
            elif found.direction == "discharge":
                ah, amps = exact(p.capacity_ah), F(found.current_a)
                self.assertLessEqual(amps, min(ah, exact(c.port_a), *cap, *way_a(path)) * (1 + F(1, 10**12)))
                mean_v = p.series * (reading.mean_v + found.target_cell_v) / 2
                self.assertLessEqual(found.current_a * mean_v, (c.discharge_w or 0) * (1 + 1e-9))
        self.assertEqual(seen, {"charge", "discharge", "none"})
