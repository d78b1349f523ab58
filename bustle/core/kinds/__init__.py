"""Registries of what there is: leg families, drives, gaits, foot paths."""
