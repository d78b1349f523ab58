"""The Servos station: what is asked and answered, and the addresses it has."""
