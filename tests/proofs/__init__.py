"""Tests of proofs for every depth."""
