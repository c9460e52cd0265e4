"""The fields of a value's class, and the checks that follow from them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import MISSING, dataclass, fields
from typing import Any, get_args, get_origin, get_type_hints

from coldstack.core.errors import between
from coldstack.core.fields.quantity import Asked, Quantity

Check = Callable[[], object]


@dataclass(frozen=True, slots=True)
class Field:
    """One field: its name, its type with the annotation, what is asked, and the value where nobody gives any
    (`MISSING` where one must)."""

    name: str
    hint: Any
    asked: Asked | None
    default: Any


_tables: dict[type[Any], dict[str, Field]] = {}
_quantities: dict[type[Any], tuple[tuple[str, Quantity], ...]] = {}


def fields_of(value: type[Any]) -> dict[str, Field]:
    """The fields of a dataclass, by name, in order; read once."""
    if value not in _tables:
        _tables[value] = _read(value)
    return _tables[value]


def _read(value: type[Any]) -> dict[str, Field]:
    hints = get_type_hints(value, include_extras=True)
    return {
        f.name: Field(
            f.name,
            hints[f.name],
            asked_of(hints[f.name]),
            f.default if f.default_factory is MISSING else f.default_factory(),
        )
        for f in fields(value)
    }


def _numbers_of(value: type[Any]) -> tuple[tuple[str, Quantity], ...]:
    if value not in _quantities:
        table = fields_of(value).values()
        _quantities[value] = tuple((f.name, f.asked) for f in table if isinstance(f.asked, Quantity))
    return _quantities[value]


def asked_of(hint: Any) -> Asked | None:
    """What an annotation says is asked."""
    return next((x for x in getattr(hint, "__metadata__", ()) if isinstance(x, Asked)), None)


def quantity_at(value: Any, path: str) -> Quantity | None:
    """What is asked at a path within a value ("now.series"); None where that is no number of the table."""
    *parts, name = path.split(".")
    for part in parts:
        value = getattr(value, part)
    field = fields_of(type(value)).get(name)
    return field.asked if field is not None and isinstance(field.asked, Quantity) else None


def bare(hint: Any) -> Any:
    """A type without its annotation."""
    return get_args(hint)[0] if hasattr(hint, "__metadata__") else hint


def holds_several(hint: Any) -> bool:
    """Whether a field holds any number of values."""
    return get_origin(bare(hint)) in (tuple, list, frozenset)


def bounds(value: Any, at: str = "", *, without: tuple[str, ...] = ()) -> list[Check]:
    """Checks for `faults`: each number of a value within what its field says; one that is not known passes.

    ``at`` is put before the fields' names ("bay."); ``without`` are fields whose bounds hang on others, which
    their own check knows.
    """
    checks: list[Check] = []
    for name, asked in _numbers_of(type(value)):
        if name in without:
            continue
        given = getattr(value, name)
        for one in given if isinstance(given, (tuple, frozenset)) else (given,):
            checks.append(within(asked, one, at + name))
    return checks


def within(asked: Quantity, value: float | None, field: str) -> Check:
    """A check for `faults`: a number within what its field says."""
    return between(field, asked.label, value, asked.low, asked.high, asked.unit_said)
