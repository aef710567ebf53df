"""Run all tests; the last line counts them. `python -m tests plan screen` runs the folders named."""

import sys
import unittest
from pathlib import Path


def main() -> int:
    """Run what is asked for and return the exit code."""
    here = Path(__file__).parent
    loader, suite = unittest.TestLoader(), unittest.TestSuite()
    for folder in sys.argv[1:] or ["."]:
        suite.addTests(loader.discover(str(here / folder), top_level_dir=str(here.parent)))
    result = unittest.TextTestRunner(verbosity=1).run(suite)
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    passed = result.testsRun - failed - skipped
    print(f"{passed} passed, {failed} failed, {skipped} skipped", flush=True)
    return 1 if failed or not passed else 0


sys.exit(main())
