"""The design as frozen values: no NumPy, no registries."""
