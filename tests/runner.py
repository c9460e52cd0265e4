"""The test runner: a database in a file of its own, a clock of its own, quick hypothesis settings, one plain
closing line."""

from __future__ import annotations

import json
import os
import re
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any

import hypothesis
from django.conf import settings
from django.db import connections
from django.db.models.signals import post_migrate
from django.test.runner import DiscoverRunner

from tests.clock import CLOCK, run_by_it
from tests.side_by_side import SideBySide
from tests.thorough import many

hypothesis.settings.register_profile(
    "here",
    deadline=None,
    max_examples=int(os.environ.get("TEST_EXAMPLES", str(many(60, 30)))),
    derandomize=True,
)
hypothesis.settings.load_profile("here")


WAITS = ("server/test_killed.py", "server/test_charge_killed.py", "screens/slowly.py")
"""Tests of a process of its own, which has no clock but the wall's; and answers made to come late."""
_CLOCKS = "sleep|monotonic|perf_counter"
OWN_CLOCK = re.compile(rf"\btime\.({_CLOCKS}|time)\(|\bimport ({_CLOCKS})")


def clocks_read(tests: Path) -> list[str]:
    """Files of tests that sleep, or read the wall's clock, and may not."""
    allowed = {*WAITS, "runner.py", "side_by_side.py"}
    return sorted(
        name
        for path in tests.rglob("*.py")
        if (name := path.relative_to(tests).as_posix()) not in allowed and OWN_CLOCK.search(path.read_text())
    )


def _checkpoint(sender: Any, using: str, **kwargs: Any) -> None:
    """Tables out of the write-ahead log: a copy of the file must hold them."""
    with connections[using].cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")


SLOWEST = 10
"""So many tests are named at the end, with their seconds."""


class Result(unittest.TextTestResult):
    """Each test begins at the same hour; how long each took is kept."""

    def __init__(self, *given: Any, **how: Any) -> None:
        super().__init__(*given, **how)
        self.seconds: dict[str, float] = {}

    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)
        self._began = time.perf_counter()

    def stopTest(self, test: unittest.TestCase) -> None:
        """Set the clock back, for the next test and what its class sets up."""
        super().stopTest(test)
        self.took(test, time.perf_counter() - self._began)
        CLOCK.restart()

    def took(self, test: unittest.TestCase, seconds: float) -> None:
        """How long it took, as a process beside this one tells it too."""
        self.seconds[test.id()] = seconds


class Runner(DiscoverRunner):
    """An in-memory database breaks under the live server's threads, so the tests get a file."""

    parallel_test_suite = SideBySide

    def get_resultclass(self) -> Any:
        """Ours, unless a debugger is asked for."""
        return super().get_resultclass() or Result

    def setup_test_environment(self, **kwargs: Any) -> None:
        """Django's, by the clock of the tests."""
        if found := clocks_read(Path(__file__).parent):
            raise SystemExit(f"No test sleeps or reads the wall's clock: {', '.join(found)}")
        super().setup_test_environment(**kwargs)
        # a slow hash is what is wanted, but not some hundred times
        settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
        run_by_it()

    def setup_databases(self, **kwargs: Any) -> Any:
        self._folder = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        for alias in connections:
            # what a killed process keeps is the business of tests with a process of their own
            options = connections[alias].settings_dict["OPTIONS"]
            options["init_command"] = options["init_command"].replace("synchronous=FULL", "synchronous=OFF")
            connections[alias].settings_dict["TEST"]["NAME"] = str(
                Path(self._folder.name) / f"{alias}.sqlite3"
            )
        post_migrate.connect(_checkpoint, dispatch_uid="checkpoint")
        return super().setup_databases(**kwargs)

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> Any:
        failed = {getattr(t, "test_case", t).id() for t, _ in (*result.failures, *result.errors)}
        bad = len(failed) + len(result.unexpectedSuccesses)
        slowest = sorted(result.seconds.items(), key=lambda item: -item[1])[:SLOWEST]
        print("\n".join(f"{seconds:6.1f} s  {test}" for test, seconds in slowest))
        if all_times := os.environ.get("TEST_TIMES"):
            Path(all_times).write_text(json.dumps(result.seconds, indent=1))
        print(
            f"{result.testsRun - bad - len(result.skipped)} passed, {bad} failed, {len(result.skipped)} "
            "skipped"
        )
        return super().suite_result(suite, result, **kwargs)
