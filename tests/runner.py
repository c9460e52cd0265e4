"""The test runner: a database in a file of its own, quick hypothesis settings, one plain closing line."""

from __future__ import annotations

import tempfile
from pathlib import Path
from typing import Any

import hypothesis
from django.db import connections
from django.db.models.signals import post_migrate
from django.test.runner import DiscoverRunner

hypothesis.settings.register_profile("here", deadline=None, max_examples=60, derandomize=True)
hypothesis.settings.load_profile("here")


def _checkpoint(sender: Any, using: str, **kwargs: Any) -> None:
    """Tables out of the write-ahead log: a copy of the file must hold them."""
    with connections[using].cursor() as cursor:
        cursor.execute("PRAGMA wal_checkpoint(TRUNCATE)")


class Runner(DiscoverRunner):
    """An in-memory database breaks under the live server's threads, so the tests get a file."""

    def setup_databases(self, **kwargs: Any) -> Any:
        self._folder = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        for alias in connections:
            connections[alias].settings_dict["TEST"]["NAME"] = str(
                Path(self._folder.name) / f"{alias}.sqlite3"
            )
        post_migrate.connect(_checkpoint, dispatch_uid="checkpoint")
        return super().setup_databases(**kwargs)

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> Any:
        failed = {getattr(t, "test_case", t).id() for t, _ in (*result.failures, *result.errors)}
        bad = len(failed) + len(result.unexpectedSuccesses)
        print(
            f"{result.testsRun - bad - len(result.skipped)} passed, {bad} failed, {len(result.skipped)} skipped"
        )
        return super().suite_result(suite, result, **kwargs)
