"""Invented players and matches, and the simulated camera: part of the product, for demo and tests."""
