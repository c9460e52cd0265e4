"""How a pack is named outside: "owned:07" of the box by its tag, "pack:31" of the catalogue by its row. Made
and taken apart here alone; inside a key is only compared."""

from __future__ import annotations

OWNED, CATALOGUE = "owned", "pack"
LONGEST_ROW = 12
"""Digits of a row's number that are believed."""


def owned_key(tag: str) -> str:
    """The key of a pack in the box."""
    return f"{OWNED}:{tag}"


def catalogue_key(row: int) -> str:
    """The key of a pack in the catalogue."""
    return f"{CATALOGUE}:{row}"


def tag_of(key: str) -> str | None:
    """The tag of a pack in the box; None for the key of anything else."""
    kind, _, tag = key.partition(":")
    return tag if kind == OWNED else None


def catalogue_row(key: str) -> int | None:
    """The catalogue's row behind a key; None for what is not in it."""
    kind, _, row = key.partition(":")
    return int(row) if kind == CATALOGUE and row.isdigit() and len(row) < LONGEST_ROW else None


def said_of(key: str) -> str:
    """What stands on the pack, or the key itself of one without a tag: for a sentence that names it."""
    return tag_of(key) or key
