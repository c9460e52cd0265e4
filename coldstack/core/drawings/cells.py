"""The pack as it is: its cells side by side, and its balance plug's pins with what a multimeter reads.

Which cell stands out is decided elsewhere: at rest by how far its volts are apart and by the sign of health
about resistances, while it charges by the alarms of the watch. Here it is marked.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median
from typing import Literal

from coldstack.core.chain.balance import BALANCE_PLUGS, balance_pins
from coldstack.core.charging.charger import Charger
from coldstack.core.keeping.evidence import Evidence
from coldstack.core.packs.pack import Pack
from coldstack.core.readings.tolerance import Apart, apart
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.watching.alarm import Alarm

Mark = Literal["", "watch", "act"]
PER_MV = 1000.0


@dataclass(frozen=True, slots=True)
class CellDrawn:
    """One cell, from minus on. ``under_mv`` is below the highest; ``times_others`` its resistance over the
    middle of the others', ``times_first`` over its own first; None where nobody read it. ``words`` say what
    its volts are marked for, or what alarms are about it."""

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


@dataclass(frozen=True, slots=True)
class ChargerPort:
    """A charger's balance port for this plug: its pins from minus on, those of this pack ``used``."""

    charger: str
    pins: int
    used: int
    sentence: str


@dataclass(frozen=True, slots=True)
class CellsCharging:
    """Cells under current, as they were read last, with the alarms that stand about them."""

    cells: tuple[CellDrawn, ...]
    sentence: str


def pack_drawing(
    pack: Pack,
    *,
    rules: HouseRules,
    cell_v: Sequence[float] = (),
    mohm: Sequence[float] = (),
    first_mohm: Sequence[float] = (),
    resists: Evidence | str = "",
) -> PackDrawing:
    """The pack by its latest readings; each list has one figure a cell, or none.

    The cell that is farthest from the others' middle is marked where the house has the pack's cells watched
    for how far apart they are; one that resists more than the others where ``resists``, the sign of health,
    is about it.
    """
    n = pack.series
    volts = list(cell_v) if len(cell_v) == n else []
    ohms = list(mohm) if len(mohm) == n else []
    firsts = list(first_mohm) if len(first_mohm) == n else []
    far = apart(pack.chemistry, max(volts) - min(volts), rules) if len(volts) > 1 else "close"
    odd = max(range(n), key=lambda k: abs(volts[k] - _others(volts, k))) if len(volts) > 1 else None
    sign = resists if isinstance(resists, Evidence) else None
    cells = tuple(_cell(k, volts, ohms, firsts, far if k == odd else "close", sign) for k in range(n))
    family = pack.balance_family
    own = pack.balance_brought_out
    return PackDrawing(
        cells=cells,
        pins=tuple(_pin(k, volts) for k in range(balance_pins(n))) if own else (),
        balance=BALANCE_PLUGS[family] if own else "",
        sentence=_sentence(cells, resists),
    )


def cells_charging(cell_v: Sequence[float], alarms: Sequence[Alarm]) -> CellsCharging:
    """Cells as a charger reads them; ``alarms`` are those that stand."""
    cells = tuple(_charging(k, cell_v, [a for a in alarms if a.cell == k + 1]) for k in range(len(cell_v)))
    said = list(dict.fromkeys(a.sentence for a in alarms if a.cell is not None))
    if not cells:
        return CellsCharging((), "No cell was read yet.")
    return CellsCharging(cells, " ".join(said) or "No alarm is about a single cell.")


def charger_port(pack: Pack, charger: Charger) -> ChargerPort | None:
    """The charger's port beside the pack's balance plug; None where the plug has no port of its family. A
    smaller plug sits at the minus end of a larger port."""
    if not pack.balance_brought_out or pack.balance_family not in charger.balance_families:
        return None
    pins, used = balance_pins(charger.series_max), balance_pins(pack.series)
    if used > pins:
        return None
    name = BALANCE_PLUGS[pack.balance_family]
    where = "all of them" if used == pins else f"the first {used} from minus, unless its sheet says otherwise"
    words = (
        f"{charger.name} has {name} up to {charger.series_max} cells, {pins} pins; this plug takes {where}."
    )
    return ChargerPort(charger.name, pins, used, words)


def _charging(k: int, cell_v: Sequence[float], alarms: Sequence[Alarm]) -> CellDrawn:
    mark: Mark = "act" if any(a.level == "stop" for a in alarms) else "watch" if alarms else ""
    return CellDrawn(
        number=k + 1,
        volts=cell_v[k],
        under_mv=PER_MV * (max(cell_v) - cell_v[k]),
        mohm=None,
        times_others=None,
        times_first=None,
        mark=mark,
        words=" ".join(a.sentence for a in alarms),
    )


def _others(values: Sequence[float], k: int) -> float:
    """The middle of all but one."""
    return median([*values[:k], *values[k + 1 :]])


def _cell(
    k: int,
    volts: Sequence[float],
    ohms: Sequence[float],
    firsts: Sequence[float],
    far: Apart,
    resists: Evidence | None,
) -> CellDrawn:
    words = ""
    mark: Mark = ""
    if far in ("watch", "act"):
        off = PER_MV * (volts[k] - _others(volts, k))
        words = f"{abs(off):.0f} mV {'over' if off > 0 else 'under'} the others"
        mark = "act" if far == "act" else "watch"
    if resists is not None and resists.cell == k + 1 and resists.level != "fine":
        mark = _worse(mark, "act" if resists.level == "retire" else "watch")
    return CellDrawn(
        number=k + 1,
        volts=volts[k] if volts else None,
        under_mv=PER_MV * (max(volts) - volts[k]) if volts else None,
        mohm=ohms[k] if ohms else None,
        times_others=ohms[k] / _others(ohms, k) if len(ohms) > 1 else None,
        times_first=ohms[k] / firsts[k] if ohms and firsts and firsts[k] > 0 else None,
        mark=mark,
        words=words,
    )


def _worse(a: Mark, b: Mark) -> Mark:
    order: tuple[Mark, ...] = ("", "watch", "act")
    return max(a, b, key=order.index)


def _pin(k: int, volts: Sequence[float]) -> Pin:
    name = "minus of the pack" if k == 0 else f"plus of cell {k}"
    return Pin(k + 1, sum(volts[:k]) if volts else None, name)


def _sentence(cells: Sequence[CellDrawn], resists: Evidence | str) -> str:
    """The volts, then what they resist: marked ones first, nothing praised that was not read."""
    if len(cells) == 1:
        return "One cell."
    if all(c.volts is None and c.mohm is None for c in cells):
        return "Nobody read its cells yet."
    apart_words = "; ".join(f"cell {c.number} is {c.words}" for c in cells if c.words)
    said = [f"C{apart_words[1:]}."] if apart_words else []
    if cells[0].volts is None:
        said = ["Nobody read its cells’ volts lately."]
    if isinstance(resists, Evidence):
        if resists.level != "fine":
            said.append(resists.sentence)
    elif any(c.mohm is not None for c in cells):
        said.append("Too few readings to tell its cells by what they resist.")
    return " ".join(said) if said else "No cell stands out."
