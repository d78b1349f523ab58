"""What was measured on the machine, against the plan."""
