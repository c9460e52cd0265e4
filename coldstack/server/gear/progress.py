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
    begun: bool = True
    """False while there is only the wish to stop it: that may come before its file does."""

    def at(self, phase: str, done: int, total: int) -> None:
        """Note how far it is; raises Stopped if that is wished."""
        if self.stop:
            raise Stopped
        self.phase, self.done, self.total = phase, done, total


_lock = Lock()
_running: OrderedDict[str, Progress] = OrderedDict()


def begin(token: str) -> Progress:
    """A progress to be found by its token; the oldest of many is forgotten. Stopped from the first step on,
    where that was wished before it came."""
    with _lock:
        had = _running.get(token)
        return _keep(token, Progress(stop=had is not None and not had.begun))


def stop(token: str) -> Progress:
    """The wish to stop one, kept for one that has not come yet."""
    with _lock:
        progress = _running.get(token) or _keep(token, Progress(begun=False))
        progress.stop = True
        return progress


def _keep(token: str, progress: Progress) -> Progress:
    _running[token] = progress
    while len(_running) > KEPT:
        _running.popitem(last=False)
    return progress


def of(token: str) -> Progress | None:
    """The progress with this token, or None."""
    with _lock:
        return _running.get(token)
