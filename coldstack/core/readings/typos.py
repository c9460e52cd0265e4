"""Slips of the finger in what was typed of cells: asked back, never corrected silently.

A cell may truly be far from its neighbours: that is what people read them for. So a slip is only asked where
one turn of the finger, two digits swapped, a point misplaced, two cells in each other's place, would make it
like the others, or like what it was.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import median

APART_V, ALIKE_V = 0.12, 0.03
"""So far from its neighbours a cell is odd, and so near to them it is like them. House figures."""
LAZY_V = 0.02
"""A cell that is known to be so far off is recognised where it turns up."""
TIMES_APART, ALIKE_SHARE = 3.0, 0.5
"""The same of resistances: times its neighbours, and a share of them."""


@dataclass(frozen=True, slots=True)
class TypoQuestion:
    """What is asked back, and the line as it may have been meant."""

    sentence: str
    meant: str


def typo_in_cells(cell_v: Sequence[float], before: Sequence[float] = ()) -> TypoQuestion | None:
    """What to ask of typed cell volts; ``before`` are those read last."""
    if len(cell_v) < 2:
        return None
    for k, others in _odd(cell_v):
        volts = cell_v[k]
        if abs(volts - others) < APART_V:
            continue
        for meant in _turned(volts):
            if abs(meant - others) <= ALIKE_V:
                return TypoQuestion(
                    f"Cell {k + 1} at {volts:.2f} V, its neighbours at {others:.2f} V: "
                    f"did you mean {meant:.2f}?",
                    _line([*cell_v[:k], meant, *cell_v[k + 1 :]]),
                )
    return _swapped(cell_v, before)


def typo_in_resistances(mohm: Sequence[float]) -> TypoQuestion | None:
    """What to ask of typed resistances: a point misplaced. [mΩ]"""
    if len(mohm) < 2:
        return None
    for k, others in _odd(mohm):
        r = mohm[k]
        if 1 / TIMES_APART < r / others < TIMES_APART:
            continue
        for meant in (r / 10, r * 10):
            if abs(meant / others - 1) <= ALIKE_SHARE:
                return TypoQuestion(
                    f"Cell {k + 1} at {r:g} mΩ, its neighbours at {others:g} mΩ: did you mean {meant:g}?",
                    _line([*mohm[:k], meant, *mohm[k + 1 :]]),
                )
    return None


def _odd(values: Sequence[float]) -> list[tuple[int, float]]:
    """The one that is furthest from the others, with their middle; of two, either."""
    middle = median(values)
    order = sorted(range(len(values)), key=lambda k: -abs(values[k] - middle))
    return [(k, median([*values[:k], *values[k + 1 :]])) for k in order[: 1 if len(values) > 2 else 2]]


def _turned(volts: float) -> list[float]:
    """The same with one slip taken back: the point moved, two digits beside each other swapped."""
    digits = f"{volts:.3f}".replace(".", "")
    swapped = [
        digits[:i] + digits[i + 1] + digits[i] + digits[i + 2 :]
        for i in range(len(digits) - 1)
        if digits[i] != digits[i + 1]
    ]
    return [volts * 10, volts / 10, *(int(d) / 1000 for d in swapped)]


def _swapped(now: Sequence[float], before: Sequence[float]) -> TypoQuestion | None:
    """A cell that was the odd one and is not, while another one now is as it was."""
    if len(before) != len(now) or len(now) < 3:
        return None
    was, is_now = ([v - median(cells) for v in cells] for cells in (before, now))
    i, j = (max(range(len(now)), key=[abs(x) for x in off].__getitem__) for off in (was, is_now))
    if i == j or abs(was[i]) < LAZY_V or abs(is_now[i]) > LAZY_V / 2 or abs(was[j]) > LAZY_V / 2:
        return None
    if abs(is_now[j] - was[i]) > LAZY_V / 2:
        return None
    line = list(now)
    line[i], line[j] = line[j], line[i]
    low = "low" if was[i] < 0 else "high"
    words = f"Cell {i + 1} was the {low} one, now it is cell {j + 1}: were they swapped as they were typed?"
    return TypoQuestion(words, _line(line))


def _line(values: Sequence[float]) -> str:
    """As people type them: hundredths, thousandths where there are any."""
    return " ".join(f"{v:.3f}".removesuffix("0") for v in values)
