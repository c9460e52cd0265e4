"""A line of volts as people type it off a meter: each cell, the whole pack, both, or in steps along the
balance plug. The screens read the same lines (`format/cells.ts`); both are held by ``tests/data/cells.json``.
"""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from coldstack.core.errors import DomainError

SUM_WITHIN = 0.02
"""Cells and the whole are read one after the other, often by two meters: their sum may differ by this share.
House figure."""
TOTAL_AT_LEAST = 0.5
"""Totals that end lower than this share of what such a pack can read are no totals. House figure."""
STEP_DOWN_V = 0.02
"""A step along the balance plug may read so much lower than the one before: a dead cell, and the meter.
House figure. [V]"""

_LABEL = re.compile(r"(?<![\d.,])(?:cells? ?|zellen? ?|[cs]|no\.? ?|#)?\d{1,2} ?[:=)](?=\s*[\d.,])")
_UNIT = re.compile(r"(?<=[\d.,]) ?(?:m?v|volts?)(?![a-z])")
_FILLING = re.compile(
    r"(?<![a-z])(?:v|volts?|cells?|pack|batter(?:y|ies)|whole|total|all|together|sum|in|is|at|rest|each|the|"
    r"and|of|it|reads?|shows?)(?![a-z])"
)
_BETWEEN = re.compile(r"(?<=\d)(?:[-–—|+&]| [-–—|+&] )(?=[\d.,])|[=:]")
_APART = re.compile(r"[\s;/]+")


@dataclass(frozen=True, slots=True)
class TypedVolts:
    """What a line tells: volts of each cell, or of the pack alone. [V]"""

    cell_v: tuple[float, ...] = ()
    pack_v: float | None = None


def typed_volts(text: str, series: int, highest_v: float) -> TypedVolts:
    """The volts of a pack with so many cells, none of which can read more than ``highest_v``.

    Cells: "3.82 3.83 3.79", "3,82, 3,83, 3,79", "3.82V 3.83V 3.79V", "382 383 379". All together: "11.44",
    "11,4 V". In steps, from the balance plug's minus: "3.82 7.65 11.44". Both: "3.82 3.83 3.79 11.44". Whole
    numbers are tenths, hundredths or thousandths of a volt: nobody has a cell of 382 V.

    Raises
    ------
    DomainError
        Naming the word that is no voltage, how many readings are wanted, or which of them cannot be.
    """
    words = _words(text, series)
    for word in words:
        if not re.fullmatch(r"\d{1,5}|\d{0,3}[.,]\d{0,4}", word) or not re.search(r"\d", word):
            raise DomainError("cell_v", _no_volts(word, series))
    if len(words) == 1 and series > 1:
        return TypedVolts(pack_v=_whole(words[0], series, highest_v))
    cells = tuple(map(_cell, words))
    if len(words) == series and all(v <= highest_v for v in cells):
        return TypedVolts(cells)
    if series == 1:
        raise _refusal(cells, series, highest_v)
    if (steps := _steps(words, series, highest_v)) is not None:
        return TypedVolts(steps)
    if len(words) == series + 1 and (both := _both(words, highest_v)) is not None:
        return TypedVolts(both)
    if len(words) == 2 and (pack := _mean_and_whole(words, series, highest_v)) is not None:
        return TypedVolts(pack_v=pack)
    raise _refusal(cells, series, highest_v)


def _refusal(cells: Sequence[float], series: int, highest_v: float) -> DomainError:
    if len(cells) != series:
        return DomainError("cell_v", not_so_many(series, len(cells)))
    odd = next(v for v in cells if v > highest_v)
    return DomainError("cell_v", impossible_cell(odd, highest_v))


def not_so_many(series: int, read: int) -> str:
    """What is said of another number of readings than cells."""
    one = series == 1
    return (
        f"The pack has {series} cell{'' if one else 's'} in series; {read} reading"
        f"{'s were' if read != 1 else ' was'} given."
    ) + ("" if one else " Type every cell, or the whole pack’s volts alone.")


def impossible_cell(volts: float, highest_v: float) -> str:
    """What is said of volts that no cell has."""
    meant = f" Did you mean {volts / 10:g}?" if highest_v / 2 < volts / 10 <= highest_v else ""
    return f"A cell of this pack does not read {volts:g} V: from 0 to {highest_v:.2f} V is possible.{meant}"


def _words(text: str, series: int) -> list[str]:
    line = unicodedata.normalize("NFKC", text).lower()
    for noise in (rf"(?<![\d.,]){series} ?s(?![a-z\d])", _LABEL, _UNIT, _FILLING, _BETWEEN):
        line = re.sub(noise, " ", line)
    # a comma before a blank stands between two cells
    line = re.sub(r",(?=\s|$)", " ", line).strip()
    words = [w for w in _APART.split(line) if w]
    each = len(words) > 1 and all(re.fullmatch(r"\d*[.,]?\d+", word) for word in words)
    if not each and ("." in line or len(words) == 1) and not re.fullmatch(r"\d{1,2},\d{1,4}", line):
        # with points about, or without any other space, commas stand between the cells
        words = [w for w in re.split(r"[\s;/,]+", line) if w]
    return words


def _no_volts(word: str, series: int) -> str:
    how = "Type its volts, like 3.82." if series == 1 else "Type each cell, like 3.82 3.83, or all together."
    return f"“{word[:20]}” is no voltage. {how}"


def _number(word: str) -> float:
    return float(word.replace(",", "."))


def _digits(word: str) -> bool:
    return "." not in word and "," not in word


def _cell(word: str) -> float:
    """Three digits are hundredths of a cell's volts, four are thousandths."""
    if not _digits(word) or len(word) < 3:
        return _number(word)
    return int(word) / (100 if len(word) == 3 else 1000)


def _whole(word: str, series: int, highest_v: float) -> float:
    """The volts of all cells. Whole numbers are taken as what such a pack can read."""
    typed, most = _number(word), series * highest_v
    could = [typed, *(typed / by for by in (10, 100, 1000))] if _digits(word) else [typed]
    found = next((v for v in could if highest_v < v <= most), None)
    if found is not None:
        return found
    if typed <= highest_v or any(highest_v / 2 < v <= highest_v for v in could):
        one = min(typed, _cell(word))
        raise DomainError(
            "cell_v",
            f"{one:g} V is one cell’s, and the pack has {series}. Type every cell, or the volts of all.",
        )
    raise DomainError(
        "cell_v", f"{series} cells do not read {typed:g} V together: up to {most:.1f} V is possible."
    )


def _steps(words: Sequence[str], series: int, highest_v: float) -> tuple[float, ...] | None:
    """Cells out of totals after each wire of the balance plug, with or without the nought they begin at."""
    scales = (100, 1000) if all(map(_digits, words)) else (1,)
    for by in scales:
        totals = [_number(w) / by for w in words]
        if len(totals) == series:
            totals = [0.0, *totals]
        if len(totals) != series + 1 or totals[0] != 0 or totals[-1] < TOTAL_AT_LEAST * series * highest_v:
            continue
        cells = [b - a for a, b in pairwise(totals)]
        if all(-STEP_DOWN_V <= v <= highest_v for v in cells) and cells[0] > 0:
            return tuple(round(max(v, 0.001), 3) for v in cells)
    return None


def _both(words: Sequence[str], highest_v: float) -> tuple[float, ...] | None:
    """Cells that were typed with their sum, before or after them."""
    for total, cells in ((words[-1], words[:-1]), (words[0], words[1:])):
        volts = [_cell(w) for w in cells]
        if not all(v <= highest_v for v in volts):
            continue
        whole = min((_number(total) / by for by in (1, 10, 100, 1000)), key=lambda v: abs(v - sum(volts)))
        if abs(whole - sum(volts)) <= SUM_WITHIN * whole:
            return tuple(volts)
        if highest_v < whole <= len(volts) * highest_v:
            raise DomainError(
                "cell_v",
                f"The cells make {sum(volts):.2f} V together, not {whole:g} V: read them again.",
            )
    return None


def _mean_and_whole(words: Sequence[str], series: int, highest_v: float) -> float | None:
    """The whole, beside what that makes a cell."""
    one, whole = sorted(map(_number, words))
    alike = abs(series * one - whole) <= SUM_WITHIN * whole
    return whole if one <= highest_v < whole and alike else None
