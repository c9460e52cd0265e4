"""Chargers and what feeds them: the maker's figures, and whether they can be."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.chain.balance import balance_plug_name
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.errors import DomainError, require_between

Input = Literal["mains", "dc"]
SupplyKind = Literal["mains", "battery"]

SUPPLY_EFFICIENCY = 0.85
"""Share of a supply's watts that reaches the packs through a DC charger. Typical."""


@dataclass(frozen=True, slots=True)
class Charger:
    """A charger by its sheet.

    Watts are what reaches the packs: ``port_w`` of one port, ``mains_w`` and ``dc_w`` of all ports together on that input,
    None where it has no such input. ``series_max`` counts lithium cells, ``nimh_cells_max`` NiMH cells (0: none).
    ``step_a`` is the step in which amps are set. ``discharge_w`` and ``storage_cap_a`` limit its storage program.
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
    balance_a: float = 0.3
    output_plug: str = "banana_4"
    discharge_w: float | None = None
    storage_cap_a: float | None = None

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
    """What stands behind a DC charger: a mains supply, a car battery, a power station. ``energy_wh`` is None on the mains."""

    id: str
    name: str
    kind: SupplyKind
    voltage_v: float
    power_w: float
    energy_wh: float | None = None


def check_charger(charger: Charger) -> Charger:
    """The charger itself, if every figure is possible.

    Raises
    ------
    DomainError
        Naming the field and what would be right.
    """
    if not charger.chemistries:
        raise DomainError("chemistries", "Choose at least one chemistry that it charges.")
    for chemistry_id in charger.chemistries:
        chemistry(chemistry_id)
    plug_family(charger.output_plug)
    for family in charger.balance_families:
        balance_plug_name(family)
    lithium = any(CHEMISTRIES[c].charge_method == "cc_cv" for c in charger.chemistries)
    require_between(
        "series_max", "Most cells in series", charger.series_max, low=1 if lithium else 0, high=28
    )
    require_between(
        "series_min", "Fewest cells in series", charger.series_min, low=1, high=max(charger.series_max, 1)
    )
    _check_figures(charger)
    if not charger.inputs:
        raise DomainError(
            "mains_w", "Give the watts on mains, on DC, or both: without an input it cannot charge."
        )
    if charger.dc_min_v is not None and charger.dc_max_v is not None and charger.dc_min_v > charger.dc_max_v:
        raise DomainError("dc_min_v", "The lowest input volts are above the highest.")
    return charger


def check_supply(supply: Supply) -> Supply:
    """The supply itself, if every figure is possible; raises DomainError naming the field."""
    require_between("voltage_v", "Volts", supply.voltage_v, low=3, high=60, unit="V")
    require_between("power_w", "Watts", supply.power_w, low=1, high=5000, unit="W")
    if supply.energy_wh is not None:
        require_between("energy_wh", "Energy", supply.energy_wh, low=1, high=100_000, unit="Wh")
    return supply


def _check_figures(c: Charger) -> None:
    for field, name, value, low, high, unit in (
        ("nimh_cells_max", "Most NiMH cells", c.nimh_cells_max, 0, 40, ""),
        ("ports", "Ports", c.ports, 1, 16, ""),
        ("port_a", "Amps of a port", c.port_a, 0.05, 200, "A"),
        ("port_w", "Watts of a port", c.port_w, 0.5, 5000, "W"),
        ("step_a", "Step of the amps", c.step_a, 0.001, 5, "A"),
        ("mains_w", "Watts on mains", c.mains_w, 0.5, 20_000, "W"),
        ("dc_w", "Watts on DC", c.dc_w, 0.5, 20_000, "W"),
        ("dc_min_v", "Lowest input", c.dc_min_v, 3, 100, "V"),
        ("dc_max_v", "Highest input", c.dc_max_v, 3, 100, "V"),
        ("balance_a", "Balance current", c.balance_a, 0, 20, "A"),
        ("discharge_w", "Discharge watts", c.discharge_w, 0, 2000, "W"),
        ("storage_cap_a", "Cap of the storage program", c.storage_cap_a, 0.05, 100, "A"),
    ):
        if value is not None:
            require_between(field, name, value, low=low, high=high, unit=unit)
