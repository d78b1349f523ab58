"""What is wrong with the machine as it is built."""
