"""What a label's figures say of each other: volts give cells and chemistry, Wh and amps are checked against mAh and C."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.packs.label_reading import LabelReading
from coldstack.core.units import plain_number

PRINTED_CELL_V: tuple[tuple[str, float], ...] = (
    ("lipo", 3.70), ("lihv", 3.80), ("lihv", 3.85), ("liion", 3.60), ("liion", 3.65), ("lifepo4", 3.20), ("lifepo4", 3.30), ("nimh", 1.20), ("semisolid", 3.70),
)  # fmt: skip
"""Nominal volts a cell that makers print. Full-charge volts are recognised apart."""
VOLT_TOLERANCE = 0.011
"""Printed volts are rounded to a tenth: 1.1 % of a cell still tells 3.70 from 3.80."""
ENERGY_TOLERANCE, AMPS_TOLERANCE = 0.05, 0.10
MOST_CELLS = 14


@dataclass(frozen=True, slots=True)
class Meaning:
    """What printed volts can mean."""

    chemistry: str
    series: int
    full: bool = False


def meanings(voltage_v: float, series: float | None = None, chemistry_id: str | None = None) -> list[Meaning]:
    """Every chemistry and cell count whose printed nominal (or full) volts these are, most usual first.

    15.2 V is four LiHV cells; 7.2 V is six NiMH or two Li-ion. A given count or chemistry narrows it.
    """
    counts = [int(series)] if series else range(1, MOST_CELLS + 1)
    found = [
        Meaning(c, n)
        for c, cell_v in PRINTED_CELL_V
        if c != "semisolid" or chemistry_id == c  # volts alone do not tell it from LiPo
        for n in counts
        if abs(voltage_v - n * cell_v) <= max(VOLT_TOLERANCE * cell_v * n, 0.051) and abs(voltage_v - n * cell_v) < 0.4 * cell_v
    ]  # fmt: skip
    if series:
        full = [Meaning(c.id, int(series), True) for c in CHEMISTRIES.values() if abs(voltage_v - c.full_v * series) <= 0.06]  # fmt: skip
        found += [m for m in full if m.chemistry in ("lipo", "lihv", "lifepo4")]
    unique = list(dict.fromkeys(found))
    close = sorted(unique, key=lambda m: abs(voltage_v - _printed(m, voltage_v)))
    return [m for m in close if chemistry_id in (None, m.chemistry)]


def fill_from_volts(reading: LabelReading, measured_v: float | None) -> None:
    """Cells and chemistry that the label leaves out, from wires, printed volts, and last a meter's reading."""
    _fill_series_from_wires(reading)
    volts, series = reading.number("nominal_v"), reading.number("series")
    kind = reading.values.get("chemistry")
    if volts is not None:
        _fill_from_printed(reading, volts, series, str(kind) if kind else None)
    if "series" not in reading.values and measured_v is not None:
        _fill_from_measured(reading, measured_v)
    if "chemistry" not in reading.values:
        reading.add("chemistry", "lipo", "assumed")
        reading.filled.append("The label names no chemistry: LiPo is assumed. Check it before charging.")


def contradictions(reading: LabelReading) -> list[str]:
    """What does not agree, each with its numbers."""
    return [*_volts(reading), *_wires(reading), *_energy(reading), *_amps(reading), *_rates(reading)]


def _fill_series_from_wires(reading: LabelReading) -> None:
    wires = reading.number("wires_series")
    if wires is not None and "series" not in reading.values:
        reading.add("series", int(wires), reading.words["wires_series"])
        reading.filled.append(f"{int(wires)} cells in series, from {reading.words['wires_series']}.")


def _fill_from_printed(reading: LabelReading, volts: float, series: float | None, kind: str | None) -> None:
    found = meanings(volts, series, kind)
    if not found:
        return
    best, printed = found[0], reading.words["nominal_v"]
    others = {(m.series, m.chemistry) for m in found}
    if len(others) > 1 and series is None and kind is None:
        rest = " or ".join(f"{m.series} {chemistry(m.chemistry).name}" for m in found)
        reading.filled.append(f"{printed} can be {rest} cells; the first is taken. Count the balance wires.")
    if series is None:
        reading.add("series", best.series, printed)
        reading.filled.append(f"{best.series} {_cells_word(best.series)} in series, from {printed}.")
    if kind is None:
        reading.add("chemistry", best.chemistry, printed)
        cell_v = volts / best.series
        what = "full" if best.full else "nominal"
        reading.filled.append(
            f"{chemistry(best.chemistry).name}, from {printed}: {cell_v:.2f} V a cell {what}."
        )


def _fill_from_measured(reading: LabelReading, measured_v: float) -> None:
    kind = str(reading.values.get("chemistry", "lipo"))
    cell = chemistry(kind)
    possible = [
        n for n in range(1, MOST_CELLS + 1) if cell.empty_rest_v * n <= measured_v <= (cell.full_v + 0.02) * n
    ]
    if len(possible) == 1:
        reading.add("series", possible[0], f"{measured_v:g} V measured")
        reading.filled.append(
            f"{possible[0]} {_cells_word(possible[0])} in series, from {measured_v:g} V measured."
        )
    elif possible:
        counts = " or ".join(str(n) for n in possible)
        reading.filled.append(
            f"{measured_v:g} V measured can be {counts} {cell.name} cells: count the balance wires."
        )


def _volts(reading: LabelReading) -> list[str]:
    volts, series = reading.number("nominal_v"), reading.number("series")
    kind = str(reading.values.get("chemistry", "lipo"))
    if volts is None or series is None or meanings(volts, series, kind):
        return []
    cell, n = chemistry(kind), plain_number
    expected = f"{int(series)} {cell.name} {_cells_word(int(series))} make {n(cell.nominal_v * series, 4)} V"
    other = meanings(volts, series) or meanings(volts, None, kind) or meanings(volts)
    hint = f" {n(volts, 4)} V would be {other[0].series} {chemistry(other[0].chemistry).name} {_cells_word(other[0].series)}." if other else ""  # fmt: skip
    return [f"{expected}, not {n(volts, 4)} V.{hint}"]


def _wires(reading: LabelReading) -> list[str]:
    wires, series = reading.number("wires_series"), reading.number("series")
    if wires is None or series is None or wires == series:
        return []
    return [
        f"{int(wires) + 1} balance wires mean {int(wires)} cells in series, but the label says {int(series)}."
    ]


def _energy(reading: LabelReading) -> list[str]:
    wh, ah = reading.number("energy_wh"), reading.number("capacity_ah")
    volts = reading.number("nominal_v")
    series = reading.number("series")
    if volts is None and series is not None:
        volts = chemistry(str(reading.values.get("chemistry", "lipo"))).nominal_v * series
    if wh is None or volts is None or wh <= 0 or volts <= 0:
        return []
    n = plain_number
    if ah is None:
        reading.add("capacity_ah", round(wh / volts, 3), f"{reading.words['energy_wh']} ÷ {n(volts, 4)} V")
        reading.filled.append(f"{n(1000 * wh / volts)} mAh, from {n(wh)} Wh ÷ {n(volts, 4)} V.")
        return []
    if abs(wh - volts * ah) <= ENERGY_TOLERANCE * wh:
        return []
    return [f"{n(volts, 4)} V × {n(ah)} Ah are {n(volts * ah)} Wh, but the label says {n(wh)} Wh."]


def _amps(reading: LabelReading) -> list[str]:
    ah, found, n = reading.number("capacity_ah"), [], plain_number
    if not ah:
        return []
    for amps_name, c_name, words in (("continuous_a", "label_c", "continuous"), ("burst_a", "label_burst_c", "burst"), ("charge_a", "charge_c", "charge")):  # fmt: skip
        amps, c = reading.number(amps_name), reading.number(c_name)
        if amps is None:
            continue
        if c is None:
            reading.add(c_name, round(amps / ah, 2), f"{reading.words[amps_name]} ÷ {n(ah)} Ah")
            reading.filled.append(f"{n(amps / ah)}C {words}, from {n(amps)} A ÷ {n(ah)} Ah.")
        elif abs(amps - c * ah) > AMPS_TOLERANCE * max(amps, c * ah):
            found.append(f"{n(c)}C × {n(ah)} Ah are {n(c * ah)} A {words}, but the label says {n(amps)} A.")
    return found


def _rates(reading: LabelReading) -> list[str]:
    steady, burst, charge = (reading.number(x) for x in ("label_c", "label_burst_c", "charge_c"))
    found = []
    if steady is not None and burst is not None and burst < steady:
        found.append(
            f"The burst rate ({burst:g}C) is below the continuous one ({steady:g}C): they may be swapped."
        )
    if steady is not None and charge is not None and charge > steady:
        found.append(
            f"The charge rate ({charge:g}C) is above the discharge rate ({steady:g}C): never confuse the two."
        )
    return found


def _printed(meaning: Meaning, voltage_v: float) -> float:
    cell_volts = [v for c, v in PRINTED_CELL_V if c == meaning.chemistry]
    if meaning.full:
        cell_volts = [chemistry(meaning.chemistry).full_v]
    return min((v * meaning.series for v in cell_volts), key=lambda v: abs(v - voltage_v))


def _cells_word(count: int) -> str:
    return "cell" if count == 1 else "cells"
