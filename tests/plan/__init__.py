"""Tests of `plan`."""
