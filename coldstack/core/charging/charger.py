"""Chargers and what feeds them: the maker's figures, and whether they can be."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.cells.counts import MOST_SERIES
from coldstack.core.chain.balance import balance_plug_name
from coldstack.core.chain.plugs import PlugEnd, plug_family
from coldstack.core.errors import DomainError, between, faults, refuse
from coldstack.core.fields import common as ask
from coldstack.core.fields.quantity import Choice, Quantity, YesNo
from coldstack.core.fields.table import bounds

Input = Literal["mains", "dc"]
SupplyKind = Literal["mains", "battery"]

ASSUMED_PORT_W = 50.0
"""Watts of a port where nobody gave any: a small charger's. House figure."""
USUAL_BALANCE_A = 0.3
"""Balance amps where nobody gave any: a small charger's. Typical."""
SUPPLY_EFFICIENCY = 0.85
"""Share of a supply's watts that reaches the packs through a DC charger. Typical."""
BALANCE_PORTS = Choice("Balance ports", of="balance_plugs", most=5)


@dataclass(frozen=True, slots=True)
class Charger:
    """A charger by its sheet.

    Watts are what reaches the packs: ``port_w`` of one port, ``mains_w`` and ``dc_w`` of all ports together
    on that input, None where it has no such input. ``series_max`` counts lithium cells, ``nimh_cells_max``
    NiMH cells (0: none). ``step_a`` is the step in which amps are set. ``discharge_w`` and
    ``storage_cap_a`` limit its storage program.
    """

    id: str
    name: Annotated[str, ask.NAME]
    chemistries: Annotated[tuple[str, ...], ask.CHEMISTRIES]
    series_max: Annotated[
        int,
        Quantity(
            "Most cells in series",
            words="cells max_cells most_cells up_to_cells s_max",
            high=MOST_SERIES,
            usual=(4, 8),
        ),
    ]
    port_a: Annotated[
        float,
        Quantity(
            "Amps of a port",
            words="amps max_current max_charge_current max_amps charge_amps charge_current",
            unit="A",
            low=0.05,
            high=200,
            step=0.5,
            usual=(1, 40),
        ),
    ]
    port_w: Annotated[
        float,
        Quantity(
            "Watts of a port",
            words="watts max_watts power",
            hint="left empty, it is assumed and asked",
            unit="W",
            low=0.5,
            high=5000,
            step=5,
            usual=(20, 1000),
        ),
    ]
    series_min: Annotated[int, Quantity("Fewest cells in series", "min_cells", low=1, high=MOST_SERIES)] = 1
    nimh_cells_max: Annotated[int, Quantity("Most NiMH cells", high=40)] = 0
    ports: Annotated[int, Quantity("Ports", "channels outputs number_of_ports", low=1, high=16)] = 1
    step_a: Annotated[float, Quantity("Steps of the amps", unit="A", low=0.001, high=5, step=0.05)] = 0.1
    mains_w: Annotated[
        float | None,
        Quantity(
            "All ports, on mains", "mains mains_watts ac_watts ac", "", "W", 0.5, 20_000, 10, (20, 2000)
        ),
    ] = None
    dc_w: Annotated[float | None, Quantity("All ports, on DC", "dc dc_watts", "", "W", 0.5, 20_000, 10)] = (
        None
    )
    dc_min_v: Annotated[float | None, Quantity("DC input, lowest", unit="V", low=3, high=100)] = None
    dc_max_v: Annotated[float | None, Quantity("DC input, highest", unit="V", low=3, high=100)] = None
    balance_families: Annotated[tuple[str, ...], Choice("Balance ports", of="balance_plugs", most=5)] = (
        "xh",
    )
    balance_a: Annotated[
        float,
        Quantity("Balance current", "balance_current balancing_current", "", "A", 0, 20, 0.1, (0.1, 3)),
    ] = USUAL_BALANCE_A
    output_plug: Annotated[str, Choice("Output", of="output_plugs")] = "banana_4"
    by_balance: Annotated[
        bool, YesNo("Charges by the balance plug alone", words="balance_only balance_charger")
    ] = False
    """It has no main output: the balance plug carries all of the charge."""
    discharge_w: Annotated[float | None, Quantity("Discharges with", unit="W", high=2000)] = None
    storage_cap_a: Annotated[
        float | None, Quantity("Storage program, at most", unit="A", low=0.05, high=100, step=0.5)
    ] = None
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
    name: Annotated[str, ask.NAME]
    kind: Annotated[SupplyKind, Choice("Kind", of="supply_kinds")]
    voltage_v: Annotated[float, Quantity("Volts", "voltage v", "", "V", 3, 60, 0.5, (9, 28))]
    power_w: Annotated[float, Quantity("Watts", "power w", "", "W", 1, 5000, 10, (60, 1500))]
    energy_wh: Annotated[
        float | None,
        Quantity(
            "Energy it holds", "energy wh", "leave empty on the mains", "Wh", 1, 100_000, 50, (200, 2000)
        ),
    ] = None


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
            # none at all, or one that a meter would show
            between("balance_a", "Balance current", c.balance_a, 0.01 if c.balance_a else 0, 20, "A"),
            *bounds(c),
            lambda: _check_inputs(c),
        )
    )
    return charger


def check_supply(supply: Supply) -> Supply:
    """The supply itself, if every figure is possible; raises DomainError naming the field."""
    refuse(faults(*bounds(supply)))
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
        if c.by_balance and not c.balance_families:
            raise DomainError("balance_families", "It charges by the balance plug alone: which ones has it?")

    refuse(faults(one_at_least, lambda: plug_family(c.output_plug), balance))


def _check_inputs(c: Charger) -> None:
    if not c.inputs:
        raise DomainError(
            "mains_w", "Give the watts on mains, on DC, or both: without an input it cannot charge."
        )
    if c.dc_min_v is not None and c.dc_max_v is not None and c.dc_min_v > c.dc_max_v:
        raise DomainError("dc_min_v", "The lowest input volts are above the highest.")
