"""The pack as it is: its cells side by side, and its balance plug's pins with what a multimeter reads."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

from coldstack.core.chain.balance import BALANCE_PLUGS, balance_pins
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import Apart, apart
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.units import plain_number

Mark = Literal["", "watch", "act"]
PER_MV = 1000.0


@dataclass(frozen=True, slots=True)
class CellDrawn:
    """One cell, from minus on. ``under_mv`` is below the highest; ``times_others`` its resistance over the
    middle of the others', ``times_first`` over its own first; None where nobody read it. ``words`` say why
    it is marked."""

    number: int
    volts: float | None
    under_mv: float | None
    mohm: float | None
    times_others: float | None
    times_first: float | None
    mark: Mark
    words: str


@dataclass(frozen=True, slots=True)
class Pin:
    """One pin of the balance plug: ``volts`` over the first, None where nobody read the cells."""

    number: int
    volts: float | None
    name: str


@dataclass(frozen=True, slots=True)
class PackDrawing:
    """All cells, all pins. ``balance`` is the family of the balance plug, in words; no pins where it has no
    such plug of its own."""

    cells: tuple[CellDrawn, ...]
    pins: tuple[Pin, ...]
    balance: str
    sentence: str


def pack_drawing(
    pack: Pack,
    *,
    rules: HouseRules,
    cell_v: Sequence[float] = (),
    mohm: Sequence[float] = (),
    first_mohm: Sequence[float] = (),
) -> PackDrawing:
    """The pack by its latest readings; each list has one figure a cell, or none.

    The cell that is farthest from the others' middle is marked where the house has the pack's cells watched
    for how far apart they are; one that resists so much more than the others, likewise.
    """
    n = pack.series
    volts = list(cell_v) if len(cell_v) == n else []
    ohms = list(mohm) if len(mohm) == n else []
    firsts = list(first_mohm) if len(first_mohm) == n else []
    far = apart(pack.chemistry, max(volts) - min(volts), rules) if len(volts) > 1 else "close"
    odd = max(range(n), key=lambda k: abs(volts[k] - _others(volts, k))) if len(volts) > 1 else None
    cells = tuple(_cell(k, volts, ohms, firsts, rules, far if k == odd else "close") for k in range(n))
    family = pack.balance_family
    own = pack.balance_brought_out
    return PackDrawing(
        cells=cells,
        pins=tuple(_pin(k, volts) for k in range(balance_pins(n))) if own else (),
        balance=BALANCE_PLUGS[family] if own else "",
        sentence=_sentence(cells),
    )


def _others(values: Sequence[float], k: int) -> float:
    """The middle of all but one."""
    return median([*values[:k], *values[k + 1 :]])


def _cell(
    k: int,
    volts: Sequence[float],
    ohms: Sequence[float],
    firsts: Sequence[float],
    rules: HouseRules,
    far: Apart,
) -> CellDrawn:
    times = ohms[k] / _others(ohms, k) if len(ohms) > 1 else None
    marks: list[tuple[Mark, str]] = []
    if far in ("watch", "act"):
        off = PER_MV * (volts[k] - _others(volts, k))
        side = "over" if off > 0 else "under"
        marks.append(("act" if far == "act" else "watch", f"{abs(off):.0f} mV {side} the others"))
    if times is not None and times >= rules.cell_watch:
        mark: Mark = "act" if times >= rules.cell_bad else "watch"
        marks.append((mark, f"resists {plain_number(times, 2)} times as much as the others"))
    return CellDrawn(
        number=k + 1,
        volts=volts[k] if volts else None,
        under_mv=PER_MV * (max(volts) - volts[k]) if volts else None,
        mohm=ohms[k] if ohms else None,
        times_others=times,
        times_first=ohms[k] / firsts[k] if ohms and firsts and firsts[k] > 0 else None,
        mark="act" if any(m == "act" for m, _ in marks) else marks[0][0] if marks else "",
        words=" and ".join(words for _, words in marks),
    )


def _pin(k: int, volts: Sequence[float]) -> Pin:
    name = "minus of the pack" if k == 0 else f"plus of cell {k}"
    return Pin(k + 1, sum(volts[:k]) if volts else None, name)


def _sentence(cells: Sequence[CellDrawn]) -> str:
    marked = [c for c in cells if c.mark]
    if marked:
        return "; ".join(_marked_words(c) for c in marked) + "."
    if all(c.volts is None and c.mohm is None for c in cells):
        return "Nobody read its cells yet."
    if cells[0].volts is None and len(cells) > 1:
        return "Nobody read its cells’ volts lately; by what they resist none stands out."
    return "No cell stands out." if len(cells) > 1 else "One cell."


def _marked_words(c: CellDrawn) -> str:
    return f"Cell {c.number} {'is ' if c.words[0].isdigit() else ''}{c.words}"
