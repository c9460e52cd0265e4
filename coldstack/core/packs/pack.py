"""What a pack is: the figures on its label and what was measured of it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Annotated

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.balance import INTEGRATED, balance_plug_name, usual_balance_plug
from coldstack.core.chain.plugs import Half, PlugEnd, plug_family
from coldstack.core.errors import faults, refuse
from coldstack.core.fields import common as ask
from coldstack.core.fields.quantity import Choice, Quantity, Words, YesNo
from coldstack.core.fields.table import bounds
from coldstack.core.packs.health import Level, StateOfHealth
from coldstack.core.packs.keys import tag_of
from coldstack.core.packs.measured import (
    CHARGED_SPREAD,
    EASING_SPREAD,
    LOG_SPREAD,
    METER_SPREAD,
    Measured,
    both,
    joined,
)

ASSUMABLE = ("plug", "lead_awg")
"""Figures of a pack for which something must stand in where nobody gave them."""
_SHARE = Quantity("Its uncertainty", low=0.001, high=1)


@dataclass(frozen=True, slots=True)
class LogFindings:
    """What a log taught of a pack, named after its ``source``; a figure that it did not tell is None.

    Resistance of a cell position at 25 °C and mid charge; the slow part's R1 as a multiple of it, and its
    time constant. ``*_spread`` is ± as a share, two standard deviations.
    """

    source: Annotated[str, Words("Source", most=120)]
    cell_mohm: Annotated[float, ask.CELL_RESISTANCE]
    resistance_spread: Annotated[float, _SHARE]
    slow_ratio: Annotated[float | None, Quantity("The slow part", low=0.02, high=50)] = None
    slow_s: Annotated[float | None, Quantity("Its time", unit="s", low=1, high=2000)] = None
    slow_spread: Annotated[float | None, _SHARE] = None
    capacity_ah: Annotated[float | None, ask.CAPACITY] = None
    capacity_spread: Annotated[float | None, _SHARE] = None


@dataclass(frozen=True, slots=True)
class Pack:
    """One pack as sold or owned. A figure that is not known is None.

    ``cell_mohm`` is the measured quick resistance of one cell position at 25 °C and mid charge.
    Sizes are in the order length, width, height.
    """

    id: str
    name: Annotated[str, replace(ask.NAME, most=120)]
    chemistry: Annotated[str, ask.CHEMISTRY]
    series: Annotated[int, ask.SERIES]
    capacity_ah: Annotated[float, ask.CAPACITY]
    mass_g: Annotated[float, ask.PACK_MASS]
    parallel: Annotated[int, ask.PARALLEL] = 1
    length_mm: Annotated[float | None, ask.LENGTH] = None
    width_mm: Annotated[float | None, ask.WIDTH] = None
    height_mm: Annotated[float | None, ask.HEIGHT] = None
    label_c: Annotated[float | None, ask.LABEL_C] = None
    label_burst_c: Annotated[
        float | None,
        Quantity("Burst C", "burst burst_c peak_c c_burst max_c", "", "C", 0.1, 1000, 5, (10, 240)),
    ] = None
    charge_c: Annotated[
        float | None,
        Quantity(
            "Charge C",
            words="charge charge_rate max_charge max_charge_c charging_c charge_c_rate",
            unit="C",
            low=0.05,
            high=20,
            usual=(0.5, 6),
        ),
    ] = None
    cell_mohm: Annotated[float | None, ask.CELL_RESISTANCE] = None
    plug: Annotated[str, Choice("Main plug", ask.PLUG_WORDS)] = "xt60"
    lead_awg: Annotated[float, ask.LEADS] = 14
    lead_length_mm: Annotated[float, ask.LEAD_LENGTH] = 100
    price: Annotated[float | None, ask.PRICE] = None
    owned: bool = False
    plug_half: Annotated[Half, Choice("Half of the plug", "half", of="halves")] = "pack"
    balance_plug: Annotated[
        str,
        Choice(
            "Balance plug",
            words="balance balancer balance_connector balance_lead",
            of="balance_plugs",
            empty="the usual one",
        ),
    ] = ""
    """Family of its balance plug; empty for the usual one."""
    hard_case: Annotated[bool, YesNo("Hard case", words="hardcase hard_shell")] = False
    fit: Annotated[bool, YesNo("Fit to be charged and run", words="ok usable good in_use")] = True
    """False for a pack that must not be charged or run: swollen, dented, retired."""
    unknown_past: Annotated[
        bool, YesNo("Its past is unknown: lent, or bought used", words="lent borrowed used second_hand")
    ] = False
    """What happened to it before it came here nobody knows: it has a care of its own until it has records."""
    today: StateOfHealth | None = None
    """How it is by its own records; None for a pack that has no life here.

    What its level leaves open of its capacity widens the range. Its figures join what a log taught, each by
    its own error, and go before what was typed.
    """
    learnt: LogFindings | None = None
    """What a watt-meter log of it taught; it goes before what was typed."""
    note: Annotated[str, ask.NOTE] = ""
    assumed: frozenset[str] = frozenset()
    """Figures that nobody gave, by their field: typical ones stand in."""
    typical: bool = False
    """Stands for what is sold everywhere; no maker's pack."""
    offered: bool = False
    """A shop offers it now, and it stands here until it is bought or thrown out."""
    at_hand: bool = False
    """What a model runs on now, told with the model and not in the box."""

    @property
    def called(self) -> str:
        """What it is called in a sentence: the tag of one in the box, else its name."""
        return tag_of(self.id) or self.name

    @property
    def kind(self) -> str:
        """What kind of candidate it is."""
        if self.owned:
            return "owned"
        if self.offered:
            return "on offer"
        return "now" if self.at_hand else "typical" if self.typical else "catalogue"

    @property
    def measured_capacity(self) -> Measured | None:
        """What it really holds, by its latest charges and by a log; None where neither tells. [Ah]"""
        found, log = [], self.learnt
        if self.today is not None and self.today.capacity_ah is not None:
            found.append(Measured(self.today.capacity_ah, CHARGED_SPREAD))
        if log is not None and log.capacity_ah is not None:
            found.append(Measured(log.capacity_ah, log.capacity_spread or CHARGED_SPREAD))
        return joined(found)

    @property
    def resistance_found(self) -> dict[str, Measured]:
        """What was measured of the resistance of one cell position, by how: its latest readings, a log, else
        what was typed. [mΩ at 25 °C and mid charge]"""
        found, today, log = {}, self.today, self.learnt
        if today is not None and today.cell_mohm is not None:
            by = today.resistance_by or "its readings"
            found[by] = _by_meter(self.chemistry, today.cell_mohm, today.resistance_spread)
        if log is not None:
            # what older versions learnt had the fit's own alone
            spread = max(log.resistance_spread, LOG_SPREAD)
            found[f"the log {log.source}"] = Measured(log.cell_mohm, spread)
        if not found and self.cell_mohm is not None:
            found["a meter, as typed"] = _by_meter(self.chemistry, self.cell_mohm, METER_SPREAD[""])
        return found

    @property
    def measured_resistance(self) -> Measured | None:
        """All of that as one; None where nobody measured it."""
        return joined(self.resistance_found.values())

    @property
    def measured_ah(self) -> float | None:
        """What it really holds where that was measured. [Ah]"""
        found = self.measured_capacity
        return None if found is None else found.value

    @property
    def held_ah(self) -> float:
        """What it really holds where that was measured, else its label. [Ah]"""
        return self.measured_ah or self.capacity_ah

    @property
    def measured_mohm(self) -> float | None:
        """Resistance of one cell position where that was measured. [mΩ at 25 °C and mid charge]"""
        found = self.measured_resistance
        return None if found is None else found.value

    @property
    def level(self) -> Level:
        """How its records judge it; fine where there are none."""
        return "fine" if self.today is None else self.today.level

    @property
    def plug_end(self) -> PlugEnd:
        """The loose end of its main plug."""
        return PlugEnd(self.plug, self.plug_half)

    @property
    def balance_family(self) -> str:
        """The family of its balance plug, or the usual one where nothing is said."""
        return self.balance_plug or usual_balance_plug(self.chemistry, self.series, self.plug)

    @property
    def balance_brought_out(self) -> bool:
        """Whether its balance wires end in a plug of their own."""
        return self.balance_family not in ("none", INTEGRATED)


def _by_meter(chemistry_id: str, read_mohm: float, spread: float) -> Measured:
    """What a reading says of the resistance under the currents of a run."""
    eases = chemistry(chemistry_id).eases
    return Measured(eases * read_mohm, both(spread, EASING_SPREAD) if eases < 1 else spread)


@dataclass(frozen=True, slots=True)
class CellType:
    """A cylindrical cell by its data sheet, to build S×P packs from."""

    id: str
    name: Annotated[str, ask.NAME]
    chemistry: Annotated[str, ask.CHEMISTRY]
    capacity_ah: Annotated[float, ask.CELL_CAPACITY]
    mass_g: Annotated[float, ask.CELL_MASS]
    diameter_mm: Annotated[float, Quantity("Diameter", "diameter dia", "", "mm", 5, 100, 1, (10, 50))]
    length_mm: Annotated[float, replace(ask.LENGTH, low=5, high=300, usual=(30, 80))]
    continuous_a: Annotated[
        float,
        Quantity(
            "Continuous",
            words="current continuous_current max_current amps rated_amps continuous_amps",
            unit="A",
            low=0.05,
            high=500,
            usual=(1, 50),
        ),
    ]
    burst_a: Annotated[
        float | None, Quantity("Burst", "burst_current burst_amps peak_current", "", "A", 0.05, 1000)
    ] = None
    resistance_mohm: Annotated[
        float | None, replace(ask.CELL_RESISTANCE, label="Resistance", step=1, usual=(2, 80))
    ] = None
    price: Annotated[float | None, replace(ask.PRICE, high=10_000)] = None


def check_pack(pack: Pack) -> Pack:
    """The pack itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming each field and what would be right.
    """
    refuse(
        faults(
            lambda: chemistry(pack.chemistry),
            lambda: plug_family(pack.plug),
            lambda: pack.balance_plug and balance_plug_name(pack.balance_plug),
            *bounds(pack),
        )
    )
    return pack


def check_learnt(learnt: LogFindings) -> LogFindings:
    """What a log taught, if every figure is possible; raises DomainError naming each field and what would be
    right."""
    refuse(faults(*bounds(learnt)))
    return learnt


def check_cell_type(cell: CellType) -> CellType:
    """The cell type itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming each field and what would be right.
    """
    refuse(faults(lambda: chemistry(cell.chemistry), *bounds(cell)))
    return cell
