"""What becomes of a walk when its servos give, step by step, for whoever wants to see it before power-up."""
