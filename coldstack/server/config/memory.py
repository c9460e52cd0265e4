"""Less memory for a server of many threads: the C library keeps few pools, and gives back what is free.

glibc gives each thread a pool of its own that never shrinks; sixteen request threads that each made one
large answer would hold it for good. Elsewhere (macOS, musl) nothing is changed.
"""

from __future__ import annotations

import contextlib
import ctypes
import gc
import sys

_M_TRIM_THRESHOLD, _M_MMAP_THRESHOLD, _M_ARENA_MAX = -1, -3, -8


def keep_few_pools() -> None:
    """Two pools for all threads; large pieces apart, so that they are given back at once."""
    with contextlib.suppress(OSError, AttributeError):
        libc = _libc()
        libc.mallopt(_M_ARENA_MAX, 2)
        libc.mallopt(_M_MMAP_THRESHOLD, 64 * 1024)
        libc.mallopt(_M_TRIM_THRESHOLD, 128 * 1024)


def give_back() -> None:
    """Return what lies free, after something that took much and is over."""
    gc.collect()
    with contextlib.suppress(OSError, AttributeError):
        _libc().malloc_trim(0)


def _libc() -> ctypes.CDLL:
    if not sys.platform.startswith("linux"):
        raise OSError("not glibc")
    return ctypes.CDLL("libc.so.6")
