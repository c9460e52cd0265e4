"""Chargers and what feeds them: the maker's figures, and whether they can be."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.cells.counts import MOST_SERIES
from coldstack.core.chain.balance import balance_plug_name
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.errors import DomainError, between, faults, refuse

Input = Literal["mains", "dc"]
SupplyKind = Literal["mains", "battery"]

ASSUMED_PORT_W = 50.0
"""Watts of a port where nobody gave any: a small charger's. House figure."""
USUAL_BALANCE_A = 0.3
"""Balance amps where nobody gave any: a small charger's. Typical."""
SUPPLY_EFFICIENCY = 0.85
"""Share of a supply's watts that reaches the packs through a DC charger. Typical."""


@dataclass(frozen=True, slots=True)
class Charger:
    """A charger by its sheet.

    Watts are what reaches the packs: ``port_w`` of one port, ``mains_w`` and ``dc_w`` of all ports together
    on that input, None where it has no such input. ``series_max`` counts lithium cells, ``nimh_cells_max``
    NiMH cells (0: none). ``step_a`` is the step in which amps are set. ``discharge_w`` and
    ``storage_cap_a`` limit its storage program.
    """

    id: str
    name: str
    chemistries: tuple[str, ...]
    series_max: int
    port_a: float
    port_w: float
    series_min: int = 1
    nimh_cells_max: int = 0
    ports: int = 1
    step_a: float = 0.1
    mains_w: float | None = None
    dc_w: float | None = None
    dc_min_v: float | None = None
    dc_max_v: float | None = None
    balance_families: tuple[str, ...] = ("xh",)
    balance_a: float = USUAL_BALANCE_A
    output_plug: str = "banana_4"
    discharge_w: float | None = None
    storage_cap_a: float | None = None
    assumed: frozenset[str] = frozenset()
    """Watts that nobody gave, by their field: ``port_w``, ``mains_w``."""

    @property
    def output_end(self) -> PlugEnd:
        """The loose end of a port: the half that a lead, or a pack itself, plugs into."""
        return PlugEnd(self.output_plug, "device")

    @property
    def inputs(self) -> tuple[Input, ...]:
        """What it can be fed by, mains first."""
        both: tuple[tuple[Input, float | None], ...] = (("mains", self.mains_w), ("dc", self.dc_w))
        return tuple(kind for kind, watts in both if watts is not None)

    def total_w(self, source: Input) -> float:
        """Watts of all its ports together on this input. [W]

        Raises
        ------
        DomainError
            If it has no such input.
        """
        watts = self.mains_w if source == "mains" else self.dc_w
        if watts is None:
            raise DomainError(
                "input", f"{self.name} cannot be fed by {'the mains' if source == 'mains' else 'DC'}."
            )
        return watts


@dataclass(frozen=True, slots=True)
class Supply:
    """What stands behind a DC charger: a mains supply, a car battery, a power station.

    ``energy_wh`` is None on the mains.
    """

    id: str
    name: str
    kind: SupplyKind
    voltage_v: float
    power_w: float
    energy_wh: float | None = None


def assumed_watts(
    port_w: float | None, mains_w: float | None, dc_w: float | None, ports: int
) -> dict[str, float]:
    """Watts to go on with where nobody gave them, by field: a port's share of what all have, or 50 W; the
    mains where no input is named. [W]"""
    found: dict[str, float] = {}
    total = max(mains_w or 0.0, dc_w or 0.0)
    if port_w is None:
        port_w = round(total / ports, 1) if total else ASSUMED_PORT_W
        found["port_w"] = port_w
    if mains_w is None and dc_w is None:
        found["mains_w"] = port_w * ports
    return found


def check_charger(charger: Charger) -> Charger:
    """The charger itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming the field and what would be right.
    """
    c = charger
    lithium = any(CHEMISTRIES[x].charge_method == "cc_cv" for x in c.chemistries if x in CHEMISTRIES)
    refuse(
        faults(
            lambda: _check_names(c),
            between("series_max", "Most cells in series", c.series_max, 1 if lithium else 0, MOST_SERIES),
            between("series_min", "Fewest cells in series", c.series_min, 1, max(c.series_max, 1)),
            between("nimh_cells_max", "Most NiMH cells", c.nimh_cells_max, 0, 40),
            between("ports", "Ports", c.ports, 1, 16),
            between("port_a", "Amps of a port", c.port_a, 0.05, 200, "A"),
            between("port_w", "Watts of a port", c.port_w, 0.5, 5000, "W"),
            between("step_a", "Step of the amps", c.step_a, 0.001, 5, "A"),
            between("mains_w", "Watts on mains", c.mains_w, 0.5, 20_000, "W"),
            between("dc_w", "Watts on DC", c.dc_w, 0.5, 20_000, "W"),
            between("dc_min_v", "Lowest input", c.dc_min_v, 3, 100, "V"),
            between("dc_max_v", "Highest input", c.dc_max_v, 3, 100, "V"),
            # none at all, or one that a meter would show
            between("balance_a", "Balance current", c.balance_a, 0.01 if c.balance_a else 0, 20, "A"),
            between("discharge_w", "Discharge watts", c.discharge_w, 0, 2000, "W"),
            between("storage_cap_a", "Cap of the storage program", c.storage_cap_a, 0.05, 100, "A"),
            lambda: _check_inputs(c),
        )
    )
    return charger


def check_supply(supply: Supply) -> Supply:
    """The supply itself, if every figure is possible; raises DomainError naming the field."""
    refuse(
        faults(
            between("voltage_v", "Volts", supply.voltage_v, 3, 60, "V"),
            between("power_w", "Watts", supply.power_w, 1, 5000, "W"),
            between("energy_wh", "Energy", supply.energy_wh, 1, 100_000, "Wh"),
        )
    )
    return supply


def _check_names(c: Charger) -> None:
    def one_at_least() -> None:
        if not c.chemistries:
            raise DomainError("chemistries", "Choose at least one chemistry that it charges.")
        for chemistry_id in c.chemistries:
            chemistry(chemistry_id)

    def balance() -> None:
        for family in c.balance_families:
            balance_plug_name(family)

    refuse(faults(one_at_least, lambda: plug_family(c.output_plug), balance))


def _check_inputs(c: Charger) -> None:
    if not c.inputs:
        raise DomainError(
            "mains_w", "Give the watts on mains, on DC, or both: without an input it cannot charge."
        )
    if c.dc_min_v is not None and c.dc_max_v is not None and c.dc_min_v > c.dc_max_v:
        raise DomainError("dc_min_v", "The lowest input volts are above the highest.")
