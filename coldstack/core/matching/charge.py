"""One pack on one charger: whether it can be charged, at how many amps, in how many minutes, and what limits
it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.open_circuit import resting_voltage, soc_at_rest
from coldstack.core.cells.resistance import LabelTrust
from coldstack.core.chain.adapters import Adapter, BalanceAdapter, Path, coolest, paths
from coldstack.core.chain.balance import balance_fit, balance_plug_name, needs_balancing
from coldstack.core.charging.amps import Amps, Feed, charge_amps
from coldstack.core.charging.charge_time import (
    BALANCE_SHARE,
    ChargeColumns,
    ChargeTime,
    charge_minutes,
    charge_time,
)
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.charging.margins import METER_V
from coldstack.core.errors import DomainError
from coldstack.core.matching.refusals import (
    Refusal,
    refused_cells,
    refused_chemistry,
    refused_input,
    refused_plugs,
    refused_slow,
    refused_unfit,
    suits,
)
from coldstack.core.measuring import HOW_TO
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.cells import PackReading
from coldstack.core.readings.tolerance import damaged, over_full
from coldstack.core.rules.house_rules import HouseRules, for_chemistry
from coldstack.core.trial.candidates import from_packs
from coldstack.core.units import plain_number


@dataclass(frozen=True, slots=True)
class Bench:
    """What lies on the bench beside the charger: leads, adapters and splitters; boards; balance adapters."""

    pieces: tuple[Adapter, ...] = ()
    boards: tuple[Adapter, ...] = ()
    balance: tuple[BalanceAdapter, ...] = ()


@dataclass(frozen=True, slots=True)
class BalanceWay:
    """How the balance wires reach a port, or that they do not."""

    fits: bool
    sentence: str
    path: Path
    adapter: str = ""
    port: str = ""
    """The family of the charger's balance port that it reaches; empty if it reaches none."""
    through: Adapter | None = None
    """The board or splitter of the path that takes the balance wires too."""


@dataclass(frozen=True, slots=True)
class ChargeFit:
    """The outcome: refusals (none if it can be charged), the way the plugs go, and the amps."""

    pack: Pack
    charger: Charger
    feed: Feed
    refusals: tuple[Refusal, ...]
    path: Path | None
    balance: BalanceWay | None
    amps: Amps | None

    @property
    def possible(self) -> bool:
        """Whether the pack can be charged so."""
        return not self.refusals

    @property
    def questions(self) -> list[str]:
        """Figures that nobody gave and that set the amps here, each with what stands in and how to find
        it."""
        c, found = self.charger, []
        if "port_w" in c.assumed:
            found.append(f"{c.name} is taken to give {plain_number(c.port_w)} W a port. {HOW_TO['port_w']}")
        elif "mains_w" in c.assumed:
            found.append(
                f"{c.name} is taken to run on the mains, {plain_number(c.mains_w or 0)} W in all. "
                f"{HOW_TO['mains_w']}"
            )
        for piece in self.path.pieces if self.path else ():
            if piece.wire_assumed:
                found.append(f"The gauge of {piece.name} is taken to be {piece.awg:g} AWG. {HOW_TO['awg']}")
        return found


def charge_fit(pack: Pack, charger: Charger, *, rules: HouseRules, feed: Feed, bench: Bench) -> ChargeFit:
    """Whether chemistry, cells, port, plugs and a useful current all hold; the reasons why not.

    An unfit pack, a wrong chemistry or too many cells end it: the rest is not looked at then.

    Raises
    ------
    DomainError
        For an input the charger has not, or more ports in use than it has.
    """
    never = (*refused_unfit(pack), *(refused_chemistry(pack, charger) or refused_cells(pack, charger)))
    if never:  # leads and amps do not matter then
        return ChargeFit(pack, charger, feed, never, None, None, None)
    # without a main output only the balance plug need reach it
    main = Path((), ()) if charger.by_balance else _main_path(pack, charger, bench)
    way = balance_way(pack, charger, bench, main)
    path = way.path if way and way.fits else main
    amps = charge_amps(pack, charger, rules=rules, feed=feed, path=path)
    refusals = (
        *refused_input(charger, feed),
        *refused_plugs(pack, charger, path),
        *([] if way is None or way.fits else [Refusal("balance", "no balance port", way.sentence)]),
        *refused_slow(pack, amps),
    )
    return ChargeFit(pack, charger, feed, refusals, path, way, amps)


def best_feed(charger: Charger, supplies: Sequence[Supply], *, ports_in_use: int = 1) -> Feed:
    """The mains where the charger has it; else DC behind the strongest supply whose volts suit."""
    if "mains" in charger.inputs:
        return Feed("mains", None, ports_in_use)
    suiting = [s for s in supplies if suits(charger, s)]
    return Feed("dc", max(suiting, key=lambda s: s.power_w, default=None), ports_in_use)


def balance_way(pack: Pack, charger: Charger, bench: Bench, main: Path | None) -> BalanceWay | None:
    """How the balance plug reaches a port: into the charger, by a balance adapter, or through a board or
    splitter.

    ``main`` is the way of the main plugs. None where nothing needs balancing.
    """
    if not needs_balancing(pack.chemistry, pack.series):
        words = f"{charger.name} charges by the balance plug alone, and this pack has none to charge by."
        return BalanceWay(False, words, Path((), ())) if charger.by_balance else None
    family, cells = pack.balance_family, charger.series_max
    direct = balance_fit(family, pack.series, charger.balance_families, cells)
    if direct.fits and main is not None:
        return BalanceWay(True, direct.sentence, main, port=family)
    if main is not None:
        for adapter in bench.balance:
            if (
                adapter.from_plug == family
                and adapter.to_plug in charger.balance_families
                and pack.series <= min(adapter.cells, cells)
            ):
                words = f"{balance_plug_name(family)} by {adapter.name}."
                return BalanceWay(True, words, main, adapter.name, adapter.to_plug)
    for piece in () if charger.by_balance else (*bench.pieces, *bench.boards):
        way = _through(pack, charger, piece, bench)
        if way is not None:
            return way
    return BalanceWay(direct.fits, direct.sentence, main or Path((), ()))


def charge_columns(
    fits: Sequence[ChargeFit],
    *,
    rules: HouseRules,
    trust: LabelTrust,
    rest_cell_v: float | None = None,
    imbalance_ah: float | None = None,
) -> ChargeColumns:
    """N fits with amps as the simulation wants them; from resting volts, or from the landing point of the
    house rules.

    Raises
    ------
    DomainError
        For resting volts that no sound cell has.
    """
    packs = [f.pack for f in fits]
    known = from_packs(packs, trust)
    cell_rules = [for_chemistry(rules, p.chemistry) for p in packs]
    return ChargeColumns(
        chemistry_index=known.chemistry_index,
        capacity_ah=known.capacity_ah,
        cell_mohm=known.cell_mohm,
        current_a=np.array([f.amps.current_a if f.amps else 0.0 for f in fits]),
        full_cell_v=np.array([r.full_v for r in cell_rules]),
        start_soc=np.array([start_soc(p, rules, rest_cell_v) for p in packs]),
        balance_ah=np.array([_imbalance_ah(p, imbalance_ah) for p in packs]),
        balance_a=np.array([f.charger.balance_a if f.balance else 0.0 for f in fits]),
        lowest_soc=np.array([lowest_soc(p, start_soc(p, rules, rest_cell_v)) for p in packs]),
        resistance_spread=known.resistance_spread,
    )


def start_soc(pack: Pack, rules: HouseRules, rest_cell_v: float | None) -> float:
    """State of charge before charging: by the resting volts, or where the house rules land. 0 to 1.

    Raises
    ------
    DomainError
        For a cell below what damages it, or above what it may be charged to.
    """
    if rest_cell_v is None:
        return for_chemistry(rules, pack.chemistry).landing_soc
    _require_sound(pack, rest_cell_v)
    return soc_at_rest(pack.chemistry, rest_cell_v)


def _imbalance_ah(pack: Pack, read_ah: float | None) -> float:
    """The worst cell's, as it was read; what a sound pack has where nobody read it, or its volts hide it."""
    usual = BALANCE_SHARE * pack.held_ah
    if read_ah is None:
        return usual
    return read_ah if chemistry(pack.chemistry).volts_tell else max(read_ah, usual)


def lowest_soc(pack: Pack, soc: float) -> float:
    """The charge that a pack may have at least where its volts say this much: on a flat curve a meter's
    error is much of it. 0 to 1."""
    return float(soc_at_rest(pack.chemistry, resting_voltage(pack.chemistry, soc) - METER_V))


def fit_times(
    fits: Sequence[ChargeFit],
    *,
    rules: HouseRules,
    trust: LabelTrust,
    rest_cell_v: float | None = None,
    imbalance_ah: float | None = None,
) -> ChargeTime:
    """Minutes of N possible fits in one pass."""
    return charge_time(
        charge_columns(fits, rules=rules, trust=trust, rest_cell_v=rest_cell_v, imbalance_ah=imbalance_ah)
    )


def fit_minutes(fits: Sequence[ChargeFit], *, rules: HouseRules, trust: LabelTrust) -> list[float]:
    """Minutes of N possible fits from the landing point, without their ranges: for the grid."""
    return [float(m) for m in charge_minutes(charge_columns(fits, rules=rules, trust=trust))]


def readings_of(pack: Pack, reading: PackReading | None) -> tuple[float | None, float | None]:
    """Resting volts to start from, and the worst cell's imbalance in Ah; Nones where they were not read.

    The lowest cell counts for the start, since it is the last to be full. A whole pack's volts tell of no
    imbalance.

    Raises
    ------
    DomainError
        For a cell that no charger should see.
    """
    if reading is None:
        return None, None
    for volts in reading.cell_v:
        _require_sound(pack, volts)
    apart = max(reading.socs) - min(reading.socs)
    return min(reading.cell_v), None if reading.whole else apart * pack.held_ah


def half_of(pack: Pack) -> Pack:
    """One of two equal packs in series that would make this one up."""
    return replace(
        pack,
        id=f"half:{pack.id}",
        name=f"one {pack.series // 2}S half of {pack.name}",
        series=pack.series // 2,
        mass_g=pack.mass_g / 2,
        balance_plug="",
    )


def _require_sound(pack: Pack, cell_v: float) -> None:
    cell, field = chemistry(pack.chemistry), "charge.cells"
    if damaged(cell.id, cell_v):
        raise DomainError(
            field,
            f"A {cell.name} cell that rests at {cell_v:g} V, below {cell.damage_v:g} V, is damaged: do not "
            "charge it.",
        )
    if over_full(cell.id, cell_v):
        raise DomainError(
            field,
            f"A {cell.name} cell that reads {cell_v:g} V is over full, which is {cell.full_v:g} V: check the "
            "chemistry and the meter.",
        )


def _main_path(pack: Pack, charger: Charger, bench: Bench) -> Path | None:
    # a board is for several packs: for one it is used only where nothing else joins the plugs
    ways = paths(pack.plug_end, charger.output_end, bench.pieces)
    ways = ways or paths(pack.plug_end, charger.output_end, (*bench.pieces, *bench.boards))
    return coolest(ways, rms_a=pack.capacity_ah, peak_a=pack.capacity_ah)


def _through(pack: Pack, charger: Charger, piece: Adapter, bench: Bench) -> BalanceWay | None:
    """The way through a board or splitter that takes the pack's main and balance plug and brings out a
    family the charger has."""
    takes = pack.balance_family in piece.balance_from and pack.series <= piece.balance_cells
    if not takes or piece.balance_out not in charger.balance_families or pack.series > charger.series_max:
        return None
    ways = [
        w
        for w in paths(
            pack.plug_end, charger.output_end, (piece, *(p for p in bench.pieces if p is not piece))
        )
        if piece in w.pieces
    ]
    path = coolest(ways, rms_a=pack.capacity_ah, peak_a=pack.capacity_ah)
    if path is None:
        return None
    return BalanceWay(
        True,
        f"Through {piece.name}, which brings the balance wires out as "
        f"{balance_plug_name(piece.balance_out)}.",
        path,
        piece.name,
        piece.balance_out,
        piece,
    )
