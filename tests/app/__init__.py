"""Tests of `app`."""
