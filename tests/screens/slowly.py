"""Answers that come late, to find tests that a busy machine would fail: SCREEN_LATE_MS=400 make test."""

from __future__ import annotations

import os
import random
import time

_LATEST_S = float(os.environ.get("SCREEN_LATE_MS", "0")) / 1000


def slowly(application):
    """The application itself, or one whose answers come up to SCREEN_LATE_MS late, each by its own time."""
    if not _LATEST_S:
        return application
    late = random.Random(1)

    def answer(environ, start_response):
        time.sleep(late.uniform(0.0, _LATEST_S))
        return application(environ, start_response)

    return answer
