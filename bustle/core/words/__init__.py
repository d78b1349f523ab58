"""How numbers and lists read, and problems as values."""
