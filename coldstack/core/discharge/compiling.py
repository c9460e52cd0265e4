"""Machine code for the kernel, and the same functions left plain.

Numba is imported by the first run that needs it, not with the program: it takes a second.
"""

from __future__ import annotations

from collections.abc import Callable
from importlib import util
from types import ModuleType
from typing import Any, TypeVar

F = TypeVar("F", bound=Callable[..., Any])

FREEDOMS = {"contract", "arcp", "nsz", "afn"}
"""What the compiler may do to arithmetic.

Never: reorder sums, or take it that no number is infinite or missing.
"""

_left_plain = False


def compiled(function: F) -> F:
    """A function as machine code that lets go of Python's lock; kept on disk between starts."""
    return _njit(function, cache=True, nogil=True)


def inlined(function: F) -> F:
    """A small function that becomes part of the compiled one that calls it, and costs no call."""
    return _njit(function, inline="always")


def plain_copy(module: ModuleType) -> ModuleType:
    """The same source as ordinary Python: to step through, and the reference of its compiled form."""
    global _left_plain
    spec = util.spec_from_file_location(f"{module.__name__}_plain", module.__file__)
    assert spec is not None and spec.loader is not None
    copy = util.module_from_spec(spec)
    _left_plain = True
    try:
        spec.loader.exec_module(copy)
    finally:
        _left_plain = False
    return copy


def _njit(function: F, **options: Any) -> F:
    if _left_plain:
        return function
    import numba

    made: F = numba.njit(fastmath=FREEDOMS, error_model="numpy", **options)(function)
    return made
