"""Errors that name the field, the value and what would be right."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from coldstack.core.units import with_unit


class DomainError(ValueError):
    """A value the computation cannot work with.

    ``field`` is the dotted path of the input ("draw.peak_a"); ``sentence`` is for the person who typed it.
    """

    def __init__(self, field: str, sentence: str) -> None:
        super().__init__(f"{field}: {sentence}")
        self.field = field
        self.sentence = sentence


class SeveralErrors(DomainError):
    """All that is wrong with one thing, to be said at once; ``errors`` has at least two."""

    def __init__(self, errors: list[DomainError]) -> None:
        super().__init__(errors[0].field, errors[0].sentence)
        self.errors = errors


def faults(*checks: Callable[[], object]) -> list[DomainError]:
    """What each of these checks has to say against a value, one sentence a field."""
    found: dict[str, DomainError] = {}
    for check in checks:
        try:
            check()
        except SeveralErrors as several:
            for error in several.errors:
                found.setdefault(error.field, error)
        except DomainError as error:
            found.setdefault(error.field, error)
    return list(found.values())


def refuse(found: list[DomainError]) -> None:
    """Raise what was found: one error as it is, several together; nothing if there is none."""
    if len(found) > 1:
        raise SeveralErrors(found)
    if found:
        raise found[0]


def between(
    field: str, name: str, value: float | None, low: float, high: float, unit: str = ""
) -> Callable[[], object]:
    """A check for `faults`: the value within its limits; one that is not known passes."""
    if value is None:
        return lambda: None
    return partial(require_between, field, name, value, low=low, high=high, unit=unit)


def require_between(field: str, name: str, value: float, *, low: float, high: float, unit: str = "") -> float:
    """The value itself, if it is a number within [low, high]; NaN and infinity fail.

    Raises
    ------
    DomainError
        Naming the field, the limits and what was given.
    """
    if not (low <= value <= high):
        given = "not a number" if math.isnan(value) else with_unit(f"{value:g}", unit)
        raise DomainError(
            field, f"{name} must be from {low:g} to {with_unit(f'{high:g}', unit)}, not {given}."
        )
    return value
