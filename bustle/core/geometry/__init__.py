"""Turns, twists, polygons and distances: NumPy only, no walker."""
