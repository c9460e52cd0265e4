"""Figures that a form needs and a label lacks: typical ones, named as guesses, to be replaced by a scale and a look."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.plugs import family_good_for
from coldstack.core.chain.wire import wire_continuous_a
from coldstack.core.packs.label_reading import LabelReading

USUAL_LOAD_C = 12.0
"""What packs of medium size mostly carry; leads and plugs are chosen by it. House figure."""


@dataclass(frozen=True, slots=True)
class Guess:
    """A typical figure, and what it was guessed from."""

    value: float | str
    words: str


def guesses(reading: LabelReading) -> dict[str, Guess]:
    """Mass, plug and lead gauge where the label is silent; only where cells and capacity are known."""
    series, ah = reading.number("series"), reading.number("capacity_ah")
    if series is None or ah is None or ah <= 0:
        return {}
    cell = chemistry(str(reading.values.get("chemistry", "lipo")))
    middle = sum(cell.pack_wh_per_kg) / 2
    c = min(reading.number("label_c") or cell.typical_label_c, USUAL_LOAD_C)
    amps = c * ah
    family = family_good_for(amps, amps) if ah >= 0.7 or series > 1 else None
    awg = next((g for g in (26, 22, 20, 18, 16, 14, 12, 10, 8) if wire_continuous_a(g) >= amps), 8)
    found = {
        "mass_g": Guess(round(1000 * cell.nominal_v * series * ah / middle), f"{cell.name} at about {middle:.0f} Wh/kg"),
        "plug": Guess(family.id if family else "ph_2", f"for about {amps:.0f} A"),
        "lead_awg": Guess(float(awg), f"for about {amps:.0f} A"),
    }  # fmt: skip
    return {name: guess for name, guess in found.items() if name not in reading.values}
