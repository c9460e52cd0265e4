"""Stored JSON documents in the shape of today's inputs, whatever version of the program wrote them.

A page never fails for what is in an old document: fields that are not known any more are left out, those
that are missing or cannot be understood get the usual value, and are named so that they can be shown as
assumed. All this is done where a document leaves the database, so that nobody else knows of versions.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any, Generic, TypeVar

from django.db import models
from django.db.models.fields.json import KeyTransform
from pydantic import BaseModel, ValidationError

T = TypeVar("T", bound=BaseModel)
Document = dict[str, Any]
VERSION = "version"
MOST_ROUNDS = 40
"""Mending one fault may show another, as deep as documents go."""


@dataclass(frozen=True, slots=True)
class Stored(Generic[T]):
    """One kind of document: its shape, its version, the steps from each version to the next, and a document
    of usual values."""

    shape: type[T]
    usual: Callable[[], Document]
    version: int = 1
    steps: Mapping[int, Callable[[Document], Document]] = field(default_factory=dict)
    told: Callable[[Document, list[str]], Document] = lambda document, filled: document
    """Puts into a document which of its fields got the usual value."""

    def written(self, document: Document) -> Document:
        """As it is stored."""
        return {**document, VERSION: self.version}

    def read(self, stored: Document) -> Document:
        """In today's shape."""
        value, filled = self._put_right(stored)
        document = value.model_dump(mode="json")
        return self.told(document, filled) if filled else document

    def _put_right(self, stored: Document) -> tuple[T, list[str]]:
        document = deepcopy(stored)
        for version in range(int(document.pop(VERSION, 1)), self.version):
            document = self.steps[version](document)
        filled: list[str] = []
        for _ in range(MOST_ROUNDS):
            try:
                return self.shape.model_validate(document), filled
            except ValidationError as error:
                # from the last to the first: an entry that goes leaves the places of those before it
                faults = [(x["loc"], x["type"]) for x in reversed(error.errors())]
                done = [(at, kind) for at, kind in faults if _mended(document, at, kind, self.usual())]
                if not done:
                    raise
                filled += [_path(at) for at, kind in done if kind != "extra_forbidden"]
        raise ValueError("This document could not be put right.")


class DocumentField(models.JSONField):
    """A column of documents of one kind: always in today's shape outside the database."""

    def __init__(self, *args: Any, stored: Stored[Any] | None = None, **options: Any) -> None:
        super().__init__(*args, **options)
        self.stored = stored

    def deconstruct(self) -> Any:
        """To the database it is JSON like any other."""
        name, _, args, options = super().deconstruct()
        return name, "django.db.models.JSONField", args, options

    def from_db_value(self, value: Any, expression: Any, connection: Any) -> Any:
        """Out of the database, whole or a part of it."""
        document = super().from_db_value(value, expression, connection)
        whole = isinstance(document, dict) and not isinstance(expression, KeyTransform)
        return self.stored.read(document) if whole and self.stored else document

    def get_db_prep_value(self, value: Any, connection: Any, prepared: bool = False) -> Any:
        """Into the database, with its version."""
        if isinstance(value, dict) and self.stored:
            value = self.stored.written(value)
        return super().get_db_prep_value(value, connection, prepared)


def _path(location: Sequence[int | str]) -> str:
    return ".".join(map(str, location))


def _mended(document: Document, path: Sequence[int | str], fault: str, usual: Document) -> bool:
    """Put one fault right where it is: an unknown field goes, another gets its usual value; an entry of a
    list that has none goes whole."""
    if fault == "extra_forbidden":
        return _removed(document, path)
    found: Any = usual
    for part in path:
        if isinstance(found, dict) and part in found:
            found = found[part]
        else:
            break
    else:
        return _set(document, path, deepcopy(found))
    entry = next((k for k in range(len(path), 0, -1) if isinstance(path[k - 1], int)), 0)
    return _removed(document, path[:entry] if entry else path)


def _inner(document: Document, path: Sequence[int | str]) -> Any:
    at: Any = document
    for part in path:
        at = at[part]
    return at


def _set(document: Document, path: Sequence[int | str], value: Any) -> bool:
    at = _inner(document, path[:-1])
    if not isinstance(at, dict):
        return False
    at[path[-1]] = value
    return True


def _removed(document: Document, path: Sequence[int | str]) -> bool:
    try:
        del _inner(document, path[:-1])[path[-1]]
    except (KeyError, IndexError, TypeError):
        return False
    return True
