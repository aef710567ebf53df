"""Tests of `drawings`."""
