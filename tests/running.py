"""Run all tests, as many side by side as there are processors; the last line counts them.

`python -m tests plan screen` runs the folders named.
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


def cases(suite: unittest.TestSuite) -> Iterator[str]:
    """Name the class of each test."""
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            yield from cases(test)
        else:
            yield test.id().rpartition(".")[0]


def found(folders: list[str]) -> list[str]:
    """Find the classes of tests in folders; those on a terminal come first, as they take longest and mostly wait."""
    loader = unittest.TestLoader()
    suites = (loader.discover(str(HERE / folder), top_level_dir=str(HERE.parent)) for folder in folders)
    names = dict.fromkeys(name for suite in suites for name in cases(suite))
    if loader.errors:
        sys.exit("\n".join(map(str, loader.errors)))
    return sorted(names, key=lambda name: ".screen." not in name)


def run(name: str) -> Outcome:
    """Run the tests of a class."""
    told = io.StringIO()
    result = unittest.TextTestRunner(stream=told, verbosity=0).run(unittest.defaultTestLoader.loadTestsFromName(name))
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    return Outcome(result.testsRun, failed, len(result.skipped), told.getvalue() if failed else "")


def main() -> int:
    """Run what is asked for and return the exit code."""
    ran = failed = skipped = 0
    with ProcessPoolExecutor(mp_context=multiprocessing.get_context("spawn")) as pool:
        for done in as_completed([pool.submit(run, name) for name in found(sys.argv[1:] or ["."])]):
            outcome = done.result()
            print(outcome.report or "." * outcome.ran, end="", flush=True)
            ran, failed, skipped = ran + outcome.ran, failed + outcome.failed, skipped + outcome.skipped
    passed = ran - failed - skipped
    print(f"\n{passed} passed, {failed} failed, {skipped} skipped", flush=True)
    return 1 if failed or not passed else 0
