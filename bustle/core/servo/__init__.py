"""Servos: what stands between a joint angle and the board that plays the table."""
