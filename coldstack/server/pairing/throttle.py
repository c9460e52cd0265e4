"""How often a code may be tried: each try is counted before it is looked at."""

from __future__ import annotations

import threading
from collections import deque

WINDOW_S = 600.0
FROM_ONE, FROM_ALL = 6, 40
"""Tries within the window from one address, and from all; a code has 50 bits."""


class Throttle:
    """Counts tries of the last ten minutes; kept in memory, since there is one server for a folder."""

    def __init__(self) -> None:
        self._tries: deque[tuple[float, str]] = deque()
        self._lock = threading.Lock()

    def take(self, address: str, now_s: float) -> bool:
        """True if one more try is allowed, which is counted then."""
        with self._lock:
            while self._tries and self._tries[0][0] <= now_s - WINDOW_S:
                self._tries.popleft()
            of_one = sum(1 for _, who in self._tries if who == address)
            if of_one >= FROM_ONE or len(self._tries) >= FROM_ALL:
                return False
            self._tries.append((now_s, address))
            return True

    def forgive(self, address: str) -> None:
        """The right code came: earlier slips of this address count no more."""
        with self._lock:
            self._tries = deque(x for x in self._tries if x[1] != address)
