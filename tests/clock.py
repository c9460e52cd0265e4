"""The hour of the tests: one afternoon, from which time flows while a test runs.

What a screen says of the demo's year depends on the hour (whose day a charge falls into, how cold the room
was), so the server's clock and the browser's start at the same instant for each test.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from unittest import mock

START = datetime(2026, 11, 25, 14, tzinfo=UTC)

IN_BROWSER = """(ahead) => {
  const Real = Date;
  window.Date = class extends Real {
    constructor(...given) { given.length ? super(...given) : super(Real.now() + ahead); }
    static now() { return Real.now() + ahead; }
  };
}"""


class Clock:
    """Stands in for Django's ``timezone.now``, by which the whole server goes."""

    def __init__(self) -> None:
        self.ahead = timedelta()

    def restart(self) -> None:
        """It is the start again."""
        self.ahead = START - datetime.now(UTC)

    def now(self) -> datetime:
        """The hour of the tests."""
        return datetime.now(UTC) + self.ahead

    @contextmanager
    def earlier(self, by: timedelta) -> Iterator[None]:
        """A while ago, for what is done within."""
        self.ahead -= by
        try:
            yield
        finally:
            self.ahead += by

    def in_browser(self) -> str:
        """A script that sets a page's clock by this one."""
        return f"({IN_BROWSER})({self.ahead.total_seconds() * 1000:.0f})"


CLOCK = Clock()


def run_by_it() -> None:
    """From here on this process goes by the clock of the tests."""
    CLOCK.restart()
    mock.patch("django.utils.timezone.now", CLOCK.now).start()
