"""What joints and their servos cannot do."""
