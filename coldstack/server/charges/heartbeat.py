"""When each charge was judged last: told by the watch, asked by whoever shows or fears for it.

Kept in memory, since there is one server for a folder: after a restart the time counts from when it was first
asked for.
"""

from __future__ import annotations

import time
from collections.abc import Callable


class Heartbeat:
    """Seconds since the watch judged a charge; ``clock`` gives seconds that only go forward."""

    def __init__(self, clock: Callable[[], float] = time.monotonic) -> None:
        self.clock = clock
        self._judged: dict[int, float] = {}

    def beat(self, charge_id: int) -> None:
        """It was judged just now."""
        self._judged[charge_id] = self.clock()

    def ago_s(self, charge_id: int) -> float:
        """How long ago it was judged; since it was first asked for where it never was. [s]"""
        now = self.clock()
        return max(now - self._judged.setdefault(charge_id, now), 0.0)

    def forget(self, charge_id: int) -> None:
        """It is over."""
        self._judged.pop(charge_id, None)


BEATS = Heartbeat()
"""Those of this server."""
