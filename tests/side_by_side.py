"""Django's tests in processes side by side: what fails is told at once, and a process that dies is noticed.

Whole classes are handed out, those with a browser first: they take longest. What a process has made (the
browser, the demo world) serves the next class.
"""

from __future__ import annotations

import multiprocessing
import pickle
import sys
import time
import traceback
import unittest
from concurrent.futures import ProcessPoolExecutor, as_completed
from concurrent.futures.process import BrokenProcessPool
from typing import Any

from django.test.runner import ParallelTestSuite, RemoteTestResult, RemoteTestRunner

from tests.clock import CLOCK

ROOMS = ("tests.screens", "tests.server", "tests.standins", "tests.core")
"""In this order: what takes long is not to be begun last."""


class PackHistory(RemoteTestResult):
    """What a process's tests came to; each failure is on the screen the moment it happens."""

    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)
        self._began = time.perf_counter()

    def stopTest(self, test: unittest.TestCase) -> None:
        """Its seconds, and the clock back for the next one and what its class sets up."""
        super().stopTest(test)
        self.events.append(("took", self.test_index, time.perf_counter() - self._began))
        CLOCK.restart()

    def addError(self, test: unittest.TestCase, err: Any) -> None:
        super().addError(test, _carried(err))
        _say("ERROR", test, err)

    def addFailure(self, test: unittest.TestCase, err: Any) -> None:
        super().addFailure(test, _carried(err))
        _say("FAIL", test, err)

    def addSubTest(self, test: unittest.TestCase, subtest: unittest.TestCase, err: Any) -> None:
        super().addSubTest(test, subtest, err and _carried(err))
        if err is not None:
            _say("FAIL", subtest, err)


def _carried(err: Any) -> Any:
    """What went wrong, as it can be told to another process: an error that is of no use there (it is made
    with more than its words) would end the whole run, so its words go."""
    kind, error, trace = err
    try:
        pickle.loads(pickle.dumps(error))
    except Exception:
        words = "".join(traceback.format_exception_only(kind, error)).strip()
        return AssertionError, AssertionError(words), trace
    return err


def _say(what: str, test: unittest.TestCase, err: Any) -> None:
    last = "".join(traceback.format_exception_only(err[0], err[1])).strip()
    print(f"\n{what}: {test.id()}\n{last}", file=sys.stderr, flush=True)


class _Runner(RemoteTestRunner):
    resultclass = PackHistory


class SideBySide(ParallelTestSuite):
    """Django's suite for several processes, by a pool that notices when one of them dies."""

    runner_class = _Runner

    def run(self, result: unittest.TestResult, debug: bool = False) -> unittest.TestResult:
        """Each class's events as it ends; a dead process is an error of the whole."""
        self.initialize_suite()
        order = sorted(range(len(self.subsuites)), key=lambda k: self._room(k))
        with ProcessPoolExecutor(
            self.processes,
            multiprocessing.get_context("fork"),
            initializer=type(self).init_worker,
            initargs=(
                multiprocessing.Value("i", 0),
                *(self.initial_settings, self.serialized_contents),
                *(None, self.process_setup_args, self.debug_mode, self.used_aliases),
            ),
        ) as pool:
            run = type(self).run_subsuite
            asked = [
                pool.submit(run, (self.runner_class, k, self.subsuites[k], self.failfast, self.buffer))
                for k in order
            ]
            for done in as_completed(asked):
                try:
                    index, events = done.result()
                except BrokenProcessPool as died:
                    holder = unittest.suite._ErrorHolder("a process of the tests died")
                    result.addError(holder, (type(died), died, died.__traceback__))
                    break
                tests = list(self.subsuites[index])
                for event in events:
                    self.handle_event(result, tests, event)
                if result.shouldStop:
                    pool.shutdown(cancel_futures=True)
                    break
        return result

    def _room(self, index: int) -> int:
        name = type(next(iter(self.subsuites[index]))).__module__
        return next((k for k, room in enumerate(ROOMS) if name.startswith(room)), len(ROOMS))
