"""Figures that a form needs and a label lacks: typical ones, named as guesses, to be replaced by a scale
and a look."""

from __future__ import annotations

import re
from dataclasses import dataclass

from coldstack.core.cells.chemistry import chemistry
from coldstack.core.chain.plugs import PLUGS
from coldstack.core.chain.wire import usual_awg
from coldstack.core.labels.rate_items import word_kind
from coldstack.core.labels.reading import LabelReading
from coldstack.core.packs.masses import typical_mass_g

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
    amps = usual_load_a(cell.id, ah, reading.number("label_c"))
    plug, awg = usual_plug(int(series), ah, amps), usual_awg(amps)
    grams = typical_mass_g(cell.id, int(series), ah, reading.number("label_c"))
    found = {
        "mass_g": Guess(
            float(f"{grams:.3g}"),
            f"{cell.name} at about {1000 * cell.nominal_v * int(series) * ah / grams:.0f} Wh/kg",
        ),
        "plug": Guess(plug, f"for about {amps:.0f} A"),
        "name": Guess(pack_name(reading), "from the label"),
        "lead_awg": Guess(awg, f"for about {amps:.0f} A"),
    }
    return {name: guess for name, guess in found.items() if name not in reading.values}


def usual_load_a(chemistry_id: str, capacity_ah: float, label_c: float | None) -> float:
    """What a pack of this size mostly carries; its leads and its plug are chosen by it. [A]"""
    return min(label_c or chemistry(chemistry_id).typical_label_c, USUAL_LOAD_C) * capacity_ah


def usual_plug(series: int, capacity_ah: float, amps: float) -> str:
    """The plug that packs of this size mostly carry: by habit, or the next that takes these continuous
    amps."""
    habit = size_plug(series, capacity_ah)
    if habit == SIZE_PLUGS[0]:
        return habit  # small one-cell packs carry it whatever they give
    above = SIZE_PLUGS[SIZE_PLUGS.index(habit) :]
    return next((p for p in above if PLUGS[p].continuous_a >= amps), above[-1])


def size_plug(series: int, capacity_ah: float) -> str:
    """The plug that people solder on a pack of this size, whatever it gives."""
    if series == 1 and capacity_ah < 0.7:
        return "ph_2"
    if series <= 3 and capacity_ah <= 0.5:
        return "rcy"
    return next((plug for plug, most_ah in _UP_TO_AH if capacity_ah <= most_ah), "as150")


SIZE_PLUGS = ("ph_2", "rcy", "xt30", "xt60", "xt90", "as150")
"""Plugs that packs are mostly sold with, the smallest first."""
_UP_TO_AH = (("xt30", 0.9), ("xt60", 4.5), ("xt90", 18.0))


def pack_name(reading: LabelReading) -> str:
    """What a shop would call it: the label's other words, cells, mAh, chemistry unless it is plain LiPo,
    the C that is printed."""
    ah, series = reading.number("capacity_ah"), reading.number("series")
    parallel, c = reading.number("parallel"), reading.number("label_c")
    kind = str(reading.values.get("chemistry", "lipo"))
    printed = re.search(r"\dc", reading.words.get("label_c", "").replace(" ", ""), re.I)
    # a word of rates that found no figure is no name
    own = [w for w in reading.unread.split() if not word_kind(w.strip(".:").lower())]
    words = [
        " ".join(own)[:60],
        (f"{series:g}S" if series else "") + (f"{parallel:g}P" if parallel and parallel > 1 else ""),
        f"{1000 * ah:.0f}" if ah else "",
        "" if chemistry(kind).unsaid else chemistry(kind).name,
        f"{c:g}C" if c and printed else "",
    ]
    return " ".join(w for w in words if w)
