"""Whose hands an act is in: this computer's, or a phone's by its name. The gate says it for each request;
what the watch does by itself is in nobody's."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar

THIS_COMPUTER = "this computer"
PHONE = "phone "
"""Before the name that a phone gave itself: none can call itself a computer."""
MOST_LETTERS = 40
_hands: ContextVar[str] = ContextVar("hands", default="")


@contextmanager
def in_hands(name: str) -> Iterator[None]:
    """What is kept meanwhile carries this name."""
    before = _hands.set(name[:MOST_LETTERS])
    try:
        yield
    finally:
        _hands.reset(before)


def hands_now() -> str:
    """Whose hands these are; empty for nobody's."""
    return _hands.get()
