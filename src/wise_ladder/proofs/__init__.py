"""Proofs for every depth: what holds in all states that a plan can reach, however high its ladders grow."""
