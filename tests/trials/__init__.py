"""Tests of `trials`."""
