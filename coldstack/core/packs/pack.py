"""What a pack is: the figures on its label and what was measured of it."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES, MOST_STRINGS
from coldstack.core.chain.balance import balance_plug_name, usual_balance_plug
from coldstack.core.chain.plugs import Half, PlugEnd, plug_family
from coldstack.core.chain.wire import wire_diameter_mm
from coldstack.core.errors import between, faults, refuse
from coldstack.core.packs.health import Level, StateOfHealth
from coldstack.core.packs.keys import tag_of
from coldstack.core.packs.measured import CHARGED_SPREAD, READ_SPREAD, Measured, joined

ASSUMABLE = ("plug", "lead_awg")
"""Figures of a pack for which something must stand in where nobody gave them."""


LEAST_AH, MOST_AH = 0.01, 200.0
"""Capacity that a pack can have. [Ah]"""


@dataclass(frozen=True, slots=True)
class Learnt:
    """What a log taught of a pack, named after its ``source``; a figure that it did not tell is None.

    Resistance of a cell position at 25 °C and mid charge; the slow part's R1 as a multiple of it, and its
    time constant. ``*_spread`` is ± as a share, two standard deviations.
    """

    source: str
    resistance_mohm: float
    resistance_spread: float
    slow_ratio: float | None = None
    slow_s: float | None = None
    slow_spread: float | None = None
    capacity_ah: float | None = None
    capacity_spread: float | None = None


@dataclass(frozen=True, slots=True)
class Pack:
    """One pack as sold or owned. A figure that is not known is None.

    ``cell_resistance_mohm`` is the measured quick resistance of one cell position at 25 °C and mid charge.
    Sizes are in the order length, width, height.
    """

    id: str
    name: str
    chemistry: str
    series: int
    capacity_ah: float
    mass_g: float
    parallel: int = 1
    length_mm: float | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    label_c: float | None = None
    label_burst_c: float | None = None
    charge_c: float | None = None
    cell_resistance_mohm: float | None = None
    plug: str = "xt60"
    lead_awg: float = 14
    lead_length_mm: float = 100
    price: float | None = None
    owned: bool = False
    plug_half: Half = "pack"
    balance_plug: str = ""
    """Family of its balance plug; empty for the usual one."""
    fit: bool = True
    """False for a pack that must not be charged or run: swollen, dented, retired."""
    today: StateOfHealth | None = None
    """How it is by its own records; None for a pack that has no life here.

    What its level leaves open of its capacity widens the range. Its figures join what a log taught, each by
    its own error, and go before what was typed.
    """
    learnt: Learnt | None = None
    """What a watt-meter log of it taught; it goes before what was typed."""
    note: str = ""
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
    def measured_resistance(self) -> Measured | None:
        """Resistance of one cell position by its latest readings and by a log, else as typed; None where
        nobody measured it. [mΩ at 25 °C and mid charge]"""
        found, log = [], self.learnt
        if self.today is not None and self.today.cell_resistance_mohm is not None:
            found.append(Measured(self.today.cell_resistance_mohm, READ_SPREAD))
        if log is not None:
            found.append(Measured(log.resistance_mohm, log.resistance_spread))
        if not found and self.cell_resistance_mohm is not None:
            found.append(Measured(self.cell_resistance_mohm, READ_SPREAD))
        return joined(found)

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


@dataclass(frozen=True, slots=True)
class CellType:
    """A cylindrical cell by its data sheet, to build S×P packs from."""

    id: str
    name: str
    chemistry: str
    capacity_ah: float
    mass_g: float
    diameter_mm: float
    length_mm: float
    continuous_a: float
    burst_a: float | None = None
    resistance_mohm: float | None = None
    price: float | None = None


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
            lambda: wire_diameter_mm(pack.lead_awg),
            between("series", "Cells in series", pack.series, LEAST_SERIES, MOST_SERIES),
            between("parallel", "Strings in parallel", pack.parallel, 1, MOST_STRINGS),
            between("capacity_ah", "Capacity", pack.capacity_ah, LEAST_AH, MOST_AH, "Ah"),
            between("mass_g", "Mass", pack.mass_g, 0.5, 50_000, "g"),
            between("lead_length_mm", "Lead length", pack.lead_length_mm, 0, 5000, "mm"),
            between("length_mm", "Length", pack.length_mm, 1, 2000, "mm"),
            between("width_mm", "Width", pack.width_mm, 1, 2000, "mm"),
            between("height_mm", "Height", pack.height_mm, 1, 2000, "mm"),
            between("label_c", "Continuous C", pack.label_c, 0.1, 500, "C"),
            between("label_burst_c", "Burst C", pack.label_burst_c, 0.1, 1000, "C"),
            between("charge_c", "Charge C", pack.charge_c, 0.05, 20, "C"),
            between("cell_resistance_mohm", "Cell resistance", pack.cell_resistance_mohm, 0.05, 2000, "mΩ"),
            between("price", "Price", pack.price, 0, 100_000),
        )
    )
    return pack


def check_learnt(learnt: Learnt) -> Learnt:
    """What a log taught, if every figure is possible; raises DomainError naming each field and what would be
    right."""
    refuse(
        faults(
            between("resistance_mohm", "Cell resistance", learnt.resistance_mohm, 0.05, 2000, "mΩ"),
            between("resistance_spread", "Its uncertainty", learnt.resistance_spread, 0.001, 1),
            between("slow_ratio", "The slow part", learnt.slow_ratio, 0.02, 50),
            between("slow_s", "Its time", learnt.slow_s, 1, 2000, "s"),
            between("slow_spread", "Its uncertainty", learnt.slow_spread, 0.001, 1),
            between("capacity_ah", "Capacity", learnt.capacity_ah, LEAST_AH, MOST_AH, "Ah"),
            between("capacity_spread", "Its uncertainty", learnt.capacity_spread, 0.001, 1),
        )
    )
    return learnt


def check_cell_type(cell: CellType) -> CellType:
    """The cell type itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming each field and what would be right.
    """
    refuse(
        faults(
            lambda: chemistry(cell.chemistry),
            between("capacity_ah", "Capacity", cell.capacity_ah, 0.01, 100, "Ah"),
            between("mass_g", "Mass", cell.mass_g, 0.5, 5000, "g"),
            between("diameter_mm", "Diameter", cell.diameter_mm, 5, 100, "mm"),
            between("length_mm", "Length", cell.length_mm, 5, 300, "mm"),
            between("continuous_a", "Continuous current", cell.continuous_a, 0.05, 500, "A"),
            between("burst_a", "Burst current", cell.burst_a, 0.05, 1000, "A"),
            between("resistance_mohm", "Resistance", cell.resistance_mohm, 0.05, 2000, "mΩ"),
            between("price", "Price", cell.price, 0, 10_000),
        )
    )
    return cell
