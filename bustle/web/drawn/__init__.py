"""What a motion comes to, as the screen draws and tells it: one buffer with a head, and the plans of late."""
