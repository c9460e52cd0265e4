"""Core's values as parts of replies."""

from __future__ import annotations

from dataclasses import fields
from typing import Any


def figures(value: Any, *, without: tuple[str, ...] = ()) -> dict[str, Any]:
    """The fields of a value, each as it is: for a reply that says them and more."""
    return {f.name: getattr(value, f.name) for f in fields(value) if f.name not in without}
