"""The tests of Wise Ladder: `python -m tests` runs them all.

What is drawn at random is drawn alike each time, so that a build fails for its own change only. No test has a deadline: a busy machine is not a mistake.
"""

import atexit
import os
import shutil
import tempfile

from hypothesis import settings

# Proofs that tests make are no proofs of yours: they are kept in a folder that goes with the tests.
os.environ["XDG_CACHE_HOME"] = tempfile.mkdtemp()
atexit.register(shutil.rmtree, os.environ["XDG_CACHE_HOME"], ignore_errors=True)
settings.register_profile("steady", derandomize=True, database=None, deadline=None)
settings.load_profile("steady")
