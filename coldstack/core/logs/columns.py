"""Which column of a log is what, in which unit: by its name in several languages, by its unit, last by
its figures."""

from __future__ import annotations

import csv
import re
import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Literal, get_args

import numpy as np

from coldstack.core.logs.numbers import figures_of
from coldstack.core.logs.table import Table, is_clock, is_date

Quantity = Literal["time", "date", "volts", "cell_volts", "amps", "watts"]
QUANTITIES: tuple[Quantity, ...] = get_args(Quantity)
UNITS: dict[Quantity, dict[str, float]] = {
    "time": {"s": 1.0, "ms": 1e-3, "us": 1e-6, "min": 60.0, "h": 3600.0, "clock": 1.0},
    "date": {"date": 1.0},
    "volts": {"V": 1.0, "mV": 1e-3},
    "cell_volts": {"V": 1.0, "mV": 1e-3},
    "amps": {"A": 1.0, "mA": 1e-3},
    "watts": {"W": 1.0, "mW": 1e-3, "kW": 1e3},
}
"""Units of each quantity, with what makes seconds, volts, amps, watts of them."""


@cache
def _meanings() -> dict[str, str]:
    """Words of columns, without accents, and what each means."""
    text = (files("coldstack.core") / "data" / "log_words.csv").read_text(encoding="utf-8")
    return {word: row["means"] for row in csv.DictReader(text.splitlines()) for word in row["words"].split()}


def _mean(words: Iterable[str], meaning: str) -> bool:
    return any(_meanings().get(w) == meaning for w in words)


_UNIT_WORDS: dict[str, tuple[Quantity, str]] = {
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds", "sek", "sekunden", "secondes"), ("time", "s")),
    **dict.fromkeys(("ms", "msec", "millis", "millisecond", "milliseconds", "millisekunden"), ("time", "ms")),
    **dict.fromkeys(("us", "µs", "micros", "microseconds"), ("time", "us")),
    **dict.fromkeys(("min", "mins", "minutes", "minuten"), ("time", "min")),
    **dict.fromkeys(("h", "hr", "hrs", "hours", "std", "stunden"), ("time", "h")),
    **dict.fromkeys(("v", "volt", "volts"), ("volts", "V")),
    **dict.fromkeys(("mv", "millivolt", "millivolts"), ("volts", "mV")),
    **dict.fromkeys(("a", "amp", "amps", "ampere", "amperes"), ("amps", "A")),
    **dict.fromkeys(("ma", "milliamp", "milliamps", "milliampere", "milliamperes"), ("amps", "mA")),
    **dict.fromkeys(("w", "watt", "watts"), ("watts", "W")),
    **dict.fromkeys(("mw", "milliwatt", "milliwatts"), ("watts", "mW")),
    **dict.fromkeys(("kw",), ("watts", "kW")),
}
LIKE_VOLTS = 0.15
"""Spread over mean below which figures without a name look like volts."""


@dataclass(frozen=True, slots=True)
class ColumnUse:
    """What a column is taken for. ``unit`` is one of its quantity's; ``given`` is false where figures,
    not words, told."""

    index: int
    quantity: Quantity
    unit: str
    given: bool = True


def recognised(table: Table) -> list[ColumnUse]:
    """What the columns are, as far as their names, units and figures tell; a quantity that two could be
    is left open."""
    found: dict[Quantity, list[tuple[int, ColumnUse]]] = {}
    for index, name in enumerate(table.names):
        use = _by_name(table, index, name)
        if use is not None:
            found.setdefault(use.quantity, []).append((_rank(name), use))
    uses = [use for quantity in QUANTITIES for use in _chosen(quantity, found.get(quantity, []))]
    uses += _clocks(table, uses)
    if not table.has_header:
        uses += _by_figures(table, {u.index for u in uses})
    return sorted(uses, key=lambda u: u.index)


def words_of(name: str) -> list[str]:
    """A column's name as plain lower-case words: without accents, brackets and underscores."""
    text = re.sub(r"(?<=[a-z]{2})(?=[A-Z])", " ", name)
    text = unicodedata.normalize(
        "NFKD", text.replace("ß", "ss").replace("µ", "u").replace("ø", "o").replace("ł", "l")
    )
    text = "".join(c for c in text if not unicodedata.combining(c)).lower()
    return re.findall(r"[^\W\d_]+|[%°]|\d+", text)


def _by_name(table: Table, index: int, name: str) -> ColumnUse | None:
    words = words_of(name)
    unit = _UNIT_WORDS.get(words_of(table.units[index])[0]) if words_of(table.units[index]) else None
    if not words and unit is None:
        return None
    if _mean((*words, *words_of(table.units[index])), "other"):
        return None
    unit = unit or _unit_in(words)
    cell = next((k for k, w in enumerate(words) if w == "c" or _mean([w], "cell")), None)
    if (
        cell is not None
        and words[cell + 1 : cell + 2]
        and words[cell + 1].isdigit()
        and (unit is None or unit[0] == "volts")
    ):
        return ColumnUse(index, "cell_volts", unit[1] if unit else "V")
    if _mean(words, "cell"):
        return None  # "average cell": nobody knows of how many
    quantities = (q for w in words for q in QUANTITIES if _meanings().get(w) == q)
    named = next(quantities, None)
    quantity = (
        named
        if named and (unit is None or unit[0] == named)
        else unit[0]
        if unit and (named is None or unit[0] != "time")
        else named
    )
    if quantity is None:
        return None
    if quantity in ("time", "date"):
        return _time_use(table, index, quantity, unit)
    own = unit[1] if unit and unit[0] == quantity else ""
    return ColumnUse(
        index, quantity, own or _unit_in_cells(table, index, quantity) or next(iter(UNITS[quantity]))
    )


def _unit_in(words: list[str]) -> tuple[Quantity, str] | None:
    """The unit in a name: its last word if that is one, else the only one."""
    units = [_UNIT_WORDS[w] for w in words if w in _UNIT_WORDS]
    if words and words[-1] in _UNIT_WORDS:
        return _UNIT_WORDS[words[-1]]
    return units[0] if len(set(units)) == 1 else None


def _unit_in_cells(table: Table, index: int, quantity: Quantity) -> str:
    """A unit that stands behind each figure."""
    for row in table.head:
        match = re.search(r"\d\s*([a-zµ]+)$", row[index], re.I)
        if match and (unit := _UNIT_WORDS.get(match[1].lower())) and unit[0] == quantity:
            return unit[1]
    return ""


def _time_use(
    table: Table, index: int, quantity: Quantity, unit: tuple[Quantity, str] | None
) -> ColumnUse | None:
    cells = [row[index] for row in table.head if row[index]]
    if not cells:
        return None
    if all(map(is_date, cells)) and not any(":" in c for c in cells):
        return ColumnUse(index, "date", "date")
    if all(is_clock(c) or is_date(c) for c in cells):
        return ColumnUse(index, "time", "clock")
    if quantity == "date":
        return None
    own = unit[1] if unit and unit[0] == "time" else _unit_in_cells(table, index, "time")
    return ColumnUse(index, "time", own or "s", given=bool(own))


def _clocks(table: Table, uses: list[ColumnUse]) -> list[ColumnUse]:
    """Columns of clock times or dates tell what they are, whatever their name."""
    have = {u.quantity for u in uses}
    taken = {u.index for u in uses}
    found: list[ColumnUse] = []
    for index in range(len(table.names)):
        cells = [row[index] for row in table.head if row[index]]
        if index in taken or not cells:
            continue
        if all(map(is_date, cells)) and not any(":" in c for c in cells):
            if "date" not in have:
                found.append(ColumnUse(index, "date", "date"))
                have.add("date")
        elif all(is_clock(c) or is_date(c) for c in cells) and "time" not in have:
            found.append(ColumnUse(index, "time", "clock"))
            have.add("time")
    return found


def _chosen(quantity: Quantity, candidates: list[tuple[int, ColumnUse]]) -> list[ColumnUse]:
    """The column that means the whole pack; none where two have equal claims. Cells are summed: all of
    them."""
    if quantity == "cell_volts":
        return [use for _, use in candidates] if len(candidates) > 1 else []
    best = max((rank for rank, _ in candidates), default=0)
    first = [use for rank, use in candidates if rank == best]
    if quantity == "time" and len(first) > 1:  # a clock besides the time that ran: the finer one
        first = [u for u in first if u.unit == "ms"] or [u for u in first if u.unit != "clock"] or first
        return first[:1]
    return first if len(first) == 1 else []


def _rank(name: str) -> int:
    words = words_of(name)
    return 2 * _mean(words, "whole") - 3 * _mean(words, "part") - _mean(words, "mean")


def _by_figures(table: Table, taken: set[int]) -> list[ColumnUse]:
    """Three columns of figures without names: one that counts on, one that hardly changes, one that does."""
    columns = {}
    for index in range(len(table.names)):
        if index not in taken:
            values = figures_of(table.column(index)[:5000])
            if np.isfinite(values).mean() > 0.9:
                columns[index] = values[np.isfinite(values)]
    counting = [i for i, v in columns.items() if len(v) > 2 and np.all(np.diff(v) >= 0) and v[-1] > v[0]]
    if len(columns) == 3 and len(counting) == 1:
        volts, amps = sorted((i for i in columns if i != counting[0]), key=lambda i: _spread(columns[i]))
        if _spread(columns[volts]) < LIKE_VOLTS and 2 <= np.median(columns[volts]) <= 65:
            return [
                ColumnUse(counting[0], "time", "s", given=False),
                ColumnUse(volts, "volts", "V", given=False),
                ColumnUse(amps, "amps", "A", given=False),
            ]
    return []


def _spread(values: np.ndarray) -> float:
    mean = float(np.mean(np.abs(values)))
    return float(np.std(values)) / mean if mean > 0 else float("inf")
