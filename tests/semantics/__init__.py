"""Tests of `ladder`."""
