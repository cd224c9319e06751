"""Runs the tests in several processes at once, each class of them as a process comes free, and tells
what took longest: `manage.py test --testrunner tests.runner.Runner --parallel 3`."""

from __future__ import annotations

import multiprocessing
import os
import sqlite3
import time
import unittest
from contextlib import closing
from typing import Any

from django.conf import settings
from django.db import connection
from django.test.runner import (
    DiscoverRunner,
    ParallelTestSuite,
    RemoteTestResult,
    RemoteTestRunner,
    _init_worker,
)
from django.test.utils import iter_test_cases
from typing_extensions import override

SLOWEST = 10
# Tests of the browser wait for it; others take the time that is left.
BROWSER = "tests.browser."


def _room_of_its_own(counter: Any, *given: Any) -> None:
    """In a process that runs tests: a database and a folder for data that are its alone."""
    # What strangers made is read in processes that are begun from here.
    multiprocessing.current_process().daemon = False
    whole = connection.settings_dict["NAME"]
    _init_worker(counter, *given)
    # Django copies the file alone, without what is still in the log beside it.
    with (
        closing(sqlite3.connect(whole)) as source,
        closing(sqlite3.connect(connection.settings_dict["NAME"])) as copy,
    ):
        source.backup(copy)
    settings.DATA = settings.DATA / str(os.getpid())
    settings.DATA.mkdir()


class _Timed(RemoteTestResult):  # type: ignore[misc]
    """What came of a class of tests in its process, with what each took."""

    @override
    def startTest(self, test: unittest.TestCase) -> None:
        super().startTest(test)
        self._began = time.monotonic()

    @override
    def stopTest(self, test: unittest.TestCase) -> None:
        self.events.append(("addDuration", self.test_index, time.monotonic() - self._began))
        super().stopTest(test)


class _TimedRunner(RemoteTestRunner):  # type: ignore[misc]
    resultclass = _Timed


class _Queue(ParallelTestSuite):  # type: ignore[misc]
    """Classes of tests, those first that may take longest."""

    init_worker = _room_of_its_own
    runner_class = _TimedRunner

    def __init__(self, subsuites: list[unittest.TestSuite], *given: Any, **more: Any) -> None:
        def weight(suite: unittest.TestSuite) -> tuple[bool, int]:
            tests = list(iter_test_cases(suite))
            return tests[0].id().startswith(BROWSER), len(tests)

        super().__init__(sorted(subsuites, key=weight, reverse=True), *given, **more)


class _Told(unittest.TextTestResult):
    """What came of all tests, and how long each of them took in seconds."""

    def __init__(self, *given: Any, **more: Any) -> None:
        super().__init__(*given, **more)
        self.lasted: dict[str, float] = {}

    @override
    def addDuration(self, test: unittest.TestCase, elapsed: float) -> None:
        self.lasted[test.id()] = elapsed


class Runner(DiscoverRunner):
    """Tells the slowest tests, and the browser's share, where tests ran beside each other."""

    parallel_test_suite = _Queue

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        return _Told

    def suite_result(self, suite: unittest.TestSuite, result: Any, **more: Any) -> int:
        lasted: dict[str, float] = result.lasted
        if lasted:
            whole = sum(lasted.values())
            browser = sum(s for name, s in lasted.items() if name.startswith(BROWSER))
            print(f"\n{whole:.0f} s of tests, {100 * browser / whole:.0f} % of them the browser's")
            for name, seconds in sorted(lasted.items(), key=lambda one: -one[1])[:SLOWEST]:
                print(f"{seconds:7.1f} s  {name}")
        return super().suite_result(suite, result, **more)  # type: ignore[no-any-return]
