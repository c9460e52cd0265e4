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

USUAL_LOAD_C = 12.0
"""What packs of medium size mostly carry; leads and plugs are chosen by it. House figure."""


USUAL_PLUGS = ("xt30", "xt60", "xt90", "ec5")
"""Plugs that packs are mostly sold with, the smallest first."""


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
    found = {
        "mass_g": Guess(
            typical_mass_g(cell.id, int(series), ah),
            f"{cell.name} at about {sum(cell.pack_wh_per_kg) / 2:.0f} Wh/kg",
        ),
        "plug": Guess(plug, f"for about {amps:.0f} A"),
        "name": Guess(pack_name(reading), "from the label"),
        "lead_awg": Guess(awg, f"for about {amps:.0f} A"),
    }
    return {name: guess for name, guess in found.items() if name not in reading.values}


def usual_load_a(chemistry_id: str, capacity_ah: float, label_c: float | None) -> float:
    """What a pack of this size mostly carries; its leads and its plug are chosen by it. [A]"""
    return min(label_c or chemistry(chemistry_id).typical_label_c, USUAL_LOAD_C) * capacity_ah


def typical_mass_g(chemistry_id: str, series: int, capacity_ah: float) -> float:
    """Mass of a pack of this chemistry and energy, in the middle of what such packs hold. [g]"""
    cell = chemistry(chemistry_id)
    return float(round(1000 * cell.nominal_v * series * capacity_ah / (sum(cell.pack_wh_per_kg) / 2)))


def usual_plug(series: int, capacity_ah: float, amps: float) -> str:
    """The plug that packs of this size mostly carry: the smallest of the usual ones that takes these
    continuous amps."""
    usual = ("ph_2",) if series == 1 and capacity_ah < 0.7 else USUAL_PLUGS
    return next((p for p in usual if PLUGS[p].continuous_a >= amps), usual[-1])


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
