"""What goes wrong between a joint angle and the bench."""
