"""A slip in the figures of gear: a pack's mass against its watt-hours, a charger's watts against its amps."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping, Sequence

from coldstack.core.asking.question import Question, asked_of
from coldstack.core.asking.slips import LENGTHS, MASSES, TENFOLD, Figures, likely_slip, off, outside
from coldstack.core.cells.chemistry import Chemistry, chemistry
from coldstack.core.cells.resistance import resistance_from_c_mohm
from coldstack.core.charging.charger import Charger, Supply
from coldstack.core.packs.masses import typical_mass_g
from coldstack.core.packs.pack import CellType, Pack

MASS_SIGMA, SIZE_SIGMA, RATE_SIGMA, OHM_SIGMA, LENGTH_SIGMA = 0.25, 0.30, 0.55, 0.90, 0.30
"""How far packs are from the usual: mass, volume, C figures, resistance × capacity, leads. House figures,
as all below."""
DENSITY_G_MM3 = 2.1e-3
"""Of packs with their wrap and leads. [g/mm³]"""
LABEL_C, CHARGE_C, BURST = (8.0, 160.0), (0.5, 6.0), (1.0, 3.0)
"""What labels print: C, charge C, burst over continuous; from and to."""
LEAD_MM, WH_PRICE = (25.0, 300.0), (0.25, 3.0)
"""Leads; money for a watt-hour."""
HONEST_C = 35.0
"""What good pouches give. [C]"""
PORT_SHARE, TOTAL_SHARE = (0.16, 1.6), (0.3, 1.5)
"""A port's watts over its amps at its most volts; a charger's watts over those of its ports; from and to."""
STEP_A, BALANCE_A, PORT_A, SUPPLY_V, SUPPLY_W = (
    (0.01, 0.5),
    (0.05, 3.0),
    (0.3, 40.0),
    (5.0, 60.0),
    (15.0, 3000.0),
)


_OF_PACK = (
    "capacity_ah",
    "mass_g",
    "label_c",
    "label_burst_c",
    "charge_c",
    "cell_mohm",
    "length_mm",
    "width_mm",
    "height_mm",
    "lead_length_mm",
    "price",
)
_OF_CHARGER = (
    "port_a",
    "port_w",
    "step_a",
    "mains_w",
    "dc_w",
    "dc_min_v",
    "dc_max_v",
    "balance_a",
    "discharge_w",
    "storage_cap_a",
)
_OF_CELL = (
    "capacity_ah",
    "mass_g",
    "diameter_mm",
    "length_mm",
    "continuous_a",
    "burst_a",
    "resistance_mohm",
)


def slips_in_pack(p: Pack, sure: tuple[str, ...] = ()) -> list[Question]:
    """What to ask of a pack by its label, as it is typed."""
    names: tuple[str, ...] = (
        "capacity_ah",
        "mass_g",
        "label_c",
        "label_burst_c",
        "charge_c",
        "cell_mohm",
        "length_mm",
    )
    names += ("width_mm", "height_mm", "lead_length_mm", "price")
    figures = {n: float(v) for n in names if (v := getattr(p, n)) and n not in p.assumed}
    figures["series"] = float(p.series)
    turns = _turns(figures)
    turns |= {n: (0.1, 10.0) for n in ("label_c", "label_burst_c", "charge_c") if n in turns}
    del turns["series"]
    return _asked(figures, turns, lambda f: _pack_fit(p, f), p, sure, "with such a pack")


def _pack_fit(p: Pack, f: Figures) -> float:
    cell, ah = chemistry(p.chemistry), f["capacity_ah"]
    found = outside(ah, 0.1 * p.parallel, 12.0 * p.parallel, LENGTH_SIGMA)
    usual_g = typical_mass_g(p.chemistry, p.series, ah, f.get("label_c"), hard=p.hard_case)
    if "mass_g" in f:
        found += off(f["mass_g"], usual_g, MASS_SIGMA)
    sizes = [f[n] for n in ("length_mm", "width_mm", "height_mm") if n in f]
    if len(sizes) == 3:
        length, width, height = sizes
        found += off(length * width * height * DENSITY_G_MM3, f.get("mass_g", usual_g), SIZE_SIGMA)
        found += outside(length / width, 0.6, 6.0, SIZE_SIGMA) + outside(width / height, 0.5, 8.0, SIZE_SIGMA)
    if "label_c" in f:
        found += outside(f["label_c"], *LABEL_C, 0.35)
        if cell.pouch:
            found += off(f["label_c"], max(cell.typical_label_c, 30.0), 1.0)
    if "label_burst_c" in f:
        found += outside(f["label_burst_c"] / f.get("label_c", cell.typical_label_c), *BURST, RATE_SIGMA)
    if "charge_c" in f:
        found += outside(f["charge_c"], *CHARGE_C, RATE_SIGMA)
    if "cell_mohm" in f:
        found += off(f["cell_mohm"] * ah, _usual_mohm_ah(cell), OHM_SIGMA)
    if "lead_length_mm" in f:
        found += outside(f["lead_length_mm"], *LEAD_MM, LENGTH_SIGMA)
    if "price" in f:
        found += outside(f["price"] / (p.series * cell.nominal_v * ah), *WH_PRICE, LENGTH_SIGMA)
    return found


def _usual_mohm_ah(cell: Chemistry) -> float:
    """Resistance of a cell times its capacity; of pouches that of an honest C that is usual. [mΩ·Ah]"""
    return cell.typical_resistance_mohm_ah or float(resistance_from_c_mohm(HONEST_C, 1.0))


def slips_in_charger(c: Charger, sure: tuple[str, ...] = ()) -> list[Question]:
    """What to ask of a charger by its sheet."""
    names: tuple[str, ...] = (
        "port_a",
        "port_w",
        "step_a",
        "mains_w",
        "dc_w",
        "balance_a",
        "discharge_w",
        "storage_cap_a",
    )
    names += ("dc_min_v", "dc_max_v")
    figures = {n: float(v) for n in names if (v := getattr(c, n)) and n not in c.assumed}
    turns = dict.fromkeys(figures, TENFOLD)
    return _asked(figures, turns, lambda f: _charger_fit(c, f), c, sure, "with the rest of it")


def _charger_fit(c: Charger, f: Figures) -> float:
    most_v = 4.2 * max(c.series_max, 1)
    found = outside(f["port_a"], *PORT_A, LENGTH_SIGMA)
    if "port_w" in f:
        found += outside(f["port_w"] / (f["port_a"] * most_v), *PORT_SHARE, SIZE_SIGMA)
    for total in ("mains_w", "dc_w"):
        if total in f:
            ports_w = c.ports * f.get("port_w", 0.5 * f["port_a"] * most_v)
            found += outside(f[total] / ports_w, *TOTAL_SHARE, SIZE_SIGMA)
    if "step_a" in f:
        found += outside(f["step_a"], *STEP_A, SIZE_SIGMA)
    if "balance_a" in f:
        found += outside(f["balance_a"], *BALANCE_A, SIZE_SIGMA)
    if "discharge_w" in f and "port_w" in f:
        found += outside(f["discharge_w"] / f["port_w"], 0.02, 1.5, LENGTH_SIGMA)
    if "storage_cap_a" in f:
        found += outside(f["storage_cap_a"] / f["port_a"], 0.05, 1.2, SIZE_SIGMA)
    for volts in ("dc_min_v", "dc_max_v"):
        if volts in f:
            found += outside(f[volts], *SUPPLY_V, SIZE_SIGMA)
    return found


def slips_in_supply(s: Supply, sure: tuple[str, ...] = ()) -> list[Question]:
    """What to ask of a supply."""
    figures = _given(s, ("voltage_v", "power_w", "energy_wh"))

    def fit(f: Figures) -> float:
        found = outside(f["voltage_v"], *SUPPLY_V, SIZE_SIGMA) + outside(f["power_w"], *SUPPLY_W, SIZE_SIGMA)
        if "energy_wh" in f:
            found += outside(f["energy_wh"] / f["power_w"], 0.2, 20.0, SIZE_SIGMA)
        return found

    return _asked(figures, dict.fromkeys(figures, TENFOLD), fit, s, sure, "with the rest of it")


def slips_in_cell(c: CellType, sure: tuple[str, ...] = ()) -> list[Question]:
    """What to ask of a cell by its data sheet."""
    names = (
        "capacity_ah",
        "mass_g",
        "diameter_mm",
        "length_mm",
        "continuous_a",
        "burst_a",
        "resistance_mohm",
    )
    figures = {n: float(v) for n in names if (v := getattr(c, n))}
    cell = chemistry(c.chemistry)

    def fit(f: Figures) -> float:
        volume = 0.785 * f["diameter_mm"] ** 2 * f["length_mm"]
        found = off(f["mass_g"] / volume, 2.75e-3, SIZE_SIGMA)
        found += off(f["capacity_ah"] * cell.nominal_v / f["mass_g"], 0.2, 0.5)
        found += outside(f["length_mm"] / f["diameter_mm"], 1.5, 6.0, SIZE_SIGMA)
        found += outside(f["continuous_a"] / f["capacity_ah"], 0.5, 20.0, SIZE_SIGMA)
        if "burst_a" in f:
            found += outside(f["burst_a"] / f["continuous_a"], *BURST, RATE_SIGMA)
        if "resistance_mohm" in f:
            found += off(f["resistance_mohm"] * f["capacity_ah"], _usual_mohm_ah(cell), OHM_SIGMA)
        return found

    turns = _turns(figures)
    return _asked(figures, turns, fit, c, sure, "with such a cell")


def _given(of: object, names: Sequence[str], assumed: Collection[str] = ()) -> dict[str, float]:
    """What somebody gave of these figures."""
    return {n: float(v) for n in names if (v := getattr(of, n)) and n not in assumed}


def _turns(figures: Figures) -> dict[str, tuple[float, ...]]:
    """What may have slipped into each, by what it is."""
    by_unit: dict[str, tuple[float, ...]] = {"mass_g": MASSES}
    return {n: LENGTHS if n.endswith("_mm") else by_unit.get(n, TENFOLD) for n in figures}


def _asked(
    figures: Figures,
    turns: Mapping[str, tuple[float, ...]],
    fit: Callable[[Figures], float],
    of: object,
    sure: tuple[str, ...],
    against: str,
) -> list[Question]:
    slip = likely_slip(figures, turns, fit, sure=sure)
    return [asked_of(slip, of, against)] if slip else []
