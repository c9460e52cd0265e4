"""Errors that name the field, the value and what would be right."""

from __future__ import annotations

import math


class DomainError(ValueError):
    """A value the computation cannot work with.

    ``field`` is the dotted path of the input ("draw.peak_a"); ``sentence`` is for the person who typed it.
    """

    def __init__(self, field: str, sentence: str) -> None:
        super().__init__(f"{field}: {sentence}")
        self.field = field
        self.sentence = sentence


def require_between(field: str, name: str, value: float, *, low: float, high: float, unit: str = "") -> float:
    """The value itself, if it is a number within [low, high]; NaN and infinity fail.

    Raises
    ------
    DomainError
        Naming the field, the limits and what was given.
    """
    tail = f" {unit}" if unit else ""
    if not (low <= value <= high):
        given = "not a number" if math.isnan(value) else f"{value:g}{tail}"
        raise DomainError(field, f"{name} must be from {low:g} to {high:g}{tail}, not {given}.")
    return value
