"""Other clocks: a phone that says when something was says also what its clock shows now, so that what waited
there for hours is kept at the hour at which it happened, however wrong that clock is."""

from __future__ import annotations

from collections.abc import Callable
from contextvars import ContextVar
from datetime import datetime, timedelta

from django.http import HttpRequest, HttpResponse
from django.utils import timezone

CLOCK_HEADER = "X-Clock"
"""Milliseconds since 1970 by the clock of whoever asks, as it asks."""
TOGETHER = timedelta(seconds=5)
"""Clocks that differ by less show the same: a request takes as long. House figure."""
MOST_APART = timedelta(days=3650)
_behind: ContextVar[timedelta] = ContextVar("behind", default=timedelta())


class TheirClock:
    """How far the clock of whoever asks is behind this machine's, for as long as the request takes."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Without the header, or with one that says nothing, the two are one."""
        before = _behind.set(_told(request.headers.get(CLOCK_HEADER, "")))
        try:
            return self.get_response(request)
        finally:
            _behind.reset(before)


def _told(said: str) -> timedelta:
    if not (said.isascii() and said.isdecimal()) or len(said) > 15:
        return timedelta()
    apart = timedelta(seconds=timezone.now().timestamp() - int(said) / 1000)
    return apart if TOGETHER < abs(apart) < MOST_APART else timedelta()


def by_this_clock(at: datetime) -> datetime:
    """A moment that whoever asks has told by a clock of its own, by this machine's."""
    return at + _behind.get()
