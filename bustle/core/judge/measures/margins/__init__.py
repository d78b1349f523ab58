"""How much is left before it falls."""
