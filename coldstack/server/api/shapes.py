"""Shapes of the API from core's values: what core says of a field is not said again.

``@asks(Pack, without=…)``, or for a reply ``@shows(…)``, over a shape gives it the fields of core's class,
in their order, with types, lengths and closed lists as its annotations say. What stands in the class itself
goes before: a figure that may be left out, or one more field. Bounds are core's to judge, in its words, so
that a file and a form hear the same.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import MISSING
from functools import cache
from inspect import get_annotations
from types import UnionType
from typing import Annotated, Any, Literal, TypeVar, Union, get_args, get_origin

from pydantic import BaseModel, Field, create_model
from pydantic_core import PydanticCustomError, PydanticUndefined

from coldstack.core.fields.quantity import Asked, Choice, Quantity, Unit, Words
from coldstack.core.fields.table import asked_of, bare, fields_of, holds_several
from coldstack.core.fields.typed import Typed, Unread, read_typed

MOST_NUMBERS = 60
"""Of a list of numbers, as many cells as anything has."""
V = TypeVar("V")
M = TypeVar("M", bound=type[BaseModel])


def asks(
    value: type[Any], *, only: tuple[str, ...] = (), without: tuple[str, ...] = (), bounded: bool = False
) -> Callable[[M], M]:
    """A decorator that puts a core value's fields into a shape; ``only`` some, or all ``without`` some.

    What is made has no attributes that a type checker knows: whoever needs them reads the core's value of it
    (`value_of`), or names the field in the class. ``bounded``: the shape refuses what is out of bounds, where
    core has no check of the whole value.
    """

    def with_fields(shape: M) -> M:
        own = dict(get_annotations(shape))
        fields: dict[str, Any] = {}
        for name, field in fields_of(value).items():
            if name in own:
                fields[name] = _own(shape, name, field.asked)
                del own[name]
            elif name not in without and (not only or name in only):
                fields[name] = (
                    shaped(field.hint, bounded),
                    ... if field.default is MISSING else _listed(field.default),
                )
        fields |= {name: _own(shape, name, None) for name in own}
        made: type[BaseModel] = create_model(
            shape.__name__,
            __base__=shape.__bases__,
            __module__=shape.__module__,
            __doc__=shape.__doc__,
            **fields,
        )
        made.__qualname__ = shape.__qualname__
        return made  # type: ignore[return-value]  # the same to whoever asks for its fields

    return with_fields


shows = asks
"""The same for a reply: core's value, and what the shape says more."""


def _listed(default: Any) -> Any:
    return list(default) if isinstance(default, (tuple, frozenset)) else default


def _own(shape: type[BaseModel], name: str, asked: Asked | None) -> tuple[Any, Any]:
    """A field that the shape says itself; what is asked is core's where the shape does not say that."""
    info = shape.model_fields[name]
    metadata = list(info.metadata)
    if asked is not None and not any(isinstance(x, Asked) for x in metadata):
        metadata.append(asked)
    hint: Any = info.annotation
    for x in metadata:
        hint = Annotated[hint, x]
    if info.default is not PydanticUndefined:
        return hint, info.default
    return hint, ...


def shaped(hint: Any, bounded: bool = False) -> Any:
    """A core field's type as the API takes it: closed lists as such, words and lists no longer than they may
    be, and a list where core holds a tuple."""
    asked, plain = asked_of(hint), bare(hint)
    if holds_several(hint):
        item = get_args(plain)[0]
        plain = list[Literal[asked.ids] if isinstance(asked, Choice) and asked.ids else item]  # type: ignore[misc]
    elif isinstance(asked, Choice) and asked.ids:
        plain = Literal[asked.ids] if not _optional(plain) else Literal[asked.ids] | None
    more: list[Any] = [] if asked is None else [asked]
    if holds_several(hint) and asked is not None:
        most = asked.most if isinstance(asked, (Choice, Words)) else MOST_NUMBERS
        more.append(Field(max_length=most))
    elif isinstance(asked, Quantity) and bounded:
        more.append(Field(ge=asked.low, le=asked.high))
    elif isinstance(asked, Words):
        more.append(Field(min_length=asked.least or None, max_length=asked.most))
    for x in more:
        plain = Annotated[plain, x]
    return plain


def figure_of(shape: type[BaseModel], name: str, given: str) -> Any:
    """Words where a shape wants a number, read as people type one, in any unit of the quantity; the words as
    they are where it wants words.

    Raises
    ------
    PydanticCustomError
        Where they are not understood, or may be meant in two ways.
    """
    unit = _units_of(shape).get(name)
    if unit is None:
        return given
    found = Typed(problem=given.problem) if isinstance(given, Unread) else read_typed(given, unit)
    if found.value is None:
        raise PydanticCustomError("typed", "{words}", {"words": found.problem})
    return found.value


_UNITS: dict[str, Unit] = {
    "g": "g",
    "mm": "mm",
    "a": "A",
    "v": "V",
    "w": "W",
    "wh": "Wh",
    "ah": "Ah",
    "mah": "mAh",
    "ma": "mA",
    "mohm": "mΩ",
    "minutes": "min",
    "s": "s",
    "h": "h",
    "c": "C",
    "rpm": "rpm",
    "kv": "rpm/V",
    "dm2": "dm²",
    "kmh": "km/h",
}
"""By the last part of a field's name."""


def unit_by_name(field: str) -> Unit:
    """The unit of a number that core asks nowhere, as its name says."""
    if field.endswith(("temperature_c", "air_c", "now_c", "hottest_c", "start_c")):  # others are C ratings
        return "°C"
    if field == "balance_min":  # others are the least of something
        return "min"
    return _UNITS.get(field.rsplit("_", 1)[-1], "")


@cache
def _units_of(shape: type[BaseModel]) -> dict[str, Unit]:
    """The unit of each of its numbers: what core asks of it, or what its name ends with."""
    units = {}
    for name, info in shape.model_fields.items():
        kinds = {k for k in (info.annotation, *get_args(info.annotation)) if k in (int, float, str, bool)}
        if kinds & {int, float} and not kinds & {str, bool} and get_origin(info.annotation) is not list:
            asked = asked_in(shape, name)
            units[name] = asked.unit if isinstance(asked, Quantity) else unit_by_name(name)
    return units


def value_of(value: type[V], shape: BaseModel, **more: Any) -> V:
    """The core's value of a shape that asks for it: tuples where core holds them; ``more`` goes before."""
    given = shape.model_dump()
    for name, field in fields_of(value).items():
        if holds_several(field.hint) and name in given:
            given[name] = get_origin(bare(field.hint))(given[name])
    return value(**{**given, **more})


def _optional(hint: Any) -> bool:
    return get_origin(hint) in (Union, UnionType) and type(None) in get_args(hint)


def asked(value: type[Any], name: str) -> Asked:
    """What a field of a core value asks, for a shape that has it by itself."""
    found = fields_of(value)[name].asked
    assert found is not None, name
    return found


def asked_in(shape: type[BaseModel], name: str) -> Asked | None:
    """What a shape's field asks."""
    return next((x for x in shape.model_fields[name].metadata if isinstance(x, Asked)), None)


def described(schema: dict[str, Any], shape: type[BaseModel]) -> dict[str, Any]:
    """A shape's JSON schema with what each field asks: its name and unit, and what can be at all."""
    for name in shape.model_fields:
        asked = asked_in(shape, name)
        if asked is not None and name in schema["properties"]:
            schema["properties"][name]["title"] = asked.label
        if isinstance(asked, Quantity):
            unit = f" {asked.unit_said}" if asked.unit_said else ""
            words = f"{asked.low:g} to {asked.high:g}{unit}"
            schema["properties"][name]["description"] = words
    return schema
