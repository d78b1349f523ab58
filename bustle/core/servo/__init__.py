"""From joint angles to servos: the order in which they are switched on."""
