"""Balance plugs: the thin wires by which a charger reads each cell and evens them out."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.plugs import are_look_alikes
from coldstack.core.errors import DomainError

BALANCE_WIRE_A = 3.0
"""What a balance wire and its pin take for a while. Typical."""
INTEGRATED = "integrated"
"""Balance wires, or a main plug, that are one plug together."""
BALANCE_PLUGS: dict[str, str] = {
    "xh": "XH",
    "eh": "EH",
    "tp": "TP/PQ",
    INTEGRATED: "in the main plug",
    "none": "none",
}
"""Families of balance plugs, with their names; XH is on most packs."""


@dataclass(frozen=True, slots=True)
class BalanceFit:
    """Whether a pack's balance plug finds its port."""

    fits: bool
    sentence: str


def balance_pins(series: int) -> int:
    """Wires of a balance plug: one more than cells in series."""
    return series + 1


def series_of_wires(wires: int) -> int:
    """Cells in series by counting the balance wires.

    Raises
    ------
    DomainError
        For fewer than two wires.
    """
    if wires < 2:
        raise DomainError("balance_wires", f"A balance plug has at least 2 wires, not {wires}.")
    return wires - 1


def balance_plug_name(plug_id: str) -> str:
    """The family's name; raises DomainError for an unknown one."""
    if plug_id not in BALANCE_PLUGS:
        raise DomainError(
            "balance_plug", f"Balance plug must be one of {', '.join(BALANCE_PLUGS)}, not “{plug_id}”."
        )
    return BALANCE_PLUGS[plug_id]


def usual_balance_plug(chemistry_id: str, series: int, plug: str) -> str:
    """What a pack has where nothing is said of it: XH for lithium of two cells and more, none for one cell
    and for NiMH."""
    if plug == INTEGRATED:
        return INTEGRATED
    return "xh" if needs_balancing(chemistry_id, series) else "none"


def needs_balancing(chemistry_id: str, series: int) -> bool:
    """Lithium cells in series must be read one by one while they charge; a single cell and NiMH need not."""
    return series > 1 and chemistry(chemistry_id).balanced


def balance_fit(plug_id: str, series: int, families: tuple[str, ...], cells: int) -> BalanceFit:
    """Whether a balance plug goes into a charger or board that has these families for up to so many cells."""
    pins = balance_pins(series)
    name = balance_plug_name(plug_id)
    ports = " and ".join(BALANCE_PLUGS[f] for f in families) or "no balance port"
    if plug_id == "none":
        return BalanceFit(
            False, f"The pack has no balance plug, and {series} lithium cells in series must be balanced."
        )
    if plug_id == INTEGRATED:
        return BalanceFit(False, "Its balance wires run in the main plug: a splitter must bring them out.")
    if plug_id not in families:
        alike = [BALANCE_PLUGS[f] for f in families if are_look_alikes(f, plug_id)]
        tail = f" {name} and {alike[0]} look alike and do not mate." if alike else ""
        return BalanceFit(False, f"{name} with {pins} pins finds no port: the charger has {ports}.{tail}")
    if series > cells:
        return BalanceFit(False, f"{pins} pins for {series} cells; the port ends at {cells} cells.")
    return BalanceFit(True, f"{name}, {pins} pins for {series} cells.")
