"""What is tried on the machine or on the plan: measurements, masses that are not there yet, rungs, planned sways."""
