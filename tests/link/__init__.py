"""Tests of the running app."""
