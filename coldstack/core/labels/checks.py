"""What a label's figures say of each other: volts give cells and chemistry, Wh and amps are checked
against mAh and C."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import CHEMISTRIES, chemistry
from coldstack.core.cells.counts import LEAST_SERIES, MOST_SERIES, MOST_STRINGS, USUAL_SERIES
from coldstack.core.labels.rate_items import HIGHEST_C, LOWEST_LIPO_C, POLYMERS
from coldstack.core.labels.rates import HIGHEST_CHARGE_C
from coldstack.core.labels.reading import LabelReading
from coldstack.core.units import GRAMS, plain_number

PRINTED_CELL_V = tuple((c.id, v) for c in CHEMISTRIES.values() for v in c.printed_v)
PRINTED_IF_NAMED = tuple((c.id, v) for c in CHEMISTRIES.values() for v in c.printed_if_named_v)
VOLT_TOLERANCE = 0.011
"""Printed volts are rounded to a tenth: 1.1 % of a cell still tells 3.70 from 3.80."""
ENERGY_TOLERANCE, AMPS_TOLERANCE = 0.05, 0.10
LIPO_ASSUMED = "The label names no chemistry: LiPo is assumed. Check it before charging."
CELL_V = (1.2, 4.4)
"""Volts in this range beside two cells and more are those of one cell."""
CELL_FULL_V = 4.0
"""Above this the volts of one cell are those at full charge."""
DENSEST_WH_PER_KG, LIGHTEST_WH_PER_KG = 400.0, 30.0
"""No pack holds more, or less: a slip in its mass or its capacity."""


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
    counts = [int(series)] if series else range(1, USUAL_SERIES + 1)
    found = [
        Meaning(c, n)
        for c, cell_v in (*PRINTED_CELL_V, *(p for p in PRINTED_IF_NAMED if p[0] == chemistry_id))
        for n in counts
        if abs(voltage_v - n * cell_v) <= max(VOLT_TOLERANCE * cell_v * n, 0.051)
        and abs(voltage_v - n * cell_v) < 0.4 * cell_v
    ]
    if series:
        full = [
            Meaning(c.id, int(series), True)
            for c in CHEMISTRIES.values()
            if abs(voltage_v - c.full_v * series) <= 0.06
        ]
        found += [m for m in full if CHEMISTRIES[m.chemistry].full_on_label]
    unique = list(dict.fromkeys(found))
    close = sorted(unique, key=lambda m: abs(voltage_v - _printed(m, voltage_v)))
    return [m for m in close if chemistry_id in (None, m.chemistry)]


def only_series(voltage_v: float, chemistry_id: str) -> int | None:
    """Cells in series that printed volts of this chemistry must mean; None where they can mean several."""
    counts = {m.series for m in meanings(voltage_v, None, chemistry_id)}
    return counts.pop() if len(counts) == 1 else None


def fill_from_volts(reading: LabelReading, measured_v: float | None) -> None:
    """Cells and chemistry that the label leaves out, from wires, printed volts, and last a meter's
    reading."""
    _fill_series_from_wires(reading)
    _tell_bare_capacity(reading)
    _settle_volts(reading)
    volts, series = reading.number("nominal_v"), reading.number("series")
    kind = reading.values.get("chemistry")
    if volts is None:
        _fill_from_full(reading, series, str(kind) if kind else None)
        kind = reading.values.get("chemistry")
    if volts is not None:
        _fill_from_printed(reading, volts, series, str(kind) if kind else None)
    if "series" not in reading.values and measured_v is not None:
        _fill_from_measured(reading, measured_v)
    if "chemistry" not in reading.values:
        reading.add("chemistry", "lipo", "assumed")
        reading.filled.append(LIPO_ASSUMED)


def _tell_bare_capacity(reading: LabelReading) -> None:
    """A capacity that was printed without its unit is told."""
    grouped = reading.number("grouped_mah")
    if grouped is not None:
        reading.filled.append(f"“{reading.words['grouped_mah']}” is read as one number, {grouped:g} mAh.")
    price = reading.words.get("price", "")
    if price and "€" not in price and "eur" not in price.lower():
        reading.filled.append(
            f"“{price}” is kept as a bare figure: all prices here are of one currency, yours."
        )
    bare = reading.number("bare_mah")
    if bare is not None:
        reading.filled.append(f"{bare:g} mAh, from the bare “{reading.words['bare_mah']}”.")


def contradictions(reading: LabelReading) -> list[str]:
    """What does not agree, each with its numbers."""
    return [
        *_volts(reading),
        *_wires(reading),
        *_energy(reading),
        *_amps(reading),
        *_rates(reading),
        *_counts(reading),
        *_mass(reading),
    ]


def _settle_volts(reading: LabelReading) -> None:
    """Which of the printed volts are the pack's nominal ones: not those of a cell, nor the higher of two."""
    first, second = reading.number("nominal_v"), reading.number("second_v")
    if (
        first is not None
        and second is not None
        and second < first
        and meanings(second, reading.number("series"))
    ):
        words = reading.words["nominal_v"]
        reading.add("nominal_v", second, reading.words["second_v"])
        reading.add("second_v", first, words)
    volts, series = reading.number("nominal_v"), reading.number("series")
    one = reading.number("cell_v")
    if (
        one is None
        and series is not None
        and series > 1
        and volts is not None
        and CELL_V[0] <= volts <= CELL_V[1]
    ):
        one = volts
    if one is None or series is None or (volts is not None and volts != one):
        return
    words = reading.words.get("cell_v") or reading.words["nominal_v"]
    reading.filled.append(f"{words} is taken as the volts of one cell.")
    if one > CELL_FULL_V:
        reading.values.pop("nominal_v", None)
        reading.add("full_v", one * series, words)
    else:
        reading.add("nominal_v", round(one * series, 2), words)


def _fill_from_full(reading: LabelReading, series: float | None, kind: str | None) -> None:
    """Cells and chemistry from volts at full charge, where nothing nominal is printed."""
    full = reading.number("full_v")
    if full is None:
        return
    counts = [int(series)] if series else range(1, USUAL_SERIES + 1)
    found = [
        Meaning(c.id, n, True)
        for c in CHEMISTRIES.values()
        if c.full_on_label and kind in (None, c.id)
        for n in counts
        if abs(full - c.full_v * n) <= 0.06
    ]
    if len(found) != 1:
        return
    words = reading.words["full_v"]
    if series is None:
        reading.add("series", found[0].series, words)
        reading.filled.append(
            f"{found[0].series} {_cells_word(found[0].series)} in series, from {words} at full charge."
        )
    if kind is None:
        reading.add("chemistry", found[0].chemistry, words)
        reading.filled.append(
            f"{chemistry(found[0].chemistry).name}, from {words} at full charge. Check it before charging."
        )


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
        n
        for n in range(1, USUAL_SERIES + 1)
        if cell.empty_rest_v * n <= measured_v <= (cell.full_v + 0.02) * n
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
    cell, n = chemistry(kind), plain_number
    if volts is not None and series is None and not meanings(volts, None, kind):
        other = meanings(volts)
        hint = (
            f" It would be {other[0].series} {chemistry(other[0].chemistry).name} "
            f"{_cells_word(other[0].series)}."
            if other
            else ""
        )
        return [f"{n(volts, 4)} V is no number of {cell.name} cells.{hint}"]
    if volts is None or series is None or meanings(volts, series, kind):
        return []
    expected = f"{int(series)} {cell.name} {_cells_word(int(series))} make {n(cell.nominal_v * series, 4)} V"
    other = meanings(volts, series) or meanings(volts, None, kind) or meanings(volts)
    hint = (
        f" {n(volts, 4)} V would be {other[0].series} {chemistry(other[0].chemistry).name} "
        f"{_cells_word(other[0].series)}."
        if other
        else ""
    )
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
    for amps_name, c_name, words in (
        ("continuous_a", "label_c", "continuous"),
        ("burst_a", "label_burst_c", "burst"),
        ("charge_a", "charge_c", "charge"),
    ):
        amps, c = reading.number(amps_name), reading.number(c_name)
        if amps is None:
            continue
        kind = str(reading.values.get("chemistry", "lipo"))
        low = c_name == "label_c" and kind in POLYMERS and amps / ah < LOWEST_LIPO_C
        if c is None and low:
            reading.asked[c_name] = (
                f"{n(amps)} A would be {n(amps / ah)}C of {n(ah)} Ah: are they the pack’s?"
            )
        elif c is None and amps / ah > (HIGHEST_CHARGE_C if c_name == "charge_c" else HIGHEST_C):
            reading.asked[c_name] = (
                f"{n(amps)} A would be {n(amps / ah)}C of {n(ah)} Ah: read the label again."
            )
        elif c is None:
            source = f"{reading.words[amps_name]} ÷ {n(ah)} Ah"
            reading.add(c_name, round(amps / ah, 2), source)
            reading.filled.append(f"{n(amps / ah)}C {words}, from {source}.")
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


def _counts(reading: LabelReading) -> list[str]:
    """Cells, strings and rates that no pack has."""
    found = []
    for name, words, low, high in (
        ("series", "cells in series", LEAST_SERIES, MOST_SERIES),
        ("parallel", "strings in parallel", 1, MOST_STRINGS),
        ("label_c", "C", 0.1, HIGHEST_C),
        ("label_burst_c", "C of burst", 0.1, 2 * HIGHEST_C),
    ):
        value = reading.number(name)
        if value is not None and not low <= value <= high:
            found.append(f"{value:g} {words} cannot be.")
    return found


def _mass(reading: LabelReading) -> list[str]:
    """Grams against watt hours."""
    mass, ah, series = (reading.number(x) for x in ("mass_g", "capacity_ah", "series"))
    if not mass or not ah or not series:
        return []
    wh = ah * series * chemistry(str(reading.values.get("chemistry", "lipo"))).nominal_v
    if LIGHTEST_WH_PER_KG <= 1000 * wh / mass <= DENSEST_WH_PER_KG:
        return []
    n = plain_number
    return [f"{n(mass)}{GRAMS} do not go with {n(wh)} Wh: that would be {n(1000 * wh / mass)} Wh/kg."]


def _printed(meaning: Meaning, voltage_v: float) -> float:
    cell_volts = [v for c, v in (*PRINTED_CELL_V, *PRINTED_IF_NAMED) if c == meaning.chemistry]
    if meaning.full:
        cell_volts = [chemistry(meaning.chemistry).full_v]
    return min((v * meaning.series for v in cell_volts), key=lambda v: abs(v - voltage_v))


def _cells_word(count: int) -> str:
    return "cell" if count == 1 else "cells"
