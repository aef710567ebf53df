"""Run all tests, as many side by side as there are processors; the last line counts them.

`python -m tests plan screen` runs the folders named, `python -m tests late_reply` the tests with that in their names.
"""

import io
import multiprocessing
import sys
import unittest
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor, as_completed
from pathlib import Path
from typing import NamedTuple

HERE = Path(__file__).parent


class Outcome(NamedTuple):
    """What came of some tests."""

    ran: int
    failed: int
    skipped: int
    report: str


def tests_in(suite: unittest.TestSuite) -> Iterator[str]:
    """Name each test."""
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from tests_in(test)
        else:
            yield test.id()


def chosen(wanted: list[str]) -> list[str]:
    """Name what is to be run: the classes of tests in folders, and each test whose name has a text in it.

    Those on a terminal come first, as they take longest and mostly wait.
    """
    loader = unittest.TestLoader()
    names: list[str] = []
    for each in wanted:
        folder = HERE / each
        suite = loader.discover(str(folder if folder.is_dir() else HERE), top_level_dir=str(HERE.parent))
        tests = list(tests_in(suite))
        if folder.is_dir():
            names += [name.rpartition(".")[0] for name in tests]
        else:
            names += [name for name in tests if each in name] or sys.exit(f'no folder and no test is called "{each}"')
    if loader.errors:
        sys.exit("\n".join(map(str, loader.errors)))
    return sorted(dict.fromkeys(names), key=lambda name: ".screen." not in name)


def run(name: str) -> Outcome:
    """Run the tests of a class, or one test."""
    told = io.StringIO()
    result = unittest.TextTestRunner(stream=told, verbosity=0).run(unittest.defaultTestLoader.loadTestsFromName(name))
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return Outcome(result.testsRun, failed, len(result.skipped), told.getvalue() if failed else "")


def main() -> int:
    """Run what is asked for and return the exit code."""
    ran = failed = skipped = 0
    with ProcessPoolExecutor(mp_context=multiprocessing.get_context("spawn")) as pool:
        for done in as_completed([pool.submit(run, name) for name in chosen(sys.argv[1:] or ["."])]):
            outcome = done.result()
            print(outcome.report or "." * outcome.ran, end="", flush=True)
            ran, failed, skipped = ran + outcome.ran, failed + outcome.failed, skipped + outcome.skipped
    passed = ran - failed - skipped
    print(f"\n{passed} passed, {failed} failed, {skipped} skipped", flush=True)
    return 1 if failed or not passed else 0
