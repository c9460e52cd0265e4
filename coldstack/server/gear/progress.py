"""How far imports under way are, for the page that waits; and the wish to stop one.

Kept in the process, not in the database.
"""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock

KEPT = 32


class Stopped(Exception):
    """The person who waits wants it stopped."""


@dataclass(slots=True)
class Progress:
    """Steps done of how many, and in which phase: "reading", "checking", "storing"."""

    phase: str = "reading"
    done: int = 0
    total: int = 0
    stop: bool = False

    def at(self, phase: str, done: int, total: int) -> None:
        """Note how far it is; raises Stopped if that is wished."""
        if self.stop:
            raise Stopped
        self.phase, self.done, self.total = phase, done, total


_lock = Lock()
_running: OrderedDict[str, Progress] = OrderedDict()


def begin(token: str) -> Progress:
    """A progress to be found by its token; the oldest of many is forgotten."""
    with _lock:
        progress = _running[token] = Progress()
        while len(_running) > KEPT:
            _running.popitem(last=False)
        return progress


def of(token: str) -> Progress | None:
    """The progress with this token, or None."""
    with _lock:
        return _running.get(token)
