"""Tests of `screen`."""
