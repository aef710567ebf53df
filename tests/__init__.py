"""The tests of Wise Ladder: `python -m tests` runs them all.

What is drawn at random is drawn alike each time, so that a build fails for its own change only.
"""

from hypothesis import settings

settings.register_profile("steady", derandomize=True, database=None)
settings.load_profile("steady")
