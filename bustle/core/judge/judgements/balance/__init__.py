"""What makes it fall."""
