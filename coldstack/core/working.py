"""The derivation behind a number: steps that a person can check by hand."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Step:
    """One line of a derivation: what is found, the relation, the same with numbers, and the rule behind
    it."""

    label: str
    formula: str
    numbers: str
    rule: str = ""


@dataclass(frozen=True, slots=True)
class Working:
    """A number's derivation, in the order in which one would do it with pencil and paper."""

    title: str
    steps: tuple[Step, ...]
    note: str = ""
