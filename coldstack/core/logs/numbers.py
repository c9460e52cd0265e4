"""Cells of a log as numbers, clock times and dates."""

from __future__ import annotations

import itertools
import re

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
DAY_S = 86_400.0
_NUMBER = re.compile(r"^([+-]?[\d.,']*\d(?:[eE][+-]?\d+)?)\s*[a-zA-Zµ%°]{0,3}$")
_CLOCK = re.compile(r"(\d{1,3}):(\d{1,2})(?::(\d{1,2}))?(?:[.,](\d+))?\s*([ap])?\.?m?\.?", re.I)


def figures_of(cells: list[str]) -> Floats:
    """A column of cells as numbers, shape (T,); NaN for what is none. A comma may be a decimal comma."""
    try:
        values = np.fromiter(map(float, cells), dtype=np.float64, count=len(cells))
    except ValueError:
        try:
            comma = [c.replace(",", ".") for c in cells] if not any("." in c for c in cells) else cells
            values = np.fromiter(map(float, comma), dtype=np.float64, count=len(cells))
        except ValueError:
            values = np.array([number_of(c) for c in cells], dtype=np.float64)
    return np.where(np.isfinite(values), values, np.nan)


def number_of(cell: str) -> float:
    """One cell: "11,1", "1.234,5", "1,234.5", "23.4 A"; NaN for what is no number."""
    match = _NUMBER.match(cell.strip())
    if not match:
        return float("nan")
    text = match[1].replace("'", "")
    if "." in text and "," in text:  # the last of the two is the decimal sign
        thousands = "," if text.rindex(".") > text.rindex(",") else "."
        text = text.replace(thousands, "")
    text = text.replace(",", ".")
    try:
        value = float(text)
    except ValueError:
        return float("nan")
    return value if np.isfinite(value) else float("nan")


def seconds_of_clock(cell: str) -> float:
    """A clock time, or a time run, as seconds: h:m:s, m:s, with fractions and am or pm; NaN for none. [s]"""
    match = _CLOCK.search(cell.rsplit("T", 1)[-1] if "T" in cell else cell)
    if not match:
        return float("nan")
    first, second, third, fraction, half = match.groups()
    part = float(f"0.{fraction}") if fraction else 0.0
    if third is None:
        return 60.0 * int(first) + int(second) + part
    hours = int(first) % 12 + (12 if half.lower() == "p" else 0) if half else int(first)
    return 3600.0 * hours + 60.0 * int(second) + int(third) + part


def day_counts(cells: list[str]) -> Floats:
    """How many times the date has changed by each row: all that the order of a log needs of its dates.
    Shape (T,)."""
    dates = [re.split(r"[T\s,]", c.strip(), maxsplit=1)[0] for c in cells]
    changed = [0.0, *(float(a != b) for a, b in itertools.pairwise(dates))]
    return np.cumsum(changed)
