"""How much of a large table a run looks at: a share of it each time, all of it with ``make thorough``."""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import TypeVar

T = TypeVar("T")
THOROUGH = os.environ.get("TEST_THOROUGH") == "1"


def many(all_of_them: int, each_time: int) -> int:
    """So many cases, or all of them."""
    return all_of_them if THOROUGH else each_time


def some(table: Sequence[T], share: int) -> list[T]:
    """Every third or so of a table, from its first to its last; or all of it."""
    return list(table) if THOROUGH else list(table[::share])
