"""Tests of `walks`."""
