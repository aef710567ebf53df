"""Paths: a tape of what was done, written walks that are run, and what they expect beside what is."""

from wise_ladder.walks.running import LineRun, WalkRun, run_walk
from wise_ladder.walks.tape import Entry, Tape

__all__ = ["Entry", "LineRun", "Tape", "WalkRun", "run_walk"]
