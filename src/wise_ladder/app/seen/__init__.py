"""Seen: what was seen for how long, how deep and how heavy."""
