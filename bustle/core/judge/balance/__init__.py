"""What moves the balance besides the feet."""
