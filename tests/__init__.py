"""Tests of Wise Ladder: `python -m tests` runs them all."""
