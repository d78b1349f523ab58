"""What goes wrong between feet and floor."""
