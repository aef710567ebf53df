"""Wise Ladder: what the back stack of a mobile app does, modelled, climbed, looked ahead and checked."""

__version__ = "0.1.0"
