"""What is wrong with a motion as a whole, and the figures it has."""
