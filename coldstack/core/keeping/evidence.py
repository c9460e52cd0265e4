"""What a sign of health says: its level, a sentence with numbers, and how it was found."""

from __future__ import annotations

from dataclasses import dataclass

from coldstack.core.packs.health import LEVELS, Level
from coldstack.core.rules.house_rules import HouseRules
from coldstack.core.working import Step, Working

LATEST, FIRST = 5, 5
"""Records whose median is compared: the latest five with the first five."""
FEWEST = 3
"""Fewer readings say nothing yet. House figure."""


@dataclass(frozen=True, slots=True)
class Evidence:
    """One sign: its level, in words with numbers, and how it was found; ``cell`` is the number of the one
    that it is about, None for all."""

    id: str
    level: Level
    sentence: str
    working: Working
    cell: int | None = None


def above(value: float, watch: float, bad_at: float, *, bad: Level, strictly: bool = False) -> Level:
    """The level of what is bad when it is high."""
    if value > bad_at or (value == bad_at and not strictly):
        return bad
    return "watch" if value > watch or (value == watch and not strictly) else "fine"


def below(value: float, watch: float, bad_at: float, *, bad: Level) -> Level:
    """The level of what is bad when it is low."""
    return bad if value < bad_at else "watch" if value < watch else "fine"


def worse(a: Level, b: Level) -> Level:
    """The worse of two."""
    return max(a, b, key=LEVELS.index)


def limits(names: str, values: str, rules: HouseRules) -> Step:
    """The limits that were asked, as a step."""
    return Step("Limits", names, values, rules.cited)


def plain(words: str) -> Working:
    """A working that is one sentence."""
    return Working(words, ())
