"""Packs for a day of several models, as they are now: what is full, what the evening before can fill, and how
each is charged there."""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from coldstack.core.boards.laid import BenchPack, laid_packs
from coldstack.core.cells.open_circuit import resting_voltage
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.charging.amps import Feed, charging_cell_v
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY
from coldstack.core.charging.inspection import SIGNS, VisualCheck, inspection
from coldstack.core.errors import DomainError
from coldstack.core.keeping.storage import cells_expected
from coldstack.core.life.now import PackNow
from coldstack.core.matching.charge import Bench, ChargeFit, charge_fit, fit_times
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading, pack_reading
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.running.tomorrow.flights import ChargeWay, FlightPack
from coldstack.core.scheduling.bench import ChargerInUse


@dataclass(frozen=True, slots=True)
class PackAlong:
    """A pack that may come along: as it is today, and how long it runs each model that it may run in; of some
    it does the job only with care. [min]"""

    pack: Pack
    now: PackNow
    minutes: Mapping[str, float]
    care: frozenset[str] = frozenset()
    full_in_min: float = 0.0
    """Of one that is on its charger: until it is full."""

    @property
    def full(self) -> bool:
        """Whether it is full, or will be once it is off its charger."""
        return self.now.charge == "full" or self.now.state == "charging"

    @property
    def unread(self) -> bool:
        """Whether nobody knows how full it is: then it is taken as spent."""
        return not self.full and cells_expected(self.now) is None


def stays(now: PackNow) -> str:
    """Why a pack is not to be counted on: barred, far too low, or to be looked at first; empty for none."""
    if not now.usable:
        return now.bars
    if now.charge == "too_low":
        return "It is far too low: read it, and look at it, before it is charged."
    seen = next((SIGNS[s] for s in now.told.standing_signs), None)
    return seen.sentence if seen else ""


def flight_packs(
    along: Sequence[PackAlong],
    there: Sequence[ChargerInUse],
    *,
    rules: HouseRules,
    trust: LabelTrust,
    bench: Bench,
    at_s: float,
    start_min: int,
    tonight: frozenset[str],
) -> tuple[FlightPack, ...]:
    """Each as the day's planner wants it; ``tonight`` are those that the evening before fills. ``at_s``: now,
    ``start_min``: when the day begins, from now."""
    out = []
    for a in along:
        first, again = _ways(a, there, rules, trust, bench)
        cool = 0
        if a.now.told.ran_at is not None:
            left_min = rules.cool_min - (at_s - a.now.told.ran_at) / 60
            cool = max(0, math.ceil(left_min) - max(start_min, 0))
        before = a.pack.id in tonight
        ready = max(cool, math.ceil(a.full_in_min) - max(start_min, 0))
        out.append(
            FlightPack(
                id=a.pack.id,
                minutes={m: max(1, math.ceil(x)) for m, x in a.minutes.items()},
                ready_min=ready if a.full or before else None,
                first=first,
                again=again,
                care=a.care,
                before=before,
                cool_min=cool,
            )
        )
    return tuple(out)


def feeds_of(there: Sequence[ChargerInUse]) -> list[tuple[ChargerInUse, Feed]]:
    """Each charger along as it is fed while all ports of all of them are in use: what one battery gives is
    shared."""
    behind = Counter(c.supply.id for c in there if c.supply)
    out = []
    for c in there:
        supply = c.supply and replace(c.supply, power_w=c.supply.power_w / behind[c.supply.id])
        out.append((c, Feed(c.source, supply, c.charger.ports)))
    return out


def fits_there(
    pack: Pack, there: Sequence[ChargerInUse], *, rules: HouseRules, bench: Bench
) -> list[ChargeFit]:
    """How a pack would be charged on each of them that can."""
    found = [charge_fit(pack, c.charger, rules=rules, feed=feed, bench=bench) for c, feed in feeds_of(there)]
    return [f for f in found if f.possible]


def strongest(could: Sequence[ChargerInUse]) -> list[ChargerInUse]:
    """Of each battery the charger that brings most of it to packs, on most ports: who takes one along takes
    that. More of them would share the battery's watts, and are slower each."""
    best: dict[str, ChargerInUse] = {}
    for f in could:
        if f.supply is not None:
            known = best.get(f.supply.id)
            best[f.supply.id] = f if known is None or _brings(f) > _brings(known) else known
    return list(best.values())


def _brings(fed: ChargerInUse) -> tuple[float, int]:
    """Watts to packs by what is behind it, and ports. [W]"""
    behind = fed.supply.power_w * SUPPLY_EFFICIENCY if fed.supply else math.inf
    most = min(fed.charger.total_w(fed.source), fed.charger.ports * fed.charger.port_w)
    return min(most, behind), fed.charger.ports


def _ways(
    a: PackAlong, there: Sequence[ChargerInUse], rules: HouseRules, trust: LabelTrust, bench: Bench
) -> tuple[tuple[ChargeWay, ...], tuple[ChargeWay, ...]]:
    """From as it lies there, and from its landing point."""
    fits = fits_there(a.pack, there, rules=rules, bench=bench)
    if not fits:
        return (), ()
    again = _charges(a.pack, fits, rules, trust, None)
    expected = cells_expected(a.now)
    if a.full or expected is None:
        return again, again
    try:
        return _charges(a.pack, fits, rules, trust, min(expected.cell_v)), again
    except DomainError:  # a cell that no charger should see
        return (), again


def _charges(
    pack: Pack, fits: Sequence[ChargeFit], rules: HouseRules, trust: LabelTrust, rest_cell_v: float | None
) -> tuple[ChargeWay, ...]:
    time = fit_times(fits, rules=rules, trust=trust, rest_cell_v=rest_cell_v)
    full_v = pack.series * charging_cell_v(pack)
    return tuple(
        ChargeWay(
            f.charger.id,
            max(1, math.ceil(float(time.minutes[k]))),
            round(float(time.put_in_ah[k]) * full_v / SUPPLY_EFFICIENCY, 1),
        )
        for k, f in enumerate(fits)
    )


def evening_packs(
    along: Sequence[PackAlong], *, rules: HouseRules, trust: LabelTrust, bench: Bench
) -> list[BenchPack]:
    """Packs as the bench would have them, each alone, by what their charge lets one expect: before anybody
    reads them."""
    readings = [_expected(a, rules) for a in along]
    gates = [
        inspection(a.pack, VisualCheck(looked=True, at_room=True, reading=reading), rules=rules)
        for a, reading in zip(along, readings, strict=True)
    ]
    return laid_packs([a.pack for a in along], readings, gates, trust=trust, board=None, pieces=bench.pieces)


def _expected(a: PackAlong, rules: HouseRules) -> PackReading:
    """As read, or as its charge tells; of which nobody knows as spent."""
    found = cells_expected(a.now)
    if found is not None:
        return found
    volts = float(resting_voltage(a.pack.chemistry, for_chemistry(rules, a.pack.chemistry).landing_soc))
    return pack_reading(a.pack.chemistry, (volts,) * a.pack.series, rules)
