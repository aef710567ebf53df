"""The tests of Wise Ladder: `python -m tests` runs them all.

What is drawn at random is drawn alike each time, so that a build fails for its own change only. No test has a deadline: a busy machine is not a mistake.
"""

from hypothesis import settings

settings.register_profile("steady", derandomize=True, database=None, deadline=None)
settings.load_profile("steady")
