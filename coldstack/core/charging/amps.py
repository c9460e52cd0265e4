"""Charge current: the least of all limits, brought down to the charger's step.

Never up, never above any of them.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.adapters import Path
from coldstack.core.chain.balance import BALANCE_WIRE_A
from coldstack.core.chain.plugs import plug_family
from coldstack.core.charging.charger import SUPPLY_EFFICIENCY, Charger, Input, Supply
from coldstack.core.errors import DomainError, require_between
from coldstack.core.packs.health import StateOfHealth
from coldstack.core.packs.pack import Pack
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import DEG, plain_number
from coldstack.core.working import Step, Working

COLDEST_CHARGE_C, COOL_CHARGE_C, HOTTEST_CHARGE_C = 0.0, 10.0, 40.0
"""Below freezing, and warmer than this, nothing is charged; from freezing to the second at half the rate.
 House figure.[°C]"""
NANO = 9
"""Decimals of an ampere that a limit has."""
COLD_SHARE = 0.5
CAREFUL_C = 0.5
"""A pack that nobody knows, a weak one, and one whose cells differ: half of C, balanced, watched. House
figure. [C]"""
OF_TODAY = ("careful", "cold")
"""Ids of the limits that come of how a pack is today."""
PACK_LIMITS = ("rules", "label", *OF_TODAY)
"""Ids of the limits that are the pack's own."""
NIMH_CHARGING_V = 1.55
"""Volts of a NiMH cell near the end of a 1C charge, above its resting full: its charger must lift it there.
Typical."""


@dataclass(frozen=True, slots=True)
class Feed:
    """How a charger is fed and used: input, supply behind its DC input, ports in use at once."""

    source: Input
    supply: Supply | None = None
    ports_in_use: int = 1


@dataclass(frozen=True, slots=True)
class AmpsLimit:
    """One bound on the amps: what sets it, and how it follows.

    ``terms`` are the numbers of its derivation with the words between them; they are put together only when
    they are read.
    """

    id: str
    name: str
    current_a: float
    formula: str
    terms: tuple[str | float, ...] = ()

    @property
    def numbers(self) -> str:
        """The relation with its numbers: "60 W ÷ (6 × 4.2 V) = 2.38 A"."""
        told = "".join(t if isinstance(t, str) else plain_number(t) for t in self.terms)
        return f"{told} = {plain_number(self.current_a)} A" if told else f"{plain_number(self.current_a)} A"


@dataclass(frozen=True, slots=True)
class Amps:
    """The amps to set, all limits from the tightest on, and what binds."""

    current_a: float
    limits: tuple[AmpsLimit, ...]

    @property
    def binding(self) -> AmpsLimit:
        """The tightest limit."""
        return self.limits[0]


def with_limit(amps: Amps, limit: AmpsLimit, step_a: float) -> Amps:
    """The amps with one limit more, down to the charger's step again."""
    limits = sorted((*amps.limits, limit), key=lambda x: x.current_a)
    return Amps(most_to_set(limits[0].current_a, step_a), tuple(limits))


def charging_cell_v(pack: Pack) -> float:
    """Highest volts of one cell on the charger, from which watts turn into amps: full charge, for NiMH its
    peak. [V]"""
    cell = chemistry(pack.chemistry)
    return NIMH_CHARGING_V if cell.charge_method == "peak" else cell.full_v


def charge_amps(
    pack: Pack, charger: Charger, *, rules: HouseRules, feed: Feed, path: Path | None = None
) -> Amps:
    """The largest current that no limit forbids, down to the charger's step. [A]

    The one place where it is decided: charging, storage, boards, house rules and the day ask here, or
    `pack_limit` for the pack alone.

    Parameters
    ----------
    pack, charger
        As on their label and sheet; how the pack is today (`Pack.today`) limits it, too.
    rules : HouseRules
        Their charge C; where they go by the label, the label's C up to the rules' limit.
    feed : Feed
        Input, supply and ports in use: shared watts are taken to be shared evenly.
    path : Path, optional
        Lead, adapters and plugs between pack and charger; each is a limit too.

    Raises
    ------
    DomainError
        For an input that the charger has not, or more ports in use than it has.
    """
    require_between("ports_in_use", "Ports in use", feed.ports_in_use, low=1, high=charger.ports)
    limits = [*_pack_limits(pack, rules), *_charger_limits(pack, charger, feed)]
    if charger.by_balance:
        wires = "The balance wires, which carry it all"
        limits.append(AmpsLimit("balance_wires", wires, BALANCE_WIRE_A, "typical"))
    elif path is not None:
        limits += path_limits(path)
    limits.sort(key=lambda limit: limit.current_a)
    return Amps(most_to_set(limits[0].current_a, charger.step_a), tuple(limits))


def most_to_set(limit_a: float, step_a: float) -> float:
    """The largest multiple of the step within a limit that was computed. [A]

    3 C of 3.3 Ah are 9.9 A, and 9.899999999999999 in binary: what is lost by that is no part of the limit.
    """
    return floor_to_step(round(limit_a, NANO), step_a)


def floor_to_step(current_a: float, step_a: float) -> float:
    """The largest multiple of the step that is not above the current. [A]

    Steps like 0.1 have no exact binary form: 0.3 ÷ 0.1 is 2.9999999999999996, and three steps must still be
    allowed at 0.3 A, but never one hair above.

    Raises
    ------
    DomainError
        For a negative or missing current, or a step that is not above zero.
    """
    if not (step_a > 0 and math.isfinite(step_a)):
        raise DomainError("step_a", f"The step must be above zero, not {step_a:g} A.")
    if not (current_a >= 0 and math.isfinite(current_a)):
        raise DomainError("current_a", f"A current must be zero or more, not {current_a:g} A.")
    steps = math.floor(current_a / step_a) + 1
    while steps > 0 and round(steps * step_a, 9) > current_a:
        steps -= 1
    return round(steps * step_a, 9)


def amps_working(amps: Amps, charger: Charger) -> Working:
    """All limits as steps, the binding one first, and the rounding down."""
    n = plain_number
    steps = [Step(limit.name, limit.formula, limit.numbers) for limit in amps.limits]
    last = Step(
        "To set",
        f"down to steps of {n(charger.step_a)} A",
        f"{n(amps.binding.current_a, 4)} A → {n(amps.current_a)} A",
        f"{amps.binding.name} binds",
    )
    return Working(
        "Charge current", (*steps, last), "The tightest limit stands first. Amps are never rounded up."
    )


def label_charge_c(pack: Pack) -> float:
    """The charge rate of the pack's label; what is usual for its chemistry where it gives none. [C]"""
    return chemistry(pack.chemistry).usual_charge_c if pack.charge_c is None else pack.charge_c


def pack_limit(pack: Pack, rules: HouseRules) -> AmpsLimit:
    """What the pack itself may be charged with at most, whatever the charger: by label, rules, and how it is
    today."""
    return min(_pack_limits(pack, rules), key=lambda x: x.current_a)


def pack_charge_c(pack: Pack, rules: HouseRules) -> float:
    """The same as a rate. [C]"""
    return pack_limit(pack, rules).current_a / pack.capacity_ah


def _pack_limits(pack: Pack, rules: HouseRules) -> list[AmpsLimit]:
    ah, label_c = pack.capacity_ah, label_charge_c(pack)
    name, printed = "The pack’s label", "label"
    if pack.charge_c is None:
        kind = chemistry(pack.chemistry).name
        name, printed = f"What is usual for {kind}", f"usual for {kind}, label gives none"
    limits = [
        AmpsLimit(
            "rules",
            f"House rules “{rules.name}”",
            rules.charge_c_limit * ah,
            "C × Ah",
            (rules.charge_c_limit, "C × ", ah, " Ah"),
        ),
        AmpsLimit(
            "label",
            name,
            label_c * ah,
            "charge C × Ah",
            (label_c, f"C ({printed}) × ", ah, " Ah"),
        ),
    ]
    if pack.today is None:
        return limits
    careful = _careful(pack.today)
    if careful:
        limits.append(
            AmpsLimit("careful", careful, CAREFUL_C * ah, "half of C", (CAREFUL_C, "C × ", ah, " Ah"))
        )
    return [*limits, *_cold(pack.today.temperature_c, min(limits, key=lambda x: x.current_a))]


def _careful(today: StateOfHealth) -> str:
    """Why a pack is charged with care; empty if it need not be."""
    if today.apart:
        return "Its cells differ"
    if today.cells_unknown:
        return "Its cells were not read one by one"
    if today.level == "light":
        return "Weak, on light duty"
    if today.records_wanted:
        return "Its past is unknown"
    return "Nobody charged, ran or checked it here before" if today.stranger else ""


def _cold(temperature_c: float | None, warm: AmpsLimit) -> list[AmpsLimit]:
    """What the temperature that was read leaves of the tightest other limit of the pack."""
    n = plain_number
    if temperature_c is None or COOL_CHARGE_C <= temperature_c <= HOTTEST_CHARGE_C:
        return []
    if not COLDEST_CHARGE_C <= temperature_c <= HOTTEST_CHARGE_C:
        return [AmpsLimit("cold", f"At {n(temperature_c)}{DEG} it is not charged", 0.0, "none")]
    terms = (COLD_SHARE, " × ", warm.current_a, " A")
    amps = COLD_SHARE * warm.current_a
    return [AmpsLimit("cold", f"The cold, {n(temperature_c)}{DEG}", amps, f"half below 10{DEG}", terms)]


def _charger_limits(pack: Pack, charger: Charger, feed: Feed) -> list[AmpsLimit]:
    cell_v, ports = charging_cell_v(pack), feed.ports_in_use

    def by_watts(limit_id: str, name: str, watts: float, formula: str, *given: str | float) -> AmpsLimit:
        terms = (*given, f" ÷ ({pack.series} × ", cell_v, " V)")
        return AmpsLimit(limit_id, name, watts / (pack.series * cell_v), formula, terms)

    total, shared = charger.total_w(feed.source), f" ÷ {ports}" if ports > 1 else ""
    port = f"The port’s watts{_assumed(charger, 'port_w')}"
    whole = f"The charger’s watts on {'mains' if feed.source == 'mains' else 'DC'}"
    whole += _assumed(charger, "mains_w")
    by_port, by_ports = "watts ÷ (cells × full volts)", "watts ÷ ports in use ÷ volts"
    limits = [
        AmpsLimit("port_amps", "The port’s amps", charger.port_a, "sheet"),
        by_watts("port_watts", port, charger.port_w, by_port, charger.port_w, " W"),
        by_watts("shared_watts", whole, total / ports, by_ports, total, f" W{shared}"),
    ]
    if feed.source == "dc" and feed.supply is not None:
        watts, name = feed.supply.power_w, f"The supply, {feed.supply.name}"
        share, loss = watts * SUPPLY_EFFICIENCY / ports, f"{SUPPLY_EFFICIENCY:g}"
        formula = f"watts × {loss} ÷ ports in use ÷ volts"
        limits.append(by_watts("supply", name, share, formula, watts, f" W × {loss}{shared}"))
    return limits


def _assumed(charger: Charger, field: str) -> str:
    return ", assumed" if field in charger.assumed else ""


def path_limits(path: Path) -> list[AmpsLimit]:
    """What plugs, leads and adapters between a pack and a charger let through."""
    plugs = [
        AmpsLimit(f"plug_{f}", f"The {plug_family(f).name} plug", plug_family(f).continuous_a, "continuous")
        for f in path.pairs
    ]
    return plugs + [
        AmpsLimit(
            f"piece_{p.id}",
            f"{p.name}, gauge assumed" if p.wire_assumed else p.name,
            p.wire_a,
            "wire or rating",
        )
        for p in path.pieces
    ]
